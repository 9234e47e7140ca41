"""Starts the window, or takes its pictures."""

from __future__ import annotations

import argparse
import os
import sys
import traceback
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

import platformdirs

from honest_edge.ui.display import check

if TYPE_CHECKING:
    from honest_edge.ui.window import MainWindow

_WRONG = 2


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="honest-edge",
        description="Turn artwork into print-then-cut stickers with an honest edge.",
        epilog="commands without a window:\n"
        "  honest-edge outline ART --width 60mm     trace one picture (see honest-edge outline --help)\n"
        "  honest-edge prepare ART... --out DIR     write print and cut files (see honest-edge prepare --help)",
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    parser.add_argument("files", nargs="*", type=Path, help="a *.hedge job to open, or pictures to add")
    parser.add_argument("--demo", action="store_true", help="open the demo job, Quillwort Tea Garden")
    parser.add_argument("--pictures", type=Path, metavar="DIR", help="write a picture of every main view and stop")
    parser.add_argument("--theme", choices=("light", "dark"), help="light or dark; remembered otherwise")
    parser.add_argument("--units", choices=("mm", "in"), help="units shown; remembered otherwise")
    return parser


def main(arguments: Sequence[str]) -> int:
    """Show the window and return the exit code."""
    options = _parser().parse_args(arguments)
    if options.pictures is not None and not os.environ.get("DISPLAY"):
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    why_not = check()
    if why_not is not None:
        print(f"honest-edge: {why_not}", file=sys.stderr)
        return _WRONG
    return _run(options)


def _run(options: argparse.Namespace) -> int:
    from PyQt6.QtWidgets import QApplication

    from honest_edge.ui.frame import GROUND, Frame
    from honest_edge.ui.prefs import PrefsFile

    application = QApplication(["honest-edge"])
    application.setApplicationName("Honest Edge")
    application.setDesktopFileName("honest-edge")
    sys.excepthook = _excepthook
    taking = options.pictures is not None
    folder = options.pictures if taking else Path(platformdirs.user_config_dir("honest-edge"))
    state = options.pictures if taking else Path(platformdirs.user_state_dir("honest-edge"))
    file = PrefsFile(folder / (".pictures.json" if taking else "settings.json"))
    prefs = file.read()
    chosen = replace(prefs, theme=options.theme or prefs.theme, unit=options.units or prefs.unit)
    if chosen != prefs:
        file.write(chosen)

    def make() -> MainWindow:
        from honest_edge.ui import theme
        from honest_edge.ui.window import MainWindow

        theme.load_fonts()
        theme.prepare(application, chosen.theme)
        window = MainWindow(file, state / "recovery.hedge")
        theme.dress(application, chosen.theme)
        return window

    if taking:
        from honest_edge.ui.pictures import take_pictures

        return take_pictures(make(), options.pictures, chosen.theme, chosen.unit)
    frame = Frame(GROUND[chosen.theme])
    frame.show()
    frame.fill(make, lambda window: _begin(window, options))
    return application.exec()


def _begin(window: MainWindow, options: argparse.Namespace) -> None:
    if options.demo:
        window.actions_.open_demo()
    elif options.files:
        window.actions_.take_files([path.absolute() for path in options.files])
    else:
        window.actions_.offer_recovery()


def _excepthook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
    """PyQt6 aborts on an exception in a slot; say it and go on, so that the work can be saved."""
    traceback.print_exception(kind, error, trace)
