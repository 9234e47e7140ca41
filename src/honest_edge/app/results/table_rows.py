"""One label a row: a design's fields filled from its table, long ones set smaller, and what would not fit even so."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import count

import shapely

from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.layers.codes import code_area
from honest_edge.core.layers.forms import form_shape
from honest_edge.core.layers.lettering import widths_mm
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Design
from honest_edge.core.values.layers import FIRST_FONT, PLACEHOLDER_WORDS, Layer, Lettering
from honest_edge.core.values.tables import Table, fields_in, filled
from honest_edge.files.typefaces import FontLibrary

_NAMED_ROWS = 6
_COLUMN_MM = 6.0  # the height of a capital
_LEAST_ROOM_MM = 1.0
_SAME = 1e-3  # shares of the room within which words fit


@dataclass(frozen=True, slots=True)
class Fit:
    """How the words of one row lie in their room.

    Attributes:
        fullness: width of the widest line in shares of its room; in metres where it has none.
        size_mm: smallest height of a capital that words had to be set in; None where none had to be set smaller.
        is_too_long: words would have to be smaller than their least size.
    """

    fullness: float
    size_mm: float | None
    is_too_long: bool


class TableRows:
    """The labels of a design with a table."""

    def __init__(self, design: Design, table: Table, fonts: FontLibrary, clear_mm: float) -> None:
        """Take the design with its table, the fonts, and how far words stay from the edge of the form."""
        self._design, self._table, self._fonts, self._clear_mm = design, table, fonts, clear_mm
        self._form = None if design.form is None else form_shape(design.form).area
        self._rooms = {layer.key: self.room_mm(layer) for layer in design.layers if layer.lettering is not None}

    def label(self, index: int) -> Design:
        """Return the label of one row, counted from 0, as a design of its own."""
        row = self._table.row(index)
        layers = tuple(self._set(layer, row) for layer in self._design.layers)
        first = next((text for text in self._table.rows[index] if text), "")
        name = f"{self._design.name}, row {index + 1}: {first}"[:80]
        return replace(self._design, name=name, layers=layers, table=None)

    def fits(self) -> dict[int, Fit]:
        """Return how the words of each row that is made lie in their room."""
        return {index: self._fit(self._table.row(index)) for index in self._table.kept}

    def shown(self) -> int:
        """Return the row to show: the one that is looked at, else that with the longest words."""
        if self._table.shown is not None:
            return self._table.shown
        fits = self.fits()
        return max(fits, key=lambda index: fits[index].fullness)

    def failing(self) -> tuple[int, str] | None:
        """Return the first row, counted from 0, of which something cannot be drawn, and why."""
        for index in self._table.kept:
            for layer, whole in zip(self.label(index).layers, self._design.layers, strict=True):
                if layer == whole or layer.is_hidden:
                    continue  # without fields it is judged by itself
                try:
                    if layer.lettering is not None:
                        self._widest_mm(layer.lettering)
                    elif layer.code is not None:
                        code_area(layer.code)
                except HonestEdgeError as error:
                    return index, str(error)
        return None

    def room_mm(self, layer: Layer) -> float | None:
        """Return the width that a layer's lines stay within: its own, or what the form leaves at its height."""
        words = layer.lettering
        if words is None or words.room_mm is not None or self._form is None:
            return None if words is None else words.room_mm
        if words.arc_mm or layer.turn_deg % 180:
            return None
        inside = as_multipolygon(shapely.buffer(self._form, -self._clear_mm))
        lines = words.text.count("\n")
        half_mm = words.size_mm * (1 + lines * words.line_spacing) / 2 if words.sized_by == "capitals" else 0.0
        room = min(_beside(inside, layer.x_mm, layer.y_mm + side * half_mm) for side in (-1, 1))
        return room if room >= _LEAST_ROOM_MM else None

    def _set(self, layer: Layer, row: dict[str, str]) -> Layer:
        """Return a layer with its fields filled; a lettering of which nothing is left is hidden."""
        if layer.lettering is not None and fields_in(layer.lettering.text):
            text = filled(layer.lettering.text, row)
            if not text.strip():
                return replace(layer, is_hidden=True)
            words = replace(layer.lettering, text=text, room_mm=self._rooms[layer.key])
            return replace(layer, lettering=self._shrunk(words))
        if layer.code is not None and fields_in(layer.code.text):
            text = filled(layer.code.text, row)
            if not text.strip():
                return replace(layer, is_hidden=True)
            return replace(layer, code=replace(layer.code, text=text))
        return layer

    def _shrunk(self, words: Lettering) -> Lettering:
        """Return words as large as their room allows, no smaller than their least size."""
        if words.room_mm is None or not words.least_mm or words.sized_by != "capitals":
            return words
        try:
            share = words.room_mm / self._widest_mm(words)
        except HonestEdgeError:
            return words  # drawing it says why
        size_mm = max(words.size_mm * share, min(words.least_mm, words.size_mm))
        return words if share >= 1 - _SAME else replace(words, size_mm=size_mm)

    def _fit(self, row: dict[str, str]) -> Fit:
        most, least_mm, is_too_long = 0.0, None, False
        for layer in self._design.layers:
            words = layer.lettering
            if words is None or layer.is_hidden or not fields_in(words.text):
                continue
            room_mm = self._rooms[layer.key]
            whole = replace(words, text=filled(words.text, row).strip() or " .", room_mm=room_mm)
            try:
                wide_mm, small = self._widest_mm(whole), self._shrunk(whole)
                most = max(most, wide_mm / room_mm if room_mm else wide_mm / 1000)
                if small.size_mm < words.size_mm:
                    least_mm = min(least_mm or small.size_mm, small.size_mm)
                is_too_long |= room_mm is not None and self._widest_mm(small) > room_mm * (1 + _SAME)
            except HonestEdgeError:
                return Fit(1000.0, None, False)  # shown first, for it cannot be made
        return Fit(most, least_mm, is_too_long)

    def _widest_mm(self, words: Lettering) -> float:
        return max(widths_mm(words, self._fonts.find(words.family, words.style).typeface))


