"""Writing a ladder of test squares for the cutter."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from honest_edge.core.values.book_records import SettingName
from honest_edge.core.values.errors import FileError
from honest_edge.core.workshop.ladder_sheet import ladder_sheet
from honest_edge.files.atomic_write import write_set
from honest_edge.files.write_ladder import LADDER_WRITERS, told_apart


def write_ladder(path: Path, settings: Sequence[float], name: SettingName) -> str:
    """Write the cut file of a ladder, over a file of that name; return in words what is in it.

    Raises:
        FileError: it ends otherwise than the formats do, or cannot be written.
    """
    write = LADDER_WRITERS.get(path.suffix.lower())
    if write is None:
        raise FileError(f"“{path.name}” must end in {', '.join(LADDER_WRITERS)}")
    write_set(path.parent, {path.name: write(ladder_sheet(settings), name)}, replace=True)
    return f"{path.name} is written: {told_apart(path.suffix.lower())}."
