"""Where on a sheet ink and cuts may lie, and the words that say why."""

from __future__ import annotations

from dataclasses import dataclass

import shapely

from honest_edge.core.sheet.marks import Mark, marks_of, marks_span
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.sides import Sides

NO_MARGINS = Sides.alike(0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetSpace:
    """The room of a sheet.

    Attributes:
        usable: the box that ink and cuts stay in.
        marks: the printed marks.
        keep_outs: boxes in ``usable`` that the marks keep free, on every sheet.
        used: boxes that are cut out of the first sheet already.
        reasons: what takes room, outermost first, each with the box that it leaves.
    """

    usable: Box
    marks: tuple[Mark, ...]
    keep_outs: tuple[Box, ...]
    used: tuple[Box, ...]
    reasons: tuple[tuple[str, Box], ...]

    def free_mm2(self, *, first: bool) -> float:
        """Return the area that is free on the first sheet, or on a fresh one."""
        boxes = [shapely.box(*box) for box in (*self.keep_outs, *(self.used if first else ()))]
        return float(shapely.box(*self.usable).difference(shapely.union_all(boxes)).area)


def space_of(sheet: SheetSpec) -> SheetSpace:
    """Return the room of a sheet.

    Raises:
        BlockedError: the marks cannot be placed, or nothing is left between what takes room.
    """
    marks = marks_of(sheet)
    width, height = sheet.size_mm
    reasons = [(sheet.paper_title, Box(0.0, 0.0, width, height))]
    for words, box in (
        ("inside the printer’s rim", reasons[0][1].inside(sheet.rims_mm)),
        ("off what the feed holds", _off_feed(sheet)),
        (f"within the margins of {sheet.machine.name}", reasons[0][1].inside(sheet.machine.margins_mm or NO_MARGINS)),
        (f"within what {sheet.machine.name} reaches", reach_of(sheet)),
        ("between the marks", marks_span(sheet)),
    ):
        left = reasons[-1][1].within(box)
        if left != reasons[-1][1]:
            reasons.append((words, left))
        if left.width <= 0 or left.height <= 0:
            raise BlockedError(f"No room is left on {sheet.paper_title} {words}: take a larger paper or change that")
    usable = reasons[-1][1]
    keep_outs = tuple(box for mark in marks for box in mark.keep_outs if box.overlaps(usable))
    used = tuple(Box(*box) for box in sheet.used)
    room = SheetSpace(usable=usable, marks=marks, keep_outs=keep_outs, used=used, reasons=tuple(reasons))
    if room.free_mm2(first=False) < 1.0:
        raise BlockedError(f"The marks’ clear space covers all of {sheet.paper_title}: make it or the marks smaller")
    return room


def _off_feed(sheet: SheetSpec) -> Box:
    width, height = sheet.size_mm
    margin = sheet.machine.feed_margin_mm
    whole = Box(0.0, 0.0, width, height)
    match sheet.machine.feed_side:
        case "top":
            return whole._replace(top=margin)
        case "bottom":
            return whole._replace(bottom=height - margin)
        case "left":
            return whole._replace(left=margin)
    return whole._replace(right=width - margin)


def reach_of(sheet: SheetSpec) -> Box:
    """Return what the machine reaches, in the middle across the feed and from where it begins on along it.

    It begins at the fed edge, past what the rollers hold; a machine that prints its own marks states what it cuts
    between them, so there it begins at the marks.
    """
    width, height = sheet.size_mm
    machine = sheet.machine
    along, across, side = machine.length_mm, machine.width_mm, machine.feed_side
    span = marks_span(sheet) if machine.prints_own_marks else Box(0.0, 0.0, width, height)
    begins = Box(
        *(max(at, machine.feed_margin_mm) for at in (span.left, span.top, width - span.right, height - span.bottom))
    )
    if side in ("top", "bottom"):
        spare = max(0.0, (width - across) / 2)
        top = begins.top if side == "top" else max(0.0, height - begins.bottom - along)
        bottom = min(height, begins.top + along) if side == "top" else height - begins.bottom
        return Box(spare, top, width - spare, bottom)
    spare = max(0.0, (height - across) / 2)
    left = begins.left if side == "left" else max(0.0, width - begins.right - along)
    right = min(width, begins.left + along) if side == "left" else width - begins.right
    return Box(left, spare, right, height - spare)
