"""What a machine is set to, in words and back; invented numbers."""

from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.recipe import CutSetting
from honest_edge.core.values.specs import LineKind
from honest_edge.core.workshop.setting_words import setting_of, setting_words, settings_of

KINDS = get_args(LineKind)
numbers = st.one_of(st.none(), st.integers(1, 400).map(lambda n: n / 4))


@given(numbers, numbers, numbers, st.one_of(st.none(), st.integers(1, 20)), st.sampled_from(("", "Vinyl 2", "Card")))
def test_what_is_said_is_read_back(force, depth, speed, passes, named):
    slow = None if speed is None else max(0.5, speed / 2)
    speed = None if speed is None else max(1.0, speed)
    setting = CutSetting(force=force, depth=depth, speed_mm_s=speed, slow_mm_s=slow, passes=passes, named=named)
    assert setting_of(setting_words(setting)) == setting


@pytest.mark.parametrize(
    ("text", "setting"),
    [
        ("", CutSetting()),
        ("Force 84", CutSetting(force=84)),
        ("force 84,5, 2 times", CutSetting(force=84.5, passes=2)),
        ("blade 3; speed 40", CutSetting(depth=3, speed_mm_s=40)),
        ("40 mm/s, narrow 20 mm/s", CutSetting(speed_mm_s=40, slow_mm_s=20)),
        ("2 in/s, narrow 0,5 in/s", CutSetting(speed_mm_s=50.8, slow_mm_s=12.7)),
        ("“Card, thick”, 2 passes", CutSetting(named="Card, thick", passes=2)),
    ],
)
def test_usual_ways_of_saying_it_are_understood(text, setting):
    assert setting_of(text) == setting


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("force 84, force 90", "says twice"),
        ("force 0", "force must be 0.001 to 10000, not 0"),
        ("30 passes", "passes must be 1 to 20, not 30"),
        ("20 mm/s, narrow 40 mm/s", "cut slower, not faster: 40 mm/s is above 20 mm/s"),
        ("x" * 500, "has 500 letters"),
    ],
)
def test_nonsense_is_refused_with_its_number(text, why):
    with pytest.raises(UsageError, match=why):
        setting_of(text)


def test_a_run_s_words_are_parted_by_kind_of_line():
    said = "kiss: force 84; through: force 140, 2 passes"
    assert settings_of(said, KINDS) == {"kiss": CutSetting(force=84), "through": CutSetting(force=140, passes=2)}
    together = "kiss and through: kiss force 84, through force 140, 2 passes"
    assert settings_of(together, KINDS) == settings_of(said, KINDS)
    assert settings_of("force 84", KINDS) == {}  # of which kind nobody said
    assert settings_of("kiss: ", KINDS) == {}
