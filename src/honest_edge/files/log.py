"""The log: what went wrong, in the user's state folder, without art and without the user's folders."""

from __future__ import annotations

import faulthandler
import logging
import re
import sys
import time
from logging.handlers import RotatingFileHandler
from pathlib import Path
from typing import TextIO

LOGGER = logging.getLogger("honest_edge")

LOG_NAME, CRASH_NAME = "honest-edge.log", "crash.txt"
_MOST_BYTES, _KEPT = 400_000, 3
_FOLDERS = re.compile(r"(?<![\w/])(?:~|[A-Za-z]:)?/(?:[^\s/\"'“”:,;()]+/)*(?=[^\s/\"'“”:,;()]+)")

_crash_file: TextIO | None = None
"""Held open for as long as the process lives: the fault handler writes into it when nothing else can."""


def without_folders(text: str) -> str:
    """Return a text with every path cut down to its file's name."""
    return _FOLDERS.sub("", text)


class _Discreet(logging.Formatter):
    """Writes times in UTC and paths as file names."""

    def format(self, record: logging.LogRecord) -> str:
        return without_folders(super().format(record))


def start_log(folder: Path, *, debug: bool = False) -> str:
    """Log into a folder, made if need be; where that is impossible the session goes on without.

    A crash of the interpreter itself, which Python cannot catch, leaves the stacks of all threads in a file
    beside the log; what an earlier session left there is taken into the log.

    Returns:
        What an earlier crash left; empty for none.
    """
    global _crash_file  # the fault handler needs the file, not this function
    LOGGER.setLevel(logging.DEBUG if debug else logging.INFO)
    LOGGER.propagate = False
    if debug:
        _add(logging.StreamHandler(sys.stderr))
    try:
        folder.mkdir(parents=True, exist_ok=True)
        _add(RotatingFileHandler(folder / LOG_NAME, maxBytes=_MOST_BYTES, backupCount=_KEPT, encoding="utf-8"))
        left = _taken(folder / CRASH_NAME)
        _crash_file = (folder / CRASH_NAME).open("w", encoding="utf-8")
    except OSError:
        faulthandler.enable()
        return ""
    faulthandler.enable(_crash_file)
    if left:
        LOGGER.error("an earlier session crashed\n%s", left)
    return left


def stop_log() -> None:
    """Close the log's files."""
    global _crash_file
    faulthandler.disable()
    if _crash_file is not None:
        _crash_file.close()
        _crash_file = None
    for handler in LOGGER.handlers[:]:
        LOGGER.removeHandler(handler)
        handler.close()


def _add(handler: logging.Handler) -> None:
    formatter = _Discreet("%(asctime)s %(levelname)s %(threadName)s %(message)s")
    formatter.converter = time.gmtime
    handler.setFormatter(formatter)
    LOGGER.addHandler(handler)


def _taken(crash: Path) -> str:
    try:
        return without_folders(crash.read_text("utf-8", errors="replace")).strip()
    except FileNotFoundError:
        return ""
