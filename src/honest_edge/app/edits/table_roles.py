"""What the columns of a table are, by their names and what stands in them: words, copies, prices, codes, pictures."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.specs import MOST_COPIES
from honest_edge.core.values.tables import MOST_ROWS, Table
from honest_edge.files.file_kinds import PICTURE_SUFFIXES

Role = Literal["words", "copies", "price", "code", "picture"]

_COPIES = frozenset(("copies", "count", "quantity", "qty", "number", "pieces", "pcs", "how many", "amount", "jars"))
_CODES = frozenset(("code", "barcode", "ean", "ean-13", "upc", "gtin", "qr", "link", "url", "web"))
_PRICE = re.compile(r"[$€£¥]?\s*\d+(?:[.,]\d{1,2})?\s*[$€£¥]?")
_CODE = re.compile(r"\d{8}|\d{12,14}|https?://\S+")


@dataclass(frozen=True, slots=True, kw_only=True)
class Roles:
    """The columns of a table by what they are.

    Attributes:
        of: by column.
    """

    of: dict[str, Role]

    def columns(self, role: Role) -> tuple[str, ...]:
        """Return the columns that are something, in order."""
        return tuple(name for name, is_role in self.of.items() if is_role == role)

    def first(self, role: Role) -> str | None:
        """Return the first column that is something."""
        return next(iter(self.columns(role)), None)


def roles_of(table: Table) -> Roles:
    """Return what each column is; only one can be the copies, and what is nothing else is words."""
    role_of: dict[str, Role] = {}
    for number, name in enumerate(table.columns):
        cells = [row[number].strip() for row in table.rows]
        role = _role(name.strip().lower(), [cell for cell in cells if cell])
        role_of[name] = "words" if role == "copies" and "copies" in role_of.values() else role
    return Roles(of=role_of)


def _role(name: str, cells: list[str]) -> Role:
    if cells and all(cell.lower().endswith(PICTURE_SUFFIXES) for cell in cells):
        return "picture"
    if name in _COPIES and cells and all(_count(cell) is not None for cell in cells):
        return "copies"
    if cells and (name in _CODES or all(_CODE.fullmatch(cell) for cell in cells)):
        return "code"
    if "price" in name and cells and all(_PRICE.fullmatch(cell) for cell in cells):
        return "price"
    return "words"


def _count(cell: str) -> int | None:
    """Return a whole number of copies; None for anything else."""
    return int(cell) if re.fullmatch(r"\d{1,6}", cell) and int(cell) <= MOST_COPIES else None


def copies_in(table: Table, column: str, row: int) -> int:
    """Return how many of a row are wanted; one where its cell is empty."""
    cell = table.rows[row][table.columns.index(column)].strip()
    return 1 if not cell else _count(cell) or 0


def repeated(table: Table, column: str) -> Table:
    """Return a table with each row as often as a column says; none of a row that wants none.

    Raises:
        UsageError: that is more labels than are made at once, or none.
    """
    counts = [copies_in(table, column, row) for row in range(len(table.rows))]
    if sum(counts) > MOST_ROWS:
        raise UsageError(
            f"“{column}” of {table.file_name} asks for {sum(counts)} labels; up to {MOST_ROWS} are made at once: "
            "split the table, or take the column out"
        )
    if not sum(counts):
        raise UsageError(f"“{column}” of {table.file_name} asks for no label at all: type a number in one row")
    rows = tuple(row for row, count in zip(table.rows, counts, strict=True) for _ in range(count))
    return replace(table, rows=rows)
