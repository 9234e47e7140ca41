"""Pages photographed aslant, by a pinhole camera of our own: corners and the sides' ratio. About 1 CPU second."""

import cv2
import numpy as np
import pytest
import skimage.data

from honest_edge.core.imaging.upright import page_corners, set_upright
from honest_edge.core.values.errors import ArtError
from honest_edge.core.values.specs import ArtSource

WIDE, HIGH = 900, 680


def seen(page_mm, tilt_deg, turn_deg, roll_deg, *, focal=1.1, away=2.1):
    """Return where a page's corners are seen, (4, 2) px from the upper left clockwise: x = K (R X + t)."""
    width, height = page_mm
    flat = np.array([(-width, -height, 0), (width, -height, 0), (width, height, 0), (-width, height, 0)]) / 2
    spin = np.eye(3)
    for axis, angle in ((2, roll_deg), (0, tilt_deg), (1, turn_deg)):
        vector = np.zeros(3)
        vector[axis] = np.radians(angle)
        spin = cv2.Rodrigues(vector)[0] @ spin
    placed = flat @ spin.T + [0.03 * width, -0.02 * height, away * max(page_mm)]
    return placed[:, :2] / placed[:, 2:] * focal * WIDE + [WIDE / 2, HIGH / 2]


def photographed(page_mm, *pose, ground=70, **lens):
    """Return a page with a drawing on a darker table, and where its corners are."""
    corners = seen(page_mm, *pose, **lens)
    side = np.array([page_mm[0], page_mm[1]]) * 4
    page = np.full((int(side[1]), int(side[0]), 3), 235, np.uint8)
    cv2.circle(page, (int(side[0] // 2), int(side[1] // 2)), int(0.3 * side[0]), (60, 60, 70), 6)
    own = np.array([(0, 0), (side[0], 0), side, (0, side[1])], np.float32)
    warp = cv2.getPerspectiveTransform(own, corners.astype(np.float32))
    table = np.random.default_rng(2).normal(ground, 9, (HIGH, WIDE, 3)).clip(0, 255).astype(np.uint8)
    mask = cv2.warpPerspective(np.full(page.shape[:2], 255, np.uint8), warp, (WIDE, HIGH)) > 127
    photo = np.where(mask[..., None], cv2.warpPerspective(page, warp, (WIDE, HIGH)), table)
    light = np.linspace(1.0, 0.8, WIDE)[None, :, None]  # and it is shaded
    return (photo * light).clip(0, 255).astype(np.uint8), corners


POSES = [(25, 0, 0), (-30, 12, 8), (18, -22, -15), (0, 0, 12)]


@pytest.mark.parametrize("pose", POSES)
@pytest.mark.parametrize("page_mm", [(210, 297), (297, 210)])  # A4, ISO 216
def test_the_corners_are_found_and_the_page_gets_its_own_ratio_back(page_mm, pose):
    photo, truth = photographed(page_mm, *pose)
    found = page_corners(photo)
    assert found is not None
    assert np.abs(np.array(found) * [WIDE, HIGH] - truth).max() < 0.004 * WIDE
    upright = set_upright(np.dstack([photo, np.full((HIGH, WIDE), 255, np.uint8)]), found)
    height, width = upright.shape[:2]
    slack = 0.02 if pose[1] and pose[0] else 0.06  # seen from one side, nothing tells the lens: it is assumed
    assert width / height == pytest.approx(page_mm[0] / page_mm[1], rel=slack)
    # the circle that was drawn is round and in the middle again
    dark = (upright[..., :3].max(axis=2) < 110).astype(np.uint8)
    dark[: height // 12] = dark[-height // 12 :] = 0
    x, y, wide, high = cv2.boundingRect(dark)
    assert wide / high == pytest.approx(1.0, abs=slack + 0.02)
    assert (x + wide / 2, y + high / 2) == pytest.approx((width / 2, height / 2), abs=0.02 * width)


def test_what_is_no_page_aslant_is_left_alone():
    flat, _ = photographed((210, 297), 0, 0, 0)
    assert page_corners(flat) is None  # it lies upright
    noise = np.random.default_rng(1).integers(0, 255, (HIGH, WIDE, 3), np.uint8)
    assert page_corners(noise) is None
    white = np.full((HIGH, WIDE, 3), 250, np.uint8)
    assert page_corners(white) is None  # all of it is paper
    disc = np.full((HIGH, WIDE, 3), 60, np.uint8)
    cv2.circle(disc, (450, 340), 260, (240, 240, 240), -1)
    assert page_corners(disc) is None  # a plate is no page
    pale, _ = photographed((210, 297), 20, 10, 5, ground=215)
    assert page_corners(pale) is None  # paper on a table as light as it: four corners by hand


@pytest.mark.parametrize("name", ["coffee", "chelsea", "astronaut", "rocket", "page"])
def test_no_page_is_seen_in_photographs_and_scans_without_one(name):
    """scikit-image's open photographs: a plate and a saucer are light and lie on a darker table, too."""
    photo = getattr(skimage.data, name)()
    assert page_corners(photo if photo.ndim == 3 else np.dstack([photo] * 3)) is None


def test_corners_that_cross_are_refused_in_one_line():
    with pytest.raises(ArtError, match="do not go round it"):
        set_upright(np.zeros((100, 100, 4), np.uint8), ((0, 0), (1, 1), (1, 0), (0, 1)))
    assert ArtSource(corners=((0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9))).corners is not None
