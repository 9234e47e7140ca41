"""Spectra that a fit keeps, within a bound on memory."""

import numpy as np

from honest_edge.core.sheet.spectra import Spectra


def test_the_oldest_spectra_go_and_are_made_again():
    made = []

    def spectrum(key):
        made.append(key)
        return np.full(100, key, np.complex64)

    kept = Spectra[int](most_bytes=3 * 800)
    for key in (1, 2, 3, 3, 4, 4, 2, 1):  # the fourth pushes out the first, which in turn pushes out the second
        assert (kept.get(key, lambda key=key: spectrum(key)) == key).all()
    assert made == [1, 2, 3, 4, 1]


def test_one_spectrum_larger_than_the_bound_is_kept():
    kept, made = Spectra[str](most_bytes=10), []
    for _ in range(2):
        kept.get("large", lambda: made.append(1) or np.zeros(100, np.complex64))
    assert len(made) == 1
