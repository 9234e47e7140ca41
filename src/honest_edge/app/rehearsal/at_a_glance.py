"""One honest sentence of a whole job: how many on how many sheets, how many of them clean, what is to be looked at."""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.app.rehearsal.expected import expected_share
from honest_edge.app.rehearsal.stage import staged
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.progress import IsCancelled, never
from honest_edge.core.proof import register
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.findings import Finding

_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


@dataclass(frozen=True, slots=True, kw_only=True)
class Glance:
    """A job at a glance.

    Attributes:
        words: the sentence.
        blocks: what keeps it from being written; None where nothing does.
        offer: what one press mends or makes of the art; None where nothing is offered.
        share_clean: of all stickers that are printed; None where nothing is printed, or nothing laid out.
        to_look_at: how many things are found that matter.
    """

    words: str
    blocks: Finding | None = None
    offer: Finding | None = None
    share_clean: float | None = None
    to_look_at: int = 0


def at_a_glance(overview: Overview, *, cancelled: IsCancelled = never) -> Glance:
    """Return a job at a glance.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    open_findings = [one for one in overview.every_finding if one.severity != "note" and not one.left]
    blocking = [one for one in open_findings if one.severity == "blocks" or one.holds]
    # what fits nowhere comes first
    blocks = min(blocking, key=lambda one: not register.LAYOUT.is_of(one), default=None)
    offer = _offer(overview, blocks)
    if overview.plan is None or blocks is not None:
        words = overview.why_no_plan if blocks is None else overview.named(blocks)
        return Glance(words=words, blocks=blocks, offer=offer, to_look_at=len(open_findings))
    share = _share(overview, cancelled)
    sheets, copies = len(overview.plan.pages), overview.plan.copies
    laid = f"{copies} on {_number(sheets)} sheet{'s' if sheets > 1 else ''}"
    clean = "" if share is None else f", {_percent(share)} clean {_known_by(overview)}"
    things = (
        f"{len(open_findings)} thing{'s' if len(open_findings) > 1 else ''} to look at"
        if open_findings
        else "nothing to look at"
    )
    return Glance(words=f"{laid}{clean}; {things}.", offer=offer, share_clean=share, to_look_at=len(open_findings))


def _offer(overview: Overview, blocks: Finding | None) -> Finding | None:
    """Return what blocks, else what the art itself asks for, else the first thing to look at, as far as a press mends.

    What lies apart is never joined unasked.
    """
    open_ones = [one for one in overview.every_finding if not one.left and one.fix and not one.fix.visit]
    of_art = [one for one in open_ones if register.GROUND.is_of(one) or register.SHADED.is_of(one)]
    others = [one for one in open_ones if one.severity == "look" and not register.PARTS.is_of(one)]
    wanted = [*([] if blocks is None else [blocks]), *of_art, *others]
    return wanted[0] if wanted and wanted[0] in open_ones else None


def _share(overview: Overview, cancelled: IsCancelled) -> float | None:
    try:
        return expected_share(overview, staged(overview), cancelled=cancelled).share
    except BlockedError:
        return None  # nothing of it is printed


def _known_by(overview: Overview) -> str:
    """Return what the share rests on: an assumption is never told as if it were measured."""
    job = overview.job
    if job.error is not None:
        return "with the errors that were typed"
    if job.measured_bench is not None:
        return "on your bench"
    return "as assumed (this bench was not measured yet)"


def _percent(share: float) -> str:
    """Return a share in whole percent; all and none are said only of all and none."""
    percent = round(100 * share)
    if percent == 100 and share < 0.9995:
        return "over 99 %"
    return "under 1 %" if percent == 0 and share > 0.0005 else f"{percent} %"


def _number(number: int) -> str:
    return _NUMBERS[number] if number < len(_NUMBERS) else str(number)
