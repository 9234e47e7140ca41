"""Findings that are left for a reason: until they say something new."""

from dataclasses import replace

import pytest

from honest_edge.core.proof import register
from honest_edge.core.proof.leaving import with_reasons
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.findings import Leaving, Subject

SOFT = register.PPI.found(Subject(kind="design", design="d1"), "120 ppi at 30 mm of art", severity="blocks")
LEFT = Leaving(check="ppi", subject=SOFT.subject, message=SOFT.message, reason="seen from afar")


def test_what_is_left_does_not_hold_and_says_why():
    (found,) = with_reasons([SOFT], [LEFT])
    assert SOFT.holds
    assert (found.left, found.holds) == ("seen from afar", False)


def test_it_comes_back_when_what_it_was_about_changes():
    worse = replace(SOFT, message="90 ppi at 40 mm of art")
    other = replace(SOFT, subject=Subject(kind="design", design="d2"))
    assert [found.left for found in with_reasons([worse, other], [LEFT])] == ["", ""]


def test_what_makes_writing_impossible_cannot_be_left():
    art = register.ART.found(Subject(kind="design", design="d1"), "it cannot be read")
    left = Leaving(check="art", subject=art.subject, message=art.message, reason="please")
    (found,) = with_reasons([art], [left])
    assert found.holds


def test_a_reason_is_asked_for():
    with pytest.raises(UsageError, match="Say in a few words"):
        replace(LEFT, reason="  ")
