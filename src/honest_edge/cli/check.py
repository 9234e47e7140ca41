"""The command ``check``: what would go wrong with a job, or what a folder's files lack, before paper is spent."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any


def about_check() -> dict[str, Any]:
    """Return how the command is explained."""
    return {
        "help": "say what is wrong with a job, or with written files",
        "description": "Say what would go wrong with a *.hedge job, or whether the files of a folder are whole: a set\n"
        "whose writing was interrupted is finished.",
        "epilog": "example:\n  honest-edge check labels.hedge && honest-edge check labels/\n\n"
        "Exit codes: 0 nothing blocks; 1 something does; 2 unreadable input.",
    }


def add_check(command: argparse.ArgumentParser) -> None:
    """Add the command's options."""
    command.add_argument("path", metavar="JOB_OR_FOLDER", type=Path, help="a *.hedge job, or a folder")
    command.set_defaults(run=run_check)


def run_check(options: argparse.Namespace) -> int:
    """Say what was found and return the exit code."""
    return _folder(options.path) if options.path.is_dir() else _job(options.path)


def _folder(folder: Path) -> int:
    from honest_edge.core.values.errors import FileError
    from honest_edge.files.atomic_write import finish, unfinished

    names = unfinished(folder)
    try:
        finish(folder)
    except OSError as error:
        listed = ", ".join(names)
        raise FileError(f"The set in {folder} is not whole and cannot be finished ({listed}): {error}") from None
    print(f"{folder}: {'was finished: ' + ', '.join(names) if names else 'nothing is unfinished'}")
    return 0


def _job(path: Path) -> int:
    from honest_edge.app.results.compute_overview import compute_overview
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.files.project import load_project

    found = load_project(path)
    for note in found.notes:
        print(note)
    overview = compute_overview(found.job, Pipeline(found.assets))
    for finding in overview.findings:
        way_out = f"; {finding.remedy}" if finding.remedy else ""
        print(f"{finding.severity}: {overview.named(finding)}{way_out}")
    if overview.why_unwritten is not None:
        print(f"{path.name}: nothing can be written: {overview.why_unwritten}")
        return 1
    print(f"{path.name}: ready to write")
    return 0
