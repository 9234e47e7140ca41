"""One part of the Book as it is shown: its ledger, what is beside it, and what is said while it is empty."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QStackedLayout, QWidget

from honest_edge.ui.rooms.book.ledger import Ledger, LedgerModel
from honest_edge.ui.rooms.book.section import Section
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import label
from honest_edge.ui.widgets.layouts import scrolled
from honest_edge.ui.widgets.theme import px


class Page(QWidget):
    """Shows one part."""

    def __init__(self, section: Section, host: Host) -> None:
        super().__init__()
        self.section = section
        model: LedgerModel[Any] = LedgerModel(section.columns, section.tip, lambda: host.tokens)
        self.ledger: Ledger[Any] = Ledger(
            section.title, model, newest_first=section.newest_first, row_px=section.row_px
        )
        self.empty = label(section.empty, "soft")
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.ways = tuple(section.ways_on())
        full = QWidget()
        across = QHBoxLayout(full)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(px(20))
        across.addWidget(self.ledger, 2)
        beside = section.beside()
        if beside is not None:
            across.addWidget(scrolled(beside), 1)
        self._stack = QStackedLayout(self)
        self._full = full
        self._stack.addWidget(full)
        self._stack.addWidget(self.empty)
        self.ledger.picked_changed.connect(self._on_picked)
        self.ledger.doubleClicked.connect(lambda _index: section.act_on(self.ledger.picked))

    def show_rows(self, rows: Sequence[Any], words: str, *, is_narrowed: bool) -> None:
        """Show what was found for some words; where all of it was asked for and nothing is there, what fills it."""
        self.ledger.rows.show_rows(rows)
        self._stack.setCurrentWidget(self._full if rows else self.empty)
        nothing = (
            f"No {self.section.noun} has “{words}” in it." if words else f"No {self.section.noun} is of that kind."
        )
        self.empty.setText(nothing if is_narrowed else self.section.empty)
        if rows and self.section.beside_first:
            self.ledger.pick(0)
        self._on_picked()

    def _on_picked(self) -> None:
        self.section.show_picked(self.ledger.picked)
