"""One run in hand: what happens is checked, written down, and only then true."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from honest_edge.app.run.outcome import Tally, tally_of
from honest_edge.app.run.run_facts import RunFacts
from honest_edge.app.run.run_files import Part, cut_contents, cut_page, printed_sheets
from honest_edge.app.run.sealing import Sealing, machine_now
from honest_edge.core.run.guide import Step, next_step
from honest_edge.core.run.print_check import PrintCheck, PrintReading, checked
from honest_edge.core.run.state import RunState, after, can_go_back, effective, state_of
from honest_edge.core.sheet.strokes import Stroke, strokes
from honest_edge.core.values.errors import BlockedError, FileError
from honest_edge.core.values.job import Job
from honest_edge.core.values.run_events import Added, Back, Measured, Moment, Ordered, RunEvent, Skipped, Spoiled
from honest_edge.core.values.run_seal import SealedRun, sheet_sign
from honest_edge.files.runs.journal import Journal
from honest_edge.files.seal import differing, parts_of
from honest_edge.files.sheet_page import SheetPage
from honest_edge.files.typefaces import FontLibrary

Clock = Callable[[], Moment]


class Conductor:
    """Leads one run; knows no window."""

    def __init__(self, journal: Journal, clock: Clock) -> None:
        """Take a journal that was begun or taken up.

        Raises:
            FileError: its events contradict each other.
        """
        self.journal, self.clock = journal, clock
        self.seal: SealedRun = journal.seal
        self.state: RunState = state_of(journal.seal, journal.events)
        self.asks_where = any(sheet.under_way is not None for sheet in self.state.live) or any(
            sheet.proof == "under way" for sheet in self.state.live
        )
        """Something was being cut when the run was left: nobody but the user knows how far it came."""

    @classmethod
    def begin(cls, runs: Path, sealing: Sealing, clock: Clock, *, block: int, carriers: int) -> Conductor:
        """Keep a run that was just sealed, and take it in hand.

        Raises:
            FileError: it cannot be kept.
        """
        conductor = cls(Journal.begin(runs, sealing.seal, sealing.print_file), clock)
        conductor.happens(Ordered(block=block, carriers=carriers))
        return conductor

    @classmethod
    def take_up(cls, folder: Path, clock: Clock, of_project: bytes | None = None) -> Conductor:
        """Take up a run that was left; ``of_project`` is what a project keeps of it.

        Raises:
            BlockedError: another window has it in hand.
            FileError: it cannot be read, or events of it are lost.
        """
        return cls(Journal.take_up(folder, of_project), clock)

    @property
    def events(self) -> list[RunEvent]:
        """All that happened."""
        return self.journal.events

    def happens(self, event: RunEvent) -> RunEvent:
        """Write down what happened, with the time that it is now.

        Raises:
            UsageError: it cannot have happened; nothing was written.
            FileError: it cannot be written; nothing has happened.
        """
        event = replace(event, at=self.clock())
        state = after(self.seal, self.state, event)
        self.journal.add(event)
        self.state = state
        return event

    @property
    def counting(self) -> list[RunEvent]:
        """What happened and was not taken back."""
        return effective(self.journal.events)

    @property
    def can_go_back(self) -> bool:
        """Whether the last step can be taken back."""
        return not self.state.ended and can_go_back(self.counting)

    def back(self) -> None:
        """Take the last step back.

        Raises:
            UsageError: it cannot be.
            FileError: it cannot be written down.
        """
        event = Back(at=self.clock())
        state = state_of(self.seal, [*self.events, event])
        self.journal.add(event)
        self.state = state

    def follow(self, job: Job) -> None:
        """Take over what may still change: how the machine is driven."""
        self.seal = machine_now(self.journal.seal, job)

    def differing(self, job: Job) -> tuple[str, ...]:
        """Return what of a job is not as it was sealed, each as it is called in a sentence."""
        return differing(self.seal.job_parts, parts_of(job))

    def is_of(self, job: Job) -> bool:
        """Return whether a job has any design of those that were sealed, as it was or changed since."""
        return bool({design.name for design in job.designs} & {design.name for design in self.seal.designs})

    # -- what to do ------------------------------------------------------------------------------------

    def step(self) -> Step:
        """Return what to do now."""
        return next_step(self.seal, self.state, self.clock())

    def clock_set_back_s(self) -> float:
        """Return by how many seconds the clock stands before what happened last; 0 where it does not."""
        last, now = self.state.last, self.clock()
        return 0.0 if last is None or not now.is_set_back(last) else (last.wall_ms - now.wall_ms) / 1000

    def tally(self, known: RunFacts) -> Tally:
        """Return what came out so far, and whether the rest suffices."""
        return tally_of(
            self.seal, self.state, known.prior(self.seal), known.forecasts(self.seal), known.history(self.seal)
        )

    # -- doing ------------------------------------------------------------------------------------------

    def measure(self, sheet: int, reading: PrintReading) -> PrintCheck:
        """Take a ruler's reading; a print of another size is lost, and told so.

        Raises:
            UsageError: nothing was read.
        """
        check = checked(reading, self.seal.sheet, self.seal.bears_mm)
        if check.verdict in ("in inches", "misread"):
            return check
        self.happens(
            Measured(
                sheet=sheet,
                verdict=check.verdict,
                across_mm=reading.across_mm,
                down_mm=reading.down_mm,
                ruler_mm=reading.ruler_mm,
            )
        )
        if check.verdict != "true":
            page = self.state.sheet(sheet).page
            self.happens(Spoiled(sheet=sheet, why=f"printed at {100 * check.scale:.1f} % of its size"))
            self.happens(Added(pages=(page,)))
        return check

    def lose(self, sheet: int, why: str, *, reprint: bool) -> None:
        """Give a sheet up; its page may be printed once more, under a new number."""
        page = self.state.sheet(sheet).page
        self.happens(Spoiled(sheet=sheet, why=why))
        if reprint:
            self.happens(Added(pages=(page,)))

    # -- files ------------------------------------------------------------------------------------------

    def sign(self, sheet: int) -> str:
        """Return what stands on a sheet."""
        return sheet_sign(self.seal.run, sheet)

    def print_bytes(self, sheets: tuple[int, ...], fonts: FontLibrary) -> bytes:
        """Return the print file of some sheets, from the seal.

        Raises:
            BlockedError: nothing of ours is printed.
            FileError: what was sealed is not there any more.
        """
        print_file = self.journal.print_file()
        if print_file is None:
            raise BlockedError("Nothing is printed here: the machine’s own program does it, or all is cut only")
        return printed_sheets(self.seal, print_file, [(n, self.state.sheet(n).page) for n in sheets], fonts)

    def page_bytes(self, page: int) -> tuple[bytes, int] | None:
        """Return the sealed print file and which of its pages a sheet of the layout is; None where none is printed."""
        print_page = self.seal.pages[page].print_page
        try:
            print_file = self.journal.print_file()
        except FileError:
            return None
        return None if print_file is None or print_page is None else (print_file, print_page)

    def cut_files(self, step: Step) -> dict[str, bytes]:
        """Return the files that a step cuts from, from the seal.

        Raises:
            BlockedError: nothing is left to cut.
        """
        part, page = self._cut_page(step)
        return cut_contents(self.seal, step.sheet, self.state.sheet(step.sheet).page, step.cut_pass, part, page)

    def cut_strokes(self, step: Step) -> tuple[tuple[Stroke, ...], float]:
        """Return the same as strokes on the sheet, for a machine that is spoken to directly, and the sheet's height.

        Raises:
            BlockedError: nothing is left to cut.
        """
        _, page = self._cut_page(step)
        return strokes(page.cuts, self.seal.sheet.cutter), page.height_mm

    def _cut_page(self, step: Step) -> tuple[Part, SheetPage]:
        sheet = self.state.sheet(step.sheet)
        part: Part = "proof" if step.key == "proof" else "whole"
        without = set(sheet.skipped)
        if sheet.again:
            without |= set(range(len(self.seal.pages[sheet.page].copies))) - set(sheet.again)
        elif step.key != "proof" and step.cut_pass == 0 and sheet.proofs:
            part, without = "rest", without | set(sheet.proofs)
        page = cut_page(self.seal, sheet.number, sheet.page, step.cut_pass, part, proof=step.copy, without=without)
        return part, page

    def only_some(self, sheet: int, copies: tuple[int, ...]) -> None:
        """Cut only some stickers of a sheet from now on: the others are skipped."""
        whole = range(len(self.seal.pages[self.state.sheet(sheet).page].copies))
        self.happens(Skipped(sheet=sheet, copies=tuple(copy for copy in whole if copy not in copies)))
