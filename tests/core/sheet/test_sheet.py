import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from honest_edge.core.sheet.fit import Footprint, fit
from honest_edge.core.sheet.marks import corner_brackets, usable_area
from honest_edge.core.sheet.media import PAPER_MM, Box
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.specs import MarkSpec, SheetSpec


def test_paper_sizes_are_those_of_the_standards():
    assert PAPER_MM["a4"] == (210, 297)  # ISO 216:2007, table 1
    assert PAPER_MM["letter"] == pytest.approx((8.5 * 25.4, 11 * 25.4))  # ANSI/ASME Y14.1, size A
    width, height = PAPER_MM["a4"]
    assert height / width == pytest.approx(2**0.5, abs=0.001)  # ISO 216: sides as 1 to the square root of 2


def footprint(width, height, reach, copies, name="d"):
    return Footprint(name=name, cut=Box(3, 5, 3 + width, 5 + height), reach_mm=reach, copies=copies)


def placed_boxes(plan, designs):
    for page in plan.pages:
        boxes = []
        for placement in page:
            design = designs[placement.design]
            corners = shapely.box(*design.cut)
            m = placement.matrix
            moved = shapely.transform(corners, lambda p, m=m: p @ m[:, :2].T + m[:, 2])
            boxes.append((moved, design.reach_mm))
        yield boxes


sides = st.floats(8, 90)
designs_strategy = st.lists(
    st.tuples(sides, sides, st.sampled_from([0, 0.3, 1.27, 4]), st.integers(1, 12)), min_size=1, max_size=4
)


@given(designs_strategy, st.floats(0, 6), st.sampled_from(["letter", "a4"]))
@settings(max_examples=60)
def test_every_copy_lies_free_of_marks_edges_and_neighbours(sizes, gap_mm, paper):
    designs = [footprint(*size) for size in sizes]
    sheet = SheetSpec(paper=paper, gap_mm=gap_mm)
    plan = fit(designs, sheet)
    assert sum(len(page) for page in plan.pages) == sum(design.copies for design in designs)
    usable = shapely.box(*usable_area(sheet)).buffer(1e-6)
    keep_outs = [shapely.box(*mark.keep_out) for mark in plan.marks]
    for boxes in placed_boxes(plan, designs):
        for cut, reach in boxes:
            ink = shapely.box(*cut.bounds).buffer(reach, join_style="mitre")
            assert usable.covers(ink)
            assert all(ink.intersection(keep).area < 1e-6 for keep in keep_outs)
        for (one, reach_one), (two, reach_two) in itertools.combinations(boxes, 2):
            assert one.distance(two) >= max(gap_mm, reach_one + reach_two) - 1e-6


def test_turning_is_used_where_it_helps():
    plan = fit([footprint(60, 140, 0, 4)], SheetSpec())
    assert len(plan.pages) == 1
    assert {placement.quarters for placement in plan.pages[0]} == {1}


def test_a_design_too_large_says_both_sizes():
    with pytest.raises(BlockedError, match=r"“Poster” needs 300\.0 × 40\.0 mm.*191\.9 × 255\.4 mm"):
        fit([footprint(300, 40, 0, 1, "Poster")], SheetSpec())


def test_marks_stand_where_the_numbers_say():
    sheet = SheetSpec(marks=MarkSpec(length_mm=20, thickness_mm=1.5, inset_mm=10, clear_mm=2))
    top_left, top_right, bottom_left = corner_brackets(sheet)
    assert top_left.bars == (Box(10, 10, 30, 11.5), Box(10, 10, 11.5, 30))
    assert top_left.keep_out == Box(8, 8, 32, 32)
    assert top_right.keep_out.right == pytest.approx(215.9 - 8)
    assert bottom_left.keep_out.bottom == pytest.approx(279.4 - 8)


@pytest.mark.parametrize(
    ("marks", "words"),
    [
        (MarkSpec(inset_mm=3), "inside the 5 mm that the printer cannot print"),
        (MarkSpec(length_mm=60, inset_mm=60), "meet on Letter"),
    ],
)
def test_marks_that_cannot_be_printed_or_meet_are_refused(marks, words):
    with pytest.raises(BlockedError, match=words):
        corner_brackets(SheetSpec(marks=marks))


@pytest.mark.parametrize("field", ["length_mm", "thickness_mm", "inset_mm", "clear_mm"])
def test_nonsense_marks_are_refused_with_the_range(field):
    for value in (-1, 1000, float("nan")):
        with pytest.raises(UsageError, match="must be"):
            MarkSpec(**{field: value})


def test_no_box_overlaps_itself_shrunk_to_nothing():
    assert not Box(0, 0, 1, 1).overlaps(Box(1, 0, 2, 1))
    assert Box(0, 0, 1, 1).overlaps(Box(0.5, 0.5, 2, 2))
    assert np.isclose(Box(0, 0, 1, 2).grown(1).height, 4)
