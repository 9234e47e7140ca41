"""A field for what a machine is set to, in words: "force 84, 40 mm/s, 2 passes"."""

from __future__ import annotations

from PyQt6.QtCore import QSignalBlocker, pyqtSignal
from PyQt6.QtWidgets import QLineEdit

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.log_event import MOST_TEXT
from honest_edge.core.values.recipe import CutSetting
from honest_edge.core.workshop.setting_words import setting_of, setting_words
from honest_edge.ui.widgets.fields import restyle
from honest_edge.ui.widgets.typed import is_being_typed

TIP = (
    "Such as “force 84, 40 mm/s, 2 passes”. Or a depth, or the name under which the machine keeps a setting; "
    "“narrow 20 mm/s” slows it at narrow places."
)


class SettingField(QLineEdit):
    """Tells what is set once typing ends; None where nothing is."""

    committed = pyqtSignal(object)
    refused = pyqtSignal(str)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setMaxLength(MOST_TEXT)
        self.setPlaceholderText("not set")
        self._shown = ""
        self.editingFinished.connect(self._commit)

    def show_setting(self, setting: CutSetting | None) -> None:
        """Show without telling anyone."""
        self._shown = "" if setting is None else setting_words(setting)
        if is_being_typed(self):
            return
        with QSignalBlocker(self):
            self.setText(self._shown)
            self.setCursorPosition(0)
        self.setToolTip(self._shown or TIP)
        restyle(self, "wrong", False)

    def setting(self) -> CutSetting | None:
        """Return what is typed; None for nothing.

        Raises:
            UsageError: it cannot be set so.
        """
        setting = setting_of(self.text())
        return None if setting.says_nothing else setting

    def _commit(self) -> None:
        self.setModified(False)
        if self.text().strip() == self._shown:
            restyle(self, "wrong", False)
            return
        try:
            setting = self.setting()
        except UsageError as error:
            restyle(self, "wrong", True)
            self.refused.emit(str(error))
            return
        self.committed.emit(setting)
