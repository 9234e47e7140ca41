"""What one step shows: a title, its numbers, a drawing, one button, and a way to stop."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

Act = Callable[[], object]
Asks = Literal[
    "",
    "ruler",
    "marks",
    "look",
    "side",
    "bad",
    "some",
    "setting",
    "carrier",
    "squares",
    "printed",
    "blade",
    "way",
    "jog",
    "pen",
]
DrawingKind = Literal["plain", "ruler", "load", "marks", "proof", "corner", "cut", "inspect", "some", "pen", "pointer"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Drawn:
    """What is drawn of a sheet: which one, or which page of the layout, and what of it is pointed at."""

    sheet: int = 0
    page: int | None = None
    kind: DrawingKind = "plain"
    copy: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """A button: what it says, what it does, and what it waits for; "" where it can be pressed."""

    words: str
    act: Act
    waits_for: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class StepPage:
    """One page.

    Attributes:
        title: what to do, in a few words.
        under: how, in a sentence or two.
        figures: numbers with what each is, the large ones.
        asks: what is asked for beside the button.
        primary: the button that goes on.
        ways: other ways on, as few as can be.
        stop: what Escape does; None where there is nothing to stop.
        drawn: the drawing; None for none.
        caution: a heading and a sentence.
        has_files: whether what it cuts from lies in the run's folder, which is shown then.
    """

    title: str
    under: str = ""
    figures: tuple[tuple[str, str], ...] = ()
    asks: Asks = ""
    primary: Way | None = None
    ways: tuple[Way, ...] = field(default=())
    stop: Way | None = None
    drawn: Drawn | None = None
    caution: tuple[str, str] | None = None
    has_files: bool = False
