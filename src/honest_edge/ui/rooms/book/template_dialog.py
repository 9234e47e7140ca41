"""The next one like a sheet that was kept: other art, other words."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QDialog, QFileDialog, QLineEdit, QScrollArea, QVBoxLayout

from honest_edge.app.edits.library import places_of
from honest_edge.ui.shared.asker import Teller
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.dialogs import PICTURES
from honest_edge.ui.widgets.fields import Form, button, label, row
from honest_edge.ui.widgets.theme import px

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QPushButton

    from honest_edge.app.book.desk import BookDesk
    from honest_edge.core.values.job import Job

_CHOOSE = "Choose…"


class TemplateDialog(QDialog):
    """Asks for what is to be filled; what is left as it is stays."""

    def __init__(self, host: Host, ask: Teller, template: Job, assets: dict[str, bytes]) -> None:
        super().__init__(host.table.window())
        self._host, self._ask, self._template, self._assets = host, ask, template, assets
        self.setWindowTitle("Next one like this")
        places = places_of(template)
        self.chosen: dict[str, Path] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(px(18), px(16), px(18), px(16))
        column.setSpacing(px(12))
        column.addWidget(label(f"Next one like “{template.title}”", "heading"))
        column.addWidget(label("What you leave as it is stays as it was.", "soft"))
        self.several = button("Choose pictures for all places…", self._choose_several)
        self.several.setVisible(len(places.art) > 1)
        column.addWidget(self.several)
        form = Form(control_px=250)
        self.job_title = QLineEdit(template.title)
        form.add("Title of the job", self.job_title)
        self.art: dict[str, QPushButton] = {}
        for key, name in places.art:
            self.art[key] = button(_CHOOSE, lambda key=key: self._choose(key))  # type: ignore[misc]
            self.art[key].setAccessibleName(f"Picture in the place of {name}")
            form.add(f"In the place of {name}", self.art[key])
        self.words: dict[tuple[str, str], QLineEdit] = {}
        for design, layer, text in places.words:
            self.words[design, layer] = QLineEdit(text.replace("\n", " / "))
            form.add(f"Instead of “{text.splitlines()[0][:24]}”", self.words[design, layer])
        self._texts = {(design, layer): text for design, layer, text in places.words}
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(form)
        column.addWidget(area, 1)
        self.make = button("Make it", self._make, filled=True)
        self.make.setDefault(True)
        column.addLayout(row(button("Cancel", self.reject), self.make))
        self.resize(px(520), px(560))

    def _choose(self, key: str) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Choose a picture", str(self._host.workspace.place.art), PICTURES)
        if name:
            self._take(key, Path(name))

    def _choose_several(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(self, "Choose pictures", str(self._host.workspace.place.art), PICTURES)
        for key, name in zip(self.art, names, strict=False):
            self._take(key, Path(name))

    def _take(self, key: str, path: Path) -> None:
        self.chosen[key] = path
        self.art[key].setText(path.name)

    def _make(self) -> None:
        """Read the new art beside the window's thread, then open the new job, which is no file yet."""
        template, assets, chosen, title = self._template, self._assets, dict(self.chosen), self.job_title.text()
        words = {
            place: field.text().replace(" / ", "\n")
            for place, field in self.words.items()
            if field.text().replace(" / ", "\n") != self._texts[place]
        }

        def make(_desk: BookDesk, _now_ms: int) -> tuple[Job, dict[str, bytes]]:
            from honest_edge.app.edits.fill_template import fill_template

            return fill_template(template, assets, title, chosen, words)

        def made(found: tuple[Job, dict[str, bytes]]) -> None:
            self.accept()
            self._host.make_again(*found)

        self._ask(make, made)
