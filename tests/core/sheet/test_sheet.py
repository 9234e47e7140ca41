from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from honest_edge.core.geometry.paths import polygon_of
from honest_edge.core.sheet.fit import fit, improve
from honest_edge.core.sheet.marks import marks_of
from honest_edge.core.sheet.media import Box
from honest_edge.core.sheet.plan import Placement, is_better
from honest_edge.core.sheet.quick import quick_fit
from honest_edge.core.sheet.space import space_of
from honest_edge.core.sheet.stored import layout_of, plan_kept
from honest_edge.core.values.errors import BlockedError, Cancelled, UsageError
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.marks import MARK_LENGTH_MM, MarkSpec, with_mark_kind
from honest_edge.core.values.papers import PAPER_MM
from honest_edge.core.values.sheet import SheetSpec
from laid import assert_valid, box, footprint, star


def test_paper_sizes_are_those_of_the_standards():
    assert PAPER_MM["a4"] == (210, 297)  # ISO 216:2007, table 1
    assert (PAPER_MM["a3"], PAPER_MM["a5"]) == ((297, 420), (148, 210))  # ISO 216:2007, table 1
    assert PAPER_MM["letter"] == pytest.approx((8.5 * 25.4, 11 * 25.4))  # ANSI/ASME Y14.1, size A
    assert PAPER_MM["tabloid"] == pytest.approx((11 * 25.4, 17 * 25.4))  # ANSI/ASME Y14.1, size B
    for paper in ("a3", "a4", "a5"):
        width, height = PAPER_MM[paper]
        assert height / width == pytest.approx(2**0.5, abs=0.005)  # ISO 216: sides as 1 to the square root of 2
    assert SheetSpec(paper="a4", is_landscape=True).size_mm == (297, 210)
    assert SheetSpec(paper="own", own_mm=(120, 180)).size_mm == (120, 180)


shapes = st.one_of(
    st.tuples(st.floats(12, 90), st.floats(12, 90)).map(lambda s: shapely.box(0, 0, *s)),
    st.floats(8, 40).map(lambda r: shapely.Point(r, r).buffer(r)),
    st.tuples(st.integers(3, 7), st.floats(15, 38), st.floats(0.3, 0.9)).map(lambda s: star(s[0], s[1], s[1] * s[2])),
)
jobs = st.lists(st.tuples(shapes, st.sampled_from([0, 0.3, 1.27, 4]), st.integers(1, 6)), min_size=1, max_size=3)
sheets = st.builds(
    SheetSpec,
    paper=st.sampled_from(["letter", "a4", "a5"]),
    is_landscape=st.booleans(),
    gap_mm=st.sampled_from([0.0, 0.5, 2.5, 6.0]),
    turning=st.sampled_from(["none", "quarter", "free"]),
    grouping=st.sampled_from(["mixed", "together"]),
    arrangement=st.sampled_from(["tidy", "tight"]),
    used=st.sampled_from([(), ((0.0, 0.0, 90.0, 120.0),)]),
    machine=st.sampled_from(
        [Machine(marks=MarkSpec(kind=kind, length_mm=MARK_LENGTH_MM[kind])) for kind in MARK_LENGTH_MM]
    ),
)


@pytest.mark.slow
@given(jobs, sheets)
@settings(max_examples=40)
def test_every_copy_lies_free_of_marks_edges_used_areas_and_neighbours(job, sheet):
    designs = [footprint(shape, n, reach=reach, key=f"d{i}") for i, (shape, reach, n) in enumerate(job)]
    try:
        plan = fit(designs, sheet)
    except BlockedError:
        room = space_of(sheet).usable
        assert any(min(d.cut.width, d.cut.height) + 2 * d.reach_mm > 0.4 * min(room[2:]) for d in designs)
        return
    assert_valid(plan, designs, sheet)
    if sheet.turning == "none":
        assert {p.turn_deg for page in plan.pages for p in page} == {0.0}


