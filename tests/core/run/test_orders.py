"""Orders of work: nothing is ever at two places, every sheet goes its way, and what is known by hand holds."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.run.orders import SheetWork, run_orders
from honest_edge.core.run.state import MOST_SHEETS
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.run_times import RunTimes

SECONDS = st.floats(0, 300, allow_subnormal=False)  # a library may have switched them off (FTZ)
WORKS = st.lists(st.builds(SheetWork, kiss_s=st.floats(1, 300), through_s=SECONDS), min_size=1, max_size=9)
TIMES = st.builds(
    RunTimes,
    print_s=SECONDS,
    dry_s=SECONDS,
    lay_s=SECONDS,
    put_in_s=SECONDS,
    change_s=SECONDS,
    take_out_s=SECONDS,
    peel_s=SECONDS,
)
AT_THE_CUTTER = ("read", "set", "take out", "pass")
CLOSE_S = 0.15  # the guide waits no shorter, and rounds to milliseconds


def alone(acts):
    """Whether no two of some acts overlap."""
    spans = sorted((act.start_s, act.end_s) for act in acts)
    return all(one[1] <= two[0] + CLOSE_S for one, two in itertools.pairwise(spans))


@given(WORKS, TIMES, st.integers(1, 5))
def test_person_cutter_and_carriers_do_one_thing_at_a_time(works, times, carriers):
    for order in run_orders(works, times, carriers):
        assert alone([act for act in order.acts if act.lane == "you"])
        assert alone([act for act in order.acts if act.what in AT_THE_CUTTER])
        for carrier in range(carriers):
            used = {}
            for act in order.acts:
                if act.carrier == carrier:
                    start, end = used.get(act.sheet, (act.start_s, act.end_s))
                    used[act.sheet] = min(start, act.start_s), max(end, act.end_s)
            spans = sorted(used.values())
            assert all(one[1] <= two[0] + CLOSE_S for one, two in itertools.pairwise(spans))


@given(WORKS, TIMES, st.integers(1, 5))
def test_every_sheet_goes_its_way_once(works, times, carriers):
    for order in run_orders(works, times, carriers):
        for number, work in enumerate(works, 1):
            acts = sorted((act for act in order.acts if act.sheet == number), key=lambda act: (act.start_s, act.end_s))
            whats = [act.what for act in acts if act.what not in ("set", "read", "take out")]
            passes = ["pass"] * (2 if work.through_s > 0 else 1)
            assert whats == ["print", "dry", "load", *passes, "inspect"]
            assert [act.cut_pass for act in acts if act.what == "pass"] == list(range(len(passes)))
            assert alone([act for act in acts if act.what != "set"])
            puts = [act.what for act in acts if act.what in ("read", "take out")]
            assert puts == ["read", "take out"] * (len(puts) // 2)


@given(WORKS, TIMES, st.integers(1, 4))
def test_the_quickest_comes_first_and_a_second_carrier_never_makes_it_later(works, times, carriers):
    orders = run_orders(works, times, carriers)
    ends = [round(order.end_s, 1) for order in orders]
    assert ends == sorted(ends)
    assert len({order.name for order in orders}) == len(orders)
    busy_s = sum(act.end_s - act.start_s for act in orders[0].acts if act.lane == "you" and act.what != "print")
    assert orders[0].hands_on_minutes == pytest.approx(busy_s / 60)


def test_one_sheet_takes_what_its_acts_take():
    times = RunTimes(print_s=60, dry_s=1200, lay_s=40, put_in_s=45, change_s=20, take_out_s=10, peel_s=60)
    (order,) = run_orders([SheetWork(kiss_s=90, through_s=70)], times, 1)
    assert order.end_s == 60 + 1200 + 40 + 45 + 90 + 20 + 70 + 10 + 60
    assert order.hands_on_minutes == pytest.approx((40 + 45 + 20 + 10 + 60) / 60)
    assert order.setting_changes == 1


def test_a_pass_alone_needs_no_change_and_no_block():
    (order,) = run_orders([SheetWork(kiss_s=90)] * 3, RunTimes(), 3)
    assert (order.name, order.setting_changes) == ("sheet by sheet", 0)


def test_what_is_not_printed_need_not_dry():
    (order,) = run_orders([SheetWork(kiss_s=90, is_printed=False)], RunTimes(), 1)
    assert order.acts[0].what == "load"
    assert order.acts[0].start_s == 0


def test_blocks_are_worth_it_where_changing_the_setting_takes_long():
    """Two changes a sheet against two a block: as measured for the prototype, 80 against 103 minutes for 12 sheets."""
    works = [SheetWork(kiss_s=90, through_s=60)] * 12
    quick, slow = (run_orders(works, RunTimes(change_s=seconds), 2) for seconds in (20, 120))
    assert quick[0].name == "sheet by sheet"
    assert slow[0].name == "in blocks of 2"
    assert slow[0].setting_changes == 11
    whole = run_orders(works, RunTimes(change_s=120), 12)[0]
    assert (whole.name, whole.setting_changes) == ("all kiss cuts, then all through cuts", 1)


def test_a_second_carrier_matters_and_a_third_hardly():
    works = [SheetWork(kiss_s=150)] * 12
    one, two, three = (run_orders(works, RunTimes(), carriers)[0].end_s for carriers in (1, 2, 3))
    assert two < 0.85 * one
    assert 0.97 * two <= three <= two


def test_impossible_runs_are_refused_with_the_number():
    with pytest.raises(UsageError, match=f"1 to {MOST_SHEETS} sheets, not 0"):
        run_orders([], RunTimes(), 1)
    with pytest.raises(UsageError, match="carriers, not 0"):
        run_orders([SheetWork(kiss_s=1)], RunTimes(), 0)
    with pytest.raises(UsageError, match="peel must be 0 to 86400 s"):
        RunTimes(peel_s=-1)
