"""How large: of the sticker as cut, of the art inside it, or of the whole picture with what is empty round its art."""

from __future__ import annotations

import argparse
from dataclasses import replace
from typing import TYPE_CHECKING

from honest_edge.cli.typed import length
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.specs import check_width

if TYPE_CHECKING:
    from honest_edge.app.results.pipeline import Pipeline


def add_sizes(command: argparse.ArgumentParser, *, has_cut: bool = True) -> None:
    """Add the ways to say how large: exactly one is given."""
    sizes = command.add_mutually_exclusive_group(required=True)
    if has_cut:
        sizes.add_argument("--cut-width", metavar="WIDTH", help="width of the sticker as cut, such as 60mm")
    sizes.add_argument("--art-width", metavar="WIDTH", help="width of the art, without what is empty round it")
    sizes.add_argument("--width", help="width of the whole picture with what is empty round its art")


def asked_width(options: argparse.Namespace) -> tuple[str, float]:
    """Return of what a width was given, "cut", "art" or "whole", and the width.

    Raises:
        UsageError: it is none that a sticker has.
    """
    for measured, name in (("cut", "cut_width"), ("art", "art_width"), ("whole", "width")):
        text = getattr(options, name, None)
        if text is not None:
            width_mm = length(f"--{name.replace('_', '-')}", text, 0.0)
            check_width(width_mm)
            return measured, width_mm
    raise AssertionError("argparse asks for one of them")


def sized(options: argparse.Namespace, design: Design, job: Job, pipeline: Pipeline) -> Design:
    """Return a design of one picture as wide as was asked for.

    Raises:
        HonestEdgeError: as for ``Pipeline.result`` and ``factor_for``.
    """
    from honest_edge.app.edits.sizes import factor_for

    measured, width_mm = asked_width(options)
    if measured == "whole":
        return replace(design, width_mm=width_mm)
    first = pipeline.result(design, job)
    factor = factor_for(first, width_mm, "cut" if measured == "cut" else "art", 0)
    return replace(design, width_mm=design.width_mm * factor)
