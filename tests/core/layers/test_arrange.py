"""Moving, ordering, aligning and grouping layers."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.layers.arrange import (
    aligned,
    all_scaled,
    distributed,
    duplicated,
    grouped,
    moved,
    restacked,
    scaled,
    snapped,
    with_groups,
    without,
)
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.layers import Layer, Lettering, Shape


def box(key, x, y, w=10.0, h=4.0, **more):
    return Layer(key=key, shape=Shape(kind="box", width_mm=w, height_mm=h), x_mm=x, y_mm=y, **more)


def boxes(layers):
    return {
        layer.key: (
            layer.x_mm - layer.shape.width_mm / 2,
            layer.y_mm - layer.shape.height_mm / 2,
            layer.x_mm + layer.shape.width_mm / 2,
            layer.y_mm + layer.shape.height_mm / 2,
        )
        for layer in layers
    }


LAYERS = (box("a", 0, 0), box("b", 30, 5, w=20), box("c", 44, 30, h=8), box("d", 100, 1, w=2))
ALL = ("a", "b", "c", "d")


@pytest.mark.parametrize(("side", "index"), [("left", 0), ("right", 2), ("top", 1), ("bottom", 3)])
def test_aligning_brings_one_side_of_all_to_the_outermost(side, index):
    done = boxes(aligned(LAYERS, ALL, boxes(LAYERS), side))
    before = [b[index] for b in boxes(LAYERS).values()]
    wanted = min(before) if index < 2 else max(before)
    assert [b[index] for b in done.values()] == pytest.approx([wanted] * 4)


def test_middles_align_and_gaps_become_equal():
    middles = aligned(LAYERS, ALL, boxes(LAYERS), "middle")
    assert len({layer.x_mm for layer in middles}) == 1
    even = sorted(boxes(distributed(LAYERS, ALL, boxes(LAYERS), 0)).values())
    gaps = [second[0] - first[2] for first, second in pairwise(even)]
    assert gaps == pytest.approx([gaps[0]] * 3, abs=1e-3)
    assert (even[0], even[-1]) == (boxes(LAYERS)["a"], boxes(LAYERS)["d"])
    with pytest.raises(UsageError, match="three layers"):
        distributed(LAYERS, ("a", "b"), boxes(LAYERS), 0)


def test_groups_move_and_align_as_one_and_locked_layers_stay():
    layers = grouped(LAYERS, ("a", "b"))
    assert with_groups(layers, ("b",)) == ("a", "b")
    done = aligned(layers, ALL, boxes(layers), "right")
    assert done[1].x_mm - done[0].x_mm == pytest.approx(30)
    locked = (box("a", 0, 0, is_locked=True), box("b", 1, 1))
    assert moved(locked, ("a", "b"), 5, 5)[0] == locked[0]
    assert moved(locked, ("a", "b"), 5, 5)[1].x_mm == 6
    assert [layer.key for layer in without(locked, ("a", "b"))] == ["a"]
    with pytest.raises(UsageError, match="at least one layer"):
        without(LAYERS, ALL)


def test_duplicates_get_keys_and_groups_of_their_own():
    grown, made = duplicated(grouped(LAYERS, ("a", "b")), ("a", "b"))
    copies = [layer for layer in grown if layer.key in made]
    assert len({layer.key for layer in grown}) == 6
    assert len({layer.group for layer in copies}) == 1
    assert copies[0].group != grown[0].group


@given(st.sets(st.sampled_from(ALL)), st.sampled_from([1, -1]))
def test_restacking_keeps_every_layer_and_the_order_among_the_chosen(keys, by):
    done = restacked(LAYERS, keys, by)
    assert sorted(layer.key for layer in done) == sorted(ALL)
    assert [layer.key for layer in done if layer.key in keys] == [k for k in ALL if k in keys]
    back = restacked(done, keys, -by)
    assert sorted(layer.key for layer in back) == sorted(ALL)


def test_restacking_moves_by_one_and_stops_at_the_ends():
    assert [layer.key for layer in restacked(LAYERS, ("a",), 1)] == ["b", "a", "c", "d"]
    assert restacked(LAYERS, ("d",), 1) == LAYERS
    assert [layer.key for layer in restacked(LAYERS, ("c", "d"), -1)] == ["a", "c", "d", "b"]


def test_snapping_finds_edges_middles_and_equal_gaps():
    others = [(0.0, 0.0, 10.0, 4.0), (15.0, 0.0, 25.0, 4.0)]
    mine = (50.0, 40.0, 60.0, 44.0)
    edge = snapped(mine, others, -49.6, 0, 1.0)
    assert (edge.across_mm, edge.x_mm) == (pytest.approx(-50), 0)
    gap = snapped(mine, others, -19.7, -39.8, 1.0)  # a third in the row: 5 mm past the second
    assert (50 + gap.across_mm, 40 + gap.down_mm) == pytest.approx((30, 0))
    free = snapped(mine, others, 30, 30, 1.0)
    assert (free.across_mm, free.x_mm, free.y_mm) == (30, None, None)
    assert snapped(mine, [], 1, 2, 5).across_mm == 1


def test_scaling_keeps_the_middle_and_scales_the_whole():
    words = Layer(key="w", lettering=Lettering(text="Tea", family="x", arc_mm=20), x_mm=3, y_mm=4)
    assert scaled(words, 2).lettering.size_mm == 16
    assert scaled(words, 2).lettering.arc_mm == 40
    assert (scaled(words, 2).x_mm, all_scaled((words,), 2)[0].x_mm) == (3, 6)
