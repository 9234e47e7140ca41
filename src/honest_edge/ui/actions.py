"""What menus, keys and buttons do: files, undo, adding art, writing, choices."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QApplication, QFileDialog, QMenu, QMessageBox, QToolButton

from honest_edge.app.holder import formed_design, lettered_design, with_designs
from honest_edge.core.values.errors import Cancelled, HonestEdgeError
from honest_edge.core.values.forms import PRESETS, Preset
from honest_edge.core.values.job import Design, Job
from honest_edge.files.kinds import PROJECT_SUFFIX
from honest_edge.ui import theme
from honest_edge.ui.asking import PICTURES, ask_cut
from honest_edge.ui.drawing import png_of
from honest_edge.ui.output import Output
from honest_edge.ui.tasks import LatestOnly

if TYPE_CHECKING:
    from honest_edge.app.pipeline import IsCancelled, Report
    from honest_edge.core.values.layers import Picture
    from honest_edge.ui.window import MainWindow

_CUT_ONLY = (".dxf", ".plt")
"""What holds cuts and never art; an SVG or a PDF may be either."""
_PROJECTS = f"Honest Edge jobs (*{PROJECT_SUFFIX})"


class Actions:
    """Every action of the window, with its key."""

    def __init__(self, window: MainWindow) -> None:
        self.window = window
        self.adding = LatestOnly(window.pool, window)
        self.reading = LatestOnly(window.pool, window)
        self.output = Output(window)
        self._build()
        self._connect()

    # -- building ------------------------------------------------------------------------------------

    def _build(self) -> None:
        window, undo_stack = self.window, self.window.document.undo_stack
        menu = QMenu(window)
        self._action(menu, "New job", "Ctrl+N", self.new)
        self._action(menu, "Open job…", "Ctrl+O", self.open)
        self._action(menu, "Open the demo job", "", self.open_demo)
        self._action(menu, "Save", "Ctrl+S", self.save)
        self._action(menu, "Save as…", "Ctrl+Shift+S", self.save_as)
        menu.addSeparator()
        self._action(menu, "Add art…", "Ctrl+I", self.add_art)
        making = QMenu("Make a design", menu)
        self._action(making, "Words", "Ctrl+Shift+N", self.start_with_words)
        making.addSeparator()
        for preset in PRESETS:
            self._action(making, preset.name, "", partial(self.start_with_form, preset))
        menu.addMenu(making)
        window.tray.make.setMenu(making)
        self._action(menu, "Paste a picture", "Ctrl+V", self.paste)
        self._action(menu, "Remove this design", "", self._remove_current)
        self._action(menu, "Write files…", "Ctrl+E", self.output.write)
        self._action(menu, "Print…", "Ctrl+P", self.output.print)
        self._action(menu, "Hold a cut file against the sheet…", "", self.hold_cut)
        menu.addSeparator()
        self._action(menu, "Show all of the table", "Ctrl+0", window.table.show_all)
        self._action(menu, "Closer", "Ctrl++", lambda: window.table.zoom_by(1.25))
        self._action(menu, "Farther", "Ctrl+-", lambda: window.table.zoom_by(0.8))
        self.caliper = self._action(menu, "Caliper: drag to measure", "M", lambda: None)
        self.caliper.setCheckable(True)
        self.caliper.toggled.connect(window.table.set_caliper)
        self._action(menu, "Light or dark", "Ctrl+T", self._swap_theme)
        menu.addSeparator()
        self._action(menu, "Quit", "Ctrl+Q", self._quit)
        undo = undo_stack.createUndoAction(window, "Undo")
        redo = undo_stack.createRedoAction(window, "Redo")
        for action, key in ((undo, QKeySequence.StandardKey.Undo), (redo, QKeySequence.StandardKey.Redo)):
            if action is not None:
                action.setShortcuts(QKeySequence.keyBindings(key))
                window.addAction(action)
                self._tool(action)
        self.units = QAction(window.prefs.unit, window)
        self.units.setToolTip("Millimetres or inches (Ctrl+U)")
        self.units.setShortcut("Ctrl+U")
        self.units.triggered.connect(lambda _checked: self._swap_unit())
        window.addAction(self.units)
        self._tool(self.units)
        opener = QToolButton()
        opener.setText("Menu")
        opener.setMenu(menu)
        opener.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        opener.setToolTip("Everything else (F10)")
        opener.setShortcut("F10")
        window.top_bar.tools.addWidget(opener)
        self.menu = menu

    def _action(self, menu: QMenu, name: str, key: str, act: Callable[[], object]) -> QAction:
        action = QAction(name, self.window)
        if key:
            action.setShortcut(key)
        action.triggered.connect(lambda _checked: act())
        menu.addAction(action)
        self.window.addAction(action)
        return action

    def _tool(self, action: QAction) -> None:
        made = QToolButton()
        made.setDefaultAction(action)
        self.window.top_bar.tools.addWidget(made)
        if action.text().split(" ")[0] in ("Undo", "Redo"):
            self._keep_short(made, action, action.text().split(" ")[0])

    @staticmethod
    def _keep_short(made: QToolButton, action: QAction, name: str) -> None:
        """The stack writes the step into the action's text; the button keeps its place and size."""

        def show() -> None:
            made.setText(name)
            made.setToolTip(f"{action.text()} ({action.shortcut().toString()})")

        show()
        action.changed.connect(show)

    def _connect(self) -> None:
        window = self.window
        window.tray.add_wanted.connect(self.add_art)
        window.desk.picture_wanted.connect(self._read_picture)
        self.reading.failed.connect(lambda text: window.say(text, tone="danger"))
        self.reading.done.connect(lambda found: found[1](found[0]))
        self.adding.done.connect(lambda found: self._on_added(*cast("tuple[Job, list[Design], list[str]]", found)))
        self.adding.failed.connect(lambda text: window.say(text, tone="danger"))
        self.adding.progress.connect(lambda _share, text: window.say(text, actions=[("Cancel", self.adding.cancel)]))

    # -- jobs ----------------------------------------------------------------------------------------

    def _quit(self) -> None:
        top = self.window.window()
        if top is not None:
            top.close()

    def may_leave(self) -> bool:
        """Ask about unsaved work; return whether it may be left."""
        document = self.window.document
        if document.is_saved or not document.job.designs:
            return True
        answer = self.ask_to_save(self.window, document.job.title)
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    @staticmethod
    def ask_to_save(window: MainWindow, title: str) -> QMessageBox.StandardButton:
        """Ask whether to keep unsaved work."""
        return QMessageBox.question(
            window,
            "Save first?",
            f"“{title}” has changes that are not saved.",
            QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Discard | QMessageBox.StandardButton.Cancel,
        )

    def new(self) -> None:
        """Start an empty job."""
        if self.may_leave():
            self.window.document.start(Job(), {}, None)
            self.window.document.drop_recovery()

    def open(self) -> None:
        """Choose a job and open it."""
        if not self.may_leave():
            return
        name, _ = QFileDialog.getOpenFileName(self.window, "Open job", self.window.prefs.folder, _PROJECTS)
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> None:
        """Open a job; the present one stays where that fails."""
        try:
            self.window.document.open(path)
        except HonestEdgeError as error:
            self.window.say(str(error), tone="danger")
            return
        self.window.document.drop_recovery()
        self._remember_folder(path)

    def open_demo(self) -> None:
        """Open the job that ships with the application."""
        if self.may_leave():
            from honest_edge.app.starting import demo_project

            self.window.document.start(*demo_project(), None)

    def offer_recovery(self) -> None:
        """Offer what a session that ended badly left behind."""
        document = self.window.document
        found = document.recovered()
        if found is None:
            return
        job, assets = found
        self.window.say(
            f"Unsaved work on “{job.title}” was kept from last time.",
            actions=[
                ("Bring it back", lambda: document.start(job, assets, None, saved=False)),
                ("Discard it", document.drop_recovery),
            ],
        )

    def save(self) -> bool:
        """Save the job; return whether that was done."""
        path = self.window.document.path
        return self.save_as() if path is None else self._save_to(path)

    def save_as(self) -> bool:
        """Choose a place and save the job there."""
        document = self.window.document
        start = str(Path(self.window.prefs.folder) / f"{document.job.title}{PROJECT_SUFFIX}")
        name, _ = QFileDialog.getSaveFileName(self.window, "Save job", start, _PROJECTS)
        if not name:
            return False
        path = Path(name)
        path = path if path.suffix == PROJECT_SUFFIX else path.with_name(path.name + PROJECT_SUFFIX)
        if document.job.title == "Untitled":
            document.edit(replace(document.job, title=path.stem), "title")
        return self._save_to(path)

    def _save_to(self, path: Path) -> bool:
        try:
            self.window.document.save(path)
        except HonestEdgeError as error:
            self.window.say(str(error), tone="danger")
            return False
        self._remember_folder(path)
        return True

    def _remember_folder(self, path: Path) -> None:
        self.window.set_prefs(replace(self.window.prefs, folder=str(path.parent)))

    # -- art -----------------------------------------------------------------------------------------

    def add_art(self) -> None:
        """Choose pictures and add them."""
        names, _ = QFileDialog.getOpenFileNames(self.window, "Add art", self.window.prefs.folder, PICTURES)
        self.take_files([Path(name) for name in names])

    def start_with_words(self) -> None:
        """Add a design that is one lettering, ready to be typed over."""
        self._start(lettered_design(self.window.document.job), "start with words")

    def start_with_form(self, preset: Preset) -> None:
        """Add a design on a form."""
        self._start(formed_design(self.window.document.job, preset), f"make a {preset.name.lower()}")

    def _start(self, design: Design, words: str) -> None:
        window = self.window
        window.document.edit(with_designs(window.document.job, [design]), words)
        window.take(design.key)
        window.go_to("art")
        window.panels.layers.take(tuple(layer.key for layer in design.layers[:1]))

    def _read_picture(self, path: Path, take: Callable[[Picture], None]) -> None:
        """Read a picture for a layer away from the interface."""
        holder = self.window.document.holder

        def work(*, report: Report, cancelled: IsCancelled) -> tuple[Picture, Callable[[Picture], None]]:
            from honest_edge.app.starting import picture_from
            from honest_edge.files.read_art import read_bytes

            return picture_from(holder, read_bytes(path), path.name, cancelled=cancelled), take

        self.reading.submit(work)

    def paste(self) -> None:
        """Add what the clipboard holds: files, a drawing or a picture."""
        clipboard = QApplication.clipboard()
        mime = clipboard.mimeData() if clipboard is not None else None
        if mime is None:
            return
        if mime.hasUrls():
            self.take_files([Path(url.toLocalFile()) for url in mime.urls() if url.isLocalFile()])
        elif mime.hasFormat("image/svg+xml"):
            self._take([("Clipboard.svg", lambda: bytes(mime.data("image/svg+xml").data()))])
        elif mime.hasImage() and clipboard is not None:
            png = png_of(clipboard.image())
            self._take([("Clipboard.png", lambda: png)])
        else:
            self.window.say("The clipboard holds no picture: copy one first, or press Ctrl+I")

    def take_files(self, paths: list[Path]) -> None:
        """Open a dropped job, hold a dropped cut file, or add dropped pictures and all pictures of dropped folders."""
        if len(paths) == 1 and paths[0].suffix == PROJECT_SUFFIX:
            if self.may_leave():
                self.open_path(paths[0])
            return
        if len(paths) == 1 and paths[0].suffix.lower() in _CUT_ONLY:
            self.window.sheet_work.hold(paths[0])
            return
        from honest_edge.files.read_art import pictures_in, read_bytes

        wanted: list[tuple[str, Callable[[], bytes]]] = []
        for path in paths:
            inside = pictures_in(path) if path.is_dir() else [path]
            if not inside:
                self.window.say(f"{path} holds no picture that can be read", tone="danger")
            wanted += [(file.name, lambda file=file: read_bytes(file)) for file in inside]  # type: ignore[misc]
        self._take(wanted)

    def _take(self, wanted: list[tuple[str, Callable[[], bytes]]]) -> None:
        if not wanted:
            return
        holder, job = self.window.document.holder, self.window.document.job

        def work(*, report: Report, cancelled: IsCancelled) -> tuple[Job, list[Design], list[str]]:
            from honest_edge.app.starting import design_from

            grown, designs, refused = job, [], []
            for index, (name, read) in enumerate(wanted):
                if cancelled():
                    raise Cancelled
                report(index / len(wanted), f"Reading {name}, {index + 1} of {len(wanted)}")
                try:
                    design = design_from(holder, grown, read(), name, cancelled=cancelled)
                except HonestEdgeError as error:
                    refused.append(str(error))
                    continue
                designs.append(design)
                grown = with_designs(grown, [design])
            return job, designs, refused

        self.adding.submit(work)

    def _on_added(self, read_for: Job, designs: list[Design], refused: list[str]) -> None:
        window = self.window
        if refused:
            more = f" (and {len(refused) - 1} more)" if len(refused) > 1 else ""
            window.say(refused[0] + more, tone="danger")
        else:
            window.bar.hide()
        if not designs:
            return
        job = window.document.job
        if job is not read_for:  # the job moved on meanwhile: its keys may be taken
            designs = [
                replace(design, key=with_designs(job, designs[:n]).free_key()) for n, design in enumerate(designs)
            ]
        words = f"add {designs[0].name}" if len(designs) == 1 else f"add {len(designs)} pictures"
        window.document.edit(with_designs(job, designs), words)
        window.take(designs[0].key)
        window.go_to("art")

    def _remove_current(self) -> None:
        if self.window.desk.current is not None:
            self.window.tray.removal_wanted.emit(self.window.desk.current)

    # -- cut files ------------------------------------------------------------------------------------

    def hold_cut(self) -> None:
        """Choose a cut file and show it over the sheet."""
        path = ask_cut(self.window, self.window.prefs.out_folder)
        if path is not None:
            self.window.sheet_work.hold(path)

    # -- choices -------------------------------------------------------------------------------------

    def _swap_unit(self) -> None:
        unit = "in" if self.window.prefs.unit == "mm" else "mm"
        self.units.setText(unit)
        self.window.set_prefs(replace(self.window.prefs, unit=unit))  # type: ignore[arg-type]

    def _swap_theme(self) -> None:
        name: theme.ThemeName = "dark" if self.window.prefs.theme == "light" else "light"
        application = QApplication.instance()
        if isinstance(application, QApplication):
            theme.apply(application, name)
        self.window.set_prefs(replace(self.window.prefs, theme=name))

    def stop(self) -> None:
        """Call off what still runs."""
        self.adding.cancel()
        self.reading.cancel()
        self.output.call_off()
