"""The application in the menu of the user's desktop: entry, icons, file type, in the user's own data folders.

Folders and formats after the freedesktop.org specifications: Desktop Entry 1.4, Icon Theme, Shared MIME-info.
"""

from __future__ import annotations

import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import honest_edge
from honest_edge.core.values.errors import FileError
from honest_edge.files.atomic_write import write_set

_ENTRY = "honest-edge.desktop"
_MIME = "honest-edge.xml"


def packaging_folder() -> Path:
    """Return the folder with entry, metadata and icons: inside an installed package, or beside the sources."""
    inside = Path(honest_edge.__file__).parent / "packaging"
    return inside if inside.is_dir() else Path(honest_edge.__file__).parents[2] / "packaging"


def _files(data: Path) -> Iterator[tuple[Path, bytes]]:
    """Yield every place below the user's data folder, and what is to stand there."""
    source = packaging_folder()
    entry = (source / _ENTRY).read_text("utf-8").replace("Exec=honest-edge", f"Exec={_command()}")
    yield data / "applications" / _ENTRY, entry.encode()
    yield data / "mime" / "packages" / _MIME, (source / _MIME).read_bytes()
    for icon in sorted((source / "icons").rglob("*")):
        if icon.is_file():
            yield data / "icons" / icon.relative_to(source / "icons"), icon.read_bytes()


def _command() -> str:
    """Return how this very copy is started, quoted as Desktop Entry 1.4 wants it."""
    launcher = Path(honest_edge.__file__).parents[2] / "honest-edge"
    if launcher.is_file():
        return _quoted(str(launcher))
    script = Path(sys.executable).with_name("honest-edge")
    return _quoted(str(script)) if script.exists() else f"{_quoted(sys.executable)} -m honest_edge"


def _quoted(argument: str) -> str:
    for char in ("\\", '"', "`", "$"):
        argument = argument.replace(char, "\\" + char)
    return '"' + argument.replace("%", "%%") + '"'


def add(data: Path) -> str:
    """Put the application into the user's menu; return one line that says so.

    Raises:
        FileError: a place cannot be written.
    """
    for place, content in _files(data):
        write_set(place.parent, {place.name: content}, replace=True)
    _tell(data)
    return f"Honest Edge is in your desktop’s menu now ({data / 'applications' / _ENTRY})."


def remove(data: Path) -> str:
    """Take out again what ``add`` put in; return one line that says so.

    Raises:
        FileError: a file cannot be removed.
    """
    there = [place for place, _ in _files(data) if place.exists()]
    for place in there:
        try:
            place.unlink()
        except OSError as error:
            raise FileError(f"{place} cannot be removed: {error.strerror or error}") from None
    _tell(data)
    return "Honest Edge is out of your desktop’s menu." if there else "Honest Edge was not in your desktop’s menu."


def _tell(data: Path) -> None:
    """Let desktops that keep an index of these folders read them again, where their tools are there."""
    for command in (
        ["update-desktop-database", str(data / "applications")],
        ["update-mime-database", str(data / "mime")],
        ["gtk-update-icon-cache", "-t", "-f", str(data / "icons" / "hicolor")],
    ):
        if shutil.which(command[0]):
            subprocess.run(command, check=False, capture_output=True, timeout=60)
