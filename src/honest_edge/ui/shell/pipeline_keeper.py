"""Makes the one pipeline of a window, whichever thread asks for it first."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from honest_edge.app.results.pipeline import Pipeline


class PipelineKeeper:
    """Loads what computes with the first request: that takes longer than showing a window."""

    def __init__(self, assets: Mapping[str, bytes], made: Pipeline | None = None) -> None:
        """Take the originals by SHA-256; ``made`` is a pipeline that is there already."""
        self._assets, self._made = assets, made
        self._lock = threading.Lock()

    def pipeline(self) -> Pipeline:
        """Return the pipeline."""
        with self._lock:
            if self._made is None:
                from honest_edge.app.results.pipeline import Pipeline

                self._made = Pipeline(self._assets)
            return self._made
