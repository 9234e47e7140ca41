"""The step in a window of its own, for a screen beside the cutter."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from honest_edge.ui.rooms.run.keeper import RunKeeper
from honest_edge.ui.rooms.run.step_view import StepView
from honest_edge.ui.widgets.tokens import Tokens


class OtherScreen(QWidget):
    """Shows what the room shows of the step, and takes what is pressed there."""

    def __init__(
        self, parent: QWidget, keeper: RunKeeper, tokens: Callable[[], Tokens], closed: Callable[[], object]
    ) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self.setWindowTitle("Run – Honest Edge")
        self.setObjectName("room")
        self._closed = closed
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.view = StepView(keeper, tokens)
        column.addWidget(self.view)
        self.resize(1024, 640)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        super().closeEvent(event)
        self._closed()
