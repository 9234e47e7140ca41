"""The page of every step, with the numbers of this run."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from honest_edge.core.run.guide import Step
from honest_edge.ui.rooms.run.cut_pages import CutPages
from honest_edge.ui.rooms.run.keeper import RunKeeper
from honest_edge.ui.rooms.run.look_pages import LookPages
from honest_edge.ui.rooms.run.machine_pages import MachinePages
from honest_edge.ui.rooms.run.page import StepPage, Way
from honest_edge.ui.rooms.run.page_maker import ends
from honest_edge.ui.rooms.run.print_pages import PrintPages
from honest_edge.ui.rooms.run.printing import RunPrinting
from honest_edge.ui.rooms.run.words import countdown
from honest_edge.ui.rooms.run.wrong_pages import WrongPages

_CAN_STOP_AT = ("print rest", "dry", "laminate", "set", "load", "read", "pass")
"""Steps at which a run can end when enough is there, and what is left of it need not be cut."""


class Pages:
    """Makes the page of the step in hand."""

    def __init__(self, keeper: RunKeeper, printing: RunPrinting) -> None:
        printed, cut, looked = PrintPages(keeper, printing), CutPages(keeper), LookPages(keeper)
        self._keeper, self._wrong, self._machine = keeper, WrongPages(keeper), MachinePages(keeper)
        self._made: dict[str, Callable[[Step], StepPage]] = {
            "print first": printed.print_first,
            "measure": printed.measure,
            "print rest": printed.print_rest,
            "dry": printed.dry,
            "laminate": printed.laminate,
            "set": cut.set_cut,
            "load": cut.load,
            "read": cut.read,
            "proof": cut.proof,
            "look": looked.look,
            "pass": cut.cut,
            "cutting": cut.cutting,
            "take out": cut.take_out,
            "inspect": looked.inspect,
            "tally": looked.tally,
            "ended": looked.over,
        }

    def page(self, step: Step) -> StepPage:
        """Return what is shown now."""
        page = self._machine.page(step) or self._wrong.page(step) or self._made[step.key](step)
        tally = self._keeper.tally
        is_enough = tally is not None and bool(tally.sheets) and not tally.lacking
        if is_enough and step.key in _CAN_STOP_AT and not self._keeper.draft.stage:
            enough = Way(words="Enough are good: end here", act=lambda: self._keeper.do(ends("enough")))
            page = replace(page, ways=(enough, *page.ways))
        if not step.is_meanwhile:
            return page
        return replace(page, figures=(*page.figures, ("the cutter is done in", countdown(step.wait_s))))
