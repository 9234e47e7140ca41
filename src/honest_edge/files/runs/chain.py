"""A run's journal as a chain: each line bound to the one before by a hash of the bytes that were stored."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field

import msgspec

from honest_edge.core.values.errors import FileError
from honest_edge.core.values.run_events import RunEvent
from honest_edge.core.values.run_seal import SealedRun
from honest_edge.files.read_json import parsed
from honest_edge.files.runs.canonical import canonical
from honest_edge.files.runs.event_lines import parse_event, plain_event
from honest_edge.files.runs.progress import Progress

_MOST_VALUES = 5_000_000  # a sealed sheet of many stickers has some ten thousand numbers
_MOST_LINES = 100_000


class _Line(msgspec.Struct):
    event: msgspec.Raw
    hash: str


class _Kept(msgspec.Struct):
    """A run as a project keeps it."""

    seal: msgspec.Raw
    journal: list[msgspec.Raw]


@dataclass(slots=True)
class Chain:
    """A journal as it was read: its events, and how each line is bound to the one before.

    Attributes:
        hashes: first that of the seal, then one for each line.
        lines: as they were stored, each with its end.
    """

    hashes: list[str]
    events: list[RunEvent] = field(default_factory=list)
    lines: list[bytes] = field(default_factory=list)

    @property
    def size(self) -> int:
        """How many bytes are whole lines."""
        return sum(map(len, self.lines))

    def take(self, line: bytes, event: RunEvent, digest: str) -> None:
        """Take one more line."""
        self.lines.append(line)
        self.events.append(event)
        self.hashes.append(digest)

    def is_at(self, progress: Progress) -> bool:
        """Whether the journal once stood so."""
        return progress.lines < len(self.hashes) and self.hashes[progress.lines] == progress.hash


def seal_hash(data: bytes) -> str:
    """Return the SHA-256 of a seal as it lies on the disk, in hexadecimal."""
    return hashlib.sha256(data).hexdigest()


def parse_seal(data: bytes, name: str) -> SealedRun:
    """Return a seal.

    Raises:
        FileError: it is none.
    """
    try:
        return parsed(data, SealedRun, most_values=_MOST_VALUES)
    except FileError as error:
        raise FileError(f"The seal of the run {name} cannot be read: {error}") from None


def kept_run(text: bytes, name: str) -> tuple[bytes, list[bytes]]:
    """Return the seal and the lines of a run as a project keeps it, as they were stored.

    Raises:
        FileError: it cannot be read.
    """
    try:
        kept = parsed(text, _Kept, most_values=_MOST_VALUES)
    except FileError as error:
        raise FileError(f"The run {name} in the project cannot be read: {error}") from None
    return bytes(kept.seal), [bytes(line) + b"\n" for line in kept.journal]


def line_of(last: str, event: RunEvent) -> tuple[bytes, str]:
    """Return the line of an event after the one with the hash ``last``, and its own hash."""
    data = canonical(plain_event(event))
    digest = _bound(last, data)
    return b'{"event":' + data + b',"hash":"' + digest.encode() + b'"}\n', digest


def _bound(last: str, event: bytes) -> str:
    return hashlib.sha256(last.encode() + event).hexdigest()


def parse_chain(data: bytes, seal: str, name: str) -> Chain:
    """Return a journal.

    Raises:
        FileError: a line that is not the last is damaged, does not follow the one before, or is of a newer version.
    """
    lines = data.splitlines(keepends=True)
    if len(lines) > _MOST_LINES:
        raise FileError(f"The journal of the run {name} has {len(lines):,} lines; {_MOST_LINES:,} are read")
    chain = Chain([seal])
    for number, line in enumerate(lines, 1):
        bound = _bound_event(chain.hashes[-1], line)
        if bound is None:
            if number < len(lines) or line.endswith(b"\n"):
                raise FileError(
                    f"The journal of the run {name} is damaged in line {number}: restore its folder from a backup, or "
                    "give the run up"
                )
            break
        data, digest = bound
        try:
            chain.take(line, parse_event(data), digest)
        except FileError as error:  # it is whole, and yet not to be read
            raise FileError(f"The journal of the run {name} cannot be read in line {number}: {error}") from None
    return chain


def _bound_event(last: str, line: bytes) -> tuple[bytes, str] | None:
    """Return an event's bytes and its hash; None where the line is torn, or does not follow the one before."""
    try:
        line_parts = parsed(line, _Line)
    except FileError:
        return None
    data = bytes(line_parts.event)
    return (data, line_parts.hash) if line.endswith(b"\n") and _bound(last, data) == line_parts.hash else None
