"""A picture of a sheet on its carrier, held against what was sealed: how it lies, and whether its marks can be read.

The sheet's paper is found as the light four-cornered thing in the picture, or by its art's features where paper and
carrier are alike; seen from straight above, the print tells which way it lies (normalised cross-correlation, Gonzalez
and Woods, "Digital Image Processing"), each mark is looked at for its ink, and the lines of the carrier round the
sheet tell how askew it lies (the doubled-angle mean of gradients, K. Mardia, "Statistics of Directional Data", 1972).
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.imaging.upright import four_corners
from honest_edge.core.measure.sticker_picture import features
from honest_edge.core.sheet.marks import Mark
from honest_edge.core.sheet.media import Box

Turn = Literal[0, 90, 180, 270]
InkState = Literal["fine", "pale", "hidden"]

MOST_ASKEW_DEG = 1.2
"""More than that and readers look for a mark where it is not: common practice, no published source."""

_LOOKED_AT_PX, _PLAN_PX_MM, _MARK_PX_MM = 1400, 2.5, 8.0
_LEAST_SHARE, _MOST_PAPERS = 0.1, 3  # of the picture, for a sheet; how many such are looked at
_LEAST_ALIKE, _SURELY_ALIKE = 0.35, 0.6
_REACH_MM = 2.5  # by which paper that does not lie flat moves a mark
_SIGN_REACH_MM = 1.5
_PALE, _HIDDEN, _STRAY = 0.3, 0.86, 0.2
_ROUND_MM, _RIM_MM = 32.0, 4.0
_LEAST_AGREED = 0.25
_STEPS, _EDGE_MM, _LIFTS_MM, _LIFTS_SHARE = 48, 5.0, 1.3, 0.1
_MIN_MATCHES, _FEATURES, _FEATURES_PX = 14, 2000, 900


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PlannedPage:
    """A sheet as it was sealed.

    Attributes:
        grey: the print, grey levels.
        px_per_mm: how fine that is.
        size_mm: of the paper.
        marks: that are printed on it.
    """

    grey: Bytes
    px_per_mm: float
    size_mm: tuple[float, float]
    marks: tuple[Mark, ...]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class LoadedSheet:
    """What a picture shows of a sheet.

    Attributes:
        to_picture: (3, 3) from millimetres on the sheet to pixels, whose middles lie at halves.
        turn: by how many degrees the sheet's top is turned clockwise in the picture.
        alike: correlation of the print with what was sealed, -1 to 1.
        marks: how each looks.
        askew_deg: against the carrier's lines, clockwise; None where those do not tell.
        lifted: sides of the paper that do not run straight: they curl, or something lies over them.
    """

    to_picture: Floats
    turn: Turn
    alike: float
    marks: tuple[InkState, ...]
    askew_deg: float | None
    lifted: tuple[str, ...]

    @property
    def is_surely_alike(self) -> bool:
        """Whether the print looks as it was sealed."""
        return self.alike >= _SURELY_ALIKE


def paper_map(picture: Bytes, planned: PlannedPage) -> Floats | None:
    """Return the map from a sheet into a picture by its paper's edges alone; None where no paper is seen.

    Wherever on the paper the print lies; arguments as for ``loaded_sheet``.
    """
    plan = _reduced(planned)
    ways = _ways_round(picture, planned, plan, by_art=False)
    return max(ways, key=lambda way: way[0], default=(0.0, None))[1]


def loaded_sheet(picture: Bytes, planned: PlannedPage) -> LoadedSheet | None:
    """Return what a picture shows of a sheet; None where no sheet like it is seen.

    Args:
        picture: (h, w) grey levels.
        planned: the sheet as it was sealed.
    """
    plan = _reduced(planned)
    best = max(_ways_round(picture, planned, plan), key=lambda way: way[0], default=None)
    if best is None or best[0] < _LEAST_ALIKE:
        return None
    alike, to_picture = best
    return LoadedSheet(
        to_picture=to_picture,
        turn=_turn_of(to_picture, planned.size_mm),
        alike=alike,
        marks=tuple(_ink(picture, to_picture, mark) for mark in planned.marks),
        askew_deg=_askew(picture, to_picture, planned.size_mm),
        lifted=tuple(_lifted(picture, to_picture, planned.size_mm)),
    )


def seen_flat(picture: Bytes, to_picture: Floats, box: Box, px_per_mm: float) -> Bytes:
    """Return a part of a sheet as if seen from straight above, so fine."""
    scale = np.array([[1 / px_per_mm, 0, box.left], [0, 1 / px_per_mm, box.top], [0, 0, 1.0]])
    half = np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1.0]])  # pixels' middles at whole numbers for OpenCV
    there = np.linalg.inv(half) @ to_picture @ scale @ half
    size = max(1, round(box.width * px_per_mm)), max(1, round(box.height * px_per_mm))
    coarse = _pixels_a_mm(to_picture, box)
    if coarse > 2 * px_per_mm:
        picture = cv2.blur(picture, (round(coarse / px_per_mm),) * 2)  # type: ignore[assignment]
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return np.asarray(cv2.warpPerspective(picture, there, size, flags=flags, borderMode=cv2.BORDER_REPLICATE), np.uint8)


def sign_alike(picture: Bytes, to_picture: Floats, box: Box, sign: Bytes, px_per_mm: float) -> float:
    """Return the correlation of what is printed in a box with a sign, wherever near it lies.

    Args:
        picture: (h, w) grey levels.
        to_picture: as of ``LoadedSheet``.
        box: of the sign, in millimetres on the sheet.
        sign: as it is printed there, grey levels.
        px_per_mm: how fine that is.
    """
    seen = seen_flat(picture, to_picture, box.grown(_SIGN_REACH_MM), px_per_mm).astype(np.float32)
    soft = np.asarray(cv2.GaussianBlur(sign.astype(np.float32), (0, 0), 0.8), np.float32)
    return float(np.nan_to_num(cv2.matchTemplate(seen, soft, cv2.TM_CCOEFF_NORMED)).max())


def _pixels_a_mm(to_picture: Floats, box: Box) -> float:
    x, y = box.middle
    here = cv2.perspectiveTransform(np.array([[(x, y), (x + 1, y)]]), to_picture)[0]
    return float(np.hypot(*(here[1] - here[0])))


def _reduced(planned: PlannedPage) -> NDArray[np.float32]:
    size = tuple(max(8, round(side * _PLAN_PX_MM)) for side in planned.size_mm)
    small = cv2.resize(planned.grey, size, interpolation=cv2.INTER_AREA)
    return np.asarray(cv2.GaussianBlur(small.astype(np.float32), (0, 0), 1.5), np.float32)


def _ways_round(
    picture: Bytes, planned: PlannedPage, plan: NDArray[np.float32], *, by_art: bool = True
) -> Iterator[tuple[float, Floats]]:
    """Yield how alike the print is to the plan for each way in which it may lie, with the map into the picture."""
    share = min(1.0, _LOOKED_AT_PX / max(picture.shape))
    small = cv2.resize(picture, None, fx=share, fy=share, interpolation=cv2.INTER_AREA) if share < 1 else picture
    small = np.asarray(small, np.uint8)
    back = np.diag([1 / share, 1 / share, 1.0])
    is_paper_seen = False
    for corners in _papers(small, planned.size_mm):
        for first in range(4):
            there = _corner_map(np.roll(corners, -first, axis=0), planned.size_mm)
            alike = _alike(small, there, planned.size_mm, plan)
            is_paper_seen |= alike >= _SURELY_ALIKE
            yield alike, back @ there
    if by_art and not is_paper_seen:
        by_print = _by_features(small, planned)
        if by_print is not None:
            yield _alike(small, by_print, planned.size_mm, plan), back @ by_print


def _papers(small: Bytes, size_mm: tuple[float, float]) -> Iterator[Floats]:
    """Yield the four corners, clockwise, of each light thing that has the paper's shape."""
    smooth = cv2.medianBlur(small, 7)
    level, _ = cv2.threshold(smooth, 0, 255, cv2.THRESH_BINARY | cv2.THRESH_OTSU)
    light = np.percentile(smooth, 90)
    for threshold in (level, (level + light) / 2, 0.8 * light):
        _, inked = cv2.threshold(smooth, float(threshold), 255, cv2.THRESH_BINARY)
        # closed over the print's own ink; opened to be free of what is light beside it
        whole = cv2.morphologyEx(inked, cv2.MORPH_CLOSE, np.ones((25, 25), np.uint8), borderValue=0)
        whole = cv2.morphologyEx(whole, cv2.MORPH_OPEN, np.ones((15, 15), np.uint8))
        shapes, _ = cv2.findContours(whole, cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
        shapes = [one for one in shapes if cv2.contourArea(one) > _LEAST_SHARE * small.size]
        for shape in sorted(shapes, key=cv2.contourArea, reverse=True)[:_MOST_PAPERS]:
            corners = four_corners(np.asarray(shape, np.int32))
            if corners is not None and _is_full(shape, corners):
                around = np.argsort(np.arctan2(*(corners - corners.mean(0)).T[::-1]))
                yield corners[around] + 0.5


def _is_full(shape: NDArray[np.generic], corners: Floats) -> bool:
    area = abs(cv2.contourArea(corners.astype(np.float32)))
    return area > 0 and 0.85 <= cv2.contourArea(np.asarray(shape, np.int32)) / area <= 1.15


def _corner_map(corners: Floats, size_mm: tuple[float, float]) -> Floats:
    width, height = size_mm
    sheet = np.array([(0, 0), (width, 0), (width, height), (0, height)], np.float32)
    return np.asarray(cv2.getPerspectiveTransform(sheet, corners.astype(np.float32)), float)


def _alike(small: Bytes, there: Floats, size_mm: tuple[float, float], plan: NDArray[np.float32]) -> float:
    """Return the correlation of the print with the plan, unevenness of light taken out of both."""
    box = Box(0.0, 0.0, *size_mm)
    seen = seen_flat(small, there, box, _PLAN_PX_MM).astype(np.float32)
    seen = np.asarray(cv2.resize(seen, plan.shape[::-1]), np.float32)
    seen = np.asarray(cv2.GaussianBlur(seen, (0, 0), 1.5), np.float32)
    rim = round(_RIM_MM * _PLAN_PX_MM)
    one, two = (_without_light(picture)[rim:-rim, rim:-rim] for picture in (seen, plan))
    return float((one * two).mean() / math.sqrt(float((one**2).mean() * (two**2).mean()) + 1e-9))


def _without_light(picture: NDArray[np.float32]) -> NDArray[np.float32]:
    return np.asarray(picture - cv2.blur(picture, (81, 81)), np.float32)


def _by_features(small: Bytes, planned: PlannedPage) -> Floats | None:
    """Return the map from the sheet into the picture by what is printed (D. Lowe, SIFT, 2004); None where it fails."""
    seen, seen_at, seen_share = features(small, _FEATURES, _FEATURES_PX)
    known, known_at, known_share = features(planned.grey, _FEATURES, _FEATURES_PX)
    if min(len(seen_at), len(known_at)) < _MIN_MATCHES:
        return None
    pairs = cv2.BFMatcher(cv2.NORM_L2, crossCheck=True).match(known.astype(np.float32), seen.astype(np.float32))
    there = (known_at[[pair.queryIdx for pair in pairs]] + 0.5) / (planned.px_per_mm * known_share)
    here = (seen_at[[pair.trainIdx for pair in pairs]] + 0.5) / seen_share
    if len(pairs) < _MIN_MATCHES:
        return None
    matrix, good = cv2.findHomography(there, here, cv2.RANSAC, 4.0)
    return None if matrix is None or int(good.sum()) < _MIN_MATCHES else np.asarray(matrix, float)


def _turn_of(to_picture: Floats, size_mm: tuple[float, float]) -> Turn:
    """Return to which side of the picture the sheet's top points."""
    width, height = size_mm
    ends = cv2.perspectiveTransform(np.array([[(width / 2, 0.75 * height), (width / 2, 0.25 * height)]]), to_picture)[0]
    x, y = ends[1] - ends[0]
    if abs(y) >= abs(x):
        return 0 if y < 0 else 180
    return 90 if x > 0 else 270


# -- marks -----------------------------------------------------------------------------------------------


def _ink(picture: Bytes, to_picture: Floats, mark: Mark) -> InkState:
    """Return how a mark looks: all of its ink there, too light, or in part not there."""
    states = [_ink_in(picture, to_picture, mark, room) for room in mark.keep_outs]
    return next((state for state in ("hidden", "pale") if state in states), "fine")


def _ink_in(picture: Bytes, to_picture: Floats, mark: Mark, room: Box) -> InkState:
    inked = drawn_mark(mark, room, _MARK_PX_MM)
    seen = seen_flat(picture, to_picture, room.grown(_REACH_MM), _MARK_PX_MM).astype(np.float32)
    mark_seen = _best_place(seen, inked)
    paper = float(np.percentile(mark_seen[inked == 0], 75)) if (inked == 0).any() else 255.0
    core = cv2.erode(inked, np.ones((3, 3), np.uint8)) > 0
    core = core if core.any() else inked > 0
    contrast = (paper - float(np.median(mark_seen[core]))) / max(paper, 1.0)
    if contrast < _PALE / 3:
        return "hidden"
    dark = mark_seen < paper * (1 - contrast / 2)
    is_whole = float(dark[core].mean()) >= _HIDDEN
    around = cv2.dilate(inked, np.ones((9, 9), np.uint8)) == 0
    is_clear = float(dark[around].mean()) <= _STRAY if around.any() else True
    if not (is_whole and is_clear):
        return "hidden"
    return "pale" if contrast < _PALE else "fine"


def _best_place(seen: NDArray[np.float32], inked: Bytes) -> NDArray[np.float32]:
    """Return the part of the picture in which a mark's ink lies, paper that does not lie flat allowed for."""
    score = cv2.matchTemplate(seen, 255.0 - inked.astype(np.float32), cv2.TM_CCOEFF_NORMED)
    _, _, _, (x, y) = cv2.minMaxLoc(np.nan_to_num(score, nan=-1.0))
    height, width = inked.shape
    return seen[y : y + height, x : x + width]


def drawn_mark(mark: Mark, room: Box, px_per_mm: float) -> Bytes:
    """Return a mark as it is printed in its room: 255 where there is ink, so fine."""
    inked = np.zeros((max(1, round(room.height * px_per_mm)), max(1, round(room.width * px_per_mm))), np.uint8)
    corner = np.array([room.left, room.top])
    for bar in mark.bars:
        low, high = (np.round((np.array(at) - corner) * px_per_mm).astype(int) for at in (bar[:2], bar[2:]))
        low, high = np.maximum(low, 0), np.maximum(high, 0)
        inked[low[1] : high[1], low[0] : high[0]] = 255
    if mark.disc is not None:
        x, y, radius = mark.disc
        middle = np.round((np.array([x, y]) - corner) * px_per_mm - 0.5).astype(int)
        cv2.circle(inked, middle.tolist(), round(radius * px_per_mm), 255, -1)
    return inked


# -- the carrier -------------------------------------------------------------------------------------------


def _askew(picture: Bytes, to_picture: Floats, size_mm: tuple[float, float]) -> float | None:
    """Return by how much the carrier's lines are turned against the sheet; None where they do not agree."""
    width, height = size_mm
    fine = 3.0
    seen = seen_flat(picture, to_picture, Box(0, 0, width, height).grown(_ROUND_MM), fine).astype(np.float32)
    across, down = (cv2.Sobel(seen, cv2.CV_32F, dx, 1 - dx, ksize=5) for dx in (1, 0))
    beyond = np.ones(seen.shape, bool)
    rim = round((_ROUND_MM - _RIM_MM) * fine)
    beyond[rim:-rim, rim:-rim] = False
    edge = 4
    beyond[:edge], beyond[-edge:], beyond[:, :edge], beyond[:, -edge:] = False, False, False, False
    strength = np.hypot(across, down)[beyond]
    strong = strength > max(60.0, float(np.percentile(strength, 80)))
    if int(strong.sum()) < 500:
        return None
    angle = np.arctan2(down, across)[beyond][strong]
    near = np.angle(np.exp(4j * angle)) / 4  # lines across and down alike
    kept = np.abs(near) < math.radians(12)
    if float(kept.mean()) < 0.5:
        return None
    middle = float(np.median(near[kept]))
    tight = np.abs(near - middle) < math.radians(1.5)
    if float(tight.mean()) < _LEAST_AGREED:
        return None
    return -math.degrees(float(np.average(near[tight], weights=strength[strong][tight])))


def _lifted(picture: Bytes, to_picture: Floats, size_mm: tuple[float, float]) -> Iterator[str]:
    """Yield the sides of the paper whose edge does not run straight."""
    width, height = size_mm
    sides = {
        "top": (Box(0, -_EDGE_MM, width, _EDGE_MM), 1),
        "bottom": (Box(0, height - _EDGE_MM, width, height + _EDGE_MM), 1),
        "left": (Box(-_EDGE_MM, 0, _EDGE_MM, height), 0),
        "right": (Box(width - _EDGE_MM, 0, width + _EDGE_MM, height), 0),
    }
    for name, (box, axis) in sides.items():
        seen = seen_flat(picture, to_picture, box, _MARK_PX_MM / 2).astype(np.float32)
        strip = seen if axis else seen.T
        if name in ("bottom", "right"):
            strip = strip[::-1]  # from the carrier inward
        off = _edge_places(strip) / (_MARK_PX_MM / 2)
        at = np.linspace(0, 1, len(off))
        known = ~np.isnan(off)
        if known.sum() < len(off) / 2:
            continue
        line = _robust_line(at[known], off[known])
        away = np.abs(off - np.polyval(line, at))
        if float((away[known] > _LIFTS_MM).mean()) >= _LIFTS_SHARE:
            yield name


def _edge_places(strip: NDArray[np.float32]) -> Floats:
    """Return where the paper begins along a strip, in pixels from its outer side; nan where no step is seen."""
    columns = np.array_split(strip, _STEPS, axis=1)[1:-1]
    places = []
    for column in columns:
        profile = cv2.GaussianBlur(column.mean(axis=1)[:, None], (1, 5), 1.0).ravel()
        step = np.diff(profile)
        best = int(step.argmax())
        places.append(best + 0.5 if step[best] > 3.0 and profile[-1] - profile[0] > 12.0 else np.nan)
    return np.array(places)


def _robust_line(at: Floats, off: Floats) -> Sequence[float]:
    line = np.array([0.0, float(np.median(off))])
    for _ in range(4):
        weight = 1 / (1 + (np.abs(off - np.polyval(line, at)) / 0.3) ** 2)
        line = np.polyfit(at, off, 1, w=np.sqrt(weight))
    return line.tolist()  # type: ignore[no-any-return]
