"""Words become their letters, each a layer that is moved by itself."""

from __future__ import annotations

import unicodedata
from dataclasses import replace

import numpy as np

from honest_edge.core.layers.arrange import free_key
from honest_edge.core.layers.letters import letters_of
from honest_edge.core.layers.stack import layer_matrix
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Design
from honest_edge.core.values.layers import Layer
from honest_edge.files.typefaces import FontLibrary, font_library

MOST_SINGLE_LETTERS = 200


def in_letters(design: Design, key: str, fonts: FontLibrary | None = None) -> tuple[Layer, ...]:
    """Return a design's layers with a layer for each letter in place of its words, where each letter lay.

    Raises:
        BlockedError: the layer is no lettering, takes its words from a table, or has too many letters.
    """
    layer = design.layer(key)
    words = layer.lettering
    if words is None:
        raise BlockedError("Only words fall into letters: take a lettering in hand")
    if any(unicodedata.bidirectional(char) in ("R", "AL") for char in words.text):
        raise BlockedError("Letters that are joined, or read from the right, stay together")
    if "{" in words.text and design.table is not None:
        raise BlockedError("Words that a table fills have other letters in every row: they stay together")
    letters = letters_of(words, (fonts or font_library()).find(words.family, words.style).typeface)
    if len(letters) > MOST_SINGLE_LETTERS:
        raise BlockedError(
            f"{len(letters)} letters are more than the {MOST_SINGLE_LETTERS} that are taken apart at once"
        )
    matrix, side = layer_matrix(layer), -1 if layer.is_flipped else 1
    layers = design.layers
    singles: list[Layer] = []
    for one in letters:
        x_mm, y_mm = (matrix[:, :2] @ np.array([one.x_mm, one.y_mm]) + matrix[:, 2]).tolist()
        turn_deg = (layer.turn_deg + side * one.turn_deg + 180) % 360 - 180
        new_key = free_key((*layers, *singles))
        place = {"x_mm": round(x_mm, 4), "y_mm": round(y_mm, 4), "turn_deg": turn_deg}
        singles.append(replace(layer, key=new_key, name="", lettering=one.lettering, group="", **place))
    at = layers.index(layer)
    return (*layers[:at], *singles, *layers[at + 1 :])
