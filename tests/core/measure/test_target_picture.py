"""Pictures of targets from the simulated scanner and phone; what is no such picture is refused in words."""

from dataclasses import replace

import cv2
import numpy as np
import pytest
from skimage import data

from honest_edge.core.geometry.paths import rings_of
from honest_edge.core.measure import target_picture
from honest_edge.core.measure.sheet_error import displaced
from honest_edge.core.measure.tags import tag_area
from honest_edge.core.measure.target import target_layout
from honest_edge.core.measure.target_drawing import dark_area, discs
from honest_edge.core.measure.target_picture import measured_target
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.measured import parts_of
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.simulator.camera import CameraNature, CutTarget, dusty, photograph, scan

LAYOUT = target_layout(SheetSpec(paper="a5"), "TESTTEST", places=12)
POINTS = LAYOUT.places_mm - LAYOUT.middle_mm
MOVED = displaced(parts_of((0.21, -0.12, 0.04, 0.02, 0.09)), POINTS) + np.random.default_rng(1).normal(
    0, 0.05, POINTS.shape
)
STILL = replace(CameraNature(), shadow=0.0, wander_mm=0.0)


def target(moved=MOVED, layout=LAYOUT, **how):
    return CutTarget(
        size_mm=(layout.width / 10, layout.height / 10),
        dark=tuple(np.asarray(ring) for ring in rings_of(dark_area(layout))),
        printed_mm=layout.places_mm,
        cut_mm=layout.places_mm + moved,
        **how,
    )


def off(picture, moved=MOVED):
    """Micrometres between what is told and what was drawn, and which places are used."""
    found = measured_target(picture, "picture").places
    used = np.array([place.used for place in found])
    return 1000 * (np.array([(p.dx_mm, p.dy_mm) for p in found]) - moved)[used], used


@pytest.fixture(scope="module")
def scanned():
    return scan(target(), 200, 1, turn_deg=2.0)


@pytest.mark.parametrize("turn", [0.0, 90.0, 181.5, 300.0])
def test_any_turn_is_measured(turn):
    apart, used = off(scan(target(), 150, 2, turn_deg=turn))
    assert used.all()
    assert np.abs(apart - apart.mean(0)).max() < 12


def test_two_scans_turned_by_half_leave_no_shadow():
    one, other = (off(scan(target(), 200, 3 + n, turn_deg=180.0 * n))[0] for n in (0, 1))
    assert np.hypot(*one.mean(0)) > 8  # what one scan adds
    assert np.hypot(*((one + other) / 2).mean(0)) < 2.5


def test_a_known_shift_of_half_a_pixel_is_found_within_3_um():
    """200 ppi: half a pixel is 0.0635 mm. A wrong convention of where a pixel's middle lies would show whole."""
    half = 25.4 / 200 / 2
    still, moved = (off(scan(target(MOVED + d), 200, 5, nature=STILL), MOVED)[0] for d in ((0.0, 0.0), (half, -half)))
    assert (moved - still).mean(0) / 1000 == pytest.approx((half, -half), abs=0.003)


def test_a_photograph_from_the_side_of_curled_paper_is_measured():
    apart, used = off(photograph(target(), 6, 4, tilt_deg=18, turn_deg=40))
    assert used.sum() >= 11
    assert np.hypot(*apart.mean(0)) < 30
    assert np.abs(apart - apart.mean(0)).max() < 20


def test_dust_costs_places_and_never_a_wrong_number():
    lost = 0
    for seed in range(6):
        apart, used = off(scan(target(), 150, 20 + seed, nature=dusty(CameraNature(), 40)))
        lost += int((~used).sum())
        assert np.abs(apart).max() < 60
    assert lost < 12


