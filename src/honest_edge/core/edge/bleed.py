"""The printed picture: the art, with its edge colour carried past the cut where the school asks for it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray

from honest_edge.core.edge.contour import CutLines
from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.imaging.background import Subject
from honest_edge.core.imaging.flood import Bytes, nearest
from honest_edge.core.imaging.reduce import reduced
from honest_edge.core.outline.outline import Outline
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.specs import Colour, EdgeRecipe

CORE_DEPTH_MM = 0.17
"""How far inside the edge a colour must lie to be trusted: two pixels at 300 ppi, the reach of a matte."""

FINEST_PPI = 600
"""A picture of twice this or more is printed from averages of its pixels: no printer here shows finer ones."""

_SOFTEN_SHARE = 0.5  # standard deviation of the softening, as a share of the distance from the art
_SOFTEN_MOST_PX = 8
_ENOUGH_WEIGHT = 64  # below a quarter, 8-bit rounding tints the colour


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PrintArt:
    """What is printed of one design, in the art's frame.

    Attributes:
        pixels: (h, w, 4) uint8 straight sRGB and alpha.
        left_mm, top_mm: where the top left corner of ``pixels`` lies.
        pixel_mm: size of a pixel.
        ink_area: where the picture is printed; its exact boundary clips the carried colour. None where
            the picture's own alpha alone says so.
    """

    pixels: Bytes
    left_mm: float
    top_mm: float
    pixel_mm: float
    ink_area: shapely.MultiPolygon | None

    @property
    def bounds_mm(self) -> tuple[float, float, float, float]:
        """Left, top, right and bottom of the printed picture."""
        if self.ink_area is not None:
            left, top, right, bottom = self.ink_area.bounds
            return float(left), float(top), float(right), float(bottom)
        height, width = self.pixels.shape[:2]
        return (
            self.left_mm,
            self.top_mm,
            self.left_mm + width * self.pixel_mm,
            self.top_mm + height * self.pixel_mm,
        )


def carry_colour(subject: Subject, outline: Outline, cut: CutLines, recipe: EdgeRecipe) -> PrintArt:
    """Return the picture to print.

    Without bleed the art is printed as it is. With bleed, everything from the art's edge to
    ``recipe.bleed_mm`` outside the cut takes the colour of the nearest pixel well inside the art: the fringe
    itself, which holds anti-aliasing or the matte of an earlier background, is replaced too. What is
    see-through further in stays so, but where the cloth's colour is printed under it.
    """
    factor = max(1, math.floor(25.4 / outline.pixel_mm / FINEST_PPI))
    pixel_mm = outline.pixel_mm * factor
    art = _without_specks(reduced(subject.pixels, factor), outline, pixel_mm)
    ink = ink_area(outline, cut, recipe)
    if ink is None:
        return _as_is(art, pixel_mm)
    pixels, origin_mm = _widened(art, ink, pixel_mm)
    shape = pixels.shape[:2]
    core = trusted_core(pixels[..., 3], CORE_DEPTH_MM / pixel_mm)
    fringe = _joined_to(~core, rasterised(outline.area, shape, origin_mm, pixel_mm) == 0)
    # two pixels beyond the exact boundary, which clips the picture where it is drawn
    wanted = fringe & (rasterised(offset_area(ink, 2 * pixel_mm), shape, origin_mm, pixel_mm) > 0)
    colours = _filled(np.ascontiguousarray(pixels[..., :3]), core, wanted, recipe)
    opaque = np.pad(colours, ((0, 0), (0, 1)), constant_values=255)
    np.copyto(pixels[..., 3], 0, where=fringe)
    pixels.view(np.uint32)[..., 0][wanted] = opaque.view(np.uint32)[:, 0]
    if recipe.fill == "cloth" and recipe.fill_rgb is not None:
        _lay_under(pixels, recipe.fill_rgb, rasterised(ink, shape, origin_mm, pixel_mm) > 0)
    return PrintArt(pixels=pixels, left_mm=origin_mm[0], top_mm=origin_mm[1], pixel_mm=pixel_mm, ink_area=ink)


def _lay_under(pixels: Bytes, rgb: Colour, area: NDArray[np.bool_]) -> None:
    """Fill what is see-through within an area with one colour, in place."""
    thin = area & (pixels[..., 3] < 255)
    share = pixels[thin][:, 3:].astype(np.float32) / 255
    pixels[thin, :3] = np.rint(pixels[thin][:, :3] * share + np.array(rgb, np.float32) * (1 - share))
    pixels[thin, 3] = 255


def ink_area(outline: Outline, cut: CutLines, recipe: EdgeRecipe) -> shapely.MultiPolygon | None:
    """Return where the bleed ends, never inside the art; None where there is no bleed and the art alone is printed."""
    if recipe.bleed_mm <= 0:
        return None
    return as_multipolygon(shapely.union(offset_area(cut.area, recipe.bleed_mm), outline.area))


def printed_area(art: PrintArt, outline: Outline, threshold: float) -> shapely.MultiPolygon:
    """Return where ink lies: within the bleed's end, or where the picture itself is opaque enough.

    Tips that the outline draws out are as blunt here as the picture prints them. What is see-through inside the art
    and not cut out was planned so, and counts as printed.
    """
    if art.ink_area is not None:
        return art.ink_area
    traced = trace_pixels(np.ascontiguousarray(art.pixels[..., 3]), threshold, corner_deg=None)
    placed = shapely.transform(traced, lambda points: points * art.pixel_mm + (art.left_mm, art.top_mm))
    solid = shapely.union_all([shapely.Polygon(part.exterior) for part in placed.geoms])
    return as_multipolygon(shapely.intersection(solid, outline.area))


def _widened(pixels: Bytes, ink: shapely.MultiPolygon, pixel_mm: float) -> tuple[Bytes, tuple[float, float]]:
    """Return a copy of the picture on a canvas that holds ``ink``, and that canvas's top left in mm."""
    height, width = pixels.shape[:2]
    left, top, right, bottom = (round(edge / pixel_mm) for edge in ink.bounds)
    before = (max(0, 3 - left), max(0, 3 - top))
    after = (max(0, right + 3 - width), max(0, bottom + 3 - height))
    wide = np.pad(pixels, ((before[1], after[1]), (before[0], after[0]), (0, 0)))
    return wide, (-before[0] * pixel_mm, -before[1] * pixel_mm)


