"""What is wrong with a bench: the evidence of measured sheets for each cause, or the answers to eight questions.

Evidence: the displacements y of all sheets together are normal with covariance s^2 I + B + A L A^T, where A holds what
a cause would do, L how far it may go, and B that every sheet lies a little off by itself; s is averaged over a grid
(the marginal likelihood of a linear model; C. Bishop, Pattern Recognition and Machine Learning, 2006, section 3.4).
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.measure.sheet_error import LEAST_PLACES, design_matrix
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.measured import MeasuredSheet

Cause = Literal["fine", "shift", "rotation", "scale", "slip", "misread", "random"]
CAUSES: tuple[Cause, ...] = ("fine", "shift", "rotation", "scale", "slip", "misread", "random")

_SMALL_MM = np.array([0.02, 0.03, 0.045, 0.07, 0.1, 0.14])
_LARGE_MM = np.array([0.2, 0.27, 0.36, 0.5])
_LOOSE_SHEET_MM = 0.03
_SHIFT_MM, _TURN_MM, _GROW_MM, _SLIP_MM, _MISREAD_MM = 0.3, 0.35, 0.35, 0.4, 0.8
"""How far each cause goes, one standard deviation, where the sheet is widest; assumptions from practice."""

SURE = 0.9


@dataclass(frozen=True, slots=True, kw_only=True)
class Likely:
    """One cause and how likely it is."""

    cause: Cause
    probability: float


def causes_of(sheets: Sequence[MeasuredSheet]) -> tuple[Likely, ...]:
    """Return the causes, the likeliest first, by what was measured.

    Raises:
        BlockedError: too few places.
    """
    used = [[place for place in sheet.places if place.used] for sheet in sheets]
    used = [places for places in used if len(places) >= LEAST_PLACES]
    if not used:
        raise BlockedError(f"No sheet has {LEAST_PLACES} places that were measured: measure a target first")
    points = [np.array([(place.x_mm, place.y_mm) for place in places]) for places in used]
    moved = np.concatenate([np.array([(p.dx_mm, p.dy_mm) for p in places]).T.ravel() for places in used])
    logs = {cause: _evidence(moved, points, cause) for cause in CAUSES}
    return _ranked(logs)


def _ranked(logs: Mapping[Cause, float]) -> tuple[Likely, ...]:
    highest = max(logs.values())
    weights = {cause: math.exp(value - highest) for cause, value in logs.items()}
    total = math.fsum(weights.values())
    ranked = [Likely(cause=cause, probability=weight / total) for cause, weight in weights.items()]
    return tuple(sorted(ranked, key=lambda likely: -likely.probability))


def _evidence(moved: Floats, points: Sequence[Floats], cause: Cause) -> float:
    """Return the logarithm of the evidence of one cause, averaged over what it leaves open."""
    ways = _ways(points, cause)
    spreads = _LARGE_MM if cause == "random" else _SMALL_MM
    logs = [_log_normal(moved, points, way, s) for way in ways for s in spreads.tolist()]
    highest = max(logs)
    return highest + math.log(math.fsum(math.exp(value - highest) for value in logs) / len(logs))


def _ways(points: Sequence[Floats], cause: Cause) -> list[Floats | None]:
    """Return what a cause does to all sheets, as columns that are scaled by one standard deviation each."""
    reach = max(float(np.hypot(*sheet.T).max()) for sheet in points)
    designs = [design_matrix(sheet) for sheet in points]
    turn, grow = math.degrees(_TURN_MM / reach), 100 * _GROW_MM / reach

    def stacked(columns: Sequence[Floats]) -> Floats:
        return np.concatenate(columns)

    match cause:
        case "shift":
            return [stacked([design[:, :2] * _SHIFT_MM for design in designs])]
        case "rotation":
            return [stacked([design[:, 2:3] * turn for design in designs])]
        case "scale":
            both = [np.stack([design[:, 3] + design[:, 4], design[:, 3] - design[:, 4]], 1) for design in designs]
            return [stacked([columns * grow * np.array([1.0, 0.4]) for columns in both])]
        case "slip":
            return [stacked([_slipped(sheet) * _SLIP_MM for sheet in points])]
        case "misread":
            return [
                stacked(
                    [_misread(other, corner) * _MISREAD_MM * (number == index) for index, other in enumerate(points)]
                )
                for number in range(len(points))
                for corner in range(4)
            ]
    return [None]


def _slipped(points: Floats) -> Floats:
    """Return (2 n, 1): along the feed, grown from the edge that goes in first to 1 at the last."""
    y = points[:, 1]
    grown = (y - y.min()) / max(float(np.ptp(y)), 1.0)
    return np.asarray(np.concatenate([np.zeros_like(grown), grown])[:, None])


def _misread(points: Floats, corner: int) -> Floats:
    """Return (2 n, 2): what one mark in a corner, read wrong, does to an affine map through three or four."""
    away = points - points.mean(0)
    far = np.abs(away).max(0)
    sign = np.array([(-1, -1), (1, -1), (-1, 1), (1, 1)][corner])
    weight = 0.25 + (away / np.maximum(far, 1.0) * sign).sum(1) * 0.375
    nought = np.zeros_like(weight)
    return np.stack([np.concatenate([weight, nought]), np.concatenate([nought, weight])], 1)


def _log_normal(moved: Floats, points: Sequence[Floats], way: Floats | None, spread: float) -> float:
    """Return the logarithm of the normal density of y, its covariance of low rank turned inside out (Woodbury)."""
    base = np.zeros((len(moved), 2 * len(points)))
    row = 0
    for number, sheet in enumerate(points):
        for axis in range(2):
            base[row : row + len(sheet), 2 * number + axis] = _LOOSE_SHEET_MM
            row += len(sheet)
    columns = base if way is None else np.column_stack([base, way])
    inner = np.eye(columns.shape[1]) + columns.T @ columns / spread**2
    along = columns.T @ moved / spread**2
    square = float(moved @ moved) / spread**2 - float(along @ np.linalg.solve(inner, along))
    size = 2 * len(moved) * math.log(spread) + float(np.linalg.slogdet(inner)[1])
    return -0.5 * (square + size + len(moved) * math.log(2 * math.pi))


@dataclass(frozen=True, slots=True, kw_only=True)
class Question:
    """One question by eye.

    Attributes:
        key: names it.
        words: what is asked.
        yes: the chance of "yes" under each cause, in the order of ``CAUSES``; our own judgement, not measured.
    """

    key: str
    words: str
    yes: tuple[float, ...]


QUESTIONS: tuple[Question, ...] = (
    Question(
        key="same", words="Is white on the same side of every sticker?", yes=(0.10, 0.90, 0.10, 0.10, 0.80, 0.50, 0.10)
    ),
    Question(
        key="turning",
        words="Is white on opposite sides left and right of the page, and at its top and bottom?",
        yes=(0.08, 0.08, 0.90, 0.10, 0.10, 0.30, 0.20),
    ),
    Question(
        key="outward",
        words="Do the outer stickers show white on their outer sides all round, or all on their inner sides?",
        yes=(0.06, 0.06, 0.10, 0.90, 0.08, 0.20, 0.15),
    ),
    Question(key="down", words="Is it worse farther down the page?", yes=(0.08, 0.12, 0.15, 0.15, 0.90, 0.40, 0.25)),
    Question(key="one", words="Is only one sheet bad?", yes=(0.08, 0.05, 0.20, 0.05, 0.12, 0.85, 0.08)),
    Question(key="next", words="Does the next sheet show the same?", yes=(0.15, 0.92, 0.30, 0.90, 0.85, 0.10, 0.10)),
    Question(key="none", words="Is there no pattern in it at all?", yes=(0.80, 0.06, 0.08, 0.08, 0.08, 0.10, 0.90)),
    Question(
        key="wide", words="Is the widest white wider than 0.3 mm?", yes=(0.05, 0.80, 0.60, 0.80, 0.85, 0.90, 0.85)
    ),
)


def causes_by_answers(answers: Mapping[str, bool]) -> tuple[Likely, ...]:
    """Return the causes, the likeliest first, by answers to questions; what was not answered tells nothing.

    Raises:
        BlockedError: nothing was answered.
    """
    if not answers:
        raise BlockedError("Answer one question at least")
    logs: dict[Cause, float] = dict.fromkeys(CAUSES, 0.0)
    for question in QUESTIONS:
        if question.key in answers:
            for cause, yes in zip(CAUSES, question.yes, strict=True):
                logs[cause] += math.log(yes if answers[question.key] else 1 - yes)
    return _ranked(logs)


def next_question(answers: Mapping[str, bool], skipped: Sequence[str] = ()) -> Question | None:
    """Return the question whose answer is expected to tell the most; None where all are answered or skipped."""
    left = [question for question in QUESTIONS if question.key not in answers and question.key not in skipped]
    if not left:
        return None
    chances = {likely.cause: likely.probability for likely in causes_by_answers(answers)} if answers else {}
    prior = np.array([chances.get(cause, 1 / len(CAUSES)) for cause in CAUSES])

    def left_open(question: Question) -> float:
        yes = np.array(question.yes)
        entropy = 0.0
        for likelihood in (yes, 1 - yes):
            joint = prior * likelihood
            after = joint / joint.sum()
            entropy -= float(joint.sum()) * float((after * np.log(after)).sum())
        return entropy

    return min(left, key=left_open)