@pytest.mark.slow
def test_waiting_never_loses_and_every_better_layout_holds():
    designs = [footprint(star(5, 30, 12), 9, key="s"), footprint(shapely.Point(0, 0).buffer(21), 7, key="c")]
    sheet, told = SheetSpec(paper="a5"), []
    plan = fit(designs, sheet)
    better = improve(plan, designs, sheet, found=told.append, cancelled=lambda: len(told) > 3, patience=25)
    assert told
    before = plan
    for now in [*told, better]:
        assert_valid(now, designs, sheet)
        assert now == before or is_better(now, before)
        before = now


@pytest.mark.slow
def test_a_good_layout_is_told_while_a_sheet_less_is_sought():
    shape, sheet, told = star(5, 30, 14), SheetSpec(), []
    plan = fit([footprint(shape, 18)], sheet, found=told.append)
    assert [[len(page) for page in one.pages] for one in told] == [[17, 1]]
    assert [len(page) for page in plan.pages] == [18]
    assert_valid(told[0], [footprint(shape, 18)], sheet)
    fit([footprint(shape, 17)], sheet, found=told.append)
    assert len(told) == 1  # nothing is sought where the last sheet is not almost empty


def test_waiting_answers_a_cancel_at_once_and_gives_back_the_layout():
    designs = [footprint(star(5, 30, 12), 9)]
    plan = fit(designs, SheetSpec(paper="a5"))
    assert improve(plan, designs, SheetSpec(paper="a5"), found=pytest.fail, cancelled=lambda: True) == plan


@pytest.mark.slow
def test_filling_a_page_takes_more_the_longer_one_waits():
    designs = [footprint(star(5, 30, 12), 0, fills=True)]
    sheet = SheetSpec(paper="a5")
    plan = fit(designs, sheet)
    tries = iter(range(10**9))
    better = improve(plan, designs, sheet, found=lambda _: None, cancelled=lambda: next(tries) > 4000)
    assert better.copies > plan.copies
    assert_valid(better, designs, sheet)


def test_what_fills_takes_what_the_others_leave():
    designs = [box(60, 60, 4, key="a"), footprint(shapely.Point(0, 0).buffer(8), 2, key="b", fills=True)]
    plan = fit(designs, SheetSpec())
    assert len(plan.pages) == 1
    assert plan.count(0) == 4
    assert plan.count(1) > 20
    assert_valid(plan, designs, SheetSpec())


def test_designs_kept_together_follow_one_another():
    designs = [box(50, 40, 8, key="a"), box(30, 30, 9, key="b"), box(45, 20, 8, key="c")]
    plan = fit(designs, SheetSpec(grouping="together"))
    order = [p.design for page in plan.pages for p in page]
    assert order == sorted(order)


def test_designs_kept_apart_share_no_sheet_and_the_used_one_is_taken_first():
    designs = [box(50, 40, 8, key="a"), box(10, 10, 1, key="b"), box(45, 20, 0, key="c", fills=True)]
    used = (0.0, 0.0, 200.0, 150.0)
    sheet = SheetSpec(grouping="apart", used=(used,))
    plan = fit(designs, sheet)
    assert [len({p.design for p in page}) for page in plan.pages] == [1] * len(plan.pages)
    assert [plan.count(index) for index in (0, 1)] == [8, 1]
    assert plan.count(2) > 10
    assert_valid(plan, designs, sheet)
    alone = fit(designs[2:], SheetSpec())
    assert plan.count(2) == alone.copies  # a fresh sheet: only the first sheet of all is partly used
    assert plan_kept(layout_of(plan, designs), designs, sheet) == plan
    better = improve(plan, designs, sheet, found=lambda _: None, cancelled=lambda: False, patience=2)
    assert [len({p.design for p in page}) for page in better.pages] == [1] * len(better.pages)


def placed_of(plan, design):
    return {(n, p.turn_deg, p.x_mm, p.y_mm) for n, page in enumerate(plan.pages) for p in page if p.design == design}


def still_there(before, after):
    """How many lie where they lay, but for what a neighbour that was laid anew pushed them."""
    return sum(
        any(n == m and t == u and abs(x - v) + abs(y - w) < 1.5 for m, u, v, w in after) for n, t, x, y in before
    )


