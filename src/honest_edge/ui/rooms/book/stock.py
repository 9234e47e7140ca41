"""Stock: what is on the shelf, how long it lasts, what it costs and what cuts it."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QLineEdit, QVBoxLayout, QWidget

from honest_edge.core.values.book_records import StockFacts, StockMove
from honest_edge.ui.rooms.book.bars_view import Bar, BarsView
from honest_edge.ui.rooms.book.ledger import Column, day_cell, number_cell, text_cell
from honest_edge.ui.rooms.book.section import Section
from honest_edge.ui.shared.note_dialog import AmountField, NoteDialog
from honest_edge.ui.shared.trial_words import found_setting, found_words
from honest_edge.ui.widgets.fields import (
    Choice,
    button,
    counted,
    greyed,
    label,
)
from honest_edge.ui.widgets.typed import Count
from honest_edge.ui.widgets.unwheeled import DropDown

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QPushButton

    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.found import Found
    from honest_edge.app.book.stock_rows import StockRow
    from honest_edge.ui.rooms.book.ledger import Cell

_MOVES = (
    ("bought", "bought"),
    ("counted", "counted, all there are"),
    ("spoiled", "spoiled"),
    ("used", "used otherwise"),
)
_LISTED = 8
_WEEK = 7.0


def _on_hand(row: StockRow) -> Cell:
    words, number = number_cell(row.level.sheets)
    return (f"▼ {words}" if row.level.should_buy else words), number


def _lasts(row: StockRow) -> Cell:
    days = row.level.days_left
    if days is None:
        return number_cell(None)
    return (counted(round(days / _WEEK), "week") if days >= 2 * _WEEK else counted(round(days), "day")), days


def _setting(row: StockRow) -> Cell:
    setting = row.setting
    if setting is None:
        return number_cell(None)
    return (found_setting(setting), setting.best) if setting.is_safe else ("▼ none safe", -1.0)


_PICK = "Pick one in the list first"
COLUMNS: tuple[Column[Any], ...] = (
    Column("Stock", lambda row: text_cell(row.name)),
    Column("On hand", _on_hand, is_figure=True, needs_a_look=lambda row: row.level.should_buy),
    Column("Lasts", _lasts, is_figure=True, needs_a_look=lambda row: row.level.should_buy),
    Column("A sheet costs", lambda row: number_cell(row.level.price, ".2f"), is_figure=True),
    Column(
        "Cuts clean at",
        _setting,
        is_figure=True,
        needs_a_look=lambda row: bool(row.setting and not row.setting.is_safe),
    ),
    Column("Remark", lambda row: text_cell(row.facts.remark)),
)


class StockSection(Section):
    """Shows the stocks, and keeps what comes, goes and is counted."""

    key, title, noun, search, columns = "stock", "Stock", "stock", "Search a stock", COLUMNS
    newest_first, beside_first = False, True
    filters = (
        ("to be bought", lambda row: row.level.should_buy),
        ("not counted", lambda row: row.level.sheets is None),
        ("without a setting", lambda row: row.setting is None or not row.setting.is_safe),
    )
    empty = (
        "No stock is known yet.\n\nWrite down what you buy, or count what is there: “Bought or counted…”.\nEvery run "
        "that is kept at Files then takes its sheets from it, and this page says when to buy again."
    )

    def look(self, desk: BookDesk, words: str, now_ms: int) -> Found[Any]:
        return desk.stock(words, now_ms)

    def sum_of(self, rows: Sequence[StockRow]) -> str:
        short = [row.name for row in rows if row.level.should_buy]
        return f"Time to buy: {', '.join(short)}" if short else "Enough of what was counted for two weeks"

    def tip(self, row: StockRow) -> str:
        return row.name if row.setting is None else f"{row.name}\n{found_words(row.setting)}"

    def ways_on(self) -> Sequence[QPushButton]:
        self._picked: StockRow | None = None
        self.move = button("Bought or counted…", self._ask_move, filled=True)
        self.describe = button("What is known of it…", self._ask_facts)
        greyed(self.describe, _PICK)
        self.compare = button("Compare driver choices…", self._compare)
        self.compare.setToolTip("Pages that print four fields on one sheet, each by another quality and paper kind")
        return self.move, self.describe, self.compare

    def beside(self) -> QWidget:
        widget = QWidget()
        column = QVBoxLayout(widget)
        column.setContentsMargins(0, 0, 0, 0)
        self.words, self.known = label("", "heading"), label("", "soft")
        self.bars = BarsView("Sheets of this stock", lambda: self.host.tokens)
        self.list = label("", "figures")
        for part in (self.words, self.known, self.bars, self.list):
            column.addWidget(part)
        column.addStretch(1)
        return widget

    def show_picked(self, row: StockRow | None) -> None:
        self._picked = row
        greyed(self.describe, "" if row is not None else _PICK)
        self.words.setText("" if row is None else _level_words(row))
        self.known.setText("" if row is None else _known_words(row))
        self.bars.show_bars(() if row is None else _bars(row))
        self.list.setText("" if row is None else "\n".join(_move_words(kept) for kept in row.moves[:_LISTED]))

    def act_on(self, row: StockRow) -> None:
        self._picked = row
        self._ask_move()

    # -- what is typed -------------------------------------------------------------------------------

    def _ask_move(self) -> None:
        stock = DropDown()
        stock.setEditable(True)
        stock.setAccessibleName("Stock")
        stock.addItems([profile.name for profile in self.host.profiles.all("stock")])
        here = self._picked.name if self._picked is not None else self.host.workspace.job.sheet.stock.name
        stock.setCurrentText(here)
        what, sheets = Choice("What happened", _MOVES), Count("Sheets", 0, 100_000)
        price, lot = AmountField("Price of a sheet"), QLineEdit()

        def make() -> StockMove:
            return StockMove(
                stock=stock.currentText().strip(),
                what=what.currentData(),
                sheets=sheets.value(),
                price=price.amount if what.currentData() == "bought" else None,
                lot=lot.text().strip(),
            )

        fields = (
            ("Stock", stock, ""),
            ("Sheets were", what, "A count stands for all that was before it."),
            ("How many", sheets, ""),
            ("Price of a sheet", price, "Left empty, it is not known; 0 is a price."),
            ("Lot", lot, "What stands on the pack, to find it again when one is bad."),
        )
        self._open(NoteDialog(self.host.table.window(), "Sheets that came or went", fields, make, self._keep_move))

    def _keep_move(self, move: StockMove) -> None:
        self._keep("MOVE", move)

    def _ask_facts(self) -> None:
        row = self._picked
        if row is None:
            return
        facts = row.facts
        hardness, drying = AmountField("Hardness", facts.hardness), AmountField("Drying time", facts.drying_min)
        laminate, remark, driver = (QLineEdit(text) for text in (facts.laminate, facts.remark, facts.driver))
        driver.setAccessibleName("Printer’s driver")
        driver.setPlaceholderText("best quality, matt photo paper")

        def make() -> StockFacts:
            return StockFacts(
                stock=row.name,
                hardness=hardness.amount,
                drying_min=drying.amount,
                laminate=laminate.text().strip(),
                remark=remark.text().strip(),
                driver=driver.text().strip(),
            )

        fields = (
            ("Hardness", hardness, "How many metres of paper one metre of it wears a blade like; empty counts as 1."),
            ("Ink dries in, minutes", drying, ""),
            ("Laminate", laminate, "What is laid over it."),
            (
                "Printer’s driver",
                driver,
                "Quality and paper kind for this stock; said when it is printed.",
            ),
            ("Remark", remark, ""),
        )
        keep = lambda made: self._keep("FACTS", made)  # noqa: E731
        self._open(NoteDialog(self.host.table.window(), row.name, fields, make, keep))

    def _compare(self) -> None:
        """Write the pages that compare ways to set the driver."""
        folder = QFileDialog.getExistingDirectory(self.host.table.window(), "Write the pages to")
        if not folder:
            return
        size_mm = self.host.workspace.job.sheet.size_mm

        def write(_desk: BookDesk, _now_ms: int) -> int:
            from honest_edge.files.atomic_write import write_set
            from honest_edge.files.write_compare import FIELDS, compare_page

            pages = {f"compare-{number}.pdf": compare_page(number, size_mm) for number in range(1, FIELDS + 1)}
            write_set(Path(folder), pages, replace=True)
            return len(pages)

        self.ask(
            write,
            lambda count: self.host.say(
                f"{count} pages are in {folder}. Feed one sheet {count} times, one page each, with the driver set "
                "another way each time; keep what looks best under “What is known of it…”.",
                tone="fine",
            ),
        )

    def _open(self, dialog: NoteDialog) -> None:
        self.dialog = dialog
        dialog.open()

    def _keep(self, kind: str, note: StockMove | StockFacts) -> None:
        def keep(desk: BookDesk, now_ms: int) -> bool:
            from honest_edge.files.book import records

            return desk.note([(getattr(records, kind), note)], now_ms)

        self.ask(keep, lambda _made_up: self.look_again())


def _level_words(row: StockRow) -> str:
    level = row.level
    if level.sheets is None:
        return "How many there are is not known: count them once."
    if level.sheets < 0:
        return f"{-level.sheets} more were used than ever came: count them."
    lasts = level.days_left
    return f"{counted(level.sheets, 'sheet')} on hand" + (
        "" if lasts is None else f", for {_lasts(row)[0]} at this rate"
    )


def _known_words(row: StockRow) -> str:
    facts = row.facts
    parts = [
        f"hardness {facts.hardness:g}" if facts.hardness is not None else "",
        f"dries in {facts.drying_min:g} min" if facts.drying_min is not None else "",
        f"laminate: {facts.laminate}" if facts.laminate else "",
        f"driver: {facts.driver}" if facts.driver else "",
        found_words(row.setting) if row.setting is not None else "No setting is known: a test cut finds one.",
    ]
    return "\n".join(part for part in parts if part)


def _bars(row: StockRow) -> list[Bar]:
    level = row.level
    bars = [] if level.sheets is None else [Bar("On hand", max(0, level.sheets), f"{level.sheets}")]
    bars.append(Bar("Used", level.used, f"{level.used}", Qt.BrushStyle.BDiagPattern))
    if level.spoiled:
        bars.append(Bar("Spoiled", level.spoiled, f"{level.spoiled}", Qt.BrushStyle.DiagCrossPattern))
    return bars


def _move_words(kept: Any) -> str:
    move = kept.record
    price = "" if move.price is None else f" at {move.price:.2f}"
    lot = f", lot {move.lot}" if move.lot else ""
    return f"{day_cell(kept.at_ms)[0]}  {move.what} {move.sheets}{price}{lot}"
