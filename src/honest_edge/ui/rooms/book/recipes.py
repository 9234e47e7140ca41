"""Recipes: what each stock is cut with, since when, from where, and how it came out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from honest_edge.core.values.book_records import CutRecipe
from honest_edge.core.workshop.setting_words import setting_words
from honest_edge.ui.rooms.book.ledger import Column, day_cell, number_cell, share_cell, text_cell
from honest_edge.ui.rooms.book.recipe_dialog import recipe_dialog
from honest_edge.ui.rooms.book.section import Section
from honest_edge.ui.shared.trial_words import LINES, found_words
from honest_edge.ui.widgets.fields import button, counted, greyed, label, set_tone

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QPushButton

    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.found import Found
    from honest_edge.app.book.recipe_cards import RecipeCard
    from honest_edge.ui.rooms.book.ledger import Cell

_ORIGIN = {"typed": "typed", "run": "taken over from a run", "test cuts": "found by test cuts"}
_EARLIER = 5
_PICK = "Pick one in the list first"


def _came_out(card: RecipeCard) -> Cell:
    if not card.good + card.bad:
        return number_cell(None)
    words, share = share_cell(card.good / (card.good + card.bad))
    return (f"▼ {words}" if card.cut_badly else words), share


COLUMNS: tuple[Column[Any], ...] = (
    Column("Since", lambda card: day_cell(card.at_ms)),
    Column("Stock", lambda card: text_cell(card.recipe.stock)),
    Column("Line", lambda card: text_cell(dict(LINES)[card.recipe.line])),
    Column("Set to", lambda card: text_cell(setting_words(card.recipe.setting))),
    Column("Under", lambda card: text_cell(card.recipe.laminate)),
    Column("Good since", _came_out, is_figure=True, needs_a_look=lambda card: card.cut_badly > 0),
)


class RecipesSection(Section):
    """Shows the cards, changes them, and takes what they say into the job in hand."""

    key, title, noun, search, columns = "recipes", "Recipes", "recipe", "Search stock, machine, blade", COLUMNS
    beside_first = True
    filters = (
        ("kiss cuts", lambda card: card.recipe.line == "kiss"),
        ("through cuts", lambda card: card.recipe.line == "through"),
        ("cut badly since", lambda card: card.cut_badly > 0),
    )
    empty = (
        "No recipe is known yet.\n\nA card says what a stock is cut with: force or depth, speed, passes. Test cuts "
        "make one by themselves; “New card…” takes what you know already.\nWhat the machine was set to in a run is "
        "taken over at Runs, what was typed at Files is kept there."
    )

    def look(self, desk: BookDesk, words: str, now_ms: int) -> Found[Any]:
        return desk.recipes(words, now_ms)

    def sum_of(self, rows: Sequence[RecipeCard]) -> str:
        badly = [card.recipe.stock for card in rows if card.cut_badly]
        if badly:
            return f"Cut badly since: {', '.join(dict.fromkeys(badly))}"
        return f"{len({card.recipe.stock for card in rows})} stocks have a recipe"

    def tip(self, row: RecipeCard) -> str:
        return f"{row.recipe.stock}, on {row.recipe.machine}\n{setting_words(row.recipe.setting)}"

    def ways_on(self) -> Sequence[QPushButton]:
        self._picked: RecipeCard | None = None
        self.use = button("Take it into this job", self._use, filled=True)
        self.new = button("New card…", self._new)
        self.change = button("Change…", lambda: self.act_on(self._picked))
        self.remove = button("Take it out", self._remove)
        for way in (self.use, self.change, self.remove):
            greyed(way, _PICK)
        return self.use, self.new, self.change, self.remove

    def beside(self) -> QWidget:
        widget = QWidget()
        column = QVBoxLayout(widget)
        column.setContentsMargins(0, 0, 0, 0)
        self.words, self.told = label("", "heading"), label("", "soft")
        self.out, self.earlier = label("", "soft"), label("", "figures")
        for part in (self.words, self.told, self.out, self.earlier):
            column.addWidget(part)
        column.addStretch(1)
        return widget

    def show_picked(self, row: RecipeCard | None) -> None:
        self._picked = row
        sheet = self.host.workspace.job.sheet
        greyed(self.change, _PICK if row is None else "")
        fits = row is not None and (row.recipe.stock, row.recipe.machine) == (sheet.stock.name, sheet.machine.name)
        other = f"This job is cut from {sheet.stock.name} on {sheet.machine.name}"
        greyed(self.use, _PICK if row is None else "" if fits else other)
        is_of_tests = row is not None and row.recipe.origin == "test cuts" and not row.before
        greyed(self.remove, _PICK if row is None else "Test cuts say so: change it, or cut anew" if is_of_tests else "")
        self.words.setText("" if row is None else setting_words(row.recipe.setting))
        self.told.setText("" if row is None else _told(row))
        self.out.setText("" if row is None else _out(row))
        set_tone(self.out, "look" if row is not None and row.cut_badly else "soft")
        earlier = () if row is None else row.before[:_EARLIER]
        lines = [f"{day_cell(at_ms)[0]}  {setting_words(one.setting)}" for at_ms, one in earlier]
        self.earlier.setText("\n".join(("Before:", *lines)) if lines else "")

    # -- acting --------------------------------------------------------------------------------------

    def _use(self) -> None:
        if self._picked is None:
            return
        workspace, recipe = self.host.workspace, self._picked.recipe
        sheet = workspace.job.sheet
        settings = sheet.settings.with_setting(recipe.line, recipe.setting)
        workspace.edit_job(f"the recipe of the {recipe.line} cut", sheet=replace(sheet, settings=settings))
        self.host.say(
            f"The {recipe.line} cut of this job is set to: {setting_words(recipe.setting)}.",
            tone="fine",
            actions=[("See it at Files", lambda: self.host.go_to("files"))],
        )

    def _new(self) -> None:
        sheet = self.host.workspace.job.sheet
        self._ask_card(CutRecipe(stock=sheet.stock.name, machine=sheet.machine.name, is_gone=True))

    def act_on(self, row: RecipeCard | None) -> None:
        if row is not None:
            self._ask_card(row.recipe)

    def _ask_card(self, present: CutRecipe) -> None:
        stocks, machines = ([one.name for one in self.host.profiles.all(kind)] for kind in ("stock", "machine"))
        self.dialog = recipe_dialog(self.host.table.window(), present, stocks, machines, self._keep)
        self.dialog.open()

    def _remove(self) -> None:
        if self._picked is not None:
            self._keep(replace(self._picked.recipe, is_gone=True))

    def _keep(self, recipe: CutRecipe) -> None:
        def keep(desk: BookDesk, now_ms: int) -> bool:
            from honest_edge.files.book.records import RECIPE

            return desk.note([(RECIPE, recipe)], now_ms)

        self.ask(keep, lambda _made_up: self.look_again())


def _told(card: RecipeCard) -> str:
    recipe = card.recipe
    parts = (
        f"{dict(LINES)[recipe.line]} of {recipe.stock}, on {recipe.machine}",
        f"under {recipe.laminate}" if recipe.laminate else "",
        f"with {recipe.blade}" if recipe.blade else "",
        _ORIGIN[recipe.origin],
    )
    tests = "" if card.tests is None else f"\nTest cuts: {found_words(card.tests)}"
    remark = f"\n{recipe.remark}" if recipe.remark else ""
    return ", ".join(part for part in parts if part) + f".{tests}{remark}"


def _out(card: RecipeCard) -> str:
    if not card.sheets:
        return "No sheet was inspected since."
    whole = f"Since then {counted(card.sheets, 'sheet')}: {card.good} of {card.good + card.bad} came out good."
    if not card.cut_badly:
        return f"{whole} None was torn, cut into its liner or not cut through."
    return (
        f"{whole} On {counted(card.cut_badly, 'sheet')} stickers were torn, not cut through, or their liner was cut: "
        "look at the blade, then cut a small ladder."
    )
