"""Remembered choices of this user, in one INI file."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from pathlib import Path
from typing import cast

from PyQt6.QtCore import QSettings

from honest_edge.core.values.units import Unit
from honest_edge.ui.theme import ThemeName

_SCHEMA = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class Prefs:
    """What is remembered from one session to the next."""

    unit: Unit = "mm"
    theme: ThemeName = "light"
    folder: str = ""
    out_folder: str = ""


class PrefsFile:
    """Reads and writes the preferences."""

    def __init__(self, path: Path) -> None:
        self._settings = QSettings(str(path), QSettings.Format.IniFormat)

    def read(self) -> Prefs:
        """Return the remembered choices; what is missing or nonsense is the default."""
        default = Prefs()
        values = {name: str(self._settings.value(name, value, type=str)) for name, value in asdict(default).items()}
        unit = values["unit"] if values["unit"] in ("mm", "in") else default.unit
        theme = values["theme"] if values["theme"] in ("light", "dark") else default.theme
        return Prefs(
            unit=cast(Unit, unit),
            theme=cast(ThemeName, theme),
            folder=values["folder"],
            out_folder=values["out_folder"],
        )

    def write(self, prefs: Prefs) -> None:
        """Remember the choices."""
        self._settings.setValue("schema", _SCHEMA)
        for name, value in asdict(prefs).items():
            self._settings.setValue(name, value)
        self._settings.sync()

    def forget(self) -> None:
        """Remove the file."""
        self._settings.sync()
        Path(self._settings.fileName()).unlink(missing_ok=True)
