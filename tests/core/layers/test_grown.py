"""Grown copies follow what they grow from; the truth is shapely's buffer of the exact form."""

from dataclasses import replace

import pytest
import shapely
import shapely.affinity

from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.layers.arrange import all_scaled, duplicated, with_grown_copy, without
from honest_edge.core.layers.grown import grown_content, in_order, sources_of
from honest_edge.core.layers.stack import Content, layer_matrix, placed
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.layers import Grown, Layer, Shape

BOX = Content(area=as_multipolygon(shapely.box(-10, -5, 10, 5)))
SOURCE = Layer(key="l1", shape=Shape(kind="box", width_mm=20, height_mm=10), x_mm=7, y_mm=-3, turn_deg=30)
CREAM = (247, 237, 214)


def grown_of(layers, copy):
    contents = {"l1": BOX}
    for layer in in_order(layers):
        contents[layer.key] = grown_content(layer, layers, contents)
    return placed(contents[copy].area, layer_matrix(next(layer for layer in layers if layer.key == copy)))


@pytest.mark.parametrize("grow_mm", [2.0, -1.5])
def test_a_copy_is_the_placed_outline_grown_and_shifted(grow_mm):
    layers, key = with_grown_copy((SOURCE,), "l1", grow_mm, CREAM)
    assert [layer.key for layer in layers] == [key, "l1"]  # right below it
    truth = shapely.buffer(placed(BOX.area, layer_matrix(SOURCE)), grow_mm, quad_segs=200)
    found = grown_of(layers, key)
    assert shapely.hausdorff_distance(shapely.boundary(found), shapely.boundary(truth)) <= 0.01
    shifted = tuple(replace(layer, x_mm=1.0, y_mm=2.0) if layer.key == key else layer for layer in layers)
    moved = shapely.affinity.translate(found, 1.0, 2.0)
    assert shapely.symmetric_difference(grown_of(shifted, key), moved).area < 1e-6


def test_it_follows_what_it_grows_from_and_goes_with_it():
    layers, key = with_grown_copy((SOURCE,), "l1", 2.0, CREAM)
    before = grown_of(layers, key)
    moved = tuple(replace(layer, x_mm=layer.x_mm + 4) if layer.key == "l1" else layer for layer in layers)
    assert grown_of(moved, key).bounds[0] == pytest.approx(before.bounds[0] + 4)
    other = Layer(key="z", shape=Shape(kind="box", width_mm=3, height_mm=3))
    assert without((*layers, other), ("l1",)) == (other,)
    doubled, made = duplicated(layers, (key, "l1"))
    copy = next(layer for layer in doubled if layer.key in made and layer.grown is not None)
    assert copy.grown.of in (*made, "l1")
    larger = all_scaled(layers, 1.5)
    assert next(layer for layer in larger if layer.grown).grown.grow_mm == 3.0


def test_one_may_grow_from_another_but_not_from_itself():
    layers, first = with_grown_copy((SOURCE,), "l1", 2.0, CREAM)
    layers, second = with_grown_copy(layers, first, 1.0, CREAM)
    assert [layer.key for layer in in_order(layers)] == [first, second]
    truth = shapely.buffer(placed(BOX.area, layer_matrix(SOURCE)), 3.0, quad_segs=200)
    found = grown_of(layers, second)
    assert shapely.hausdorff_distance(shapely.boundary(found), shapely.boundary(truth)) <= 0.02
    assert [layer.key for layer in sources_of(layers[0], layers)] == ["l1", first]
    ring = (replace(layers[0], grown=Grown(of=first)), replace(layers[1], grown=Grown(of=second)))
    with pytest.raises(BlockedError, match="not there any more"):
        grown_content(in_order(ring)[0], ring, {})
    with pytest.raises(BlockedError, match="Nothing is left of"):
        grown_content(replace(layers[1], grown=Grown(of="l1", grow_mm=-8)), layers, {"l1": BOX})
