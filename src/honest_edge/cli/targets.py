"""Files that a command writes where it was told to: all of them, or none."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from honest_edge.core.values.errors import FileError


def write_targets(contents: Mapping[Path | None, bytes], *, force: bool) -> None:
    """Write files, each in its own folder; a place that is None was not asked for.

    Raises:
        FileError: a place is taken, or is a folder; nothing is written then. Or the disk refuses one.
    """
    from honest_edge.files.atomic_write import write_set

    wanted = {place: data for place, data in contents.items() if place is not None}
    for place in wanted:
        if place.is_dir() or not place.name:
            raise FileError(f"{place} is a folder: name a file in it")
        if place.exists() and not force:
            raise FileError(f"{place} exists: choose another name, or add --force")
    for folder in dict.fromkeys(place.parent for place in wanted):
        files = {place.name: data for place, data in wanted.items() if place.parent == folder}
        write_set(folder, files, replace=force)
