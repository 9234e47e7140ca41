"""What was measured of a bench: where the cut landed against the print, at places of sheets."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, fields
from typing import Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.units import check_range

MeasuredBy = Literal["scan", "photograph", "eye", "stickers"]
BenchChange = Literal["new blade", "carriage reset", "reader cleaned", "typed into the machine", "other"]

NEW_START: frozenset[BenchChange] = frozenset(("carriage reset", "reader cleaned", "typed into the machine"))
"""What moves the steady part of the error: sheets from before tell only how much sheets differ."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ErrorParts:
    """How far the cut of one sheet lies from its print, in the terms of ``Misregistration``.

    Attributes:
        shift_x_mm, shift_y_mm: x right, y down.
        rotation_deg: about the marks' middle, positive clockwise on paper.
        scale_x_percent, scale_y_percent: growth of the cut against the print.
    """

    shift_x_mm: float = 0.0
    shift_y_mm: float = 0.0
    rotation_deg: float = 0.0
    scale_x_percent: float = 0.0
    scale_y_percent: float = 0.0

    def __post_init__(self) -> None:
        check_range("shift across", self.shift_x_mm, -50, 50)
        check_range("shift down", self.shift_y_mm, -50, 50)
        check_range("rotation", self.rotation_deg, -20, 20, "degrees")
        check_range("scale across", self.scale_x_percent, -20, 20, "%")
        check_range("scale down", self.scale_y_percent, -20, 20, "%")

    @property
    def values(self) -> tuple[float, ...]:
        """The five numbers in their order."""
        return tuple(getattr(self, name) for name in PART_NAMES)

    @property
    def is_none(self) -> bool:
        """Whether all of them are zero."""
        return not any(self.values)


PART_NAMES: tuple[str, ...] = tuple(field.name for field in fields(ErrorParts))


def parts_of(values: Iterable[float]) -> ErrorParts:
    """Return the parts whose five numbers, in their order, are given."""
    return ErrorParts(**dict(zip(PART_NAMES, (float(value) for value in values), strict=True)))


@dataclass(frozen=True, slots=True, kw_only=True)
class MeasuredPlace:
    """One place of a sheet.

    Attributes:
        x_mm, y_mm: counted from the middle of the marks, x right, y down.
        dx_mm, dy_mm: where the cut lies against the print; nan where that could not be told.
        used: whether it counts.
        why: why not, in words.
    """

    x_mm: float
    y_mm: float
    dx_mm: float
    dy_mm: float
    used: bool = True
    why: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class MeasuredSheet:
    """One sheet that was printed, cut and measured.

    Attributes:
        picture: what was measured: names of files, or how it was read.
        by: how.
        error: the sheet's own shift, rotation and scale.
        unsure: one standard error of each.
        repeat_mm: standard deviation, in x and in y, of what the five do not explain.
        degrees_of_freedom: that ``repeat_mm`` rests on.
        places: what it was measured at.
        sheet: names the sheet of paper; the same in every picture of it. Empty where it is not known.
        correction: what the cut file had been moved by; the bench's own error is ``error`` less this.
    """

    picture: str
    by: MeasuredBy
    error: ErrorParts
    unsure: ErrorParts
    repeat_mm: float
    degrees_of_freedom: float
    places: tuple[MeasuredPlace, ...]
    sheet: str = ""
    correction: ErrorParts = ErrorParts()

    def __post_init__(self) -> None:
        check_range("repeat", self.repeat_mm, 0, 20)
        if not self.places:
            raise UsageError("A measured sheet has places that it was measured at")

    @property
    def used(self) -> tuple[MeasuredPlace, ...]:
        """The places that count."""
        return tuple(place for place in self.places if place.used)

    @property
    def of_the_bench(self) -> ErrorParts:
        """What the bench did, without what the cut file had been moved by."""
        return parts_of(e - c for e, c in zip(self.error.values, self.correction.values, strict=True))


@dataclass(frozen=True, slots=True, kw_only=True)
class PartBelief:
    """What is expected of one part of the error on the next sheet: Student's t.

    Attributes:
        mean: its middle.
        spread: its scale; one standard deviation where ``degrees_of_freedom`` are many.
        degrees_of_freedom: of the t distribution.
        mean_unsure: scale of what is not known of the mean itself.
    """

    mean: float
    spread: float
    degrees_of_freedom: float
    mean_unsure: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchBelief:
    """What is expected of the next sheet of a bench.

    Attributes:
        shift_x_mm, shift_y_mm, rotation_deg, scale_x_percent, scale_y_percent: as of ``Misregistration``.
        repeat_mm: from sticker to sticker.
        sheets: that it rests on, counted whole though older ones weigh less.
        newest_ms: when the newest was measured, in UTC milliseconds; None where that is not known.
    """

    shift_x_mm: PartBelief
    shift_y_mm: PartBelief
    rotation_deg: PartBelief
    scale_x_percent: PartBelief
    scale_y_percent: PartBelief
    repeat_mm: float
    sheets: int
    newest_ms: int | None = None

    @property
    def parts(self) -> tuple[PartBelief, ...]:
        """The five in their order."""
        return tuple(getattr(self, name) for name in PART_NAMES)

    @property
    def means(self) -> ErrorParts:
        """What is the same on every sheet."""
        return parts_of(part.mean for part in self.parts)
