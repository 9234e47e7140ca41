"""The project file ``*.hedge``: a zip of ``job.json`` and the untouched originals.

Layout: ``mimetype`` first and stored, ``job.json``, ``assets/<sha256>`` for every original, and ``runs/<id>.json`` for
every run that was sealed of it, outside of undo.
"""

from __future__ import annotations

import hashlib
import io
import re
import struct
import zipfile
import zlib
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import msgspec

from honest_edge.core.values.errors import FileError
from honest_edge.core.values.job import Job
from honest_edge.files.atomic_write import write_set
from honest_edge.files.job_versions import VERSION, migrated, unknown_keys
from honest_edge.files.read_input import read_input
from honest_edge.files.read_json import converted, parsed
from honest_edge.files.report import schema_of

MIMETYPE = b"application/vnd.honest-edge.job+zip"
# what zipfile raises on damaged archives, offsets outside the file included
_DAMAGE = (
    zipfile.BadZipFile,
    KeyError,
    EOFError,
    NotImplementedError,
    OSError,
    OverflowError,
    RuntimeError,
    ValueError,
    struct.error,
    zlib.error,
)
_MOST_BYTES = 2_000_000_000
_MOST_JOB_BYTES = 50_000_000
_MOST_JOB_VALUES = 2_000_000  # two hundred thousand laid copies have half of it
_MOST_GROWTH = 20  # times as large as the file is what it holds, at most; originals are stored as they are
_SPARE_BYTES = 50_000_000
_PIECE_BYTES = 1 << 20
_MOST_NAMED = 3
_RUN = re.compile(r"runs/([0-9a-f]{32})\.json")
_FIXED_TIME = (1980, 1, 1, 0, 0, 0)  # the earliest a zip can state: equal jobs give equal bytes


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadedProject:
    """A project as it was read.

    Attributes:
        job: the job.
        assets: its originals by SHA-256.
        notes: what of the file could not be taken over, each one sentence.
        runs: seals and journals of its runs, by what names each.
        out_folder: where its files were written last; empty where they never were.
    """

    job: Job
    assets: dict[str, bytes]
    notes: tuple[str, ...] = ()
    out_folder: str = ""
    runs: dict[str, bytes] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Envelope:
    """What ``job.json`` holds."""

    version: int
    job: Job
    out_folder: str = ""


def project_bytes(
    job: Job, assets: Mapping[str, bytes], runs: Mapping[str, bytes] | None = None, out_folder: str = ""
) -> bytes:
    """Return the project file of a job and its runs; originals that no design uses are left out."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr(zipfile.ZipInfo("mimetype", _FIXED_TIME), MIMETYPE)
        _store(archive, "job.json", job_bytes(job, out_folder), zipfile.ZIP_DEFLATED)
        for asset in sorted({asset for design in job.designs for asset in design.assets}):
            _store(archive, f"assets/{asset}", assets[asset], zipfile.ZIP_STORED)
        for run, text in sorted((runs or {}).items()):
            _store(archive, f"runs/{run}.json", text, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def job_bytes(job: Job, out_folder: str = "") -> bytes:
    """Return ``job.json``."""
    envelope = Envelope(version=VERSION, job=job, out_folder=out_folder)
    return msgspec.json.format(msgspec.json.encode(envelope), indent=1)


def _store(archive: zipfile.ZipFile, name: str, data: bytes, compression: int) -> None:
    info = zipfile.ZipInfo(name, _FIXED_TIME)
    info.compress_type = compression
    archive.writestr(info, data)


def save_project(
    path: Path,
    job: Job,
    assets: Mapping[str, bytes],
    runs: Mapping[str, bytes] | None = None,
    out_folder: str = "",
) -> None:
    """Write a project over ``path``, whole or not at all.

    Raises:
        FileError: it cannot be written; the old file is untouched.
    """
    write_set(path.parent, {path.name: project_bytes(job, assets, runs, out_folder)}, replace=True)


def load_project(path: Path) -> LoadedProject:
    """Return the job with its originals.

    Raises:
        FileError: unreadable, no project, damaged, or newer than this version.
    """
    return parse_project(read_input(path, _MOST_BYTES), path.name)


def parse_project(data: bytes, name: str) -> LoadedProject:
    """Return the job with its originals in a project file's bytes.

    Raises:
        FileError: as for ``load_project``.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            _check_archive(archive, name, len(data))
            envelope, notes = _parse_envelope(_entry(archive, "job.json", _MOST_JOB_BYTES, name), name)
            job = envelope.job
            named = {asset: title for design in job.designs for asset, title in design.assets.items()}
            assets = {asset: _asset(archive, asset, title, name) for asset, title in named.items()}
            runs = {
                match[1]: _entry(archive, entry, _MOST_JOB_BYTES, name)
                for entry in archive.namelist()
                if (match := _RUN.fullmatch(entry))
            }
    except _DAMAGE as error:
        raise FileError(f"{name} is no whole Honest Edge project ({_short(error)}): open an earlier copy") from None
    return LoadedProject(job=job, assets=assets, notes=notes, runs=runs, out_folder=envelope.out_folder)


