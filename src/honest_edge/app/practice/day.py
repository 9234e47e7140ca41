"""A practice job under way: prints, trial squares, cuts, sheets lost and minutes, all on the simulated bench."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from honest_edge.app.practice.hands import RULER_MIN, THROW_MIN, TRIAL_MIN, Hands
from honest_edge.app.practice.stories import Story
from honest_edge.app.rehearsal.stage import Staged, staged
from honest_edge.app.results.overview import Overview
from honest_edge.core.measure.mark_reading import marks_middles
from honest_edge.core.proof.register import of_checks
from honest_edge.core.run.print_check import RULER_MM
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.job import Job
from honest_edge.core.values.misregistration import Misregistration, Scatter
from honest_edge.files.seal import differing, parts_of
from honest_edge.simulator.faults import FaultKey
from honest_edge.simulator.nature import BenchNature, LightNature, PrinterNature
from honest_edge.simulator.practice_bench import PracticeBench
from honest_edge.simulator.rehearsal import FATES, Fate, RehearsedSheet, rehearsed

GOOD_SHARE = 0.95
"""A sheet with so many good stickers is a good one."""
RIM_MM = 5.0
"""What the practice printer leaves white, whatever the job says of it."""
_MISREAD_MM = 1.4


@dataclass(frozen=True, slots=True, kw_only=True)
class Print:
    """A sheet that lies printed.

    Attributes:
        parts: of the job that it was printed from, as the seal tells them apart.
        is_fitted: whether the dialog fitted it to the page.
        is_dry: whether its ink is.
        number: of the sheet, from 1.
    """

    parts: dict[str, str]
    is_fitted: bool
    is_dry: bool
    number: int


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Cut:
    """What came of laying a print down and cutting it.

    Attributes:
        says: what is seen, in one sentence or two.
        sheet: the sheet as it came out; None where nothing of it was cut.
        staged, overview: what it is drawn from.
        is_good: whether the sheet is good.
        is_lost: whether it can be thrown away.
    """

    says: str
    overview: Overview
    sheet: RehearsedSheet | None = None
    staged: Staged | None = None
    is_good: bool = False
    is_lost: bool = False


@dataclass
class PracticeDay:
    """One story played; the same story, seed and acts give the same sheets.

    Attributes:
        story: which.
        seed: of its chances.
        lost: sheets thrown away.
        minutes: that the acts took.
        is_solved: whether a sheet came out good.
        print: the sheet that lies printed; None for none.
        told: what was seen, act by act.
    """

    story: Story
    seed: int
    lost: int = 0
    minutes: float = 0.0
    is_solved: bool = False
    print: Print | None = None
    told: list[str] = field(default_factory=list)
    _sheets: int = 0
    _cuts: int = 0

    def begin(self) -> None:
        """Lay down what lies there from before, where the story has such."""
        if self.story.before is not None and self.story.hidden.old_print:
            self._sheets = 1
            self.print = Print(parts=parts_of(self.story.before()[0]), is_fitted=False, is_dry=True, number=1)

    # -- acts ----------------------------------------------------------------------------------------

    def print_sheet(self, overview: Overview, hands: Hands) -> str:
        """Print a sheet; one that lies printed already is thrown away, and lost.

        Raises:
            BlockedError: nothing can be printed of the job as it is.
        """
        self._check(overview)
        if self.print is not None:
            self.throw_away()
        self._sheets += 1
        self.minutes += hands.print_min
        is_fitted = self.story.hidden.fits_page and not hands.at_full_size
        self.print = Print(
            parts=parts_of(overview.job), is_fitted=is_fitted, is_dry=hands.lets_dry, number=self._sheets
        )
        return self._tell(f"Sheet {self._sheets} is printed" + (" and dry." if hands.lets_dry else ", and still wet."))

    def lay_ruler(self, overview: Overview) -> str:
        """Lay a ruler on the printed one.

        Raises:
            UsageError: nothing is printed.
        """
        lies = self._printed()
        self.minutes += RULER_MIN
        scale = staged(overview).stage.fitted if lies.is_fitted else 1.0
        read_mm = round(2 * scale * RULER_MM) / 2
        return self._tell(f"The printed ruler should be {RULER_MM:g} mm long. It is {read_mm:g} mm.")

    def try_square(self, hands: Hands) -> str:
        """Cut a small square at the edge of the stock; it costs no sheet."""
        self.minutes += TRIAL_MIN + 4.0 * hands.takes_new_blade
        return self._tell(f"The trial square at force {hands.force}: {self._force_words(hands.force)}.")

    def throw_away(self) -> str:
        """Throw the printed sheet away: it is lost.

        Raises:
            UsageError: nothing is printed.
        """
        lies = self._printed()
        self.print = None
        self.lost += 1
        self.minutes += THROW_MIN
        return self._tell(f"Sheet {lies.number} is thrown away.")

    def cut(self, overview: Overview, hands: Hands) -> Cut:
        """Lay the printed sheet down, let the marks be read, and cut.

        Raises:
            UsageError: nothing is printed.
            BlockedError: nothing can be cut of the job as it is.
        """
        lies = self._printed()
        self._check(overview, is_printed=True)
        self._cuts += 1
        self.minutes += hands.cut_min
        cut_sheet = self._cut(overview, hands, lies)
        self._tell(cut_sheet.says)
        if cut_sheet.is_lost:
            self.lost += 1
            self.print = None
        if cut_sheet.is_good:
            self.is_solved, self.print = True, None
        return cut_sheet

    # -- what comes of it ----------------------------------------------------------------------------

    def _cut(self, overview: Overview, hands: Hands, lies: Print) -> Cut:
        missed = self._missed(overview, hands)
        if missed:
            unprinted = overview.job.sheet.marks.inset_mm < RIM_MM
            more = (
                " The print shows only half of the marks: it is of no use."
                if unprinted
                else " The print is still good."
            )
            says = f"The reader misses {missed} of its marks and stops. Nothing is cut.{more}"
            return Cut(says=says, overview=overview, is_lost=unprinted)
        stage = staged(overview)
        sheet = self._sheet(overview, stage, hands, lies)
        far = max(
            range(len(sheet.fates)),
            key=lambda number: float(np.square(stage.stage.pages[sheet.page][number].middle_mm).sum()),
        )
        if hands.cuts_one_first and sheet.fates[far]:
            seen = (
                self._same_for_all(overview, hands, lies) or f"it comes off {_FATE_WORDS[FATES[int(sheet.fates[far])]]}"
            )
            says = f"One sticker is cut first, in the far corner: {seen}. You stop there."
            alone = replace(sheet, fates=np.where(np.arange(len(sheet.fates)) == far, sheet.fates, 0).astype(np.int8))
            return Cut(says=says + " The rest of the print is whole.", overview=overview, sheet=alone, staged=stage)
        is_good = sheet.good >= GOOD_SHARE * len(sheet.fates)
        return Cut(
            says=self._words(overview, hands, lies, sheet),
            overview=overview,
            sheet=sheet,
            staged=stage,
            is_good=is_good,
            is_lost=not is_good,
        )

    def _sheet(self, overview: Overview, stage: Staged, hands: Hands, lies: Print) -> RehearsedSheet:
        """Return the sheet as it comes out."""
        hidden, faults = self.story.hidden, set[FaultKey]()
        if lies.is_fitted:
            faults.add("fitted")
        if not lies.is_dry:
            faults.add("wet")
        if hidden.slips and not hands.presses_down:
            faults.add("slip")
        if hidden.is_dull and not hands.takes_new_blade:
            faults.add("dull")
        seed = self.seed * 1000 + self._cuts
        error = self._error(hands)
        sheet = next(rehearsed(stage.stage, error, sheets=1, seed=seed, faults=frozenset(faults)))
        if not self._same_for_all(overview, hands, lies):
            return sheet
        whole: Fate = "elsewhere" if differing(lies.parts, parts_of(overview.job)) else "art"
        return replace(sheet, fates=np.full_like(sheet.fates, FATES.index(whole)))

    def _error(self, hands: Hands) -> Misregistration:
        hidden, error = self.story.hidden, self.story.hidden.error
        if hidden.askew_deg and not hands.loads_square:
            error = replace(error, rotation_deg=Scatter(bias=hidden.askew_deg, spread=error.rotation_deg.spread))
        if hidden.misreads and self._cuts % 2 and not (hands.tapes_marks and hands.loads_square):
            error = replace(error, shift_x_mm=Scatter(bias=_MISREAD_MM), shift_y_mm=Scatter(bias=-_MISREAD_MM / 2))
        return error

    def _missed(self, overview: Overview, hands: Hands) -> int:
        """Return how many marks the reader misses."""
        sheet, hidden = overview.job.sheet, self.story.hidden
        light = LightNature(
            shine="matt" if hands.tapes_marks else sheet.stock.gloss, glare=1.0 if hands.tapes_marks else hidden.glare
        )
        nature = BenchNature(printer=PrinterNature(rim_mm=RIM_MM), light=light)
        bench = PracticeBench(
            nature, self.seed * 1000 + self._cuts, size_mm=sheet.size_mm, marks_mm=marks_middles(sheet)
        ).with_marks(sheet.marks.length_mm, sheet.marks.thickness_mm, is_frame=sheet.marks.kind == "frame")
        return len(bench.read_marks(bench.print_sheet()).missed)

    def _words(self, overview: Overview, hands: Hands, lies: Print, sheet: RehearsedSheet) -> str:
        count = len(sheet.fates)
        if seen := self._same_for_all(overview, hands, lies):
            return f"Sheet {lies.number} is cut, and {seen}: nothing of it can be used."
        fates = [FATES[int(fate)] for fate in sheet.fates]
        parts = [f"{fates.count(fate)} {words}" for fate, words in _FATE_WORDS.items() if fates.count(fate)]
        in_brackets = f"; {', '.join(parts)}" if parts else ""
        return f"{sheet.good} of {count} stickers of sheet {lies.number} are good{in_brackets}."

    def _same_for_all(self, overview: Overview, hands: Hands, lies: Print) -> str:
        """Return what spoils every sticker alike, as it is seen; empty where each has a fate of its own."""
        if differing(lies.parts, parts_of(overview.job)):
            return "the cut does not fit what is printed"
        if (force := self._force_words(hands.force)) != _LIFTS:
            return force
        return self.story.hidden.spoils if self._found(overview) else ""

    def _force_words(self, force: int) -> str:
        clean, marked = self.story.hidden.clean_force
        if force < clean:
            return "it does not lift"
        return "it lifts, and the liner is cut" if force >= marked else _LIFTS

    def _found(self, overview: Overview) -> bool:
        """Whether the job still has what spoils every sheet."""
        hidden = self.story.hidden
        return bool(hidden.spoils) and bool(of_checks(overview.findings, *hidden.checks))

    # -- helpers -------------------------------------------------------------------------------------

    def _printed(self) -> Print:
        if self.print is None:
            raise UsageError("Print a sheet first")
        return self.print

    def _check(self, overview: Overview, *, is_printed: bool = False) -> None:
        """The story's own mistake may be printed: real programs let it pass, too."""
        if overview.plan is None or overview.is_provisional:
            raise BlockedError(f"Nothing can be {'cut' if is_printed else 'printed'} yet: {overview.why_no_plan}")
        holding = overview.holding
        if holding is not None and not of_checks([holding], *self.story.hidden.checks):
            raise BlockedError(f"Nothing can be printed yet: {overview.named(holding)}")

    def _tell(self, words: str) -> str:
        self.told.append(words)
        return words


_LIFTS = "it lifts clean, and the liner is whole"
_FATE_WORDS: dict[Fate, str] = {
    "white": "with white at the rim",
    "art": "with art cut off",
    "uncut": "not cut",
    "smeared": "smeared",
    "wrong side": "printed on the wrong side",
    "elsewhere": "cut elsewhere",
    "ring": "with the sheet’s colour at the rim",
}


def first_job(story: Story) -> tuple[Job, dict[str, bytes]]:
    """Return a story's job as the learner finds it, under the story's title."""
    job, assets = story.make()
    return replace(job, title=story.title), assets
