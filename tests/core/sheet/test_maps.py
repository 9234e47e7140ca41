"""The parts that a layout is made of, each against shapely's exact geometry."""

import itertools
import math

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.sheet.first_fit import snuggest
from honest_edge.core.sheet.grid import Filling, Grid, GridPosition
from honest_edge.core.sheet.media import Box
from honest_edge.core.sheet.nofit import NestPiece, NoFit, Turned, simple_outline
from honest_edge.core.sheet.rectangles import RULES, FreeSpace
from honest_edge.core.sheet.settle import Laid, lying, most_crowded, settle

ROOM = Box(10.0, 20.0, 90.0, 130.0)


def blob(radii):
    """A shape about the origin with a corner every few degrees, often not convex."""
    angles = np.linspace(0, 2 * np.pi, len(radii), endpoint=False)
    return shapely.Polygon(np.column_stack([radii * np.cos(angles), radii * np.sin(angles)]))


blobs = st.lists(st.floats(4, 14), min_size=5, max_size=11).map(lambda radii: blob(np.array(radii)))


def piece(shape, *, reach=0.0, quarters=(0,)):
    left, top, right, bottom = shape.bounds
    middle = ((left + right) / 2, (top + bottom) / 2)
    area = as_multipolygon(shape)
    return NestPiece(design=0, polygon=simple_outline(area, middle), middle=middle, reach_mm=reach, quarters=quarters)


def maps(shapes, gap=2.5, **more):
    return NoFit([piece(shape, **more) for shape in shapes], gap, pitch_mm=1.0, finer=2)


def moved(nofit, turned, x, y):
    return shapely.transform(nofit.polygon(turned), lambda points: points + np.array([x, y]))


@given(st.lists(st.floats(5, 30), min_size=60, max_size=150), st.tuples(st.floats(-50, 50), st.floats(-50, 50)))
@settings(max_examples=30)
def test_a_simpler_outline_holds_the_true_one_and_hardly_more(radii, middle):
    true = blob(np.array(radii))
    simple = simple_outline(as_multipolygon(true), middle)
    back = shapely.transform(simple, lambda points: points + np.array(middle))
    assert back.buffer(1e-6).covers(true)
    assert true.buffer(0.2).covers(back)


def test_an_outline_loses_its_holes():
    ring = shapely.Point(0, 0).buffer(10).difference(shapely.Point(0, 0).buffer(6))
    assert simple_outline(as_multipolygon(ring), (0, 0)).area == pytest.approx(np.pi * 100, rel=0.02)


@given(blobs, blobs, st.floats(0, 4), st.integers(0, 3), st.integers(0, 3))
@settings(max_examples=25, deadline=None)
def test_a_map_tells_exactly_where_a_shape_is_free_but_for_its_grid(one, two, gap, first, second):
    """To a cell and a half of the rasters: free keep the gap but for 0.75 mm, taken ones lack it to 0.75 √2."""
    nofit = maps([one, two], gap, quarters=(0, 1, 2, 3))
    still, other = Turned(0, 0, first), Turned(1, 0, second)
    depth = nofit.depth(still, other)
    half = len(depth) // 2
    for row, column in np.random.default_rng(1).integers(0, len(depth), (40, 2)):
        apart = shapely.distance(nofit.polygon(still), moved(nofit, other, column - half, row - half))
        if depth[row, column] <= 0:
            assert apart >= gap - 0.75
        else:
            assert apart <= max(gap, 0.8) + 0.75 * math.sqrt(2)


@given(blobs, blobs)
@settings(max_examples=5, deadline=None)
def test_maps_found_at_once_are_those_found_one_by_one(one, two):
    turns = [Turned(piece, 0, quarter) for piece in (0, 1) for quarter in range(4)]
    pairs = list(itertools.product(turns, repeat=2))
    alone, together = (maps([one, two], quarters=(0, 1, 2, 3)) for _ in range(2))
    together.find(pairs)
    assert all(together.knows(*pair) and not alone.knows(*pair) for pair in pairs)
    for pair in pairs:
        np.testing.assert_array_equal(together.depth(*pair), alone.depth(*pair))


