"""What the Book is told of a job. Invented numbers; the share is a weighted mean, its arithmetic by hand."""

from types import SimpleNamespace

import pytest

from honest_edge.app.book.cut_trial import new_trial
from honest_edge.app.book.run_of_job import expected_clean
from honest_edge.core.values.book_records import CutSubject, SettingFound
from honest_edge.core.workshop.ladder import SettingRange


def result(share, stock=None):
    return SimpleNamespace(stock=stock, forecast=SimpleNamespace(share_clean=share))


def overview(laid, *pages):
    plan = SimpleNamespace(pages=[[SimpleNamespace(design=index) for index in page] for page in pages])
    return SimpleNamespace(plan=plan, laid=laid)


def test_the_share_expected_clean_weighs_each_design_by_its_copies_on_all_sheets_that_are_printed():
    laid = [result(0.9), result(0.5), result(0.1, stock="film"), result(0.2)]
    found = expected_clean(overview(laid, [0, 0, 1], [0, 2, 2]))
    assert found == pytest.approx(
        (3 * 0.9 + 1 * 0.5) / 4
    )  # what is cut from film prints nothing; the last has no copies
    assert expected_clean(overview([result(0.1, stock="film")], [0])) is None
    assert expected_clean(SimpleNamespace(plan=None, laid=laid)) is None


def test_a_trial_begins_amid_what_was_safe_before_on_its_own_scale():
    """Settings act by their ratio, so the middle of a window is its geometric mean."""
    common = {"stock": "Paper", "machine": "Cutter", "blade": "A"}
    subject = CutSubject(**common)
    before = SettingFound(**common, session="5" * 32, best=5.0, low=4.0, high=9.0, chance=0.9, looks=2)
    reach = SettingRange(lowest=1.0, highest=33.0)
    similar = new_trial(subject, reach, before).similar
    assert (similar.low, similar.high, similar.best) == pytest.approx((4.0, 9.0, 6.0))
    unsafe = SettingFound(**common, session="5" * 32, best=5.0, chance=0.3, looks=2)
    assert new_trial(subject, reach, unsafe).similar is None
    blunter = new_trial(subject, reach, before, octaves=1.0).similar
    assert blunter.low > similar.low  # a worn blade needs more
