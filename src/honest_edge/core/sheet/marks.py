"""The marks that the cutter's reader finds, and the room they need."""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.core.sheet.media import PAPER_MM, PAPER_TITLE, Box
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import SheetSpec


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """One corner bracket.

    Attributes:
        name: where it stands, in words.
        bars: the two printed bars.
        keep_out: where nothing else may be printed or cut.
    """

    name: str
    bars: tuple[Box, Box]
    keep_out: Box


def corner_brackets(sheet: SheetSpec) -> tuple[Mark, Mark, Mark]:
    """Return brackets in three corners; the free corner, bottom right, tells the reader how the sheet lies.

    Raises:
        BlockedError: a mark would lie in the printer's rim, or the marks meet each other.
    """
    spec = sheet.marks
    width, height = PAPER_MM[sheet.paper]
    if spec.inset_mm < sheet.rim_mm:
        raise BlockedError(
            f"The marks stand {spec.inset_mm:g} mm from the paper's edge, inside the {sheet.rim_mm:g} mm that "
            f"the printer cannot print: set the inset to {sheet.rim_mm:g} mm or more"
        )
    longest = min(width, height) / 2 - spec.inset_mm - spec.clear_mm
    if spec.length_mm > longest:
        raise BlockedError(
            f"Marks of {spec.length_mm:g} mm at an inset of {spec.inset_mm:g} mm meet on "
            f"{PAPER_TITLE[sheet.paper]}: make them {max(longest, 0):.0f} mm or shorter"
        )
    left, top, right, bottom = spec.inset_mm, spec.inset_mm, width - spec.inset_mm, height - spec.inset_mm
    return (
        _bracket("top left", left, top, 1, 1, sheet),
        _bracket("top right", right, top, -1, 1, sheet),
        _bracket("bottom left", left, bottom, 1, -1, sheet),
    )


def _bracket(name: str, x: float, y: float, across: int, down: int, sheet: SheetSpec) -> Mark:
    length, thick = sheet.marks.length_mm, sheet.marks.thickness_mm
    bars = (_box(x, y, across * length, down * thick), _box(x, y, across * thick, down * length))
    return Mark(name=name, bars=bars, keep_out=_box(x, y, across * length, down * length).grown(sheet.marks.clear_mm))


def _box(x: float, y: float, width: float, height: float) -> Box:
    return Box(min(x, x + width), min(y, y + height), max(x, x + width), max(y, y + height))


def usable_area(sheet: SheetSpec) -> Box:
    """Return the box that the marks span: the reader corrects between them, not beyond."""
    width, height = PAPER_MM[sheet.paper]
    inset = max(sheet.marks.inset_mm, sheet.rim_mm)
    return Box(inset, inset, width - inset, height - inset)
