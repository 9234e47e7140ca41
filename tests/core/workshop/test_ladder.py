"""Test cuts: the ordered probit against SciPy's normal distribution, and what is asked for next."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from honest_edge.app.book.cut_trial import new_trial, state_of, trial_of
from honest_edge.core.values.book_records import CutSubject, LadderLook
from honest_edge.core.values.errors import UsageError
from honest_edge.core.workshop.ladder import _NOISES, MOST_LOOKS, SAFE, SQUARES, Belief, Look, SettingRange, Window
from honest_edge.core.workshop.ladder_sheet import ladder_sheet

REACH = SettingRange()
TRIED = {"stock": "a", "machine": "b", "session": "c" * 32, "lowest": 1, "highest": 9, "step": 1}
FEW = SettingRange(lowest=1, highest=16, step=0.5)


def readings(count):
    return [(i, j) for i in range(count + 1) for j in range(i, count + 1)]


def log_chance(look, lower, upper, noise):
    """Square by square, each with its own noise: what was seen, and nothing beyond the first marked one."""
    total = 0.0
    for number, setting in enumerate(look.settings[: look.first_marked + 1]):
        lifts = stats.norm.cdf((math.log2(setting) - lower) / noise)
        marked = stats.norm.cdf((math.log2(setting) - upper) / noise)
        if number < look.first_clean:
            chance = 1 - lifts
        elif number == look.first_marked:
            chance = marked
        else:
            chance = lifts - marked if number == look.first_clean else 1 - marked
        total += math.log(max(chance, 1e-300))
    return total


@settings(max_examples=40, deadline=None)
@given(st.sampled_from(readings(SQUARES)), st.integers(60, 150), st.integers(0, 69), st.integers(0, 8))
def test_the_likelihood_is_that_of_an_ordered_probit(reading, edge, width, noise):
    """McCullagh (1980), equation 1.1 with the normal link, squares independent given the edges."""
    belief = Belief(REACH)
    look = Look(settings=belief.next_ladder(), first_clean=reading[0], first_marked=reading[1])
    lower, upper, spread = belief._edges[edge], belief._edges[edge + width + 1], _NOISES[noise]
    expected = log_chance(look, lower, upper, spread)
    found = belief._likelihood(look)[edge, width, noise]
    assert found == pytest.approx(expected, rel=1e-6, abs=1e-6) or max(found, expected) < -36  # rounding of 1 - cdf


def test_all_readings_of_a_ladder_together_are_certain():
    belief, settings_ = Belief(FEW), FEW.settable(np.geomspace(2, 12, 5))
    looks = [Look(settings=settings_, first_clean=i, first_marked=j) for i, j in readings(5)]
    total = sum(np.exp(belief._likelihood(look)) for look in looks)
    np.testing.assert_allclose(total, 1.0, atol=1e-9)


def test_between_edges_196_noises_off_95_of_100_squares_are_clean():
    """NIST/SEMATECH e-Handbook, 1.3.6.7.1, cumulative normal: 0.97500 at 1.96, so 0.95 lie between."""
    belief = Belief(SettingRange(lowest=16, highest=128, step=0.01))
    edge, width = 80, 58  # 59 steps of 0.02 octave: 1.18, which is 1.97 times a noise of 0.3 to either side
    middle = 2 ** (belief._edges[edge] + 0.59)
    look = Look(settings=(middle,), first_clean=0, first_marked=1)
    assert _NOISES[8] == pytest.approx(0.3)
    assert np.exp(belief._likelihood(look)[edge, width, 8]) == pytest.approx(0.95, abs=0.002)


@given(
    st.lists(st.floats(1, 300), min_size=SQUARES, max_size=SQUARES),
    st.floats(1, 50),
    st.sampled_from((0.1, 0.5, 1.0, 5.0)),
    st.integers(7, 300),
)
def test_the_squares_of_a_ladder_differ_and_can_be_set(wished, lowest, step, steps):
    reach = SettingRange(lowest=lowest, highest=lowest + steps * step, step=step)
    found = reach.settable(np.array(wished))
    assert len(found) == SQUARES
    assert all(b - a > step / 2 for a, b in itertools.pairwise(found))
    assert found[0] >= reach.lowest - 1e-6
    assert found[-1] <= reach.highest + 1e-6
    places = (np.array(found) - lowest) / step
    np.testing.assert_allclose(places, np.rint(places), atol=1e-4)


def cut(lower, upper, noise, settings_, random):
    depths = np.log2(settings_) + random.normal(0, noise, len(settings_))
    lifts, marked = np.flatnonzero(depths > lower), np.flatnonzero(depths > upper)
    first = [int(found[0]) if len(found) else len(settings_) for found in (lifts, marked)]
    return Look(settings=settings_, first_clean=first[0], first_marked=first[1])


def test_the_setting_is_clean_where_one_is_and_one_look_never_ends_it():
    """Made-up stocks; `benchmarks/ladders.py` does 250 of each kind with their bounds."""
    random = np.random.default_rng(4)
    good = 0
    for _ in range(25):
        width, noise = random.uniform(0.4, 0.9), random.uniform(0.03, 0.06)
        lower = random.uniform(np.log2(25), np.log2(90))
        looks = []
        while (belief := Belief(REACH, looks)).needs_another_look:
            looks.append(cut(lower, lower + width, noise, belief.next_ladder(), random))
        assert 2 <= len(looks) <= MOST_LOOKS
        best = math.log2(belief.window.best)
        good += stats.norm.cdf((best - lower) / noise) - stats.norm.cdf((best - lower - width) / noise) >= 0.95
    assert good >= 23


def test_the_window_is_where_a_clean_cut_is_likely():
    looks = [Look(settings=Belief(REACH).next_ladder(), first_clean=3, first_marked=6)]
    belief = Belief(REACH, looks)
    window = belief.window
    assert window.is_safe
    assert 54 - 8 < window.low < window.best < window.high < 144
    at = {
        bound: np.interp(np.log2(bound), np.log2(belief.settings), belief.chances)
        for bound in (window.low, window.high)
    }
    assert all(chance >= SAFE - 0.05 for chance in at.values())
    assert belief.chances.max() == pytest.approx(window.chance)
    assert belief.chances[0] < 0.05
    assert belief.chances[-1] < 0.05


def test_no_window_is_no_safe_setting():
    looks, belief = [], Belief(REACH)
    for _ in range(MOST_LOOKS):
        ladder = belief.next_ladder()
        looks.append(Look(settings=ladder, first_clean=4, first_marked=4))
        belief = Belief(REACH, looks)
    assert not belief.window.is_safe
    assert not belief.needs_another_look
    assert belief.window.chance < SAFE


def test_similar_stock_is_where_the_search_begins_and_can_be_wrong():
    similar = Window(low=70, high=100, best=84, chance=0.99)
    begun = Belief(REACH, (), similar)
    ladder = begun.next_ladder()
    assert sum(50 < setting < 140 for setting in ladder) >= 6
    looks = [Look(settings=ladder, first_clean=0, first_marked=0)]  # all marked: it is far softer
    belief = Belief(REACH, looks, similar)
    while belief.needs_another_look:
        looks.append(cut(math.log2(30), math.log2(42), 0.04, belief.next_ladder(), np.random.default_rng(1)))
        belief = Belief(REACH, looks, similar)
    assert 30 < belief.window.best < 42


@pytest.mark.parametrize(
    ("work", "words"),
    [
        (lambda: Look(settings=(3, 4), first_clean=1, first_marked=0), "cut through, so it lifts"),
        (lambda: Look(settings=(4, 3), first_clean=0, first_marked=1), "rise from square to square"),
        (lambda: Look(settings=(0.0, 3), first_clean=0, first_marked=1), "none is 0"),
        (lambda: Look(settings=(3, 4), first_clean=0, first_marked=3), "has 2 squares"),
        (lambda: LadderLook(**TRIED, settings="3 4", first_clean=1, first_marked=0), "contradicts itself"),
        (lambda: LadderLook(**TRIED, settings="3 four", first_clean=0, first_marked=1), "they are numbers"),
        (lambda: SettingRange(lowest=1, highest=1.5, step=1), "no 2 settings 1 apart"),
        (lambda: SettingRange(lowest=0, highest=7, step=1), "lowest setting"),
        (lambda: SettingRange(lowest=1, highest=float("nan"), step=1), "highest setting"),
    ],
)
def test_what_contradicts_itself_is_said(work, words):
    with pytest.raises(UsageError, match=words):
        work()


@pytest.mark.parametrize("count", [1, 4, 5, 8, 11])
def test_a_ladder_s_sheet_ends_as_far_below_its_last_row_as_it_begins_above_its_first(count):
    sheet = ladder_sheet([float(number) for number in range(1, count + 1)])
    places = np.concatenate([*sheet.squares, *sheet.numbers])
    left, top = places.min(axis=0)
    assert (sheet.height_mm - places[:, 1].max(), left) == pytest.approx((top, top))
    if count >= 4:
        assert sheet.width_mm - places[:, 0].max() == pytest.approx(left)
    # four in a row, none over another, each number over its own square
    assert len({tuple(square[0]) for square in sheet.squares}) == count
    assert len({square[0][1] for square in sheet.squares}) == -(-count // 4)


def test_few_settings_make_a_ladder_of_all_of_them():
    reach = SettingRange(lowest=1, highest=7, step=1)
    assert Belief(reach).next_ladder() == (1, 2, 3, 4, 5, 6, 7)
    look = Look(settings=(1, 2, 3, 4, 5, 6, 7), first_clean=2, first_marked=5)
    belief = Belief(reach, [look])
    assert belief.next_ladder() == look.settings  # there are no others to try
    assert belief.window.best == 4


def test_a_lower_speed_cuts_deeper():
    """The same squares told as speeds: what falls is what rises, turned round on its own scale."""
    rises, falls = (
        SettingRange(lowest=5, highest=80, step=0.001),
        SettingRange(lowest=5, highest=80, step=0.001, falls=True),
    )
    assert falls.deep(80) == 5
    assert falls.deep(falls.deep(17.0)) == pytest.approx(17.0)
    ladder = Belief(falls).next_ladder()
    assert ladder[0] == 80
    assert list(ladder) == sorted(ladder, reverse=True)
    depths = tuple(falls.deep(np.array(ladder)).tolist())
    look = Look(settings=depths, first_clean=3, first_marked=6)
    assert Belief(falls, [look]).window.best == pytest.approx(Belief(rises, [look]).window.best, rel=1e-3)
    trial = new_trial(CutSubject(stock="Card", machine="Cutter", name="speed"), falls)
    found = state_of(trial.read(ladder, 3, 6)).found
    assert found.best == pytest.approx(float(falls.deep(Belief(falls, [look]).window.best)), rel=1e-3)
    assert found.low < found.best < found.high
    assert state_of(trial.read(ladder, 3, 6)).settings[0] == pytest.approx(5.0)


def test_settings_that_a_machine_keeps_go_by_their_names():
    names = "Paper\nVinyl\nCard\nThick card"
    subject = CutSubject(stock="Card", machine="Cutter", name="named")
    trial = new_trial(subject, SettingRange(lowest=1, highest=4, step=1), names=names, beside="1 pass")
    state = state_of(trial)
    assert state.ladder == (1, 2, 3, 4)
    read = trial.read(state.ladder, 2, 3)
    assert (read.looks[0].names, read.looks[0].beside) == (names, "1 pass")
    found = state_of(trial_of(read.looks)).found
    assert (found.best_name, found.names, found.beside) == ("Card", names, "1 pass")
