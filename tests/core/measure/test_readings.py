"""Readings by eye: numbers as they are typed, slips named, the rest as least squares has it."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.measure.combs import comb_places
from honest_edge.core.measure.readings import Reading, sheet_read, typed_number
from honest_edge.core.measure.sheet_error import displaced
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.measured import parts_of
from honest_edge.core.values.sheet import SheetSpec

POINTS = comb_places(SheetSpec(paper="a4"), 9).from_middle


def readings(moved):
    halves = np.clip(np.round(moved / 0.1 * 2) / 2, -8, 8)
    return [Reading(place=n, across=float(a), down=float(b)) for n, (a, b) in enumerate(halves, 1)]


@pytest.mark.parametrize(
    ("text", "number"),
    [
        ("3", 3.0),
        ("-2.5", -2.5),
        ("+4", 4.0),
        ("1,5", 1.5),
        ("\N{MINUS SIGN}7", -7.0),
        ("1½", 1.5),
        ("", None),
        ("?", None),
        (" - ", None),
    ],
)
def test_numbers_as_they_are_typed(text, number):
    assert typed_number(text) == number


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("abc", "no number of a comb"),
        ("3 mm", "no number"),
        ("0.1in", "no number"),
        ("9", "from -8 to 8"),
        ("2.3", "finer than can be seen"),
    ],
)
def test_what_is_no_reading_is_refused(text, words):
    with pytest.raises(UsageError, match=words):
        typed_number(text)


@given(st.tuples(*[st.floats(-0.3, 0.3)] * 2, *[st.floats(-0.05, 0.05)] * 3))
def test_readings_tell_what_was_cut(parts):
    sheet = sheet_read(readings(displaced(parts_of(parts), POINTS)), POINTS, title="sheet")
    assert np.subtract(sheet.error.values[:2], parts[:2]) == pytest.approx((0, 0), abs=0.03)
    assert sheet.error.rotation_deg == pytest.approx(parts[2], abs=0.02)


def test_a_slip_of_the_eye_is_named_and_does_not_pull():
    moved = displaced(parts_of((0.2, -0.1, 0.01, 0, 0)), POINTS)
    moved[4, 1] = 0.6
    sheet = sheet_read(readings(moved), POINTS, title="sheet")
    wrong = [place for place in sheet.places if not place.used]
    assert [(p.x_mm, p.y_mm, p.why) for p in wrong] == [(*POINTS[4], "down does not fit the rest")]
    assert sheet.error.shift_y_mm == pytest.approx(-0.1, abs=0.03)


def test_what_is_doubted_is_left_out():
    given_ = readings(displaced(parts_of((0.2, -0.1, 0, 0, 0)), POINTS))
    given_[2] = Reading(place=3, across=None, down=given_[2].down)
    sheet = sheet_read(given_, POINTS, title="sheet")
    assert [place.why for place in sheet.places if not place.used] == ["across left out"]
    assert sheet.error.shift_x_mm == pytest.approx(0.2, abs=0.03)


def test_too_few_places_are_refused():
    with pytest.raises(BlockedError, match="too few to tell shift"):
        sheet_read([Reading(place=1, across=1.0, down=1.0)], POINTS, title="sheet")


def test_a_place_that_is_not_there_and_one_read_twice_are_refused():
    with pytest.raises(UsageError, match="places 1 to 9; place 12"):
        sheet_read([Reading(place=12, across=1.0, down=1.0)], POINTS, title="sheet")
    with pytest.raises(UsageError, match="Place 2 is read twice"):
        sheet_read([Reading(place=2, across=1.0, down=1.0)] * 2, POINTS, title="sheet")
