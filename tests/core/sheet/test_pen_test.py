"""How a machine that was never tried is learnt from a pen's drawing, against machines whose axes are made up here."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.sheet.pen_test import ARM_MM, bare, learnt, pen_drawing
from honest_edge.core.sheet.strokes import commanded, home_mm
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.machine import CORNERS, DirectUse, Machine

WIDE, LONG = 300.0, 500.0
MACHINE = Machine(width_mm=WIDE, length_mm=LONG)
WAYS = {"right": (1, 0), "left": (-1, 0), "up": (0, 1), "down": (0, -1)}
ORIGINS = {"bottom left": (0, 0), "bottom right": (WIDE, 0), "top left": (0, LONG), "top right": (WIDE, LONG)}
SECOND = {
    ("bottom left", "right"): "up", ("bottom left", "up"): "right", ("bottom right", "left"): "up",
    ("bottom right", "up"): "left", ("top left", "right"): "down", ("top left", "down"): "right",
    ("top right", "left"): "down", ("top right", "down"): "left",
}  # fmt: skip
"""Where the second axis goes: into the area, worked out by hand for each."""


def moved(corner, points, scales, numbers):
    """Where a machine goes that is told numbers."""
    first, second = np.array(WAYS[points]), np.array(WAYS[SECOND[corner, points]])
    return np.array(ORIGINS[corner]) + numbers[0] * scales[0] * first + numbers[1] * scales[1] * second


@given(
    axes=st.sampled_from(sorted(SECOND)),
    scales=st.tuples(st.floats(0.7, 1.5), st.floats(0.7, 1.5)),
    place=st.tuples(st.floats(0, WIDE), st.floats(0, LONG)),
)
def test_a_machine_of_any_axes_goes_where_it_is_meant_to_once_it_was_tried(axes, scales, place):
    corner, points = axes
    drawn = [[moved(corner, points, scales, number) for number in one.points] for one in pen_drawing(bare(MACHINE))]
    along, across = (float(np.hypot(*(line[1] - line[0]))) for line in drawn[3:5])
    direct = learnt(DirectUse(language="gcode"), corner, points, along, across)
    assert direct.is_tried
    numbers = commanded(np.array([place]), replace(MACHINE, direct=direct))[0]
    assert moved(corner, points, scales, numbers) == pytest.approx(place, abs=1e-6)


@pytest.mark.parametrize("corner", CORNERS)
def test_a_pointer_begins_where_the_numbers_do(corner):
    direct = DirectUse(corner=corner, x_points="left" if "right" in corner else "right")
    machine = replace(MACHINE, direct=direct)
    assert home_mm(machine) == ORIGINS[corner]
    assert commanded(np.array([home_mm(machine)]), machine)[0] == pytest.approx((0, 0))


def test_the_angle_lies_in_the_corner_where_numbers_begin_and_the_arrow_points_along_the_first_axis():
    angle, shaft, head, arm, other = (one.points for one in pen_drawing(MACHINE))
    assert angle[1] == pytest.approx(angle.min(axis=0))
    assert (shaft[1] - shaft[0])[1] == 0 < (shaft[1] - shaft[0])[0]
    assert head[1] == pytest.approx(shaft[1])
    assert head[:, 0].max() == head[1][0]
    assert np.hypot(*(arm[1] - arm[0])) == np.hypot(*(other[1] - other[0])) == ARM_MM


@pytest.mark.parametrize("corner", CORNERS)
@pytest.mark.parametrize("points", WAYS)
def test_an_arrow_that_leaves_the_area_contradicts_its_corner(corner, points):
    if (corner, points) in SECOND:
        assert learnt(DirectUse(), corner, points, 100, 100).corner == corner
        return
    with pytest.raises(UsageError, match="leaves the area at once"):
        learnt(DirectUse(), corner, points, 100, 100)


@pytest.mark.parametrize(("along", "across"), [(0, 100), (100, 254), (30, 100)])
def test_a_length_that_is_no_arms_is_refused(along, across):
    with pytest.raises(UsageError, match="was told to be 100 mm"):
        learnt(DirectUse(), "bottom left", "right", along, across)


def test_what_was_not_said_and_a_small_machine_are_refused():
    with pytest.raises(UsageError, match="Say in which corner"):
        learnt(DirectUse(), "", "right", 100, 100)
    with pytest.raises(BlockedError, match="The drawing needs 130 mm"):
        pen_drawing(replace(MACHINE, length_mm=120.0))


def test_numbers_of_a_machine_that_was_not_tried_go_as_they_are():
    assert commanded(np.array([[12.5, 7.0]]), MACHINE)[0] == pytest.approx((12.5, 7.0))
