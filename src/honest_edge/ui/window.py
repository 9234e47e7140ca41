"""The window: path of stations, tray, light table, cards and strip around one document."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QEvent, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from honest_edge.app.overview import Judgement, Overview, Station
from honest_edge.core.values.job import Job
from honest_edge.ui.actions import Actions
from honest_edge.ui.background import Background
from honest_edge.ui.calm_bar import CalmBar
from honest_edge.ui.desk import Desk
from honest_edge.ui.document import Document
from honest_edge.ui.easel import Easel
from honest_edge.ui.hand_tools import HandTools
from honest_edge.ui.layer_work import LayerWork
from honest_edge.ui.path_bar import PathBar
from honest_edge.ui.prefs import Prefs, PrefsFile
from honest_edge.ui.sheet_work import SheetWork
from honest_edge.ui.stations.panels import Panels
from honest_edge.ui.strip import EdgeStrip, Unrolled
from honest_edge.ui.table import LightTable
from honest_edge.ui.theme import THEMES
from honest_edge.ui.top_bar import TopBar
from honest_edge.ui.tray import Tray
from honest_edge.ui.words import whole_percent

if TYPE_CHECKING:
    from honest_edge.app.edge_preview import EdgePreview
    from honest_edge.app.holding import Held
    from honest_edge.app.pipeline import DesignResult
    from honest_edge.app.preview import Preview

_EXACT_DELAY_MS = 140
"""A control that is still moving asks for the first look only."""

_PATIENCE_S = 0.5
_SAME_MM = 0.1


class MainWindow(QMainWindow):
    """Shows what the document holds and turns gestures into edits; computes nothing itself."""

    settled = pyqtSignal()
    previewed = pyqtSignal()

    def __init__(self, prefs_file: PrefsFile, recovery: Path) -> None:
        super().__init__()
        self.prefs_file, self.prefs = prefs_file, prefs_file.read()
        self.tokens = THEMES[self.prefs.theme]
        self.document = Document(recovery, self)
        self.desk = Desk(self.document, self.prefs.unit, prefs_file.profiles)
        self.desk.out_folder = self.prefs.out_folder
        self.background = Background(self.document, self)
        self.pool = self.background.pool
        self._exact_timer = QTimer(self)
        self._exact_timer.setSingleShot(True)
        self._exact_timer.setInterval(_EXACT_DELAY_MS)
        self._exact_timer.timeout.connect(lambda: self._look(self.document.job))
        self.station: Station = "art"
        self._asked_at, self._announced = 0.0, False
        self._build()
        self.layer_work = LayerWork(self.desk, self.background, self.table, lambda: self.panels.layers, self)
        self.sheet_work = SheetWork(self.desk, self.background, self)
        self.easel = Easel(self.desk, self.table, self.strip, self.layer_work, self.sheet_work, self)
        self.tools = HandTools(self)
        self.actions_ = Actions(self)
        self._connect()
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self.setMinimumSize(900, 600)
        self._show_title()
        self._refresh()
        self.table.setFocus()

    # -- building ------------------------------------------------------------------------------------

    def _build(self) -> None:
        self.path_bar = PathBar(self.tokens)
        self.tray = Tray()
        self.table = LightTable(self.tokens)
        self.table.set_unit(self.prefs.unit)
        self.strip = EdgeStrip(self.tokens)
        self.bar = CalmBar()
        self.cards = QStackedWidget()
        self.cards.setFixedWidth(300)
        self.panels = Panels(self.desk, self.cards.addWidget)
        middle = QVBoxLayout()
        middle.setSpacing(0)
        middle.setContentsMargins(0, 0, 0, 0)
        for widget in (self.bar, self.table, self.strip):
            middle.addWidget(widget)
        middle.setStretch(1, 1)
        work = QHBoxLayout()
        work.setSpacing(0)
        work.addWidget(self.tray)
        work.addLayout(middle, 1)
        work.addWidget(self.cards)
        whole = QVBoxLayout()
        whole.setSpacing(0)
        whole.setContentsMargins(0, 0, 0, 0)
        self.top_bar = TopBar(self.path_bar)
        whole.addWidget(self.top_bar)
        whole.addLayout(work, 1)
        body = QWidget()
        body.setLayout(whole)
        self.setCentralWidget(body)

    def _connect(self) -> None:
        self.document.changed.connect(self._on_job)
        self.document.file_changed.connect(self._show_title)
        self.desk.said.connect(lambda text: self.say(text, tone="danger"))
        self.background.looking.done.connect(lambda seen: self._on_overview(cast(Overview, seen)))
        self.background.looking.progress.connect(self._on_progress)
        self.background.previewing.done.connect(lambda preview: self._on_preview(cast("Preview", preview)))
        self.background.dragging.done.connect(lambda preview: self._on_edge_preview(cast("EdgePreview", preview)))
        self.desk.place_wanted.connect(self.table.go_to)
        self.desk.split_wanted.connect(self._split)
        self.background.looking.failed.connect(lambda text: self.say(text, tone="danger"))
        self.background.judging.done.connect(lambda found: self._on_judgement(cast("Judgement", found)))
        self.background.found.connect(self._on_found)
        self.path_bar.chosen.connect(lambda name: self.go_to(cast(Station, name)))
        self.tray.selected.connect(self.take)
        self.tray.removal_wanted.connect(self._remove)
        self.strip.place_chosen.connect(self.table.go_to)
        self.desk.redraw_wanted.connect(lambda: self._draw(force=True, refit=self.station == "edge"))
        self.desk.edge_wanted.connect(self._refresh_edge)
        self.easel.offset_moved.connect(self._on_offset_moved)
        self.easel.offset_released.connect(self._on_offset_released)
        self.sheet_work.changed.connect(self._refresh)
        self.sheet_work.held.connect(lambda held: self._on_held(cast("Held", held)))
        self.layer_work.laid.connect(self._on_layers)
        self.layer_work.fonts_found.connect(self._on_layers)

    # -- what is in hand -----------------------------------------------------------------------------

    def go_to(self, station: Station) -> None:
        """Visit a station."""
        if station != self.station and self.table.tool:
            self.tools.lay_down()
        self.station = station
        self.path_bar.buttons[station].setChecked(True)
        self._refresh(refit=True)
        self._warm()
        self._judge()

    def take(self, key: str) -> None:
        """Take a design in hand."""
        if key == self.desk.current:
            return
        self.desk.current = key
        self.layer_work.put_together()
        self._forget_judgement()
        self._refresh(refit=True)
        self._warm()
        self._judge()

    def say(self, text: str, *, tone: str = "", actions: Sequence[tuple[str, object]] = ()) -> None:
        """Show one calm line."""
        self.bar.say(text, tone=tone, actions=actions)  # type: ignore[arg-type]

    def _split(self) -> None:
        result = self.desk.result
        if result is None or result.design != self.desk.design:
            return
        from honest_edge.app.splitting import split

        job = self.desk.build(lambda: split(self.document.job, result))
        if job is not None:
            count = len(job.designs) - len(self.document.job.designs) + 1
            self.document.edit(job, f"split into {count} designs")
            self.say(f"{result.design.name} is {count} designs now.", actions=[("Undo", self.document.undo_stack.undo)])

    def _remove(self, key: str) -> None:
        name = self.document.job.design(key).name
        self.document.edit(self.document.job.without(key), f"remove {name}")
        self.say(f"“{name}” was removed.", actions=[("Undo", self.document.undo_stack.undo)])

    # -- computing -----------------------------------------------------------------------------------

    def _on_job(self) -> None:
        job = self.document.job
        keys = [design.key for design in job.designs]
        if self.desk.current not in keys:
            self.desk.current = keys[0] if keys else None
        self.desk.fresh = {key: result for key, result in self.desk.fresh.items() if key in keys}
        self._forget_judgement()
        self._show_title()
        self.layer_work.put_together()
        self._refresh()
        if self._preview():
            self.background.looking.cancel()  # the older request gives way at once
            self._exact_timer.start()
        else:
            self._exact_timer.stop()
            self._look(job)

    def _on_layers(self) -> None:
        if self.station == "art":
            self._refresh()
        self.previewed.emit()

    def _preview(self) -> bool:
        """Show at screen scale what changed of the outline in hand; return whether there is anything to show."""
        design, last = self.desk.design, self.desk.result
        if self.station != "outline" or design is None or last is None:
            return False
        if design == last.design or design != replace(last.design, outline=design.outline):
            return False

        self.background.preview(design, last)
        return True

    def _warm(self) -> None:
        result = self.desk.result
        if self.station == "outline" and result is not None:
            self.background.warm(result.artwork)

    def _on_preview(self, preview: Preview) -> None:
        if self.station != "outline":
            return
        self.easel.draw_outline_preview(preview, self.tokens)
        self.previewed.emit()

    def _look(self, job: Job) -> None:
        if not job.designs:
            self.background.looking.cancel()
            self._on_overview(Overview(job=job, results={}, errors={}, plan=None, plan_error=None))
            return
        self._asked_at = time.monotonic()
        self.background.look(job, self.desk.current)

    def _on_progress(self, share: float, words: str) -> None:
        """Say what takes long; what is done at once is not announced."""
        if time.monotonic() - self._asked_at >= _PATIENCE_S and not self.bar.is_urgent:
            self.say(f"{words} … {whole_percent(share)}", actions=[("Cancel", self._call_off)])
            self._announced = True

    def _call_off(self) -> None:
        self.background.looking.cancel()
        self._announced = False
        self.say("Called off: what is shown may be older than the settings.", actions=[("Compute", self._look_again)])

    def _look_again(self) -> None:
        self._look(self.document.job)

    def _on_found(self, key: str, result: DesignResult) -> None:
        self.desk.fresh[key] = result
        self.tray.show_result(key, result)
        if key == self.desk.current:
            self._refresh()

    def _on_overview(self, seen: Overview) -> None:
        if self._announced:
            self._announced = False
            self.bar.hide()
        self.desk.seen = seen
        self.desk.fresh = dict(seen.results)
        self.tray.show_overview(seen)
        self.path_bar.show_overview(seen)
        self._refresh()
        self._warm()
        self._judge()
        if not self.background.judging.busy:
            self.settled.emit()

    def _forget_judgement(self) -> None:
        self.sheet_work.forget()
        self.desk.judgement = self.desk.proposed = None
        self.background.judging.cancel()

    def _judge(self) -> None:
        """Judge the edge in hand, or what limits the sheets; only where it is looked at, for it tries much."""
        if self.station == "sheet":
            self.sheet_work.learn()
        design, result, seen = self.desk.design, self.desk.result, self.desk.seen
        if self.station != "edge" or design is None or result is None or self.desk.judgement is not None:
            return
        if result.design == design and seen.job == self.document.job:
            self.background.judge(result, seen)

    def _on_judgement(self, judgement: Judgement) -> None:
        self.desk.judgement = judgement
        if self.station == "edge":
            self.panels.edge.refresh()
            if self.desk.side_by_side:
                self._draw(force=True, refit=True)
        self.settled.emit()

    @property
    def busy(self) -> bool:
        """Whether what is shown is still being computed."""
        return self.background.busy or self._exact_timer.isActive()

    def _on_held(self, held: Held) -> None:
        apart = self.desk.length(held.distance_mm, 2)
        self.go_to("sheet")
        self.say(
            f"{held.name} lies over sheet {held.page + 1}: its lines and the sheet's are {apart} apart at most.",
            tone="danger" if held.distance_mm > _SAME_MM else "",
            actions=[("Take it away", self.sheet_work.let_go)],
        )

    # -- showing -------------------------------------------------------------------------------------

    def _show_title(self) -> None:
        title, is_saved = self.document.job.title, self.document.is_saved
        self.setWindowTitle(f"{'' if is_saved else '*'}{title} – Honest Edge")
        self.top_bar.show_job(title, self.document.path, is_saved=is_saved)

    def _refresh(self, *, refit: bool = False) -> None:
        self.tray.show_job(self.document.job, self.desk.current)
        panel = self.panels[self.station]
        self.cards.setCurrentWidget(panel)
        panel.refresh()
        self.strip.setVisible(self.station == "edge")
        self._show_strip()
        self._draw(refit=refit)

    def _draw(self, *, refit: bool = False, force: bool = False) -> None:
        self.easel.draw(self.station, self.tokens, refit=refit, force=force)

    def _show_strip(self) -> None:
        result, job = self.desk.shown_edge, self.document.job
        what = None
        if result is not None:
            what = Unrolled(
                edge=result.edge,
                seen=result.forecast,
                error=job.bench_error,
                stock=job.sheet.stock,
                proposed=self.desk.proposed is not None,
            )
        self.strip.show_edge(what, self.desk.unit)

    def _refresh_edge(self) -> None:
        if self.station == "edge":
            self._show_strip()
            self._draw(force=True)

    def _on_offset_moved(self, offset_mm: float) -> None:
        """Look at a dragged offset; the job changes when the hand lets go."""
        design, result = self.desk.design, self.desk.result
        if design is not None and result is not None:
            self.background.drag(result, replace(design.edge, offset_mm=offset_mm), self.document.job)

    def _on_edge_preview(self, preview: EdgePreview) -> None:
        if self.station == "edge":
            self.easel.draw_edge_preview(preview, self.tokens)
            self.panels.edge.show_dragged(preview)
            self.previewed.emit()

    def _on_offset_released(self, offset_mm: float) -> None:
        self.background.dragging.cancel()
        # the grip itself is drawn anew, so its own event has to end first
        QTimer.singleShot(0, lambda: self.panels.edge.take_offset(offset_mm))

    # -- choices of this user ------------------------------------------------------------------------

    def set_prefs(self, prefs: Prefs) -> None:
        """Take and remember choices."""
        self.prefs = prefs
        self.prefs_file.write(prefs)
        self.desk.unit, self.desk.out_folder = prefs.unit, prefs.out_folder
        self.table.set_unit(prefs.unit)
        self.tokens = THEMES[prefs.theme]
        self.table.set_tokens(self.tokens)
        self.path_bar.set_tokens(self.tokens)
        self.strip.tokens = self.tokens
        self.strip.update()
        self._refresh()

    # -- events --------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and not event.isAutoRepeat():
            if event.key() == Qt.Key.Key_B:
                self.table.show_before(True)
            elif event.key() == Qt.Key.Key_Escape and self.table.tool:
                self.tools.lay_down()
            elif event.key() == Qt.Key.Key_0:
                self.table.show_all()
            elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self.station == "edge":
                self.strip.next_spot(1 if event.key() == Qt.Key.Key_Right else -1)
        if event is not None and self._has_layers:
            self.layer_work.take_key(event)
        super().keyPressEvent(event)

    @property
    def _has_layers(self) -> bool:
        return self.station == "art" and self.desk.design is not None and self.desk.design.is_layered

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_B and not event.isAutoRepeat():
            self.table.show_before(False)
        super().keyReleaseEvent(event)

    def changeEvent(self, event: QEvent | None) -> None:
        if event is not None and event.type() == QEvent.Type.ActivationChange and not self.isActiveWindow():
            self.table.show_before(False)  # the key may be let go elsewhere
        super().changeEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        mime = event.mimeData() if event else None
        if event is not None and mime is not None and mime.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        mime = event.mimeData() if event else None
        if mime is not None:
            self.actions_.take_files([Path(url.toLocalFile()) for url in mime.urls() if url.isLocalFile()])

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if not self.actions_.may_leave():
            event.ignore()
            return
        self._exact_timer.stop()
        self.background.cancel()
        self.actions_.stop()
        self.pool.wait(5.0)
        self.document.drop_recovery()
        event.accept()