@pytest.mark.slow
def test_a_first_layout_keeps_what_still_holds_and_every_gap():
    designs = [footprint(star(5, 30, 12), 9, key="s"), box(40, 30, 3, key="b"), box(20, 20, 0, key="f", fills=True)]
    sheet = SheetSpec(paper="a5")
    plan = fit(designs, sheet)
    before = (plan, designs)
    for change in (
        [replace(designs[0], copies=11), *designs[1:]],
        [replace(designs[0], copies=4), *designs[1:]],
        [*designs, box(15, 15, 5, key="n")],
        designs[::-1],
    ):
        found = quick_fit(change, sheet, before=before)
        assert_valid(found, change, sheet)
        keys = [design.key for design in change]
        for key, number in (("b", 1), ("s", 0)):
            copies = next(design.copies for design in change if design.key == key)
            stayed = still_there(placed_of(plan, number), placed_of(found, keys.index(key)))
            assert stayed >= min(len(placed_of(plan, number)), copies)
    fewer = [designs[0], designs[2]]
    found = quick_fit(fewer, sheet, before=before)
    assert_valid(found, fewer, sheet)
    assert still_there(placed_of(plan, 2), placed_of(found, 1)) == len(placed_of(plan, 2))


@pytest.mark.slow
@given(jobs, sheets)
@settings(max_examples=10)
def test_a_first_layout_of_boxes_is_whole_or_there_is_none(job, sheet):
    designs = [footprint(shape, n, reach=reach, key=f"d{i}") for i, (shape, reach, n) in enumerate(job)]
    try:
        found = quick_fit(designs, sheet)
    except BlockedError:
        return
    if found is not None:
        assert_valid(found, designs, sheet)


def test_a_changed_shape_is_not_kept():
    designs = [box(40, 30, 3, key="b"), box(20, 20, 2, key="c")]
    plan = fit(designs, SheetSpec())
    wider = [box(60, 30, 3, key="b"), designs[1]]
    found = quick_fit(wider, SheetSpec(), before=(plan, designs))
    assert_valid(found, wider, SheetSpec())
    assert placed_of(plan, 1) <= placed_of(found, 1)
    bleeding = [replace(designs[0], copies=30, reach_mm=4.0), designs[1]]
    tight = fit([replace(designs[0], copies=30), designs[1]], SheetSpec())
    found = quick_fit(bleeding, SheetSpec(), before=(tight, [replace(designs[0], copies=30), designs[1]]))
    assert_valid(found, bleeding, SheetSpec())


def test_copies_placed_by_hand_stay_and_the_rest_fits_around():
    designs = [box(50, 40, 8)]
    pin = Placement(design=0, turn_deg=30, x_mm=90, y_mm=80, is_pinned=True)
    plan = fit(designs, SheetSpec(), [(0, pin)])
    assert pin in plan.pages[0]
    assert_valid(plan, designs, SheetSpec())
    assert sum(p.is_pinned for p in plan.pages[0]) == 1


def test_a_kept_layout_is_used_until_it_no_longer_holds():
    designs = [footprint(star(5, 30, 12), 9, key="s"), box(40, 30, 3, key="b")]
    sheet = SheetSpec()
    plan = fit(designs, sheet)
    layout = layout_of(plan, designs)
    assert plan_kept(layout, designs, sheet) == plan
    assert plan_kept(layout, designs, SheetSpec(gap_mm=5)) is None
    assert plan_kept(layout, [replace(designs[0], copies=10), designs[1]], sheet) is None
    assert plan_kept(layout, [replace(designs[0], reach_mm=3), designs[1]], sheet) is None
    assert plan_kept(layout, designs[1:], sheet) is None


def test_ten_thousand_copies_can_be_called_off():
    asked = iter(range(10**9))
    with pytest.raises(Cancelled):
        fit([box(20, 20, 10_000)], SheetSpec(), cancelled=lambda: next(asked) > 50)


