"""Square tags of the family 36h11 (E. Olson, AprilTag, ICRA 2011), drawn from OpenCV's own table and read by it."""

from __future__ import annotations

import cv2
import numpy as np
import shapely

from honest_edge.core.geometry.paths import Floats, as_multipolygon
from honest_edge.core.imaging.flood import Bytes

_BITS = 8  # six of data and a black rim


def _family() -> cv2.aruco.Dictionary:
    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_APRILTAG_36h11)


def tag_area(number: int, middle_mm: Floats, side_mm: float) -> shapely.MultiPolygon:
    """Return what is dark of a tag."""
    bits = cv2.aruco.generateImageMarker(_family(), number, _BITS, borderBits=1)
    ys, xs = np.nonzero(bits < 128)
    squares = shapely.coverage_union_all(shapely.box(xs, ys, xs + 1, ys + 1))
    module, corner = side_mm / _BITS, np.asarray(middle_mm) - side_mm / 2
    return as_multipolygon(shapely.transform(squares, lambda points: points * module + corner))


def tag_corners(middle_mm: Floats, side_mm: float) -> Floats:
    """Return (4, 2) corners of a tag in the order in which they are found: from the top left, clockwise."""
    return np.asarray(middle_mm + side_mm / 2 * np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)]))


def found_tags(grey: Bytes) -> list[tuple[int, Floats]]:
    """Return the tags in a picture: their numbers and (4, 2) corners, pixel middles at whole numbers."""
    settings = cv2.aruco.DetectorParameters()
    settings.cornerRefinementMethod = cv2.aruco.CORNER_REFINE_SUBPIX
    settings.adaptiveThreshWinSizeMin, settings.adaptiveThreshWinSizeMax = 13, 53
    settings.adaptiveThreshWinSizeStep = 20
    corners, numbers, _ = cv2.aruco.ArucoDetector(_family(), settings).detectMarkers(grey)
    known = np.empty(0, int) if numbers is None else np.asarray(numbers).ravel()  # the stubs do not know of None
    return [(int(number), np.asarray(tag[0], float)) for number, tag in zip(known, corners, strict=True)]
