"""The answer: within what distance this bench holds, what that is made of, what is likely wrong, and ways on."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QGridLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from honest_edge.ui.rooms.bench.words import amount_of, way_of
from honest_edge.ui.shared.cause_bars import CauseBars
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.what_worked_words import ago
from honest_edge.ui.widgets.fields import button, card, counted, label, row, set_tone
from honest_edge.ui.widgets.layouts import scroll_downward
from honest_edge.ui.widgets.local import Label
from honest_edge.ui.widgets.theme import eased_px, figures, px, tabular

if TYPE_CHECKING:
    from honest_edge.app.bench.view import BenchView

WIDTH_PX = 380
_SHOWN_CAUSES, _SHOWN_FROM = 3, 0.01
_BAR_PX = 92


class AnswerPanel(QScrollArea):
    """Says how true one bench is."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__()
        self._host = host
        self.setFixedWidth(eased_px(WIDTH_PX))
        scroll_downward(self)
        self.setFrameShape(QFrame.Shape.NoFrame)
        inside = QWidget()
        self.column = QVBoxLayout(inside)
        self.column.setContentsMargins(px(16), px(14), px(16), px(14))
        self.column.setSpacing(px(8))
        self.setWidget(inside)
        asked = label(question)
        asked.setObjectName("question")
        self.answer = Label("–")
        self.answer.setObjectName("answer")
        self.answer.setFont(tabular(28))
        self.under = label("", "soft")
        for widget in (asked, self.answer, self.under):
            self.column.addWidget(widget)
        self.under.setMinimumHeight(2 * self.under.fontMetrics().lineSpacing())  # what follows stays where it is
        self.under.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.ways = QVBoxLayout()
        self.ways.setSpacing(px(6))
        self.column.addLayout(self.ways)  # above what a measurement adds: one can be pressed again at once
        self._build_assumed()
        self._build_parts()
        self._build_steady()
        self._build_causes()
        self.notes = label("", "soft")
        self.column.addWidget(self.notes)
        self.column.addStretch(1)

    def _build_assumed(self) -> None:
        self.assumed, inside = card("sand", topic="measuring")
        self.assumed_title, self.assumed_words = label("Assumed, not measured", "look"), label("")
        inside.addWidget(self.assumed_title)
        inside.addWidget(self.assumed_words)
        self.column.addWidget(self.assumed)

    def _build_parts(self) -> None:
        self.parts = QWidget()
        self._grid = QGridLayout(self.parts)
        self._grid.setContentsMargins(0, px(4), 0, px(4))
        self._grid.setVerticalSpacing(px(7))
        self._grid.setColumnStretch(0, 1)
        self._cells: list[tuple[QLabel, QLabel, QLabel]] = []
        for line in range(6):
            cells = Label(), Label(), label("", "soft")
            cells[1].setFont(figures(12))
            cells[1].setAlignment(Qt.AlignmentFlag.AlignRight)
            cells[2].setAlignment(Qt.AlignmentFlag.AlignRight)
            for place, cell in enumerate(cells):
                self._grid.addWidget(cell, line, place)
            self._cells.append(cells)
        self.column.addWidget(self.parts)

    def _build_steady(self) -> None:
        self.steady, inside = card("look", topic="bench")
        self.steady_title, self.steady_words = label("", "look"), label("")
        self.take_out = button("Take it out…", lambda: self.wants_take_out(), filled=True)
        self.wants_take_out: Callable[[], object] = lambda: None
        for widget in (self.steady_title, self.steady_words, self.take_out):
            inside.addWidget(widget)
        self.column.addWidget(self.steady)

    def _build_causes(self) -> None:
        self.causes = QWidget()
        inside = QVBoxLayout(self.causes)
        inside.setContentsMargins(0, px(4), 0, px(4))
        inside.setSpacing(px(5))
        heading = label("What is it?")
        heading.setObjectName("question")
        inside.addWidget(heading)
        self.bars = CauseBars(lambda: self._host.tokens)
        inside.addWidget(self.bars)
        self.remedies = label("", "soft")
        inside.addWidget(self.remedies)
        self.column.addWidget(self.causes)

    def add_ways(self, *widgets: QWidget) -> None:
        """Add a row of buttons."""
        self.ways.addLayout(row(*widgets))

    def show_view(self, view: BenchView, assumed_mm: float, *, is_practice: bool) -> None:
        """Show another bench, or another state of it."""
        length, now_ms = self._host.workspace.length, time.time_ns() // 1_000_000
        belief = view.known.belief
        is_measured = view.within_mm is not None and belief is not None
        within = assumed_mm if view.within_mm is None else view.within_mm
        self.answer.setText(f"within {length(within, 2)}")
        set_tone(self.under, "soft")
        if is_measured and belief is not None:
            when = ago(now_ms - (belief.newest_ms or now_ms))
            self.under.setText(
                f"19 times of 20, all over the sheet; measured on {counted(view.sheets, 'sheet')}, {when}"
            )
        else:
            self.under.setText("19 times of 20, as it was typed")
        self._show_assumed(view, is_practice=is_practice)
        self.parts.setVisible(is_measured)
        for cells, part in zip(self._cells, view.parts, strict=False):
            cells[0].setText(way_of(part.name, part.mean))
            cells[1].setText(amount_of(part.name, part.mean, length))
            known = part.give_or_take
            plain = "" if known is None else amount_of(part.name, known, length).split(" ")[0].rstrip("°")
            cells[2].setText(f"± {plain}" if plain else "")
        self._show_steady(view)
        self.causes.setVisible(bool(view.causes))
        self.bars.show_causes(tuple(c for c in view.causes[:_SHOWN_CAUSES] if c.probability >= _SHOWN_FROM))
        said = [f"· {words}" for words in view.remedies]
        if view.apart:
            said.append(f"To tell them apart: {view.apart}.")
        self.remedies.setText("\n".join(said))
        self.notes.setText("\n".join(view.notes))
        self.notes.setVisible(bool(view.notes))

    def _show_assumed(self, view: BenchView, *, is_practice: bool) -> None:
        self.assumed.setVisible(view.known.belief is None or is_practice)
        self.assumed_title.setText("Simulated: the practice bench" if is_practice else "Assumed, not measured")
        if is_practice:
            self.assumed_words.setText(
                "No printer and no cutter stand behind it: its error is made up, by assumptions."
            )
            return
        self.assumed_words.setText(
            "It was measured before, but its steady part changed since: measure one more target."
            if view.known.rows
            else "Print a target, cut it, then scan it, photograph it or read it: forecasts are then about your bench."
        )

    def _show_steady(self, view: BenchView) -> None:
        length = self._host.workspace.length
        moved = not view.known.correction.is_none
        self.steady.setVisible(view.known.belief is not None and (view.without_steady_mm is not None or moved))
        if moved:
            self.steady_title.setText("Cut files are moved for this bench")
            x, y = view.known.correction.shift_x_mm, view.known.correction.shift_y_mm
            across, down = (
                f"{length(abs(x), 2)} {way_of('shift_x_mm', x)}",
                f"{length(abs(y), 2)} {way_of('shift_y_mm', y)}",
            )
            self.steady_words.setText(f"By {across} and {down}, against the marks. One more target proves it.")
            self.take_out.setText("Change that…")
        elif view.without_steady_mm is not None:
            self.steady_title.setText("Most of it is the same on every sheet")
            self.steady_words.setText(f"Taken out, this bench would hold {length(view.without_steady_mm, 2)}.")
            self.take_out.setText("Take it out…")
