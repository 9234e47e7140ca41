"""A sheet aligned by hand: against places that are known, and hands that err."""

import math

import numpy as np
import pytest

from honest_edge.core.measure.hand_alignment import MarkReading, aligned_by_hand
from honest_edge.core.values.errors import BlockedError

MARKS = {
    "top left": (12.0, 267.0),
    "top right": (204.0, 267.0),
    "bottom left": (12.0, 12.0),
    "bottom right": (204.0, 12.0),
}


def placed(point, turn, scale, shift):
    x, y = point
    cos, sin = scale * math.cos(turn), scale * math.sin(turn)
    return cos * x - sin * y + shift[0], sin * x + cos * y + shift[1]


def read(turn=0.01, scale=1.001, shift=(31.0, 18.0), error=None, names=tuple(MARKS)):
    error = error or {}
    return [
        MarkReading(
            mark=name,
            planned_mm=MARKS[name],
            found_mm=tuple(np.add(placed(MARKS[name], turn, scale, shift), error.get(name, (0.0, 0.0)))),
        )
        for name in names
    ]


@pytest.mark.parametrize("names", [tuple(MARKS), tuple(MARKS)[:3]])
def test_position_turn_and_scale_come_out_as_they_were_put_in(names):
    seat = aligned_by_hand(read(names=names)).seat
    assert (seat.turn_rad, seat.scale) == pytest.approx((0.01, 1.001), abs=1e-9)
    assert seat.shift_mm == pytest.approx((31.0, 18.0), abs=1e-6)
    # the sheet's own place, y down from its top left, comes to lie where the hand would find it
    x, y = seat.placed(np.array([[12.0, 279.4 - 267.0]]), 279.4)[0]
    assert (x, y) == pytest.approx(placed(MARKS["top left"], 0.01, 1.001, (31.0, 18.0)), abs=1e-6)


def test_hands_that_err_by_a_tenth_leave_less_than_that_and_what_is_said_of_it_holds():
    random = np.random.default_rng(11)
    points = np.stack(np.meshgrid(np.linspace(12, 204, 7), np.linspace(12, 267, 7)), -1).reshape(-1, 2)
    square, held = [], []
    for _ in range(400):
        turn, shift = random.normal(0, 0.02), random.uniform(0, 60, 2)
        error = {name: random.normal(0, 0.1, 2) for name in MARKS}
        found = aligned_by_hand(read(turn, 1.0, shift, error))
        truth = np.array([placed(point, turn, 1.0, shift) for point in points])
        there = found.seat.placed(points * (1, -1) + (0, 279.4), 279.4)
        away = np.hypot(*(there - truth).T)
        square.append(float(np.square(away).mean()))
        held.append(float((away <= found.within_mm).mean()))
    assert math.sqrt(np.mean(square)) < 0.11
    assert 0.92 <= np.mean(held) <= 0.98


def test_a_mark_that_is_half_a_millimetre_off_is_named():
    random = np.random.default_rng(5)
    named = []
    for _ in range(300):
        wrong = random.choice(list(MARKS))
        angle = random.uniform(0, 2 * math.pi)
        error = {name: random.normal(0, 0.05, 2) for name in MARKS}
        error[wrong] = error[wrong] + 0.8 * np.array([math.cos(angle), math.sin(angle)])
        named.append(aligned_by_hand(read(error=error), hand_mm=0.05).doubtful != "")
    assert np.mean(named) >= 0.95
    quiet = [
        aligned_by_hand(read(error={name: random.normal(0, 0.1, 2) for name in MARKS})).doubtful for _ in range(300)
    ]
    assert np.mean([bool(name) for name in quiet]) <= 0.03


def test_marks_in_another_order_mirrored_or_of_another_sheet_are_refused():
    with pytest.raises(BlockedError, match="read three at least"):
        aligned_by_hand(read(names=tuple(MARKS)[:2]))
    swapped = read()
    swapped[0], swapped[1] = (
        MarkReading(mark=one.mark, planned_mm=one.planned_mm, found_mm=other.found_mm)
        for one, other in ((swapped[0], swapped[1]), (swapped[1], swapped[0]))
    )
    with pytest.raises(BlockedError, match="mirrored, or in another order"):
        aligned_by_hand(swapped)
    with pytest.raises(BlockedError, match="another sheet"):
        aligned_by_hand(read(scale=1.2))
    with pytest.raises(BlockedError, match="turned by 29"):
        aligned_by_hand(read(turn=0.5))
    with pytest.raises(BlockedError, match="read twice"):
        aligned_by_hand([*read(), read()[0]])
