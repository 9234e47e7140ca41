"""Questions that a panel asks by a dialog of the system; an answer of None means that none was given."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QColorDialog, QFileDialog, QWidget

from honest_edge.core.values.specs import Colour
from honest_edge.files.file_kinds import PICTURE_SUFFIXES

PICTURES = "Pictures (" + " ".join(f"*{suffix}" for suffix in PICTURE_SUFFIXES) + ")"

_TABLES = "*.csv *.tsv *.txt"
ART = f"Art and tables ({' '.join(f'*{suffix}' for suffix in PICTURE_SUFFIXES)} {_TABLES})"


def ask_colour(parent: QWidget, present: Colour, title: str = "Colour") -> Colour | None:
    """Ask for a colour."""
    chosen = QColorDialog.getColor(QColor(*present), parent, title)
    return (chosen.red(), chosen.green(), chosen.blue()) if chosen.isValid() else None


def ask_picture(parent: QWidget, folder: Path) -> Path | None:
    """Ask for a picture file."""
    name, _ = QFileDialog.getOpenFileName(parent, "Choose a picture", str(folder), PICTURES)
    return Path(name) if name else None


def ask_table(parent: QWidget, folder: Path) -> Path | None:
    """Ask for a table."""
    name, _ = QFileDialog.getOpenFileName(parent, "Choose a table", str(folder), f"Tables ({_TABLES})")
    return Path(name) if name else None


_PROFILES = "Profiles (*.toml *.json)"


def ask_profile(parent: QWidget) -> Path | None:
    """Ask for a profile to read."""
    name, _ = QFileDialog.getOpenFileName(parent, "Import a profile", "", _PROFILES)
    return Path(name) if name else None


def ask_profile_to_write(parent: QWidget, name: str) -> Path | None:
    """Ask where a profile is to be written."""
    chosen, _ = QFileDialog.getSaveFileName(parent, "Export this profile", f"{name}.toml", _PROFILES)
    return Path(chosen) if chosen else None


def ask_cut(parent: QWidget, folder: Path) -> Path | None:
    """Ask for a cut file."""
    kinds = "Cut files (*.svg *.dxf *.plt *.gcode *.pdf)"
    name, _ = QFileDialog.getOpenFileName(parent, "Choose a cut file", str(folder), kinds)
    return Path(name) if name else None
