"""Mutated files of every format: whatever is in them, reading ends in a picture or in one clear line.

Seeded. A bounded number of cases runs with the checks; HONEST_EDGE_FUZZ=560 asks for 10,000 in all.
"""

import io
import os

import numpy as np
import pytest
from PIL import Image

from drawings import flat_psd, pdf, psd, svg
from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.sheet.blade import polyline
from honest_edge.core.values.errors import ArtError, FileError
from honest_edge.core.values.job import Job
from honest_edge.core.values.machine import MACHINES, Machine
from honest_edge.files.cut_files import cut_files
from honest_edge.files.profiles import parse_profile, profile_bytes
from honest_edge.files.project import parse_project, project_bytes
from honest_edge.files.read_art import read_art
from honest_edge.files.read_cut import read_cut
from honest_edge.files.read_table import read_table
from honest_edge.files.sheet_page import SheetPage

pytestmark = pytest.mark.slow

CASES = int(os.environ.get("HONEST_EDGE_FUZZ", "34"))


def picture(kind, **options):
    out = io.BytesIO()
    pixels = np.random.default_rng(1).integers(0, 255, (24, 31, 3), dtype=np.uint8)
    Image.fromarray(pixels).save(out, kind, **options)
    return out.getvalue()


SEEDS = {
    "a.png": picture("PNG", dpi=(300, 300)),
    "a.jpg": picture("JPEG", quality=80, dpi=(72, 72)),
    "a.webp": picture("WEBP"),
    "a.tiff": picture("TIFF"),
    "a.bmp": picture("BMP"),
    "a.svg": svg('<g transform="scale(2)"><path d="M3 3L20 5L9 15Z"/><text x="2" y="9" font-size="4">Tea</text></g>'),
    "a.pdf": pdf(),
    "a.psd": psd(),
    "b.psd": flat_psd(16),
}


def mutated(data, random):
    """Flip, overwrite, cut, double or swap some bytes."""
    held = bytearray(data)
    for _ in range(int(random.integers(1, 5))):
        at, size = int(random.integers(0, len(held))), int(random.integers(1, 12))
        match int(random.integers(0, 5)):
            case 0:
                held[at] ^= 1 << int(random.integers(0, 8))
            case 1:
                held[at : at + size] = random.bytes(size)
            case 2:
                del held[at : at + size]
            case 3:
                held[at:at] = held[at : at + size]
            case 4:
                held = held[: max(9, at)]
    return bytes(held)


@pytest.mark.parametrize("name", SEEDS)
def test_a_mutated_picture_ends_in_a_picture_or_one_line(name):
    random = np.random.default_rng(len(name) + ord(name[2]))
    for case in range(CASES):
        data = mutated(SEEDS[name], random)
        message = "a picture"
        try:
            art = read_art(data, name)
        except ArtError as error:
            message = str(error)
        else:
            assert art.pixels.ndim == 3, case
            assert art.stated_ppi > 0, case
        assert message, case
        assert "\n" not in message, case


def test_a_mutated_project_is_refused_or_read():
    random = np.random.default_rng(9)
    good = project_bytes(Job(title="Fuzz"), {})
    for _ in range(CASES):
        message = ""
        try:
            job = parse_project(mutated(good, random), "a.hedge").job
        except FileError as error:
            message = str(error)
        else:
            assert isinstance(job, Job)
        assert "\n" not in message


def small_sheet():
    square = np.array([(10, 10), (30, 10), (30, 30), (10, 30), (10, 10)], float)
    bow = CurveRing(np.array([[(40, 40), (50, 30), (60, 50), (70, 40)]], float), np.zeros(1, bool), closed=False)
    cuts = {"kiss": (polyline(square),), "crease": (bow,), "through": ()}
    page = SheetPage(width_mm=100, height_mm=80, arts=(), cuts=cuts, marks=())
    return dict(
        next(cut_files([page], Machine(formats=("svg", "dxf", "dxf-spline", "dxf-r12", "plt", "gcode", "pdf"))))
    )


CUTS = small_sheet()


@pytest.mark.parametrize("name", CUTS)
def test_a_mutated_cut_file_ends_in_lines_or_one_line(name, tmp_path):
    random = np.random.default_rng(len(name))
    for case in range(CASES):
        path, message = tmp_path / name, "lines"
        path.write_bytes(mutated(CUTS[name], random))
        try:
            found = read_cut(path, 80.0)
        except FileError as error:
            message = str(error)
        else:
            assert found.lines, case
            assert all(np.isfinite(line).all() for line in found.lines), case
        assert message, case
        assert "\n" not in message, case


def test_a_mutated_table_ends_in_a_table_or_one_line():
    random = np.random.default_rng(6)
    good = b'name;price;batch\nLemon balm;5.20;QW-1\n"Mint, wild";4;QW-2\n'
    for case in range(CASES):
        message = "a table"
        try:
            found = read_table(mutated(good, random), "a.csv")
        except FileError as error:
            message = str(error)
        else:
            assert found.columns, case
        assert message, case
        assert "\n" not in message, case


@pytest.mark.parametrize("suffix", [".toml", ".json"])
def test_a_mutated_profile_ends_in_a_profile_or_one_line(suffix):
    random = np.random.default_rng(5)
    good = profile_bytes(MACHINES[2], suffix)
    for case in range(CASES):
        message = "a profile"
        try:
            found = parse_profile(mutated(good, random), f"a{suffix}")
        except FileError as error:
            message = str(error)
        else:
            assert found.name, case
        assert message, case
        assert "\n" not in message, case
