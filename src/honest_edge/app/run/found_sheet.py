"""A sheet that turned up: which run it is of, and what became of it."""

from __future__ import annotations

from pathlib import Path

from honest_edge.core.run.state import state_of
from honest_edge.core.values.errors import UsageError
from honest_edge.files.runs.journal import left_runs, read_events


def sheet_found(runs: Path, code: str, number: int) -> str:
    """Return what is known of a sheet, in a sentence or two.

    Args:
        runs: where runs are kept.
        code: of the run.
        number: of the sheet.

    Raises:
        UsageError: no run of that code is kept here, or it has no such sheet.
        FileError: it cannot be read.
    """
    run = next((one for one in left_runs(runs)[0] if one.seal.code == code), None)
    if run is None:
        raise UsageError(f"No run {code} is kept on this machine: it was printed elsewhere, or its folder is gone")
    seal = run.seal
    sheet = state_of(seal, read_events(run.folder)).sheet(number)
    copies = len(seal.pages[sheet.page].copies)
    of = f"Sheet {number} of “{seal.title}”, sealed {seal.sealed_at[:10]}"
    if sheet.bad is not None:
        return f"{of}: cut and inspected, {copies - len(sheet.skipped) - len(sheet.bad)} of {copies} came out good."
    if sheet.spoiled:
        return f"{of}: given up, {sheet.spoiled}."
    if sheet.passes:
        return f"{of}: cut in part. Take the run up above and go on with it."
    if sheet.printed is None:
        return f"{of}: it was never said to be printed."
    way = "the run is over, so it is spare" if run.has_ended else "take the run up above and cut it"
    return f"{of}: printed and not cut; {way}. Print and cut still match, whatever was changed in the job since."
