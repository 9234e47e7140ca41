"""Copies in rows: upright, even, in the tray's order, and never for a sheet more. About 2 CPU seconds."""

import itertools
from collections import Counter
from dataclasses import replace

import pytest
import shapely

from honest_edge.core.sheet.fit import fit
from honest_edge.core.sheet.limits import limits
from honest_edge.core.sheet.quick import quick_fit
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.sheet import SheetSpec
from laid import assert_valid, box, cuts_of, footprint, star

TIDY = SheetSpec(arrangement="tidy")
FRAME = Machine(marks=MarkSpec(kind="frame", inset_mm=12, thickness_mm=1, clear_mm=3))
"""A frame leaves one free box: 16 mm less on every side."""


def own(width, height, **more):
    return SheetSpec(paper="own", own_mm=(32 + width, 32 + height), machine=FRAME, arrangement="tidy", **more)


def middles(plan, designs, page=0):
    """Return of each copy, as it was laid, the middle of its cut in mm."""
    cuts = list(cuts_of(plan, designs))[page]
    return [tuple(round((a + b) / 2, 3) for a, b in zip(c.bounds[:2], c.bounds[2:], strict=True)) for c, _ in cuts]


def test_twelve_discs_of_two_inches_stand_in_rows_of_three_between_the_marks():
    """The usual job: at half of the sheet's area nothing is turned, nothing is scattered, every gap is the same."""
    disc = footprint(shapely.Point(0, 0).buffer(26.5), 12, reach=1.0)
    plan = fit([disc], TIDY)
    assert_valid(plan, [disc], TIDY)
    assert {placement.turn_deg for placement in plan.pages[0]} == {0.0}
    at = middles(plan, [disc])
    rows, columns = sorted({y for _, y in at}), sorted({x for x, _ in at})
    assert at == [(x, y) for y in rows for x in columns]  # laid as one reads
    assert (len(rows), len(columns)) == (4, 3)
    steps = {round(b - a, 3) for line in (rows, columns) for a, b in itertools.pairwise(line)}
    assert steps == {round(53 + TIDY.gap_mm, 3)}


def test_rows_are_even_and_stand_in_the_middle():
    seven = box(30, 20, 7)
    at = middles(fit([seven], own(200, 100)), [seven])
    assert Counter(y for _, y in at) == {min(y for _, y in at): 4, max(y for _, y in at): 3}  # 4 + 3, not 6 + 1
    rows = {y: sorted(x for x, other in at if other == y) for _, y in at}
    assert len({line[0] for line in rows.values()}) == 1
    first = rows[min(rows)]
    assert (first[0] + first[-1]) / 2 == pytest.approx(16 + 100)


def test_designs_come_in_the_trays_order_alike_beside_alike():
    designs = [box(20, 20, 5, key="a"), box(42, 25, 4, key="b"), box(25, 15, 6, key="c")]
    plan = fit(designs, TIDY)
    assert_valid(plan, designs, TIDY)
    assert [placement.design for placement in plan.pages[0]] == [0] * 5 + [1] * 4 + [2] * 6
    at = middles(plan, designs)
    assert [y for _, y in at] == sorted(y for _, y in at)
    assert not {y for _, y in at[:5]} & {y for _, y in at[5:9]}  # each design has rows of its own


def test_pictures_of_about_one_size_stand_in_columns_whatever_each_measures():
    designs = [box(40 + number % 3, 38 + number % 4, 1, key=f"d{number}") for number in range(9)]
    at = middles(fit(designs, TIDY), designs)
    assert len({x for x, _ in at}) == len({y for _, y in at}) == 3


def test_what_is_wider_than_the_sheet_is_refused_in_one_line():
    with pytest.raises(BlockedError, match=r"needs 130\.0 × 230\.0 mm"):
        fit([box(130, 230, 2)], own(120, 220))


@pytest.mark.parametrize(("width", "height", "turn"), [(60, 40, 0), (101, 60, 90)])
def test_a_design_is_turned_only_where_it_has_no_room_upright(width, height, turn):
    plan = fit([box(width, height, 4)], own(100, 220))
    assert {placement.turn_deg for page in plan.pages for placement in page} == {turn}


def test_rows_never_cost_a_sheet_nor_a_copy_that_is_wanted():
    """Stars nest: tight they need one sheet, in rows two. Boxes need as many sheets in rows as by area."""
    stars = [footprint(star(5, 30, 12), 18)]
    tight, tidy = fit(stars, replace(TIDY, arrangement="tight")), fit(stars, TIDY)
    assert (len(tight.pages), len(tidy.pages)) == (1, 1)
    assert tidy.pages == tight.pages
    found = limits(tidy, stars, 0, TIDY)
    assert (found.rows, found.tight) == (2, 0)
    boxes = [box(40, 30, 25)]
    sheet = own(82.5, 62.5)
    assert [len(page) for page in fit(boxes, sheet).pages] == [4] * 6 + [1]
    assert limits(fit(boxes, sheet), boxes, 0, sheet).rows is None


def test_what_fills_a_sheet_fills_it_in_rows_and_what_tight_would_give_is_told():
    """Arithmetic: (w + gap) // (side + gap) columns by (h + gap) // (side + gap) rows; hexagonal rows hold more."""
    side, gap, sheet = 31.0, 2.5, own(150, 205)
    discs = [footprint(shapely.Point(0, 0).buffer(side / 2), 0, fills=True)]
    plan = fit(discs, sheet)
    assert plan.copies == int((150 + gap) // (side + gap)) * int((205 + gap) // (side + gap)) == 24
    assert_valid(plan, discs, sheet)
    tight = fit(discs, replace(sheet, arrangement="tight")).copies
    assert limits(plan, discs, 0, sheet).tight == max(0, tight - 24)


def test_two_designs_that_fill_a_sheet_share_it():
    designs = [box(40, 30, 1, key="a", fills=True), box(40, 30, 0, key="b", fills=True)]
    plan = fit(designs, own(125, 127.5))
    assert plan.copies == 12
    assert abs(plan.count(0) - plan.count(1)) <= 1


def test_what_was_placed_by_hand_stays_and_rows_go_round_it():
    designs = [box(40, 30, 8)]
    before = fit(designs, TIDY)
    moved = replace(before.pages[0][3], x_mm=90.0, y_mm=60.0, turn_deg=10.0, is_pinned=True)
    plan = fit(designs, TIDY, [(0, moved)])
    assert [p.is_pinned for p in plan.pages[0]] == [True] + [False] * 7
    assert plan.pages[0][0].matrix == pytest.approx(moved.matrix)
    assert_valid(plan, designs, TIDY)
    assert {placement.turn_deg for placement in plan.pages[0] if not placement.is_pinned} == {0.0}


def test_what_is_seen_at_once_is_what_stays():
    designs = [box(40, 30, 8, key="a"), footprint(shapely.Point(0, 0).buffer(20), 5, key="b")]
    plan = fit(designs, TIDY)
    assert quick_fit(designs, TIDY).pages == plan.pages
    more = [replace(designs[0], copies=9), designs[1]]
    assert quick_fit(more, TIDY, before=(plan, designs)).pages == fit(more, TIDY).pages
