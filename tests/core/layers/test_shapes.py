"""Areas of forms and of what is made of them, against closed forms (0.01 % asked for)."""

from __future__ import annotations

import math

import pytest
import shapely

from honest_edge.core.layers.shapes import shape_area
from honest_edge.core.layers.stack import Content, stack_of
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.layers import Layer, Shape

EXACT = 1e-4


def disc(key, radius, x=0.0, **more):
    shape = Shape(kind="oval", width_mm=2 * radius, height_mm=2 * radius)
    return Layer(key=key, shape=shape, x_mm=x, **more)


def stacked(*layers, backing=None):
    return stack_of(layers, {layer.key: Content(area=shape_area(layer.shape)) for layer in layers}, backing)


def lens(a, b, d):
    """Area common to two discs, radii a and b at distance d (Weisstein, Circle-Circle Intersection, eq. 14)."""
    first = a * a * math.acos((d * d + a * a - b * b) / (2 * d * a))
    second = b * b * math.acos((d * d + b * b - a * a) / (2 * d * b))
    root = math.sqrt((-d + a + b) * (d + a - b) * (d - a + b) * (d + a + b))
    return first + second - root / 2


@pytest.mark.parametrize(("a", "b", "d"), [(10, 10, 10), (30, 12, 25), (5, 40, 38)])
def test_union_intersection_and_difference_of_discs_have_their_closed_form_areas(a, b, d):
    both = math.pi * (a * a + b * b)
    assert stacked(disc("a", a), disc("b", b, d)).area.area == pytest.approx(both - lens(a, b, d), rel=EXACT)
    kept = stacked(disc("a", a), disc("b", b, d, joining="intersect")).area
    assert kept.area == pytest.approx(lens(a, b, d), rel=EXACT)
    bitten = stacked(disc("a", a), disc("b", b, d, joining="subtract")).area
    assert bitten.area == pytest.approx(math.pi * a * a - lens(a, b, d), rel=EXACT)


def test_a_disc_that_a_half_plane_cuts_leaves_a_circular_segment():
    box = Layer(key="b", shape=Shape(kind="box", width_mm=200, height_mm=200), x_mm=104, joining="intersect")
    radius, height = 10.0, 6.0  # of the segment: from x = 4 to 10
    segment = radius**2 * math.acos(1 - height / radius) - (radius - height) * math.sqrt(
        2 * radius * height - height**2
    )
    assert stacked(disc("a", radius), box).area.area == pytest.approx(segment, rel=EXACT)


@pytest.mark.parametrize(
    ("shape", "area"),
    [
        (Shape(kind="box", width_mm=40, height_mm=25), 1000.0),
        (Shape(kind="box", width_mm=40, height_mm=25, radius_mm=5), 1000 - (4 - math.pi) * 25),
        (Shape(kind="box", width_mm=40, height_mm=20, radius_mm=99), 20 * 20 + math.pi * 100),  # a stadium
        (Shape(kind="oval", width_mm=60, height_mm=30), math.pi * 450),
        (Shape(kind="polygon", width_mm=20, height_mm=20, points=6), 1.5 * math.sqrt(3) * 100),
        # a five-pointed star is ten triangles with sides R, r and 36 degrees between them
        (Shape(kind="star", width_mm=20, height_mm=20, points=5, depth=0.5), 5 * 10 * 5 * math.sin(math.pi / 5)),
        (Shape(kind="banner", width_mm=60, height_mm=12, depth=0.5), 60 * 12 - 2 * 6 * 6),
        # a square of area 2 on its tip with two half discs of area pi/4, in a box of 1 + root 2 by 1.5 + root 1/2
        (Shape(kind="heart", width_mm=40, height_mm=30), 1200 * (2 + math.pi / 2) / (1 + 2**0.5) / (1.5 + 0.5**0.5)),
        (Shape(kind="oval", width_mm=40, height_mm=40, stroke_mm=3), math.pi * (400 - 289)),
        (Shape(kind="box", width_mm=40, height_mm=25, stroke_mm=2), 1000 - 36 * 21),
        (Shape(kind="box", width_mm=40, height_mm=25, stroke_mm=30), 1000.0),  # as wide as the form: it is filled
    ],
)
def test_forms_have_their_closed_form_areas(shape, area):
    assert shape_area(shape).area == pytest.approx(area, rel=EXACT)


