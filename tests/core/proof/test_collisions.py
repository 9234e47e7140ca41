"""Words and codes across cuts, over holes, off the edge, under others, too close: each found with its place."""

from dataclasses import replace

import numpy as np
import pytest
import shapely

from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.layers.forms import form_shape
from honest_edge.core.layers.stack import Content
from honest_edge.core.proof.collisions import collisions
from honest_edge.core.values.forms import Form
from honest_edge.core.values.job import KEPT_CLEAR_MM, Design
from honest_edge.core.values.layers import Code, Layer, Lettering, Shape, Sticker

ORIGIN = np.zeros(2)
SHEET = Form(kind="sticker sheet", width_mm=100, height_mm=60, hole_mm=6)
TAG = Form(kind="tag", width_mm=80, height_mm=40, radius_mm=3, hole_mm=5)


def box(width, height):
    return Content(area=as_multipolygon(shapely.box(-width / 2, -height / 2, width / 2, height / 2)))


def words(key, x, y, **more):
    return Layer(key=key, lettering=Lettering(text=key, family="any"), x_mm=x, y_mm=y, **more)


def found(layers, contents, form=SHEET, clear_mm=KEPT_CLEAR_MM):
    design = Design(key="d1", name="sheet", form=form, layers=layers)
    return list(collisions(design, contents, form_shape(form).area, clear_mm, ORIGIN))


def sticker(key, x, y):
    return Layer(key=key, name=key, sticker=Sticker(design="other"), x_mm=x, y_mm=y, joining="knock out")


@pytest.mark.parametrize("order", [(0, 1), (1, 0)])
def test_words_across_a_kiss_cut_above_or_below_the_sticker(order):
    both = (words("title", 0, 0), sticker("bee", 12, 0))
    (finding,) = found(tuple(both[at] for at in order), {"title": box(20, 4), "bee": box(10, 10)})
    assert finding.check == "clash"
    assert "“title” lies across the cut of the sticker “bee”" in finding.message
    assert finding.places[0].bounds_mm == pytest.approx((7, -2, 10, 2))
    assert not found(both, {"title": box(8, 4), "bee": box(10, 10)})


def test_words_over_the_hole_of_a_tag_and_off_its_edge():
    area = form_shape(TAG).area
    (ring,) = area.geoms[0].interiors
    hole = shapely.Polygon(ring).centroid
    (over,) = found((words("price", hole.x, hole.y),), {"price": box(6, 3)}, TAG)
    assert "lies over a hole" in over.message
    assert 5 * 2 < over.places[0].geometry.area < 5 * 3  # a strip of 3 mm through a hole of 5 mm
    (off,) = found((words("name", 38, 0),), {"name": box(10, 3)}, TAG)
    assert "runs off the edge" in off.message


def test_a_code_over_the_price():
    code = Layer(key="code", code=Code(kind="QR", text="tea"), x_mm=5)
    price = words("price", 0, 0)
    contents = {"price": box(10, 3), "code": box(8, 8)}
    (finding,) = found((price, code), contents)
    assert "“price” is covered by “QR: tea”" in finding.message
    (finding,) = found((code, price), contents)  # nor is a code read with words over it
    assert "“QR: tea” is covered by “price”" in finding.message
    assert not found((price, replace(code, joining="subtract")), contents)  # meant


def test_a_drawing_may_touch_a_letter_but_not_hide_it():
    leaf = Layer(key="leaf", shape=Shape(kind="box", width_mm=2, height_mm=3), x_mm=5)
    assert not found((words("thyme", 0, 0), leaf), {"thyme": box(10, 3), "leaf": box(2, 3)})
    assert found((words("thyme", 0, 0), leaf), {"thyme": box(10, 3), "leaf": box(9, 3)})


def test_words_keep_clear_of_cuts_and_one_click_moves_them():
    near = words("title", 0, 26)
    (finding,) = found((near,), {"title": box(20, 4)})
    assert finding.check == "clear"
    assert finding.measured.value == pytest.approx(2.0)
    assert finding.needed.value == KEPT_CLEAR_MM == 3.0
    (moved,) = finding.fix.layers
    assert moved.y_mm == pytest.approx(25.0)
    assert not found((moved,), {"title": box(20, 4)})
    assert not found((near,), {"title": box(20, 4)}, clear_mm=1.5)


def test_stickers_over_each_other_and_off_the_sheet():
    pair = (sticker("bee", 0, 0), sticker("tin", 8, 0))
    (finding,) = found(pair, {"bee": box(10, 10), "tin": box(10, 10)})
    assert "the stickers “bee” and “tin” lie over each other" in finding.message
    (off,) = found((sticker("bee", 48, 0),), {"bee": box(10, 10)})
    assert "runs off its sheet" in off.message


def test_a_cut_through_words():
    slit = Layer(key="slit", shape=Shape(kind="line", width_mm=30, height_mm=1), role="line", line="perforate")
    (finding,) = found((words("name", 0, 0), slit), {"name": box(10, 3), "slit": box(30, 1)})
    assert "goes through “name”" in finding.message
    assert not found((words("name", 0, 0), replace(slit, line="crease")), {"name": box(10, 3), "slit": box(30, 1)})
