"""Test squares in a corner of a run's own sheet: written with its marks, read by two clicks, told to the Book."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from honest_edge.app.book.cut_trial import TrialState, new_trial, state_of
from honest_edge.app.book.desk import BookDesk
from honest_edge.core.geometry.paths import Floats
from honest_edge.core.sheet.marks import marks_of
from honest_edge.core.values.book_records import CutSubject
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.run_seal import SealedRun
from honest_edge.core.values.specs import LineKind
from honest_edge.core.workshop.ladder import SettingRange
from honest_edge.core.workshop.ladder_sheet import SMALL_MM, ladder_sheet
from honest_edge.files.book.records import LOOK, SETTING
from honest_edge.files.write_ladder import LADDER_WRITERS

_FLAT_MM = 0.01
_SUFFIX = {"svg": ".svg", "dxf": ".dxf", "dxf-spline": ".dxf", "dxf-r12": ".dxf", "plt": ".plt", "gcode": ".svg",
           "pdf": ".svg"}  # fmt: skip
"""Which form of ladder a machine takes that reads a format."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CornerTest:
    """A ladder in a sheet.

    Attributes:
        kind: of line that is tried.
        state: the search so far, with the ladder that is cut now.
        files: their names; empty until they are written.
    """

    kind: LineKind
    state: TrialState
    files: tuple[str, ...] = ()

    @property
    def squares(self) -> tuple[float, ...]:
        """The settings of the ladder that is cut now; none where no more looks are worth their squares."""
        return self.state.ladder or ()


def begin_corner(desk: BookDesk, seal: SealedRun, kind: LineKind, blade: str, now_ms: int) -> CornerTest:
    """Return a search for the force of a kind of line, from what is known of this machine and stock.

    Raises:
        FileError: the Book cannot be read.
    """
    facts = desk.cut_facts(now_ms)
    stock, machine = seal.sheet.stock.name, seal.sheet.machine.name
    look = facts.looks.get(machine)
    is_force = look is not None and look.name == "force"
    reach = (
        SettingRange(lowest=look.lowest, highest=look.highest, step=look.step) if look and is_force else SettingRange()
    )
    safe = [kept.record for kept in facts.settings if kept.record.machine == machine and kept.record.is_safe]
    similar = next((one for one in safe if one.stock == stock and one.name == "force"), None)
    subject = CutSubject(stock=stock, machine=machine, blade=blade, line=kind)
    return CornerTest(kind=kind, state=state_of(new_trial(subject, reach, similar)))


def corner_files(seal: SealedRun, page: int, number: int, test: CornerTest) -> dict[str, bytes]:
    """Return the cut files of a ladder in a free corner of a sheet, by name: one extent with the sheet's own.

    Args:
        seal: of the run.
        page: of the layout that the sheet shows.
        number: of the sheet, from 1.
        test: with the ladder.

    Raises:
        BlockedError: no corner of the sheet is free any more.
    """
    corners, looks = seal.pages[page].corners_mm, len(test.state.trial.looks)
    if looks >= len(corners):
        raise BlockedError(f"No more room is free on sheet {number}: go on in a corner of a used sheet, at Test cuts")
    marks: tuple[Floats, ...] = ()
    if seal.pages[page].print_page is not None and not seal.sheet.machine.prints_own_marks:
        rings = [ring.flattened(_FLAT_MM) for mark in marks_of(seal.sheet) for ring in mark.rings]
        marks = tuple(np.vstack([ring, ring[:1]]) for ring in rings)
    ladder = ladder_sheet(test.squares, SMALL_MM).on_sheet(corners[looks][:2], seal.sheet.size_mm, marks)
    suffixes = dict.fromkeys(_SUFFIX[form] for form in seal.sheet.machine.formats)
    return {f"test-{number}-{looks + 1}{suffix}": LADDER_WRITERS[suffix](ladder, "force") for suffix in suffixes}


def read_corner(desk: BookDesk, test: CornerTest, first_clean: int, first_marked: int, now_ms: int) -> CornerTest:
    """Keep what a ladder showed, and return what is tried next.

    Raises:
        UsageError: the reading contradicts itself.
        FileError: the Book cannot be written.
    """
    metres = desk.blade_metres(test.state.trial.subject.blade, now_ms)
    state = state_of(test.state.trial.read(test.squares, first_clean, first_marked, metres))
    desk.note([(LOOK, state.trial.looks[-1]), (SETTING, state.found)], now_ms)
    return CornerTest(kind=test.kind, state=state)
