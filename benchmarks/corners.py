"""Known corners: wedges turned and shifted at random, rendered like any artwork.

A tip is kept when the fitted outline has a node within one pixel of it at which its direction breaks by
more than half of the true turn. Error is the distance of the true tip from the fitted outline.
"""

from __future__ import annotations

import math
import sys

import numpy as np
import shapely
from corpus import PIXEL_MM, render

from honest_edge.core.geometry.paths import polygon_of
from honest_edge.core.outline.outline import fit_area, outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.specs import OutlineRecipe

SIDE, LEG, EACH = 320, 130.0, 40
BOUNDS = {90: (6.0, 1.0), 44: (10.0, 1.0), 23: (15.0, 0.9)}


def wedge(angle_deg: float, random: np.random.Generator) -> tuple[np.ndarray, np.ndarray]:
    """Return a wedge's alpha and its tip in pixels; the far side is an arc, so that only the tip is sharp."""
    middle = np.array([SIDE / 2, SIDE / 2]) + random.uniform(-1, 1, 2)
    turn, half = random.uniform(0, 2 * math.pi), math.radians(angle_deg / 2)
    tip = middle - 0.5 * LEG * np.array([math.cos(turn), math.sin(turn)])
    one, two = (tip + LEG * np.array([math.cos(turn + a), math.sin(turn + a)]) for a in (-half, half))
    path = f"M{tip[0]} {tip[1]}L{one[0]} {one[1]}A{LEG} {LEG} 0 0 1 {two[0]} {two[1]}Z"
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {SIDE} {SIDE}"><path d="{path}"/></svg>'
    return render(svg, SIDE)[..., 3], tip


def tip_of(alpha: np.ndarray, tip: np.ndarray, angle_deg: float) -> tuple[float, bool]:
    outline = outline_of(
        trace_pixels(alpha), width_px=alpha.shape[1], width_mm=alpha.shape[1] * PIXEL_MM, recipe=OutlineRecipe()
    )
    (ring,) = fit_area(outline.area, outline.style)
    error_mm = shapely.distance(shapely.boundary(polygon_of([ring], 0.0005)), shapely.Point(*(tip * PIXEL_MM)))
    before = ring.cubics[:, 3] - ring.cubics[:, 2]
    after = np.roll(ring.cubics[:, 1] - ring.cubics[:, 0], -1, axis=0)
    turn = np.abs(np.angle((after @ [1, 1j]) / (before @ [1, 1j])))
    near = np.hypot(*(ring.cubics[:, 3] / PIXEL_MM - tip).T) <= 1.0
    return 1000 * float(error_mm), bool((near & (turn > math.radians(180 - angle_deg) / 2)).any())


def main() -> bool:
    random, good = np.random.default_rng(23), True
    print("corner        mean um   greatest   kept")
    for angle_deg, (most_um, least_kept) in BOUNDS.items():
        rows = [tip_of(*wedge(angle_deg, random), angle_deg) for _ in range(EACH)]
        mean, kept = np.mean(rows, axis=0)
        good &= bool(mean <= most_um and kept >= least_kept)
        greatest = max(row[0] for row in rows)
        print(f"{angle_deg:4d} degrees {mean:9.1f}{greatest:11.1f}{kept:7.0%}   bound {most_um:g}, {least_kept:.0%}")
    return good


if __name__ == "__main__":
    sys.exit(0 if main() else 1)
