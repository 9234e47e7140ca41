"""The nearest pixel of a mask, against SciPy's k-d tree."""

import numpy as np
import pytest
from scipy.spatial import cKDTree

from honest_edge.core.imaging.flood import nearest

_FARTHER_PX = 1.4  # than the nearest, at most: what the library's 5 x 5 mask errs on these pictures


@pytest.mark.parametrize("share", [0.001, 0.05, 0.6])
def test_a_place_gets_a_nearest_pixel_of_the_mask(share):
    source = np.random.default_rng(7).random((90, 140)) < share
    places = np.flatnonzero(~source).astype(np.int32)
    found, distance = nearest(source, places)
    assert source.reshape(-1)[found].all()
    at, wanted = (np.stack(np.divmod(flat, 140), axis=1) for flat in (places, found))
    away = np.hypot(*(at - wanted).T)
    shortest, _ = cKDTree(np.argwhere(source)).query(at)
    assert (away <= shortest + _FARTHER_PX).all()
    assert np.abs(distance - away).max() <= _FARTHER_PX
