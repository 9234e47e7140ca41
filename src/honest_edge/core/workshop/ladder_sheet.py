"""The lines of a ladder of test squares: small enough for a corner of a used sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

SIDE_MM, SMALL_MM = 9.0, 6.0
"""Of a square on a sheet of its own, and in a corner of one that is used."""

_GAP_MM, _RIM_MM, _COLUMNS = 4.0, 3.0, 4
_DIGIT_MM, _DIGIT_GAP_MM, _ABOVE_MM = (1.5, 2.6), 0.8, 1.2
_STROKES = {"top": (0, 0, 1, 0), "left up": (0, 0, 0, 0.5), "right up": (1, 0, 1, 0.5), "middle": (0, 0.5, 1, 0.5),
            "left down": (0, 0.5, 0, 1), "right down": (1, 0.5, 1, 1), "bottom": (0, 1, 1, 1)}  # fmt: skip
_OF_DIGIT = {
    "0": ("top", "left up", "right up", "left down", "right down", "bottom"),
    "1": ("right up", "right down"),
    "2": ("top", "right up", "middle", "left down", "bottom"),
    "3": ("top", "right up", "middle", "right down", "bottom"),
    "4": ("left up", "right up", "middle", "right down"),
    "5": ("top", "left up", "middle", "right down", "bottom"),
    "6": ("top", "left up", "middle", "left down", "right down", "bottom"),
    "7": ("top", "right up", "right down"),
    "8": ("top", "left up", "right up", "middle", "left down", "right down", "bottom"),
    "9": ("top", "left up", "right up", "middle", "right down", "bottom"),
    ".": (),
}
"""Digits of seven strokes, the pattern of numeric displays."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class LadderSheet:
    """A ladder in millimetres, y downward.

    Attributes:
        width_mm, height_mm: of all of it.
        settings: of the squares.
        squares: (5, 2) closed lines, one a setting.
        numbers: (2, 2) strokes of the settings beside their squares, to be scratched with the lightest of them.
        marks: closed lines that are printed on the sheet already, for machines that find it by them.
    """

    width_mm: float
    height_mm: float
    settings: tuple[float, ...]
    squares: tuple[Floats, ...]
    numbers: tuple[Floats, ...]
    marks: tuple[Floats, ...] = ()

    def on_sheet(
        self, at_mm: tuple[float, float], size_mm: tuple[float, float], marks: Sequence[Floats]
    ) -> LadderSheet:
        """Return it in a place of a sheet so large, with the sheet's marks."""
        corner = np.array(at_mm)
        return LadderSheet(
            width_mm=size_mm[0],
            height_mm=size_mm[1],
            settings=self.settings,
            squares=tuple(square + corner for square in self.squares),
            numbers=tuple(line + corner for line in self.numbers),
            marks=tuple(marks),
        )


def ladder_sheet(settings: Sequence[float], side_mm: float = SIDE_MM) -> LadderSheet:
    """Return the lines of a ladder, four squares of a side in a row, each setting above its square."""
    row_mm = side_mm + _GAP_MM + _DIGIT_MM[1]
    corners = [
        np.array([_RIM_MM + number % _COLUMNS * (side_mm + _GAP_MM), _RIM_MM + number // _COLUMNS * row_mm])
        for number in range(len(settings))
    ]
    square = side_mm * np.array([[0, 0], [1, 0], [1, 1], [0, 1], [0, 0]], float)
    below = np.array([0.0, _DIGIT_MM[1] + _ABOVE_MM])
    rows = -(-len(settings) // _COLUMNS)
    return LadderSheet(
        width_mm=2 * _RIM_MM + _COLUMNS * side_mm + (_COLUMNS - 1) * _GAP_MM,
        height_mm=2 * _RIM_MM + rows * row_mm - _GAP_MM + _ABOVE_MM,
        settings=tuple(settings),
        squares=tuple(square + corner + below for corner in corners),
        numbers=tuple(
            line for corner, value in zip(corners, settings, strict=True) for line in _written(value, corner)
        ),
    )


def _written(value: float, corner: Floats) -> list[Floats]:
    """Return the strokes of a number from its top left corner."""
    size, lines, x = np.array(_DIGIT_MM), [], 0.0
    for digit in f"{value:g}":
        place = corner + np.array([x, 0.0])
        if digit == ".":
            lines.append(place + np.array([[0.0, size[1] - 0.4], [0.0, size[1]]]))
        lines += [place + np.array(_STROKES[name], float).reshape(2, 2) * size for name in _OF_DIGIT[digit]]
        x += _DIGIT_GAP_MM + (0.0 if digit == "." else size[0])
    return lines
