"""A simulated scanner and a simulated phone: pictures of a target that was printed, cut and weeded.

Every pixel is asked where on the sheet it looks; discs are shaded by their distance from the edge, so that their
places are exact far below a pixel, and everything else comes from a fine drawing of the sheet.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.imaging.flood import Bytes

DRAWING_PX_MM = 14.0
Picture = NDArray[np.float32]
PixelMap = Callable[[Floats], Floats]
"""From (n, 2) pixels, whose middles lie at whole numbers, to millimetres on the sheet."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CutTarget:
    """A target on paper, millimetres on the sheet.

    Attributes:
        size_mm: of the paper.
        dark: rings of what else is printed dark, even-odd.
        printed_mm, cut_mm: (n, 2) middles of the printed discs, and of the holes.
        printed_radius_mm, cut_radius_mm: as they came out.
        ragged_mm: standard deviation of the printed edge's waves.
        is_weeded: whether the small discs are lifted out.
        drawing: grey levels of all that is no disc, ``DRAWING_PX_MM`` fine; None draws ``dark`` on paper.
    """

    size_mm: tuple[float, float]
    dark: tuple[Floats, ...]
    printed_mm: Floats
    cut_mm: Floats
    printed_radius_mm: float = 5.04
    cut_radius_mm: float = 3.0
    ragged_mm: float = 0.015
    is_weeded: bool = True
    drawing: Picture | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class CameraNature:
    """How a picture is taken; every default is an assumption.

    Attributes:
        blur_px: one standard deviation.
        noise: of a pixel, in levels.
        shadow_mm: how wide the shadow of the cut edge is.
        shadow: how deep, 0 to 1.
        uneven: by how much the light falls off across the picture, 0 to 1.
        dust: specks and fibres a square decimetre.
        wander_mm: how far a scanner's lines stray.
        scale_percent: a scanner's own.
        jpeg: quality, 0 to 100; None keeps the picture as it is.
    """

    blur_px: float = 0.8
    noise: float = 2.0
    shadow_mm: float = 0.06
    shadow: float = 0.45
    uneven: float = 0.0
    dust: float = 0.0
    wander_mm: float = 0.1
    scale_percent: float = 0.3
    jpeg: int | None = None


PHONE = CameraNature(blur_px=1.0, noise=3.0, shadow=0.25, uneven=0.25, wander_mm=0.0, scale_percent=0.0, jpeg=90)
_PAPER, _INK, _LINER, _LID = 236.0, 38.0, 205.0, 250.0


def weeded_sheet(
    size_mm: tuple[float, float], printed: Bytes, px_per_mm: float, cuts_mm: Sequence[Floats]
) -> CutTarget:
    """Return stickers that stay on their liner, the waste round them lifted off.

    Args:
        size_mm: of the paper.
        printed: the print, grey levels.
        px_per_mm: how fine that is.
        cuts_mm: rings, where they were cut on the sheet.
    """
    wide, high = (round(side * DRAWING_PX_MM) for side in size_mm)
    fine = DRAWING_PX_MM / px_per_mm
    matrix = np.array([[fine, 0.0, (fine - 1) / 2], [0.0, fine, (fine - 1) / 2]])
    print_ = cv2.warpAffine(printed, matrix, (wide, high), flags=cv2.INTER_CUBIC, borderValue=255).astype(np.float32)
    inked = _INK + (_PAPER - _INK) * print_ / 255
    kept = np.zeros((high, wide), np.uint8)
    for ring in cuts_mm:
        cv2.fillPoly(kept, [np.round((ring * DRAWING_PX_MM - 0.5) * 16).astype(np.int32)], 255, cv2.LINE_AA, shift=4)
    share = kept.astype(np.float32) / 255
    none = np.empty((0, 2))
    drawing = np.asarray(_LINER + (inked - _LINER) * share, np.float32)
    return CutTarget(size_mm=size_mm, dark=(), printed_mm=none, cut_mm=none, drawing=drawing)


def scan(
    target: CutTarget, ppi: float, seed: int, *, turn_deg: float = 0.0, nature: CameraNature = CameraNature()
) -> Bytes:
    """Return a scan of the sheet lying turned on the glass."""
    random = np.random.default_rng(seed)
    px_mm = ppi / 25.4 * (1 + nature.scale_percent / 100)
    turn = math.radians(turn_deg)
    cos, sin = abs(math.cos(turn)), abs(math.sin(turn))
    width, height = target.size_mm
    shape = (round((height * cos + width * sin + 8) * px_mm), round((width * cos + height * sin + 8) * px_mm))
    waves = random.normal(size=4) * nature.wander_mm / 2
    phases = random.uniform(0, 2 * math.pi, size=4)
    back = np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])

    def look(pixels: Floats) -> Floats:
        at = (pixels - (np.array(shape[::-1]) - 1) / 2) / px_mm
        along = at[:, 1]
        for axis in (0, 1):
            for wave in (0, 1):
                n = 2 * axis + wave
                at[:, axis] = at[:, axis] + waves[n] * np.sin(2 * math.pi * (1 + wave) * along / 200 + phases[n])
        return np.asarray(at @ back.T + np.array(target.size_mm) / 2)

    return _picture(target, look, shape, nature, random)