def _joined_to(mask: NDArray[np.bool_], seeds: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Return the connected pieces of ``mask`` that hold any seed."""
    _, labels = cv2.connectedComponents(mask.astype(np.uint8), connectivity=4, ltype=cv2.CV_32S)
    chosen = np.zeros(int(labels.max()) + 1, bool)
    chosen[labels[seeds & mask]] = True
    chosen[0] = False
    return np.asarray(chosen[labels])


def _without_specks(pixels: Bytes, outline: Outline, pixel_mm: float) -> Bytes:
    """Return the art without what the outline dropped: what is not cut is not printed either."""
    if outline.dropped_specks == 0:
        return pixels
    solid = pixels[..., 3] >= 128
    kept = _joined_to(solid, rasterised(outline.area, solid.shape, (0.0, 0.0), pixel_mm) > 0)
    specks = cv2.dilate((solid & ~kept).astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    return np.where((specks & ~kept)[..., None], np.uint8(0), pixels)


def _as_is(pixels: Bytes, pixel_mm: float) -> PrintArt:
    """Return the art cropped to what is visible."""
    visible = pixels[..., 3] > 0
    rows, columns = np.flatnonzero(visible.any(axis=1)), np.flatnonzero(visible.any(axis=0))
    top, bottom, left, right = int(rows[0]), int(rows[-1]) + 1, int(columns[0]), int(columns[-1]) + 1
    return PrintArt(
        pixels=pixels[top:bottom, left:right],
        left_mm=left * pixel_mm,
        top_mm=top * pixel_mm,
        pixel_mm=pixel_mm,
        ink_area=None,
    )


def _filled(colours: Bytes, core: NDArray[np.bool_], wanted: NDArray[np.bool_], recipe: EdgeRecipe) -> Bytes:
    """Return (n, 3) colours for the ``wanted`` pixels, in the way the recipe asks for."""
    if recipe.fill in ("plain", "cloth"):
        plain = rim_colour(colours, core) if recipe.fill_rgb is None else recipe.fill_rgb
        return np.tile(np.array(plain, np.uint8), (int(np.count_nonzero(wanted)), 1))
    if recipe.fill == "mirror":
        return _mirrored(colours, core, wanted)
    return carried(colours, core, wanted)


def rim_colour(colours: Bytes, core: NDArray[np.bool_]) -> tuple[int, int, int]:
    """Return the colour that most of the fringe of ``core`` has, the median of the commonest."""
    fringe = colours[_fringe_of(core)].astype(np.int64)
    coarse = (fringe // 16) @ np.array([256, 16, 1])
    red, green, blue = np.median(fringe[coarse == np.bincount(coarse).argmax()], axis=0).astype(int).tolist()
    return red, green, blue


def _fringe_of(core: NDArray[np.bool_]) -> NDArray[np.bool_]:
    return np.asarray(core & (cv2.erode(core.astype(np.uint8), np.ones((3, 3), np.uint8)) == 0))


def _mirrored(colours: Bytes, core: NDArray[np.bool_], wanted: NDArray[np.bool_]) -> Bytes:
    """Return each pixel's mirror image at the nearest pixel of ``core``; that pixel's own where there is none."""
    height, width = core.shape
    places = np.flatnonzero(wanted).astype(np.int32)
    index, _ = nearest(_fringe_of(core), places)
    rows, columns = 2 * (index // width) - places // width, 2 * (index % width) - places % width
    image = np.clip(rows, 0, height - 1) * width + np.clip(columns, 0, width - 1)
    return colours.reshape(-1, 3)[np.where(core.reshape(-1)[image], image, index)]


def carried(colours: Bytes, core: NDArray[np.bool_], wanted: NDArray[np.bool_]) -> Bytes:
    """Return (n, 3) colours for the ``wanted`` pixels, each that of the nearest pixel of ``core``.

    The carried colour is softened the more the farther it is carried, so that streaks do not show.
    """
    # the nearest pixel of an area lies on its fringe, and a fringe has few pixels to look up
    places = np.flatnonzero(wanted).astype(np.int32)
    index, distance = nearest(_fringe_of(core), places)
    sharp = colours.reshape(-1, 3)[index]
    known = (core | wanted).view(np.uint8) * np.uint8(255)
    filled = cv2.bitwise_and(colours, colours, mask=known)
    filled.reshape(-1, 3)[places] = sharp
    return _softened(sharp, distance, places, filled, known)


def _softened(
    sharp: Bytes, distance: NDArray[np.float32], places: NDArray[np.int32], filled: NDArray[Any], known: NDArray[Any]
) -> Bytes:
    """Mix in ever coarser pictures with the distance.

    A picture halved k times and read bilinearly is blurred by about 2^(k-1) px, the box of its pixels and
    the tent of the reading together. ``filled`` is black where nothing is ``known``, so that has no weight.
    """
    height, width = known.shape[:2]
    mixed = np.ascontiguousarray(sharp.T, np.float32)  # channel by channel: long rows are what NumPy is fast at
    sigma = 2.0
    while sigma <= _SOFTEN_MOST_PX:
        shrink = 2 * int(sigma)
        size = (-(-width // shrink), -(-height // shrink))
        filled = cv2.resize(filled, size, interpolation=cv2.INTER_AREA)
        known = cv2.resize(known, size, interpolation=cv2.INTER_AREA)
        level = cv2.merge([*cv2.split(filled), known])
        from_px = sigma / _SOFTEN_SHARE
        far = np.flatnonzero(distance > from_px)
        if len(far) == 0:
            break
        rows, columns = np.divmod(places[far], width)
        x, y = columns.astype(np.float32), rows.astype(np.float32)
        x = (x + 0.5) * np.float32(size[0] / width) - 0.5
        y = (y + 0.5) * np.float32(size[1] / height) - 0.5
        seen = _sampled(level, x, y)
        alpha = seen[3]
        colour = seen[:3] * (np.float32(255) / np.maximum(alpha, 1))
        weight = np.minimum(distance[far] / np.float32(from_px) - 1, 1) * (alpha >= _ENOUGH_WEIGHT)
        before = mixed[:, far]
        mixed[:, far] = before + (colour - before) * weight
        sigma *= 2
    return np.ascontiguousarray(np.rint(np.clip(mixed, 0, 255)).T, np.uint8)


def _sampled(picture: NDArray[Any], x: NDArray[np.float32], y: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return (4, n) bilinear samples at places given in the picture's pixels."""
    width = 1024  # OpenCV takes no side over 32767
    full = np.zeros((2, -(-len(x) // width) * width), np.float32)
    full[:, : len(x)] = x, y
    grid = full.reshape(2, -1, width)
    seen = cv2.remap(picture, grid[0], grid[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.ascontiguousarray(seen.reshape(-1, 4)[: len(x)].T, np.float32)


def trusted_core(alpha: Bytes, depth_px: float) -> NDArray[np.bool_]:
    """Return the pixels deeper than ``depth_px`` inside; parts thinner than that keep their own middle."""
    solid = (alpha >= 250).astype(np.uint8)
    if not solid.any():
        solid = (alpha >= int(alpha.max())).astype(np.uint8)
    depth = cv2.distanceTransform(cv2.copyMakeBorder(solid, 1, 1, 1, 1, cv2.BORDER_CONSTANT), cv2.DIST_L2, 5)
    depth = depth[1:-1, 1:-1]
    core = depth > depth_px
    reach = 2 * math.ceil(depth_px) + 1
    deepest = cv2.dilate(depth, np.ones((reach, reach), np.uint8))
    shallow = cv2.inRange(deepest, 0.0, depth_px + 0.5)
    rows, columns = np.divmod(np.flatnonzero(cv2.bitwise_and(shallow, solid).view(np.bool_)), solid.shape[1])
    thin = depth[rows, columns] >= deepest[rows, columns] - 0.5
    core[rows[thin], columns[thin]] = True
    return np.asarray(core)


def rasterised(
    area: shapely.MultiPolygon, shape: tuple[int, int], origin_mm: tuple[float, float], pixel_mm: float
) -> Bytes:
    """Return a (h, w) uint8 mask, 255 where a pixel's middle lies inside ``area``."""
    shift = 6
    mask = np.zeros(shape, np.uint8)
    for polygon in area.geoms:
        rings = [
            np.rint(((shapely.get_coordinates(ring) - origin_mm) / pixel_mm - 0.5) * (1 << shift)).astype(np.int32)
            for ring in (polygon.exterior, *polygon.interiors)
        ]
        part = np.zeros(shape, np.uint8) if len(area.geoms) > 1 else mask
        cv2.fillPoly(part, rings, 255, shift=shift)
        if part is not mask:
            np.maximum(mask, part, out=mask)
    return mask
