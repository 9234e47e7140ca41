"""Trace + offset + fit against the potrace algorithm (PyPI potracer) on the same pictures.

Bounds: no slower; at half its mean boundary error or less.
"""

from __future__ import annotations

import itertools
import sys
import time

import numpy as np
import potrace
import shapely
from corpus import FINER, SIDE_PX, WIDTH_MM, artworks

from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.geometry.paths import evaluate
from honest_edge.core.outline.outline import fit_area, outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.specs import OutlineRecipe

PIXEL_MM = WIDTH_MM / SIDE_PX
EVERYTHING = OutlineRecipe(speck_mm2=0, hole_mm2=0)


def ours(alpha: np.ndarray) -> tuple[float, np.ndarray, int]:
    start = time.process_time()
    outline = outline_of(
        trace_pixels(alpha), width_px=alpha.shape[1], width_mm=alpha.shape[1] * PIXEL_MM, recipe=EVERYTHING
    )
    fit_area(offset_area(outline.area, 3.0), outline.style.of_offset)
    seconds = time.process_time() - start
    curves = fit_area(outline.area, outline.style)
    points = np.vstack([shapely.get_coordinates(shapely.segmentize(ring(c), 0.02)) for c in curves])
    return seconds, points / PIXEL_MM, sum(curve.node_count for curve in curves)


def ring(curve) -> shapely.LinearRing:
    return shapely.linearrings(curve.flattened(0.001))


def potracer(solid: np.ndarray) -> tuple[float, np.ndarray, int]:
    start = time.process_time()
    found = potrace.Bitmap(~solid).trace(turdsize=0)  # it traces what is False
    seconds = time.process_time() - start
    points, nodes, t = [], 0, np.linspace(0, 1, 24)
    for curve in found:
        at = curve.start_point
        for segment in curve.segments:
            nodes += 1
            if segment.is_corner:
                chain = [(at.x, at.y), (segment.c.x, segment.c.y), (segment.end_point.x, segment.end_point.y)]
                points += [np.linspace(a, b, 24) for a, b in itertools.pairwise(chain)]
            else:
                chain = [at, segment.c1, segment.c2, segment.end_point]
                cubic = np.array([[(p.x, p.y) for p in chain]])
                points.append(evaluate(np.repeat(cubic, len(t), axis=0), t))
            at = segment.end_point
    return seconds, np.vstack(points), nodes


def error_um(points: np.ndarray, truth: shapely.MultiLineString) -> np.ndarray:
    return shapely.distance(truth, shapely.points(points)) * PIXEL_MM * 1000


def main(count: int = 12) -> bool:
    rows = []
    for art in artworks(count):
        shapely.prepare(art.truth)
        mine = ours(art.pixels[..., 3].astype(np.float32) / 255)
        theirs = potracer(art.pixels[..., 3] >= 128)
        gaps = [error_um(mine[1], art.truth), error_um(theirs[1], art.truth)]
        inches = art.truth.length * PIXEL_MM / 25.4
        rows.append(
            (
                mine[0],
                theirs[0],
                *(f(g) for g in gaps for f in (np.mean, p95, np.max)),
                mine[2] / inches,
                theirs[2] / inches,
            )
        )
    table = np.array(rows)
    mean = table.mean(axis=0)
    print(f"{len(rows)} pictures of {SIDE_PX} px = {WIDTH_MM} mm, truth {FINER} times finer")
    print("                          ours   potracer   ratio")
    print(f"seconds, mean          {mean[0]:7.3f}   {mean[1]:8.3f}   {mean[0] / mean[1]:5.2f}   bound 1.00")
    for at, name in ((2, "error mean"), (3, "error p95"), (4, "error greatest, median")):
        low, high = np.median(table[:, [at, at + 3]], axis=0) if at == 4 else mean[[at, at + 3]]
        print(f"{name + ' um':23s}{low:7.1f}   {high:8.1f}   {low / high:5.2f}" + ("   bound 0.50" if at == 2 else ""))
    print(f"nodes an inch          {mean[8]:7.1f}   {mean[9]:8.1f}")
    return bool(mean[0] <= mean[1] and mean[2] <= 0.5 * mean[5])


def p95(values: np.ndarray) -> float:
    return float(np.percentile(values, 95))


if __name__ == "__main__":
    sys.exit(0 if main(int(sys.argv[1]) if len(sys.argv) > 1 else 12) else 1)
