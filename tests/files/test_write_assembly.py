"""How pieces are glued: each lies in its place, its number in it, its name below."""

import re

import pytest
import shapely
from lxml import etree
from svgelements import Path

from honest_edge.files.write_assembly import assembly_svg

SVG_NAME = "{http://www.w3.org/2000/svg}"


def test_parts_lie_as_they_do_on_each_other_and_all_names_stand_below():
    base = shapely.MultiPolygon([shapely.box(10, 20, 110, 70) - shapely.box(30, 40, 40, 50)])
    leaf = shapely.MultiPolygon([shapely.box(100, 60, 130, 90)])
    text = assembly_svg("Tag & more", [("Base", base), ("Leaf <1>", leaf)])
    page = etree.fromstring(text)
    width, height = (float(page.get(name).removesuffix("mm")) for name in ("width", "height"))
    assert [float(number) for number in page.get("viewBox").split()] == [0, 0, width, height]
    outlines = [Path(one.get("d")).bbox() for one in page.iter(f"{SVG_NAME}path")]
    (x, y, *_), _ = outlines
    for (left, top, right, bottom), area in zip(outlines, (base, leaf), strict=True):
        assert (left - x + 10, top - y + 20, right - x + 10, bottom - y + 20) == pytest.approx(area.bounds, abs=1e-3)
        assert min(left, top, width - right, height - bottom) > 0
    words = [
        ("".join(one.itertext()), float(one.get("x")), float(one.get("y"))) for one in page.iter(f"{SVG_NAME}text")
    ]
    numbers = {text: (a, b) for text, a, b in words if re.fullmatch(r"\d", text)}
    for number, area in (("1", base), ("2", leaf)):
        at = shapely.Point(numbers[number][0] - x + 10, numbers[number][1] - y + 20)
        assert area.buffer(1e-3).contains(at)
    below = [y for text, _, y in words if text in ("1  Base", "2  Leaf <1>")]
    assert len(below) == 2
    assert max(bottom for *_, bottom in outlines) < below[0] < below[1] < height
    assert words[0][0].startswith("Tag & more")
