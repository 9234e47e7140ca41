"""What is other this time when something is made again: how many, with which pictures, with which words."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from honest_edge.ui.widgets.dialogs import ask_picture
from honest_edge.ui.widgets.fields import Button, Form
from honest_edge.ui.widgets.typed import Count

if TYPE_CHECKING:
    from collections.abc import Callable

    from honest_edge.core.values.job import Job

_MOST_ASKED = 6
_AS_IT_WAS = "as it was"


class OnceMore(QWidget):
    """Asks only what may differ; what is not touched stays."""

    def __init__(self, art_folder: Callable[[], Path]) -> None:
        super().__init__()
        self._art_folder = art_folder
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        form = Form()
        self.pieces = Count("Pieces to make again", 1, 100_000)
        self.pieces.setToolTip("How many pieces are wanted this time")
        form.add("Pieces this time", self.pieces)
        self._column.addWidget(form)
        self._form: Form | None = None
        self._chosen: dict[str, Path] = {}
        self.words: dict[tuple[str, str], QLineEdit] = {}
        self.pictures: dict[str, Button] = {}

    def show_job(self, job: Job | None) -> None:
        """Ask for the pictures and the words of a job that may be others this time; None asks for neither."""
        from honest_edge.app.edits.again import pictured, words_of_then

        if self._form is not None:
            self._form.hide()
            self._form.deleteLater()
        self._form, self._chosen, self.words, self.pictures = None, {}, {}, {}
        if job is None:
            return
        self._form = form = Form()
        for then in words_of_then(job)[:_MOST_ASKED]:
            field = QLineEdit(then.text.replace("\n", " / "))
            field.setAccessibleName(f"Words this time: {field.text()}")
            self.words[then.design, then.layer] = field
            form.add("Words", field, "A date, a batch or a number that is another one this time")
        for key, name in pictured(job)[:_MOST_ASKED]:
            choose = self.pictures[key] = Button(_AS_IT_WAS)
            choose.setAccessibleName(f"Picture of {name}")
            choose.clicked.connect(partial(self._choose, key))
            form.add(f"Picture of {name}" if len(name) < 18 else f"Picture of {name[:16]}…", choose, name)
        self._column.addWidget(form)

    def _choose(self, key: str) -> None:
        path = ask_picture(self, self._art_folder())
        if path is None:
            self._chosen.pop(key, None)
        else:
            self._chosen[key] = path
        self.pictures[key].setText(_AS_IT_WAS if path is None else path.name)
        self.pictures[key].setToolTip("" if path is None else str(path))

    def changes(self) -> tuple[dict[tuple[str, str], str], dict[str, Path]]:
        """Return the words that were typed over, by design and layer, and the pictures that were chosen, by design."""
        typed = {
            where: "\n".join(part.strip() for part in field.text().split(" / "))
            for where, field in self.words.items()
            if field.isModified()
        }
        return typed, dict(self._chosen)
