"""A tool that draws on the table: what it leaves, and how it looks while it is drawn."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True, slots=True, kw_only=True)
class Tool:
    """One tool of a station.

    Attributes:
        name: what its station calls it in a recipe.
        shape: what is drawn: a straight line, a box, an oval in one, a closed loop, a place, or the stroke of a brush.
        tone: the theme's colour of it.
        word: what it is called.
        hint: what the hand does with it.
    """

    name: str
    shape: Literal["line", "box", "oval", "loop", "place", "brush"]
    tone: Literal["accent", "fine", "danger"] = "accent"
    word: str
    hint: str

    @property
    def has_two_ends(self) -> bool:
        """Whether only where it began and where it ends matter."""
        return self.shape in ("line", "box", "oval")
