"""A run is what its events say: what cannot have happened is refused, whatever the order."""

from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from honest_edge.core.run.foreseen import foreseen
from honest_edge.core.run.guide import next_proof, next_step, pending
from honest_edge.core.run.state import after, begun, state_of
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.run_events import BadSticker, Moment
from honest_edge.core.values.run_times import RunTimes
from sealed import BOTH, KISS, NOW, THROUGH, event, page, seal

READY = [
    event("printed", 1),
    event("measured", 1, verdict="true"),
    event("dry", 1),
    event("laid", 1, carrier=0),
    event("set", kinds="kiss and through", setting="force 84"),
    event("read", 1),
]


def test_nothing_is_cut_whose_marks_were_not_read():
    with pytest.raises(UsageError, match="marks of sheet 1 were not read"):
        state_of(seal(), [*READY[:-1], event("cut begun", 1)])


def test_a_carrier_holds_one_sheet():
    with pytest.raises(UsageError, match="carrier 1 already"):
        state_of(seal(), [event("laid", 1, carrier=0), event("laid", 2, carrier=0)])


def test_a_sheet_that_was_moved_is_read_again():
    state = state_of(seal(1), [*READY, event("moved", 1)])
    assert next_step(seal(1), state, NOW).key == "read"


def test_more_stickers_than_there_are_cannot_be_bad():
    cut = [*READY, event("cut begun", 1), event("cut done", 1), event("out", 1)]
    with pytest.raises(UsageError, match="Sheet 1 has 12 stickers"):
        state_of(seal(), [*cut, event("inspected", 1, bad=(BadSticker(copy=12, reason="torn"),))])
    twice = BadSticker(copy=3, reason="torn")
    with pytest.raises(UsageError, match="twice"):
        state_of(seal(), [*cut, event("inspected", 1, bad=(twice, twice))])


def test_a_run_that_is_over_stays_over():
    with pytest.raises(UsageError, match="is over"):
        state_of(seal(), [event("ended", reason="given up"), event("printed", 1)])


def test_a_sheet_that_is_not_there_is_named():
    with pytest.raises(UsageError, match="sheets 1 to 2, not 3"):
        state_of(seal(), [event("printed", 3)])


def test_a_pass_that_stopped_is_not_done_and_its_marks_are_read_anew():
    state = state_of(seal(1), [*READY, event("cut begun", 1), event("cut stopped", 1, came="part")])
    assert state.sheet(1).passes == 0
    assert next_step(seal(1), state, NOW).key == "read"


def test_a_lost_sheet_frees_its_carrier_and_another_is_printed_under_a_new_number():
    state = state_of(seal(), [*READY, event("spoiled", 1, why="torn"), event("added", pages=(0,))])
    assert state.used_carriers == set()
    assert [sheet.number for sheet in state.live] == [2, 3]


def test_a_new_blade_asks_for_its_setting_and_a_proof():
    events = [*READY, event("proof begun", 1, copy=11), event("proof cut", 1)]
    state = state_of(seal(1), [*events, event("proof judged", 1, verdict="good")])
    assert next_step(seal(1), state, NOW).key == "pass"
    state = after(seal(1), state, event("blade", blade="Blade no. 3"))
    assert next_step(seal(1), state, NOW).key == "set"


KINDS_OF_SHEET = st.sampled_from([(BOTH,), (KISS, THROUGH)])


@settings(max_examples=60, deadline=None)
@given(
    sheets=st.integers(1, 7),
    passes=KINDS_OF_SHEET,
    carriers=st.integers(1, 3),
    block=st.integers(1, 3),
    is_laminated=st.booleans(),
    drying_s=st.sampled_from([0.0, 60.0, 1200.0]),
    hands=st.sampled_from([5.0, 40.0, 200.0]),
)
def test_never_two_things_at_once_for_the_person_the_cutter_or_a_carrier(
    sheets, passes, carriers, block, is_laminated, drying_s, hands
):
    sealed = seal(sheets, (page(6, passes),), is_laminated=is_laminated, drying_s=drying_s)
    state = after(sealed, begun(sealed), event("ordered", block=min(block, carriers), carriers=carriers))
    times = RunTimes(lay_s=hands, peel_s=hands)
    outlook = foreseen(sealed, state, NOW, times)
    lanes = {
        "you": [act for act in outlook.acts if act.lane == "you"],
        "cutter": [act for act in outlook.acts if act.lane == "cutter"],
    }
    for acts in lanes.values():
        assert all(one.end_s <= two.start_s + 1e-6 for one, two in pairwise(acts))
    reads = [a for a in lanes["you"] if a.what in ("read", "take out", "proof", "look", "set")]
    for cut in lanes["cutter"]:  # while the blade is down nobody reads, takes out or sets
        assert not any(a.start_s < cut.end_s - 1e-6 and cut.start_s < a.end_s - 1e-6 for a in reads)
    for carrier in range(carriers):
        spans = {}
        for act in outlook.acts:
            if act.carrier == carrier:
                start, end = spans.get(act.sheet, (act.start_s, act.end_s))
                spans[act.sheet] = (min(start, act.start_s), max(end, act.end_s))
        ordered = sorted(spans.values())
        assert all(one[1] <= two[0] + 1e-6 for one, two in pairwise(ordered))
    assert {act.sheet for act in outlook.acts if act.what == "inspect"} == set(range(1, sheets + 1))
    assert len(lanes["cutter"]) == sheets * len(passes)


