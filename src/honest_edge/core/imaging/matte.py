"""The light or dark rim that an earlier background removal leaves round art."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from honest_edge.core.imaging.flood import Bytes, nearest

_DEPTH_PX = 3  # below it colours are the art's own
_LEAST_PIXELS = 60
_PULL = 24.0  # levels by which the rim must differ from the art just inside
_ALIKE = 0.8  # share of the rim that must be pulled to the same side
_LIGHT, _DARK = 200.0, 56.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Matte:
    """What is left of an old background.

    Attributes:
        kind: light or dark.
        pull: by how many levels, typically, it moves the edge's colour.
    """

    kind: Literal["light", "dark"]
    pull: float


def find_matte(pixels: Bytes) -> Matte | None:
    """Return the matte of a transparent picture, if the half-covered pixels of its rim have one.

    A pixel of coverage c that was blended with an old background B and then cut out keeps c F + (1 - c) B, F being
    the art's colour just inside; without a matte it is F. The pull towards one B all along the rim tells them
    apart; art with a drawn light or dark outline of its own has that colour inside as well.

    Args:
        pixels: (h, w, 4) uint8 straight RGBA.
    """
    alpha = pixels[..., 3]
    solid = (alpha >= 250).astype(np.uint8)
    core = cv2.distanceTransform(np.pad(solid, 1), cv2.DIST_L2, 3)[1:-1, 1:-1] > _DEPTH_PX
    rim = (alpha > 40) & (alpha < 215)
    if np.count_nonzero(rim) < _LEAST_PIXELS or not core.any():
        return None
    places = np.flatnonzero(rim).astype(np.int32)
    shell = core & (cv2.erode(core.astype(np.uint8), np.ones((3, 3), np.uint8)) == 0)  # what lies behind is farther
    index, away = nearest(shell, places)
    close = away <= 2.5 * _DEPTH_PX
    if np.count_nonzero(close) < _LEAST_PIXELS:
        return None
    flat = pixels.reshape(-1, 4)
    whole, art = flat[places[close]].astype(np.float64), flat[index[close], :3].astype(np.float64)
    missing = 1 - whole[:, 3] / 255
    pull = (whole[:, :3] - art).mean(axis=1)
    # what the old background must have been, judged where it weighs most
    old = art + (whole[:, :3] - art) / np.maximum(missing, 0.25)[:, None]
    typical = np.median(old[missing > 0.4], axis=0) if (missing > 0.4).any() else np.median(old, axis=0)
    for kind, is_so, sign in (
        ("light", bool((typical > _LIGHT).all()), 1.0),
        ("dark", bool((typical < _DARK).all()), -1.0),
    ):
        # art that has the matte's own colour is not pulled and says nothing
        telling = np.abs(art.mean(axis=1) - (255 if sign > 0 else 0)) > 2 * _PULL
        if is_so and telling.mean() > 0.3:
            share = float((sign * pull[telling] > _PULL * missing[telling]).mean())
            strength = float(np.median(np.abs(pull[telling])))
            if share >= _ALIKE and strength >= _PULL / 2:
                return Matte(kind=kind, pull=strength)  # type: ignore[arg-type]
    return None
