"""Jobs as they were when they were cut, beside the Book: each a small file, every original once."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from pathlib import Path

from honest_edge.core.values.errors import FileError
from honest_edge.core.values.job import Job
from honest_edge.files.atomic_write import write_set
from honest_edge.files.project import job_bytes, parse_job
from honest_edge.files.read_input import read_input

_JOBS, _ORIGINALS = "jobs", "originals"
_MOST_JOB_BYTES, _MOST_ORIGINAL_BYTES, _MOST_PICTURE_BYTES = 50_000_000, 500_000_000, 2_000_000


def keep_job(book: Path, key: str, job: Job, assets: Mapping[str, bytes], picture: bytes = b"") -> None:
    """Keep a job under a name, its originals first, and a small picture of its sheets as a JPEG.

    Raises:
        FileError: it cannot be written.
    """
    folder = book.parent / _ORIGINALS
    for asset in sorted({asset for design in job.designs for asset in design.assets}):
        if not (folder / asset).exists():
            write_set(folder, {asset: assets[asset]}, replace=True)
    files = {f"{key}.json": job_bytes(job), **({f"{key}.jpg": picture} if picture else {})}
    write_set(book.parent / _JOBS, files, replace=True)


def kept_picture(book: Path, key: str) -> bytes:
    """Return the picture of a job that was kept; nothing where there is none that can be read."""
    try:
        return read_input(book.parent / _JOBS / f"{key}.jpg", _MOST_PICTURE_BYTES) if key else b""
    except FileError:
        return b""


def kept_job(book: Path, key: str) -> tuple[Job, dict[str, bytes]]:
    """Return a job that was kept, and its originals.

    Raises:
        FileError: it or an original is not there any more, or damaged.
    """
    path = book.parent / _JOBS / f"{key}.json"
    if not path.exists():
        raise FileError("The job of this run is not kept on this machine: its figures are all there is")
    job, _ = parse_job(read_input(path, _MOST_JOB_BYTES), path.name)
    named = {asset: title for design in job.designs for asset, title in design.assets.items()}
    return job, {asset: _original(book.parent / _ORIGINALS / asset, title) for asset, title in named.items()}


def _original(path: Path, title: str) -> bytes:
    if not path.exists():
        raise FileError(
            f"The original of {title} is not kept on this machine any more: begin anew with the picture itself"
        )
    data = read_input(path, _MOST_ORIGINAL_BYTES)
    if hashlib.sha256(data).hexdigest() != path.name:
        raise FileError(f"The original of {title} was changed since it was kept: add the picture again")
    return data
