"""The fonts of the system and those that ship with the application."""

from __future__ import annotations

import os
import struct
import threading
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path

from honest_edge.core.layers.typeface import Typeface
from honest_edge.files.font_folder import FONT_FOLDER

SUFFIXES = (".ttf", ".otf", ".ttc", ".otc")
FALLBACK = ("Atkinson Hyperlegible Next", "Regular")
"""Stands in for a font that is not there."""

_PREFERRED = ("Regular", "Book", "Medium", "Roman", "SemiBold", "Bold")


@dataclass(frozen=True, slots=True, kw_only=True)
class FontFile:
    """One face of a font file, by the names in it."""

    family: str
    style: str
    path: Path
    index: int


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundFont:
    """What was found for a name.

    Attributes:
        typeface: what to letter with.
        instead: family and style that were asked for and are not here; empty where it is the one asked for.
    """

    typeface: Typeface
    instead: str = ""


class FontLibrary:
    """Finds fonts by family and style; each folder is searched once, when no earlier one has what is asked for."""

    def __init__(self, folders: Iterable[Path]) -> None:
        """Take the folders to search, the first found of two equal names wins."""
        self._unsearched = list(folders)
        self._lock = threading.Lock()
        self._files: dict[tuple[str, str], FontFile] = {}
        self._loaded: dict[FontFile, Typeface] = {}

    def families(self) -> dict[str, tuple[str, ...]]:
        """Return every family with its styles, both sorted."""
        styles_of: dict[str, list[str]] = {}
        for family, style in sorted(self._index()):
            styles_of.setdefault(family, []).append(style)
        return {family: tuple(styles) for family, styles in styles_of.items()}

    def find(self, family: str, style: str) -> FoundFont:
        """Return the font, else another style of its family, else ``FALLBACK``; say what it stands in for."""
        file = self._named(family, style)
        if file is not None:
            return FoundFont(typeface=self._typeface(file))
        index = self._index()
        styles = [name for fam, name in index if fam == family]
        if styles:
            best = min(styles, key=lambda name: (_PREFERRED.index(name) if name in _PREFERRED else 99, name))
            return FoundFont(typeface=self._typeface(index[family, best]), instead=f"{family} {style}")
        return FoundFont(typeface=self._typeface(index[FALLBACK]), instead=f"{family} {style}")

    def _named(self, family: str, style: str) -> FontFile | None:
        with self._lock:
            while (family, style) not in self._files and self._unsearched:
                self._search()
            return self._files.get((family, style))

    def _index(self) -> dict[tuple[str, str], FontFile]:
        with self._lock:
            while self._unsearched:
                self._search()
            return self._files

    def _search(self) -> None:
        """Take in the fonts of the next folder."""
        for path in _font_files(self._unsearched.pop(0)):
            for file in _faces(path):
                self._files.setdefault((file.family, file.style), file)

    def _typeface(self, file: FontFile) -> Typeface:
        with self._lock:
            if file not in self._loaded:
                self._loaded[file] = Typeface(f"{file.family} {file.style}", file.path.read_bytes(), file.index)
            return self._loaded[file]


_shared: list[FontLibrary] = []


def font_library() -> FontLibrary:
    """Return the one library of this machine's fonts."""
    if not _shared:
        _shared.append(FontLibrary(font_folders()))
    return _shared[0]


def words_file() -> Path:
    """Return the plain font that ships, as a file."""
    return FONT_FOLDER / "AtkinsonHyperlegibleNext-400.ttf"


def font_folders() -> tuple[Path, ...]:
    """Return where fonts may lie: ours, the user's, the system's (XDG base directory specification)."""
    home = Path.home()
    data_home = Path(os.environ.get("XDG_DATA_HOME") or home / ".local" / "share")
    data_dirs = (os.environ.get("XDG_DATA_DIRS") or "/usr/local/share:/usr/share").split(":")
    return (FONT_FOLDER, data_home / "fonts", home / ".fonts", *(Path(d) / "fonts" for d in data_dirs if d))


def _font_files(folder: Path) -> Iterator[Path]:
    for top, _, names in os.walk(folder):
        for name in sorted(names):
            if name.lower().endswith(SUFFIXES):
                yield Path(top) / name


def _faces(path: Path) -> Iterator[FontFile]:
    """Yield the faces of a file with their names; a damaged file has none."""
    from fontTools.ttLib import TTFont, TTLibError

    try:
        for index in range(_face_count(path)):
            with TTFont(path, fontNumber=index, lazy=True) as font:
                names = font["name"]
                family, style = names.getBestFamilyName(), names.getBestSubFamilyName()
                if family and ("glyf" in font or "CFF " in font or "CFF2" in font):
                    yield FontFile(family=family, style=style or "Regular", path=path, index=index)
    except (TTLibError, OSError, KeyError, ValueError, AssertionError, struct.error):
        return


def _face_count(path: Path) -> int:
    """Return the fonts of a file: many in a collection (OpenType, "Font Collections")."""
    with path.open("rb") as stream:
        head = stream.read(12)
    return int(struct.unpack(">I", head[8:12])[0]) if head[:4] == b"ttcf" and len(head) == 12 else 1
