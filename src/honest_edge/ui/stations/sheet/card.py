"""A card of the Sheet station that folds."""

from __future__ import annotations

from honest_edge.ui.shared.fold import Fold
from honest_edge.ui.shared.host import Host


class Card(Fold):
    """A heading with what folds below it."""

    def __init__(self, host: Host, heading: str, *, topic: str, begins_open: bool = False) -> None:
        super().__init__(host, heading, topic=topic, begins_open=begins_open)
        self.host, self.workspace = host, host.workspace

    def refuse(self, text: str) -> None:
        """Say that something typed cannot be taken."""
        self.host.say(text, tone="danger")
