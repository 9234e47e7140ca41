"""The edge that goes in first: whatever side that is, the sheet is the same, turned with it."""

from dataclasses import replace

import pytest

from honest_edge.core.proof.mark_checks import mark_findings
from honest_edge.core.run.print_check import fitted_scale
from honest_edge.core.sheet.media import Box
from honest_edge.core.sheet.space import reach_of, space_of
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.printer import Printer
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.sides import Sides

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


BY_SIDE = Sides(top=15, right=15, bottom=15, left=45)
OWN = Machine(prints_own_marks=True, width_mm=900.0, length_mm=900.0, marks=MarkSpec(inset_mm=0.0))


def letter(**changes):
    return SheetSpec(printer=changes.pop("printer", Printer(rim_mm=0.0)), machine=replace(OWN, **changes))


def test_margins_that_differ_by_side_keep_the_room_of_the_other_sides():
    """Letter is 215.9 x 279.4 mm: 155.9 x 249.4 are left, against 125.9 x 189.4 with the widest at every side."""
    by_rim = letter(printer=Printer(rims_mm=BY_SIDE), marks=MarkSpec(inset_mm=15.0))
    for sheet in (letter(margins_mm=BY_SIDE), by_rim):
        assert space_of(sheet).usable == pytest.approx(Box(45, 15, 215.9 - 15, 279.4 - 15))
    alike = space_of(letter(margins_mm=Sides.alike(45.0))).usable
    assert (alike.width, alike.height) == pytest.approx((125.9, 189.4))
    both = letter(margins_mm=BY_SIDE, printer=Printer(rims_mm=Sides(20, 0, 0, 0)))
    assert space_of(both).usable == pytest.approx(Box(45, 20, 215.9 - 15, 279.4 - 15))
    words = [words for words, _ in space_of(letter(margins_mm=BY_SIDE)).reasons]
    assert f"within the margins of {OWN.name}" in words


def test_a_rim_by_side_goes_before_the_one_value_and_our_marks_stand_clear_of_the_widest():
    sheet = SheetSpec(printer=Printer(rim_mm=5.0, rims_mm=Sides(1, 2, 14, 3)))
    assert (sheet.rim_mm, sheet.rims_mm.bottom) == (14, 14)
    with pytest.raises(BlockedError, match="inside the 14 mm that the printer cannot print"):
        space_of(sheet)
    moved = replace(sheet, machine=replace(sheet.machine, marks=replace(sheet.marks, inset_mm=14.0)))
    assert space_of(moved).usable == pytest.approx(Box(14, 14, 215.9 - 14, 279.4 - 14))
    assert fitted_scale(sheet) == pytest.approx(min(210.9 / 215.9, 264.4 / 279.4))


def test_margins_that_no_sheet_has_are_refused():
    with pytest.raises(UsageError, match="margin of the machine, left must be 0 to 100 mm, not -1"):
        replace(OWN, margins_mm=Sides(0, 0, 0, -1))
    with pytest.raises(UsageError, match="printer’s rim, top must be 0 to 100 mm, not 101"):
        Printer(rims_mm=Sides(101, 0, 0, 0))
