"""One label a row: a design's fields filled from its table, and what would not fit."""

from __future__ import annotations

from dataclasses import replace

from honest_edge.core.layers.codes import code_area
from honest_edge.core.layers.lettering import letter
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Design
from honest_edge.core.values.layers import Layer
from honest_edge.core.values.tables import fields_in, filled
from honest_edge.files.typefaces import FontLibrary

_NAMED_ROWS = 6


def with_row(design: Design, index: int) -> Design:
    """Return the label of one row, as a design of its own."""
    table = design.table
    if table is None:
        return design
    row = table.row(index)
    layers = tuple(_filled(layer, row) for layer in design.layers)
    first = next((text for text in table.rows[index] if text), "")
    return replace(design, name=f"{design.name}, row {index + 1}: {first}"[:80], layers=layers, table=None)


def longest_row(design: Design, fonts: FontLibrary) -> int:
    """Return the row with the widest line of words, against its room where it has some."""
    table = design.table
    if table is None:
        return 0
    return max(range(len(table.rows)), key=lambda index: _fullness(design, table.row(index), fonts))


def unknown_fields(design: Design) -> tuple[str, ...]:
    """Return the fields in words and codes that the table has no column for."""
    known = () if design.table is None else design.table.columns
    texts = [text for layer in design.layers if not layer.is_hidden for text in _texts(layer)]
    return tuple(dict.fromkeys(name for text in texts for name in fields_in(text) if name not in known))


def rows_too_long(design: Design, fonts: FontLibrary) -> tuple[int, ...]:
    """Return the rows, counted from 0, of which a line is wider than its room."""
    table = design.table
    if table is None:
        return ()
    return tuple(n for n in range(len(table.rows)) if _fullness(design, table.row(n), fonts) > 1 + 1e-3)


def failing_row(design: Design, fonts: FontLibrary) -> tuple[int, str] | None:
    """Return the first row, counted from 0, of which something cannot be drawn, and why."""
    for index in range(0 if design.table is None else len(design.table.rows)):
        for layer, whole in zip(with_row(design, index).layers, design.layers, strict=True):
            if layer == whole or layer.is_hidden:
                continue  # without fields it is judged by itself
            try:
                if layer.lettering is not None:
                    letter(layer.lettering, fonts.find(layer.lettering.family, layer.lettering.style).typeface)
                elif layer.code is not None:
                    code_area(layer.code)
            except HonestEdgeError as error:
                return index, str(error)
    return None


def named_rows(rows: tuple[int, ...]) -> str:
    """Return rows in words, counted from 1."""
    shown = ", ".join(str(row + 1) for row in rows[:_NAMED_ROWS])
    return shown + (f" and {len(rows) - _NAMED_ROWS} more" if len(rows) > _NAMED_ROWS else "")


def _fullness(design: Design, row: dict[str, str], fonts: FontLibrary) -> float:
    """Return the widest line of the words that have fields, in shares of its room or in metres."""
    most = 0.0
    for layer in design.layers:
        words = layer.lettering
        if words is None or layer.is_hidden or not fields_in(words.text):
            continue
        words = replace(words, text=filled(words.text, row).strip() or " .")
        try:
            wide = max(letter(words, fonts.find(words.family, words.style).typeface).widths_mm)
        except HonestEdgeError:
            return 1000.0  # shown first, for it cannot be made
        most = max(most, wide / words.room_mm if words.room_mm else wide / 1000)
    return most


def _filled(layer: Layer, row: dict[str, str]) -> Layer:
    """Return a layer with its fields filled; a lettering of which nothing is left is hidden."""
    if layer.lettering is not None and fields_in(layer.lettering.text):
        text = filled(layer.lettering.text, row)
        if not text.strip():
            return replace(layer, is_hidden=True)
        return replace(layer, lettering=replace(layer.lettering, text=text))
    if layer.code is not None and fields_in(layer.code.text):
        text = filled(layer.code.text, row)
        return (
            replace(layer, is_hidden=True) if not text.strip() else replace(layer, code=replace(layer.code, text=text))
        )
    return layer


def _texts(layer: Layer) -> tuple[str, ...]:
    found = (layer.lettering.text if layer.lettering else "", layer.code.text if layer.code else "")
    return tuple(text for text in found if text)
