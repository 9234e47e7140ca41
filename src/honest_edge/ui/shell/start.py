"""Starts the window, or takes its pictures, or puts the application into the desktop's menu."""

from __future__ import annotations

import argparse
import atexit
import os
import sys
import tempfile
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, get_args

import platformdirs

from honest_edge import __version__
from honest_edge.files.prefs import ThemeChoice
from honest_edge.ui.shell.display_check import check
from honest_edge.ui.shell.practice_offer import PracticeOffer
from honest_edge.ui.shell.run_offer import RunOffer

if TYPE_CHECKING:
    from PyQt6.QtGui import QIcon
    from PyQt6.QtWidgets import QApplication

    from honest_edge.files.prefs import Prefs, PrefsFile
    from honest_edge.ui.shell.main_window import MainWindow

_WRONG = 2
_ICON_SIZES = (16, 32, 48, 128)
_DEMO_PICTURES = 9


def parser() -> argparse.ArgumentParser:
    """Return the parser of what the window is started with."""
    options = argparse.ArgumentParser(
        prog="honest-edge",
        description="Turn artwork into print-then-cut stickers with an honest edge.",
        epilog="commands without a window:\n"
        "  honest-edge outline ART --width 60mm     trace one picture (see honest-edge outline --help)\n"
        "  honest-edge prepare ART... --out DIR     write print and cut files (see honest-edge prepare --help)\n"
        "  honest-edge profile ART --width 60mm     forecast the cut edge (see honest-edge profile --help)\n"
        "  honest-edge check FILE.hedge             say what would go wrong (see honest-edge check --help)\n"
        "  honest-edge bench measure PICTURE...     measure your bench (see honest-edge bench --help)\n"
        "  honest-edge book export --out DIR        read out what was kept (see honest-edge book --help)",
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    options.add_argument("files", nargs="*", type=Path, help="a *.hedge job to open, or pictures to add")
    options.add_argument("--demo", action="store_true", help="open the demo job, Quillwort Tea Garden")
    options.add_argument("--pictures", type=Path, metavar="DIR", help="write a picture of every main view and stop")
    options.add_argument("--theme", choices=get_args(ThemeChoice), help="the window’s colours; remembered")
    options.add_argument("--units", choices=("mm", "in"), help="units shown; remembered")
    options.add_argument("--add-to-desktop", action="store_true", help="add it to your desktop’s menu and stop")
    options.add_argument("--remove-from-desktop", action="store_true", help="take it out of that menu again and stop")
    options.add_argument("--debug", action="store_true", help="log more, and to standard error too")
    options.add_argument("--version", action="version", version=f"honest-edge {__version__}")
    return options


def main(arguments: Sequence[str]) -> int:
    """Show the window and return the exit code."""
    options = parser().parse_args(arguments)
    if options.add_to_desktop or options.remove_from_desktop:
        return _in_desktop(is_added=options.add_to_desktop)
    if options.pictures is not None and not os.environ.get("DISPLAY"):
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    why_not = check()
    if why_not is not None:
        print(f"honest-edge: {why_not}", file=sys.stderr)
        return _WRONG
    return _run(options)


def _in_desktop(*, is_added: bool) -> int:
    from honest_edge.core.values.errors import HonestEdgeError
    from honest_edge.files import desktop

    data = Path(platformdirs.user_data_dir())
    try:
        said = desktop.add(data) if is_added else desktop.remove(data)
    except HonestEdgeError as error:
        print(f"honest-edge: {error}", file=sys.stderr)
        return _WRONG
    print(said)
    return 0


def _run(options: argparse.Namespace) -> int:
    from PyQt6.QtWidgets import QApplication

    from honest_edge.files.prefs import PrefsFile

    application = QApplication(["honest-edge"])
    ended_with = _left_whole(application)
    application.setApplicationName("Honest Edge")
    application.setApplicationVersion(__version__)
    application.setDesktopFileName("honest-edge")
    taking = options.pictures is not None
    folder = options.pictures if taking else Path(platformdirs.user_config_dir("honest-edge"))
    file = PrefsFile(folder / (".pictures.json" if taking else "settings.json"))
    if not taking:
        return ended_with(_show(application, file, options, Path(platformdirs.user_state_dir("honest-edge"))))
    with tempfile.TemporaryDirectory() as state:
        return ended_with(_take_pictures(application, file, options, Path(state)))


def _left_whole(application: QApplication) -> Callable[[int], int]:
    """Let the process end without Qt being taken apart; return what is told the code to end with, and returns it.

    PyQt visits every wrapper when it lets go of the application, and now and then one that is gone already: of a
    hundred sessions one to four ended in a fault when all was done. Called last but for that: threads are joined by
    then, and what was registered after this was called.
    """
    codes: list[int] = []

    def end(_kept: QApplication = application) -> None:
        if codes:  # or something went wrong, and ends as it does
            sys.stdout.flush()
            sys.stderr.flush()
            os._exit(codes[0])

    def ended_with(code: int) -> int:
        codes.append(code)
        return code

    atexit.register(end)
    return ended_with


def _icon() -> QIcon:
    from PyQt6.QtGui import QIcon

    from honest_edge.files.desktop import packaging_folder

    icon = QIcon()
    for size in _ICON_SIZES:
        icon.addFile(str(packaging_folder() / "icons" / "hicolor" / f"{size}x{size}" / "apps" / "honest-edge.png"))
    return icon


def _chosen(file: PrefsFile, options: argparse.Namespace, theme: ThemeChoice | None) -> Prefs:
    """Return the user's choices with what was typed, which is remembered."""
    prefs = file.read()
    chosen = replace(prefs, theme=theme or prefs.theme, unit=options.units or prefs.unit)
    if chosen != prefs:
        file.write(chosen)
    return chosen


def _make(application: QApplication, file: PrefsFile, state: Path) -> MainWindow:
    from honest_edge.ui.shell.main_window import MainWindow
    from honest_edge.ui.widgets import theme

    choice = file.read().theme
    theme.load_fonts()
    theme.take_font_scale(application)
    theme.prepare(application, choice)
    window = MainWindow(file, state / "recovery")
    theme.dress(application, choice)
    return window


def _take_pictures(application: QApplication, file: PrefsFile, options: argparse.Namespace, state: Path) -> int:
    from honest_edge.ui.shell.take_pictures import take_pictures
    from honest_edge.ui.widgets.theme import resolved

    chosen = _chosen(file, options, options.theme or "light")
    return take_pictures(_make(application, file, state), options.pictures, resolved(chosen.theme), chosen.unit)


def _show(application: QApplication, file: PrefsFile, options: argparse.Namespace, state: Path) -> int:
    from honest_edge.ui.shell.first_frame import Frame, ground

    _chosen(file, options, options.theme)
    frame = Frame(ground(file.read().theme))
    frame.show()

    def make() -> MainWindow:
        """What the first frame does not need is loaded behind it: the log, the icon, the window."""
        from honest_edge.files.log import start_log
        from honest_edge.files.memory import keep_memory_together
        from honest_edge.ui.shell.collector import Collector
        from honest_edge.ui.shell.fault_messages import say_crash
        from honest_edge.ui.shell.faults import FaultReporter

        keep_memory_together()
        Collector(application)
        faults = FaultReporter(application)
        faults.install()
        crash = start_log(state / "log", debug=options.debug)
        application.setWindowIcon(_icon())
        window = _make(application, file, state)
        faults.happened.connect(window.show_fault)
        if crash:
            say_crash(window, crash)  # unsaved work that is offered then takes its place
        return window

    frame.fill(make, lambda window: _begin(window, options))
    try:
        return application.exec()
    finally:
        from honest_edge.files.log import stop_log

        stop_log()


def _begin(window: MainWindow, options: argparse.Namespace) -> None:
    window.jobs.offer_recovery()
    run_offer = RunOffer(window)
    run_offer.look()
    window.jobs.offer.brought_back.connect(lambda: run_offer.look())
    PracticeOffer(window, window.jobs.recovery.with_name("practice")).look()
    stations, rooms = ([entry.load for entry in shelf.entries] for shelf in (window.stations, window.workshop))
    window.intake.get_ready(stations, pictures=_DEMO_PICTURES if options.demo else max(1, len(options.files)))

    def after_it() -> None:
        window.settled.disconnect(after_it)
        window.intake.get_ready(rooms)
        window.workshop.keep_in_order()

    window.settled.connect(after_it)  # what was asked for comes first
    if options.demo:
        window.jobs.open_demo()
    elif options.files:
        window.take_files([path.absolute() for path in options.files])
