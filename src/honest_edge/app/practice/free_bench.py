"""The free practice bench: faults hidden by a seed and a level; the same two numbers are the same bench."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from honest_edge.app.practice import jobs
from honest_edge.app.practice.stories import STEADY, Hidden, Story
from honest_edge.core.measure.remedies import TITLES
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.misregistration import Misregistration, Scatter

FreeCause = Literal["shift", "rotation", "scale", "slip", "misread", "random"]
FREE_CAUSES: tuple[FreeCause, ...] = ("shift", "rotation", "scale", "slip", "misread", "random")
"""What can be hidden; ``core.measure.remedies`` has their names."""

LEVELS: tuple[tuple[str, int, float], ...] = (
    ("one large fault", 1, 1.0),
    ("one small fault", 1, 0.55),
    ("two faults", 2, 0.75),
)
"""What a level is called, how many faults it hides, and how large they are."""

MOST_SEED = 9999


@dataclass(frozen=True, slots=True, kw_only=True)
class FreeBench:
    """A story without a tale.

    Attributes:
        seed, level: which it is; levels count from 1.
        causes: what is hidden.
        story: what is played.
    """

    seed: int
    level: int
    causes: frozenset[FreeCause]
    story: Story


def free_bench(seed: int, level: int) -> FreeBench:
    """Return the bench of a seed and a level.

    Raises:
        UsageError: there is no such seed or level.
    """
    if not 1 <= level <= len(LEVELS):
        raise UsageError(f"There are levels 1 to {len(LEVELS)}, not {level}")
    if not 0 <= seed <= MOST_SEED:
        raise UsageError(f"A bench’s number is 0 to {MOST_SEED}, not {seed}")
    name, count, size = LEVELS[level - 1]
    random = np.random.default_rng((seed, level))
    causes = frozenset(FREE_CAUSES[number] for number in random.choice(len(FREE_CAUSES), count, replace=False))
    story = Story(
        key="free",
        title=f"Practice bench {seed}, level {level}",
        tale=(
            f"A bench that nobody has measured: {name}. Print and cut as many sheets as you need, look at them, and "
            "say what it is. The labels have hardly any bleed, so that everything shows."
        ),
        make=jobs.tight_labels,
        hidden=_hidden(causes, size, random),
        par_sheets=2 + count,
        par_min=40 + 35 * count,
        what="; ".join(TITLES[cause] for cause in FREE_CAUSES if cause in causes) + ".",
        shows="The page “What went wrong?” has a drawing of each.",
        avoid="Look for a pattern before you change anything, and change one thing at a time.",
        topic="wrong",
    )
    return FreeBench(seed=seed, level=level, causes=causes, story=story)


def _hidden(causes: frozenset[FreeCause], size: float, random: np.random.Generator) -> Hidden:
    error: Misregistration = STEADY
    sign = random.choice((-1.0, 1.0), size=4)
    if "shift" in causes:
        error = replace(error, shift_x_mm=_some(0.9 * size * sign[0]), shift_y_mm=_some(0.5 * size * sign[1]))
    if "rotation" in causes:
        error = replace(error, rotation_deg=Scatter(bias=0.9 * size * float(sign[2]), spread=0.02))
    if "scale" in causes:
        grown = Scatter(bias=1.3 * size * float(sign[3]), spread=0.02)
        error = replace(error, scale_x_percent=grown, scale_y_percent=grown)
    if "random" in causes:
        error = replace(error, repeat_mm=0.5 * size)
    return Hidden(error=error, slips="slip" in causes, misreads="misread" in causes)


def _some(bias_mm: float) -> Scatter:
    return Scatter(bias=float(bias_mm), spread=0.05)


def verdict(bench: FreeBench, said: frozenset[FreeCause]) -> tuple[bool, str]:
    """Return whether what was said is all of it and nothing else, and a sentence about it."""
    was = "; ".join(TITLES[cause] for cause in FREE_CAUSES if cause in bench.causes)
    if said == bench.causes:
        return True, f"That is it: {was}."
    missing = bench.causes - said
    if said and said < bench.causes:
        return False, f"Part of it. {len(missing)} more is hidden: cut another sheet, and look again."
    return False, f"It was something else: {was}."
