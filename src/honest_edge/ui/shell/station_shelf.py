"""The stations of a window, each made when it is first needed."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from functools import partial

from honest_edge.ui.shared.contract import Command, Station, StationEntry
from honest_edge.ui.shared.host import Host

Entry = tuple[str, str, Callable[[], object]]
"""What a menu says, its key, and what it does."""


class StationShelf:
    """Stations by key, in the order of the registry."""

    def __init__(self, entries: Sequence[StationEntry], host: Host) -> None:
        self.entries = tuple(entries)
        self._host = host
        self._made: dict[str, Station] = {}
        self._built: set[str] = set()

    def __getitem__(self, key: str) -> Station:
        if key not in self._made:
            entry = next((entry for entry in self.entries if entry.key == key), None)
            if entry is None:
                raise KeyError(key)
            self._made[key] = entry.create(self._host)
        return self._made[key]

    def __contains__(self, key: object) -> bool:
        return any(entry.key == key for entry in self.entries)

    def commands(self) -> list[Entry]:
        """Return what the stations add to the menu; each is made when one of its own is first called."""

        def act(station: str, command: Command) -> None:
            command.act(self[station])

        return [
            (command.name, command.key, partial(act, entry.key, command))
            for entry in self.entries
            for command in entry.commands
        ]

    @property
    def first(self) -> str:
        """Key of the station where a design begins."""
        return self.entries[0].key

    def made(self) -> Iterator[Station]:
        """Yield the stations that were made already."""
        yield from tuple(self._made.values())

    def build_next(self) -> bool:
        """Build the panel of one station, where no visit did; return whether one was left."""
        for entry in self.entries:
            if entry.key not in self._built:
                self._built.add(entry.key)
                _ = self[entry.key].panel
                return True
        return False

    def taking(self, suffix: str) -> str | None:
        """Return the key of the station that takes files of an ending, or None."""
        return next((entry.key for entry in self.entries if suffix.lower() in entry.takes), None)
