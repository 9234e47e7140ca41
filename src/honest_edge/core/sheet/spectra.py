"""Correlating rasters by their spectra, of which as many are kept as a bound on memory lets.

OpenCV's transform of real numbers takes half the time of SciPy's here, measured.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

import cv2
import numpy as np
from numpy.typing import NDArray

Depths = NDArray[np.float32]
Spectrum = NDArray[np.float32]
"""As OpenCV packs the transform of real numbers."""
Key = TypeVar("Key", bound=Hashable)

_MOST_BYTES = 24_000_000
"""Beyond it the oldest goes: to transform again costs less than memory that a small machine lacks, measured."""


def fast_side(least: int) -> int:
    """Return the next length that transforms fast."""
    return cv2.getOptimalDFTSize(least)


def spectrum(raster: Depths) -> Spectrum:
    """Return the spectrum of a raster with sides that transform fast."""
    return np.asarray(cv2.dft(raster), np.float32)


def correlation(still: Spectrum, moved: Spectrum) -> Depths:
    """Return at [row, column] the sum of ``still`` times ``moved`` shifted so far; round about the border."""
    product = cv2.mulSpectrums(still, moved, 0, conjB=True)
    return np.asarray(cv2.idft(product, flags=cv2.DFT_SCALE), np.float32)


class Spectra(Generic[Key]):
    """Spectra by what they are of, for several threads; the oldest go first."""

    def __init__(self, most_bytes: int = _MOST_BYTES) -> None:
        self._kept: dict[Key, Spectrum] = {}
        self._bytes, self._most_bytes = 0, most_bytes
        self._lock = threading.Lock()

    def get(self, key: Key, make: Callable[[], Spectrum]) -> Spectrum:
        """Return the spectrum for ``key``, made where it is not kept."""
        kept = self._kept.get(key)
        return self._keep(key, make()) if kept is None else kept

    def _keep(self, key: Key, found: Spectrum) -> Spectrum:
        with self._lock:
            self._bytes += found.nbytes - (self._kept[key].nbytes if key in self._kept else 0)
            self._kept[key] = found
            while self._bytes > self._most_bytes and len(self._kept) > 1:
                self._bytes -= self._kept.pop(next(iter(self._kept))).nbytes
        return found
