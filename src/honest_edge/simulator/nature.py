"""What a simulated bench is like: printer, mark reader, cutter. Every default is an assumption, none was measured."""

from __future__ import annotations

from dataclasses import dataclass, field

from honest_edge.core.measure.mark_reading import READER, ReaderNature
from honest_edge.core.values.measured import ErrorParts
from honest_edge.core.values.stock import Gloss


@dataclass(frozen=True, slots=True, kw_only=True)
class PrinterNature:
    """A simulated printer.

    Attributes:
        scale_x_percent, scale_y_percent: how much larger it prints.
        skew_deg: how far its across is from square to its down.
        feed_shift_mm: standard deviation of where the sheet lies when it is printed, across and down.
        feed_turn_deg: standard deviation of how askew it lies then.
        rim_mm: what it cannot print.
        dot_gain_mm: by how much ink spreads at every edge.
        ragged_mm: standard deviation of a printed edge's waves.
        bands: chance that a sheet has a band without ink.
    """

    scale_x_percent: float = 0.1
    scale_y_percent: float = -0.08
    skew_deg: float = 0.01
    feed_shift_mm: float = 0.4
    feed_turn_deg: float = 0.1
    rim_mm: float = 5.0
    dot_gain_mm: float = 0.04
    ragged_mm: float = 0.015
    bands: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class LightNature:
    """What a reader looks at: the stock's shine, the light of the room, and what lies in the marks' clear space.

    Attributes:
        shine: of the stock.
        glare: how many times the noise is greater than in good light.
        clutter_mm: distance from a mark to the nearest other ink; None for none.
    """

    shine: Gloss = "matt"
    glare: float = 1.0
    clutter_mm: float | None = None


_STEADY = ErrorParts(shift_x_mm=0.12, shift_y_mm=-0.13, rotation_deg=0.02, scale_y_percent=-0.02)
_SPREAD = ErrorParts(shift_x_mm=0.03, shift_y_mm=0.05, rotation_deg=0.01, scale_x_percent=0.015, scale_y_percent=0.03)


@dataclass(frozen=True, slots=True, kw_only=True)
class CutterNature:
    """A simulated cutter.

    Attributes:
        steady: what it does on every sheet.
        spread: one standard deviation of what differs from sheet to sheet.
        repeat_mm: one standard deviation, in x and in y, of what differs from sticker to sticker.
        slip_percent: by how much the sheet lags along the feed, grown from the edge that goes in first.
        slip_spread_percent: one standard deviation of it from sheet to sheet.
        dull: 0 for a sharp blade; 1 triples the repeat.
        blade_offset_mm: how far a drag knife's tip trails: corners are cut short by as much where nothing leads it.
    """

    steady: ErrorParts = _STEADY
    spread: ErrorParts = _SPREAD
    repeat_mm: float = 0.037
    slip_percent: float = 0.0
    slip_spread_percent: float = 0.0
    dull: float = 0.0
    blade_offset_mm: float = 0.25


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchNature:
    """A simulated bench."""

    printer: PrinterNature = field(default_factory=PrinterNature)
    reader: ReaderNature = READER
    light: LightNature = field(default_factory=LightNature)
    cutter: CutterNature = field(default_factory=CutterNature)
