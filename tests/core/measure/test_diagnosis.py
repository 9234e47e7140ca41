"""Causes by evidence and by answers."""

import numpy as np
import pytest
import scipy.stats

from honest_edge.core.measure import diagnosis
from honest_edge.core.measure.diagnosis import (
    CAUSES,
    QUESTIONS,
    causes_by_answers,
    causes_of,
    next_question,
)
from honest_edge.core.measure.remedies import TITLES, remedies_of, telling_apart
from honest_edge.core.measure.sheet_error import displaced
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.measured import ErrorParts, MeasuredPlace, MeasuredSheet

POINTS = np.array([(x, y) for y in (-110, -40, 40, 110) for x in (-80, 0, 80)], float)


def sheet(moved, points=POINTS):
    places = tuple(
        MeasuredPlace(x_mm=x, y_mm=y, dx_mm=dx, dy_mm=dy)
        for (x, y), (dx, dy) in zip(points.tolist(), moved.tolist(), strict=True)
    )
    return MeasuredSheet(
        picture="",
        by="scan",
        error=ErrorParts(),
        unsure=ErrorParts(),
        repeat_mm=0.1,
        degrees_of_freedom=19,
        places=places,
    )


def noisy(moved, seed, size=0.06):
    return sheet(moved + np.random.default_rng(seed).normal(0, size, POINTS.shape))


def slipped():
    return np.column_stack([np.zeros(12), 0.5 * (POINTS[:, 1] + 110) / 220])


@pytest.mark.parametrize(
    ("cause", "moved"),
    [
        ("fine", np.zeros((12, 2))),
        ("shift", displaced(ErrorParts(shift_x_mm=0.3, shift_y_mm=-0.2), POINTS)),
        ("rotation", displaced(ErrorParts(rotation_deg=0.18), POINTS)),
        ("scale", displaced(ErrorParts(scale_x_percent=0.3, scale_y_percent=0.32), POINTS)),
        ("slip", slipped()),
    ],
)
def test_a_steady_cause_is_found_on_three_sheets(cause, moved):
    likely = causes_of([noisy(moved, seed) for seed in range(3)])
    assert likely[0].cause == cause
    assert sum(one.probability for one in likely) == pytest.approx(1.0)


def test_one_sheet_with_a_misread_mark_is_told_from_three():
    bad = np.column_stack([0.25 + 0.375 * POINTS[:, 0] / 80 + 0.375 * POINTS[:, 1] / 110, np.zeros(12)])
    likely = causes_of([noisy(np.zeros((12, 2)), 1), noisy(bad, 2), noisy(np.zeros((12, 2)), 3)])
    assert likely[0].cause == "misread"


def test_what_has_no_pattern_is_random():
    assert causes_of([noisy(np.zeros((12, 2)), seed, 0.35) for seed in range(3)])[0].cause == "random"


def test_the_evidence_is_the_normal_density_whatever_way_it_is_computed():
    """scipy.stats.multivariate_normal with the covariance written out whole."""
    random, spread = np.random.default_rng(7), 0.1
    moved = random.normal(0, 0.2, 24)
    way = random.normal(size=(24, 2))
    found = diagnosis._log_normal(moved, [POINTS], way, spread)
    base = np.zeros((24, 2))
    base[:12, 0] = base[12:, 1] = 0.03
    covariance = spread**2 * np.eye(24) + base @ base.T + way @ way.T
    assert found == pytest.approx(scipy.stats.multivariate_normal.logpdf(moved, np.zeros(24), covariance), rel=1e-9)


def test_too_few_places_tell_nothing():
    with pytest.raises(BlockedError, match="measure a target first"):
        causes_of([sheet(np.zeros((2, 2)), POINTS[:2])])


def test_answers_are_weighed_by_bayes():
    """Two answers by hand: P(cause) is proportional to the product of its chances."""
    likely = {one.cause: one.probability for one in causes_by_answers({"same": True, "down": False})}
    same, down = QUESTIONS[0].yes, QUESTIONS[3].yes
    weights = [a * (1 - b) for a, b in zip(same, down, strict=True)]
    assert [likely[cause] for cause in CAUSES] == pytest.approx([w / sum(weights) for w in weights])
    assert max(likely, key=likely.get) == "shift"


def test_no_answer_is_no_cause():
    with pytest.raises(BlockedError, match="Answer one question"):
        causes_by_answers({})


def test_questions_end():
    answers, asked = {}, []
    while (question := next_question(answers)) is not None:
        asked.append(question.key)
        answers[question.key] = question.key in ("same", "next", "wide")
    assert sorted(asked) == sorted(question.key for question in QUESTIONS)
    assert causes_by_answers(answers)[0].cause == "shift"
    assert next_question({}, [question.key for question in QUESTIONS]) is None


def test_every_cause_has_words_and_something_to_do():
    for first in CAUSES:
        for second in CAUSES:
            if first != second:
                pair = (diagnosis.Likely(cause=first, probability=0.5), diagnosis.Likely(cause=second, probability=0.4))
                assert TITLES[first]
                assert telling_apart(pair)
                assert len(remedies_of(pair)) >= 2
    sure = (diagnosis.Likely(cause="shift", probability=0.95), diagnosis.Likely(cause="slip", probability=0.05))
    assert telling_apart(sure) == ""
    assert "Reset the carriage" in remedies_of(sure)[0]
