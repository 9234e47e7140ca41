"""Small pictures of the pages of a PDF, to choose by."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from honest_edge.core.values.names import readable


def page_look(data: bytes, name: str, page: int, longest_px: int, cancelled: Callable[[], bool]) -> NDArray[np.uint8]:
    """Return a page on white, (h, w, 4) uint8, whose longer side is about ``longest_px``.

    Raises:
        ArtError: there is no such page, or it cannot be drawn.
        Cancelled: ``cancelled`` said so.
    """
    from honest_edge.core.imaging.strokes import on_white
    from honest_edge.files.drawing_child import Request
    from honest_edge.files.drawing_parent import RENDERER

    request = Request(kind="pdf", name=readable(name), page=page, least_px=longest_px, most_px=longest_px)
    _, pixels = RENDERER.draw(data, request, cancelled=cancelled)
    return np.dstack([on_white(pixels), np.full(pixels.shape[:2], 255, np.uint8)])
