"""What the learner's hands do at the practice bench, and how long it takes."""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.core.values.errors import UsageError

LOWEST_FORCE, HIGHEST_FORCE, USUAL_FORCE = 10, 60, 30


@dataclass(frozen=True, slots=True, kw_only=True)
class Hands:
    """How a sheet is printed, laid down and cut; as it stands, everything is done the quick way.

    Attributes:
        at_full_size: the printer's dialog is set to print unscaled.
        lets_dry: the ink is given its time.
        tapes_marks: matt tape lies over the marks, and a hand shades them.
        loads_square: the sheet is laid against the carrier's corner.
        presses_down: it is pressed down to its edges, on a carrier that has tack.
        takes_new_blade: a new blade is put in before the cut.
        cuts_one_first: one sticker, far from the marks, is cut and looked at before the rest.
        force: of the blade, in the machine's own numbers.
    """

    at_full_size: bool = False
    lets_dry: bool = True
    tapes_marks: bool = False
    loads_square: bool = False
    presses_down: bool = False
    takes_new_blade: bool = False
    cuts_one_first: bool = False
    force: int = USUAL_FORCE

    def __post_init__(self) -> None:
        if not LOWEST_FORCE <= self.force <= HIGHEST_FORCE:
            raise UsageError(f"The practice cutter’s force goes from {LOWEST_FORCE} to {HIGHEST_FORCE}")

    @property
    def print_min(self) -> float:
        """Minutes of printing, and of drying where that is waited for; common practice, no published source."""
        return 3.0 + 20.0 * self.lets_dry

    @property
    def cut_min(self) -> float:
        """Minutes from laying the sheet down to its last cut; common practice, no published source."""
        care = 2.0 * self.tapes_marks + self.loads_square + self.presses_down
        return 5.0 + care + 4.0 * self.takes_new_blade + 2.0 * self.cuts_one_first


RULER_MIN, TRIAL_MIN, THROW_MIN = 1.0, 2.0, 0.5
"""Minutes of laying a ruler on a print, of a trial square at the sheet's edge, of throwing a print away."""
