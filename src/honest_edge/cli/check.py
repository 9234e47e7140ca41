"""The command ``check``: what would go wrong with a job, or with a folder's files, before paper is spent."""

from __future__ import annotations

import argparse
import time
from pathlib import Path
from typing import TYPE_CHECKING, Any

from honest_edge.cli.typed import shown

if TYPE_CHECKING:
    from honest_edge.app.results.overview import Overview
    from honest_edge.core.values.findings import Finding


def about_check() -> dict[str, Any]:
    """Return how the command is explained."""
    return {
        "help": "say what would go wrong with a job, or with written files",
        "description": "Say what would go wrong with a *.hedge job, or whether the files of a folder are whole and\n"
        "fit each other: a set whose writing was interrupted is finished first.",
        "epilog": "example:\n  honest-edge check labels.hedge && honest-edge check labels/ --of labels.hedge\n\n"
        "Exit codes: 0 nothing blocks; 1 something does; 2 unreadable input.",
    }


def add_check(command: argparse.ArgumentParser) -> None:
    """Add the command's options."""
    command.add_argument("path", metavar="JOB_OR_FOLDER", type=Path, help="a *.hedge job, or a folder")
    command.add_argument(
        "--of", type=Path, metavar="FILE.hedge", help="with a folder: the job that it was written from"
    )
    command.add_argument("--json", type=Path, metavar="FILE", help="write what was found as JSON")
    command.add_argument("--book", type=Path, metavar="FILE", help="another Book than your own")
    command.add_argument("--force", action="store_true", help="replace an existing file")
    command.set_defaults(run=run_check)


def run_check(options: argparse.Namespace) -> int:
    """Say what was found and return the exit code."""
    return _folder(options) if options.path.is_dir() else _job(options)


def _folder(options: argparse.Namespace) -> int:
    from honest_edge.app.output.read_back import read_back
    from honest_edge.core.values.errors import FileError
    from honest_edge.files.atomic_write import finish, unfinished
    from honest_edge.files.project import load_project

    folder: Path = options.path
    names = unfinished(folder)
    try:
        finish(folder)
    except OSError as error:
        listed = ", ".join(names)
        raise FileError(f"The set in {folder} is not whole and cannot be finished ({listed}): {error}") from None
    print(f"{folder}: {'was finished: ' + ', '.join(names) if names else 'nothing is unfinished'}")
    job = None if options.of is None else load_project(options.of).job
    checked = read_back(folder, job)
    if checked is None:
        print(f"{folder}: no report.json, so there is no set of ours to read back")
        return 0
    _write(options, checked)
    for finding in checked:
        print(f"{finding.severity}: {finding.words}")
    if any(finding.holds for finding in checked):
        print(f"{folder}: write the files again")
        return 1
    print(f"{folder}: print and cut fit each other")
    return 0


def _job(options: argparse.Namespace) -> int:
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.job_facts import known_findings
    from honest_edge.app.results.compute_overview import compute_overview
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.files.project import load_project

    path: Path = options.path
    loaded = load_project(path)
    for note in loaded.notes:
        print(note)
    overview = compute_overview(loaded.job, Pipeline(loaded.assets))
    desk = BookDesk() if options.book is None else BookDesk(lambda: options.book)
    now_ms = time.time_ns() // 1_000_000
    try:
        overview = overview.with_bench((*known_findings(overview, desk, now_ms), *_spares(overview)))
    finally:
        desk.close()
    _write(options, overview.every_finding)
    for finding in overview.every_finding:
        way_out = f"; {finding.remedy}" if finding.remedy else ""
        left = f" (left: {finding.left})" if finding.left else ""
        print(f"{finding.severity}: {overview.named(finding)}{way_out}{left}")
    if overview.why_unwritten is not None:
        print(f"{shown(path)}: nothing can be written: {overview.why_unwritten}")
        return 1
    print(f"{shown(path)}: ready to write")
    return 0


def _spares(overview: Overview) -> tuple[Finding, ...]:
    """Return that too few sheets are printed, where anything is printed at all."""
    from honest_edge.app.rehearsal.print_count import PrintAdvice, spares_findings
    from honest_edge.app.rehearsal.stage import staged
    from honest_edge.core.values.errors import BlockedError

    try:
        return spares_findings(PrintAdvice(overview, staged(overview)))
    except BlockedError:
        return ()


def _write(options: argparse.Namespace, findings: tuple[Finding, ...]) -> None:
    from honest_edge.files.atomic_write import write_set
    from honest_edge.files.proof_record import as_json, proof_record

    if options.json is not None:
        record = proof_record(findings, blocked=any(finding.holds for finding in findings))
        write_set(options.json.parent, {options.json.name: as_json(record)}, replace=options.force)
