"""Blades: metres that each cut, and how many such blades are dull by now."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from honest_edge.core.values.book_records import BladeEvent, BladeNote
from honest_edge.core.values.errors import UsageError
from honest_edge.ui.rooms.book.bars_view import Bar, BarsView
from honest_edge.ui.rooms.book.ledger import Column, day_cell, number_cell, text_cell
from honest_edge.ui.rooms.book.section import Section
from honest_edge.ui.shared.note_dialog import AmountField, NoteDialog
from honest_edge.ui.widgets.fields import button, greyed, label

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QPushButton

    from honest_edge.app.book.blade_rows import BladeRow
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.found import Found
    from honest_edge.ui.rooms.book.ledger import Cell

_STATE = {None: "in use", "dull": "went dull", "changed early": "changed early", "fitted": "in use"}
_NO_LIFE = "No life is claimed before two of your blades went dull"


def _dull(row: BladeRow) -> Cell:
    if row.dull is None:
        return number_cell(None)
    words = f"{100 * row.dull.likely:.0f} %"
    return (f"▼ {words}" if row.needs_a_look else words), row.dull.likely


_PICK = "Pick one in the list first"
COLUMNS: tuple[Column[Any], ...] = (
    Column("Fitted", lambda row: day_cell(row.since_ms)),
    Column("Blade", lambda row: text_cell(row.name)),
    Column("Cut", lambda row: number_cell(row.all_m, ".1f", " m"), is_figure=True),
    Column("Dull by now", _dull, is_figure=True, needs_a_look=lambda row: row.needs_a_look),
    Column("State", lambda row: text_cell(_STATE[row.ended])),
)


class BladesSection(Section):
    """Shows the blades, and keeps when one is fitted, goes dull or is changed."""

    key, title, noun, search, columns = "blades", "Blades", "blade", "Search a blade or a stock", COLUMNS
    beside_first = True
    filters = (("in use", lambda row: row.ended is None), ("ended", lambda row: row.ended is not None))
    empty = (
        "No blade is known yet.\n\nGive yours a name: “New blade…”. Type it when a run is kept at Files, and its "
        "metres are counted here.\nOnce two of yours went dull, this page says how many are dull after so many metres."
    )

    def look(self, desk: BookDesk, words: str, now_ms: int) -> Found[Any]:
        return desk.blades(words, now_ms)

    def sum_of(self, rows: Sequence[BladeRow]) -> str:
        worn = [row.name for row in rows if row.needs_a_look]
        if worn:
            return f"Look at the edge of {', '.join(worn)} before it cuts on"
        noted = [row.name for row in rows if row.is_noted]
        if noted:
            return f"{', '.join(noted)} has cut so long that some such blades are dull"
        return f"{_NO_LIFE}." if rows and rows[0].dull is None else "None in use is likely dull"

    def tip(self, row: BladeRow) -> str:
        return f"{row.name}\n{_life_words(row)}"

    def ways_on(self) -> Sequence[QPushButton]:
        self._picked: BladeRow | None = None
        self.new = button("New blade…", self._ask_new, filled=True)
        self.dull = button("It is dull", lambda: self._end("dull"))
        self.changed = button("Changed early", lambda: self._end("changed early"))
        for way in (self.dull, self.changed):
            greyed(way, _PICK)
        return self.new, self.dull, self.changed

    def beside(self) -> QWidget:
        widget = QWidget()
        column = QVBoxLayout(widget)
        column.setContentsMargins(0, 0, 0, 0)
        self.words, self.life = label("", "heading"), label("", "soft")
        self.bars = BarsView("Metres by stock", lambda: self.host.tokens)
        for part in (self.words, self.life, self.bars):
            column.addWidget(part)
        column.addStretch(1)
        return widget

    def show_picked(self, row: BladeRow | None) -> None:
        self._picked = row
        for way in (self.dull, self.changed):
            greyed(way, _PICK if row is None else "This blade has come to its end already" if row.ended else "")
        self.words.setText("" if row is None else f"{row.name}: {row.all_m:.1f} m, {_STATE[row.ended]}")
        self.life.setText("" if row is None else _life_words(row))
        by_stock = [] if row is None else sorted(row.metres.items(), key=lambda pair: -pair[1])
        self.bars.show_bars([Bar(stock or "as typed", m, f"{m:.1f} m") for stock, m in by_stock if m > 0])

    def _ask_new(self) -> None:
        name, metres = QLineEdit(), AmountField("Metres that it cut before")

        def make() -> BladeNote:
            if not name.text().strip():
                raise UsageError("Name the blade: what you will call it when a run is kept")
            return BladeNote(blade=name.text().strip(), what="fitted", metres=metres.amount or 0.0)

        fields = (("Its name", name, ""), ("Metres that it cut before", metres, "Empty for a new one."))
        self.dialog = NoteDialog(self.host.table.window(), "A blade is fitted", fields, make, self._keep)
        self.dialog.open()

    def _end(self, what: BladeEvent) -> None:
        if self._picked is not None and self._picked.ended is None:
            self._keep(BladeNote(blade=self._picked.name, what=what))

    def _keep(self, note: BladeNote) -> None:
        def keep(desk: BookDesk, now_ms: int) -> bool:
            from honest_edge.files.book.records import BLADE

            return desk.note([(BLADE, note)], now_ms)

        self.ask(keep, lambda _made_up: self.look_again())


def _life_words(row: BladeRow) -> str:
    if row.dull is None:
        return f"{_NO_LIFE}; {row.dull_blades} did so far."
    low, high = 100 * row.dull.low, 100 * row.dull.high
    return (
        f"Of your blades, {100 * row.dull.likely:.0f} % are dull after so many metres: {low:.0f} to {high:.0f} % in 8 "
        f"of 10 cases, as {row.dull_blades} went dull so far."
    )
