"""Spectra that a fit needs again and again, as many as a bound on memory lets it keep."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

import numpy as np
from numpy.typing import NDArray

Spectrum = NDArray[np.complex64]
Key = TypeVar("Key", bound=Hashable)

_MOST_BYTES = 24_000_000
"""Beyond it the oldest goes: to transform again costs less than memory that a small machine lacks, measured."""


class Spectra(Generic[Key]):
    """Spectra by what they are of; the oldest go first."""

    def __init__(self, most_bytes: int = _MOST_BYTES) -> None:
        self._kept: dict[Key, Spectrum] = {}
        self._bytes, self._most_bytes = 0, most_bytes

    def get(self, key: Key, make: Callable[[], Spectrum]) -> Spectrum:
        """Return the spectrum for ``key``, made where it is not kept."""
        found = self._kept.get(key)
        if found is None:
            found = self._kept[key] = make()
            self._bytes += found.nbytes
            while self._bytes > self._most_bytes and len(self._kept) > 1:
                self._bytes -= self._kept.pop(next(iter(self._kept))).nbytes
        return found
