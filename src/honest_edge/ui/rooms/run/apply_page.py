"""How what came out is put on a thing: the last step of a run, after the last sticker is counted."""

from __future__ import annotations

from typing import TYPE_CHECKING

from honest_edge.core.values.papers import is_letter
from honest_edge.core.workshop.applying import steps_of
from honest_edge.ui.rooms.run.page import StepPage, Way
from honest_edge.ui.rooms.run.words import listed
from honest_edge.ui.shared.job_place import show_folder
from honest_edge.ui.widgets.fields import counted

if TYPE_CHECKING:
    from honest_edge.core.run.guide import Step
    from honest_edge.ui.rooms.run.keeper import RunKeeper
    from honest_edge.ui.rooms.run.page_maker import PageMaker


def apply_page(maker: PageMaker, _step: Step) -> StepPage:
    """Return the page: the steps of each design, and the way to its placement sheet."""
    keeper, applied = maker.keeper, maker.conductor.seal.applied
    told = [f"{one.name}\n" + "\n".join(f"{n}. {step}" for n, step in enumerate(steps_of(one), 1)) for one in applied]
    return StepPage(
        title=f"Put {listed([f'“{one.name}”' for one in applied])} on",
        under="\n\n".join(told),
        primary=Way(words="Write the placement sheet", act=lambda: _write(keeper)),
        stop=Way(words="Back to the run", act=lambda: keeper.turn(stage="")),
    )


def _write(keeper: RunKeeper) -> None:
    """Write the placement sheets into the run's folder, beside the window's thread."""
    conductor, host = keeper.conductor, keeper.host
    if conductor is None:
        return
    folder, seal, unit = keeper.run_folder(), conductor.seal, host.workspace.unit

    def write() -> int:
        from honest_edge.app.output.placement import placement_files
        from honest_edge.files.atomic_write import write_set

        files = placement_files(seal.applied, is_letter=is_letter(seal.sheet.paper), unit=unit)
        write_set(folder, files, replace=True)
        return len(files)

    def written(count: int) -> None:
        host.say(
            f"{counted(count, 'placement sheet')} lies in {folder}. Print it at 100 %.",
            tone="fine",
            actions=[("Show folder", lambda: show_folder(folder))],
        )

    host.writes.submit(write, written, lambda words: host.say(words, tone="danger"))
