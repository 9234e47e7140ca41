"""The colours that a few pixels take, against all pixels searched."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays

from honest_edge.core.edge.art_edge import EdgePicture

SHAPE = (12, 15)


@given(arrays.arrays(bool, SHAPE), arrays.arrays(bool, SHAPE), st.integers(0, 3))
def test_a_pixel_takes_the_colour_of_the_nearest_that_can_be_trusted(core, wanted, seed):
    wanted &= ~core
    pixels = np.random.default_rng(seed).integers(0, 256, (*SHAPE, 4)).astype(np.uint8)
    pixels[..., 0], pixels[..., 1] = np.indices(SHAPE)  # a colour tells whose it is
    rows, columns = (index.ravel() for index in np.indices(SHAPE))
    found = EdgePicture(pixels=pixels, core=core, wanted=wanted).colours(rows, columns).astype(int)
    trusted = np.argwhere(core)
    for row, column, (from_row, from_column, blue) in zip(rows, columns, found, strict=True):
        assert blue == pixels[from_row, from_column, 2]
        if not wanted[row, column] or not len(trusted):
            assert (from_row, from_column) == (row, column)
            continue
        assert core[from_row, from_column]
        least = np.hypot(*(trusted - (row, column)).T).min()
        assert np.hypot(from_row - row, from_column - column) <= least + 1e-9


def test_what_is_seen_is_as_near_as_its_tolerance_says():
    core = np.zeros((60, 80), bool)
    core[20:40, 30:50] = True
    pixels = np.zeros((60, 80, 4), np.uint8)
    pixels[..., 0], pixels[..., 1] = np.indices(core.shape)
    picture = EdgePicture(pixels=pixels, core=core, wanted=~core)
    rows, columns = (index.ravel() for index in np.indices(core.shape))
    exact, seen = (made.reshape(60, 80, 3).astype(int) for made in (picture.colours(rows, columns), picture.seen))
    here = np.dstack(np.indices(core.shape))
    away = [np.hypot(*np.moveaxis(made[..., :2] - here, 2, 0)) for made in (exact, seen)]
    assert (away[1] <= away[0] + 1.4).all()
