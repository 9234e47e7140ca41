"""How many sheets to print, against counts that are known exactly."""

import numpy as np
import pytest
from scipy import stats

from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.workshop.sheets_to_print import SheetKind, assurance_of, sheets_to_print

PER_SHEET = 10


def all_or_nothing(share, count=2000, seed=1):
    """Sheets on which all ten are good, or none."""
    good = (np.random.default_rng(seed).permutation(count) < share * count).astype(np.int32)
    return SheetKind(good=[PER_SHEET * good[:, None]])


@pytest.mark.parametrize("share", [0.6, 0.85, 0.97])
@pytest.mark.parametrize("wanted", [10, 40, 200])
@pytest.mark.parametrize("assurance", [0.9, 0.95])
def test_sheets_that_fail_whole_follow_the_binomial(share, wanted, assurance):
    """The smallest k with P(Binomial(k, p) >= n) >= a, from scipy.stats; at most one sheet, or 2 %, off."""
    needed = wanted // PER_SHEET
    exact = next(k for k in range(needed, 1000) if stats.binom.sf(needed - 1, k, share) >= assurance)
    found = sheets_to_print([all_or_nothing(share)], [wanted], assurance)
    assert abs(found.sheets[0] - exact) <= max(1, 0.02 * exact)
    assert found.assurance == pytest.approx(stats.binom.sf(needed - 1, found.sheets[0], share), abs=0.02)


def test_a_spare_sheet_helps_where_spare_stickers_hardly_do():
    share = 0.9
    eight_of_ten, sheet_more = (
        assurance_of([all_or_nothing(share)], [8], [1]),
        assurance_of([all_or_nothing(share)], [8], [2]),
    )
    assert eight_of_ten == pytest.approx(0.9, abs=0.02)  # two to spare, and no better than none
    assert sheet_more == pytest.approx(0.99, abs=0.01)


def test_more_sheets_are_never_worse():
    kind = all_or_nothing(0.7)
    shares = [assurance_of([kind], [50], [count]) for count in range(5, 20)]
    assert shares == sorted(shares)


def test_the_sheet_that_lacks_is_printed_more_often_and_the_good_one_is_not():
    sure = np.zeros((500, 2), np.int32)
    sure[:, 0] = 6
    poor = np.zeros((500, 2), np.int32)
    poor[:350, 1] = 6
    kinds = [SheetKind(good=[sure]), SheetKind(good=[poor])]
    found = sheets_to_print(kinds, [6, 6], 0.95)
    assert found.sheets == (1, 3)  # 1 - 0.3^3 = 0.973
    assert assurance_of(kinds, [6, 6], [1, 1]) == pytest.approx(0.7, abs=0.03)


def test_what_is_not_known_of_the_bench_is_shared_by_all_sheets_of_a_run():
    """On half of the benches that are possible every sheet fails: no number of sheets gives 95 %."""
    good, bad = np.full((50, 1), 5, np.int32), np.zeros((50, 1), np.int32)
    with pytest.raises(BlockedError, match="not be enough"):
        sheets_to_print([SheetKind(good=[good, bad])], [5], 0.95)


def test_a_hopeless_bench_and_an_assurance_that_is_none_are_said():
    with pytest.raises(BlockedError, match="Hardly a sticker"):
        sheets_to_print([SheetKind(good=[np.zeros((50, 1), np.int32)])], [5], 0.95)
    with pytest.raises(UsageError, match="120 %"):
        sheets_to_print([all_or_nothing(0.9)], [5], 1.2)
