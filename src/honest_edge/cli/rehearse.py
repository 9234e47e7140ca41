"""The command ``rehearse``: a job on the simulated bench, before paper is spent."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from honest_edge.cli.typed import shown
from honest_edge.core.values.errors import UsageError

_MOST_SHEETS = 20_000


def about_rehearse() -> dict[str, Any]:
    """Return how the command is explained."""
    return {
        "help": "print, read and cut a job on the simulated bench",
        "description": "Print, read and cut a *.hedge job on the simulated bench, with the error that was measured\n"
        "or is assumed of this one, and say how many stickers come out clean, beside the forecast.",
        "epilog": "example:\n  honest-edge rehearse labels.hedge --sheets 200 --seed 1 --pictures rehearsed\n\n"
        "Exit codes: 0 done; 1 there is nothing to rehearse; 2 wrong usage or unreadable input.",
    }


def add_rehearse(command: argparse.ArgumentParser) -> None:
    """Add the command's options."""
    from honest_edge.simulator.faults import FAULTS

    command.add_argument("path", metavar="JOB", type=Path, help="a *.hedge job")
    command.add_argument("--sheets", type=int, default=200, help="how many sheets (default 200)")
    command.add_argument("--seed", type=int, default=1, help="of the chances (default 1)")
    command.add_argument(
        "--wrong",
        action="append",
        default=[],
        choices=[fault.key for fault in FAULTS],
        help="what goes wrong besides; may be given several times",
    )
    command.add_argument("--json", type=Path, metavar="FILE", help="write the result as JSON")
    command.add_argument("--pictures", type=Path, metavar="DIR", help="write SVG drawings of the first 20 sheets")
    command.add_argument("--force", action="store_true", help="replace existing files")
    command.set_defaults(run=run_rehearse)


def run_rehearse(options: argparse.Namespace) -> None:
    """Rehearse and say what came out."""
    from honest_edge.app.rehearsal.drawn import sheet_svg
    from honest_edge.app.rehearsal.expected import expected_share
    from honest_edge.app.rehearsal.shares import clean_share
    from honest_edge.app.rehearsal.stage import staged
    from honest_edge.app.results.compute_overview import compute_overview
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.files.atomic_write import write_set
    from honest_edge.files.project import load_project
    from honest_edge.files.proof_record import as_json, rehearsal_record
    from honest_edge.simulator.rehearsal import rehearsed

    if not 1 <= options.sheets <= _MOST_SHEETS:
        raise UsageError(f"--sheets must be 1 to {_MOST_SHEETS}, not {options.sheets}")
    if options.seed < 0:
        raise UsageError(f"--seed must be 0 or more, not {options.seed}")
    loaded = load_project(options.path)
    overview = compute_overview(loaded.job, Pipeline(loaded.assets))
    stage, wrong = staged(overview), frozenset(options.wrong)
    sheets = list(
        rehearsed(stage.stage, loaded.job.misregistration, sheets=options.sheets, seed=options.seed, faults=wrong)
    )
    share, expected = clean_share(sheets), expected_share(overview, stage)
    if options.json is not None:
        record = rehearsal_record(
            share, (expected.share, expected.uncertainty), [(sheet.good, sheet.spoiled) for sheet in sheets]
        )
        write_set(options.json.parent, {options.json.name: as_json(record)}, replace=options.force)
    if options.pictures is not None:
        drawings = {f"sheet-{n + 1}.svg": sheet_svg(overview, stage, sheet) for n, sheet in enumerate(sheets[:20])}
        write_set(options.pictures, drawings, replace=options.force)
    known = "measured" if loaded.job.measured_bench is not None else "typed" if loaded.job.error else "assumed"
    print(
        f"{shown(options.path)}: {100 * share[0]:.1f} % clean of {sum(len(sheet.fates) for sheet in sheets)} stickers "
        f"on {len(sheets)} sheets, give or take {100 * share[1]:.1f}; the forecast says {100 * expected.share:.1f} %, "
        f"give or take {100 * expected.uncertainty:.1f} (the bench is {known})"
    )
