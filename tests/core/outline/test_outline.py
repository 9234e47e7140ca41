"""Parts, holes, what hangs together, what is too narrow, and how the curve follows."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.sparse.csgraph import minimum_spanning_tree

from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.outline import trace
from honest_edge.core.outline.joining import joining_offset_mm, offered_offset_mm
from honest_edge.core.outline.narrow import narrow_places
from honest_edge.core.outline.outline import deviations, fit_area, greatest_deviation_mm, outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import Correction, OutlineRecipe
from pictures import coverage, disc, levels, star

SIDE = 240
WIDTH_MM = SIDE * 25.4 / 300


def traced(*discs, holes=()):
    cover = sum(coverage(disc(r, x, y), SIDE, SIDE) for r, x, y in discs)
    cover = cover - sum(coverage(disc(r, x, y), SIDE, SIDE) for r, x, y in holes)
    return trace_pixels(levels(np.clip(cover, 0, 1)))


def outlined(area, *corrections, **recipe):
    return outline_of(area, width_px=SIDE, width_mm=WIDTH_MM, recipe=OutlineRecipe(corrections=corrections, **recipe))


def at(kind, x, y):
    return Correction(kind=kind, points=((x / SIDE, y / SIDE),))


THREE = ((60, 80, 120), (20, 190, 60), (4, 200, 200))


def test_parts_are_dropped_and_kept_by_hand_whatever_their_size():
    area = traced(*THREE)
    usual = outlined(area)
    assert [(part.kept, part.fate) for part in usual.parts] == [(True, "kept"), (True, "kept"), (False, "too small")]
    by_hand = outlined(area, at("drop", 190, 60), at("retain", 200, 200))
    assert [(part.kept, part.fate) for part in by_hand.parts] == [(True, "kept"), (False, "by hand"), (True, "by hand")]
    assert by_hand.area.area == pytest.approx(usual.parts[0].polygon.area + usual.parts[2].polygon.area)
    assert outlined(area, at("drop", 190, 60), at("retain", 190, 60)).part_count == 2  # the last step counts


def test_a_step_far_from_every_part_does_nothing():
    assert outlined(traced(*THREE), at("drop", 130, 10)).part_count == 2


def test_dropping_every_part_is_refused_in_words():
    with pytest.raises(BlockedError, match="Every part of the art is left out"):
        outlined(traced((60, 120, 120)), at("drop", 120, 120))


def test_holes_are_cut_and_filled_one_by_one():
    area = traced((100, 120, 120), holes=((30, 90, 120), (12, 160, 120)))
    assert outlined(area).hole_count == 0
    one = outlined(area, at("cut", 160, 120))
    assert (one.hole_count, one.filled_holes) == (1, 1)
    assert one.holes[1].kept
    other = outlined(area, at("fill", 90, 120), hole_mm2=0)
    assert [hole.fate for hole in other.holes] == ["by hand", "kept"]
    assert other.hole_count == 1


def test_an_island_in_a_hole_stays_and_in_a_filled_hole_goes_up():
    area = traced((100, 120, 120), (20, 120, 120), holes=((60, 120, 120),))
    area = shapely.union(area, traced((20, 120, 120)))
    kept = outlined(shapely.MultiPolygon(list(area.geoms)), hole_mm2=0)
    assert (kept.part_count, kept.hole_count) == (2, 1)
    filled = outlined(shapely.MultiPolygon(list(area.geoms)))
    assert (filled.part_count, filled.hole_count) == (1, 0)


@pytest.mark.parametrize("threshold", [0.2, 0.5, 0.8])
def test_the_threshold_moves_a_soft_edge_to_its_level(threshold):
    """Coverage falls linearly over 40 px, so its level lies where the ramp says."""
    x, y = np.meshgrid(np.arange(SIDE) + 0.5, np.arange(SIDE) + 0.5)
    ramp = np.clip((80 - np.hypot(x - 120, y - 120)) / 40 + 0.5, 0, 1)
    area = trace_pixels(levels(ramp), threshold)
    radius = np.sqrt(area.area / np.pi)
    assert radius == pytest.approx(80 + 40 * (0.5 - threshold), abs=0.2)


def test_blocks_join_to_what_one_block_gives(monkeypatch):
    picture = levels(
        coverage(star(110, 44) + np.array([120, 120]), SIDE, SIDE) - coverage(disc(20, 120, 120), SIDE, SIDE)
    )
    whole = trace_pixels(picture, corner_deg=None)
    monkeypatch.setattr(trace, "_BAND_ROWS", 17)
    monkeypatch.setattr(trace, "_BLOCK_COLUMNS", 23)
    blocks = trace_pixels(picture, corner_deg=None)
    assert shapely.symmetric_difference(whole, blocks).area < 1e-6
    assert len(blocks.geoms) == 1
    assert len(blocks.geoms[0].interiors) == 1


def test_noise_joins_across_blocks_as_well(monkeypatch):
    picture = np.random.default_rng(5).integers(0, 255, (150, 190), dtype=np.uint8)
    whole = trace_pixels(picture, corner_deg=None)
    monkeypatch.setattr(trace, "_BAND_ROWS", 31)
    monkeypatch.setattr(trace, "_BLOCK_COLUMNS", 40)
    blocks = trace_pixels(picture, corner_deg=None)
    assert len(blocks.geoms) == len(whole.geoms)
    assert blocks.area == pytest.approx(whole.area, abs=1e-3)


circles = st.lists(
    st.tuples(st.floats(0, 100), st.floats(0, 100), st.floats(0.5, 4)),
    min_size=2,
    max_size=9,
    unique_by=lambda c: c[:2],
)


@given(circles)
@settings(max_examples=40)
def test_the_joining_offset_is_half_the_bottleneck_of_scipys_spanning_tree(found):
    area = shapely.union_all([shapely.Point(x, y).buffer(r, quad_segs=32) for x, y, r in found])
    parts = list(shapely.get_parts(area))
    offset = joining_offset_mm(shapely.MultiPolygon(parts))
    if len(parts) == 1:
        assert offset == 0
        return
    gaps = np.array([[a.distance(b) for b in parts] for a in parts])
    assert offset == pytest.approx(minimum_spanning_tree(gaps).toarray().max() / 2, abs=0.02)
    assert len(offset_area(shapely.MultiPolygon(parts), offset + 0.05).geoms) == 1
    if offset > 0.1:
        assert len(offset_area(shapely.MultiPolygon(parts), offset - 0.05).geoms) > 1


def test_more_parts_than_hang_together_are_not_asked():
    dots = shapely.MultiPolygon([shapely.box(x, y, x + 0.4, y + 0.4) for x in range(25) for y in range(20)])
    assert joining_offset_mm(dots) is None


@pytest.mark.parametrize(("joining", "offered"), [(1.0, 1.1), (1.04, 1.2), (0.0, 0.1)])
def test_the_offered_offset_leaves_a_neck(joining, offered):
    assert offered_offset_mm(joining) == pytest.approx(offered)


def dumbbell(width_mm):
    return shapely.union_all(
        [shapely.box(0, 0, 10, 10), shapely.box(20, 0, 30, 10), shapely.box(9, 4, 21, 4 + width_mm)]
    )


@pytest.mark.parametrize(("width_mm", "count"), [(0.5, 1), (0.75, 1), (0.9, 0), (2.0, 0)])
def test_a_strand_narrower_than_the_blade_is_found(width_mm, count):
    places = narrow_places(shapely.MultiPolygon([dumbbell(width_mm)]), 0.8)
    assert [place.kind for place in places] == ["strand"] * count
    if count:
        assert 9 < places[0].x_mm < 21
        assert places[0].length_mm == pytest.approx(10.5, abs=1.5)


@pytest.mark.parametrize(("gap_mm", "count"), [(0.5, 1), (1.0, 0)])
def test_a_gap_narrower_than_the_blade_is_found(gap_mm, count):
    area = shapely.MultiPolygon([shapely.box(0, 0, 10, 10), shapely.box(10 + gap_mm, 0, 20, 10)])
    assert [place.kind for place in narrow_places(area, 0.8)] == ["gap"] * count


def test_corners_are_not_too_narrow():
    shapes = [shapely.box(0, 0, 10, 10), shapely.Polygon(star(10, 44)), shapely.Point(0, 0).buffer(5)]
    assert all(narrow_places(shapely.MultiPolygon([shape]), 0.8) == () for shape in shapes)
    assert narrow_places(shapely.MultiPolygon([dumbbell(0.1)]), 0.0) == ()


def test_more_smoothness_gives_fewer_nodes_and_the_stated_deviation():
    angle = np.linspace(0, 2 * np.pi, 2000, endpoint=False)
    wavy = (90 + 1.2 * np.sin(16 * angle))[:, None] * np.stack([np.cos(angle), np.sin(angle)], axis=1) + 120
    area = trace_pixels(levels(coverage(wavy, SIDE, SIDE)))
    seen = []
    for smoothness_mm in (0.02, 0.1, 0.4):
        outline = outlined(area, smoothness_mm=smoothness_mm)
        curves = fit_area(outline.area, outline.style)
        deviation = greatest_deviation_mm(curves, outline.area)
        assert deviation <= 1.3 * smoothness_mm + 0.02
        (raw, gaps) = deviations(curves, outline.area)[0]
        assert raw.shape == gaps.shape
        assert np.hypot(*gaps.T).max() == pytest.approx(deviation, abs=1e-3)
        seen.append(sum(curve.node_count for curve in curves))
    assert seen[0] > seen[1] > seen[2]


def test_corners_are_rounded_when_only_sharper_turns_are_to_stay():
    square = levels(coverage(np.array([[40, 40], [200, 40], [200, 200], [40, 200]]), SIDE, SIDE))
    sharp = outlined(trace_pixels(square))
    kept = fit_area(sharp.area, sharp.style)
    assert kept[0].node_count == 4
    soft = outlined(trace_pixels(square, corner_deg=100), corner_deg=100)
    (ring,) = fit_area(soft.area, soft.style)
    before = ring.cubics[:, 3] - ring.cubics[:, 2]
    after = np.roll(ring.cubics[:, 1] - ring.cubics[:, 0], -1, axis=0)
    turn = np.degrees(np.abs(np.angle((after @ [1, 1j]) / (before @ [1, 1j]))))
    assert turn.max() < 60
