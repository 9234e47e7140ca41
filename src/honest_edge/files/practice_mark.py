"""Says that a practice job is under way, so that the next start can tell of one that a crash ended.

``<pid>.json`` names it; whoever can take the lock beside it knows that its window is gone.
"""

from __future__ import annotations

import contextlib
import json
import os
from dataclasses import dataclass
from pathlib import Path

from honest_edge.files.locks import locked


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftPractice:
    """A practice job that was interrupted: its title, its story, and the number and level of a free bench."""

    title: str
    story: str
    seed: int
    level: int


class PracticeMark:
    """One window's mark; where it cannot be kept, practice goes on without."""

    def __init__(self, folder: Path) -> None:
        """Take the folder of all windows' marks."""
        self._folder = folder
        self._held: tuple[int, Path] | None = None

    def set(self, left: LeftPractice) -> None:
        """Say what is under way."""
        self.clear()
        with contextlib.suppress(OSError):
            self._folder.mkdir(parents=True, exist_ok=True)
            place = self._folder / f"{os.getpid()}.json"
            handle = locked(place)
            if handle is not None:
                text = {"title": left.title, "story": left.story, "seed": left.seed, "level": left.level}
                os.truncate(handle, 0)
                os.write(handle, json.dumps(text).encode())
                self._held = (handle, place)

    def clear(self) -> None:
        """Say that nothing is under way."""
        if self._held is not None:
            handle, place = self._held
            self._held = None
            with contextlib.suppress(OSError):
                place.unlink()
            os.close(handle)


def left_practice(folder: Path) -> LeftPractice | None:
    """Return a practice job whose window is gone, and forget it; None where there is none that can be read."""
    practice = None
    for place in sorted(folder.glob("*.json")):
        with contextlib.suppress(OSError):
            handle = locked(place)
            if handle is None:
                continue
            try:
                stored = json.loads(place.read_text("utf-8"))
                practice = LeftPractice(
                    title=str(stored["title"]),
                    story=str(stored["story"]),
                    seed=int(stored["seed"]),
                    level=int(stored["level"]),
                )
            except (ValueError, KeyError, TypeError, RecursionError):
                pass  # a crash may have come while it was written: it is forgotten
            finally:
                place.unlink(missing_ok=True)
                os.close(handle)
    return practice
