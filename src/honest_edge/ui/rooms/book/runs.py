"""Runs: what was cut at one go, and what came of it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any, cast

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QLabel, QVBoxLayout, QWidget

from honest_edge.core.values.errors import UsageError
from honest_edge.ui.rooms.book.ledger import Column, day_cell, number_cell, share_cell, text_cell, when_cell
from honest_edge.ui.rooms.book.once_more import OnceMore
from honest_edge.ui.rooms.book.prices import prices_dialog
from honest_edge.ui.rooms.book.section import Section
from honest_edge.ui.shared.cost_words import cost_words
from honest_edge.ui.widgets.fields import (
    button,
    counted,
    greyed,
    label,
)
from honest_edge.ui.widgets.theme import px

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QPushButton

    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.found import CostedRun, Found
    from honest_edge.core.values.book_records import Rates
    from honest_edge.core.values.job import Job
    from honest_edge.ui.rooms.book.ledger import Cell

_PICTURE_PX = 330


def _came_out(kept: CostedRun) -> Cell:
    words, share = share_cell(kept.run.share_good)
    return (f"▼ {words}" if kept.fell_short else words), share


def _each(kept: CostedRun) -> Cell:
    words, amount = number_cell(kept.cost.amount, ".2f")
    return (f"≥ {words}" if kept.cost.missing and kept.cost.amount is not None else words), amount


_PICK = "Pick one in the list first"
COLUMNS: tuple[Column[Any], ...] = (
    Column("When", lambda kept: day_cell(kept.at_ms)),
    Column("Job", lambda kept: text_cell(kept.run.title)),
    Column("Stock", lambda kept: text_cell(kept.run.stock)),
    Column("Good", lambda kept: (f"{kept.run.good} of {kept.run.good + kept.run.bad}", kept.run.good), is_figure=True),
    Column("Came out", _came_out, is_figure=True, needs_a_look=lambda kept: kept.fell_short),
    Column("Expected", lambda kept: share_cell(kept.run.forecast), is_figure=True),
    Column("Each cost", _each, is_figure=True),
)


class RunsSection(Section):
    """Shows what was kept of runs, and opens one's job again."""

    beside_first = True
    key, title, noun, search, columns = "runs", "Runs", "run", "Search job, stock, reason", COLUMNS
    filters = (
        ("fell short of the forecast", lambda kept: kept.fell_short),
        ("with bad pieces", lambda kept: kept.run.bad > 0),
        ("can be made again", lambda kept: bool(kept.run.job)),
    )
    empty = (
        "Nothing is kept yet.\n\nA job that is led by Run is kept by itself. Of any other, press “I cut this…” at "
        "Files and type how many pieces came out good.\nFrom then on this page says what worked: on which stock, with "
        "which machine, and what went wrong."
    )

    def look(self, desk: BookDesk, words: str, now_ms: int) -> Found[Any]:
        return desk.runs(words, now_ms)

    def sum_of(self, rows: Sequence[CostedRun]) -> str:
        good, bad, sheets = (sum(getattr(kept.run, what) for kept in rows) for what in ("good", "bad", "sheets"))
        from honest_edge.app.book.found import forecast_and_outcome  # loaded by now: there are rows

        told = forecast_and_outcome(rows)
        share = ""
        if told is not None:
            share = f"; forecast {100 * told[0]:.0f} %, came out {100 * told[1]:.0f} % over {counted(told[2], 'run')}"
        return f"{good} of {good + bad} pieces came out good, on {counted(sheets, 'sheet')}{share}"

    def tip(self, row: CostedRun) -> str:
        run = row.run
        blade = f" with {run.blade}" if run.blade else ""
        where = f"{run.stock}, on {run.machine}{blade}, printed by {run.printer}"
        moment = f"{when_cell(row.at_ms)[0]}, {counted(run.sheets, 'sheet')}"
        took = [f"set to {run.setting}" if run.setting else "", f"{run.minutes:g} min of hands" if run.minutes else ""]
        lines = (run.title, moment, where, ", ".join(part for part in took if part), run.reason, cost_words(row.cost))
        return "\n".join(line for line in lines if line)

    def ways_on(self) -> Sequence[QPushButton]:
        self.again = button("Make this again", lambda: self.act_on(self._picked), filled=True)
        self.again.setToolTip("Open the job as it was when this was cut")
        greyed(self.again, _PICK)
        self.prices = button("Prices…", self._look_prices)
        self.prices.setToolTip("What ink, blades and an hour cost you: what a piece costs follows")
        self._picked: CostedRun | None = None
        self.once_more = OnceMore(lambda: self.host.workspace.place.art)
        self.pieces = self.once_more.pieces
        self.over = button("Take its settings over", self._take_over)
        self.over.setToolTip("Make recipe cards of what the machine was set to in this run")
        greyed(self.over, _PICK)
        return self.again, self.over, self.prices

    def beside(self) -> QWidget:
        widget = QWidget()
        column = QVBoxLayout(widget)
        column.setContentsMargins(0, 0, 0, 0)
        self.words, self.told = label("", "heading"), label("", "soft")
        self.picture = QLabel()
        self.picture.setAccessibleName("The sheets of this run")
        for part in (self.words, self.picture, self.told, self.once_more):
            column.addWidget(part)
        column.addStretch(1)
        return widget

    def show_picked(self, row: CostedRun | None) -> None:
        self._picked = row
        can_go = row is not None and bool(row.run.job)
        greyed(self.again, "" if can_go else _PICK if row is None else "The job of this run was not kept")
        told = row is not None and bool(row.run.setting)
        greyed(self.over, "" if told else _PICK if row is None else "It was not said what this run was set to")
        self.once_more.setVisible(can_go)
        self.once_more.show_job(None)
        self.picture.hide()
        self.words.setText("" if row is None else row.run.title)
        self.told.setText("" if row is None else self.tip(row).partition("\n")[2])
        if row is None:
            return
        self.pieces.show_value(max(1, row.run.good + row.run.bad))
        run = row.run
        if run.job:
            self.read(lambda desk, now_ms: (*desk.looked_into(run, now_ms), row), lambda told: self._show_job(*told))

    def _show_job(self, data: bytes, job: Job | None, row: CostedRun) -> None:
        if row is not self._picked:
            return
        self.once_more.show_job(job)
        pixmap = QPixmap()
        if data and pixmap.loadFromData(data):
            wide = min(pixmap.width(), px(_PICTURE_PX))
            self.picture.setPixmap(pixmap.scaledToWidth(wide, Qt.TransformationMode.SmoothTransformation))
            self.picture.show()

    def act_on(self, row: CostedRun | None) -> None:
        if row is None or not row.run.job:
            return

        def opened(found: object) -> None:
            self.host.make_again(*cast("tuple[Job, dict[str, bytes]]", found))

        wanted, run = self.pieces.value(), row.run
        words, pictures = self.once_more.changes()

        def find(desk: BookDesk, now_ms: int) -> tuple[Job, dict[str, bytes]]:
            from honest_edge.app.edits.again import with_pieces, with_words
            from honest_edge.app.edits.open_art import with_other_pictures
            from honest_edge.files.read_input import read_picture

            job, assets = desk.job_of(run, now_ms)
            job = with_pieces(with_words(job, words), run.good + run.bad, wanted)
            read = {key: (path.name, read_picture(path)) for key, path in pictures.items()}
            return with_other_pictures(job, assets, read)

        self.ask(find, opened)

    def _take_over(self) -> None:
        row = self._picked
        if row is None:
            return
        from honest_edge.app.book.recipe_cards import recipes_of_run  # loaded by now: there are runs

        try:
            recipes = recipes_of_run(row.run)
        except UsageError as error:
            self.host.say(str(error), tone="danger")
            return
        if not recipes:
            self.host.say(
                f"“{row.run.setting[:60]}” does not say for which kind of line: make a new card at Recipes.",
                actions=[("Recipes", lambda: self.host.go_to("book:recipes"))],
            )
            return

        def keep(desk: BookDesk, now_ms: int) -> bool:
            from honest_edge.files.book.records import RECIPE

            return desk.note([(RECIPE, recipe) for recipe in recipes], now_ms)

        kinds = " and ".join(recipe.line for recipe in recipes)
        self.ask(
            keep,
            lambda _made_up: self.host.say(
                f"Its settings are a recipe of {row.run.stock} now: {kinds}.",
                tone="fine",
                actions=[("See the recipes", lambda: self.host.go_to("book:recipes"))],
            ),
        )

    def _look_prices(self) -> None:
        self.ask(lambda desk, now_ms: desk.rates(now_ms), self._ask_prices)

    def _ask_prices(self, rates: Rates) -> None:
        def keep(made: Rates) -> None:
            self.ask(lambda desk, now_ms: self._kept(made, desk, now_ms), lambda _made_up: self.look_again())

        self.dialog = prices_dialog(self.host.table.window(), rates, keep)
        self.dialog.open()

    def _kept(self, rates: Rates, desk: BookDesk, now_ms: int) -> bool:
        from honest_edge.files.book.records import RATES

        return desk.note([(RATES, rates)], now_ms)
