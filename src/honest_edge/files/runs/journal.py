"""Runs on the disk: a folder for each, with its seal, what was printed, and a journal that is only added to.

``<run>/seal.json`` is canonical JSON, ``<run>/print.pdf`` what was printed without the sheets' signs, and each line of
``<run>/journal.jsonl`` one event with the hash that binds it to the line before. A line is on the disk before anybody
goes on. Who ends in the middle of a line leaves a torn one, which never happened.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import shutil
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path

import msgspec

from honest_edge.core.values.errors import BlockedError, FileError, UsageError
from honest_edge.core.values.run_events import RunEvent
from honest_edge.core.values.run_seal import SealedRun
from honest_edge.files.atomic_write import write_set
from honest_edge.files.book.place import book_path
from honest_edge.files.locks import locked
from honest_edge.files.read_input import read_input
from honest_edge.files.runs.canonical import canonical

SEAL, PRINT, JOURNAL, LOCK = "seal.json", "print.pdf", "journal.jsonl", "lock"
_MOST_BYTES = 1_000_000_000
_MOST_JOURNAL_BYTES = 50_000_000


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftRun:
    """A run that is kept: its seal, and whether another window has it in hand."""

    seal: SealedRun
    folder: Path
    has_ended: bool
    is_taken: bool


class _Line(msgspec.Struct):
    event: RunEvent
    hash: str


def runs_folder() -> Path:
    """Return where runs are kept: beside the Book."""
    return book_path().parent / "runs"


def seal_bytes(seal: SealedRun) -> bytes:
    """Return a seal as canonical JSON."""
    return canonical(msgspec.to_builtins(seal))


def seal_hash(seal: SealedRun) -> str:
    """Return the SHA-256 of a seal, in hexadecimal."""
    return hashlib.sha256(seal_bytes(seal)).hexdigest()


def parse_seal(data: bytes, name: str) -> SealedRun:
    """Return a seal.

    Raises:
        FileError: it is none.
    """
    try:
        return msgspec.json.decode(data, type=SealedRun)
    except (msgspec.DecodeError, UsageError, UnicodeDecodeError) as error:
        raise FileError(f"The seal of the run {name} cannot be read: {error}") from None


class Journal:
    """One run's folder, in the hand of one window: nobody else can add to it meanwhile."""

    def __init__(self, folder: Path, seal: SealedRun, events: list[RunEvent], last: str, lock: int) -> None:
        """Take what ``begin`` and ``take_up`` found."""
        self.folder, self.seal = folder, seal
        self.events = events
        self._last, self._lock = last, lock
        self._handle: int | None = None

    @classmethod
    def begin(cls, runs: Path, seal: SealedRun, print_file: bytes | None) -> Journal:
        """Keep a run that was just sealed.

        Raises:
            FileError: it cannot be kept.
        """
        folder = runs / seal.run
        files = {SEAL: seal_bytes(seal), JOURNAL: b"", **({} if print_file is None else {PRINT: print_file})}
        write_set(folder, files, replace=False)
        return cls.take_up(folder)

    @classmethod
    def take_up(cls, folder: Path) -> Journal:
        """Take up a run that was left.

        Raises:
            BlockedError: another window has it in hand.
            FileError: it cannot be read, or something of it was changed by hand.
        """
        lock = _locked(folder)
        if lock is None:
            raise BlockedError("Another window has this run in hand: go on there, or close it first")
        try:
            seal = parse_seal(read_input(folder / SEAL, _MOST_BYTES), folder.name[:8])
            events, last, whole = _read_journal(folder / JOURNAL, seal)
            _check_print(folder, seal)
            with open(folder / JOURNAL, "r+b") as journal:
                journal.truncate(whole)  # a torn line is what was being written when all ended
        except BaseException as error:
            os.close(lock)
            if isinstance(error, OSError):
                raise FileError(f"The run {folder.name[:8]} cannot be read: {error.strerror or error}") from None
            raise
        return cls(folder, seal, events, last, lock)

    def add(self, event: RunEvent) -> None:
        """Add an event; it is on the disk when this returns.

        Raises:
            FileError: it was not added.
        """
        line, digest = _line(self._last, event)
        try:
            if self._handle is None:
                self._handle = os.open(self.folder / JOURNAL, os.O_WRONLY | os.O_APPEND | os.O_CLOEXEC)
            size = os.fstat(self._handle).st_size
            try:
                os.write(self._handle, line)
                os.fsync(self._handle)
            except OSError:
                with contextlib.suppress(OSError):
                    os.ftruncate(self._handle, size)
                raise
        except OSError as error:
            raise FileError(
                f"What happened cannot be written down ({error.strerror or error}): make room on the disk, then do "
                "the step again"
            ) from None
        self._last = digest
        self.events.append(event)

    def print_file(self) -> bytes | None:
        """Return what was printed, without the sheets' signs; None where nothing is.

        Raises:
            FileError: it is not there any more, or changed.
        """
        return _check_print(self.folder, self.seal)

    def text(self) -> bytes:
        """Return seal and journal as one JSON text, as a project file keeps them."""
        lines = [msgspec.json.decode(line) for line in (self.folder / JOURNAL).read_bytes().splitlines()]
        return canonical({"seal": msgspec.to_builtins(self.seal), "journal": lines})

    def discard(self) -> None:
        """Let go of it and remove it; what cannot be removed stays."""
        self.close()
        shutil.rmtree(self.folder, ignore_errors=True)

    def close(self) -> None:
        """Let go of it."""
        for handle in (self._handle, self._lock):
            if handle is not None and handle >= 0:
                os.close(handle)
        self._handle, self._lock = None, -1