def _short(error: Exception) -> str:
    return str(error).strip("'\"")[:80] or type(error).__name__


def _check_archive(archive: zipfile.ZipFile, name: str, size: int) -> None:
    entries = archive.infolist()
    names = [entry.filename for entry in entries]
    if names[:1] != ["mimetype"] or _entry(archive, "mimetype", len(MIMETYPE), name) != MIMETYPE:
        raise FileError(f"{name} is a zip file but no Honest Edge project")
    if len(set(names)) != len(names):
        raise FileError(f"{name} holds two entries of one name: open an earlier copy")
    if any(n not in {"mimetype", "job.json"} and not n.startswith("assets/") and not _RUN.fullmatch(n) for n in names):
        raise FileError(f"{name} holds entries that no project has: open an earlier copy")
    total, most = sum(entry.file_size for entry in entries), min(_MOST_BYTES, _MOST_GROWTH * size + _SPARE_BYTES)
    if total > most:
        raise FileError(f"{name} would unpack to {total / 1e6:.0f} MB, more than the {most / 1e6:.0f} MB it may")


def _entry(archive: zipfile.ZipFile, entry: str, most_bytes: int, name: str) -> bytes:
    """Return an entry's bytes, unpacked piece by piece, so that one that lies about its size does no harm."""
    most_bytes = min(most_bytes, archive.getinfo(entry).file_size)
    parts, left = [], most_bytes + 1
    with archive.open(entry) as source:
        while left and (part := source.read(min(left, _PIECE_BYTES))):
            parts.append(part)
            left -= len(part)
    if left == 0:
        raise FileError(f"{name} holds more in “{entry[:20]}” than the {most_bytes / 1e6:.0f} MB it may: it is no job")
    return b"".join(parts)


def parse_job(text: bytes, name: str) -> tuple[Job, tuple[str, ...]]:
    """Return the job in ``job.json``, and what it holds that this version does not know, each one sentence.

    Raises:
        FileError: no job, damaged, or newer than this version.
    """
    envelope, notes = _parse_envelope(text, name)
    return envelope.job, notes


def _parse_envelope(text: bytes, name: str) -> tuple[Envelope, tuple[str, ...]]:
    try:
        stored = parsed(text, dict[str, Any], most_values=_MOST_JOB_VALUES)
    except FileError as error:
        raise FileError(f"{name} holds a job that cannot be read: {error}") from None
    try:
        plain = migrated(stored, name)
    except (KeyError, AttributeError, TypeError) as error:
        raise FileError(f"{name} holds a job that cannot be read: {error}") from None
    try:
        envelope = converted(plain, Envelope)
    except FileError as error:
        raise FileError(f"{name} holds a job that cannot be used: {error}") from None
    unknown = unknown_keys(plain["job"], msgspec.to_builtins(envelope.job))
    if not unknown:
        return envelope, ()
    more = f" and {len(unknown) - _MOST_NAMED} more" if len(unknown) > _MOST_NAMED else ""
    named = ", ".join(f"“{key[:60]}”" for key in unknown[:_MOST_NAMED])
    return envelope, (f"{name} holds {named}{more}, which this version does not know: saving leaves it out.",)


def _asset(archive: zipfile.ZipFile, asset: str, file_name: str, name: str) -> bytes:
    data = _entry(archive, f"assets/{asset}", _MOST_BYTES, name)
    if hashlib.sha256(data).hexdigest() != asset:
        raise FileError(f"The original “{file_name}” in {name} is damaged: open an earlier copy")
    return data


def project_schema() -> bytes:
    """Return the JSON schema of ``job.json``."""
    return schema_of(Envelope)
