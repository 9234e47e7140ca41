import cv2
import numpy as np
import pytest

from honest_edge.core.imaging.reduce import reduced


@pytest.mark.parametrize("factor", [2, 3, 5])
def test_opaque_pictures_are_averaged_as_opencv_averages_them(factor):
    random = np.random.default_rng(factor)
    pixels = random.integers(0, 255, (300, 420, 4), dtype=np.uint8)
    pixels[..., 3] = 255
    other = cv2.resize(pixels, (420 // factor, 300 // factor), interpolation=cv2.INTER_AREA)
    assert np.abs(reduced(pixels, factor).astype(int) - other).max() <= 1


def test_colour_is_weighted_by_alpha():
    pixels = np.zeros((2, 2, 4), np.uint8)
    pixels[0, 0] = (200, 100, 50, 255)  # the other three are black and see-through
    assert reduced(pixels, 2).tolist() == [[[200, 100, 50, 64]]]


def test_what_does_not_fill_a_block_is_padded_with_nothing():
    pixels = np.full((5, 7, 4), 255, np.uint8)
    small = reduced(pixels, 4)
    assert small.shape == (2, 2, 4)
    assert small[1, 1].tolist() == [255, 255, 255, round(255 * 3 / 16)]
    assert reduced(pixels, 1) is pixels
