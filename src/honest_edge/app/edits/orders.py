"""An order as part of a job: its lines say how many copies are made."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

from honest_edge.app.edits.habits import promised
from honest_edge.app.edits.job_holder import free_name, name_of_file
from honest_edge.app.edits.table_roles import Roles, copies_in, roles_of
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.orders import MOST_ORDER_LINES, OrderLine
from honest_edge.core.values.specs import School, WantedSize, with_school
from honest_edge.core.values.tables import Table
from honest_edge.core.values.units import parse_length
from honest_edge.files.file_kinds import PICTURE_SUFFIXES

_GROUNDS: dict[str, School] = {
    "white": "border",
    "white border": "border",
    "border": "border",
    "coloured": "bleed",
    "colour": "bleed",
    "full bleed": "bleed",
    "bleed": "bleed",
}


def with_order(job: Job, lines: Sequence[OrderLine]) -> Job:
    """Return the job with an order; of every design that it names as many are made as it asks for.

    Raises:
        UsageError: too many lines, or one names a design that the job does not have.
    """
    if len(lines) > MOST_ORDER_LINES:
        raise UsageError(f"The order has {len(lines)} lines; up to {MOST_ORDER_LINES} are kept")
    wanted, before = Counter[str](), {line.design for line in job.order}
    for line in lines:
        wanted[line.design] += line.quantity
    keys = {design.key for design in job.designs}
    if set(wanted) - keys:
        raise UsageError("The order names a design that the job does not have")
    for key, quantity in wanted.items():
        job = job.with_design(replace(job.design(key), copies=quantity, fills=False))
    for key in (before - set(wanted)) & keys:  # it was ordered, and is no more
        job = job.with_design(replace(job.design(key), copies=0, fills=False))
    return replace(job, order=tuple(lines))


def is_order(table: Table, job: Job) -> bool:
    """Whether a table orders designs that a job has: a column names them, another says how many."""
    roles = roles_of(table)
    return roles.first("copies") is not None and _named(table, roles, job) is not None


def _named(table: Table, roles: Roles, job: Job) -> str | None:
    """Return the column whose every cell names a design of the job."""
    names = {design.name.lower() for design in job.designs}
    for column in (*roles.columns("words"), *roles.columns("picture")):
        cells = [table.row(number)[column] for number in range(len(table.rows))]
        if cells and all(_bare(cell) in names for cell in cells):
            return column
    return None


def _bare(cell: str) -> str:
    """Return what a cell names: a design, or what a design is called after a picture's file."""
    name = cell.strip()
    return (name_of_file(name) if name.lower().endswith(PICTURE_SUFFIXES) else name).lower()


def ordered_by_table(job: Job, table: Table) -> Job:
    """Return the job with the lines of a table added to its order.

    A line that asks for another size or ground than its design has gets a variant of it, made once.

    Raises:
        UsageError: a row cannot be understood; it is named.
    """
    roles = roles_of(table)
    column, counts = _named(table, roles, job), roles.first("copies")
    assert column is not None
    assert counts is not None
    by_name = {design.name.lower(): design.key for design in job.designs}
    variants: dict[tuple[str, str, str], str] = {}
    lines: list[OrderLine] = list(job.order)
    for number in range(len(table.rows)):
        quantity = copies_in(table, counts, number)
        if not quantity:
            continue
        row = table.row(number)
        key = by_name[_bare(row[column])]
        size, ground = _cell(row, ("size", "width")), _cell(row, ("ground", "edge", "border", "variant"))
        try:
            job, key = _variant(job, key, size, ground, variants)
        except UsageError as error:
            raise UsageError(f"Row {number + 1} of {table.file_name}: {error}") from None
        known = {column, counts}
        whom = next((row[name] for name in table.columns if name.strip().lower() in _WHOM), "")
        note = ", ".join(
            row[name] for name in roles.columns("words") if name not in known and _is_note(name) and row[name]
        )
        lines.append(OrderLine(design=key, quantity=quantity, whom=whom.strip(), note=note[:200]))
    return with_order(job, lines)


_WHOM = frozenset(("for", "for whom", "whom", "customer", "client", "recipient"))
_VARIANTS = frozenset(("size", "width", "ground", "edge", "border", "variant"))


def _is_note(column: str) -> bool:
    return column.strip().lower() not in _WHOM | _VARIANTS


def _cell(row: dict[str, str], names: Sequence[str]) -> str:
    return next((text.strip() for name, text in row.items() if name.strip().lower() in names and text.strip()), "")


def _variant(job: Job, key: str, size: str, ground: str, made: dict[tuple[str, str, str], str]) -> tuple[Job, str]:
    """Return the job with a variant of a design, and the variant's key; the design's own where nothing differs."""
    if not size and not ground:
        return job, key
    known = key, size.lower(), ground.lower()
    if known in made:
        return job, made[known]
    design = _changed(job.design(key), size, ground)
    if replace(design, name=job.design(key).name) == job.design(key):
        return job, key
    design = replace(design, key=job.free_key(), name=free_name(job, design.name))
    made[known] = design.key
    return replace(job, designs=(*job.designs, design)), design.key


def _changed(design: Design, size: str, ground: str) -> Design:
    said = [design.name]
    if ground:
        school = _GROUNDS.get(ground.lower())
        if school is None:
            raise UsageError(f"“{ground[:30]}” is no ground: write white, or coloured")
        if school != design.edge.school:
            design = replace(design, edge=with_school(design.edge, school))
            said.append("white" if school == "border" else "coloured")
    if size:
        length_mm = parse_length(size)
        if design.wanted is None or design.wanted.length_mm != length_mm:
            design = promised(design, WantedSize(of="cut", side=0, length_mm=length_mm))
            said.append(size)
    return replace(design, name=", ".join(said))
