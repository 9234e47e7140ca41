"""The lines of a sheet as the files of a folder hold them."""

from __future__ import annotations

import re
from pathlib import Path

from honest_edge.core.sheet.strokes import Stroke
from honest_edge.core.values.errors import FileError
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import LineKind
from honest_edge.files.read_cut import SUFFIXES, read_cut
from honest_edge.files.read_input import read_input
from honest_edge.files.read_json import parsed
from honest_edge.files.report import REPORT_NAME

_MOST_BYTES = 20_000_000
_NAME = re.compile(r"cut-(\d+)(?:-(kiss|crease|perforate|through))?(\.\w+)")
_ORDER: tuple[LineKind, ...] = ("kiss", "crease", "perforate", "through")


def written_strokes(folder: Path, sheet: int) -> tuple[tuple[Stroke, ...], float, int, SheetSpec]:
    """Return a sheet's lines in the order of their files, its height, how many sheets there are, and what it is.

    Raises:
        FileError: the folder holds no written job, or no cut file of that sheet.
    """
    try:
        report = parsed(read_input(folder / REPORT_NAME, _MOST_BYTES), dict[str, object])
        height_mm = float(report["paper_height_mm"])  # type: ignore[arg-type]
    except (FileError, KeyError, TypeError, ValueError):
        raise FileError(f"{folder} holds no files that were written for a job: name the job itself") from None
    held: dict[int, list[tuple[int, int, Path, LineKind]]] = {}
    for path in sorted(folder.iterdir()):
        match = _NAME.fullmatch(path.name)
        if match and match[3] in SUFFIXES:
            kind: LineKind = match[2] or "kiss"  # type: ignore[assignment]
            # of several formats the one that keeps the passes is read
            held.setdefault(int(match[1]), []).append(
                (_ORDER.index(kind), (".plt", *SUFFIXES).index(match[3]), path, kind)
            )
    if sheet not in held:
        raise FileError(f"{folder} holds no cut file of sheet {sheet}")
    written: list[Stroke] = []
    seen: set[int] = set()
    for order, _, path, kind in sorted(held[sheet]):
        if order not in seen:
            seen.add(order)
            written += [Stroke(kind=kind, pen=1, points=points) for points in read_cut(path, height_mm).lines]
    return tuple(written), height_mm, max(held), SheetSpec()