def photograph(
    target: CutTarget,
    megapixels: float,
    seed: int,
    *,
    tilt_deg: float = 15.0,
    turn_deg: float = 0.0,
    curl_mm: float = 3.0,
    lens: float = -0.04,
    nature: CameraNature = PHONE,
) -> Bytes:
    """Return a photograph by hand: tilted, through a lens, of paper that does not lie flat."""
    random = np.random.default_rng(seed)
    wide = round(math.sqrt(megapixels * 1e6 / (4 / 3)))
    shape = (round(wide * 4 / 3), wide)
    focal = 0.75 * shape[0]
    size = np.array(target.size_mm)
    away = 1.16 * max(size[1] * focal / shape[0], size[0] * focal / shape[1]) / math.cos(math.radians(tilt_deg))
    axis = random.uniform(0, 2 * math.pi)
    tilt, turn = math.radians(tilt_deg), math.radians(turn_deg)
    pose = cv2.Rodrigues(np.array([math.cos(axis), math.sin(axis), 0.0]) * tilt)[0]
    pose = pose @ cv2.Rodrigues(np.array([0.0, 0.0, turn]))[0]
    centre = (np.array(shape[::-1]) - 1) / 2
    eye = pose.T @ np.array([0.0, 0.0, -away])

    def look(pixels: Floats) -> Floats:
        seen = (pixels - centre) / focal
        seen = seen * (1 + lens * np.square(seen).sum(1, keepdims=True))
        rays = np.column_stack([seen, np.ones(len(seen))]) @ pose
        flat = eye[:2] - rays[:, :2] * (eye[2] / rays[:, 2:])
        for _ in range(2):
            height = -curl_mm * np.square(2 * flat[:, :1] / size[0])
            flat = eye[:2] + rays[:, :2] * ((height - eye[2]) / rays[:, 2:])
        return np.asarray(flat + size / 2)

    return _picture(target, look, shape, nature, random)


def _picture(
    target: CutTarget, look: PixelMap, shape: tuple[int, int], nature: CameraNature, random: np.random.Generator
) -> Bytes:
    picture = _drawn(target, look, shape)
    picture = np.asarray(cv2.GaussianBlur(picture, (0, 0), nature.blur_px), np.float32)
    light = random.uniform(0, 2 * math.pi)
    for printed, cut in zip(target.printed_mm, target.cut_mm, strict=True):
        _shade(picture, target, printed, cut, look, nature, random)
    height, width = shape
    if nature.uneven:
        ys, xs = np.mgrid[0:height:64, 0:width:64]
        fall = 1 - nature.uneven * (0.5 + 0.5 * (math.cos(light) * xs / width + math.sin(light) * ys / height))
        picture *= cv2.resize(fall.astype(np.float32), (width, height), interpolation=cv2.INTER_CUBIC)
    if nature.dust:
        _dust(picture, look, nature.dust, random)
    noise = nature.noise * random.standard_normal(shape, np.float32)
    whole = np.clip(picture + noise, 0, 255).astype(np.uint8)
    if nature.jpeg is None:
        return whole
    coded = cv2.imencode(".jpg", whole, [cv2.IMWRITE_JPEG_QUALITY, nature.jpeg])[1]
    return np.asarray(cv2.imdecode(coded, cv2.IMREAD_GRAYSCALE), np.uint8)


def _drawn(target: CutTarget, look: PixelMap, shape: tuple[int, int]) -> Picture:
    """Return everything but the discs, from a fine drawing."""
    wide, high = (round(side * DRAWING_PX_MM) for side in target.size_mm)
    sheet = np.full((high, wide), _PAPER, np.float32) if target.drawing is None else target.drawing.copy()
    rings = [np.round((ring * DRAWING_PX_MM - 0.5) * 16).astype(np.int32) for ring in target.dark]
    if rings:
        cv2.fillPoly(sheet, rings, _INK, cv2.LINE_AA, shift=4)
    height, width = shape
    xs, ys = np.arange(0, width + 16, 16.0), np.arange(0, height + 16, 16.0)
    grid = np.stack(np.meshgrid(xs, ys), -1)
    at = look(grid.reshape(-1, 2)).reshape(grid.shape) * DRAWING_PX_MM - 0.5
    step = np.diff(look(np.array([(0.0, 0.0), (1.0, 0.0)])), axis=0)
    fine = DRAWING_PX_MM * float(np.linalg.norm(step))
    if fine > 1.2:
        sheet = np.asarray(cv2.GaussianBlur(sheet, (0, 0), 0.4 * fine), np.float32)
    matrix = np.array([[16.0, 0, 0], [0, 16.0, 0]])
    maps = [
        cv2.warpAffine(at[..., axis].astype(np.float32), matrix, (width, height), flags=cv2.INTER_LINEAR)
        for axis in (0, 1)
    ]
    return np.asarray(cv2.remap(sheet, maps[0], maps[1], cv2.INTER_LINEAR, borderValue=_LID), np.float32)


