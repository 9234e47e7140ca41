"""What the user has in hand at a step and has not said yet; every window that shows the run shows it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Literal

from honest_edge.core.values.run_events import BadReason, BadSticker, ProofVerdict, WayOff

if TYPE_CHECKING:
    from honest_edge.app.run.corner_squares import CornerTest
    from honest_edge.app.run.loaded_look import LoadedLook
    from honest_edge.app.run.print_looked import PrintLooked
    from honest_edge.app.run.trial import TrialTold

Stage = Literal["", "wrong", "side", "some", "again", "blade", "where", "lost", "give up", "apply", "corner"]
"""Which page stands in the place of the step: what went wrong, which side, which stickers are cut alone or again,
which blade, where a pass stopped, why a sheet is lost, whether the run is given up, how it is put on, test squares
in a corner."""


@dataclass(slots=True)
class Draft:
    """What is being said.

    Attributes:
        stage: the page in the place of the step.
        found: marks that were ticked.
        bad: stickers that were tapped.
        reason, side, wide_mm: what a tap says.
        verdict: how the proof looks.
        chosen: stickers that are to be cut alone.
        readings: what was typed of the ruler: across, down, ruler.
        setting: what the machine was set to.
        carrier: the name of the one that is laid on; empty for one without a name, None for the one advised.
        looked: what a picture of the sheet showed; None where none was looked at.
        print_looked: what a picture of the print showed; None where none was looked at.
        squares: test squares in a corner of the sheet; None where none are cut.
        first_clean, first_marked: which of them lifts first, and whose liner is marked first; -1 where not said.
        told: what a sheet on plain paper told; None where it was not measured yet.
        is_counted: a sheet on plain paper is looked at by eye instead.
        came_out: how many sheets came out of the printer; None for all.
        blade: what was typed of the new blade.
        way: where the machine is.
        corner, points, arms: how a pen's drawing came out: where its angle lies, where its arrow points, its arms.
    """

    stage: Stage = ""
    found: set[int] = field(default_factory=set)
    bad: dict[int, BadSticker] = field(default_factory=dict)
    reason: BadReason = "white rim"
    side: WayOff = ""
    wide_mm: float | None = None
    verdict: ProofVerdict = "white rim"
    chosen: set[int] = field(default_factory=set)
    readings: list[float | None] = field(default_factory=lambda: [None, None, None])
    setting: str | None = None
    carrier: str | None = None
    looked: LoadedLook | None = None
    print_looked: PrintLooked | None = None
    squares: CornerTest | None = None
    first_clean: int = -1
    first_marked: int = -1
    told: TrialTold | None = None
    is_counted: bool = False
    came_out: int | None = None
    blade: str = ""
    way: str = ""
    corner: str = ""
    points: str = ""
    arms: list[float | None] = field(default_factory=lambda: [None, None])

    def tap(self, copy: int) -> None:
        """Tap a sticker: it is bad, or good again."""
        if copy in self.bad:
            del self.bad[copy]
        else:
            self.bad[copy] = BadSticker(copy=copy, reason=self.reason, side=self.side, wide_mm=self.wide_mm)
