"""Recipe cards from what is typed, tried and inspected; invented data."""

from dataclasses import replace

import pytest

from honest_edge.app.book.recipe_cards import chosen, recipe_cards, recipes_of_run, settings_from
from honest_edge.core.values.book_records import CutRecipe, SettingFound
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.log_event import RunRecord
from honest_edge.core.values.recipe import CutSetting
from honest_edge.core.values.run_notes import SheetInspected
from honest_edge.files.book.records import INSPECTED, RECIPE, SETTING
from honest_edge.files.book.store import Book

NOW_MS = 1_790_000_000_000
VINYL = CutRecipe(stock="Vinyl", machine="Cutter", force=80.0, passes=1)
TESTS = SettingFound(
    stock="Vinyl", machine="Cutter", blade="No. 2", session="a" * 32, best=84.0, low=70.0, high=99.0, chance=0.97,
    looks=2,
)  # fmt: skip


@pytest.fixture
def book(tmp_path):
    with Book(tmp_path / "book.sqlite") as made:
        yield made


def note(book, kind, record, day):
    book.add([kind.event(record, f"{note.count:032x}", NOW_MS + day * 86_400_000)])
    note.count += 1


note.count = 1


def test_the_newest_counts_test_cuts_go_over_what_they_tried_and_laminate_is_apart(book):
    note(book, RECIPE, replace(VINYL, force=70.0), 0)
    note(book, RECIPE, VINYL, 1)
    note(book, RECIPE, replace(VINYL, laminate="gloss", force=95.0), 2)
    note(book, SETTING, TESTS, 3)
    note(book, SETTING, replace(TESTS, stock="Card", line="through", low=None, high=None), 3)  # none is safe: no card
    plain, gloss = recipe_cards(book)
    assert (plain.recipe.force, plain.recipe.passes, plain.recipe.origin) == (84.0, 1, "test cuts")
    assert plain.recipe.blade == "No. 2"
    assert [one.force for _, one in plain.before] == [80.0, 70.0]
    assert plain.tests == TESTS
    assert (gloss.recipe.force, gloss.tests, gloss.before) == (95.0, None, ())
    assert dict(chosen([plain, gloss], "Cutter", "gloss"))["kiss"] is gloss
    assert settings_from([plain, gloss], "Cutter", "").kiss == CutSetting(force=84.0, passes=1)
    assert settings_from([plain, gloss], "Cutter", "matt").kiss.force == 84.0  # none of its own: as without
    assert settings_from([plain, gloss], "Another", "").kiss is None
    note(book, RECIPE, replace(VINYL, is_gone=True), 4)
    assert [card.recipe.origin for card in recipe_cards(book, words="vinyl no. 2")] == ["test cuts"]
    note(book, RECIPE, replace(VINYL, force=88.0), 5)
    assert recipe_cards(book)[0].recipe.force == 88.0  # typed after the test cuts


@pytest.mark.parametrize(
    ("name", "best", "setting"),
    [
        ("depth", 3.0, CutSetting(depth=3.0, force=80.0, passes=1)),
        ("speed", 25.0, CutSetting(speed_mm_s=25.0, force=80.0, passes=1)),
        ("passes", 2.0, CutSetting(force=80.0, passes=2)),
        ("named", 2.0, CutSetting(named="Card", passes=1)),
    ],
)
def test_test_cuts_of_every_kind_make_a_card(book, name, best, setting):
    note(book, RECIPE, VINYL, 0)
    names = "Paper\nCard" if name == "named" else ""
    note(book, SETTING, replace(TESTS, name=name, best=best, low=best, high=best, names=names), 1)
    (card,) = recipe_cards(book, only="Vinyl")
    assert card.recipe.setting == setting


def test_a_card_says_how_it_came_out_since(book):
    told = {"run": "b" * 32, "stock": "Vinyl", "machine": "Cutter", "forecast": 0.9}
    note(book, INSPECTED, SheetInspected(**told, sheet=1, design="Bee", good=1, bad=8, reasons="torn"), 0)
    note(book, RECIPE, VINYL, 1)
    note(book, INSPECTED, SheetInspected(**told, sheet=2, design="Bee", good=8, bad=1, reasons="white rim"), 2)
    note(book, INSPECTED, SheetInspected(**told, sheet=2, design="Fox", good=3, bad=1, reasons="liner cut, print"), 2)
    other = {**told, "stock": "Card"}
    note(book, INSPECTED, SheetInspected(**other, sheet=3, design="Bee", good=5, bad=0), 3)
    (card,) = recipe_cards(book)
    assert (card.sheets, card.good, card.bad, card.cut_badly) == (1, 11, 2, 1)


def test_what_a_run_was_set_to_becomes_cards():
    run = RunRecord(title="Tea", stock="Vinyl", machine="Cutter", blade="No. 2", sheets=1, good=1, bad=0,
                    setting="kiss: force 84; through: “Card”, 2 passes")  # fmt: skip
    kiss, through = recipes_of_run(run)
    assert (kiss.line, kiss.setting, kiss.origin, kiss.blade) == ("kiss", CutSetting(force=84), "run", "No. 2")
    assert (through.line, through.setting) == ("through", CutSetting(named="Card", passes=2))
    assert recipes_of_run(replace(run, setting="as always")) == []


def test_a_card_that_says_nothing_is_refused():
    with pytest.raises(UsageError, match="says what is set"):
        CutRecipe(stock="Vinyl", machine="Cutter")
    with pytest.raises(UsageError, match="Name the stock"):
        CutRecipe(stock="", machine="Cutter", force=3)
