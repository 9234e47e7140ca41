"""The column of cards that every station has."""

from __future__ import annotations

from PyQt6.QtWidgets import QScrollArea, QVBoxLayout, QWidget

from honest_edge.app.edits.habits import HabitPart
from honest_edge.ui.shared.habit_line import HabitLine
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import label
from honest_edge.ui.widgets.help_mark import HelpMark
from honest_edge.ui.widgets.layouts import scroll_downward
from honest_edge.ui.widgets.local import Label
from honest_edge.ui.widgets.theme import px, tabular

WIDTH_PX = 300


class Panel(QScrollArea):
    """A question, its answer as the largest number in sight, and the decisions."""

    topic = ""
    """The handbook's page of it."""

    habit: HabitPart | None = None
    """What of it can be always so."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__()
        self.host, self.workspace = host, host.workspace
        self.setObjectName("cards")
        self.setFixedWidth(px(WIDTH_PX))
        scroll_downward(self)
        body = QWidget()
        body.setObjectName("cardsBody")
        self.column = QVBoxLayout(body)
        self.column.setContentsMargins(16, 18, 16, 14)
        self.column.setSpacing(12)
        self.question = label(question)
        self.question.setObjectName("question")
        self.column.addWidget(self.question)
        self.answer = Label("–")
        self.answer.setObjectName("answer")
        self.answer.setFont(tabular(28))
        self.column.addWidget(self.answer)
        self.under = label("", "soft")
        self.column.addWidget(self.under)
        self.together_note = label("", "fine")
        self.column.addWidget(self.together_note)
        self.together_note.hide()
        self.build()
        self.habit_line = None if self.habit is None else HabitLine(host, self.habit)
        if self.habit_line is not None:
            self.column.addWidget(self.habit_line)
        self.column.addStretch(1)
        self.setWidget(body)
        HelpMark(body, self.topic, down_px=17)

    def build(self) -> None:
        """Add the cards."""
        raise NotImplementedError

    def refresh(self) -> None:
        """Show the present job and what is known of it."""
        raise NotImplementedError

    def show_together(self) -> None:
        """Say where several designs are changed at once, and what is always so."""
        if self.habit_line is not None:
            self.habit_line.refresh()
        count = len(self.workspace.together)
        self.together_note.setVisible(count > 1)
        self.together_note.setText(f"{count} designs together: size, copies and edge change in all of them.")

    def refuse(self, text: str) -> None:
        """Say that something typed cannot be taken."""
        self.host.say(text, tone="danger")

    def show_missing(self) -> bool:
        """Say what is missing while there is nothing to show; return whether that was so."""
        if self.workspace.result is not None and self.workspace.error is None:
            return False
        self.answer.setText("–")
        if self.workspace.design is None:
            self.under.setText("Add a picture to begin: drop it on the window or press Ctrl+I.")
        else:
            self.under.setText(self.workspace.error or "Tracing …")
        return True