def _beside(area: shapely.Polygon | shapely.MultiPolygon, x_mm: float, y_mm: float) -> float:
    """Return the width that words centred at a place may have on a level of an area; 0 outside of it."""
    left, _, right, _ = area.bounds
    level = shapely.intersection(area, shapely.LineString([(left - 1, y_mm), (right + 1, y_mm)]))
    for part in shapely.get_parts(level):
        start, _, end, _ = part.bounds
        if start < x_mm < end:
            return 2 * float(min(x_mm - start, end - x_mm))
    return 0.0


def unknown_fields(design: Design) -> tuple[str, ...]:
    """Return the fields in words and codes that the table has no column for."""
    known = () if design.table is None else design.table.columns
    texts = [text for layer in design.layers if not layer.is_hidden for text in _texts(layer)]
    return tuple(dict.fromkeys(name for text in texts for name in fields_in(text) if name not in known))


def uses_table(design: Design) -> bool:
    """Whether any words or code of a design take a column of its table; without, all its labels are alike."""
    columns = () if design.table is None else design.table.columns
    texts = [text for layer in design.layers if not layer.is_hidden for text in _texts(layer)]
    return any(name in columns for text in texts for name in fields_in(text))


def with_column(design: Design, column: str) -> tuple[Layer, ...]:
    """Return a design's layers with a column written on it: below its last words, or as words of its own."""
    field = f"{{{column}}}"
    worded = [layer for layer in design.layers if layer.lettering is not None and not layer.is_hidden]
    if not worded or worded[-1].lettering is None:
        keys = {layer.key for layer in design.layers}
        key = next(name for number in count(1) if (name := f"l{number}") not in keys)
        words = Lettering(text=field, family=FIRST_FONT[0], style=FIRST_FONT[1], size_mm=_COLUMN_MM)
        return (*design.layers, Layer(key=key, lettering=words))
    last, words = worded[-1], worded[-1].lettering
    text = field if words.text == PLACEHOLDER_WORDS else f"{words.text}\n{field}"
    written = replace(last, lettering=replace(words, text=text))
    return tuple(written if layer is last else layer for layer in design.layers)


def named_rows(rows: tuple[int, ...]) -> str:
    """Return rows in words, counted from 1."""
    shown = ", ".join(str(row + 1) for row in rows[:_NAMED_ROWS])
    return shown + (f" and {len(rows) - _NAMED_ROWS} more" if len(rows) > _NAMED_ROWS else "")


def _texts(layer: Layer) -> tuple[str, ...]:
    texts = (layer.lettering.text if layer.lettering else "", layer.code.text if layer.code else "")
    return tuple(text for text in texts if text)
