"""Lines of a drawing that mean a cut and no ink, told by their names and by their colour and width."""

from __future__ import annotations

import colorsys
import re
from collections.abc import Iterable

Meaning = str
"""What a line asks for: "" for ink, else "cut", "kiss", "through", "crease" or "perforate"."""

HAIRLINE_MM = 0.3
"""Thinner lines of a pure colour are drawn for machines; common practice, no published source."""

_NAMES = {
    "cut": "cut cuts cutline cutlines cutting cutpath cutter",
    "kiss": "kiss kisscut",
    "through": "die dieline diecut through thru",
    "crease": "crease creases score scores scoreline fold folds foldline",
    "perforate": "perf perforate perforation perforated",
}
_MEANS = {word: meaning for meaning, words in _NAMES.items() for word in words.split()}
_HUES = ("red", "yellow", "green", "cyan", "blue", "magenta")
_LEAST_SATURATION, _LEAST_VALUE = 0.85, 0.8


def meaning_of_names(names: Iterable[str]) -> Meaning:
    """Return what names of a layer or an element ask for, such as "Cut line" or "fold_2"; the last that does counts."""
    meaning = ""
    for name in names:
        for word in re.split(r"[^a-z]+", re.sub(r"(?<=[a-z])(?=[A-Z])", " ", name).lower()):
            meaning = _MEANS.get(word, meaning) if meaning in ("", "cut") else meaning
    return meaning


def pure_colour(rgb: tuple[int, int, int]) -> str:
    """Return the name of a colour that no pencil has, such as pure red or magenta; empty for any other."""
    hue, saturation, value = colorsys.rgb_to_hsv(*(level / 255 for level in rgb))
    return _HUES[round(6 * hue) % 6] if saturation >= _LEAST_SATURATION and value >= _LEAST_VALUE else ""
