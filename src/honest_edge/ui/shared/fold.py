"""What is decided seldom folds under its name; whether it is open is remembered."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QSizePolicy, QToolButton, QVBoxLayout, QWidget

from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.help_mark import HelpMark


class Fold(QFrame):
    """A card, or a part of one, whose heading shows and hides the rest."""

    def __init__(self, host: Host, name: str, *, topic: str, begins_open: bool = False, is_card: bool = True) -> None:
        super().__init__()
        self._host, self._name, self._begins_open = host, name, begins_open
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        if is_card:
            HelpMark(self, topic, down_px=11)
            self.setProperty("card", "plain")
            column.setContentsMargins(12, 8, 12, 8)
        column.setSpacing(8)
        self.heading = QToolButton()
        self.heading.setText(name)
        self.heading.setProperty("fold", True)
        self.heading.setCheckable(True)
        self.heading.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        self.heading.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        column.addWidget(self.heading)
        self.body = QWidget()
        self.inside = QVBoxLayout(self.body)
        self.inside.setContentsMargins(0, 0, 0, 4)
        self.inside.setSpacing(8)
        column.addWidget(self.body)
        self._show((name in host.prefs.turned_cards.split("|")) != begins_open)
        self.heading.clicked.connect(self._turn)

    def _show(self, is_open: bool) -> None:
        self.heading.setChecked(is_open)
        self.heading.setArrowType(Qt.ArrowType.DownArrow if is_open else Qt.ArrowType.RightArrow)
        self.heading.setToolTip("Fold it away" if is_open else "Show it")
        self.body.setVisible(is_open)

    def open(self) -> None:
        """Show what is folded away."""
        if not self.heading.isChecked():
            self._show(True)

    def _turn(self, is_open: bool) -> None:
        self._show(is_open)
        names = {name for name in self._host.prefs.turned_cards.split("|") if name} - {self._name}
        kept = sorted(names | ({self._name} if is_open != self._begins_open else set()))
        self._host.set_prefs(replace(self._host.prefs, turned_cards="|".join(kept)))
