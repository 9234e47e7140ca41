"""The column of cards that every station has."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QScrollArea, QVBoxLayout, QWidget

from honest_edge.app.overview import Station
from honest_edge.ui.desk import Desk
from honest_edge.ui.fields import label
from honest_edge.ui.path_bar import QUESTION

WIDTH_PX = 300


class Panel(QScrollArea):
    """A question, its answer as the largest number in sight, and the decisions."""

    station: Station

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setObjectName("cards")
        self.setFixedWidth(WIDTH_PX)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        body = QWidget()
        body.setObjectName("cardsBody")
        self.column = QVBoxLayout(body)
        self.column.setContentsMargins(16, 18, 16, 14)
        self.column.setSpacing(12)
        question = label(QUESTION[self.station])
        question.setObjectName("question")
        self.column.addWidget(question)
        self.answer = QLabel("–")
        self.answer.setObjectName("answer")
        self.column.addWidget(self.answer)
        self.under = label("", "soft")
        self.column.addWidget(self.under)
        self.build()
        self.column.addStretch(1)
        self.setWidget(body)

    def build(self) -> None:
        """Add the cards."""
        raise NotImplementedError

    def refresh(self) -> None:
        """Show the present job and what is known of it."""
        raise NotImplementedError

    def show_missing(self) -> bool:
        """Say what is missing while there is nothing to show; return whether that was so."""
        if self.desk.result is not None and self.desk.error is None:
            return False
        self.answer.setText("–")
        if self.desk.design is None:
            self.under.setText("Add a picture to begin: drop it on the window or press Ctrl+I.")
        else:
            self.under.setText(self.desk.error or "Tracing …")
        return True
