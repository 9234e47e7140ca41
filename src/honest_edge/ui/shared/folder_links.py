"""Wherever files were written: their folder, and its path to be pasted elsewhere."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QWidget

from honest_edge.ui.shared.job_place import copy_path, show_folder
from honest_edge.ui.widgets.fields import button, row


class FolderLinks(QWidget):
    """Shows a folder in the file manager, or copies its path."""

    def __init__(self, folder: Callable[[], Path]) -> None:
        super().__init__()
        self.show_it = button("Show folder", lambda: show_folder(folder()), link=True)
        self.copy = button("Copy its path", lambda: copy_path(folder()), link=True)
        across = row(self.show_it, self.copy)
        across.setContentsMargins(0, 0, 0, 0)
        across.addStretch(1)
        self.setLayout(across)
