"""A run on the practice bench: it prints, reads or misses the marks, and cuts; the same for the same run and sheet."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from honest_edge.app.rehearsal.stage import Staged, staged
from honest_edge.app.results.overview import Overview
from honest_edge.core.geometry.paths import Floats
from honest_edge.core.measure.mark_reading import marks_middles
from honest_edge.core.run.print_check import RULER_MM, PrintReading, expected_mm, fitted_scale
from honest_edge.core.values.misregistration import Misregistration
from honest_edge.core.values.run_events import BadReason, BadSticker, WayOff
from honest_edge.core.values.run_seal import SealedRun
from honest_edge.simulator.judge import Judge
from honest_edge.simulator.nature import BenchNature, LightNature, PrinterNature
from honest_edge.simulator.practice_bench import PracticeBench
from honest_edge.simulator.sheets_by_chance import SheetErrors, drawn_sheets

_BANDS = 0.1  # chance of a band without ink, which blinds a reader: an assumption
_RULER_SD_MM = 0.15  # how truly a ruler is read


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CutSheet:
    """A sheet that the practice bench cut.

    Attributes:
        moved_mm: (n, 2) how far each copy's cut lies from its print.
        bad: copies that did not come out clean.
    """

    moved_mm: Floats
    bad: tuple[BadSticker, ...]


class PracticeShop:
    """Stands in for printer, ruler, reader and cutter of one run."""

    def __init__(
        self,
        seal: SealedRun,
        overview: Overview,
        *,
        nature: BenchNature | None = None,
        is_first_fitted: bool = False,
    ) -> None:
        """Take the run, and what is known of its job.

        Args:
            seal: of the run.
            overview: of its job as it was sealed.
            nature: of the bench's reader, printer and light; None takes the usual assumptions.
            is_first_fitted: the dialog fits the first sheet to the page.

        Raises:
            BlockedError: nothing is laid out or printed.
        """
        light = LightNature(shine=seal.sheet.stock.gloss)
        self._seal, self._nature = seal, nature or BenchNature(printer=PrinterNature(bands=_BANDS), light=light)
        self._staged: Staged = staged(overview)
        self._error: Misregistration = overview.job.misregistration
        self._is_first_fitted = is_first_fitted
        self._marks = marks_middles(seal.sheet)

    def reading(self, sheet: int) -> PrintReading:
        """Return what a ruler says of a printed sheet."""
        random = self._random(sheet, 1)
        across, down = expected_mm(self._seal.sheet)
        scale = fitted_scale(self._seal.sheet) if self._is_first_fitted and sheet == 1 else 1.0
        read = [round(2 * (scale * length + random.normal(0, _RULER_SD_MM))) / 2 for length in (across, down, RULER_MM)]
        return PrintReading(across_mm=read[0], down_mm=read[1], ruler_mm=read[2])

    def missed(self, sheet: int, tries: int) -> tuple[int, ...]:
        """Return which marks the reader misses at its next try."""
        marks = self._seal.sheet.marks
        bench = PracticeBench(
            self._nature, self._seed(sheet, 10 + tries), size_mm=self._seal.sheet.size_mm, marks_mm=self._marks
        ).with_marks(marks.length_mm, marks.thickness_mm, is_frame=marks.kind == "frame")
        return bench.read_marks(bench.print_sheet()).missed

    def cut(self, sheet: int, page: int) -> CutSheet:
        """Return a sheet as it comes out of the cutter."""
        number = self._staged.pages.index(page)
        copies = self._staged.stage.pages[number]
        random = self._random(sheet, 2)
        errors = drawn_sheets(self._error, 1, random)
        repeats = random.standard_normal((len(copies), 2)) * errors.repeat_mm[0]
        moved = errors.moved(np.array([copy.middle_mm for copy in copies]))[0] + repeats
        bad = []
        for copy, staged_copy in enumerate(copies):
            judge = self._staged.stage.judges[staged_copy.design]
            if judge.spoiled(errors, repeats[copy][None], staged_copy.matrix)[0]:
                bad.append(_bad(copy, judge, errors, repeats[copy], staged_copy.matrix, moved[copy]))
        return CutSheet(moved_mm=moved, bad=tuple(bad))

    def _random(self, sheet: int, what: int) -> np.random.Generator:
        return np.random.default_rng(self._seed(sheet, what))

    def _seed(self, sheet: int, what: int) -> int:
        return int.from_bytes(f"{self._seal.run[:24]}{sheet}/{what}".encode()[-30:], "big")


def _bad(copy: int, judge: Judge, errors: SheetErrors, repeat: Floats, matrix: Floats, moved: Floats) -> BadSticker:
    """Return what is seen of a spoiled sticker: white on the side to which the cut strayed, or art lost opposite."""
    worst = judge.worst(errors, repeat, matrix)
    reason: BadReason = "art cut" if worst is not None and worst[0] == "art" else "white rim"
    x, y = moved.tolist() if reason == "white rim" else (-moved).tolist()
    side: WayOff = ("right" if x > 0 else "left") if abs(x) >= abs(y) else ("bottom" if y > 0 else "top")
    return BadSticker(copy=copy, reason=reason, side=side, wide_mm=round(float(np.hypot(*moved)), 1))
