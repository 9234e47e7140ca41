"""When it goes wrong: what stands in the place of a step, and every way back into the run."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from honest_edge.core.run.guide import Step
from honest_edge.core.values.run_events import BladeFitted, CutAgain, CutDone, CutStopped, Moved, ProofCut, ProofJudged
from honest_edge.core.workshop.carriers import TOO_WEAK
from honest_edge.ui.rooms.run.apply_page import apply_page
from honest_edge.ui.rooms.run.corner_page import corner_page
from honest_edge.ui.rooms.run.keeper import RunKeeper
from honest_edge.ui.rooms.run.page import Drawn, StepPage, Way
from honest_edge.ui.rooms.run.page_maker import PageMaker, ends
from honest_edge.ui.rooms.run.words import clock
from honest_edge.ui.widgets.fields import counted

if TYPE_CHECKING:
    from honest_edge.app.run.conductor import Conductor

_LOST = ("torn or creased", "printed badly", "cut in the wrong place", "lost or soiled")


class WrongPages(PageMaker):
    """Makes the pages that Stop leads to."""

    def page(self, step: Step) -> StepPage | None:
        """Return what stands in the place of a step; None where the step itself does."""
        builders: dict[str, Callable[[Step], StepPage]] = {
            "wrong": self._wrong,
            "side": self._side,
            "some": self._some,
            "again": self._again,
            "blade": self._blade,
            "where": self._where,
            "lost": self._lost,
            "give up": self._give_up,
            "apply": partial(apply_page, self),
            "corner": partial(corner_page, self),
        }
        stage = self.keeper.draft.stage
        return builders[stage](step) if stage else None

    @property
    def _back(self) -> Way:
        return Way(words="Back to the step", act=lambda: self.keeper.turn(stage=""))

    def _sheet(self, step: Step) -> int:
        """Return the sheet that something is wrong with: the one at hand, else the one in the cutter."""
        return step.sheet or self.conductor.state.inside or 0

    def _wrong(self, step: Step) -> StepPage:
        keeper, conductor = self.keeper, self.conductor
        number = self._sheet(step)
        sheet = conductor.state.sheet(number) if number else None
        ways = []
        busy = next((one.number for one in conductor.state.live if one.under_way is not None), 0)
        if busy:
            ways.append(Way(words=f"The cut of sheet {busy} went wrong", act=lambda: keeper.turn(stage="where")))
        if sheet is not None and sheet.is_live:
            if sheet.is_read:
                ways.append(
                    Way(
                        words="It moved: read the marks again",
                        act=lambda: keeper.do(lambda c: c.happens(Moved(sheet=number))),
                    )
                )
            ways.append(Way(words=f"Sheet {number} is lost", act=lambda: keeper.turn(stage="lost")))
            if not sheet.passes:
                ways.append(Way(words="Cut only some of its stickers", act=lambda: keeper.turn(stage="some")))
            elif sheet.under_way is None and sheet.carrier is not None:
                ways.append(Way(words="Cut some of its stickers again", act=lambda: keeper.turn(stage="again")))
        ways.append(Way(words="The blade was changed", act=lambda: keeper.turn(stage="blade")))
        if conductor.can_go_back:
            ways.append(Way(words="One press too many: a step back", act=self._one_back))
        ways.append(Way(words="Leave it for another day", act=keeper.leave))
        ways.append(Way(words="Give the run up", act=lambda: keeper.turn(stage="give up")))
        return StepPage(
            title="What is wrong?",
            under=(
                "Nothing is cut while you think. What you choose is written down. A carrier holds too weakly where "
                f"{'; '.join(TOO_WEAK[:2])}."
            ),
            primary=self._back,
            ways=tuple(ways),
            stop=self._back,
            drawn=Drawn(sheet=number) if number else None,
        )

    def _give_up(self, _step: Step) -> StepPage:
        wet = [sheet for sheet in self.conductor.state.live if sheet.printed is not None]
        return StepPage(
            title="Give the run up?",
            under=(
                f"{counted(len(wet), 'printed sheet')} would be left uncut. What was inspected stays in the Book; the "
                "run cannot be taken up again."
            ),
            primary=self._back,
            ways=(Way(words="Give it up", act=lambda: self.keeper.do(ends("given up"))),),
            stop=self._back,
        )

    def _one_back(self) -> None:
        self.keeper.do(lambda conductor: conductor.back())

    def _lost(self, step: Step) -> StepPage:
        number = self._sheet(step)
        keeper = self.keeper

        def lose(why: str, *, reprint: bool) -> None:
            keeper.do(lambda c: c.lose(number, why, reprint=reprint))

        why = keeper.draft.blade or _LOST[0]
        return StepPage(
            title=f"Why is sheet {number} lost?",
            under=(
                "Another one is printed from the seal under a new number, unless you say that the others suffice. "
                f"Now: {why}."
            ),
            primary=Way(words="Print another one in its place", act=partial(lose, why, reprint=True)),
            ways=(
                *(Way(words=one.capitalize(), act=partial(keeper.turn, blade=one)) for one in _LOST),
                Way(words="Do without it", act=partial(lose, why, reprint=False)),
            ),
            stop=self._back,
            drawn=Drawn(sheet=number),
        )

    def _some(self, step: Step) -> StepPage:
        number, keeper = self._sheet(step), self.keeper
        chosen = tuple(sorted(keeper.draft.chosen))
        return StepPage(
            title=f"Which stickers of sheet {number} are to be cut?",
            under="Tap them. The others are left on the sheet; marks and origin stay as they are.",
            figures=(("chosen", str(len(chosen))),),
            asks="some",
            primary=Way(
                words="Cut only these",
                act=lambda: keeper.do(lambda c: c.only_some(number, chosen)),
                waits_for="" if chosen else "Tap the stickers that are meant",
            ),
            stop=self._back,
            drawn=Drawn(sheet=number, kind="some"),
        )

    def _again(self, step: Step) -> StepPage:
        number, keeper = self._sheet(step), self.keeper
        chosen = tuple(sorted(keeper.draft.chosen))
        return StepPage(
            title=f"Which stickers of sheet {number} are to be cut again?",
            under=(
                "Tap them. It must still lie on its carrier: the marks are read once more, and the blade goes into the "
                "same lines."
            ),
            figures=(("chosen", str(len(chosen))),),
            asks="some",
            primary=Way(
                words="Cut these again",
                act=lambda: keeper.do(lambda c: c.happens(CutAgain(sheet=number, copies=chosen))),
                waits_for="" if chosen else "Tap the stickers that are meant",
            ),
            stop=self._back,
            drawn=Drawn(sheet=number, kind="some"),
        )

    def _blade(self, _step: Step) -> StepPage:
        keeper = self.keeper

        def changed() -> None:
            name = keeper.draft.blade.strip() or "a fresh blade"
            if keeper.do(lambda c: c.happens(BladeFitted(blade=name))):
                keeper.host.say(
                    "The cut is set anew and a proof cut first. A small ladder tells whether the setting still holds.",
                    actions=[("Make a ladder", lambda: keeper.host.go_to("book:test cuts"))],
                )

        return StepPage(
            title="Which blade is in now?",
            under="The metres of the old one end here; what is cut from now on counts for this one.",
            asks="blade",
            primary=Way(words="It is in", act=changed),
            stop=self._back,
        )

    def _where(self, step: Step) -> StepPage:
        """Nobody but the user knows how far a pass came: it is never taken for done."""
        keeper, conductor = self.keeper, self.conductor
        busy = next((s for s in conductor.state.live if s.under_way is not None), None)
        number = busy.number if busy is not None else self._sheet(step)
        proof = busy is None and number and conductor.state.sheet(number).proof == "under way"
        since = "" if conductor.state.last is None else f" The last that is known was at {clock(conductor.state.last)}."

        def stopped(kind: str) -> None:
            keeper.do(lambda c: c.happens(CutStopped(sheet=number, came=kind)))

        ways: tuple[Way, ...]
        if proof:
            ways = (
                Way(
                    words="The proof sticker is cut",
                    act=lambda: keeper.do(lambda c: c.happens(ProofCut(sheet=number))),
                ),
            )
            primary = Way(words="It is not cut, or I do not know", act=lambda: keeper.turn(stage=""))
        else:
            ways = (
                Way(words="It cut nothing yet", act=partial(stopped, "nothing")),
                Way(
                    words="It was done",
                    act=lambda: keeper.do(lambda c: c.happens(CutDone(sheet=number))),
                ),
                Way(words="The sheet is lost", act=lambda: keeper.turn(stage="lost")),
            )
            primary = Way(words="In the middle: cut it again", act=partial(stopped, "part"))
        return StepPage(
            title=f"Where did sheet {number} stop?",
            under=(
                f"It was being cut.{since} In the middle: its marks are read again and the whole pass is cut over what "
                "was cut, which falls into the same lines."
            ),
            primary=primary,
            ways=ways,
            stop=None if keeper.conductor is not None and keeper.conductor.asks_where else self._back,
            drawn=Drawn(sheet=number, kind="cut"),
        )

    def _side(self, step: Step) -> StepPage:
        keeper = self.keeper
        draft = keeper.draft
        what = "White shows" if draft.verdict == "white rim" else "Art is cut off"
        verdict, side, wide_mm = draft.verdict, draft.side, draft.wide_mm

        def judged(conductor: Conductor) -> None:
            conductor.happens(ProofJudged(sheet=step.sheet, verdict=verdict, side=side, wide_mm=wide_mm))

        return StepPage(
            title=f"{what}: on which side, how wide?",
            under="Seen as the sheet lies on the screen. A guess to half a millimetre will do.",
            asks="side",
            primary=Way(
                words="Stop here, and say why",
                act=lambda: keeper.do(judged),
                waits_for="" if side else "Say on which side",
            ),
            stop=self._back,
            drawn=Drawn(sheet=step.sheet, kind="proof", copy=step.copy),
        )


def bad_proof(keeper: RunKeeper, step: Step) -> StepPage:
    """Return what a bad proof means, and the ways on."""
    conductor = keeper.conductor
    assert conductor is not None
    judged = [e for e in conductor.counting if isinstance(e, ProofJudged) and e.sheet == step.sheet][-1]
    seen = "White showed" if judged.verdict == "white rim" else "Art was cut off"
    wide = judged.wide_mm
    how_wide = "" if wide is None else f", {wide:g} mm"
    return StepPage(
        title=f"{seen}: {judged.side}{how_wide}. The rest is not cut",
        under=_diagnosis(judged.side, wide, conductor.seal.bears_mm, len(conductor.state.sheet(step.sheet).proofs)),
        primary=Way(
            words="Read the marks again, then another proof",
            act=lambda: keeper.do(lambda c: c.happens(Moved(sheet=step.sheet))),
        ),
        ways=(
            Way(
                words="Go on as it is",
                act=lambda: keeper.do(
                    lambda c: c.happens(ProofJudged(sheet=step.sheet, verdict="good", note="went on as it was"))
                ),
            ),
            Way(words=f"Sheet {step.sheet} is lost", act=lambda: keeper.turn(stage="lost")),
            Way(words="White on one side? Ask the Bench", act=lambda: keeper.host.go_to("bench")),
        ),
        stop=Way(words="Stop: something else is wrong", act=lambda: keeper.turn(stage="wrong")),
        drawn=Drawn(sheet=step.sheet, kind="proof", copy=step.copy),
    )


def _diagnosis(side: str, wide_mm: float | None, bears_mm: float, proofs: int) -> str:
    """Return what one bad proof tells: little; what two alike tell: that it is steady."""
    if side == "all round":
        return (
            "All round it is no shift: the print was scaled, or the offset is smaller than this bench needs. Hold the "
            "ruler to the marks again."
        )
    far = wide_mm is not None and wide_mm > 3 * bears_mm
    first = (
        "So far off it is a mark misread or a sheet that moved: read the marks again before anything else."
        if far
        else "A shift to one side: the marks were read askew, or this bench has a steady error."
    )
    if proofs < 2:
        return f"{first} If the next proof shows the same, it is steady: measure the bench and let it correct the cut."
    return "The second proof shows it too: it is steady. Measure the bench; that corrects the cut."
