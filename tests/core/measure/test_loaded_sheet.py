"""The sheet on its carrier, on pictures by the simulated camera, whose renderer shares nothing with the reader.

How all 200 come out is a matter of ``benchmarks/loaded.py``; here every kind of trouble is seen once. 12 CPU s.
"""

import cv2
import numpy as np
import pytest

from honest_edge.core.measure.loaded_sheet import PlannedPage, loaded_sheet, seen_flat, sign_alike
from honest_edge.core.sheet.marks import marks_of
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.simulator.camera import photograph
from honest_edge.simulator.loaded_mat import Loading, on_carrier

PX_MM = 5.0
SHEET = SheetSpec()
SIZE = SHEET.size_mm
MARKS = marks_of(SHEET)
SIGN = Box(150.0, 266.0, 156.0, 272.0)


def page(seed):
    """A print: blobs of several greys, the marks, and a sign of random modules."""
    random = np.random.default_rng(seed)
    wide, high = (round(side * PX_MM) for side in SIZE)
    grey = np.full((high, wide), 255, np.uint8)
    for x, y, radius in random.uniform((40, 45, 8), (175, 235, 22), (14, 3)):
        middle = (round(x * PX_MM), round(y * PX_MM))
        cv2.circle(grey, middle, round(radius * PX_MM), int(random.integers(40, 210)), -1)
        cv2.circle(grey, middle, round(0.5 * radius * PX_MM), int(random.integers(40, 210)), 6)
    for bar in (bar for mark in MARKS for bar in mark.bars):
        left, top, right, bottom = (round(side * PX_MM) for side in bar)
        grey[top:bottom, left:right] = 0
    left, top, right, bottom = (round(side * PX_MM) for side in SIGN)
    modules = (random.random((15, 15)) < 0.5).astype(np.uint8) * 255
    grey[top:bottom, left:right] = cv2.resize(modules, (right - left, bottom - top), interpolation=cv2.INTER_NEAREST)
    return grey


PAGE, OTHER = page(1), page(2)
PLANNED = PlannedPage(grey=PAGE, px_per_mm=PX_MM, size_mm=SIZE, marks=MARKS)


WELL = Loading()


def look(loading=WELL, grey=PAGE, seed=3, **how):
    target = on_carrier(grey, PX_MM, SIZE, loading)
    picture = photograph(target, 5, seed, **{"curl_mm": 0.5, "tilt_deg": 12.0, **how})
    return picture, loaded_sheet(picture, PLANNED)


def test_a_sheet_that_lies_well_is_known_with_all_its_marks():
    picture, seen = look(Loading(askew_deg=0.3))
    assert seen.turn == 0
    assert seen.is_surely_alike
    assert seen.marks == ("fine",) * 3
    assert seen.lifted == ()
    assert seen.askew_deg == pytest.approx(0.3, abs=0.2)
    corners = cv2.perspectiveTransform(np.array([[(0.0, 0.0), (SIZE[0], 0.0)]]), seen.to_picture)[0]
    assert (corners > 0).all()
    assert (corners < np.array(picture.shape[::-1])).all()
    own, foreign = (seen_flat(grey, np.diag([PX_MM, PX_MM, 1.0]), SIGN, 8.0) for grey in (PAGE, OTHER))
    alike = [sign_alike(picture, seen.to_picture, SIGN, sign, 8.0) for sign in (own, foreign)]
    assert alike[0] > 0.85
    assert alike[1] < 0.5


@pytest.mark.parametrize("turn_deg", [90, 180, 270])
def test_a_sheet_that_is_turned_is_seen_so(turn_deg):
    _, seen = look(Loading(turn_deg=turn_deg), seed=turn_deg)
    assert seen.turn == turn_deg
    assert seen.is_surely_alike


@pytest.mark.parametrize("askew_deg", [-3.0, 2.0])
def test_how_askew_it_lies_is_read_off_the_carrier_s_lines_with_its_sign(askew_deg):
    _, seen = look(Loading(askew_deg=askew_deg))
    assert seen.askew_deg == pytest.approx(askew_deg, abs=0.3)


def test_another_sheet_its_blank_side_and_an_empty_carrier_are_none():
    assert look(grey=OTHER)[1] is None
    assert look(Loading(is_face_down=True))[1] is None
    assert loaded_sheet(np.full((900, 700), 120, np.uint8), PLANNED) is None


def test_a_mark_that_is_covered_or_clipped_is_named_and_so_is_one_that_is_pale():
    box = MARKS[1].bars[0]
    _, covered = look(Loading(covered=((box.middle[0], box.middle[1], 5.0),)))
    assert covered.marks == ("fine", "hidden", "fine")
    _, clipped = look(Loading(clipped=((0, 0, MARKS[0].keep_outs[0].left + 5.5, SIZE[1]),)))
    assert clipped.marks == ("hidden", "fine", "hidden")
    _, pale = look(Loading(pale=0.25))
    assert pale.marks == ("pale",) * 3


@pytest.mark.parametrize("side", ["top", "left", "bottom", "right"])
def test_an_edge_that_lifts_is_told_by_its_side(side):
    assert look(Loading(curls=(side, 4.0)))[1].lifted == (side,)


def test_paper_as_light_as_its_carrier_is_found_by_its_art():
    _, seen = look(Loading(ground=228.0))
    assert seen is not None
    assert (seen.turn, seen.marks) == (0, ("fine",) * 3)
