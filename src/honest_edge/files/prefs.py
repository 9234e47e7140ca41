"""Remembered choices of this user, in one JSON file."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING, Literal, get_args

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.papers import PaperName

if TYPE_CHECKING:
    from honest_edge.core.values.units import Unit
    from honest_edge.files.profiles import ProfileFolder

ThemeChoice = Literal["system", "light", "dark", "light-high", "dark-high"]
"""The last two have high contrast."""

_SCHEMA = 2
_KNOWN: dict[str, tuple[str, ...]] = {
    "unit": ("mm", "in"),
    "inches": ("decimal", "fraction"),
    "theme": get_args(ThemeChoice),
    "run_sound": ("off", "on"),
    "guide": ("on", "off"),
    "first_drop": ("line", "stations"),
    "bench_asked": ("no", "yes"),
    "paper": tuple(paper for paper in get_args(PaperName) if paper != "own"),
}


@dataclass(frozen=True, kw_only=True)
class Prefs:
    """What is remembered from one session to the next.

    Attributes:
        unit: in which lengths are shown.
        inches: how inches are written: with decimals, or as fractions where they are exact.
        theme: light or dark, with high contrast or not, or whatever the system has.
        paper: of a new job.
        folder: where jobs were last opened or saved.
        art_folder: where art was last opened.
        out_folder: where each job gets a folder of its own for its files; empty puts that beside its art.
        written_folder: where files were written last.
        turned_cards: names of the cards that are open though they begin folded, or the other way round, parted by bars.
        run_sound: whether a sound tells that a wait of a run is over.
        guide: whether each station says what most people do there, and does it when asked.
        first_drop: whether the first art of a job is made in one line above its sheet, or begins at the stations.
        bench_asked: whether the questions of the first start were answered or passed over.
        cut_to: the way to the cutter that was used last, as ``open_way`` takes it.
        machine, printer, stock: names of the profiles of a new job; empty for the usual ones.
    """

    unit: Literal["mm", "in"] = "mm"
    inches: Literal["decimal", "fraction"] = "fraction"
    theme: ThemeChoice = "system"
    paper: PaperName = "letter"
    folder: str = ""
    art_folder: str = ""
    out_folder: str = ""
    written_folder: str = ""
    turned_cards: str = ""
    run_sound: Literal["off", "on"] = "off"
    guide: Literal["on", "off"] = "on"
    first_drop: Literal["line", "stations"] = "line"
    bench_asked: Literal["no", "yes"] = "no"
    cut_to: str = ""
    machine: str = ""
    printer: str = ""
    stock: str = ""

    @property
    def shown_unit(self) -> Unit:
        """The unit with the way in which it is written."""
        return "in fraction" if self.unit == "in" and self.inches == "fraction" else self.unit


class PrefsFile:
    """Reads and writes the preferences."""

    def __init__(self, path: Path) -> None:
        self._path = path

    def profiles(self) -> ProfileFolder:
        """Return the user's profiles, in a folder beside the file."""
        from honest_edge.files.profiles import ProfileFolder  # its formats load with the first profile

        return ProfileFolder(self._path.parent / "profiles")

    @property
    def folder(self) -> Path:
        """Where what is remembered of this user lies."""
        return self._path.parent

    @property
    def is_there(self) -> bool:
        """Whether anything was chosen before."""
        return self._path.is_file()

    def read(self) -> Prefs:
        """Return the remembered choices; what is missing or nonsense is the default."""
        try:
            stored = json.loads(self._path.read_text("utf-8"))
        except (OSError, ValueError, RecursionError):
            return Prefs()
        if not isinstance(stored, dict):
            return Prefs()
        good = {
            name: value
            for name, value in stored.items()
            if name in asdict(Prefs()) and isinstance(value, str) and value in _KNOWN.get(name, (value,))
        }
        return replace(Prefs(), **good)  # type: ignore[arg-type]  # checked by name just above

    def write(self, prefs: Prefs) -> None:
        """Remember the choices; where that is impossible the session goes on without."""
        from honest_edge.files.atomic_write import write_set

        text = json.dumps({"schema": _SCHEMA, **asdict(prefs)}, indent=1)
        try:
            write_set(self._path.parent, {self._path.name: text.encode()}, replace=True)
        except HonestEdgeError:
            return

    def forget(self) -> None:
        """Remove the file."""
        self._path.unlink(missing_ok=True)
