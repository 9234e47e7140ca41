"""Carriers: common practice, no published source, so what is checked is that the advice is of one piece."""

from dataclasses import replace

import pytest

from honest_edge.app.book.carrier_uses import carrier_uses
from honest_edge.core.values.book_records import Carrier, CarrierCare
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.run_notes import CarrierLoaded
from honest_edge.core.values.stock import STOCKS, Stock
from honest_edge.core.workshop.carriers import (
    FRESH_LOADS,
    LOADS_BEFORE_WASHING,
    CarrierUse,
    best_carrier,
    carrier_words,
    tack_for,
)
from honest_edge.files.book.records import CARE, CARRIER, LOADED
from honest_edge.files.book.store import Book

PAPER, CARD = Stock(has_liner=False, thickness_mm=0.1), Stock(has_liner=False, thickness_mm=0.3)
LIGHT, STANDARD, STRONG = (
    CarrierUse(carrier=Carrier(name=tack, tack=tack)) for tack in ("light", "standard", "strong")
)


@pytest.mark.parametrize(
    ("stock", "tack"),
    [
        (PAPER, "light"),
        (CARD, "strong"),
        (Stock(), "standard"),
        (Stock(has_liner=False, thickness_mm=0.18), "standard"),
        (Stock(thickness_mm=0.3), "standard"),  # a liner bears the pull, however thick
    ],
)
def test_each_stock_has_a_tack_and_its_carrier_is_taken(stock, tack):
    assert tack_for(stock)[0] == tack
    assert best_carrier([LIGHT, STANDARD, STRONG], stock).carrier.tack == tack


def test_of_two_the_cleaner_one_is_taken_and_none_where_there_is_none():
    used = replace(STANDARD, since_care=9)
    assert best_carrier([used, STANDARD], Stock()) is STANDARD
    assert best_carrier([used, LIGHT], Stock()) is used  # the tack counts first
    assert best_carrier([], Stock()) is None


def test_what_does_not_fit_is_said_with_what_to_do():
    assert carrier_words(STANDARD, Stock()) == ""
    assert "wants a light tack" in carrier_words(STRONG, PAPER)
    assert "dab this one with a cloth" in carrier_words(STRONG, PAPER)
    assert "tape the sheet’s edges to this one" in carrier_words(LIGHT, CARD)
    fresh = replace(LIGHT, cared_ms=1, since_care=FRESH_LOADS - 1)
    assert "tears the paper" in carrier_words(fresh, PAPER)
    assert carrier_words(replace(fresh, since_care=FRESH_LOADS), PAPER) == ""
    assert carrier_words(replace(LIGHT, since_care=0), PAPER) == ""  # nobody said that it was new
    dusty = replace(STANDARD, since_care=LOADS_BEFORE_WASHING)
    assert f"{LOADS_BEFORE_WASHING} sheets lay on it" in carrier_words(dusty, STOCKS[0])
    assert carrier_words(replace(dusty, since_care=LOADS_BEFORE_WASHING - 1), STOCKS[0]) == ""


def test_loads_are_counted_like_a_blade_s_metres_from_the_last_cleaning(tmp_path):
    with Book(tmp_path / "book.sqlite") as book:
        notes = [(CARRIER, Carrier(name="Green")), (CARRIER, Carrier(name="Blue"))]
        loads = [(LOADED, CarrierLoaded(run="a" * 32, sheet=number, carrier="Green")) for number in (1, 2, 3)]
        notes += [loads[0], loads[1], (CARE, CarrierCare(carrier="Green", what="cleaned")), loads[2]]
        book.add([kind.event(note, f"{n:032x}", 1_790_000_000_000 + n) for n, (kind, note) in enumerate(notes)])
        green, blue = sorted(carrier_uses(book), key=lambda use: -use.loads)
    assert (green.loads, green.since_care, green.cared_ms) == (3, 1, 1_790_000_000_004)
    assert (blue.loads, blue.since_care, blue.cared_ms) == (0, 0, None)
    with pytest.raises(UsageError, match="Name the carrier"):
        CarrierCare(carrier=" ", what="new")
