"""Test squares in a free corner of the run's own sheet, cut before anything else: which force cuts this stock."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from honest_edge.core.values import cautions
from honest_edge.core.values.specs import LineKind
from honest_edge.ui.rooms.run.page import Drawn, StepPage, Way
from honest_edge.ui.rooms.run.words import listed
from honest_edge.ui.shared.trial_words import found_words

if TYPE_CHECKING:
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.run.corner_squares import CornerTest
    from honest_edge.core.run.guide import Step
    from honest_edge.ui.rooms.run.keeper import RunKeeper
    from honest_edge.ui.rooms.run.page_maker import PageMaker


def begin_corner_squares(keeper: RunKeeper, sheet: int, kind: LineKind) -> None:
    """Begin a search for the force of a kind of line, and write its first ladder."""
    conductor = keeper.conductor
    if conductor is None:
        return
    seal, blade = conductor.seal, conductor.state.blade

    def begin(desk: BookDesk, now_ms: int) -> CornerTest:
        from honest_edge.app.run.corner_squares import begin_corner

        return begin_corner(desk, seal, kind, blade, now_ms)

    keeper.tell(begin, lambda test: _write(keeper, sheet, test))


def _write(keeper: RunKeeper, sheet: int, test: CornerTest) -> None:
    """Write the ladder that is cut now, then show it."""
    conductor = keeper.conductor
    if conductor is None:
        return
    if not test.squares:
        keeper.turn(stage="corner", squares=test)
        return
    seal, folder, page = conductor.seal, keeper.run_folder(), conductor.state.sheet(sheet).page

    def write(_desk: BookDesk, _now_ms: int) -> tuple[str, ...]:
        from honest_edge.app.run.corner_squares import corner_files
        from honest_edge.files.atomic_write import write_set

        files = corner_files(seal, page, sheet, test)
        write_set(folder, files, replace=True)
        return tuple(files)

    def written(names: tuple[str, ...]) -> None:
        keeper.turn(stage="corner", squares=replace(test, files=names), first_clean=-1, first_marked=-1)

    keeper.tell(write, written)


def corner_page(maker: PageMaker, step: Step) -> StepPage:
    """Return the page: cut the squares, say what they show, take the force that they come to."""
    keeper, draft = maker.keeper, maker.keeper.draft
    test = draft.squares
    if test is None:
        return StepPage(title="Reading the Book …")
    back = Way(words="Back to the step", act=lambda: keeper.turn(stage=""))
    looks = len(test.state.trial.looks)
    told = found_words(test.state.found) if looks else ""
    if not test.squares:
        return StepPage(
            title=told,
            under="It is kept in the Book as the recipe of this stock. A blade that wears wants more by and by.",
            figures=((test.kind, f"force {test.state.window.best:g}"),),
            primary=Way(
                words="Set it so",
                act=lambda: keeper.turn(stage="", setting=f"force {test.state.window.best:g}", squares=None),
            ),
            stop=back,
            drawn=Drawn(sheet=step.sheet),
        )
    clean, marked = draft.first_clean, draft.first_marked
    waits = "Say which square lifts clean first, and whose liner is marked first"
    if clean >= 0 and marked >= 0:
        waits = "" if marked >= clean else "A square whose liner is marked is cut through: it lifts, too"
    return StepPage(
        title=f"Cut the test squares of sheet {step.sheet}, {test.kind} cut",
        under=(
            f"{told} They lie in a corner that is free anyway, in one extent with the sheet: load it, let its marks "
            f"be read, and cut {listed(list(test.files))} of {keeper.run_folder()}. Give each square the force that "
            "stands on it. Weed them and look."
        ).strip(),
        asks="squares",
        primary=Way(
            words="Keep this reading", act=lambda: _read(keeper, step.sheet, test, clean, marked), waits_for=waits
        ),
        stop=back,
        drawn=Drawn(sheet=step.sheet, kind="corner", copy=looks),
        caution=cautions.BLADE,
        has_files=bool(test.files),
    )


def _read(keeper: RunKeeper, sheet: int, test: CornerTest, clean: int, marked: int) -> None:
    def read(desk: BookDesk, now_ms: int) -> CornerTest:
        from honest_edge.app.run.corner_squares import read_corner

        return read_corner(desk, test, clean, marked, now_ms)

    keeper.tell(read, lambda after: _write(keeper, sheet, after))
