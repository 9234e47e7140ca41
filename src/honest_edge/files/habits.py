"""The habits of this user, in one JSON file beside the settings."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import msgspec

from honest_edge.core.values.errors import FileError, HonestEdgeError
from honest_edge.core.values.habits import Habits
from honest_edge.files.atomic_write import write_set
from honest_edge.files.read_json import parsed

_SCHEMA = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class _Envelope:
    schema: int
    habits: Habits


class HabitsFile:
    """Reads and writes habits."""

    def __init__(self, path: Path) -> None:
        self._path = path

    def read(self) -> Habits:
        """Return the habits; where they cannot be read, or are those of a newer version, there are none."""
        try:
            habits = parsed(self._path.read_bytes(), _Envelope)
        except (OSError, FileError):
            return Habits()
        return habits.habits if habits.schema == _SCHEMA else Habits()

    def write(self, habits: Habits) -> None:
        """Remember habits; where that is impossible the session goes on without."""
        data = msgspec.json.format(msgspec.json.encode(_Envelope(schema=_SCHEMA, habits=habits)), indent=1)
        try:
            write_set(self._path.parent, {self._path.name: data}, replace=True)
        except HonestEdgeError:
            return
