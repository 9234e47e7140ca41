"""The plain sheet is cut: it is measured by a picture, and what follows for the good stock is said."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from honest_edge.core.values.run_events import Ended, Inspected
from honest_edge.ui.rooms.run.page import Drawn, StepPage, Way

if TYPE_CHECKING:
    from honest_edge.core.run.guide import Step
    from honest_edge.ui.rooms.run.page_maker import PageMaker


def trial_page(maker: PageMaker, step: Step) -> StepPage:
    """Return the page on which a plain sheet is measured, or says what it told."""
    keeper, conductor, told = maker.keeper, maker.conductor, maker.keeper.draft.told
    by_eye = Way(words="Count by eye instead", act=lambda: keeper.turn(is_counted=True))
    if told is not None:
        from honest_edge.app.run.trial import trial_words  # loaded by now: it was measured

        stock = conductor.seal.trial_for
        return StepPage(
            title="What the plain sheet told",
            under=" ".join((trial_words(told, stock), *told.said)),
            figures=((f"clean on {stock}", f"{100 * told.after:.0f} %"),),
            primary=Way(
                words="Go back to the job",
                act=lambda: keeper.do(
                    lambda c: c.happens(Inspected(sheet=step.sheet)), lambda c: c.happens(Ended(reason="done"))
                ),
            ),
            ways=(by_eye,),
            stop=maker.stop(),
            drawn=Drawn(sheet=step.sheet, kind="inspect"),
        )
    cut = keeper.cut_by_practice(step.sheet)
    if keeper.is_practice:
        primary = Way(
            words="Take the practice picture",
            act=lambda: None if cut is None else keeper.looker.measure_practice(conductor, step.sheet, cut),
            waits_for="" if cut is not None else "The practice bench is still cutting",
        )
    else:
        primary = Way(words="Measure it by a picture…", act=partial(keeper.looker.ask_trial, conductor, step.sheet))
    return StepPage(
        title=f"Measure the plain sheet {step.sheet}",
        under=(
            "Lift off what is between the stickers and leave them on the carrier. Take a picture of all of it from "
            "above, sharp, without flash; or drop one here. A scan does as well."
        ),
        primary=primary,
        ways=(by_eye,),
        stop=maker.stop(),
        drawn=Drawn(sheet=step.sheet, kind="inspect"),
    )
