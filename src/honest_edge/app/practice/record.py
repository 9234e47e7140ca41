"""What of practice the Book knows, put together by story."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from honest_edge.core.values.practice_notes import Practised


@dataclass(frozen=True, slots=True, kw_only=True)
class Progress:
    """How a story went so far.

    Attributes:
        tries: how often it was played.
        is_solved: whether it ever was.
        lost, minutes: of the best try that solved it, fewest sheets first.
    """

    tries: int = 0
    is_solved: bool = False
    lost: int = 0
    minutes: float = 0.0

    @property
    def words(self) -> str:
        """How it went, in a few words."""
        if not self.tries:
            return "not tried yet"
        if not self.is_solved:
            return f"tried {'once' if self.tries == 1 else f'{self.tries} times'}, not solved"
        sheets = "no sheet lost" if not self.lost else "1 sheet lost" if self.lost == 1 else f"{self.lost} sheets lost"
        return f"solved: {sheets}, {self.minutes:.0f} min"


def progress_of(notes: Iterable[Practised], story: str) -> Progress:
    """Return how a story went."""
    played = [note for note in notes if note.story == story]
    solved = sorted((note.lost, note.minutes) for note in played if note.is_solved)
    if not solved:
        return Progress(tries=len(played))
    return Progress(tries=len(played), is_solved=True, lost=solved[0][0], minutes=solved[0][1])
