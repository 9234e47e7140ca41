"""How exact the offset is: distances from the moved outline back to the outline, on open artworks, in and out.

Bound: 10 um, at every sampled place. shapely's own buffer with its default 8 chords a quarter runs beside it.
"""

from __future__ import annotations

import sys

import numpy as np
import shapely
from corpus import PIXEL_MM, artworks

from honest_edge.core.geometry.offset import offset_area

DISTANCES_MM, STEP_MM, BOUND_UM = (-0.5, -1.0, 1.0, 3.0), 0.1, 10.0


def strays_um(area: shapely.Geometry, moved: shapely.Geometry, distance_mm: float) -> np.ndarray:
    ends = [shapely.get_coordinates(ring) for ring in shapely.get_rings(shapely.get_parts(area))]
    pieces = shapely.linestrings(np.concatenate([np.stack([ring[:-1], ring[1:]], axis=1) for ring in ends]))
    points = shapely.points(shapely.get_coordinates(shapely.segmentize(shapely.boundary(moved), STEP_MM)))
    (asked, _), away = shapely.STRtree(pieces).query_nearest(points, return_distance=True, all_matches=False)
    assert len(asked) == len(points)
    return 1000 * np.abs(away - abs(distance_mm))


def main(count: int = 8) -> bool:
    arts, good = list(artworks(count)), True
    print(f"{count} artworks   offset mm   ours: mean  greatest um   8 chords: greatest um")
    for distance in DISTANCES_MM:
        ours, plain = [], []
        for art in arts:
            area = shapely.transform(art.truth, lambda p: p * PIXEL_MM)
            moved = offset_area(area, distance)
            if not moved.is_empty:
                ours.append(strays_um(area, moved, distance))
                plain.append(strays_um(area, shapely.buffer(area, distance, quad_segs=8), distance).max())
        found = np.concatenate(ours)
        good &= bool(found.max() <= BOUND_UM)
        print(f"{distance:23.1f}{found.mean():12.2f}{found.max():10.2f}{max(plain):19.1f}     bound {BOUND_UM:.0f}")
    return good


if __name__ == "__main__":
    sys.exit(0 if main(*map(int, sys.argv[1:])) else 1)
