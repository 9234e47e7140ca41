"""Runs on the disk: a folder for each, with its seal, what was printed, and a journal that is only added to.

``<run>/seal.json`` is canonical JSON, ``<run>/print.pdf`` what was printed without the sheets' signs, and each line of
``<run>/journal.jsonl`` one event with the hash that binds it to the line before. What is hashed are the bytes as they
were stored, never what a later version would write: a run outlives the version that began it. A line is on the disk
before anybody goes on. Who ends in the middle of a line leaves a torn one, which never happened. ``<run>/lock`` says
how far the journal had come, so that lines that were lost are missed.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import shutil
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import msgspec

from honest_edge.core.values.errors import BlockedError, FileError
from honest_edge.core.values.run_events import Ended, RunEvent
from honest_edge.core.values.run_seal import SealedRun
from honest_edge.files.atomic_write import write_set
from honest_edge.files.book.place import book_path
from honest_edge.files.locks import locked
from honest_edge.files.read_input import read_input
from honest_edge.files.runs.canonical import canonical
from honest_edge.files.runs.chain import Chain, kept_run, line_of, parse_chain, parse_seal, seal_hash
from honest_edge.files.runs.progress import Progress, known_progress, note_progress

SEAL, PRINT, JOURNAL, LOCK = "seal.json", "print.pdf", "journal.jsonl", "lock"
_FILES_GO_TO, _MOST_OF_A_PATH = "files-go-to.txt", 10_000
_MOST_BYTES = 1_000_000_000
_MOST_SEAL_BYTES = 50_000_000
_MOST_JOURNAL_BYTES = 50_000_000


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftRun:
    """A run that is kept: its seal, and whether another window has it in hand."""

    seal: SealedRun
    folder: Path
    has_ended: bool
    is_taken: bool


def runs_folder() -> Path:
    """Return where runs are kept: beside the Book."""
    return book_path().parent / "runs"


def seal_bytes(seal: SealedRun) -> bytes:
    """Return a seal as canonical JSON."""
    return canonical(msgspec.to_builtins(seal))


class Journal:
    """One run's folder, in the hand of one window: nobody else can add to it meanwhile."""

    def __init__(self, folder: Path, seal: SealedRun, seal_data: bytes, chain: Chain, lock: int, notes: Sequence[str]):
        """Take what ``begin`` and ``take_up`` found."""
        self.folder, self.seal = folder, seal
        self.seal_hash = chain.hashes[0]
        self.notes = tuple(notes)
        """What is to be said of how it was found, each one sentence."""
        self._seal_data, self._chain, self._lock = seal_data, chain, lock
        self._handle: int | None = None
        self._note()

    @property
    def events(self) -> list[RunEvent]:
        """All that happened."""
        return self._chain.events

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
    def take_up(cls, folder: Path, of_project: bytes | None = None) -> Journal:
        """Take up a run that was left.

        Args:
            folder: where it lies.
            of_project: the run as a project keeps it: events that are missing here are taken from there.

        Raises:
            BlockedError: another window has it in hand.
            FileError: it cannot be read, something of it was changed by hand, or some of it is lost.
        """
        name = folder.name[:8]
        lock = _locked(folder)
        if lock is None:
            raise BlockedError("Another window has this run in hand: go on there, or close it first")
        try:
            data = read_input(folder / SEAL, _MOST_SEAL_BYTES)
            seal = parse_seal(data, name)
            _check_is_no_copy(folder, seal)
            chain = _read_journal(folder / JOURNAL, seal_hash(data), seal.code)
            notes = _mend(chain, folder, lock, seal, of_project)
            _check_print(folder, seal)
            _truncate(folder / JOURNAL, chain.size)  # a torn line is what was being written when all ended
            return cls(folder, seal, data, chain, lock, notes)
        except BaseException as error:
            os.close(lock)
            if isinstance(error, OSError):
                raise FileError(f"The run {name} cannot be read: {error.strerror or error}") from None
            raise

    def add(self, event: RunEvent) -> None:
        """Add an event; it is on the disk when this returns.

        Raises:
            FileError: it was not added.
        """
        line, digest = line_of(self._chain.hashes[-1], event)
        try:
            if self._handle is None:
                self._handle = os.open(self.folder / JOURNAL, os.O_WRONLY | os.O_APPEND | os.O_CLOEXEC)
            _append(self._handle, line)
        except OSError as error:
            raise FileError(
                f"What happened cannot be written down ({error.strerror or error}): make room on the disk, then do "
                "the step again"
            ) from None
        self._chain.take(line, event, digest)
        self._note()

    def _note(self) -> None:
        note_progress(self._lock, Progress(lines=len(self._chain.lines), hash=self._chain.hashes[-1]))

    def print_file(self) -> bytes | None:
        """Return what was printed, without the sheets' signs; None where nothing is.

        Raises:
            FileError: it is not there any more, or changed.
        """
        return _check_print(self.folder, self.seal)

    @property
    def files_go_to(self) -> Path | None:
        """Where the files to be cut are written, whatever job is open; None where that was never said."""
        try:
            return Path(os.fsdecode(read_input(self.folder / _FILES_GO_TO, _MOST_OF_A_PATH)))
        except (FileError, ValueError):
            return None

    def let_files_go_to(self, folder: Path) -> None:
        """Keep where the files to be cut are written.

        Raises:
            FileError: it cannot be kept.
        """
        write_set(self.folder, {_FILES_GO_TO: os.fsencode(folder)}, replace=True)

    def text(self) -> bytes:
        """Return seal and journal as one canonical JSON text, as a project file keeps them."""
        lines = b",".join(line.rstrip(b"\n") for line in self._chain.lines)
        return b'{"journal":[' + lines + b'],"seal":' + self._seal_data + b"}"

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
    left, said = [], []
    with contextlib.suppress(FileNotFoundError):
        for folder in sorted(runs.iterdir()):
            if not (folder / SEAL).is_file():
                continue
            try:
                left.append(_left_run(folder))
            except (FileError, OSError) as error:
                said.append(str(error))
    return sorted(left, key=lambda run: run.seal.sealed_at, reverse=True), said