@pytest.mark.slow
@pytest.mark.parametrize("shape", [star(5, 25, 11), star(7, 14, 9), shapely.box(0, 0, 40, 30)])
def test_thousands_of_one_design_are_laid_as_densely_as_one_sheet_of_it(shape):
    """All sheets but the last are alike, each valid, and none holds fewer than a sheet filled by itself."""
    alone = fit([footprint(shape, 0, fills=True)], SheetSpec()).copies
    designs = [footprint(shape, 3000)]
    plan = fit(designs, SheetSpec())
    assert plan.copies == 3000
    assert len(plan.pages) <= -(-3000 // alone) + 1
    assert len(set(plan.pages)) <= 4
    few = replace(plan, pages=plan.pages[-3:], stocks=plan.stocks[-3:])
    assert_valid(few, [replace(designs[0], copies=few.copies)], SheetSpec())


@pytest.mark.slow
def test_sheets_that_begin_alike_are_still_filled_with_what_is_smaller():
    designs = [footprint(star(5, 25, 11), 20, name="large"), footprint(star(5, 6, 3), 80, name="small")]
    sheet = SheetSpec(paper="a5")
    plan = fit(designs, sheet)
    assert_valid(plan, designs, sheet)
    assert any(p.design == 1 for p in plan.pages[0])
    assert any(p.design == 1 for p in plan.pages[1])


def test_turning_is_used_where_it_helps():
    plan = fit([box(60, 140, 4)], SheetSpec())
    assert len(plan.pages) == 1
    assert {placement.turn_deg for placement in plan.pages[0]} == {90.0}


@pytest.mark.parametrize(("width", "height"), [(51.3, 71.9), (33, 87), (63.9, 40.2), (25.4, 25.4), (95, 62.9)])
def test_rectangles_are_never_laid_worse_than_in_rows_and_columns(width, height):
    plan = fit([box(width, height, 0, fills=True)], SheetSpec())
    room = space_of(SheetSpec())
    for wide, high in ((width, height), (height, width)):
        columns = int((room.usable.width + 2.5) // (wide + 2.5))
        rows = int((room.usable.height + 2.5) // (high + 2.5))
        corners = [
            (room.usable.left + column * (wide + 2.5), room.usable.top + row * (high + 2.5))
            for column in range(columns)
            for row in range(rows)
        ]
        clear = sum(
            not any(Box(x, y, x + wide, y + high).overlaps(keep) for keep in room.keep_outs) for x, y in corners
        )
        assert plan.copies >= clear


def test_a_long_strip_is_laid_aslant_when_it_may_be_turned_any_way():
    """280 x 12 mm between frame marks on A4, 178 x 265 mm: it fits at 55 degrees, not at 45."""
    sheet = SheetSpec(paper="a4", turning="free", machine=Machine(marks=MarkSpec(kind="frame")))
    designs = [box(280, 12, 3)]
    plan = fit(designs, sheet)
    assert_valid(plan, designs, sheet)
    with pytest.raises(BlockedError, match=r"280\.0 × 12\.0 mm"):
        fit(designs, replace(sheet, turning="quarter"))


def test_a_design_too_large_says_both_sizes():
    with pytest.raises(BlockedError, match=r"“Poster” needs 300\.0 × 40\.0 mm.*191\.9 × 255\.4 mm"):
        fit([box(300, 40, 1, name="Poster")], SheetSpec())


def test_a_design_that_fills_and_is_too_large_is_said_too():
    with pytest.raises(BlockedError, match="“Poster” needs"):
        fit([box(300, 40, 0, name="Poster", fills=True)], SheetSpec())


def test_no_sheet_stays_empty_while_a_better_layout_is_found():
    designs = [box(100, 90, 3, key="a"), footprint(shapely.Point(0, 0).buffer(9), 30, key="b")]
    sheet = SheetSpec(paper="a5")
    plan = fit(designs, sheet)
    better = improve(plan, designs, sheet, found=lambda _: None, cancelled=lambda: False, patience=15)
    assert all(better.pages)
    assert_valid(better, designs, sheet)


def test_keep_outs_that_cover_the_page_are_said():
    with pytest.raises(BlockedError, match="Marks of 60 mm"):
        space_of(SheetSpec(paper="a5", machine=Machine(marks=MarkSpec(length_mm=60, clear_mm=30))))
    covered = SheetSpec(used=((0, 0, 300, 300),))
    assert len(fit([box(50, 40, 2)], covered).pages) == 2  # the used sheet stays as it is, a fresh one is taken


def test_the_usable_area_is_what_every_reason_leaves():
    machine = Machine(width_mm=150, length_mm=200, feed_margin_mm=20, marks=MarkSpec(inset_mm=10))
    room = space_of(SheetSpec(machine=machine))
    assert room.usable == Box(pytest.approx(32.95), 20, pytest.approx(182.95), 220)
    assert [words.split(" ")[0] for words, _ in room.reasons] == ["Letter", "inside", "off", "within"]
    assert space_of(SheetSpec()).usable == Box(12, 12, pytest.approx(203.9), pytest.approx(267.4))


def test_marks_stand_where_the_numbers_say():
    marks = MarkSpec(length_mm=20, thickness_mm=1.5, inset_mm=10, clear_mm=2)
    top_left, top_right, bottom_left = marks_of(SheetSpec().with_marks(marks))
    assert top_left.bars == (Box(10, 10, 30, 11.5), Box(10, 10, 11.5, 30))
    assert top_left.keep_outs == (Box(8, 8, 32, 32),)
    assert top_right.keep_outs[0].right == pytest.approx(215.9 - 8)
    assert bottom_left.keep_outs[0].bottom == pytest.approx(279.4 - 8)


@pytest.mark.parametrize(
    ("kind", "count"), [("four brackets", 4), ("four discs", 4), ("four squares", 4), ("frame", 1)]
)
def test_each_kind_of_mark_covers_the_ink_it_says(kind, count):
    sheet = SheetSpec().with_marks(with_mark_kind(MarkSpec(), kind))
    marks = marks_of(sheet)
    assert len(marks) == count
    inked = [polygon_of(mark.rings, 0.0005).area for mark in marks]
    length, thick = sheet.marks.length_mm, sheet.marks.thickness_mm
    expected = {
        "four brackets": None,
        "four discs": np.pi * 9,
        "four squares": 64.0,
        "frame": 2 * thick * (191.9 + 255.4) - 4 * thick**2,
    }[kind]
    if kind == "four brackets":  # bars that cross are two rings of one ink
        bars = [shapely.union_all([shapely.box(*bar) for bar in mark.bars]).area for mark in marks]
        assert bars == pytest.approx([2 * length * thick - thick**2] * 4)
    else:
        assert inked == pytest.approx([expected] * count, rel=1e-3)
    usable = shapely.box(*space_of(sheet).usable)
    free = space_of(sheet).free_mm2(first=False)
    keep_outs = shapely.union_all([shapely.box(*keep) for mark in marks for keep in mark.keep_outs])
    assert free == pytest.approx(usable.difference(keep_outs).area, rel=1e-6)


@pytest.mark.parametrize(
    ("marks", "words"),
    [
        (MarkSpec(inset_mm=3), "inside the 5 mm that the printer cannot print"),
        (MarkSpec(length_mm=60, inset_mm=60), "meet on Letter"),
    ],
)
def test_marks_that_cannot_be_printed_or_meet_are_refused(marks, words):
    with pytest.raises(BlockedError, match=words):
        marks_of(SheetSpec().with_marks(marks))


@pytest.mark.parametrize("field", ["length_mm", "thickness_mm", "inset_mm", "clear_mm"])
def test_nonsense_marks_are_refused_with_the_range(field):
    for value in (-1, 1000, float("nan")):
        with pytest.raises(UsageError, match="must be"):
            MarkSpec(**{field: value})


def test_no_box_overlaps_itself_shrunk_to_nothing():
    assert not Box(0, 0, 1, 1).overlaps(Box(1, 0, 2, 1))
    assert Box(0, 0, 1, 1).overlaps(Box(0.5, 0.5, 2, 2))
    assert np.isclose(Box(0, 0, 1, 2).grown(1).height, 4)
