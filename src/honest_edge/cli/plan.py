"""The command ``plan``: how many sheets to print, and in which order to work through them."""

from __future__ import annotations

import argparse
import re
import time
from pathlib import Path
from typing import TYPE_CHECKING, Any

from honest_edge.cli.typed import shown
from honest_edge.core.values.errors import UsageError

if TYPE_CHECKING:
    from honest_edge.app.run.plan import RunPlan
    from honest_edge.core.values.run_times import RunTimes


def about_plan() -> dict[str, Any]:
    """Return how the command is explained."""
    return {
        "help": "say how many sheets to print, and in which order to cut them",
        "description": "Say how many sheets of a *.hedge job to print so that enough stickers come out good, and in\n"
        "which order one person with one cutter works through them: minutes, and minutes of hands at work.",
        "epilog": "example:\n  honest-edge plan labels.hedge --assurance 95% --carriers 2 --json plan.json\n\n"
        "How long acts take is assumed; drying is what the Book says of the stock, else 20 minutes.\n\n"
        "Exit codes: 0 done; 1 it cannot be planned; 2 wrong usage or unreadable input.",
    }


def add_plan(command: argparse.ArgumentParser) -> None:
    """Add the command's options."""
    command.add_argument("path", metavar="JOB", type=Path, help="a *.hedge job")
    command.add_argument("--good", type=int, help="how many good stickers are wanted (default: the job’s copies)")
    command.add_argument("--assurance", default="95%%", help="chance that there are enough (default 95%%)")
    command.add_argument("--carriers", type=int, default=1, help="how many carriers there are (default 1)")
    command.add_argument("--json", type=Path, metavar="FILE", help="write the plan as JSON")
    command.add_argument("--book", type=Path, metavar="FILE", help="another Book than your own")
    command.add_argument("--force", action="store_true", help="replace an existing file")
    command.set_defaults(run=run_plan_command)


def run_plan_command(options: argparse.Namespace) -> None:
    """Plan and say how."""
    from honest_edge.app.results.compute_overview import compute_overview
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.app.run.plan import run_plan, with_good
    from honest_edge.core.values.specs import check_copies
    from honest_edge.files.atomic_write import write_set
    from honest_edge.files.plan_record import as_json, plan_record
    from honest_edge.files.project import load_project

    assurance = _assurance(options.assurance)
    if options.good is not None:
        check_copies(options.good)
    loaded = load_project(options.path)
    job, pipeline = with_good(loaded.job, options.good), Pipeline(loaded.assets)
    overview = compute_overview(job, pipeline)
    plan = run_plan(
        overview, pipeline, assurance=assurance, carriers=options.carriers, times=_times(options, job.sheet.stock.name)
    )
    if options.json is not None:
        record = plan_record(plan.sheets, plan.assurance, plan.orders)
        write_set(options.json.parent, {options.json.name: as_json(record)}, replace=options.force)
    _say(shown(options.path), plan)


def _assurance(text: str) -> float:
    match = re.fullmatch(r"\s*([0-9]*\.?[0-9]+)\s*%%?\s*", text)
    share = float(match[1]) / 100 if match else 0.0
    if not 0.5 <= share <= 0.999:
        raise UsageError(f"--assurance: “{text}” is none: write 50% to 99.9%")
    return share


def _times(options: argparse.Namespace, stock: str) -> RunTimes:
    """Return the usual times, with the drying that the Book knows of the stock."""
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.core.values.run_times import RunTimes

    desk = BookDesk() if options.book is None else BookDesk(lambda: options.book)
    try:
        minutes = desk.drying_min(stock, time.time_ns() // 1_000_000)
    finally:
        desk.close()
    return RunTimes() if minutes is None else RunTimes(dry_s=60 * minutes)


def _say(name: str, plan: RunPlan) -> None:
    often = ", ".join(f"sheet {page + 1} {count} times" for page, count in enumerate(plan.prints) if count > 1)
    print(
        f"{name}: {plan.sheets} sheet{'s' if plan.sheets != 1 else ''}{f' ({often})' if often else ''}, "
        f"enough good ones in {100 * plan.assurance:.0f} % of runs"
    )
    for order in plan.orders:
        changes = f"{order.setting_changes} change{'s' if order.setting_changes != 1 else ''} of setting"
        print(f"{order.name}: {order.minutes:.0f} minutes, {order.hands_on_minutes:.0f} of hands at work, {changes}")