@given(blobs, blobs)
@settings(max_examples=15, deadline=None)
def test_what_keeps_one_from_the_other_keeps_the_other_from_the_one(one, two):
    nofit = maps([one, two])
    a, b = Turned(0, 0, 0), Turned(1, 0, 0)
    assert np.array_equal(nofit.depth(a, b), nofit.depth(b, a)[::-1, ::-1])
    assert nofit.depth(a, b)[len(nofit.depth(a, b)) // 2, len(nofit.depth(a, b)) // 2] > 0  # on top of each other


@given(st.lists(blobs, min_size=2, max_size=6), st.floats(0, 2))
@settings(max_examples=15, deadline=None)
def test_filling_a_sheet_piece_by_piece_and_settling_keeps_every_gap(shapes, reach):
    nofit = maps(shapes, reach=reach)
    corner = shapely.box(ROOM.left, ROOM.top, ROOM.left + 20, ROOM.top + 20)
    grid = Grid(ROOM, [corner], nofit)
    filling = Filling(grid)
    for number in range(len(shapes)):
        position = snuggest(filling, nofit.options[number])
        assume(position is not None)
        filling.lay(position)
    laid = settle([Laid(s.turned.piece, 0.0, *grid.place(s)) for s in filling.positions], grid)
    assume(laid is not None)
    cuts = [lying(nofit.pieces[one.piece].polygon, one) for one in laid]
    for one, two in itertools.combinations(cuts, 2):
        assert one.distance(two) >= max(2.5, 2 * reach) - 1e-5
    for cut in cuts:
        assert shapely.box(*ROOM).buffer(1e-6).covers(shapely.box(*cut.bounds).buffer(max(reach - 1e-6, 0)))
        assert cut.distance(corner) >= reach - 1e-5


@given(blobs, blobs, st.floats(-0.6, 0.6), st.floats(-0.6, 0.6))
@settings(max_examples=25, deadline=None)
def test_settling_moves_pieces_no_farther_than_they_are_too_near(one, two, dx, dy):
    nofit = maps([one, two])
    grid = Grid(ROOM, [], nofit)
    right = nofit.bounds(Turned(0, 0, 0))[2] + 2.5 - nofit.bounds(Turned(1, 0, 0))[0]  # boxes a gap apart
    start = [Laid(0, 0.0, 35.0, 70.0), Laid(1, 0.0, 35.0 + right + dx, 70.0 + dy)]
    laid = settle(start, grid)
    assert laid is not None
    first, second = (lying(nofit.pieces[p.piece].polygon, p) for p in laid)
    assert first.distance(second) >= 2.5 - 1e-5
    for before, after in zip(start, laid, strict=True):
        assert np.hypot(after.x_mm - before.x_mm, after.y_mm - before.y_mm) <= 0.7


def test_a_pinned_piece_stays_and_what_cannot_be_parted_is_given_up():
    square = shapely.box(-20, -20, 20, 20)
    nofit = maps([square, square, square])
    grid = Grid(ROOM, [], nofit)
    pin, near = Laid(0, 0.0, 40.0, 60.0, is_pinned=True), Laid(1, 0.0, 40.0, 102.0)
    laid = settle([pin, near], grid)
    assert laid[0] == pin
    assert laid[1].y_mm == pytest.approx(102.5, abs=0.01)
    crowd = [pin, near, Laid(2, 0.0, 45.0, 80.0)]  # three squares of 40 mm find no room in 80 x 110 mm so
    assert settle(crowd, grid) is None
    assert most_crowded(crowd, grid) == 2


@given(
    st.lists(st.tuples(st.floats(0.05, 0.6), st.floats(0.05, 0.6)), min_size=1, max_size=25),
    st.sampled_from(RULES),
)
@settings(max_examples=40)
def test_boxes_never_overlap_and_what_is_free_is_all_that_is_left(sizes, rule):
    room, taken = FreeSpace([ROOM]), []
    for share_x, share_y in sizes:
        width, height = share_x * ROOM.width, share_y * ROOM.height
        found = room.best([(width, height)], rule)
        if found is not None:
            assert found[1].width == pytest.approx(width)
            room.take(found[1])
            taken.append(shapely.box(*found[1]))
    for one, two in itertools.combinations(taken, 2):
        assert one.intersection(two).area < 1e-6
    free = shapely.union_all([shapely.box(*box) for box in room.free])
    gone = shapely.union_all(taken)
    assert free.intersection(gone).area < 1e-6
    assert free.union(gone).area == pytest.approx(ROOM.width * ROOM.height, rel=1e-6)
    for box in room.free:  # none could be larger
        for grown in (box._replace(left=box.left - 1), box._replace(bottom=box.bottom + 1)):
            assert shapely.box(*grown).difference(free).area > 1e-9


def test_one_sheet_more_has_room_of_its_own():
    room = FreeSpace([ROOM], {3})
    other = room.again()
    other.take(Box(10, 20, 50, 60))
    other.full.add(4)
    assert room.free == [ROOM]
    assert room.full == {3}


def test_many_shapes_at_once_and_one_by_one_leave_the_same_places():
    """The correlation with the whole sheet, against the maps of pairs: they differ at rims alone."""
    shapes = [blob(np.array(radii)) for radii in ([9, 5, 12, 6, 10], [6, 6, 6, 6], [11, 4, 11, 4, 11, 4], [8, 12, 5])]
    nofit = maps(shapes)
    grid = Grid(ROOM, [], nofit)
    positions = [GridPosition(Turned(n, 0, 0), 20 + 30 * (n // 2), 15 + 40 * (n % 2)) for n in range(4)]
    seeker = Turned(1, 0, 0)
    together = Filling(grid, list(positions))._beside_all(seeker)
    apart = np.ones_like(together)
    for position in positions:
        near = nofit.depth(position.turned, seeker)
        here, there = grid.slices(position, len(near) // 2)
        apart[here] &= near[there] <= 0
    assert (together != apart).mean() < 0.03
