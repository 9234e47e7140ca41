"""What the Book holds of a bench: sheets that were measured, what was done to it, what was taken out of its error."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.log_event import MOST_TEXT, is_key
from honest_edge.core.values.measured import (
    BenchChange,
    ErrorParts,
    MeasuredBy,
    MeasuredPlace,
    MeasuredSheet,
)

_MOST_PLACES = 400


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchSubject:
    """A bench: a machine with a printer, by their names."""

    machine: str
    printer: str

    def __post_init__(self) -> None:
        for text in (self.machine, self.printer):
            if not text or len(text) > MOST_TEXT:
                raise UsageError("A bench is a machine and a printer: name both")

    @property
    def about(self) -> str:
        """What notes of it are looked up by."""
        return f"{self.machine} / {self.printer}"

    @property
    def subject(self) -> BenchSubject:
        """The bench, and nothing else."""
        return BenchSubject(machine=self.machine, printer=self.printer)


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchSheet(BenchSubject):
    """One measured sheet as it is kept; ``measured`` says the rest.

    Attributes:
        key: names it among those that are kept.
        sheet: names the sheet of paper; empty where it is not known.
        picture: what was measured.
        by: how.
        error, unsure, correction: five numbers each, with spaces between.
        repeat_mm, degrees_of_freedom: as of ``MeasuredSheet``.
        places: x, y, dx, dy and 1 or 0 for each, with spaces; places apart by semicolons.
        simulated: whether it comes from the practice bench.
    """

    key: str
    sheet: str
    picture: str
    by: MeasuredBy
    error: str
    unsure: str
    correction: str
    repeat_mm: float
    degrees_of_freedom: float
    places: str
    simulated: bool = False

    def __post_init__(self) -> None:
        BenchSubject.__post_init__(self)
        if not is_key(self.key):
            raise UsageError("A measured sheet has a key of its own")
        if len(self.picture) > MOST_TEXT or len(self.sheet) > MOST_TEXT:
            raise UsageError(f"Names of pictures have at most {MOST_TEXT} letters")
        _ = self.measured

    @property
    def measured(self) -> MeasuredSheet:
        """What was measured.

        Raises:
            UsageError: the texts are no numbers, or too many.
        """
        try:
            rows = [tuple(map(float, part.split())) for part in self.places.split(";") if part]
            places = tuple(
                MeasuredPlace(x_mm=x, y_mm=y, dx_mm=dx, dy_mm=dy, used=bool(used)) for x, y, dx, dy, used in rows
            )
        except ValueError:
            raise UsageError("A measured sheet in the Book has places that are no numbers") from None
        if len(places) > _MOST_PLACES:
            raise UsageError(f"A measured sheet has at most {_MOST_PLACES} places")
        return MeasuredSheet(
            picture=self.picture,
            by=self.by,
            error=_parts(self.error),
            unsure=_parts(self.unsure),
            correction=_parts(self.correction),
            repeat_mm=self.repeat_mm,
            degrees_of_freedom=self.degrees_of_freedom,
            places=places,
            sheet=self.sheet,
        )


def _parts(text: str) -> ErrorParts:
    try:
        shift_x, shift_y, turn, grow_x, grow_y = map(float, text.split())
    except ValueError:
        raise UsageError(f"“{text[:40]}” are not the five parts of an error") from None
    return ErrorParts(
        shift_x_mm=shift_x, shift_y_mm=shift_y, rotation_deg=turn, scale_x_percent=grow_x, scale_y_percent=grow_y
    )


def _text(parts: ErrorParts) -> str:
    return " ".join(f"{value:.6g}" for value in parts.values)


def kept_sheet(sheet: MeasuredSheet, bench: BenchSubject, key: str, *, simulated: bool = False) -> BenchSheet:
    """Return a measured sheet as it is kept."""
    return BenchSheet(
        machine=bench.machine,
        printer=bench.printer,
        key=key,
        sheet=sheet.sheet,
        picture=sheet.picture[:MOST_TEXT],
        by=sheet.by,
        error=_text(sheet.error),
        unsure=_text(sheet.unsure),
        correction=_text(sheet.correction),
        repeat_mm=sheet.repeat_mm,
        degrees_of_freedom=sheet.degrees_of_freedom,
        places=";".join(
            f"{p.x_mm:.3f} {p.y_mm:.3f} {_number(p.dx_mm)} {_number(p.dy_mm)} {int(p.used)}" for p in sheet.places
        ),
        simulated=simulated,
    )


def _number(value: float) -> str:
    return "nan" if math.isnan(value) else f"{value:.4f}"


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchNote(BenchSubject):
    """What was done to a bench.

    Attributes:
        what: it was.
        remark: in the user's words.
        typed_x_mm, typed_y_mm: what was typed into the machine's own correction, more than stood there before.
    """

    what: BenchChange
    remark: str = ""
    typed_x_mm: float | None = None
    typed_y_mm: float | None = None

    def __post_init__(self) -> None:
        BenchSubject.__post_init__(self)
        if len(self.remark) > MOST_TEXT:
            raise UsageError(f"A remark has at most {MOST_TEXT} letters")
        typed = self.typed_x_mm is not None and self.typed_y_mm is not None
        if typed != (self.what == "typed into the machine"):
            raise UsageError("What was typed into the machine has two numbers, across and down")


@dataclass(frozen=True, slots=True, kw_only=True)
class SetAside(BenchSubject):
    """Whether a measured sheet counts.

    Attributes:
        key: of the sheet.
        counts: whether it does again.
    """

    key: str
    counts: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class CutMoved(BenchSubject):
    """How our cut files are moved for a bench; the newest holds, five zeros for not at all.

    Attributes:
        parts: the five, with spaces between.
    """

    parts: str

    def __post_init__(self) -> None:
        BenchSubject.__post_init__(self)
        _ = self.correction

    @property
    def correction(self) -> ErrorParts:
        """How they are moved."""
        return _parts(self.parts)


def cut_moved(bench: BenchSubject, correction: ErrorParts) -> CutMoved:
    """Return how cut files are moved, as it is kept."""
    return CutMoved(machine=bench.machine, printer=bench.printer, parts=_text(correction))


@dataclass(frozen=True, slots=True, kw_only=True)
class MachineSign(BenchSubject):
    """Which way a machine's own correction moves the cut, learnt from a second target.

    Attributes:
        axis: of the correction.
        sign: 1 where typing more moves the cut right or down, -1 where left or up.
    """

    axis: Literal["across", "down"]
    sign: Literal[1, -1]
