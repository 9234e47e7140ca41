"""What all makers of pages share."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from honest_edge.core.run.guide import Step
from honest_edge.core.values.run_events import Ended, EndReason, RunEvent
from honest_edge.ui.rooms.run.keeper import RunKeeper
from honest_edge.ui.rooms.run.page import Way
from honest_edge.ui.widgets.local import shown_length

if TYPE_CHECKING:
    from honest_edge.app.run.conductor import Conductor


class PageMaker:
    """Makes pages of the run that a keeper holds."""

    def __init__(self, keeper: RunKeeper) -> None:
        self.keeper = keeper

    @property
    def conductor(self) -> Conductor:
        """The run."""
        assert self.keeper.conductor is not None
        return self.keeper.conductor

    def stop(self) -> Way:
        """Return the way to what can be wrong."""
        return Way(words="Stop: something is wrong", act=lambda: self.keeper.turn(stage="wrong"))

    def length(self, length_mm: float) -> str:
        """Return a length in the unit of the window."""
        unit = self.keeper.host.workspace.unit
        return shown_length(length_mm, unit, digits=1 if unit == "mm" else None)

    def design_name(self, step: Step) -> str:
        """Return the name of the sticker that is the proof."""
        seal = self.conductor.seal
        copies = seal.pages[self.conductor.state.sheet(step.sheet).page].copies
        return f"“{seal.designs[copies[step.copy].design].name}”" if step.copy is not None else "One sticker"


def happens(event: RunEvent) -> Callable[[Conductor], object]:
    """Return what lets something happen."""
    return lambda conductor: conductor.happens(event)


def ends(reason: EndReason) -> Callable[[Conductor], object]:
    """Return what ends the run."""
    return lambda conductor: conductor.happens(Ended(reason=reason))
