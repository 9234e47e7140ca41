"""Stickers in rows: nothing overlaps, everything is inside, spacing is even."""

from __future__ import annotations

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.layers.sticker_rows import free_place, in_rows
from honest_edge.core.values.errors import BlockedError

SHEET = (-50.0, -75.0, 50.0, 75.0)
SIZES = st.lists(st.tuples(st.floats(5, 40), st.floats(5, 40)), min_size=1, max_size=14)


@given(SIZES, st.floats(0, 6))
def test_rows_keep_their_gaps_and_the_sheet(sizes, gap):
    title = (-20.0, -72.0, 20.0, -60.0)
    try:
        places = in_rows(sizes, SHEET, gap_mm=gap, kept=[title])
    except BlockedError:
        return
    boxes = [
        shapely.box(x - w / 2, y - h / 2, x + w / 2, y + h / 2) for (x, y), (w, h) in zip(places, sizes, strict=True)
    ]
    inner = shapely.box(-50 + gap, -60 + gap, 50 - gap, 75 - gap).buffer(1e-6)
    assert all(inner.covers(box) for box in boxes)
    assert all(a.distance(b) >= gap - 1e-6 for n, a in enumerate(boxes) for b in boxes[:n])


def test_equal_stickers_stand_on_an_even_grid():
    places = in_rows([(30, 20)] * 6, SHEET, gap_mm=2)
    assert {round(x, 6) for x, _ in places} == {-32.5, 0, 32.5}
    assert len({round(y, 6) for _, y in places}) == 2


def test_too_many_or_too_wide_is_said_with_numbers():
    with pytest.raises(BlockedError, match=r"need 25\.0 mm more height"):
        in_rows([(90, 40)] * 4, SHEET, gap_mm=3)
    with pytest.raises(BlockedError, match=r"words on the sheet leave the stickers \d+\.\d mm of its height"):
        in_rows([(90, 40)] * 3, SHEET, gap_mm=3, kept=[(-20, -30, 20, -4)])  # words in the way, else they fit
    with pytest.raises(BlockedError, match=r"120\.0 mm wide does not fit on 96\.0 mm"):
        in_rows([(120, 20)], SHEET, gap_mm=2)


@given(SIZES, st.floats(0, 4))
def test_a_free_place_is_free_and_inside(sizes, gap):
    taken = []
    for width, height in sizes:
        found = free_place((width, height), SHEET, taken, gap_mm=gap)
        if found is None:
            continue
        x, y = found
        box = (x - width / 2, y - height / 2, x + width / 2, y + height / 2)
        assert shapely.box(*SHEET).buffer(1e-6).covers(shapely.box(*box))
        assert all(shapely.box(*box).distance(shapely.box(*other)) >= gap - 1e-6 for other in taken)
        taken.append(box)
    assert taken


def test_without_a_free_place_there_is_none():
    assert free_place((90, 140), SHEET, [(-5, -5, 5, 5)], gap_mm=1) is None
