"""Options that say how print and cut disagree: typed, or as they were measured."""

from __future__ import annotations

import argparse
from dataclasses import replace
from pathlib import Path

from honest_edge.cli.bench import measured_of
from honest_edge.cli.typed import length, number, pair
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.job import Job
from honest_edge.core.values.misregistration import VISIBLE_MM, Misregistration, Scatter


def add_error_options(command: argparse.ArgumentParser) -> None:
    """Add the options to a command."""
    command.add_argument("--shift", help="shift of the cut against the print: one standard deviation per axis")
    command.add_argument("--bias", metavar="X,Y", help="shift on average, such as 0.1mm,-0.2mm")
    command.add_argument("--rotate", help="turn about the marks’ middle: one standard deviation, such as 0.1deg")
    command.add_argument(
        "--scale", help="growth of the cut, each axis by itself: one standard deviation, such as 0.1%%"
    )
    command.add_argument("--repeat", help="what differs from sticker to sticker: one standard deviation per axis")
    command.add_argument("--visible", help="narrower white and shallower losses are not seen (default 0.1mm)")
    command.add_argument("--bench", choices=("assumed", "measured"), default="assumed",
                         help="take the error that the Book has of this machine and printer")  # fmt: skip
    command.add_argument("--book", type=Path, metavar="FILE", help="another Book than your own")


def error_of(options: argparse.Namespace) -> Misregistration | None:
    """Return the error that was typed; None where nothing was."""
    if all(v is None for v in (options.shift, options.bias, options.rotate, options.scale, options.repeat)):
        return None
    shift_mm = length("--shift", options.shift, 0.0)
    bias_x, bias_y = pair("--bias", options.bias)
    scale = Scatter(spread=number("--scale", options.scale, "%"))
    return Misregistration(
        shift_x_mm=Scatter(bias=bias_x, spread=shift_mm),
        shift_y_mm=Scatter(bias=bias_y, spread=shift_mm),
        rotation_deg=Scatter(spread=number("--rotate", options.rotate, "deg")),
        scale_x_percent=scale,
        scale_y_percent=scale,
        repeat_mm=length("--repeat", options.repeat, 0.0),
    )


def with_error(options: argparse.Namespace, job: Job) -> Job:
    """Return the job with what was typed or measured of its bench.

    Raises:
        UsageError: both were asked for, or a value is impossible.
        FileError: the Book cannot be read, or knows nothing of this bench.
    """
    job = replace(job, error=error_of(options), visible_mm=length("--visible", options.visible, VISIBLE_MM))
    if options.bench == "assumed":
        return job
    if job.error is not None:
        raise UsageError("--bench measured and a typed error contradict each other: leave one of them out")
    return replace(job, measured=measured_of(options, job.sheet.machine.name, job.sheet.printer.name))