def _left_run(folder: Path) -> LeftRun:
    seal, events = _read_run(folder)
    _check_is_no_copy(folder, seal)
    has_ended = any(isinstance(event, Ended) for event in events)
    lock = _locked(folder)
    if lock is not None:
        os.close(lock)
    return LeftRun(seal=seal, folder=folder, has_ended=has_ended, is_taken=lock is None)


def parse_run(text: bytes, name: str) -> tuple[SealedRun, tuple[RunEvent, ...]]:
    """Return the seal and the events of a run as a project file keeps it.

    Raises:
        FileError: it cannot be read, or was changed.
    """
    seal_data, lines = kept_run(text, name)
    seal = parse_seal(seal_data, name)
    chain = parse_chain(b"".join(lines), seal_hash(seal_data), name)
    if len(chain.lines) != len(lines):
        raise FileError(f"The run {name} in the project was changed by hand: its journal does not hold together")
    return seal, tuple(chain.events)


def read_events(folder: Path) -> list[RunEvent]:
    """Return the events of a run.

    Raises:
        FileError: it cannot be read, or was changed.
    """
    return _read_run(folder)[1]


def _read_run(folder: Path) -> tuple[SealedRun, list[RunEvent]]:
    data = read_input(folder / SEAL, _MOST_SEAL_BYTES)
    seal = parse_seal(data, folder.name[:8])
    return seal, _read_journal(folder / JOURNAL, seal_hash(data), seal.code).events


def _append(handle: int, line: bytes) -> None:
    size = os.fstat(handle).st_size
    try:
        os.write(handle, line)
        os.fsync(handle)
    except OSError:
        with contextlib.suppress(OSError):
            os.ftruncate(handle, size)
        raise


def _truncate(path: Path, size: int) -> None:
    with open(path, "r+b") as journal:
        journal.truncate(size)


def _read_journal(path: Path, seal: str, name: str) -> Chain:
    return parse_chain(read_input(path, _MOST_JOURNAL_BYTES), seal, name)


def _mend(chain: Chain, folder: Path, lock: int, seal: SealedRun, of_project: bytes | None) -> list[str]:
    """Take over events that only a project still has; return what is to be said.

    Raises:
        FileError: events are lost, or the journal is not the one that was led.
    """
    notes = _taken_over(chain, folder, seal, of_project)
    known = known_progress(lock)
    if known is None:
        return notes
    if known.is_copy:
        notes.append(
            f"The folder of the run {seal.code} was copied or restored: where it goes on twice, one of them is wrong"
        )
    lost = known.lines - len(chain.lines)
    if lost > 0:
        raise FileError(
            f"The journal of the run {seal.code} lost its last {lost} of {known.lines} events: restore its folder from "
            "a backup or open the project that has them, or give the run up"
        )
    if not chain.is_at(known):
        raise FileError(f"The journal of the run {seal.code} is not the one that was led: restore it from a backup")
    return notes


def _taken_over(chain: Chain, folder: Path, seal: SealedRun, of_project: bytes | None) -> list[str]:
    if of_project is None:
        return []
    try:
        seal_data, lines = kept_run(of_project, seal.code)
        kept = parse_chain(b"".join(lines), seal_hash(seal_data), seal.code)
    except FileError as error:  # what is here is good enough
        return [str(error)]
    here = len(chain.lines)
    if kept.hashes[0] != chain.hashes[0] or kept.lines[:here] != chain.lines[: len(kept.lines)]:
        return [f"The project tells the run {seal.code} otherwise than this machine does: what is here counts"]
    more = kept.lines[here:]
    if not more:
        return []
    _truncate(folder / JOURNAL, chain.size)
    handle = os.open(folder / JOURNAL, os.O_WRONLY | os.O_APPEND | os.O_CLOEXEC)
    try:
        _append(handle, b"".join(more))
    finally:
        os.close(handle)
    for number in range(here, len(kept.lines)):
        chain.take(kept.lines[number], kept.events[number], kept.hashes[number + 1])
    return [f"The journal of the run {seal.code} lacked {len(more)} events that the project has: they are in it again"]


def _check_is_no_copy(folder: Path, seal: SealedRun) -> None:
    if folder.name != seal.run:
        raise FileError(f"The folder {folder.name[:40]} is a copy of the run {seal.code}: go on with that, remove this")


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
