"""Reading a table from a CSV file (RFC 4180; comma, semicolon or tab)."""

from __future__ import annotations

import csv
import io
import re

from honest_edge.core.values.errors import FileError, UsageError
from honest_edge.core.values.tables import MOST_ROWS, Table

MOST_TABLE_BYTES = 5_000_000
_MARKS = ",;\t"


def read_table(data: bytes, name: str) -> Table:
    """Return the table in a file's bytes; its first row names the columns, empty rows are left out.

    Raises:
        FileError: it is no such table; the message says where.
    """
    if len(data) > MOST_TABLE_BYTES:
        raise FileError(
            f"{name} is {len(data) / 1e6:.1f} MB, more than the {MOST_TABLE_BYTES / 1e6:.0f} MB of any table"
        )
    text = _text(data, name)
    mark = max(_MARKS, key=_head(text).count)
    try:
        lines = [line for line in csv.reader(io.StringIO(text, newline=""), delimiter=mark, strict=True) if any(line)]
    except csv.Error as error:
        raise FileError(
            f"{name} has a quote that does not close or stands amid a text ({error}): mend that row"
        ) from None
    if len(lines) < 2:
        raise FileError(f"{name} has no rows under its first line, which names the columns")
    if len(lines) - 1 > MOST_ROWS:
        raise FileError(f"{name} has {len(lines) - 1} rows; up to {MOST_ROWS} labels are made at once: split the table")
    columns = tuple(cell.strip() for cell in lines[0])
    if not all(columns):
        raise FileError(f"Column {columns.index('') + 1} of {name} has no name in the first line")
    try:
        return Table(file_name=name, columns=columns, rows=tuple(_cells(line, len(columns)) for line in lines[1:]))
    except UsageError as error:
        raise FileError(str(error)) from None


def _head(text: str) -> str:
    """Return the first row that holds anything; what Unicode also calls a line's end may stand in a cell."""
    return next((line for line in re.split(r"\r\n|\r|\n", text) if line.strip()), "")


def _text(data: bytes, name: str) -> str:
    encoding = "utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig"
    try:
        text = data.decode(encoding)
    except UnicodeDecodeError as error:
        line = data[: error.start].count(b"\n") + 1
        raise FileError(f"Line {line} of {name} is no UTF-8 text: save the table as “CSV UTF-8”") from None
    if "\0" in text:
        raise FileError(f"{name} is no text: save the table as “CSV UTF-8”")
    return text


def _cells(line: list[str], count: int) -> tuple[str, ...]:
    """Return a row's texts; spreadsheets leave out empty cells at a row's end."""
    return tuple(cell.strip() for cell in line) + ("",) * (count - len(line))
