"""Every figure of the handbook, taken from the values that the application itself works with."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import get_args

from honest_edge.core.measure.sheet_error import LEAST_PLACES
from honest_edge.core.run.print_check import RULER_MM
from honest_edge.core.sheet.narrow_lines import WITHIN_MM
from honest_edge.core.values.job import ASSUMED_DRIFT_MM, ASSUMED_NARROWEST_MM, KEPT_CLEAR_MM
from honest_edge.core.values.marks import MARK_LENGTH_MM, MarkSpec
from honest_edge.core.values.misregistration import PER_SPREAD, VISIBLE_MM, WITHIN_SHARE
from honest_edge.core.values.own_bench import RIM_STEPS
from honest_edge.core.values.printer import Printer
from honest_edge.core.values.run_times import RunTimes
from honest_edge.core.values.specs import CRISP_PPI, NARROWEST_HOLE_MM, SCHOOL_DEFAULTS, THIN_STROKE_MM, School
from honest_edge.core.workshop.ladder import MOST_LOOKS, SQUARES

LengthWords = Callable[[float], str]
"""Puts a length in millimetres into words, in the user's unit."""


def clean_share(bleed_mm: float) -> float:
    """Return the share of round stickers without visible white, with a bleed and the error that is assumed.

    The distance by which print and cut disagree follows a Rayleigh distribution (see ``PER_SPREAD``).
    """
    spread_mm = ASSUMED_DRIFT_MM / PER_SPREAD
    return 1 - math.exp(-(((bleed_mm + VISIBLE_MM) / spread_mm) ** 2) / 2)


BLEEDS_MM = (0.1, 0.2, 0.3, 0.5)
"""Of the table on the page of the forecast."""

_LENGTHS_MM: dict[str, float] = {
    **{f"{school}_offset": SCHOOL_DEFAULTS[school].offset_mm for school in get_args(School)},
    "usual_bleed": SCHOOL_DEFAULTS["bleed"].bleed_mm,
    "assumed_drift": ASSUMED_DRIFT_MM,
    "visible": VISIBLE_MM,
    "kept_clear": KEPT_CLEAR_MM,
    "narrowest": ASSUMED_NARROWEST_MM,
    "thin_stroke": THIN_STROKE_MM,
    "narrow_hole": NARROWEST_HOLE_MM,
    "usual_rim": Printer().rim_mm,
    "mark_length": MARK_LENGTH_MM["three brackets"],
    "disc_length": MARK_LENGTH_MM["four discs"],
    "square_length": MARK_LENGTH_MM["four squares"],
    "mark_thickness": MarkSpec().thickness_mm,
    "mark_inset": MarkSpec().inset_mm,
    "mark_clear": MarkSpec().clear_mm,
    "ruler": RULER_MM,
    "narrow_way": WITHIN_MM,
    **{f"bleed_{number}": bleed_mm for number, bleed_mm in enumerate(BLEEDS_MM)},
}
_NUMBERS: dict[str, str] = {
    "crisp_ppi": f"{CRISP_PPI:.0f}",
    "half_ppi": f"{CRISP_PPI / 2:.0f}",
    "within": f"{round(20 * WITHIN_SHARE)} of 20",
    "squares": str(SQUARES),
    "looks": str(MOST_LOOKS),
    "rim_steps": str(RIM_STEPS),
    "least_places": str(LEAST_PLACES),
    "dry_min": f"{RunTimes().dry_s / 60:.0f}",
    **{f"share_{number}": f"{100 * clean_share(bleed_mm):.0f} %" for number, bleed_mm in enumerate(BLEEDS_MM)},
}
NAMES = frozenset((*_LENGTHS_MM, *_NUMBERS))


def figure(name: str, length: LengthWords) -> str:
    """Return a figure as it stands in a sentence.

    Raises:
        KeyError: there is none of that name.
    """
    return length(_LENGTHS_MM[name]) if name in _LENGTHS_MM else _NUMBERS[name]
