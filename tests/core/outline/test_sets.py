"""What lies apart on purpose: pieces alike are a set, letters and scattered parts are not."""

import numpy as np
import pytest
import shapely

from honest_edge.core.outline.joining import is_a_set


def boxes(*sizes):
    return [shapely.box(60 * n, 0, 60 * n + wide, high) for n, (wide, high) in enumerate(sizes)]


@pytest.mark.parametrize(
    ("pieces", "expected"),
    [
        (boxes((20, 10)), False),
        (boxes((20, 10), (20, 10)), False),
        (boxes((20, 10), (21, 10.4), (19.5, 10), (20, 9.8)), True),
        ([shapely.Point(50 * n, 0).buffer(10) for n in range(9)], True),
        ([*(shapely.Point(50 * n, 0).buffer(10) for n in range(9)), shapely.Point(700, 0).buffer(30)], True),  # a title
        (boxes((20, 10), (40, 10)), False),
        (boxes((20, 10), (10, 20)), False),
        (boxes((20, 20), (14, 14), (9, 9), (26, 26)), False),
    ],
)
def test_pieces_alike_are_a_set(pieces, expected):
    assert is_a_set(pieces) is expected
    turned = [shapely.affinity.scale(piece, 3, 3, origin=(0, 0)) for piece in pieces]
    assert is_a_set(turned) is expected  # whatever their size


@pytest.mark.parametrize("seed", range(20))
def test_random_scatter_is_none(seed):
    rng = np.random.default_rng(seed)
    pieces = [shapely.Point(60 * n, 0).buffer(radius) for n, radius in enumerate(rng.uniform(2, 20, 8))]
    assert not is_a_set(pieces)
