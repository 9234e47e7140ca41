"""Designs that begin with a table: one label a row, with what its columns hold placed on it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from honest_edge.app.edits.job_holder import formed_design, free_name, line_of_words
from honest_edge.app.edits.table_roles import Roles, copies_in, repeated, roles_of
from honest_edge.core.layers.forms import form_shape
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.forms import Form, Preset
from honest_edge.core.values.job import KEPT_CLEAR_MM, Design, Job
from honest_edge.core.values.layers import Code, Layer, Picture
from honest_edge.core.values.tables import Table, filled

_SIZES_MM, _LINE_MM = (6.0, 4.0, 4.0), 2.2
"""Heights of capitals, the first column's the largest, and how many of them lie from line to line; rows too long for
the form are set smaller by themselves."""
_MOST_PICTURED = 60
_EAN_DIGITS = 13


def tabled_design(job: Job, preset: Preset, table: Table) -> Design:
    """Return a design on a form that a table fills: words and price below each other, a code at the foot.

    Raises:
        UsageError: its copies cannot be made at once.
    """
    roles = roles_of(table)
    design = formed_design(job, preset)
    assert design.form is not None
    column = roles.first("copies")
    layers = _layers(design.form, roles, table)
    return replace(design, table=table if column is None else repeated(table, column), layers=layers)


def with_table(design: Design, table: Table) -> Design:
    """Return a design on a form that takes a table: its columns are placed where none of its words asks for one.

    Raises:
        UsageError: its copies cannot be made at once.
    """
    assert design.form is not None
    roles = roles_of(table)
    column = roles.first("copies")
    table = table if column is None else repeated(table, column)
    texts = [one.lettering.text if one.lettering else one.code.text if one.code else "" for one in design.layers]
    if any(f"{{{name}}}" in text for text in texts for name in table.columns):
        return replace(design, table=table)
    return replace(design, table=table, layers=_layers(design.form, roles, table))


def pictured_designs(
    job: Job, preset: Preset, table: Table, picture: Callable[[str], Picture | None]
) -> tuple[Design, ...]:
    """Return a design for each row of a table, with the row's picture above its words.

    Args:
        job: that they are for.
        preset: the form.
        table: with a column of pictures.
        picture: returns the picture of a cell, or None where there is no such file.

    Raises:
        UsageError: too many rows.
    """
    roles = roles_of(table)
    shown, counts = roles.first("picture"), roles.first("copies")
    if len(table.rows) > _MOST_PICTURED:
        raise UsageError(f"{table.file_name} has {len(table.rows)} rows with pictures; up to {_MOST_PICTURED} are made")
    designs: list[Design] = []
    for number in range(len(table.rows)):
        row = table.row(number)
        design = formed_design(job, preset)
        assert design.form is not None
        row_picture = picture(row[shown]) if shown and row[shown] else None
        layers = tuple(
            _filled(layer, row) for layer in _layers(design.form, roles, table, below=row_picture is not None)
        )
        if row_picture is not None:
            layers = (_pictured(design.form, row_picture, len(layers)), *layers)
        name = next((row[one] for one in roles.columns("words") if row[one]), design.name)
        designs.append(
            replace(
                design,
                name=free_name(job, name[:80]),
                copies=copies_in(table, counts, number) if counts else 1,
                layers=layers,
            )
        )
        job = replace(job, designs=(*job.designs, replace(designs[-1], key=job.free_key())))
    return tuple(designs)


def _layers(form: Form, roles: Roles, table: Table, *, below: bool = False) -> tuple[Layer, ...]:
    """Return the layers that a table's columns are: words round the middle of what is free, a code at the foot."""
    columns = (*roles.columns("words"), *roles.columns("price"))[: len(_SIZES_MM)]
    code = roles.first("code")
    left, top, right, bottom = (float(edge) for edge in form_shape(form).area.bounds)
    high = bottom - top
    code_mm = min(25.0, 0.4 * high, 0.5 * (right - left)) if code else 0.0
    free_top = top + (0.5 * high if below else KEPT_CLEAR_MM)
    free_bottom = bottom - (code_mm + 2 if code else KEPT_CLEAR_MM)
    sizes = list(_SIZES_MM[: len(columns)])
    fit = min(1.0, (free_bottom - free_top) / (_LINE_MM * sum(sizes))) if sizes else 1.0
    sizes = [round(max(1.0, fit * size), 2) for size in sizes]
    y_mm = (free_top + free_bottom) / 2 - _LINE_MM * sum(sizes) / 2
    layers: list[Layer] = []
    for number, (column, size_mm) in enumerate(zip(columns, sizes, strict=True)):
        line = line_of_words(f"l{number + 1}", f"{{{column}}}", size_mm, round(y_mm + _LINE_MM * size_mm / 2, 2))
        layers.append(line)
        y_mm += _LINE_MM * size_mm
    if code is not None:
        layers.append(_code_layer(code, table, code_mm, bottom, f"l{len(layers) + 1}"))
    return tuple(layers)


def _code_layer(column: str, table: Table, side_mm: float, bottom_mm: float, key: str) -> Layer:
    cells = [row[table.columns.index(column)].strip() for row in table.rows]
    is_ean = all(len(cell) == _EAN_DIGITS and cell.isdigit() for cell in cells if cell)
    code = Code(kind="EAN-13" if is_ean else "QR", text=f"{{{column}}}", width_mm=side_mm * (1.4 if is_ean else 1.0))
    return Layer(key=key, code=code, y_mm=round(bottom_mm - side_mm / 2 - 1.5, 2))


def _filled(layer: Layer, row: dict[str, str]) -> Layer:
    """Return a layer with the row's texts in place of its fields."""
    if layer.lettering is not None:
        return replace(layer, lettering=replace(layer.lettering, text=filled(layer.lettering.text, row)))
    if layer.code is not None:
        return replace(layer, code=replace(layer.code, text=filled(layer.code.text, row)))
    return layer


def _pictured(form: Form, picture: Picture, count: int) -> Layer:
    """Return a picture in the upper half of a form."""
    left, top, right, bottom = (float(edge) for edge in form_shape(form).area.bounds)
    wide = min(0.6 * (right - left), 0.45 * (bottom - top))
    y_mm = round(top + 0.28 * (bottom - top), 2)
    return Layer(key=f"l{count + 1}", picture=replace(picture, width_mm=wide), y_mm=y_mm)


def table_words(table: Table, made: Sequence[Design]) -> str:
    """Return in a sentence what a table was taken for."""
    roles = roles_of(table)
    counts, codes, pictures = roles.first("copies"), roles.first("code"), roles.first("picture")
    said = [f"one label a row, {len(table.rows)} of them"]
    if counts:
        said.append(f"as many of each as “{counts}” says, {sum(one.label_count for one in made)} in all")
    if codes:
        said.append(f"“{codes}” as a code")
    if pictures:
        said.append(f"“{pictures}” as its picture")
    return f"{table.file_name}: {'; '.join(said)}."
