"""Putting measured sheets into the Book, and what they prove of a correction that was taken before."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from typing import Any, Literal, cast

from honest_edge.app.bench.bench_history import BenchHistory
from honest_edge.app.bench.view import learnt_sign
from honest_edge.core.measure.bench_error import WeighedSheet, believed
from honest_edge.core.values.bench_records import BenchNote, MachineSign, kept_sheet
from honest_edge.core.values.measured import MeasuredSheet
from honest_edge.files.book.records import MEASURED, SIGN, NoteKind

Record = tuple[NoteKind[Any], object]


def to_keep(
    known: BenchHistory, sheets: Sequence[MeasuredSheet], assumed_mm: float, *, simulated: bool = False
) -> tuple[list[Record], list[str]]:
    """Return what to add to the Book for measured sheets, and what is to be said.

    Where a number was typed into the machine and no target was measured since, these sheets tell which way it goes.
    """
    records: list[Record] = [
        (MEASURED, kept_sheet(sheet, known.bench, secrets.token_hex(16), simulated=simulated)) for sheet in sheets
    ]
    typed = _typed_and_unproven(known)
    if typed is None or not sheets:
        return records, []
    before = believed([one for one in _weighed(known) if one.weight > 0], assumed_mm)
    after = believed([WeighedSheet(sheet=sheet) for sheet in sheets], assumed_mm)
    if before is None or after is None:
        return records, []
    said = []
    pairs = (("across", "shift_x_mm", typed.typed_x_mm), ("down", "shift_y_mm", typed.typed_y_mm))
    for axis, part, number in pairs:
        sign = learnt_sign(getattr(before, part).mean, number or 0.0, getattr(after, part).mean)
        if sign is not None:
            learnt = MachineSign(
                machine=known.bench.machine,
                printer=known.bench.printer,
                axis=cast(Literal["across", "down"], axis),
                sign=cast(Literal[1, -1], sign),
            )
            records.append((SIGN, learnt))
        if sign == -1:
            said.append(
                f"The machine’s number {axis} goes the other way: what was typed doubled the error. Its sign is known "
                "now; take the steady part out once more."
            )
    return records, said


def _weighed(known: BenchHistory) -> list[WeighedSheet]:
    newest = max((row.epoch for row in known.rows), default=0)
    return [
        WeighedSheet(sheet=row.kept.measured, at_ms=row.at_ms, weight=row.weight, epoch=row.epoch)
        for row in known.rows
        if row.epoch == newest
    ]


def _typed_and_unproven(known: BenchHistory) -> BenchNote | None:
    """Return the newest note of a typed correction, where no sheet was measured since."""
    if not known.notes or known.notes[-1].record.what != "typed into the machine":
        return None
    note = known.notes[-1]
    return None if any(row.at_ms >= note.at_ms for row in known.rows) else note.record
