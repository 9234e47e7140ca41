"""What the Sheet station knows beyond the job, and what its cards ask of it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Protocol

if TYPE_CHECKING:
    from honest_edge.app.edits.sheet_edits import SheetLimits
    from honest_edge.app.views.blade_path import BladePath
    from honest_edge.app.views.cut_comparison import CutComparison


@dataclass(slots=True)
class SheetState:
    """What is known of the sheets in hand.

    Attributes:
        limits: what limits the design in hand; None until that is found.
        better_found: how many better layouts a search has found so far; None while none is made.
        comparison: a cut file that is held against a sheet.
        follows_blade: whether the way of the blade is shown.
        blade: that way, over one sheet; None until it is found.
    """

    limits: SheetLimits | None = None
    better_found: int | None = None
    comparison: CutComparison | None = None
    follows_blade: bool = False
    blade: BladePath | None = None


class SheetActs(Protocol):
    """What the cards of the station ask it to do."""

    def look_for_better(self) -> None:
        """Look for better layouts until stopped."""

    def stop_looking(self) -> None:
        """Stop, and keep the best."""

    def turn_page(self, step: int) -> None:
        """Take another sheet in hand."""

    def follow_blade(self, on: bool) -> None:
        """Show the way of the blade, or no more."""

    def keep_as_used(self) -> None:
        """Keep the sheet in hand as partly used."""

    def start_fresh(self) -> None:
        """Forget what is used of the first sheet."""

    def release_pins(self) -> None:
        """Let the fit place all copies."""
