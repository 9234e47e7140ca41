"""Recipe cards: what is typed, what test cuts came to and what runs came out of it, brought together."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass, replace
from typing import get_args

from honest_edge.core.values.book_records import CutRecipe, SettingFound
from honest_edge.core.values.log_event import RunRecord
from honest_edge.core.values.recipe import LineSettings
from honest_edge.core.values.run_notes import SheetInspected
from honest_edge.core.values.specs import LineKind
from honest_edge.core.workshop.setting_words import settings_of
from honest_edge.files.book.records import INSPECTED, RECIPE, SETTING
from honest_edge.files.book.store import Book, Kept

_MOST_INSPECTED = 5000
_CUT_REASONS = ("not through", "liner cut", "torn")
"""Reasons for a bad sticker that a setting may be to blame for."""


@dataclass(frozen=True, slots=True, kw_only=True)
class RecipeCard:
    """One card.

    Attributes:
        at_ms: since when it says so.
        recipe: what it says; force, depth or setting from test cuts where those are newer.
        tests: the newest that test cuts came to for this stock, machine and line; None where none was made.
        before: what earlier cards said, the newest first.
        sheets, good, bad: inspected since then on this stock and machine.
        cut_badly: how many of those sheets had stickers that were not cut through, torn, or whose liner was cut.
    """

    at_ms: int
    recipe: CutRecipe
    tests: SettingFound | None = None
    before: tuple[tuple[int, CutRecipe], ...] = ()
    sheets: int = 0
    good: int = 0
    bad: int = 0
    cut_badly: int = 0


def recipe_cards(book: Book, words: str = "", only: str | None = None) -> list[RecipeCard]:
    """Return every card, the newest first.

    Args:
        book: where to look.
        words: that must stand in it.
        only: the name of the one stock that is asked for.
    """
    typed: dict[tuple[str, ...], list[tuple[int, CutRecipe]]] = {}
    for kept in book.notes(RECIPE, about=only, most=-1):
        typed.setdefault(kept.record.subject, []).append((kept.at_ms, kept.record))
    tests: dict[tuple[str, ...], tuple[int, SettingFound]] = {}  # nothing is laid over test squares
    for setting in book.notes(SETTING, about=only, most=-1):
        record = setting.record
        tests.setdefault((record.stock, record.machine, record.line, ""), (setting.at_ms, record))
    cards = [_card(noted, tests.get(subject)) for subject, noted in typed.items()]
    told = {subject for subject, noted in typed.items() if not noted[0][1].is_gone}
    cards += [_of_tests(*newest) for subject, newest in tests.items() if subject not in told]
    shown = [card for card in cards if card is not None and _holds(card.recipe, words)]
    inspected = book.notes(INSPECTED, most=_MOST_INSPECTED) if shown else []
    return sorted((_came_out(inspected, card) for card in shown), key=lambda card: -card.at_ms)


def _card(noted: list[tuple[int, CutRecipe]], found: tuple[int, SettingFound] | None) -> RecipeCard | None:
    at_ms, recipe = noted[0]
    if recipe.is_gone:
        return None
    tests = None if found is None else found[1]
    before = tuple((when, one) for when, one in noted[1:] if not one.is_gone)
    if found is not None and found[0] > at_ms and found[1].is_safe:
        newest = with_tests(recipe, found[1])
        return RecipeCard(at_ms=found[0], recipe=newest, tests=tests, before=(*noted[:1], *before))
    return RecipeCard(at_ms=at_ms, recipe=recipe, tests=tests, before=before)


def _of_tests(at_ms: int, found: SettingFound) -> RecipeCard | None:
    """Return the card that test cuts alone make; none where they found nothing that is safe."""
    if not found.is_safe:
        return None
    empty = CutRecipe(stock=found.stock, machine=found.machine, line=found.line, is_gone=True)
    return RecipeCard(at_ms=at_ms, recipe=with_tests(empty, found), tests=found)


def with_tests(recipe: CutRecipe, found: SettingFound) -> CutRecipe:
    """Return a recipe with what test cuts came to in the place of what it said of that."""
    changes: dict[str, object] = {"blade": found.blade or recipe.blade, "origin": "test cuts", "is_gone": False}
    match found.name:
        case "force":
            changes |= {"force": found.best}
        case "depth":
            changes |= {"depth": found.best}
        case "speed":
            changes |= {"speed_mm_s": found.best, "slow_mm_s": None}
        case "passes":
            changes |= {"passes": round(found.best)}
        case "named":
            changes |= {"named": found.best_name, "force": None, "depth": None}
    return replace(recipe, **changes)  # type: ignore[arg-type]


def _came_out(inspected: Sequence[Kept[SheetInspected]], card: RecipeCard) -> RecipeCard:
    """Return a card with what was inspected since it says what it says."""
    recipe = card.recipe
    sheets: dict[tuple[str, int], bool] = {}
    good = bad = 0
    for kept in inspected:
        note = kept.record
        if kept.at_ms < card.at_ms or (note.stock, note.machine) != (recipe.stock, recipe.machine):
            continue
        good, bad = good + note.good, bad + note.bad
        is_cut_badly = any(reason in note.reasons for reason in _CUT_REASONS)
        sheets[note.run, note.sheet] = sheets.get((note.run, note.sheet), False) or is_cut_badly
    return replace(card, sheets=len(sheets), good=good, bad=bad, cut_badly=sum(sheets.values()))


def settings_from(cards: Sequence[RecipeCard], machine: str, laminate: str) -> LineSettings:
    """Return what a job takes over from the cards of its stock: those under its laminate, else those without one."""
    settings = LineSettings()
    for kind, card in chosen(cards, machine, laminate):
        settings = settings.with_setting(kind, card.recipe.setting)
    return settings


def chosen(cards: Sequence[RecipeCard], machine: str, laminate: str) -> Iterator[tuple[LineKind, RecipeCard]]:
    """Yield the card that counts of each kind of line on a machine."""
    kinds: tuple[LineKind, ...] = get_args(LineKind)
    here = [card for card in cards if card.recipe.machine == machine]
    for kind in kinds:
        of_kind = [card for card in here if card.recipe.line == kind]
        under = [card for card in of_kind if card.recipe.laminate == laminate]
        card = next(iter(under or [card for card in of_kind if not card.recipe.laminate]), None)
        if card is not None:
            yield kind, card


def _holds(recipe: CutRecipe, words: str) -> bool:
    said = (recipe.stock, recipe.machine, recipe.blade, recipe.laminate, recipe.line, recipe.named, recipe.remark)
    text = " ".join(said)
    return all(word.casefold() in text.casefold() for word in words.split())


def recipes_of_run(run: RunRecord) -> list[CutRecipe]:
    """Return recipes that say what the machine was set to in a run; none where its words name no kind of line.

    Raises:
        UsageError: its words cannot be what a machine is set to.
    """
    settings = settings_of(run.setting, get_args(LineKind))
    return [
        CutRecipe(stock=run.stock, machine=run.machine, blade=run.blade, line=kind, origin="run", **asdict(setting))
        for kind, setting in settings.items()
    ]