@settings(max_examples=60, deadline=None)
@given(data=st.data())
def test_the_guide_always_leads_to_the_end_whatever_goes_wrong(data):
    """At every step something may go wrong instead; the run still comes to its tally, and no sheet is forgotten."""
    sealed = seal(data.draw(st.integers(1, 4)), (page(4, data.draw(KINDS_OF_SHEET)),))
    carriers = data.draw(st.integers(1, 3))
    state = after(sealed, begun(sealed), event("ordered", block=data.draw(st.integers(1, carriers)), carriers=carriers))
    now, mishaps = NOW, data.draw(st.integers(0, 6))
    for _ in range(400):
        step = next_step(sealed, state, now)
        if step.key == "tally":
            break
        goes_wrong = mishaps > 0 and data.draw(st.booleans())
        mishaps -= goes_wrong
        for happened in _done(sealed, state, step, now, goes_wrong):
            state = after(sealed, state, happened)
        now = now.after(30 + step.wait_s)
    assert next_step(sealed, state, now).key == "tally"
    assert not list(pending(sealed, state))
    assert all(sheet.bad is not None or sheet.spoiled for sheet in state.sheets)


def _done(sealed, state, step, now, goes_wrong):
    n = step.sheet
    match step.key:
        case "print first" | "print rest":
            return [event("printed", number, now) for number in step.sheets]
        case "measure":
            if goes_wrong:
                return [
                    event("measured", n, now, verdict="fitted"),
                    event("spoiled", n, now, why="fitted"),
                    event("added", 0, now, pages=(0,)),
                ]
            return [event("measured", n, now, verdict="true")]
        case "dry":
            return [event("dry", n, now)] if goes_wrong else []
        case "set":
            kinds = sealed.pages[0].passes[step.cut_pass].kinds
            return [event("set", 0, now, kinds=" and ".join(kinds), setting="84")]
        case "load":
            return [event("laid", n, now, carrier=step.carrier)]
        case "read":
            return [event("missed", n, now, marks=(1,)) if goes_wrong else event("read", n, now)]
        case "proof":
            begin = [] if state.sheet(n).proof == "under way" else [event("proof begun", n, now, copy=step.copy)]
            return [*begin, event("proof cut", n, now)]
        case "look":
            return [event("proof judged", n, now, verdict="white rim" if goes_wrong else "good")]
        case "pass":
            return [event("spoiled", n, now, why="torn")] if goes_wrong else [event("cut begun", n, now)]
        case "cutting":
            return [event("cut stopped", n, now, came="part") if goes_wrong else event("cut done", n, now.after(99))]
        case "take out":
            return [event("out", n, now)]
        case _:
            return [event("inspected", n, now, bad=(BadSticker(copy=0, reason="torn"),) if goes_wrong else ())]


def test_what_should_be_cut_by_now_comes_before_what_hands_could_do_meanwhile():
    run = seal(2)
    events = [event("ordered", block=1, carriers=2), *READY, event("printed", 2), event("dry", 2)]
    state = state_of(run, [*events, event("cut begun", 1)])
    meanwhile = next_step(run, state, NOW.after(30))
    assert (meanwhile.key, meanwhile.sheet, meanwhile.is_meanwhile) == ("load", 2, True)
    due = next_step(run, state, NOW.after(101))
    assert (due.key, due.sheet) == ("cutting", 1)


def test_a_clock_that_is_set_back_or_changed_for_summer_changes_no_drying():
    """Of one start of the machine the time since is counted by what no hand sets back."""
    printed = Moment(wall_ms=10_000_000, up_ms=1_000_000, boot="one")
    hour_ms = 3_600_000
    for shift_ms in (-hour_ms, hour_ms, 0):
        later = Moment(wall_ms=10_000_000 + 600_000 + shift_ms, up_ms=1_600_000, boot="one")
        assert later.seconds_since(printed) == 600
    assert Moment(wall_ms=9_000_000, up_ms=50, boot="two").seconds_since(printed) == 0
    assert Moment(wall_ms=9_000_000, up_ms=50, boot="two").is_set_back(printed)
    assert Moment(wall_ms=10_600_000, up_ms=50, boot="two").seconds_since(printed) == 600


def test_each_sheet_has_its_own_clock_from_its_print():
    sealed = seal(2)
    events = [
        event("printed", 1),
        event("measured", 1, verdict="true"),
        event("printed", 2, NOW.after(600)),
    ]
    state = state_of(sealed, events)
    step = next_step(sealed, state, NOW.after(700))
    assert (step.key, step.sheet, step.wait_s) == ("dry", 1, 500)
    assert next_step(sealed, state, NOW.after(1200)).key == "load"


def test_the_last_sticker_that_is_left_is_no_proof_since_nothing_would_be_left_to_cut_after_it():
    run = seal(1, (page(3),))
    events = [*READY, event("skipped", 1, copies=(0,))]
    assert next_step(run, state_of(run, events), NOW).key == "proof"
    spent = [*events, event("proof begun", 1, copy=2), event("proof cut", 1)]
    spent += [event("proof judged", 1, verdict="white rim", side="left"), event("moved", 1), event("read", 1)]
    assert next_proof(run, state_of(run, spent).sheet(1)) is None
    assert next_step(run, state_of(run, spent), NOW).key == "pass"
