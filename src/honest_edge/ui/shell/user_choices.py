"""The choices of this user: remembered, and followed at once."""

from __future__ import annotations

from dataclasses import replace
from functools import cached_property
from typing import TYPE_CHECKING, Literal, cast

from PyQt6.QtCore import QLocale, QObject, pyqtSignal
from PyQt6.QtWidgets import QApplication, QWidget

from honest_edge.core.values.papers import PaperName
from honest_edge.files.prefs import Prefs, PrefsFile
from honest_edge.ui.widgets import theme
from honest_edge.ui.widgets.local import show_lengths_in, shown_unit, tell_anew

if TYPE_CHECKING:
    from honest_edge.files.profiles import ProfileFolder


_LETTER_LANDS = (QLocale.Country.UnitedStates, QLocale.Country.Canada, QLocale.Country.Mexico)


def usual_of_locale(locale: QLocale) -> tuple[Literal["mm", "in"], PaperName]:
    """Return the unit and the paper that are the custom where the system says it is."""
    is_imperial = locale.measurementSystem() == QLocale.MeasurementSystem.ImperialUSSystem
    return "in" if is_imperial else "mm", "letter" if locale.territory() in _LETTER_LANDS else "a4"


class UserChoices(QObject):
    """Holds the preferences; dresses the application when the theme is another one."""

    changed = pyqtSignal()

    def __init__(self, file: PrefsFile, parent: QObject) -> None:
        super().__init__(parent)
        self.file, self.prefs = file, file.read()
        if not file.is_there:
            unit, paper = usual_of_locale(QLocale())
            self.prefs = replace(self.prefs, unit=unit, paper=paper)
        show_lengths_in(self.prefs.shown_unit)
        self._worn = theme.resolved(self.prefs.theme)
        hints = QApplication.styleHints()
        if hints is not None:
            hints.colorSchemeChanged.connect(lambda _scheme: self.follow_system())

    @cached_property
    def profiles(self) -> ProfileFolder:
        """The user's machines, printers and stocks."""
        return self.file.profiles()

    def take(self, prefs: Prefs) -> None:
        """Take and remember choices."""
        self.prefs = prefs
        self.file.write(prefs)
        self._dress()
        self._measure()
        self.changed.emit()

    def follow_system(self) -> None:
        """Take the system's colours and contrast, where the choice is left to it and they are others now."""
        if self._dress():
            self.changed.emit()

    def _measure(self) -> None:
        """Write all texts in the unit that is chosen."""
        unit, window = self.prefs.shown_unit, self.parent()
        if unit != shown_unit() and isinstance(window, QWidget):
            show_lengths_in(unit)
            tell_anew(window)

    def _dress(self) -> bool:
        """Give the application the chosen theme; return whether it is another one now."""
        before, self._worn = self._worn, theme.resolved(self.prefs.theme)
        application = QApplication.instance()
        if self._worn == before or not isinstance(application, QApplication):
            return False
        theme.apply(application, self.prefs.theme)
        return True

    def swap_unit(self) -> None:
        """Show inches instead of millimetres, or the other way round."""
        self.take(replace(self.prefs, unit="in" if self.prefs.unit == "mm" else "mm"))

    def swap_theme(self) -> None:
        """Show light colours instead of dark ones, or the other way round."""
        self.take(replace(self.prefs, theme=theme.swapped(self.prefs.theme)))

    def show_dialog(self, parent: QWidget) -> None:
        """Show all choices."""
        from honest_edge.ui.shell.preferences import PreferencesDialog  # its controls are made when needed

        dialog = PreferencesDialog(self.prefs, parent)
        dialog.changed.connect(lambda prefs: self.take(cast(Prefs, prefs)))
        dialog.finished.connect(dialog.deleteLater)
        dialog.open()
