"""Stickers in a grid on a sheet."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.layers.sticker_grid import SMALLEST_MM, grid_for_size, sticker_grid
from honest_edge.core.values.errors import BlockedError

AREA = (-50.0, -75.0, 50.0, 75.0)


def test_six_squares_stand_two_by_three_on_an_upright_sheet():
    # by hand: (100 - 2) / 2 - 2 = 47 wide, (150 - 2) / 3 - 2 = 47 1/3 high
    grid = sticker_grid(6, [1.0], AREA, gap_mm=2.0)
    assert (grid.columns, grid.rows) == (2, 3)
    assert grid.cell_mm == pytest.approx((47.0, 47 + 1 / 3))
    assert grid.places_mm[0] == pytest.approx((-24.5, -75 + 2 + (47 + 1 / 3) / 2))
    assert grid.places_mm[5] == pytest.approx((24.5, 75 - 2 - (47 + 1 / 3) / 2))


def test_long_ones_stand_in_one_column():
    assert sticker_grid(5, [4.0], AREA, gap_mm=2.0).columns == 1
    assert sticker_grid(3, [0.2], AREA, gap_mm=2.0).rows == 1


def test_a_last_row_that_is_not_full_is_centred():
    grid = sticker_grid(5, [1.0], AREA, gap_mm=2.0, columns=2)
    assert grid.places_mm[-1][0] == pytest.approx(0.0)


def test_titles_above_and_below_stay_clear():
    kept = [(-20.0, -70.0, 20.0, -60.0), (-20.0, 64.0, 20.0, 70.0)]
    grid = sticker_grid(4, [1.0], AREA, gap_mm=2.0, kept=kept)
    half = grid.cell_mm[1] / 2
    assert all(y - half >= -60 + 2 - 1e-9 and y + half <= 64 - 2 + 1e-9 for _, y in grid.places_mm)


def test_too_many_are_refused_with_how_many_would_fit():
    # by hand: cells of 8 mm with 2 mm between: (100 - 2) // 10 = 9 across, (150 - 2) // 10 = 14 down
    with pytest.raises(BlockedError, match="there is room for 126 of 8 mm"):
        sticker_grid(300, [1.0], AREA, gap_mm=2.0)


def test_a_size_says_how_many_there_are_and_one_too_large_how_large_it_may_be():
    assert grid_for_size(23.0, AREA, gap_mm=2.0) == (3 * 5, 3)
    with pytest.raises(BlockedError, match=r"96\.0 mm would"):
        grid_for_size(120.0, AREA, gap_mm=2.0)


@given(count=st.integers(1, 60), aspect=st.floats(0.3, 3.0), gap_mm=st.floats(0.2, 4.0))
def test_cells_keep_their_gap_and_none_of_them_is_better_with_another_number_of_columns(count, aspect, gap_mm):
    try:
        grid = sticker_grid(count, [aspect], AREA, gap_mm=gap_mm)
    except BlockedError:
        return
    assert len(grid.places_mm) == count <= grid.columns * grid.rows
    assert min(grid.cell_mm) >= SMALLEST_MM

    def across(cell):
        return min(cell[0], cell[1] * aspect)

    for columns in range(1, count + 1):
        try:
            other = sticker_grid(count, [aspect], AREA, gap_mm=gap_mm, columns=columns)
        except BlockedError:
            continue
        assert across(other.cell_mm) <= across(grid.cell_mm) + 1e-6
    (wide, high), (left, top, right, bottom) = grid.cell_mm, AREA
    for x, y in grid.places_mm:
        assert left + gap_mm - 1e-6 <= x - wide / 2
        assert x + wide / 2 <= right - gap_mm + 1e-6
        assert top + gap_mm - 1e-6 <= y - high / 2
        assert y + high / 2 <= bottom - gap_mm + 1e-6
