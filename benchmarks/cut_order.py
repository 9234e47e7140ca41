"""The way of the lifted blade over a sheet, against the naive order and a tour library, in the same run."""

from __future__ import annotations

import sys

import fast_tsp
import numpy as np
from sheets import LETTER, footprint, of_random_sizes, outlines

from honest_edge.core.geometry.fitting import fit_ring
from honest_edge.core.geometry.paths import rings_of
from honest_edge.core.sheet.cut_order import ordered, travel_mm
from honest_edge.core.sheet.fit import fit

HOME = (0.0, 0.0)
FAR = 30_000  # keeps home at the end of the reference's way; distances are counted in 0.05 mm


def rings_on(page, designs):
    found = []
    for placement in page:
        for ring in rings_of(designs[placement.design].area):
            curve = fit_ring(ring, tolerance_mm=0.1, pixel_mm=0.1)
            if np.ptp(ring, axis=0).max() > 2:
                found.append(curve.placed(placement.matrix))
    return found


def reference_mm(rings) -> float:
    """Return the shortest way that the library finds through the same starting points, from home, its end free."""
    points = np.array([HOME, *(ring.cubics[0, 0] for ring in rings)])
    apart = np.hypot(*(points[:, None] - points[None]).transpose(2, 0, 1)) * 20
    apart = np.pad(apart, ((0, 1), (0, 1)), constant_values=FAR)
    apart[0, -1] = apart[-1, 0] = apart[-1, -1] = 0
    matrix = apart.round().astype(int)
    tour = fast_tsp.find_tour(matrix.tolist(), duration_seconds=3.0)
    return (fast_tsp.compute_cost(tour, matrix.tolist()) - FAR) / 20


def main() -> int:
    areas = outlines()
    sheets = {
        "24 designs": [footprint(index, area, 1) for index, area in enumerate(areas)],
        "small ones": [footprint(0, of_random_sizes()[21], 0, fills=True)],
        "stars": [footprint(0, of_random_sizes()[15], 0, fills=True)],
    }
    missed = False
    for name, designs in sheets.items():
        rings = rings_on(fit(designs, LETTER).pages[0], designs)
        made = ordered(rings, HOME)
        naive, ours, best = travel_mm(rings, HOME), travel_mm(made, HOME), reference_mm(made)
        missed |= ours > 0.5 * naive or ours > 1.1 * best
        print(f"{name}, {len(rings)} rings: {ours:.0f} mm; {ours / naive:.2f} of naive (bound 0.5), ", end="")
        print(f"{ours / best:.3f} of the tour library (bound 1.1)")
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main())