def _shade(
    picture: Picture, target: CutTarget, printed: Floats, cut: Floats, look: PixelMap, nature: CameraNature,
    random: np.random.Generator,
) -> None:  # fmt: skip
    """Draw one disc and its hole into the picture."""
    pixel, fine = _pixel_of(look, printed, np.array(picture.shape[::-1]) / 2)
    reach = (target.printed_radius_mm + 1.2) / fine
    left, top = np.floor(pixel - reach).astype(int)
    right, bottom = np.ceil(pixel + reach).astype(int) + 1
    left, top, right, bottom = max(left, 0), max(top, 0), min(right, picture.shape[1]), min(bottom, picture.shape[0])
    if right <= left or bottom <= top:
        return
    grid = np.stack(np.meshgrid(np.arange(left, right, dtype=float), np.arange(top, bottom, dtype=float)), -1)
    at = look(grid.reshape(-1, 2)).reshape(grid.shape)
    blur = math.hypot(nature.blur_px, 0.35) * fine  # a pixel is a box of its own
    away = at - printed
    rim = target.printed_radius_mm + _waves(np.arctan2(away[..., 1], away[..., 0]), target.ragged_mm, random)
    patch = picture[top:bottom, left:right]
    ink = _covered(rim - np.hypot(away[..., 0], away[..., 1]), blur)
    shown = patch * (1 - ink) + _INK * ink
    if target.is_weeded:
        away = at - cut
        inside = target.cut_radius_mm - np.hypot(away[..., 0], away[..., 1])
        hole = _covered(inside, blur)
        pixels_down = look(np.array([pixel, pixel + np.array([0.0, 1.0])]))
        light = (pixels_down[1] - pixels_down[0]) / np.linalg.norm(pixels_down[1] - pixels_down[0])
        facing = np.clip((away @ light) / np.maximum(np.hypot(away[..., 0], away[..., 1]), 1e-6), 0, 1)
        wide = math.hypot(nature.shadow_mm, blur)
        dim = nature.shadow * nature.shadow_mm / wide * facing * np.exp(-np.square(inside / wide))
        shown = shown * (1 - hole) + _LINER * (1 - dim) * hole
    patch[:] = shown


def _covered(inside: Floats, blur: float) -> Floats:
    return np.asarray(scipy.special.ndtr(inside / blur))


def _waves(angle: Floats, size: float, random: np.random.Generator) -> Floats:
    """Return a ragged edge: waves of ten lengths, random by nature and the same all through one disc."""
    waves = np.zeros_like(angle)
    for count in (5, 8, 13, 21, 34):
        a, b = random.normal(size=2) * size / math.sqrt(5)
        waves += a * np.cos(count * angle) + b * np.sin(count * angle)
    return waves


def _pixel_of(look: PixelMap, place: Floats, start: Floats) -> tuple[Floats, float]:
    """Return the pixel that looks at a place, and how many millimetres one pixel is there."""
    pixel = np.asarray(start, float)
    for _ in range(12):
        at = look(pixel + np.array([(0.0, 0.0), (1.0, 0.0), (0.0, 1.0)]))
        slope = np.stack([at[1] - at[0], at[2] - at[0]], 1)
        pixel = pixel + np.linalg.solve(slope, place - at[0])
    return pixel, math.sqrt(abs(float(np.linalg.det(slope))))


def _dust(picture: Picture, look: PixelMap, density: float, random: np.random.Generator) -> None:
    """Lay specks and fibres on the glass."""
    height, width = picture.shape
    _, fine = _pixel_of(look, look(np.array([[width / 2, height / 2]]))[0], np.array([width / 2, height / 2]))
    count = random.poisson(density * height * width * fine**2 / 1e4)
    for _ in range(count):
        x, y = random.uniform(0, width), random.uniform(0, height)
        level = float(random.choice([25.0, 90.0, 250.0]))
        if random.random() < 0.75:
            size = 10 ** random.uniform(-1.3, -0.3) / fine
            cv2.circle(picture, (round(x * 16), round(y * 16)), max(8, round(size / 2 * 16)), level, -1, cv2.LINE_AA, 4)
        else:
            turns = np.cumsum(random.normal(0, 0.35, 12)) + random.uniform(0, 6.28)
            steps = np.cumsum(np.stack([np.cos(turns), np.sin(turns)], 1) * random.uniform(0.1, 0.4) / fine, 0)
            line = np.round((steps + np.array([x, y])) * 16).astype(np.int32)
            cv2.polylines(picture, [line], False, level, max(1, round(0.06 / fine)), cv2.LINE_AA, 4)


def dusty(nature: CameraNature, density: float) -> CameraNature:
    """Return the same camera with dust on its glass."""
    return replace(nature, dust=density)
