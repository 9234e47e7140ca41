"""The start page: what was done last, where art goes, what can be made, templates, the demo."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from honest_edge.core.values.forms import PRESETS
from honest_edge.ui.shared.asker import Asker, Teller
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shell.start_page import drawings
from honest_edge.ui.shell.start_page.begin_line import BeginLine
from honest_edge.ui.shell.start_page.bench_questions import BenchQuestions
from honest_edge.ui.shell.start_page.recent_list import RecentList
from honest_edge.ui.widgets.fields import button, label
from honest_edge.ui.widgets.layouts import scroll_downward
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.tiles import Draw, Tile, TileGrid, heading

if TYPE_CHECKING:
    from honest_edge.ui.shell.art_intake import ArtIntake
    from honest_edge.ui.shell.job_files import JobFiles

_BESIDE_PX, _NARROW_PX = 360, 900
_PRESET = {preset.name: preset for preset in PRESETS}


class StartPage(QScrollArea):
    """Shown while no job is in hand."""

    def __init__(self, host: Host, jobs: JobFiles, intake: ArtIntake, recent: RecentList) -> None:
        super().__init__()
        self._host, self._jobs, self._intake, self._recent = host, jobs, intake, recent
        self._ask = Asker(host)
        self.setObjectName("startPage")
        scroll_downward(self)
        body = QWidget()
        body.setObjectName("startBody")
        across = QHBoxLayout(body)
        across.setContentsMargins(36, 22, 36, 22)
        across.setSpacing(36)
        self._main = QVBoxLayout()
        self._main.setSpacing(10)
        across.addLayout(self._main, 1)
        self._beside = QVBoxLayout()
        self._beside.setSpacing(12)
        holder = QWidget()
        holder.setLayout(self._beside)
        self._beside.setContentsMargins(0, 0, 0, 0)
        holder.setFixedWidth(px(_BESIDE_PX))
        across.addWidget(holder)
        self._drawn: list[tuple[Tile, Draw]] = []
        self._build()
        self.setWidget(body)
        self.look_changed()

    # -- building ------------------------------------------------------------------------------------

    def _build(self) -> None:
        self.recent_title = heading("Go on with")
        self.recent = TileGrid(190, rows=1)
        self._add(self.recent_title, self.recent)
        self._add(self._build_drop())
        self.making = TileGrid(128)
        self._add(heading("Or make"), self.making)
        tags = partial(self._intake.start_with_table, _PRESET["Tag with eyelet"])
        self.making.show_tiles(
            [
                self._made("Sticker", "from a picture", drawings.draw_sticker, self._intake.choose),
                self._form("Sheet of stickers", "kiss-cut, one rim", drawings.draw_sheet, "Sticker sheet"),
                self._form("Label for a jar", "round, your size", drawings.draw_jar, "Round label"),
                self._made("Tags", "one a row of a table", drawings.draw_tags, tags),
                self._form("Card", "folded once", drawings.draw_card, "Folded card, A6"),
            ]
        )
        self.templates_title = heading("Next one like")
        self.templates = TileGrid(190, rows=1)
        self._add(self.templates_title, self.templates)
        self._main.addStretch(1)
        self._build_beside()

    def _build_drop(self) -> QWidget:
        self.drop_target = QFrame()
        self.drop_target.setProperty("drop", True)
        inside = QVBoxLayout(self.drop_target)
        inside.setContentsMargins(20, 16, 20, 16)
        inside.setSpacing(8)
        inside.addStretch(1)
        words = label("Drop a picture here")
        words.setObjectName("big")
        words.setAlignment(Qt.AlignmentFlag.AlignCenter)
        inside.addWidget(words)
        kinds = "PNG, JPEG, SVG, PDF, PSD, TIFF or WebP, or a whole folder of them; a table (CSV) becomes labels"
        under = label(kinds, "soft")
        under.setAlignment(Qt.AlignmentFlag.AlignCenter)
        inside.addWidget(under)
        line = QHBoxLayout()
        line.setSpacing(8)
        self.choose = button("Choose pictures…", self._intake.choose, filled=True)
        self.choose.setToolTip("Ctrl+I")
        self.paste = button("Paste", self._intake.paste)
        self.paste.setToolTip("What the clipboard holds (Ctrl+V)")
        self.open = button("Open a job…", self._jobs.open)
        self.open.setToolTip("Ctrl+O")
        line.addStretch(1)
        for one in (self.choose, self.paste, self.open):
            line.addWidget(one)
        line.addStretch(1)
        inside.addLayout(line)
        inside.addStretch(1)
        self.begin = BeginLine(self._host, self._on_bench_said)
        inside.addWidget(self.begin)
        return self.drop_target

    def _build_beside(self) -> None:
        self.questions: BenchQuestions | None = None
        self._beside.addWidget(heading("Look first"))
        self.demo = self._made("The demo job", "a tea garden, finished", drawings.draw_demo, self._jobs.open_demo)
        self.practice = self._made(
            "Practise",
            "without paper",
            drawings.draw_practice,
            lambda: self._host.go_to("practice"),
        )
        look = TileGrid(150)
        look.show_tiles([self.demo, self.practice])
        self._beside.addWidget(look)
        self._beside.addStretch(1)

    def _made(self, name: str, detail: str, draw: Draw, act: Callable[[], object]) -> Tile:
        tile = Tile(name, detail, act)
        self._drawn.append((tile, draw))
        return tile

    def _form(self, name: str, detail: str, draw: Draw, preset: str) -> Tile:
        return self._made(name, detail, draw, lambda: self._intake.start_with_form(_PRESET[preset]))

    def _add(self, *widgets: QWidget) -> None:
        for widget in widgets:
            self._main.addWidget(widget)

    # -- showing -------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show what is so now: the latest jobs, the templates, whether the bench was asked about."""
        self._show_questions()
        self.begin.refresh()
        tiles, said = self._recent.tiles(self._open, self.refresh)
        self.recent.show_tiles(tiles)
        for part in (self.recent_title, self.recent):
            part.setVisible(bool(tiles))
        self.drop_target.setMinimumHeight(px(150 if tiles else 300))
        if said:
            self._host.say(said, tone="danger")
        self._show_templates(())
        self._ask(lambda desk, now_ms: desk.library("", now_ms).rows, self._show_templates)

    def _show_questions(self) -> None:
        """Ask about the bench at the first start; later nothing of it is made."""
        if self.questions is None and self._host.prefs.bench_asked == "no":
            self.questions = BenchQuestions(self._host, self._on_bench_said)
            self._beside.insertWidget(0, self.questions)
        if self.questions is not None:
            self.questions.setVisible(self._host.prefs.bench_asked == "no")

    def _on_bench_said(self) -> None:
        """Let the empty job in hand begin with what was said to be usual."""
        self._jobs.begin_empty_anew()
        self.refresh()

    def _show_templates(self, rows: Any) -> None:
        tiles = []
        for row in rows:
            if row.work.what == "template":
                tile = Tile(row.work.name, row.work.size, partial(self._use, row.work.job), high_px=96)
                tile.show_picture(row.picture)
                tiles.append(tile)
        self.templates.show_tiles(tiles)
        for part in (self.templates_title, self.templates):
            part.setVisible(bool(tiles))

    def _use(self, key: str) -> None:
        """Ask for what fills a template."""
        from honest_edge.ui.rooms.book.template_dialog import TemplateDialog

        def found(kept: Any) -> None:
            self.dialog = TemplateDialog(self._host, Teller(self._host), *kept)
            self.dialog.open()

        self._ask(lambda desk, now_ms: desk.kept_job(key, now_ms), found)

    def _open(self, path: Path) -> None:
        self._jobs.open_dropped(path)

    def look_changed(self) -> None:
        """Draw in the colours of the theme, and show what is chosen elsewhere."""
        if self.questions is not None:
            self.questions.show_prefs()
        for tile, draw in self._drawn:
            tile.show_drawing(draw, self._host.tokens)
