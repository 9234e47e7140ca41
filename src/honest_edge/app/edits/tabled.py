"""A design that begins with a table: one label a row, with the first columns written on it."""

from __future__ import annotations

from dataclasses import replace

from honest_edge.app.edits.job_holder import formed_design, line_of_words
from honest_edge.core.values.forms import Preset
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.tables import Table

_SIZES_MM, _PITCH_MM = (6.0, 4.0, 4.0), 8.0
"""Of the lines, the first column's the largest; rows too long for the form are set smaller by themselves."""


def tabled_design(job: Job, preset: Preset, table: Table) -> Design:
    """Return a design on a form, filled by a table's first three columns."""
    columns = table.columns[: len(_SIZES_MM)]
    top_mm = -_PITCH_MM * (len(columns) - 1) / 2
    layers = tuple(
        line_of_words(f"l{number + 1}", f"{{{column}}}", size_mm, top_mm + _PITCH_MM * number)
        for number, (column, size_mm) in enumerate(zip(columns, _SIZES_MM, strict=False))
    )
    return replace(formed_design(job, preset), table=table, layers=layers)
