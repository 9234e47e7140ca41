"""The edge that goes in first: whatever side that is, the sheet is the same, turned with it."""

from dataclasses import replace

import pytest

from honest_edge.core.proof.mark_checks import mark_findings
from honest_edge.core.sheet.media import Box
from honest_edge.core.sheet.space import reach_of, space_of
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.sheet import SheetSpec

WIDTH, HEIGHT = 200.0, 300.0
MARGIN, ALONG, ACROSS = 25.0, 180.0, 160.0
REACHED = {  # by hand: the margin from the fed side, 180 mm onward, 160 mm in the middle across
    "top": Box(20, 25, 180, 205),
    "bottom": Box(20, 95, 180, 275),
    "left": Box(25, 70, 200, 230),
    "right": Box(0, 70, 175, 230),
}


def sheet_fed(side, **changes):
    machine = Machine(feed_side=side, feed_margin_mm=MARGIN, length_mm=ALONG, width_mm=ACROSS)
    return SheetSpec(paper="own", own_mm=(WIDTH, HEIGHT), machine=replace(machine, **changes))


@pytest.mark.parametrize("side", REACHED)
def test_a_machine_reaches_on_from_the_side_that_it_holds(side):
    assert reach_of(sheet_fed(side)) == pytest.approx(REACHED[side])


@pytest.mark.parametrize("side", REACHED)
def test_what_the_feed_holds_is_kept_free_on_its_own_side(side):
    """A margin of 60 mm is wider than marks and rim, and the machine reaches everything else."""
    wide = {"feed_margin_mm": 60.0, "length_mm": 900.0, "width_mm": 900.0}
    usable = space_of(sheet_fed(side, **wide)).usable
    away = {"top": usable.top, "bottom": HEIGHT - usable.bottom, "left": usable.left, "right": WIDTH - usable.right}
    assert away.pop(side) == pytest.approx(60)
    assert all(distance < 60 for distance in away.values())


@pytest.mark.parametrize("side", REACHED)
def test_marks_beyond_the_reach_of_a_short_machine_are_said(side):
    """With 40 mm lost at the far end, a mark that lies there is named and shown."""
    length_mm = (HEIGHT if side in ("top", "bottom") else WIDTH) - 40
    sheet = sheet_fed(side, feed_margin_mm=0.0, length_mm=length_mm, width_mm=900.0)
    sheet = sheet.with_marks(replace(sheet.marks, kind="four brackets"))
    (found,) = [one for one in mark_findings(sheet) if one.check == "mark reach"]
    left, top, right, bottom = found.places[0].bounds_mm
    lies_far = {
        "top": bottom > HEIGHT - 40,
        "bottom": top < 40,
        "left": right > WIDTH - 40,
        "right": left < 40,
    }
    assert lies_far[side], found.message


@pytest.mark.parametrize("side", ["top", "bottom"])
def test_a_machine_that_prints_its_own_marks_cuts_all_of_its_area_between_them(side):
    # by hand: 6.75 x 9.25 in are 171.45 x 234.95 mm; a frame 12 mm inside a Letter page leaves 255.4 mm between
    marks = MarkSpec(kind="frame", inset_mm=12.0)
    machine = Machine(name="Own", width_mm=171.45, length_mm=234.95, marks=marks, prints_own_marks=True, feed_side=side)
    usable = space_of(SheetSpec(machine=machine)).usable
    assert usable.height == pytest.approx(234.95)
    assert usable.width == pytest.approx(171.45)
    assert (usable.top if side == "top" else 279.4 - usable.bottom) == pytest.approx(12.0 + 1.0 + 3.0), (
        "inset, line, clear space"
    )
