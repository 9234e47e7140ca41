"""Library: designs and whole sheets that are kept, found by their looks and by a word."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QDialog, QLabel, QLineEdit, QVBoxLayout, QWidget

from honest_edge.core.values.book_records import KeptWork
from honest_edge.ui.rooms.book.ledger import Column, day_cell, text_cell
from honest_edge.ui.rooms.book.section import Section
from honest_edge.ui.shared.note_dialog import NoteDialog
from honest_edge.ui.widgets.fields import button, counted, greyed, label
from honest_edge.ui.widgets.local import shown_length
from honest_edge.ui.widgets.theme import px

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QPushButton

    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.found import Found, LibraryRow
    from honest_edge.core.values.job import Job

_KINDS = {"design": "Design", "template": "Template"}
_PICTURE_PX = 330
_UNKEPT = "a" * 32  # the desk names the job when it keeps it

COLUMNS: tuple[Column[Any], ...] = (
    Column("Kept", lambda row: day_cell(row.at_ms), picture=lambda row: row.picture),
    Column("Name", lambda row: text_cell(row.work.name)),
    Column("What", lambda row: text_cell(_KINDS[row.work.what])),
    Column("Size", lambda row: text_cell(row.work.size)),
    Column("Found by", lambda row: text_cell(row.work.words)),
)


class LibrarySection(Section):
    """Keeps what is in hand, and lays it into the job or makes a new one of it."""

    key, title, noun, search, columns = "library", "Library", "work", "Search a name or a word", COLUMNS
    beside_first, row_px = True, 56
    filters = (
        ("designs", lambda row: row.work.what == "design"),
        ("templates", lambda row: row.work.what == "template"),
    )
    empty = (
        "Nothing is kept yet.\n\nTake a design in hand, then “Keep this design…”: its original, its edge and "
        "its size come back with one click.\n“Keep as a template…” keeps a whole sheet; “Next one like this…” "
        "then asks for other art and words."
    )

    def look(self, desk: BookDesk, words: str, now_ms: int) -> Found[Any]:
        return desk.library(words, now_ms)

    def sum_of(self, rows: Sequence[LibraryRow]) -> str:
        templates = sum(row.work.what == "template" for row in rows)
        return f"{counted(len(rows) - templates, 'design')}, {counted(templates, 'template')}"

    def tip(self, row: LibraryRow) -> str:
        return row.work.name

    def ways_on(self) -> Sequence[QPushButton]:
        self._picked: LibraryRow | None = None
        self.use = button("Lay it into this job", lambda: self.act_on(self._picked), filled=True)
        self.keep_design = button("Keep this design…", self._ask_design)
        self.keep_template = button("Keep as a template…", self._ask_template)
        self.drop = button("Take it out", self._drop)
        return self.use, self.keep_design, self.keep_template, self.drop

    def beside(self) -> QWidget:
        widget = QWidget()
        column = QVBoxLayout(widget)
        column.setContentsMargins(0, 0, 0, 0)
        self.words, self.told = label("", "heading"), label("", "soft")
        self.picture = QLabel()
        for part in (self.words, self.picture, self.told):
            column.addWidget(part)
        column.addStretch(1)
        return widget

    def show_picked(self, row: LibraryRow | None) -> None:
        self._picked = row
        for way in (self.use, self.drop):
            greyed(way, "" if row is not None else "Pick something in the list first")
        is_template = row is not None and row.work.what == "template"
        self.use.setText("Next one like this…" if is_template else "Lay it into this job")
        self.words.setText("" if row is None else row.work.name)
        self.told.setText("" if row is None else f"{_KINDS[row.work.what]}, {row.work.size}")
        self.picture.clear()
        pixmap = QPixmap()
        if row is not None and pixmap.loadFromData(row.picture):
            self.picture.setAccessibleName(f"Picture of {row.work.name}")
            mode = Qt.TransformationMode.SmoothTransformation
            self.picture.setPixmap(pixmap.scaledToWidth(min(pixmap.width(), px(_PICTURE_PX)), mode))

    # -- using ---------------------------------------------------------------------------------------

    def act_on(self, row: LibraryRow | None) -> None:
        if row is not None:
            work = row.work
            used = self._fill if work.what == "template" else self._lay
            self.ask(lambda desk, now_ms: desk.kept_job(work.job, now_ms), used)

    def _lay(self, found: tuple[Job, dict[str, bytes]]) -> None:
        """Lay a design into the job in hand, as one step of undo."""
        from honest_edge.app.edits.library import laid_into

        kept, assets = found
        workspace = self.host.workspace
        laid = workspace.build(lambda: laid_into(workspace.job, kept))
        if laid is not None:
            job, key = laid
            workspace.document.holder.assets.update(assets)
            workspace.document.edit(job, f"lay “{kept.title}” in from the library")
            self.host.go_to("art")
            self.host.take(key)

    def _fill(self, found: tuple[Job, dict[str, bytes]]) -> None:
        from honest_edge.ui.rooms.book.template_dialog import TemplateDialog

        self.dialog: QDialog = TemplateDialog(self.host, self.ask, *found)
        self.dialog.open()

    # -- keeping -------------------------------------------------------------------------------------

    def _ask_design(self) -> None:
        workspace = self.host.workspace
        key = workspace.current
        result = workspace.overview.results.get(key or "")
        if key is None or result is None:
            self.host.say("Take a design in hand, and wait until it is computed: then it can be kept.", tone="danger")
            return
        wide, high = (shown_length(value, workspace.unit) for value in (result.width_mm, result.height_mm))
        assets = dict(workspace.document.holder.assets)
        job, name = workspace.job, result.design.name

        def keep(work: KeptWork, desk: BookDesk, now_ms: int) -> bool:
            from honest_edge.app.book.sheet_picture import piece_picture
            from honest_edge.app.edits.library import design_alone

            alone = replace(design_alone(job, key), title=name)
            return desk.keep_work(work, alone, assets, piece_picture(result), now_ms)

        self._ask_name("Keep this design", name, "design", f"{wide} × {high}", keep)

    def _ask_template(self) -> None:
        workspace = self.host.workspace
        overview, job = workspace.overview, workspace.job
        if overview.plan is None:
            self.host.say("Lay out a sheet first: a template keeps how it looks.", tone="danger")
            return
        assets = dict(workspace.document.holder.assets)

        def keep(work: KeptWork, desk: BookDesk, now_ms: int) -> bool:
            from honest_edge.app.book.sheet_picture import sheets_picture

            return desk.keep_work(work, job, assets, sheets_picture(overview), now_ms)

        self._ask_name("Keep this job as a template", job.title, "template", job.sheet.paper_title, keep)

    def _ask_name(self, title: str, name: str, what: Any, size: str, keep: Any) -> None:
        named, words = QLineEdit(name), QLineEdit()
        words.setPlaceholderText("season, customer …")

        def make() -> KeptWork:
            return KeptWork(name=named.text().strip(), what=what, job=_UNKEPT, size=size, words=words.text().strip())

        def said(is_made_up: object) -> None:
            self.look_again()
            where = "the library of the demo’s Book, which goes when the window does" if is_made_up else "the library"
            self.host.say(f"“{named.text().strip()}” is in {where}.", tone="fine")

        def kept(work: KeptWork) -> None:
            self.ask(lambda desk, now_ms: keep(work, desk, now_ms), said)

        fields = (("Name", named, ""), ("Also found by", words, ""))
        self.dialog = NoteDialog(self.host.table.window(), title, fields, make, kept)
        self.dialog.open()

    def _drop(self) -> None:
        """Take the picked one out; what the log says of it stays."""
        row = self._picked
        if row is None:
            return

        def drop(desk: BookDesk, now_ms: int) -> bool:
            from honest_edge.files.book.records import KEPT

            return desk.note([(KEPT, replace(row.work, is_gone=True))], now_ms)

        def put_back() -> None:
            def back(desk: BookDesk, now_ms: int) -> bool:
                from honest_edge.files.book.records import KEPT

                return desk.note([(KEPT, row.work)], now_ms)

            self.ask(back, lambda _made_up: self.look_again())

        def dropped(_made_up: object) -> None:
            self.look_again()
            self.host.say(f"“{row.work.name}” is out of the library.", actions=[("Put it back", put_back)])

        self.ask(drop, dropped)
