"""The Book as plain files: JSON lines, one event a line, and CSV after RFC 4180; and events read back from them."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import asdict, fields
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, Literal

import msgspec

from honest_edge.core.values.errors import FileError, HonestEdgeError
from honest_edge.core.values.log_event import LogEvent, RunRecord
from honest_edge.files.atomic_write import write_set
from honest_edge.files.book.store import Book, packed
from honest_edge.files.read_input import read_input
from honest_edge.files.read_json import parsed

Format = Literal["json", "csv"]

JSON_NAME, CSV_NAME, RUNS_NAME = "book.jsonl", "book.csv", "runs.csv"
_COLUMNS = ("key", "at", "kind", "data")
_MOST_BYTES = 500_000_000
_AHEAD_MS = 86_400_000
"""A clock may be wrong by its time zone, not by more."""


class _Line(msgspec.Struct, forbid_unknown_fields=True):
    key: str
    at: datetime
    kind: str
    data: dict[str, Any]


def export(book: Book, folder: Path, form: Format) -> list[str]:
    """Write all of a Book into a folder and return the files' names.

    Raises:
        FileError: the folder cannot be written; nothing has changed then.
    """
    events = book.events()
    if form == "json":
        lines = [msgspec.json.encode(_Line(e.key, _moment(e.at_ms), e.kind, dict(e.data))) for e in events]
        contents = {JSON_NAME: b"".join(line + b"\n" for line in lines)}
    else:
        names = [field.name for field in fields(RunRecord)]
        runs = [(_moment(kept.at_ms).isoformat(), *asdict(kept.run).values()) for kept in book.runs(most=-1)]
        contents = {
            CSV_NAME: _csv(_COLUMNS, ((e.key, _moment(e.at_ms).isoformat(), e.kind, packed(e)) for e in events)),
            RUNS_NAME: _csv(("at", *names), reversed(runs)),
        }
    write_set(folder, contents, replace=True)
    return list(contents)


def take_in(book: Book, path: Path, now_ms: int) -> tuple[int, int]:
    """Add the events of an exported file, all or none.

    Args:
        book: where to.
        path: JSON lines or CSV as ``export`` writes them.
        now_ms: the present, in UTC milliseconds: what lies ahead of it is refused.

    Returns:
        How many were new, and how many were there already.

    Raises:
        FileError: it cannot be read, or a line is not what it should be; nothing was added.
    """
    data = read_input(path, _MOST_BYTES)
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise FileError(f"{path.name} is no text in UTF-8: export it again") from None
    read = _from_json if path.suffix.lower() in (".jsonl", ".ndjson", ".json") else _from_csv
    events = list(_checked(path.name, read(path.name, text), now_ms))
    try:
        added = book.add(events)
    except HonestEdgeError as error:
        raise FileError(f"{path.name}: {error}; nothing was added") from None
    return added, len(events) - added


def _checked(name: str, lines: Iterable[tuple[int, Callable[[], _Line]]], now_ms: int) -> Iterator[LogEvent]:
    for number, read in lines:
        try:
            line = read()
            if line.at.tzinfo is None:
                raise FileError("its time has no zone, such as Z")
            event = LogEvent(
                key=line.key,
                at_ms=round(line.at.timestamp() * 1000),
                kind=line.kind,
                data=dict(sorted(line.data.items())),
            )
        except (HonestEdgeError, OverflowError, ValueError) as error:
            raise FileError(f"{name}, line {number}: {error}; nothing was added") from None
        if event.at_ms > now_ms + _AHEAD_MS:
            raise FileError(f"{name}, line {number}: {line.at:%Y-%m-%d} lies in the future; nothing was added")
        yield event


def _from_json(name: str, text: str) -> Iterator[tuple[int, Callable[[], _Line]]]:
    for number, line in enumerate(text.split("\n"), 1):
        if line.strip():
            yield number, lambda line=line: parsed(line.encode(), _Line)  # type: ignore[misc]


def _from_csv(name: str, text: str) -> Iterator[tuple[int, Callable[[], _Line]]]:
    rows = csv.reader(io.StringIO(text, newline=""), strict=True)
    try:
        heading = next(rows, [])
        if tuple(heading) != _COLUMNS:
            raise FileError(f"{name} has the columns {', '.join(heading)[:80]}; wanted are {', '.join(_COLUMNS)}")
        for row in rows:
            yield rows.line_num, lambda row=row: _of_row(row)  # type: ignore[misc]
    except csv.Error as error:
        raise FileError(f"{name}, line {rows.line_num}: {error}; nothing was added") from None


def _of_row(row: Sequence[str]) -> _Line:
    if len(row) != len(_COLUMNS):
        raise FileError(f"it has {len(row)} fields; {len(_COLUMNS)} are wanted")
    key, at, kind, data = row
    return _Line(key, datetime.fromisoformat(at), kind, parsed(data.encode(), dict[str, Any]))


def _csv(heading: Sequence[str], rows: Iterable[Sequence[object]]) -> bytes:
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(heading)
    writer.writerows(rows)
    return out.getvalue().encode()


def _moment(at_ms: int) -> datetime:
    """Return a time to the millisecond, which the round trip keeps."""
    return datetime.fromtimestamp(at_ms // 1000, UTC).replace(microsecond=at_ms % 1000 * 1000)
