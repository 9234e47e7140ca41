"""What a printer, a mark reader and a cutter are asked for; the simulated ones stand behind this, real ones would."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.imaging.flood import Bytes
from honest_edge.simulator.camera import CutTarget


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PrintedSheet:
    """A sheet as it came out of the printer.

    Attributes:
        number: counted from 1.
        matrix: (2, 3) from where something was planned to where it lies on the paper; both from the marks' middle, mm.
        has_band: whether a band without ink runs through it.
    """

    number: int
    matrix: Floats
    has_band: bool = False

    def at(self, planned_mm: Floats) -> Floats:
        """Return (n, 2) where planned places were printed."""
        return planned_mm @ self.matrix[:, :2].T + self.matrix[:, 2]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class ReadMarks:
    """What a reader made of the marks.

    Attributes:
        matrix: (2, 3) from plan to paper as far as it knows; None where a mark was missed.
        missed: the marks, by number, that it did not find.
    """

    matrix: Floats | None
    missed: tuple[int, ...] = ()


class TakesPictures(Protocol):
    """A scanner or a camera."""

    def __call__(self, target: CutTarget, fineness: float, seed: int) -> Bytes:
        """Return grey levels of a cut target: a scanner takes pixels an inch, a camera megapixels."""


class PrintsSheets(Protocol):
    """A printer."""

    def print_sheet(self) -> PrintedSheet:
        """Print one sheet."""


class ReadsMarks(Protocol):
    """A mark reader."""

    def read_marks(self, printed: PrintedSheet) -> ReadMarks:
        """Look for the marks of a sheet."""


class CutsSheets(Protocol):
    """A cutter."""

    def cut(self, printed: PrintedSheet, read: ReadMarks, planned_mm: Floats) -> Floats:
        """Cut stickers planned at (n, 2) places; return where each then lies against its print, in its frame."""
