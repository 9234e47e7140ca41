"""Reading where a hand found the marks: a JSON file, as docs/formats.md has it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from honest_edge.core.measure.hand_alignment import MarkReading
from honest_edge.core.values.errors import FileError
from honest_edge.core.values.units import check_range
from honest_edge.files.read_json import parsed


@dataclass(frozen=True, slots=True, kw_only=True)
class _Found:
    mark: str
    x_mm: float
    y_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class _File:
    readings: list[_Found]


def read_alignment(
    data: bytes, name: str, aims: Sequence[tuple[str, float, float]], height_mm: float
) -> tuple[MarkReading, ...]:
    """Return the readings in a file's bytes.

    Args:
        data: the file.
        name: of it.
        aims: the marks of the sheet: name, x and y in mm from the top left.
        height_mm: of the sheet.

    Raises:
        FileError: it cannot be read, or names a mark that the sheet does not have.
    """
    try:
        readings = parsed(data, _File).readings
    except FileError as error:
        raise FileError(f"{name} holds no readings of marks: {error}") from None
    places = {mark: (x, height_mm - y) for mark, x, y in aims}
    marks = []
    for one in readings:
        if one.mark not in places:
            raise FileError(f"{name} reads a mark “{one.mark[:30]}”; this sheet has {', '.join(places)}")
        for value in (one.x_mm, one.y_mm):
            check_range("place of a mark", value, -10_000, 50_000)
        marks.append(MarkReading(mark=one.mark, planned_mm=places[one.mark], found_mm=(one.x_mm, one.y_mm)))
    return tuple(marks)
