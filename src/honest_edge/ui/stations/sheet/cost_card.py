"""What a piece of the job in hand will cost."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt

from honest_edge.ui.shared.cost_words import cost_words
from honest_edge.ui.shared.host import Host
from honest_edge.ui.stations.sheet.card import Card
from honest_edge.ui.widgets.fields import button, label
from honest_edge.ui.widgets.theme import px

if TYPE_CHECKING:
    from honest_edge.core.workshop.cost import PieceCost

_LINES_PX = 50


class CostCard(Card):
    """One sentence, and where prices are typed."""

    def __init__(self, host: Host) -> None:
        super().__init__(host, "What a piece costs", topic="costs", begins_open=True)
        self.words = label("–", "soft")
        self.words.setMinimumHeight(px(_LINES_PX))  # what comes later moves nothing
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.inside.addWidget(self.words)
        self.inside.addWidget(button("Prices are in the Book", lambda: host.go_to("book:runs"), link=True))

    def show_cost(self, cost: PieceCost | None) -> None:
        """Show what a piece costs if all come out good; None where nothing is laid out."""
        self.words.setText("–" if cost is None else f"If every piece comes out good: {_lowered(cost_words(cost))}")


def _lowered(sentence: str) -> str:
    return sentence[:1].lower() + sentence[1:]
