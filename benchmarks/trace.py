"""Time of trace + 3 mm offset + fit against the potrace algorithm (PyPI potracer) on the same pictures.

Bounds: 0.9 of its time at 600 px = 2 in, 0.6 at 2400 px. Processor time of one thread, in pairs.
"""

from __future__ import annotations

import statistics
import sys
import time

import numpy as np
import potrace
from corpus import SIDE_PX, WIDTH_MM, artworks, render

from honest_edge.core.geometry.offset import offset_area, without_grain
from honest_edge.core.outline.outline import fit_area, outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.specs import OutlineRecipe

ALL = OutlineRecipe(speck_mm2=0, hole_mm2=0)
OFFSET_MM = 3.0


def ours(alpha: np.ndarray) -> float:
    start = time.process_time()
    outline = outline_of(trace_pixels(alpha), width_px=alpha.shape[1], width_mm=WIDTH_MM, recipe=ALL)
    fit_area(offset_area(without_grain(outline.area), OFFSET_MM), outline.style.of_offset)
    return time.process_time() - start


def theirs(alpha: np.ndarray) -> float:
    solid = alpha >= 128
    start = time.process_time()
    potrace.Bitmap(~solid).trace(turdsize=0)  # it traces what is False
    return time.process_time() - start


def main() -> bool:
    arts, good = list(artworks(48)), True
    print("px      pictures     ours s   potracer s   ratio of sums   pairs, median")
    for side, step, bound in ((SIDE_PX, 1, 0.9), (2400, 8, 0.6)):
        pictures = [art.pixels[..., 3] if side == SIDE_PX else render(art.svg, side)[..., 3] for art in arts[::step]]
        ours(pictures[0])  # the first call loads what the others use
        pairs = [(ours(alpha), theirs(alpha)) for alpha in pictures]
        mine, other = np.sum(pairs, axis=0)
        median = statistics.median(a / b for a, b in pairs)
        good &= bool(mine <= bound * other)
        print(
            f"{side:5d}{len(pairs):10d}{mine / len(pairs):13.3f}{other / len(pairs):13.3f}{mine / other:13.2f}"
            f"{median:15.2f}    bound {bound:.2f}"
        )
    return good


if __name__ == "__main__":
    sys.exit(0 if main() else 1)
