"""Open emoji artwork to measure on, fetched by npm and rendered here; nothing of it is committed.

Three packages: @discordapp/twemoji (CC BY 4.0), @iconify-json/noto (Apache-2.0) and @iconify-json/openmoji
(CC BY-SA 4.0). Truth is the alpha
rendered eight times finer and cut at one half; it is kept beside the fetched packages.
"""

from __future__ import annotations

import functools
import io
import itertools
import json
import pickle
import random
import subprocess
import tarfile
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import contourpy
import numpy as np
import resvg_py
import shapely
from PIL import Image

FOLDER = Path(__file__).parent / "corpus"
SIDE_PX, FINER = 600, 8
WIDTH_MM = 50.8  # 600 px = 2 in
PIXEL_MM = WIDTH_MM / SIDE_PX
LEAST_SHARE = 0.03  # pictures that fill less than this are left out; the count is printed
LEAST_RING_PX2 = 4.0  # rings of the truth smaller than this are no outline at this size


@dataclass(frozen=True)
class Artwork:
    name: str
    svg: str
    pixels: np.ndarray
    truth: shapely.MultiPolygon  # in pixels of ``pixels``


def unpacked(package: str) -> Path:
    place = FOLDER / package.strip("@").replace("/", "-")
    if not place.exists():
        place.mkdir(parents=True)
        subprocess.run(["npm", "pack", "--silent", package], cwd=place, check=True, capture_output=True)
        with tarfile.open(next(place.glob("*.tgz"))) as archive:
            archive.extractall(place, filter="data")
    return place / "package"


def twemoji() -> dict[str, str]:
    folder = unpacked("@discordapp/twemoji@16.0.1") / "dist" / "svg"
    return {f"t-{file.stem}": file.read_text() for file in sorted(folder.glob("*.svg"))}


def noto() -> dict[str, str]:
    return _iconify("@iconify-json/noto@1.2.9", "n")


def openmoji() -> dict[str, str]:
    return _iconify("@iconify-json/openmoji@1.2.29", "o")


def _iconify(package: str, letter: str) -> dict[str, str]:
    kept = json.loads((unpacked(package) / "icons.json").read_text())
    spaces = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
    head = f'<svg {spaces} viewBox="0 0 {kept["width"]} {kept["height"]}">'
    return {f"{letter}-{name}": f"{head}{icon['body']}</svg>" for name, icon in sorted(kept["icons"].items())}


def render(svg: str, side: int) -> np.ndarray:
    data = bytes(resvg_py.svg_to_bytes(svg_string=svg, width=side, height=side, dpi=96))
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGBA"))


def artworks(count: int, seed: int = 7) -> Iterator[Artwork]:
    """Yield ``count`` pictures, a third of each package."""
    third = count // 3
    for share, source in ((count - 2 * third, twemoji), (third, noto), (third, openmoji)):
        yield from _of_package(share, source, seed)


def _of_package(count: int, source: Callable[[], dict[str, str]], seed: int) -> Iterator[Artwork]:
    drawings = list(source().items())
    random.Random(seed).shuffle(drawings)
    left_out = 0
    with ProcessPoolExecutor() as pool:
        for made in pool.map(_artwork, drawings[: 2 * count], chunksize=1):
            left_out += made is None
            if made is not None:
                yield made
                count -= 1
            if count == 0:
                pool.shutdown(cancel_futures=True)
                break
    print(f"{source.__name__}: left out for filling less than {LEAST_SHARE:.0%}: {left_out}")


def _artwork(drawing: tuple[str, str]) -> Artwork | None:
    name, svg = drawing
    kept = FOLDER / "truth" / f"{name}.pickle"
    if not kept.exists():
        kept.parent.mkdir(exist_ok=True)
        pixels = render(svg, SIDE_PX)
        full = (pixels[..., 3] >= 128).mean() >= LEAST_SHARE
        made = Artwork(name, svg, pixels, enclosed(render(svg, SIDE_PX * FINER)[..., 3] >= 128)) if full else None
        kept.write_bytes(pickle.dumps(made))
    return pickle.loads(kept.read_bytes())


def enclosed(solid: np.ndarray) -> shapely.MultiPolygon:
    padded = np.pad(solid, FINER).astype(np.float32)
    at = (np.arange(padded.shape[0]) - FINER + 0.5) / FINER
    generator = contourpy.contour_generator(at, at, padded, fill_type=contourpy.FillType.OuterOffset)
    parts = []
    for points, offsets in zip(*generator.filled(0.5, np.inf), strict=True):
        rings = [shapely.Polygon(points[a:b]) for a, b in itertools.pairwise(offsets)]
        rings = [rings[0], *(ring for ring in rings[1:] if ring.area >= LEAST_RING_PX2)]
        if rings[0].area >= LEAST_RING_PX2:
            parts.append(shapely.Polygon(rings[0].exterior, [ring.exterior for ring in rings[1:]]))
    # 1.7 um: far below what is measured, far fewer points
    return shapely.MultiPolygon(list(shapely.simplify(parts, 0.02)))


@functools.cache
def sample(count: int) -> tuple[Artwork, ...]:
    return tuple(artworks(count))
