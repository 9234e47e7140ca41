"""Art on a background: opaque on white, noisy JPEG, and drawn outlines with gaps.

Truth is the art's outer rim. Art with a rim that is nearly white cannot be told from white paper by anyone: it
is left out by rule, and the count is printed.
"""

from __future__ import annotations

import io
import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace

import cv2
import numpy as np
import shapely
import shapely.affinity
from accuracy import ALL, gaps_um
from corpus import PIXEL_MM, SIDE_PX, Artwork, artworks
from PIL import Image

from honest_edge.core.imaging.background import Subject, clear_background
from honest_edge.core.outline.outline import outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.artwork import Artwork as Picture
from honest_edge.core.values.specs import OutlineRecipe

PALE_LEVELS, PALE_SHARE = 40, 0.005  # left out: over this share of the rim within so many levels of white
NOISE_LEVELS, QUALITY = 3.0, 75
GAPPED, STROKE_PX, FINER = 12, 7.0, 4
MARGIN_PX = 20
OPAQUE = replace(ALL, background="flood", hole_mm2=None)


def on_white(art: Artwork) -> np.ndarray:
    """Return the art on white with some white round it, or art that fills its picture would be the background."""
    pixels = np.pad(art.pixels, ((MARGIN_PX, MARGIN_PX), (MARGIN_PX, MARGIN_PX), (0, 0)))
    share = pixels[..., 3:].astype(float) / 255
    return np.rint(pixels[..., :3] * share + 255 * (1 - share)).astype(np.uint8)


def is_pale(art: Artwork) -> bool:
    """Look at the pixels just inside the outer rim."""
    solid = art.pixels[..., 3] >= 250
    holes = cv2.morphologyEx(np.pad(solid, 1).astype(np.uint8), cv2.MORPH_CLOSE, np.ones((3, 3)))[1:-1, 1:-1]
    rim = solid & (cv2.erode(holes, np.ones((5, 5), np.uint8), borderValue=0) == 0)
    near = np.linalg.norm(255.0 - art.pixels[rim][:, :3], axis=1) < PALE_LEVELS
    return bool(near.mean() > PALE_SHARE)


def as_jpeg(rgb: np.ndarray) -> np.ndarray:
    noise = np.random.default_rng(1).normal(0, NOISE_LEVELS, rgb.shape)
    out = io.BytesIO()
    Image.fromarray(np.clip(rgb + noise, 0, 255).astype(np.uint8)).save(out, "JPEG", quality=QUALITY)
    return np.asarray(Image.open(out))


def subject_of(rgb: np.ndarray, recipe: OutlineRecipe, *, lossy: bool = False) -> Subject:
    pixels = np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])
    picture = Picture(pixels=pixels, stated_ppi=300, size_source="assumed", lossy=lossy)
    return clear_background(picture, recipe, seek_leaks=False)


def area_of(subject: Subject) -> shapely.MultiPolygon:
    width_px = subject.coverage.shape[1]
    pixels = trace_pixels(subject.coverage)
    return outline_of(pixels, width_px=width_px, width_mm=width_px * PIXEL_MM, recipe=OPAQUE).area


def rims(area: shapely.Geometry) -> shapely.Geometry:
    """Return the areas enclosed by the outer rims: white inside stays."""
    return shapely.union_all([shapely.Polygon(part.exterior) for part in shapely.get_parts(area)])


def compare(art: Artwork) -> tuple[float, ...] | None:
    if is_pale(art):
        return None
    truth = rims(shapely.transform(art.truth, lambda p: (p + MARGIN_PX) * PIXEL_MM))
    rgb, row = on_white(art), []
    for picture, lossy in ((rgb, False), (as_jpeg(rgb), True)):
        area = area_of(subject_of(picture, OPAQUE, lossy=lossy))
        gaps = gaps_um(area, truth)
        overlap = shapely.intersection(area, truth).area / shapely.union(area, truth).area
        row += [gaps.mean(), np.percentile(gaps, 95), overlap]
    undammed = area_of(subject_of(rgb, replace(OPAQUE, dam_px=0)))
    dammed = area_of(subject_of(rgb, OPAQUE))
    return (*row, shapely.symmetric_difference(dammed, undammed).area / dammed.area)