def test_a_place_whose_disc_was_not_lifted_is_left_out_and_said():
    picture = scan(target(), 200, 6)
    blind = scan(target(is_weeded=False), 200, 6)
    middle = int(picture.shape[0] * 0.5)
    mixed = np.concatenate([picture[:middle], blind[middle:]])
    found = measured_target(mixed, "picture").places
    assert {place.why for place in found if not place.used} == {"no small disc is lifted out here"}
    assert sum(place.used for place in found) == 6
    assert all(np.isnan(place.dx_mm) for place in found if not place.used)


def test_the_print_scale_of_a_scan_is_told(scanned):
    found = measured_target(scanned, "picture", ppi=200)
    assert found.print_scale == pytest.approx(1.003, abs=0.002)
    assert measured_target(scanned, "picture", ppi=200 / 0.97).print_scale == pytest.approx(0.973, abs=0.002)


def refused(picture, words):
    with pytest.raises(BlockedError, match=words):
        measured_target(np.ascontiguousarray(picture), "picture")


def test_a_photograph_of_something_else_is_refused():
    refused(cv2.cvtColor(data.astronaut(), cv2.COLOR_RGB2GRAY), "shows no target of Honest Edge")


def test_a_black_picture_is_refused():
    refused(np.full((800, 600), 12, np.uint8), "is black")


def test_half_a_sheet_is_refused(scanned):
    refused(scanned[: scanned.shape[0] // 2], "bottom right and the tag bottom left cannot be read")


def test_what_was_cut_and_not_weeded_is_refused():
    refused(scan(target(is_weeded=False), 200, 7), "no small disc is lifted out")


def test_a_blurred_picture_is_refused():
    refused(cv2.GaussianBlur(scan(target(), 200, 8), (0, 0), 3.2), "blurred|cannot be read")


def test_two_targets_in_one_picture_are_refused(scanned):
    refused(np.concatenate([scanned, scanned], 1), "two targets")


def test_a_mirrored_picture_is_refused(scanned):
    refused(scanned[:, ::-1], "shows no target|do not lie|cannot be read")


def test_a_picture_of_the_file_is_refused():
    """A screenshot: the print and the cut drawn over each other, without paper."""
    px = 10.0
    page = np.full((2100, 1480), 255, np.uint8)
    rings = [np.asarray(ring) for ring in rings_of(dark_area(LAYOUT))]
    cv2.fillPoly(page, [np.round((r * px - 0.5) * 16).astype(np.int32) for r in rings], 0, cv2.LINE_AA, shift=4)
    for ring in discs(LAYOUT):
        cv2.fillPoly(page, [np.round(ring.flattened(0.01) * px).astype(np.int32)], 0, cv2.LINE_AA)
    for x, y in (LAYOUT.places_mm * px).tolist():
        cv2.circle(page, (round(x), round(y)), 30, 255, -1, cv2.LINE_AA)
    refused(page, "of the file, not of paper")


def test_tags_without_the_code_are_another_target():
    """Somebody else's sheet with the same four tags."""
    rings = [np.asarray(r) for n, m in enumerate(LAYOUT.tags_mm) for r in rings_of(tag_area(n, m, 14.0))]
    other = replace(target(), dark=tuple(rings))
    refused(scan(other, 200, 9), "is no target’s|no target’s")


def test_too_few_pixels_are_refused():
    small = cv2.resize(scan(target(), 200, 10), None, fx=0.3, fy=0.3, interpolation=cv2.INTER_AREA)
    refused(small, "too few|cannot be read|shows no target")


@pytest.mark.parametrize("moved", [9, -9])
def test_a_code_that_tells_of_other_places_than_are_seen_is_refused(scanned, monkeypatch, moved):
    """Its numbers are ten to a millimetre: discs 0.9 mm away are found all the same, and would shift what is told."""
    forged = replace(LAYOUT, corner=LAYOUT.corner + moved)
    monkeypatch.setattr(target_picture, "_layout", lambda *_: forged)
    with pytest.raises(BlockedError, match="from where the sheet’s own code says"):
        measured_target(scanned, "picture", ppi=300.0)
