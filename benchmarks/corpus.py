"""Open emoji artwork to measure on, fetched by npm and rendered here; nothing of it is committed.

The package @discordapp/twemoji holds SVG drawings under CC BY 4.0. Truth is the alpha rendered eight times
finer and cut at one half.
"""

from __future__ import annotations

import io
import random
import subprocess
import tarfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import contourpy
import numpy as np
import resvg_py
import shapely
from PIL import Image

FOLDER = Path(__file__).parent / "corpus"
PACKAGE = "@discordapp/twemoji@16.0.1"
SIDE_PX, FINER = 600, 8
WIDTH_MM = 50.8  # 600 px = 2 in
LEAST_SHARE = 0.03  # pictures that fill less than this are left out; the count is printed


@dataclass(frozen=True)
class Artwork:
    name: str
    pixels: np.ndarray
    truth: shapely.MultiLineString  # boundary in pixels of ``pixels``


def fetch() -> Path:
    place = FOLDER / "package" / "dist" / "svg"
    if not place.exists():
        FOLDER.mkdir(parents=True, exist_ok=True)
        subprocess.run(["npm", "pack", "--silent", PACKAGE], cwd=FOLDER, check=True, stdout=subprocess.DEVNULL)
        with tarfile.open(next(FOLDER.glob("*.tgz"))) as archive:
            archive.extractall(FOLDER, filter="data")
    return place


def render(svg: str, side: int) -> np.ndarray:
    data = bytes(resvg_py.svg_to_bytes(svg_string=svg, width=side, height=side, dpi=96))
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGBA"))


def artworks(count: int, seed: int = 7) -> Iterator[Artwork]:
    files = sorted(fetch().glob("*.svg"))
    random.Random(seed).shuffle(files)
    left_out = 0
    for file in files:
        if count == 0:
            break
        svg = file.read_text()
        pixels = render(svg, SIDE_PX)
        if (pixels[..., 3] >= 128).mean() < LEAST_SHARE:
            left_out += 1
            continue
        count -= 1
        yield Artwork(file.stem, pixels, boundary(render(svg, SIDE_PX * FINER)[..., 3] >= 128))
    print(f"left out for filling less than {LEAST_SHARE:.0%}: {left_out}")


def boundary(solid: np.ndarray) -> shapely.MultiLineString:
    padded = np.pad(solid, FINER).astype(np.float32)
    at = (np.arange(padded.shape[0]) - FINER + 0.5) / FINER
    lines = contourpy.contour_generator(at, at, padded).lines(0.5)
    whole = shapely.MultiLineString([line for line in lines if len(line) > 2])
    return shapely.simplify(whole, 0.02)  # 1.7 um: far below what is measured, far fewer points