def outlined(art: Artwork, gap_px: float) -> tuple[np.ndarray, np.ndarray]:
    """Return the art's largest part as a dark line round white, with a gap in it, and the gap's place."""
    shape = shapely.Polygon(max(shapely.get_parts(art.truth), key=lambda part: part.area).exterior)
    shape = shapely.affinity.scale(shape, 0.9, 0.9)  # clear of the picture's border
    body = shapely.buffer(shapely.buffer(shape, 3), -3)
    body = max(shapely.get_parts(body), key=lambda part: part.area)
    random = np.random.default_rng(len(art.svg))
    at = random.uniform(0, body.exterior.length)
    here, there = (np.array(body.exterior.interpolate(at + d).coords[0]) for d in (-1, 1))
    along = (there - here) / np.hypot(*(there - here))
    middle = (here + there) / 2
    ends = [middle + side * 1.6 * STROKE_PX * np.array([-along[1], along[0]]) for side in (-1, 1)]
    fine = np.full((SIDE_PX * FINER, SIDE_PX * FINER), 255, np.uint8)
    _draw(fine, shapely.get_coordinates(shapely.Polygon(body.exterior)), STROKE_PX, 40, closed=True)
    if gap_px:
        _draw(fine, np.array(ends), gap_px, 255, closed=False)
    grey = cv2.resize(fine, (SIDE_PX, SIDE_PX), interpolation=cv2.INTER_AREA)
    return np.dstack([grey] * 3), middle


def _draw(picture: np.ndarray, points: np.ndarray, width: float, level: int, *, closed: bool) -> None:
    """Draw a line without round ends."""
    line = shapely.LineString(points if not closed else np.vstack([points, points[:1]]))
    for part in shapely.get_parts(shapely.buffer(line, width / 2, cap_style="flat")):
        rings = [np.rint((shapely.get_coordinates(r) * FINER - 0.5) * 16) for r in (part.exterior, *part.interiors)]
        cv2.fillPoly(picture, [ring.astype(np.int32) for ring in rings], level, shift=4)


def main(count: int = 124) -> bool:
    arts = list(artworks(count))
    with ProcessPoolExecutor() as pool:
        rows = [row for row in pool.map(compare, arts, chunksize=2) if row is not None]
    table = np.array(rows)
    print(f"{len(rows)} pictures; {len(arts) - len(rows)} left out for a rim within {PALE_LEVELS} levels of white")
    good = True
    for name, at, most_um, least in (("opaque on white", 0, 15, 0.999), ("JPEG 75 with noise", 3, 25, 0.997)):
        mean, p95, overlap = table[:, at : at + 3].mean(axis=0)
        good &= bool(p95 <= most_um and overlap >= least)
        print(f"{name:20s} mean {mean:5.1f} um   p95 {p95:5.1f}   IoU {overlap:.4f}   bound {most_um} / {least}")
    changed = int((table[:, 6] > 1e-6).sum())
    print(f"art without gaps changed by damming: {changed} of {len(rows)}   bound 0")
    whole = [art for art in arts if art.truth.area > 0.2 * SIDE_PX**2][:GAPPED]
    found = [dammed(art, gap) for art in whole for gap in (1, 2, 3, 4)]
    print(f"gaps of 1 to 4 px found and dammed: {sum(found)} of {len(found)}   bound all")
    return good and changed == 0 and all(found) and len(found) == 4 * GAPPED


def dammed(art: Artwork, gap_px: float) -> bool:
    """Return whether the gap is listed where it is and the outline is that of the art without a gap."""
    gapped, place = outlined(art, gap_px)
    subject = subject_of(gapped, OPAQUE)
    truth = area_of(subject_of(outlined(art, 0)[0], OPAQUE))
    alike = bool(_change(area_of(subject), truth) <= 0.002)
    if _change(area_of(subject_of(gapped, replace(OPAQUE, dam_px=0))), truth) <= 0.002:
        return alike  # its anti-aliasing holds the background back: there is no leak to find
    near = [np.hypot(*(np.array(leak.middle) * SIDE_PX - place)) <= STROKE_PX + 3 for leak in subject.leaks]
    return alike and len(near) == 1 and bool(near[0])


def _change(area: shapely.Geometry, truth: shapely.Geometry) -> float:
    return shapely.symmetric_difference(area, truth).area / truth.area


if __name__ == "__main__":
    sys.exit(0 if main(*map(int, sys.argv[1:])) else 1)
