"""Pages for a machine that reads no marks: the hand moves its blade over the first, compares the others, confirms."""

from __future__ import annotations

from collections.abc import Callable

from honest_edge.core.run.guide import Step
from honest_edge.core.sheet.marks import aims_of
from honest_edge.core.values import cautions
from honest_edge.core.values.run_events import MarksRead, Missed
from honest_edge.ui.rooms.run.page import Drawn, StepPage, Way
from honest_edge.ui.rooms.run.page_maker import PageMaker, happens
from honest_edge.ui.widgets.fields import counted


def by_hand(pages: PageMaker, step: Step) -> StepPage:
    """Return the page of the mark in hand; which are done is told by the marks that are ticked."""
    sheet = pages.conductor.seal.sheet
    aims, done = aims_of(sheet), pages.keeper.draft.found
    point = "the middle" if sheet.marks.kind in ("four discs", "four squares") else "the outer corner"
    at = next((number for number in range(len(aims)) if number not in done), None)
    if at is None:
        return _confirm(pages, step, len(aims))
    return _move(pages, step, point, aims) if at == 0 else _compare(pages, step, point, aims, at)


def _page(pages: PageMaker, step: Step, title: str, under: str, primary: Way, **more: object) -> StepPage:
    return StepPage(
        title=title,
        under=under,
        primary=primary,
        stop=pages.stop(),
        drawn=Drawn(sheet=step.sheet, kind="marks"),
        caution=cautions.BLADE,
        **more,  # type: ignore[arg-type]
    )


def _ticked(pages: PageMaker, mark: int) -> Callable[[], object]:
    return lambda: pages.keeper.turn(found={*pages.keeper.draft.found, mark})


def _move(pages: PageMaker, step: Step, point: str, aims: tuple[tuple[str, float, float], ...]) -> StepPage:
    name, x_mm, y_mm = aims[0]
    tries = pages.conductor.state.sheet(step.sheet).tries
    again = "Again: lay the sheet straight, then move" if tries else "Move"
    return _page(
        pages,
        step,
        f"{again} the blade over the {name} mark of sheet {step.sheet}",
        f"With the machine’s own keys, the blade up, until its tip stands over {point} of the mark. Make that point "
        "the machine’s starting point.",
        Way(words=f"It stands over {point}", act=_ticked(pages, 0)),
        figures=(("from the sheet’s left", pages.length(x_mm)), ("from its top", pages.length(y_mm))),
    )


def _compare(pages: PageMaker, step: Step, point: str, aims: tuple[tuple[str, float, float], ...], at: int) -> StepPage:
    name, x_mm, y_mm = aims[at]
    across, down = x_mm - aims[0][1], y_mm - aims[0][2]
    return _page(
        pages,
        step,
        f"Compare: move on to the {name} mark",
        f"So far from the first mark, the blade up. The tip must come to {point} of it.",
        Way(words=f"It comes to {point}", act=_ticked(pages, at)),
        figures=tuple(
            (words, pages.length(length)) for words, length in (("to the right", across), ("down", down)) if length
        ),
        ways=(Way(words="It lies beside it: begin again", act=_begin_again(pages, step, at)),),
    )


def _begin_again(pages: PageMaker, step: Step, at: int) -> Callable[[], object]:
    return lambda: pages.keeper.do(happens(Missed(sheet=step.sheet, marks=(at,))))


def _confirm(pages: PageMaker, step: Step, count: int) -> StepPage:
    return _page(
        pages,
        step,
        f"Sheet {step.sheet} is set by hand: {counted(count, 'mark')} compared",
        "Move the blade back over the first mark, still up: what is cut now goes from there.",
        Way(words="Set: go on to the cut", act=lambda: pages.keeper.do(happens(MarksRead(sheet=step.sheet)))),
        ways=(Way(words="Compare them once more", act=lambda: pages.keeper.turn(found=set())),),
    )
