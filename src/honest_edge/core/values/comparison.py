"""Things of known size to hold art against."""

from __future__ import annotations

import re
from dataclasses import dataclass

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.units import Unit, check_range, parse_length


@dataclass(frozen=True, slots=True, kw_only=True)
class Comparison:
    """A disc or a box; ``is_round`` with ``width_mm`` as its diameter."""

    name: str
    width_mm: float
    height_mm: float
    is_round: bool = False


COMPARISONS = (
    Comparison(name="Jar lid, 70 mm", width_mm=70.0, height_mm=70.0, is_round=True),
    Comparison(name="A7 envelope, 7 1/4 × 5 1/4 in", width_mm=184.15, height_mm=133.35),
    Comparison(name="Planner box, 1 1/2 × 1 9/10 in", width_mm=38.1, height_mm=48.26),
)
"""Common practice, no published source; sizes from memory."""


def typed_comparison(text: str, default_unit: Unit) -> Comparison:
    """Return the disc ("63 mm") or box ("2 x 3 in") that ``text`` names; a side without a unit takes the other's.

    Raises:
        UsageError: no length, or none that lies on a table.
    """
    sides = [side.strip() for side in re.split(r"\s*[x×*]\s*", text.strip(), flags=re.IGNORECASE)]
    if len(sides) > 2:
        raise UsageError(f"“{text.strip()}” is no disc or box: write 63 mm, or 2 x 3 in")
    named = re.search(r"[a-zA-Z\"″]+\s*$", sides[-1])
    if len(sides) == 2 and named and re.fullmatch(r"[\d\s.,/]+", sides[0]):
        sides[0] += f" {named[0].strip()}"
    lengths = [parse_length(side, default_unit=default_unit) for side in sides]
    for length in lengths:
        check_range("comparison", length, 1, 2000)
    return Comparison(name=text.strip(), width_mm=lengths[0], height_mm=lengths[-1], is_round=len(lengths) == 1)
