"""Pages for a machine that is spoken to directly: its way, the pen, the marks by keys, the cut and what stopped it."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from honest_edge.core.run.guide import Step, pass_name
from honest_edge.core.sheet.marks import aims_of
from honest_edge.core.values import cautions
from honest_edge.core.values.run_events import Aligned, CutBegun, CutDone, LinesCut, Moved, ProofBegun, ProofCut
from honest_edge.ui.rooms.run.page import Drawn, StepPage, Way
from honest_edge.ui.rooms.run.page_maker import PageMaker, happens
from honest_edge.ui.widgets.fields import counted
from honest_edge.ui.widgets.local import shown_length

if TYPE_CHECKING:
    from honest_edge.ui.rooms.run.at_machine import AtMachine
    from honest_edge.ui.rooms.run.keeper import RunKeeper

_APART_MM = 5.0  # marks lie farther from each other
_MOST_OFFERED = 4  # lines of which it is not known whether they were cut
_CUTS = ("proof", "pass", "cutting")
_TRIED = "The maker’s manual comes first; all of this was tried on the simulated cutter alone."


class MachinePages(PageMaker):
    """What is done at such a machine."""

    def __init__(self, keeper: RunKeeper) -> None:
        super().__init__(keeper)
        self.at.cut_ended.connect(self._ended)

    @property
    def at(self) -> AtMachine:
        """The machine."""
        return self.keeper.machine

    def page(self, step: Step) -> StepPage | None:
        """Return the page of a step that is done at the machine; None where it is done otherwise."""
        if self.at.cutting is not None:
            return self._cutting(self.at.cutting)
        if self.keeper.draft.stage or not self.at.is_wanted(self.conductor):
            return None
        if step.key == "read":
            return self._opening(step) or self._untried(step) or self._marks(step)
        if step.key not in _CUTS or not self.conductor.state.sheet(step.sheet).places:
            return None
        if step.key == "cutting" or self.at.is_untold(step):
            return self._lost_sight(step)
        return self._opening(step) or self._cut(step)

    def _page(self, step: Step, title: str, under: str, **more: object) -> StepPage:
        more.setdefault("stop", self.stop())
        more.setdefault("drawn", Drawn(sheet=step.sheet, kind="marks"))
        return StepPage(title=title, under=under, caution=cautions.DIRECT, **more)  # type: ignore[arg-type]

    def _fine(self, length_mm: float) -> str:
        """Return a length as finely as the pointer moves."""
        unit = self.keeper.host.workspace.unit
        return shown_length(length_mm, unit, digits=2 if unit == "mm" else 3)

    # -- the way and the pen -----------------------------------------------------------------------------

    def _opening(self, step: Step) -> StepPage | None:
        at, machine = self.at, self.at.machine_of(self.conductor)
        if at.name:
            return None
        to = self.keeper.draft.way or self.keeper.host.prefs.cut_to

        def by_itself() -> None:
            at.is_by_itself = True
            self.keeper.changed.emit()

        if self.keeper.is_practice:
            return self._page(
                step,
                "Switch the practice cutter on",
                "It stands in for a machine of this language, behind a port of this computer. Nothing moves yet.",
                primary=Way(
                    words="Switch it on: nothing moves",
                    act=partial(at.switch_on, self.conductor),
                    waits_for="It is being switched on" if at.is_opening else "",
                ),
                ways=(Way(words="Let the practice reader look instead", act=by_itself),),
            )
        return self._page(
            step,
            f"Open the way to “{machine.name}”",
            f"Nothing moves yet. Switch it on, its blade up over the corner where its numbers begin. {_TRIED}",
            asks="way",
            primary=Way(
                words="Open it: nothing moves",
                act=lambda: at.open(self.keeper.draft.way or self.keeper.host.prefs.cut_to, machine),
                waits_for="It is being opened" if at.is_opening else "" if to else "Say where the machine is first",
            ),
            ways=(Way(words="Send the files by its own means", act=by_itself),),
        )

    def _untried(self, step: Step) -> StepPage | None:
        at, machine = self.at, self.at.machine_of(self.conductor)
        if machine.direct.is_tried:
            return None
        if at.is_drawing:
            drawn = Drawn(sheet=step.sheet, kind="pen")
            stop = Way(words="Stop at once", act=at.stop)
            return self._page(step, "It draws …", "Escape stops it.", stop=stop, drawn=drawn)
        if not at.pen_is_done:
            return self._page(
                step,
                "It was never tried: let it draw with a pen first",
                "Put a pen in the place of the blade and plain paper under it. It draws an angle, an arrow and a "
                "cross, within 10 to 130 mm of its corner both ways. Nothing is cut until you say how they came out.",
                primary=Way(words="Draw: the pen moves", act=lambda: at.draw_with_pen(self.conductor)),
                drawn=Drawn(sheet=step.sheet, kind="pen"),
            )
        draft = self.keeper.draft
        is_said = draft.corner and draft.points and None not in draft.arms
        return self._page(
            step,
            "How did the drawing come out?",
            "Seen from where you stand before the machine. Measure the two arms of the cross with a ruler.",
            asks="pen",
            drawn=Drawn(sheet=step.sheet, kind="pen"),
            primary=Way(
                words="That is how it draws",
                act=partial(at.keep_axes, self.conductor, draft),
                waits_for="" if is_said else "Say all four first",
            ),
            ways=(Way(words="Draw it again", act=lambda: at.draw_with_pen(self.conductor)),),
        )

    # -- the marks ---------------------------------------------------------------------------------------

    def _marks(self, step: Step) -> StepPage:
        at, seal = self.at, self.conductor.seal
        aims = aims_of(seal.sheet)
        mark = next((number for number in range(len(aims)) if number not in at.places), None)
        self.keeper.draft.found = set(at.places)
        if mark is None:
            return self._aligned(step)
        from honest_edge.app.run.at_machine import likely_place

        point = "the middle" if seal.sheet.marks.kind in ("four discs", "four squares") else "the outer corner"
        likely = likely_place(seal, at.listed(), mark)
        ways = []
        if likely is not None:
            there = "" if math.dist(likely, at.at_mm) > _APART_MM else "It is about there"
            ways.append(Way(words="Travel to about there", act=partial(at.go, likely), waits_for=there))
        if at.places:
            last = max(at.places)
            ways.append(self._find_again(last, aims[last][0]))
        return self._page(
            step,
            f"Bring the pointer over the {aims[mark][0]} mark, {mark + 1} of {len(aims)}",
            f"By the arrow keys, the blade up, until it stands over {point} of the mark; + and - change the step.",
            figures=(("across", self._fine(at.at_mm[0])), ("along", self._fine(at.at_mm[1]))),
            drawn=Drawn(sheet=step.sheet, kind="pointer" if self.keeper.is_practice else "marks"),
            asks="jog",
            primary=Way(
                words="It stands over it",
                act=partial(at.take_mark, mark, self.conductor, len(aims), self._hand()[0]),
                waits_for=self._why_not_there(),
            ),
            ways=tuple(ways),
        )

    def _hand(self) -> tuple[float, int]:
        """Return how well the user's hand finds marks here, in mm, and by how many sheets that is known."""
        known = self.keeper.known
        assert known is not None  # a run is in hand
        return known.hand_mm, known.found

    def _why_not_there(self) -> str:
        """Return why the pointer cannot stand over the mark in hand: a key pressed once too often takes none."""
        at = self.at
        if at.is_moving:
            return "It still moves"
        if not at.has_moved or any(math.dist(at.at_mm, place) < _APART_MM for place in at.places.values()):
            return "Move the pointer over it first"
        return ""

    def _find_again(self, mark: int, name: str) -> Way:
        return Way(words=f"Find the {name} mark again", act=partial(self.at.forget_mark, mark))

    def _aligned(self, step: Step) -> StepPage:
        aligned = self.at.aligned
        if aligned is None:
            return self._page(step, "Reckoning how the sheet lies …", "")
        seat, aims = aligned.found, aims_of(self.conductor.seal.sheet)
        bears = self.length(self.conductor.seal.bears_mm)
        known, share = self._hand()[1], f"{100 * aligned.share:.0f} %"
        by = f", and by {counted(known, 'sheet')} that you found before" if known else ""
        under = (
            f"This art bears {bears}; by how the marks agree{by}, the cut stays within that at {share} of the places "
            f"of the sheet. The error is below {self._fine(seat.within_mm)}, 19 times of 20."
        )
        names = [name for name, _, _ in aims]
        if seat.doubtful:
            off = self._fine(seat.left_over_mm[seat.doubtful])
            under = f"The {seat.doubtful} mark lies {off} from where the others say it does. {under}"
        again = tuple(self._find_again(mark, name) for mark, name in enumerate(names))
        go_on = Way(words="Take it: go on to the cut", act=partial(self._take_sheet, step))
        if seat.doubtful:
            doubted = names.index(seat.doubtful)
            as_it_is, others = replace(go_on, words="Take it as it is"), again[:doubted] + again[doubted + 1 :]
            go_on, again = again[doubted], (as_it_is, *others)
        return self._page(
            step,
            f"Sheet {step.sheet} is found",
            under,
            figures=(("will remain, about", self._fine(seat.remaining_mm)),),
            primary=go_on,
            ways=again,
        )

    def _take_sheet(self, step: Step) -> None:
        if self.keeper.do(happens(Aligned(sheet=step.sheet, places=self.at.listed()))):
            self.at.take_sheet()
            self.keeper.changed.emit()

    # -- cutting -----------------------------------------------------------------------------------------

    def _begin(self, step: Step, first: int) -> None:
        sheet = self.conductor.state.sheet(step.sheet)
        event = CutBegun(sheet=step.sheet) if step.key == "pass" else None
        if step.key == "proof" and sheet.proof != "under way":
            event = ProofBegun(sheet=step.sheet, copy=step.copy or 0)  # type: ignore[assignment]
        ready = self.at.ready
        if event is None or self.keeper.do(happens(event)):
            self.at.ready = ready
            self.at.cut(step, first)

    def _cut(self, step: Step) -> StepPage:
        at, sheet = self.at, self.conductor.state.sheet(step.sheet)
        at.make_ready(self.conductor, step)
        ready = at.ready if at.ready is not None and at.ready.step == step else None
        what = "the proof sticker" if step.key == "proof" else pass_name(self.conductor.seal, sheet, step.cut_pass)
        drawn = Drawn(sheet=step.sheet, kind="proof" if step.key == "proof" else "cut", copy=step.copy)
        if ready is None:
            wait = Way(words="Cut now", act=lambda: None, waits_for="Its lines are not found yet")
            under = at.why_unready or "Finding its lines …"
            return self._page(step, f"Cut sheet {step.sheet}: {what}", under, primary=wait, drawn=drawn)
        left, bottom, right, top = (self.length(edge) for edge in ready.box_mm)
        x, y = (self.length(place) for place in ready.to_mm)
        under = (
            f"The blade travels, lifted, to {x}, {y} from the corner, then cuts within {left} to {right} across "
            f"and {bottom} to {top} along. Clear its way. Space pauses after a line, Escape stops at once."
        )
        if sheet.lines_done or sheet.lines_perhaps:
            return self._go_on(step, f"Go on with sheet {step.sheet}: {what}", under, len(ready.lines))
        primary = Way(words="Cut now", act=partial(self._begin, step, 0))
        return self._page(step, f"Cut sheet {step.sheet}: {what}", under, primary=primary, drawn=drawn)

    def _go_on(self, step: Step, title: str, under: str, whole: int) -> StepPage:
        """Return the page after a pause or a stop: on from the first line that is not cut, or after those that are."""
        sheet = self.conductor.state.sheet(step.sheet)
        done, after = sheet.lines_done, sheet.lines_done + sheet.lines_perhaps
        said, ways = f"{done} of {whole} lines are surely cut", []
        if after > done:
            said += f", {counted(after - done, 'more line')} perhaps: look which the sheet shows whole"
            for first in sorted({*range(done + 1, min(after, done + _MOST_OFFERED)), after}):
                is_all = first == whole
                act = partial(self._all_is_cut, step) if is_all else partial(self._begin, step, first)
                ways.append(Way(words="All of it is cut" if is_all else f"Go on from line {first + 1}", act=act))
        primary = Way(words=f"Go on from line {done + 1}", act=partial(self._begin, step, done))
        if done >= whole:
            primary = Way(words="All of it is cut", act=partial(self._all_is_cut, step))
        again = happens(Moved(sheet=step.sheet))
        ways.append(Way(words="It moved: find the marks again", act=lambda: self.keeper.do(again)))
        drawn = Drawn(sheet=step.sheet, kind="proof" if step.key == "proof" else "cut", copy=step.copy)
        return self._page(step, title, f"{said}. {under}", primary=primary, ways=tuple(ways), drawn=drawn)

    def _all_is_cut(self, step: Step) -> None:
        number = step.sheet
        if step.key == "proof":
            self.keeper.do(happens(ProofCut(sheet=number)))
        else:
            self.keeper.do(happens(CutBegun(sheet=number)), happens(CutDone(sheet=number)))

    def _cutting(self, step: Step) -> StepPage:
        at = self.at
        drawn = Drawn(sheet=step.sheet, kind="proof" if step.key == "proof" else "cut", copy=step.copy)
        if at.is_sent:
            return self._page(
                step,
                f"All lines of sheet {step.sheet} are sent",
                "This language tells nothing back: wait until the machine stands still.",
                primary=Way(words="It stands still: all is cut", act=at.has_stood_still),
                stop=Way(words="It went wrong", act=at.went_wrong),
                drawn=drawn,
            )
        told = "what it answers" if at.is_answered else "what was sent: nothing tells what is cut"
        title, under = f"Sheet {step.sheet} is being cut", "Stay near: what slips or tears shows now."
        if at.waits_for:
            title, under = f"The machine waits: {at.waits_for}", "It goes on by itself once that is mended there."
        return self._page(
            step,
            title,
            f"Counted by {told}. {under}",
            figures=(("lines", f"{at.done} of {at.whole}"),),
            primary=Way(words="Pause after this line", act=at.pause),
            stop=Way(words="Stop at once", act=at.stop),
            drawn=drawn,
        )

    def _lost_sight(self, step: Step) -> StepPage:
        """It is being cut by the run, and this window sends nothing: what was written down tells how far it came."""
        sure, perhaps = self.at.written_down(step)

        def take() -> None:
            why = "the window was closed while it was cut"
            if self.keeper.do(happens(LinesCut(sheet=step.sheet, done=sure, perhaps=perhaps, why=why))):
                self.at.has_told(step)
                self.keeper.changed.emit()

        return self._page(
            step,
            f"Sheet {step.sheet} was being cut when this was closed",
            f"Wait until the machine stands still. By what was written down {counted(sure, 'line')} "
            f"{'is' if sure == 1 else 'are'} surely cut, and {counted(perhaps, 'more line')} perhaps.",
            primary=Way(words="It stands still: go on from there", act=take),
            drawn=Drawn(sheet=step.sheet, kind="cut"),
        )

    def _ended(self, what: dict[str, object]) -> None:
        """A cut came to an end: all of it, or up to a line."""
        step, host = what["step"], self.keeper.host
        assert isinstance(step, Step)
        number = step.sheet
        if "cut" in what:
            self.keeper.do(happens(ProofCut(sheet=number) if step.key == "proof" else CutDone(sheet=number)))
            return
        sure, perhaps = int(str(what.get("sure", 0))), int(str(what.get("perhaps", 0)))
        why = str(what.get("stopped", "it was paused"))
        if self.keeper.do(happens(LinesCut(sheet=number, done=sure, perhaps=perhaps, why=why[:200]))):
            tone = "danger" if "stopped" in what else "look"
            host.say(f"{why[:1].upper()}{why[1:]}: {counted(sure, 'line')} surely cut.", tone=tone)
