"""The stories to choose from, and the free bench."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Sequence
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from honest_edge.ui.widgets.fields import (
    Choice,
    Form,
    button,
    card,
    label,
)
from honest_edge.ui.widgets.layouts import scroll_downward
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.tiles import Tile, TileGrid, heading
from honest_edge.ui.widgets.typed import Count

if TYPE_CHECKING:
    from honest_edge.app.practice.record import Progress
    from honest_edge.app.practice.stories import Story

_BESIDE_PX = 320


class StoryList(QScrollArea):
    """A tile a story, with how it went; beside them the free bench."""

    def __init__(self, question: str, begin: Callable[[str], object], begin_free: Callable[[int, int], object]) -> None:
        """Take what begins a story, and what begins a free bench by its number and level."""
        super().__init__()
        self._begin, self._begin_free = begin, begin_free
        self.setObjectName("startPage")
        scroll_downward(self)
        body = QWidget()
        body.setObjectName("startBody")
        across = QHBoxLayout(body)
        across.setContentsMargins(36, 22, 36, 22)
        across.setSpacing(36)
        column = QVBoxLayout()
        column.setSpacing(10)
        title = label(question)
        title.setObjectName("big")
        column.addWidget(title)
        words = "Twelve small stories, each with something wrong in it. Only printer, reader and cutter are simulated."
        column.addWidget(label(words, "soft"))
        self.tiles: dict[str, Tile] = {}
        self.grid = TileGrid(260)
        column.addWidget(self.grid)
        column.addStretch(1)
        across.addLayout(column, 1)
        across.addWidget(self._build_free())
        self.setWidget(body)

    def _build_free(self) -> QWidget:
        from honest_edge.app.practice.free_bench import LEVELS, MOST_SEED

        holder = QWidget()
        holder.setFixedWidth(px(_BESIDE_PX))
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(12)
        column.addWidget(heading("The free bench"))
        frame, inside = card(topic="practice")
        words = "Faults hidden by a number. The same number is the same bench, for you and for everybody else."
        inside.addWidget(label(words, "soft"))
        form = Form(control_px=150)
        self.level = Choice("Level", tuple((str(n), name) for n, (name, _, _) in enumerate(LEVELS, 1)))
        self.seed = Count("Number of the bench", 0, MOST_SEED)
        self.seed.show_value(secrets.randbelow(MOST_SEED + 1))
        form.add("Hidden", self.level)
        form.add("Its number", self.seed)
        inside.addWidget(form)
        self.free = button("Begin", lambda: self._begin_free(self.seed.value(), int(self.level.currentData())))
        inside.addWidget(self.free)
        column.addWidget(frame)
        self.free_words = label("", "soft")
        column.addWidget(self.free_words)
        column.addStretch(1)
        return holder

    def show_stories(self, stories: Sequence[tuple[Story, Progress]], free: str) -> None:
        """Show the stories and how each went; ``free`` says how the free benches went."""
        if not self.tiles:
            for story, _ in stories:
                self.tiles[story.key] = Tile(
                    story.title, "", partial(self._begin, story.key), high_px=0, words=story.tale
                )
            self.grid.show_tiles(list(self.tiles.values()))
        for story, progress in stories:
            self.tiles[story.key].show_detail(progress.words, is_done=progress.is_solved)
            self.tiles[story.key].setToolTip(f"{story.title}\n{story.tale}\n{progress.words}")
        self.free_words.setText(free)
