"""What a piece costs and what is on hand, by worked examples."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.values.book_records import Rates, StockMove
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.log_event import RunRecord
from honest_edge.core.values.orders import OrderLine
from honest_edge.core.workshop.cost import piece_cost
from honest_edge.core.workshop.order_price import line_prices
from honest_edge.core.workshop.stock_level import DAY_MS, Moved, stock_level

RUN = RunRecord(title="Tea", sheets=4, good=30, bad=3, sheet_price=0.5, ink_cm2=900, cut_m=12, minutes=20)
NOW_MS = 1_790_000_000_000


def test_all_that_went_in_is_shared_by_the_good_pieces():
    """4 x 0.50 + 9 x 0.06 + 4 x 0.25 + 12 x 9 / 300 + 20 / 60 x 15 = 8.90, by 30; with 50 % 0.445."""
    found = piece_cost(RUN, Rates(ink=0.06, laminate=0.25, blade=9, blade_m=300, hour=15, margin_percent=50))
    assert found.amount == pytest.approx(8.9 / 30)
    assert found.price == pytest.approx(8.9 / 30 * 1.5)
    assert found.missing == ()
    assert found.counted == ("stock", "ink", "laminate", "blade", "time")


def test_an_order_is_priced_by_the_area_of_what_it_asks_for():
    """10 small and 5 large of twice the area cost 0.40 on average, 6.00 in all; 20 areas of 0.30."""
    pieces = {"small": (10, 100.0), "large": (5, 200.0)}
    lines = [OrderLine(design="large", quantity=2), OrderLine(design="small", quantity=3)]
    assert line_prices(lines, pieces, 0.4) == pytest.approx([1.2, 0.9])
    assert line_prices(lines, {"small": (0, 100.0), "large": (0, 9.0)}, 0.4) == [0, 0], "nothing is made"


def test_what_is_not_known_is_named_and_never_taken_for_nothing():
    found = piece_cost(RUN, Rates())
    assert found.amount == pytest.approx(2 / 30)
    assert found.missing == ("ink", "blade", "time")
    assert found.price is None
    free = piece_cost(RUN, Rates(ink=0.0, blade=9))  # 0 is a price; a blade of unknown life is not counted
    assert free.missing == ("blade", "time")
    assert free.amount == pytest.approx(2 / 30)
    nothing = piece_cost(RunRecord(title="Tea", sheets=1, good=0, bad=4, sheet_price=1.0), Rates())
    assert nothing.amount is None


def moves(*rows):
    return [Moved(at_ms=NOW_MS - days * DAY_MS, what=what, sheets=sheets) for days, what, sheets in rows]


def test_on_hand_is_what_came_less_what_went_since_the_last_count():
    level = stock_level(
        moves((40, "bought", 50), (30, "used", 8), (20, "counted", 40), (10, "used", 5), (5, "spoiled", 1)), NOW_MS
    )
    assert (level.sheets, level.bought, level.used, level.spoiled) == (34, 50, 13, 1)
    assert level.per_day == pytest.approx(14 / 30)
    assert level.days_left == pytest.approx(34 / 14 * 30)
    assert not level.should_buy


def test_what_never_came_is_not_known_and_what_is_short_is_said():
    unknown = stock_level(moves((3, "used", 8)), NOW_MS)
    assert unknown.sheets is None
    assert not unknown.should_buy
    short = stock_level(moves((30, "bought", 10), (2, "used", 9)), NOW_MS)
    assert short.should_buy
    below = stock_level(moves((30, "bought", 2), (2, "used", 9)), NOW_MS)
    assert (below.sheets, below.should_buy, below.days_left) == (-7, True, 0)
    assert stock_level([], NOW_MS).per_day is None


@given(
    st.lists(
        st.tuples(st.integers(0, 400), st.sampled_from(["bought", "used", "spoiled"]), st.integers(1, 50)), max_size=20
    )
)
def test_the_sum_of_moves_does_not_depend_on_the_order_in_which_they_are_told(rows):
    assert stock_level(moves(*rows), NOW_MS).sheets == stock_level(moves(*rows[::-1]), NOW_MS).sheets or len(
        {days for days, _, _ in rows}
    ) < len(rows)


@pytest.mark.parametrize(
    ("changes", "words"),
    [({"sheets": -1}, "cannot be bought"), ({"price": 1e9}, "costs 0 to"), ({"stock": ""}, "Name the stock")],
)
def test_what_cannot_be_is_said(changes, words):
    with pytest.raises(UsageError, match=words):
        StockMove(**{"stock": "Kraft", "what": "bought", "sheets": 1, **changes})
