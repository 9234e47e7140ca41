"""A picture inside a form lies where it was put: printed and shown alike; the truth is worked out by hand."""

import math

import numpy as np
import pytest
import shapely

from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.layers.arrange import fill_moved, fill_scaled, scaled
from honest_edge.core.layers.paint import fill_matrix, inked, printed_ppi
from honest_edge.core.layers.stack import Content, Entry, layer_matrix
from honest_edge.core.values.layers import FillPlace, Layer, Paint, Shape

PIXEL_MM = 0.1


def entry_of(layer):
    """A form of 40 x 20 mm filled with a white picture of 80 x 40 px with one dark spot at (60.5, 10.5) px."""
    fill = np.full((40, 80, 4), 255, np.uint8)
    fill[9:12, 59:62, :3] = 0
    area = as_multipolygon(shapely.box(-20, -10, 20, 10))
    return Entry(
        layer=layer,
        area=area,
        lost=shapely.MultiPolygon(),
        content=Content(area=area, fill=fill),
        matrix=layer_matrix(layer),
        rgb=(200, 30, 30),
        repeat_mm=layer.paint.repeat_mm,
        place=layer.paint.place,
    )


def box_with(place, **more):
    shape = Shape(kind="box", width_mm=40, height_mm=20)
    return Layer(key="a", shape=shape, paint=Paint(asset="x", place=place, **more))


def spot(entry):
    """Where the dark spot is printed, in millimetres from the form's middle."""
    pixels = inked(entry, (600, 800), (-40.0, -30.0), PIXEL_MM)
    dark = (pixels[..., :3].max(axis=2) < 100) & (pixels[..., 3] > 0)
    ys, xs = np.nonzero(dark)
    assert len(xs)
    return (xs.mean() + 0.5) * PIXEL_MM - 40, (ys.mean() + 0.5) * PIXEL_MM - 30


@pytest.mark.parametrize(
    ("place", "expected"),
    [
        (FillPlace(), (10.25, -4.75)),  # 0.5 mm a pixel covers the form; the picture's middle is at (40, 20) px
        (FillPlace(x_mm=-12, y_mm=3), (-1.75, -1.75)),
        (FillPlace(zoom=1.5, x_mm=-12, y_mm=3), (10.25 * 1.5 - 12, -4.75 * 1.5 + 3)),
        (FillPlace(turn_deg=90), (4.75, 10.25 - 20.5 + 10.25)),
        (FillPlace(zoom=0.5, turn_deg=30), None),
    ],
)
def test_a_spot_of_the_picture_is_printed_where_it_was_put(place, expected):
    entry = entry_of(box_with(place))
    if expected is None or place.turn_deg:
        turn, x, y = math.radians(place.turn_deg), 10.25 * place.zoom, -4.75 * place.zoom
        expected = x * math.cos(turn) - y * math.sin(turn), x * math.sin(turn) + y * math.cos(turn)
    if abs(expected[1]) < 9.5:
        assert spot(entry) == pytest.approx(expected, abs=0.1)
    matrix = fill_matrix(entry)  # what the table shows
    assert matrix @ [60.5, 10.5, 1] == pytest.approx(expected, abs=1e-6)


def test_beside_the_picture_lies_the_plain_colour_and_a_larger_one_is_softer():
    entry = entry_of(box_with(FillPlace(x_mm=30)))
    pixels = inked(entry, (600, 800), (-40.0, -30.0), PIXEL_MM)
    assert tuple(pixels[300, 250, :3]) == (200, 30, 30)  # 15 mm left of the middle
    assert printed_ppi(entry_of(box_with(FillPlace(zoom=2)))) == pytest.approx(printed_ppi(entry) / 2)


def test_a_pattern_is_moved_and_turned():
    entry = entry_of(box_with(FillPlace(x_mm=3, turn_deg=90), repeat_mm=40.0))
    assert fill_matrix(entry) @ [60.5, 10.5, 1] == pytest.approx((-17 - 5.25, -10 + 30.25))
    at = spot(entry_of(box_with(FillPlace(x_mm=3, y_mm=2), repeat_mm=40.0)))
    assert at == pytest.approx((-20 + 3 + 30.25, -10 + 2 + 5.25), abs=0.15)


@pytest.mark.parametrize("turn_deg", [0.0, 90.0, 37.0])
def test_a_drag_moves_the_picture_as_far_as_the_hand_whatever_the_turn_of_its_form(turn_deg):
    layer = box_with(FillPlace(zoom=1.3, turn_deg=20))
    layer = layer.__class__(**{**{f: getattr(layer, f) for f in layer.__dataclass_fields__}, "turn_deg": turn_deg})

    def at(changed):
        entry = entry_of(changed)
        whole = np.vstack([entry.matrix, [0, 0, 1]]) @ np.vstack([fill_matrix(entry), [0, 0, 1]])
        return (whole @ [60.5, 10.5, 1])[:2]

    assert at(fill_moved(layer, 4.0, -7.0)) - at(layer) == pytest.approx((4.0, -7.0), abs=1e-3)
    assert fill_scaled(layer, 2.0).paint.place.zoom == pytest.approx(2.6)
    grown = scaled(fill_moved(layer, 4.0, 0.0), 2.0)  # the form grows, and the picture in it with it
    assert math.hypot(grown.paint.place.x_mm, grown.paint.place.y_mm) == pytest.approx(8.0, abs=1e-3)
