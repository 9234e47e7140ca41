"""How true the outlines are: on open artwork, at known corners, on opaque and JPEG copies, at gaps.

Each line prints its bound; potracer and OpenCV's pixel chains run on the same pictures. Lengths in
micrometres at 600 px = 2 in. Error is the distance between the outline and the truth, both ways.
"""

from __future__ import annotations

import sys
from concurrent.futures import ProcessPoolExecutor

import numpy as np
import shapely
from corpus import LEAST_RING_PX2, PIXEL_MM, Artwork, artworks
from outlines import chains, inches, nodes_of, potracer

from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.geometry.paths import CurveRing, polygon_of
from honest_edge.core.outline.outline import fit_area, outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.specs import OutlineRecipe

OFFSET_MM = 3.0
STEP_MM = 0.02
NEEDLE_PX = 4.0
ALL = OutlineRecipe(speck_mm2=0.95 * LEAST_RING_PX2 * PIXEL_MM**2, hole_mm2=0.95 * LEAST_RING_PX2 * PIXEL_MM**2)


def gaps_um(found: shapely.Geometry, truth: shapely.Geometry) -> np.ndarray:
    """Return the distances of both boundaries' points from the other."""
    one, two = shapely.boundary(found), shapely.boundary(truth)
    return 1000 * np.concatenate([_to(two, one), _to(one, two)])


def _to(line: shapely.Geometry, other: shapely.Geometry) -> np.ndarray:
    points = shapely.points(shapely.get_coordinates(shapely.segmentize(other, STEP_MM)))
    shapely.prepare(line)
    return np.asarray(shapely.distance(line, points))


def has_needles(art: Artwork) -> bool:
    """Return whether tips sharper than 23 degrees stick out, the sharpest corner that has a bound of its own.

    A wedge of angle a reaches 1 / sin(a / 2) - 1 px past the largest disc of one pixel's radius in it.
    """
    plain = shapely.simplify(art.truth, 0.1)
    opened = shapely.buffer(shapely.buffer(plain, -1.0), 1.0)
    return bool(shapely.distance(opened, shapely.points(shapely.get_coordinates(plain))).max() > NEEDLE_PX)


def measure(art: Artwork) -> dict[str, tuple[float, ...]]:
    truth = shapely.transform(art.truth, lambda p: p * PIXEL_MM)
    alpha = art.pixels[..., 3]
    outline = outline_of(trace_pixels(alpha), width_px=alpha.shape[1], width_mm=alpha.shape[1] * PIXEL_MM, recipe=ALL)
    fitted = fit_area(outline.area, outline.style)
    moved = offset_area(outline.area, OFFSET_MM)
    cut = fit_area(moved, outline.style.of_offset)
    true_cut = shapely.buffer(truth, OFFSET_MM, quad_segs=96)
    chain, traced, traced_nodes = chains(alpha >= 128), *potracer(alpha >= 128)
    return {
        "needles": (float(has_needles(art)),),
        "raw": _row(outline.area, truth, 0),
        "fitted": _row(polygon_of(fitted, 0.001), truth, nodes_of(fitted)),
        "cut after offset": (*_row(_outer(cut), _rims(true_cut), 0)[:3], nodes_of(cut) / inches(true_cut)),
        "potracer": _row(traced, truth, traced_nodes),
        "cv2 chain": _row(chain, truth, len(shapely.get_coordinates(chain))),
        "potracer, offset": _row(_rims(shapely.buffer(traced, OFFSET_MM, quad_segs=16)), _rims(true_cut), 0),
    }


def _row(found: shapely.Geometry, truth: shapely.Geometry, nodes: int) -> tuple[float, ...]:
    gaps = gaps_um(found, truth)
    return float(gaps.mean()), float(np.percentile(gaps, 95)), float(gaps.max()), nodes / inches(truth)


def _outer(cut: tuple[CurveRing, ...]) -> shapely.Geometry:
    return _rims(polygon_of(cut, 0.001))


def _rims(area: shapely.Geometry) -> shapely.Geometry:
    """Return an area without its lakes: a lake closes or not by a hair, so it has no error to measure."""
    return shapely.MultiPolygon([shapely.Polygon(part.exterior) for part in shapely.get_parts(area)])


def main(count: int = 124) -> bool:
    with ProcessPoolExecutor() as pool:
        rows = list(pool.map(measure, artworks(count), chunksize=2))
    print(f"{len(rows)} pictures            mean    p95   greatest: median    9 of 10    worst   nodes/in")
    smooth = np.array([row["needles"][0] == 0 for row in rows])
    print(f"left out of the worst case for tips sharper than 23 degrees: {(~smooth).sum()}")
    good = True
    for name, bound in (
        ("raw", (7, 16, None, None, None, None)),
        ("fitted", (9, 20, 45, 120, None, 6)),
        ("cut after offset", (11, 26, None, None, 100, 4)),
        ("potracer", None),
        ("cv2 chain", None),
        ("potracer, offset", None),
    ):
        table = np.array([row[name] for row in rows])
        mean, p95, _, nodes = table.mean(axis=0)
        median, tail = np.percentile(table[:, 2], [50, 90]).tolist()
        found = (mean, p95, median, tail, float(table[smooth, 2].max()), nodes)
        print(f"{name:24s}{mean:8.1f}{p95:7.1f}{median:19.1f}{tail:11.1f}{found[4]:9.1f}{nodes:11.2f}", end="")
        if bound is not None:
            good &= all(limit is None or value <= limit for value, limit in zip(found, bound, strict=True))
            print("   bound", " / ".join("-" if b is None else str(b) for b in bound), end="")
        print()
    return good


if __name__ == "__main__":
    sys.exit(0 if main(*map(int, sys.argv[1:])) else 1)