def left_runs(runs: Path) -> tuple[list[LeftRun], list[str]]:
    """Return the runs that are kept, the newest first, and a sentence for each that cannot be read."""
    found, said = [], []
    with contextlib.suppress(FileNotFoundError):
        for folder in sorted(runs.iterdir()):
            if not (folder / SEAL).is_file():
                continue
            try:
                seal = parse_seal(read_input(folder / SEAL, _MOST_BYTES), folder.name[:8])
                events, _, _ = _read_journal(folder / JOURNAL, seal)
            except (FileError, OSError) as error:
                said.append(str(error))
                continue
            has_ended = any(event.what == "ended" for event in events)
            lock = _locked(folder)
            if lock is not None:
                os.close(lock)
            found.append(LeftRun(seal=seal, folder=folder, has_ended=has_ended, is_taken=lock is None))
    return sorted(found, key=lambda run: run.seal.sealed_at, reverse=True), said


def parse_run(text: bytes, name: str) -> tuple[SealedRun, tuple[RunEvent, ...]]:
    """Return the seal and the events of a run as a project file keeps it.

    Raises:
        FileError: it cannot be read, or was changed.
    """
    try:
        found: Mapping[str, object] = msgspec.json.decode(text, type=dict)
        seal = parse_seal(canonical(found["seal"]), name)
        lines = found["journal"]
        data = b"".join(canonical(line) + b"\n" for line in lines) if isinstance(lines, list) else b""
    except (msgspec.DecodeError, KeyError) as error:
        raise FileError(f"The run {name} in the project cannot be read: {error}") from None
    events, _, whole = _parsed(data, seal, name)
    if whole != len(data):
        raise FileError(f"The run {name} in the project was changed by hand: its journal does not hold together")
    return seal, tuple(events)


def _line(last: str, event: RunEvent) -> tuple[bytes, str]:
    plain = msgspec.to_builtins(event)
    digest = hashlib.sha256(last.encode() + canonical(plain)).hexdigest()
    return canonical({"event": plain, "hash": digest}) + b"\n", digest


def read_events(path: Path, seal: SealedRun) -> list[RunEvent]:
    """Return the events of a journal.

    Raises:
        FileError: it cannot be read, or was changed.
    """
    return _read_journal(path, seal)[0]


def _read_journal(path: Path, seal: SealedRun) -> tuple[list[RunEvent], str, int]:
    return _parsed(read_input(path, _MOST_JOURNAL_BYTES), seal, seal.code)


def _parsed(data: bytes, seal: SealedRun, name: str) -> tuple[list[RunEvent], str, int]:
    """Return the events of a journal, the last hash, and how many bytes of it are whole lines.

    Raises:
        FileError: a line that is not the last is damaged, or does not follow the one before.
    """
    events: list[RunEvent] = []
    last, whole = seal_hash(seal), 0
    lines = list(_lines(data))
    for number, line in enumerate(lines, 1):
        event = _event(last, line)
        if event is None:
            if number < len(lines) or line.endswith(b"\n"):
                raise FileError(
                    f"The journal of the run {name} is damaged in line {number}: restore its folder from a backup, or "
                    "give the run up"
                )
            break
        events.append(event)
        _, last = _line(last, event)
        whole += len(line)
    return events, last, whole


def _lines(data: bytes) -> Iterator[bytes]:
    yield from data.splitlines(keepends=True)


def _event(last: str, line: bytes) -> RunEvent | None:
    try:
        found = msgspec.json.decode(line, type=_Line)
    except (msgspec.DecodeError, UsageError, UnicodeDecodeError):
        return None
    return found.event if line.endswith(b"\n") and _line(last, found.event)[1] == found.hash else None


def _check_print(folder: Path, seal: SealedRun) -> bytes | None:
    if not seal.print_sha256:
        return None
    data = read_input(folder / PRINT, _MOST_BYTES)
    if hashlib.sha256(data).hexdigest() != seal.print_sha256:
        raise FileError(f"The print file of the run {seal.code} was changed since it was sealed: nothing is printed")
    return data


def _locked(folder: Path) -> int | None:
    try:
        return locked(folder / LOCK)
    except OSError as error:
        raise FileError(f"The run {folder.name[:8]} cannot be opened: {error.strerror or error}") from None
