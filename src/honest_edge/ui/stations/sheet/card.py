"""A card of the Sheet station."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QVBoxLayout

from honest_edge.ui.station.host import Host
from honest_edge.ui.widgets.fields import label


class Card(QFrame):
    """A heading with room below it."""

    def __init__(self, host: Host, heading: str) -> None:
        super().__init__()
        self.host, self.workspace = host, host.workspace
        self.setProperty("card", "plain")
        self.inside = QVBoxLayout(self)
        self.inside.setContentsMargins(12, 10, 12, 12)
        self.inside.setSpacing(8)
        self.inside.addWidget(label(heading, "heading"))

    def refuse(self, text: str) -> None:
        """Say that something typed cannot be taken."""
        self.host.say(text, tone="danger")
