"""Test cuts: which force or depth cuts a stock clean, found in few looks."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from honest_edge.core.values.book_records import value_name
from honest_edge.ui.rooms.book.curve_view import CurveView
from honest_edge.ui.rooms.book.ledger import Column, day_cell, text_cell
from honest_edge.ui.rooms.book.section import Section
from honest_edge.ui.shared.trial_words import LINES, found_setting, found_words, share_words
from honest_edge.ui.widgets.fields import button, counted, label, set_tone

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QPushButton

    from honest_edge.app.book.cut_trial import TrialState
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.found import CutFacts, Found
    from honest_edge.core.values.book_records import SettingFound
    from honest_edge.files.book.store import Kept
    from honest_edge.ui.rooms.book.ledger import Cell


def _window(kept: Kept[SettingFound]) -> Cell:
    record = kept.record
    if record.low is None or record.high is None:
        return "▼ none safe", -1.0
    return f"{value_name(record.low, record.names)} – {value_name(record.high, record.names)}", record.low


COLUMNS: tuple[Column[Any], ...] = (
    Column("When", lambda kept: day_cell(kept.at_ms)),
    Column("Stock", lambda kept: text_cell(kept.record.stock)),
    Column("Line", lambda kept: text_cell(dict(LINES)[kept.record.line])),
    Column("Setting", lambda kept: (found_setting(kept.record), kept.record.best), is_figure=True),
    Column("Window", _window, is_figure=True, needs_a_look=lambda kept: not kept.record.is_safe),
    Column("Clean", lambda kept: (share_words(kept.record.chance), kept.record.chance), is_figure=True),
)


class TestCutsSection(Section):
    """Shows what test cuts came to, with the curve of the picked one, and begins new ones."""

    key, title, noun, search, columns = "test cuts", "Test cuts", "setting", "Search stock, machine, blade", COLUMNS
    beside_first = True
    filters = (
        ("safe settings", lambda kept: kept.record.is_safe),
        ("none was safe", lambda kept: not kept.record.is_safe),
    )
    empty = (
        "No setting is known yet.\n\nA ladder is eight small squares, each with a force of its own, in a corner of a "
        "used sheet.\nTwo or three find the force that cuts a stock clean and leaves its liner whole: “New test cut…”."
    )

    def look(self, desk: BookDesk, words: str, now_ms: int) -> Found[Any]:
        return desk.settings(words, now_ms)

    def sum_of(self, rows: Sequence[Kept[SettingFound]]) -> str:
        stocks = len({kept.record.stock for kept in rows if kept.record.is_safe})
        return f"{stocks} of {len({kept.record.stock for kept in rows})} stocks have a setting that can be trusted"

    def tip(self, row: Kept[SettingFound]) -> str:
        record = row.record
        parts = (record.stock, record.machine, record.blade, counted(record.looks, "ladder"))
        return f"{', '.join(part for part in parts if part)}\n{found_words(record)}"

    def ways_on(self) -> Sequence[QPushButton]:
        self.new = button("New test cut…", self._begin, filled=True)
        return (self.new,)

    def beside(self) -> QWidget:
        widget = QWidget()
        column = QVBoxLayout(widget)
        column.setContentsMargins(0, 0, 0, 0)
        self.words = label("", "heading")
        self.blade = label("", "soft")
        self.curve = CurveView(lambda: self.host.tokens)
        for part in (self.words, self.blade):
            column.addWidget(part)
        column.addWidget(self.curve, 1)
        return widget

    def show_picked(self, row: Kept[SettingFound] | None) -> None:
        self.curve.show_state(None)
        self.words.setText("" if row is None else found_words(row.record))
        self.blade.setText("" if row is None else self.tip(row).split("\n")[0])
        if row is None:
            return
        set_tone(self.words, "fine" if row.record.is_safe else "look")
        session = row.record.session

        def read(desk: BookDesk, now_ms: int) -> TrialState | None:
            from honest_edge.app.book.cut_trial import state_of, trial_of

            looks = desk.looks_of(session, now_ms)
            return state_of(trial_of(looks)) if looks else None

        self.read(read, self.curve.show_state)

    def _begin(self) -> None:
        self.ask(lambda desk, now_ms: desk.cut_facts(now_ms), self._open)

    def _open(self, known: CutFacts) -> None:
        from honest_edge.ui.rooms.book.trial_dialog import TrialDialog

        self.dialog = TrialDialog(self.host, self.ask, known, self.look_again)
        self.dialog.open()