def test_a_tag_keeps_its_eyelet_round_and_inside():
    tag = shape_area(Shape(kind="tag", width_mm=70, height_mm=40, eyelet_mm=5))
    (part,) = tag.geoms
    (hole,) = part.interiors
    assert shapely.Polygon(hole).area == pytest.approx(math.pi * 6.25, rel=EXACT)
    assert shapely.distance(hole, part.exterior) >= 1.99


def test_a_heart_fills_its_box_and_stands_on_its_tip():
    heart = shape_area(Shape(kind="heart", width_mm=40, height_mm=30))
    assert heart.bounds == pytest.approx((-20, -15, 20, 15), abs=0.01)
    assert shapely.intersection(heart, shapely.box(-20, 14, 20, 15)).bounds[2] < 2
    assert not heart.contains(shapely.Point(0, -14.5))  # the notch between the lobes


def test_flipping_mirrors_left_to_right_before_it_turns():
    tag = Shape(kind="tag", width_mm=70, height_mm=40, eyelet_mm=5)  # its eyelet lies left
    (eyelet,) = stacked(Layer(key="a", shape=tag, x_mm=9)).area.geoms[0].interiors
    (flipped,) = stacked(Layer(key="a", shape=tag, x_mm=9, is_flipped=True)).area.geoms[0].interiors
    (turned,) = stacked(Layer(key="a", shape=tag, x_mm=9, is_flipped=True, turn_deg=90)).area.geoms[0].interiors
    away = 9 - eyelet.centroid.x
    assert away > 20
    assert (flipped.centroid.x, flipped.centroid.y) == pytest.approx((9 + away, 0), abs=1e-6)
    assert (turned.centroid.x, turned.centroid.y) == pytest.approx((9, away), abs=1e-6)  # clockwise: right goes down


def test_turning_keeps_the_area_and_goes_clockwise():
    turned = stacked(
        Layer(key="a", shape=Shape(kind="box", width_mm=20, height_mm=4), x_mm=5, y_mm=3, turn_deg=90)
    ).area
    assert turned.bounds == pytest.approx((3, -7, 7, 13))
    banner = Shape(kind="tag", width_mm=20, height_mm=10, eyelet_mm=0)  # shoulders left; clockwise, they go up
    up = stacked(Layer(key="a", shape=banner, turn_deg=90)).area
    assert shapely.intersection(up, shapely.box(-5, -10, 5, -9)).area < 9


def test_forms_that_cannot_be_are_refused_in_words():
    with pytest.raises(BlockedError, match="leaves no rim"):
        shape_area(Shape(kind="tag", width_mm=30, height_mm=10, eyelet_mm=8))
    with pytest.raises(UsageError, match="finished width must be"):
        Shape(kind="box", width_mm=0, height_mm=10)
    with pytest.raises(UsageError, match="exactly one"):
        Layer(key="a")


def test_knocking_out_leaves_the_gap_all_round_and_only_in_the_own_group():
    ground = Shape(kind="box", width_mm=60, height_mm=30)
    word = Shape(kind="oval", width_mm=16, height_mm=16)
    layers = (
        Layer(key="ground", shape=ground, group="word"),
        Layer(key="other", shape=ground, y_mm=10),
        Layer(key="word", shape=word, joining="knock out", gap_mm=1.5, group="word", y_mm=12),
    )
    stack = stacked(*layers)
    below, other, above = (entry.area for entry in stack.entries)
    assert shapely.distance(below, above) == pytest.approx(1.5, abs=0.005)
    assert other.area == pytest.approx(1800)
    assert below.area < 1800


def test_pieces_cut_apart_and_gaps_between_layers_are_counted():
    frame = [
        Layer(key=f"f{n}", shape=Shape(kind="box", width_mm=w, height_mm=h), x_mm=x, y_mm=y)
        for n, (w, h, x, y) in enumerate(((29, 5, 0, -12), (29, 5, 0, 12), (5, 30, -12, 0), (5, 30, 12, 0)))
    ]
    stack = stacked(*frame)
    assert len(stack.area.geoms) == 1
    assert len(stack.apart) == 4  # both uprights whole, of the beams only what lies between
    (gap,) = stack.gaps
    assert gap.area == pytest.approx(19 * 19)
    assert not stack.counters
