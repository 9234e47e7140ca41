"""What is said of a sheet: limits, costs, warnings."""

from dataclasses import replace

import numpy as np
import pytest
import shapely

from honest_edge.core.proof.mark_checks import contrast_ratio
from honest_edge.core.sheet.blade import polyline
from honest_edge.core.sheet.costs import cut_seconds, stock_cost
from honest_edge.core.sheet.fit import fit
from honest_edge.core.sheet.limits import limits, mark_costs
from honest_edge.core.sheet.pinning import pin_problem
from honest_edge.core.sheet.plan import Footprint, Placement
from honest_edge.core.values.machine import LineUse, Machine
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.stock import Stock
from honest_edge.core.values.units import duration

FRAME = Machine(marks=MarkSpec(kind="frame"))  # its clear space ends 16 mm from the paper's edge


def boxes(width, height, copies, **more):
    area = shapely.MultiPolygon([shapely.box(0, 0, width, height)])
    return Footprint(key="b", name="B", area=area, reach_mm=0.0, copies=copies, **more)


def test_the_gap_that_lets_one_more_on_is_found():
    # two squares of 40 mm have 82.1 mm: 2.1 mm are left between them
    sheet = SheetSpec(paper="own", own_mm=(32 + 82.1, 32 + 41), machine=FRAME)
    design = boxes(40, 40, 1)
    found = limits(fit([design], sheet), [design], 0, sheet)
    assert (found.more, found.turned) == (0, {})
    assert found.gap_mm == pytest.approx(2.1, abs=0.1)
    assert found.gap_mm <= 2.1


def test_more_that_fit_as_things_are_and_by_turning_are_counted():
    sheet = SheetSpec(paper="own", own_mm=(32 + 100, 32 + 62), machine=FRAME, turning="none")
    design = boxes(30, 60, 1)  # three stand side by side: 30 + 2.5 + 30 + 2.5 + 30
    assert limits(fit([design], sheet), [design], 0, sheet).more == 2
    lying = boxes(60, 30, 1)  # one below the other would need 62.5 mm
    found = limits(fit([lying], sheet), [lying], 0, sheet)
    assert found.more == 0
    assert found.turned["quarter"] == 2


def test_of_designs_that_fill_a_sheet_together_no_more_of_one_are_promised_than_fit_beside_the_others():
    sheet = SheetSpec(paper="own", own_mm=(32 + 167.5, 32 + 82.5), machine=FRAME)
    designs = [boxes(40, 40, 1, fills=True), boxes(40, 40, 1, fills=True)]
    plan = fit(designs, sheet)
    assert (plan.count(0), plan.count(1)) == (4, 4)
    assert limits(plan, designs, 0, sheet).more == 0


def test_a_last_sheet_that_is_almost_empty_is_said():
    sheet = SheetSpec(paper="own", own_mm=(32 + 85, 32 + 85), machine=FRAME)
    design = boxes(40, 40, 5)
    plan = fit([design], sheet)
    share, copies = limits(plan, [design], 0, sheet).thin
    assert copies == 1
    assert share == pytest.approx(40 * 40 / 85**2)


def test_each_kind_of_mark_costs_what_a_fit_with_it_says():
    design, sheet = boxes(60, 60, 4), SheetSpec()
    costs = mark_costs(design, sheet)
    assert list(costs) == ["three brackets", "four brackets", "four discs", "four squares", "frame"]
    assert costs["three brackets"] == fit([boxes(60, 60, 0, fills=True)], sheet).copies
    assert costs["four brackets"] <= costs["three brackets"]
    tight = SheetSpec(paper="own", own_mm=(60, 60), machine=Machine(marks=MarkSpec(length_mm=10)))
    assert mark_costs(boxes(10, 10, 1), tight)["four brackets"] is None  # the usual 18 mm would meet


def test_contrast_is_that_of_the_standard():
    # WCAG 2.2, contrast ratio: black on white is 21 to 1; #767676 is the palest grey of 4.5 to 1 on white
    assert contrast_ratio((0, 0, 0), (255, 255, 255)) == pytest.approx(21)
    assert contrast_ratio((0x76, 0x76, 0x76), (255, 255, 255)) == pytest.approx(4.54, abs=0.005)


def test_the_time_of_a_sheet_is_its_way_by_its_speeds():
    """A square of 50 mm, twice at 100 mm/s: 4 s; 30 mm and 40 mm away, 50 mm lifted at 25 mm/s: 2 s."""
    lines = Machine().lines.with_use("kiss", LineUse(colour=(0, 0, 0), passes=2))
    machine = Machine(speed_mm_s=100, travel_mm_s=25, lines=lines)
    corners = np.array([(30, 40), (80, 40), (80, 90), (30, 90), (30, 40)], float)
    assert cut_seconds({"kiss": [polyline(corners)]}, machine, (0, 0)) == pytest.approx(6)


@pytest.mark.parametrize(
    ("seconds", "words"),
    [(1, "5 s"), (47, "45 s"), (119, "120 s"), (125, "2 min"), (3600, "60 min"), (7500, "2 h 5 min")],
)
def test_times_are_said_as_people_say_them(seconds, words):
    assert duration(seconds) == words


def test_stock_costs_what_its_sheets_cost():
    plan = fit([boxes(60, 60, 20)], SheetSpec())
    assert stock_cost(plan, SheetSpec(stock=Stock(price=0.6))) == pytest.approx(0.6 * len(plan.pages))
    assert stock_cost(plan, SheetSpec()) is None
    assert stock_cost(plan, SheetSpec(stock=Stock(price=0.0))) == 0


def test_a_copy_is_pinned_only_where_it_may_lie():
    design = boxes(30, 30, 3)
    here = Placement(design=0, turn_deg=0, x_mm=90, y_mm=90, is_pinned=True)

    def problem(x, y, others=(), **more):
        there = Placement(design=0, turn_deg=0, x_mm=x, y_mm=y, is_pinned=True)
        return pin_problem(there, 0, [design], SheetSpec(**more), others)

    assert problem(130, 90, [(0, here)]) is None
    assert "outside of the usable area" in problem(190, 90)
    assert "mark’s clear space" in problem(15, 15)
    assert "used area" in problem(100, 100, used=((90.0, 90.0, 110.0, 110.0),))
    assert "nearer than 2.5 mm" in problem(122, 90, [(0, here)])
    assert problem(122, 90, [(1, here)]) is None  # on another sheet


def test_designs_that_fill_a_sheet_share_it_fairly():
    pair = [replace(boxes(40, 40, 1, fills=True), key="a"), replace(boxes(38, 40, 1, fills=True), key="b")]
    plan = fit(pair, SheetSpec())
    assert len(plan.pages) == 1
    assert abs(plan.count(0) - plan.count(1)) <= 1
    assert plan.copies >= 16
