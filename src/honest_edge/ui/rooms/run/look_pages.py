"""Pages of looking at what came out, and of counting it."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QMessageBox

from honest_edge.core.run.guide import Step
from honest_edge.core.values import cautions
from honest_edge.core.values.run_events import Added, Inspected, ProofJudged
from honest_edge.core.workshop.carriers import TOO_STRONG
from honest_edge.ui.rooms.run.page import Drawn, StepPage, Way
from honest_edge.ui.rooms.run.page_maker import PageMaker, ends
from honest_edge.ui.rooms.run.trial_page import trial_page
from honest_edge.ui.widgets.fields import counted

if TYPE_CHECKING:
    from honest_edge.app.run.conductor import Conductor


class LookPages(PageMaker):
    """What is looked at."""

    def look(self, step: Step) -> StepPage:
        """Look at it."""
        keeper = self.keeper

        def judged(conductor: Conductor) -> None:
            conductor.happens(ProofJudged(sheet=step.sheet, verdict="good"))

        def bad(verdict: str) -> None:
            keeper.turn(verdict=verdict, stage="side", side="", wide_mm=None)

        return StepPage(
            title="Look at the proof sticker",
            under=(
                f"Lift a corner of {self.design_name(step)}: is its rim even, does it come off, is the liner whole? "
                "The rest is cut as this one is."
            ),
            asks="look",
            primary=Way(words="It is clean: go on", act=lambda: keeper.do(judged)),
            ways=(
                Way(words="White shows", act=partial(bad, "white rim")),
                Way(words="Art is cut off", act=partial(bad, "art cut")),
                Way(words="It does not come off clean", act=lambda: keeper.turn(stage="wrong")),
            ),
            stop=self.stop(),
            drawn=Drawn(sheet=step.sheet, kind="proof", copy=step.copy),
        )

    def inspect(self, step: Step) -> StepPage:
        """Peel and look at every sticker."""
        keeper, conductor = self.keeper, self.conductor
        if conductor.seal.trial_for and not keeper.draft.is_counted:
            return trial_page(self, step)
        sheet = conductor.state.sheet(step.sheet)
        count = len(conductor.seal.pages[sheet.page].copies) - len(sheet.skipped)
        bad = tuple(keeper.draft.bad[copy] for copy in sorted(keeper.draft.bad))
        good = count - len(bad)
        ways: tuple[Way, ...] = ()
        if keeper.cut_by_practice(step.sheet) is not None:
            ways = (Way(words="Look as the practice bench would", act=partial(self._practice_look, step.sheet)),)
        return StepPage(
            title=f"Peel sheet {step.sheet} and look at every sticker",
            under=(
                "Bend the carrier away from the sheet, not the sheet from the carrier. Tap each sticker that is bad; "
                f"what is chosen beside the sheet says why. Where {TOO_STRONG[0]}, the carrier holds too strongly."
            ),
            figures=(("good", f"{good} of {count}"),),
            asks="bad",
            primary=Way(
                words="All are good" if not bad else f"{good} good, {len(bad)} bad",
                act=lambda: keeper.do(lambda c: c.happens(Inspected(sheet=step.sheet, bad=bad))),
            ),
            ways=ways,
            stop=self.stop(),
            drawn=Drawn(sheet=step.sheet, kind="inspect"),
            caution=cautions.PEEL,
        )

    def _practice_look(self, sheet: int) -> None:
        picture = self.keeper.cut_by_practice(sheet)
        skipped = self.conductor.state.sheet(sheet).skipped
        if picture is not None:
            self.keeper.turn(bad={one.copy: one for one in picture.bad if one.copy not in skipped})

    def tally(self, _step: Step) -> StepPage:
        """Count what there is."""
        keeper, tally = self.keeper, self.keeper.tally
        if tally is None:
            return StepPage(title="Counting …")
        if not tally.lacking:
            return StepPage(
                title="Enough: the run is done",
                under="All that was wanted came out good. " + self._kept_words(),
                figures=(("good", str(tally.good)), ("wanted", str(tally.wanted))),
                primary=Way(words="End the run", act=lambda: keeper.do(ends("done"))),
                ways=self._applies(),
                stop=self.stop(),
                caution=cautions.after_cutting(self.conductor.seal.sheet.stock),
            )
        page = tally.one_more
        more = () if page is None else (page,)
        return StepPage(
            title=f"{counted(tally.lacking, 'sticker')} wanting: print one more sheet?",
            under="From the seal, under a new number: print and cut still match whatever was changed in the job since.",
            figures=(("good", f"{tally.good} of {tally.wanted}"),),
            primary=Way(
                words="Print one more sheet",
                act=lambda: keeper.do(lambda c: c.happens(Added(pages=more))),
                waits_for="" if more else "No sheet would bring what is wanting",
            ),
            ways=(Way(words="That is enough: end the run", act=partial(self._end_short, tally.lacking)),),
            stop=self.stop(),
            drawn=None if page is None else Drawn(page=page),
        )

    def _applies(self) -> tuple[Way, ...]:
        """Return the way to how what came out is put on a thing, where it is."""
        if not self.conductor.seal.applied:
            return ()
        return (Way(words="How it is put on", act=lambda: self.keeper.turn(stage="apply")),)

    def _end_short(self, lacking: int) -> None:
        """End a run that has too few good stickers, if that is meant."""
        yes, no = QMessageBox.StandardButton.Yes, QMessageBox.StandardButton.No
        words = f"{counted(lacking, 'sticker')} still wanting. A run that was ended is not taken up again."
        if QMessageBox.question(self.keeper.host.table.window(), "End the run?", words, yes | no, no) == yes:
            self.keeper.do(ends("enough"))

    def _kept_words(self) -> str:
        if self.keeper.is_practice and not self.keeper.host.workspace.document.is_demo:
            return "Practice leaves nothing in the Book."
        return "The Book keeps it, with what it took."

    def over(self, _step: Step) -> StepPage:
        """The run is over."""
        keeper, state, tally = self.keeper, self.conductor.state, self.keeper.tally
        how = {"done": "The run is done", "enough": "The run was ended", "given up": "The run was given up"}
        good = 0 if tally is None else tally.good
        return StepPage(
            title=how.get(state.ended, "The run is over"),
            under=self._forecast_words(),
            figures=(("good stickers", str(good)), ("sheets", str(sum(s.printed is not None for s in state.sheets)))),
            primary=Way(words="Back to the job", act=keeper.leave),
            ways=(*self._applies(), Way(words="See the Book", act=lambda: keeper.host.go_to("book:runs"))),
            caution=cautions.after_cutting(self.conductor.seal.sheet.stock) if good else None,
        )

    def _forecast_words(self) -> str:
        tally, seal = self.keeper.tally, self.conductor.seal
        if tally is None or not tally.sheets:
            return "Nothing was inspected, so nothing is kept of it but that it was begun."
        looked = tally.good + tally.bad
        weights = [(d.forecast, d.wanted) for d in seal.designs]
        forecast = sum(f * w for f, w in weights) / max(1, sum(w for _, w in weights))
        return f"Forecast {100 * forecast:.0f} % clean, came out {100 * tally.good / max(1, looked):.0f} %."
