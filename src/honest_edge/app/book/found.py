"""What is told of what was looked up in the Book."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

from honest_edge.app.book.recipe_cards import RecipeCard
from honest_edge.core.values.book_records import KeptWork, LadderLook, SettingFound
from honest_edge.core.values.log_event import RunRecord
from honest_edge.core.workshop.cost import PieceCost
from honest_edge.files.book.store import Kept, KeptRun

Row = TypeVar("Row")


@dataclass(frozen=True, slots=True, kw_only=True)
class Found(Generic[Row]):
    """What was looked up.

    Attributes:
        rows: the newest first.
        words: what was looked for.
        events: how many the Book has in all.
        is_made_up: whether it is the demo's.
        notes: what was done about the Book while it was opened, once.
    """

    rows: tuple[Row, ...]
    words: str
    events: int
    is_made_up: bool
    notes: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class CutFacts:
    """What a new test cut can start from.

    Attributes:
        settings: found before, the newest first.
        looks: the newest look of each machine, which says what that can be set to.
    """

    settings: tuple[Kept[SettingFound], ...]
    looks: Mapping[str, LadderLook]


@dataclass(frozen=True, slots=True, kw_only=True)
class CostedRun:
    """A run, when it was in UTC milliseconds, what a good piece of it cost, and whether too few came out good."""

    at_ms: int
    run: RunRecord
    cost: PieceCost
    fell_short: bool


def forecast_and_outcome(rows: Sequence[CostedRun]) -> tuple[float, float, int] | None:
    """Return the share that was expected over all pieces, the share that came out, and over how many runs; or None."""
    told = [kept.run for kept in rows if kept.run.forecast is not None]
    pieces = sum(run.good + run.bad for run in told)
    if not pieces:
        return None
    expected = sum((run.forecast or 0.0) * (run.good + run.bad) for run in told) / pieces
    return expected, sum(run.good for run in told) / pieces, len(told)


@dataclass(frozen=True, slots=True, kw_only=True)
class LibraryRow:
    """What is kept, since when in UTC milliseconds, and its picture, a JPEG; empty where there is none."""

    at_ms: int
    work: KeptWork
    picture: bytes


@dataclass(frozen=True, slots=True, kw_only=True)
class WhatWorked:
    """What is known of cutting a stock on a machine.

    Attributes:
        run: the last one; None where there was none.
        setting: the newest that test cuts came to.
        on_hand: sheets of it that there are; None where that is not known.
        wanted: how many the job takes.
        blades: names of those in use, the one fitted last first.
        recipes: cards of the stock, the newest first.
        laminate: what is laid over it; empty for nothing.
        driver: how the printer’s driver is set for it; empty where that was not said.
    """

    run: KeptRun | None
    setting: Kept[SettingFound] | None
    on_hand: int | None
    wanted: int
    blades: tuple[str, ...]
    recipes: tuple[RecipeCard, ...] = ()
    laminate: str = ""
    driver: str = ""
