"""A table of texts: one label a row."""

from __future__ import annotations

import re
from dataclasses import dataclass

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.units import check_range

MOST_ROWS = 400
MOST_CELL_LETTERS = 500
_FIELD = re.compile(r"\{([^{}\n]+)\}")


@dataclass(frozen=True, slots=True, kw_only=True)
class Table:
    """Texts by column.

    Attributes:
        file_name: what it was read from.
        columns: their names.
        rows: the texts, as many a row as there are columns.
        left_out: rows, counted from 0, of which no label is made.
        shown: the row that is looked at; None shows the one with the longest words.
    """

    file_name: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    left_out: tuple[int, ...] = ()
    shown: int | None = None

    def __post_init__(self) -> None:
        check_range("columns of the table", len(self.columns), 1, 100, "")
        check_range("rows of the table", len(self.rows), 1, MOST_ROWS, "")
        if len(set(self.columns)) != len(self.columns):
            raise UsageError(f"Two columns of {self.file_name} have one name: give each its own")
        for number, row in enumerate(self.rows, 1):
            if len(row) != len(self.columns):
                raise UsageError(
                    f"Row {number} of {self.file_name} has {len(row)} cells and the table {len(self.columns)} columns"
                )
            if max(map(len, row)) > MOST_CELL_LETTERS:
                raise UsageError(f"Row {number} of {self.file_name} has a text of over {MOST_CELL_LETTERS} letters")

        if not self.kept:
            raise UsageError(f"Every row of {self.file_name} is left out: keep at least one")
        for index in (*self.left_out, *(() if self.shown is None else (self.shown,))):
            check_range("row", index + 1, 1, len(self.rows), "")

    @property
    def kept(self) -> tuple[int, ...]:
        """The rows of which labels are made, counted from 0."""
        return tuple(index for index in range(len(self.rows)) if index not in self.left_out)

    def row(self, index: int) -> dict[str, str]:
        """Return a row's texts by column."""
        return dict(zip(self.columns, self.rows[index], strict=True))


def fields_in(text: str) -> tuple[str, ...]:
    """Return the names in braces, in order, each once."""
    return tuple(dict.fromkeys(_FIELD.findall(text)))


def filled(text: str, row: dict[str, str]) -> str:
    """Return a text with ``{name}`` replaced by the row's; names that the row lacks stay as they are."""
    return _FIELD.sub(lambda found: row.get(found[1], found[0]), text)
