"""One line that says what is wrong or what was done, with at most two ways on."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton

from honest_edge.core.values.job import Job
from honest_edge.ui.widgets.fields import button, label, set_tone

Action = tuple[str, Callable[[], object]]


class MessageBar(QFrame):
    """Hidden while there is nothing to say; never a dialog, never in the way."""

    said = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setProperty("card", "sand")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(14, 8, 8, 8)
        self.message = label()
        self.message.setAccessibleName("Message")
        layout.addWidget(self.message, 1)
        self._actions: list[QPushButton] = []
        self._job: Job | None = None
        self._shown: tuple[str, str, Sequence[Action]] = ("", "", ())
        self._layout = layout
        layout.addWidget(button("Close", self.hide))
        self.hide()

    def outdate(self, job: Job) -> None:
        """Hide what was said of another job: it is no longer so."""
        if self._job is not None and self._job != job:
            self.hide()

    def forget_refusal(self) -> None:
        """Hide why something typed was refused: the hand has gone on."""
        if self.is_urgent:
            self.hide()

    @property
    def is_urgent(self) -> bool:
        """Whether an error stands here, which nothing of less weight may replace."""
        return self.isVisible() and self.message.property("tone") == "danger"

    def set_aside(self) -> Callable[[], None]:
        """Return what brings back the message that stands here; it hides the bar where there is none."""
        if self.isHidden():
            return self.hide
        (text, tone, actions), job = self._shown, self._job
        return lambda: self.say(text, tone=tone, actions=actions, job=job)

    def say(self, text: str, *, tone: str = "", actions: Sequence[Action] = (), job: Job | None = None) -> None:
        """Show a message, true of a job or of any; an earlier one goes."""
        self._job, self._shown = job, (text, tone, actions)
        for old in self._actions:
            self._layout.removeWidget(old)
            old.deleteLater()
        self._actions = []
        set_tone(self.message, tone)
        self.message.setText(text)
        for place, (name, act) in enumerate(actions, 1):
            way_button = button(name, self.hide)
            way_button.clicked.connect(lambda _checked, act=act: act())
            self._layout.insertWidget(place, way_button)
            self._actions.append(way_button)
        self.show()
        self.said.emit()
