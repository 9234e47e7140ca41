"""The folder of one job: proposed from its name, and told from the folder of another."""

from __future__ import annotations

import itertools
import re
from pathlib import Path

from honest_edge.core.values.errors import FileError
from honest_edge.core.values.job import Job
from honest_edge.core.values.layers import PLACEHOLDER_TITLE
from honest_edge.files.read_json import parsed
from honest_edge.files.report import REPORT_NAME, Report, report_bytes

_NO_NAME = re.compile(r'[\x00-\x1f/\\:*?"<>|]+')
_MOST_LETTERS = 60
_PRINTS = ("print.pdf", "print-1.png", "cut-1.svg")
"""Without a report beside them nobody knows whose they are."""


def belongs_to(folder: Path, job: Job) -> bool | None:
    """Whether what was written into a folder is of a job; None where nothing was written there."""
    try:
        report = parsed(report_bytes(folder), Report)
    except FileError:
        is_taken = any((folder / name).exists() for name in (REPORT_NAME, *_PRINTS))
        return False if is_taken else None
    return any(
        written.name.startswith(design.name)  # a row of a table is named after its design
        and (report.title == job.title or bool(written.sha256 and written.sha256 == design.asset))
        for written in report.designs
        for design in job.designs
    )


def proposed_folder(job: Job, beside: Path) -> Path:
    """Return a folder for a job's files, made of its name, that is no other job's."""
    name = folder_name(job)
    for number in itertools.count(1):
        folder = beside / (name if number == 1 else f"{name} {number}")
        if belongs_to(folder, job) is not False and not (folder.exists() and not folder.is_dir()):
            return folder
    raise AssertionError  # counting has no end


def folder_name(job: Job) -> str:
    """Return a job's name as one of a folder: its title, or that of its first design as long as it has none."""
    is_named = job.title != PLACEHOLDER_TITLE or not job.designs
    name = _NO_NAME.sub(" ", job.title if is_named else job.designs[0].name)
    return " ".join(name.split()).strip(". ")[:_MOST_LETTERS].strip(". ") or "Stickers"
