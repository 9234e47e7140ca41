"""Whether a window can be shown here, found out before Qt would abort."""

from __future__ import annotations

import os
import re
from pathlib import Path

DEBIAN_PACKAGE = {
    "libEGL.so.1": "libegl1",
    "libGL.so.1": "libgl1",
    "libX11-xcb.so.1": "libx11-xcb1",
    "libX11.so.6": "libx11-6",
    "libdbus-1.so.3": "libdbus-1-3",
    "libfontconfig.so.1": "libfontconfig1",
    "libfreetype.so.6": "libfreetype6",
    "libglib-2.0.so.0": "libglib2.0-0",
    "libxcb-cursor.so.0": "libxcb-cursor0",
    "libxcb-icccm.so.4": "libxcb-icccm4",
    "libxcb-image.so.0": "libxcb-image0",
    "libxcb-keysyms.so.1": "libxcb-keysyms1",
    "libxcb-randr.so.0": "libxcb-randr0",
    "libxcb-render-util.so.0": "libxcb-render-util0",
    "libxcb-render.so.0": "libxcb-render0",
    "libxcb-shape.so.0": "libxcb-shape0",
    "libxcb-shm.so.0": "libxcb-shm0",
    "libxcb-sync.so.1": "libxcb-sync1",
    "libxcb-xfixes.so.0": "libxcb-xfixes0",
    "libxcb-xkb.so.1": "libxcb-xkb1",
    "libxcb.so.1": "libxcb1",
    "libxkbcommon-x11.so.0": "libxkbcommon-x11-0",
    "libxkbcommon.so.0": "libxkbcommon0",
}
"""Debian's package of each system library that Qt's wheels expect."""


def missing_library(error: str) -> str | None:
    """Return one line for a loader's message about a missing system library, or None for another message.

    The loader stops at the first; the line names every other library of the list that is missing too, so
    that one install is enough.
    """
    named = re.search(r"(lib[\w.+-]+\.so[\w.]*): cannot open shared object", error)
    if named is None:
        return None
    library = named[1]
    if library not in DEBIAN_PACKAGE:
        return f"The system library {library}, which Qt needs, is missing: install the package that holds it"
    missing = {library, *(name for name in DEBIAN_PACKAGE if not _loads(name))}
    packages = " ".join(sorted(DEBIAN_PACKAGE[name] for name in missing))
    return f"The system library {library}, which Qt needs, is missing. On Debian: apt install {packages}"


def _loads(library: str) -> bool:
    import ctypes

    try:
        ctypes.CDLL(library)
    except OSError:
        return False
    return True


def obstacle(environment: dict[str, str], plugins: Path) -> str | None:
    """Return one line that says why no window can be shown, or None.

    Args:
        environment: the process's environment.
        plugins: Qt's folder of platform plugins.
    """
    if environment.get("QT_QPA_PLATFORM"):
        return None
    if environment.get("WAYLAND_DISPLAY"):
        return None
    display = environment.get("DISPLAY")
    if not display:
        return (
            "There is no display here: start Honest Edge in a desktop session (over ssh: ssh -X). "
            "The commands outline and prepare need none"
        )
    return _missing_for(plugins / "libqxcb.so") or _unreachable(display)


def _missing_for(plugin: Path) -> str | None:
    if not plugin.exists():
        return None
    import ctypes

    try:
        ctypes.CDLL(str(plugin))
    except OSError as error:
        return missing_library(str(error)) or f"Qt’s display plugin cannot be loaded: {error}"
    return None


def _unreachable(display: str) -> str | None:
    import ctypes

    try:
        xcb = ctypes.CDLL("libxcb.so.1")
    except OSError as error:
        return missing_library(str(error))
    xcb.xcb_connect.restype = ctypes.c_void_p
    xcb.xcb_connection_has_error.argtypes = [ctypes.c_void_p]
    xcb.xcb_disconnect.argtypes = [ctypes.c_void_p]
    connection = xcb.xcb_connect(None, None)
    failed = bool(xcb.xcb_connection_has_error(connection))
    xcb.xcb_disconnect(connection)
    return f"The display {display} does not answer: check DISPLAY, or start a desktop session" if failed else None


def check() -> str | None:
    """Return why no window can be shown on this machine, or None."""
    try:
        from PyQt6 import QtCore, QtGui, QtWidgets
    except ImportError as error:
        return missing_library(str(error)) or f"Qt cannot be loaded: {error}"
    del QtGui, QtWidgets
    plugins = QtCore.QLibraryInfo.path(QtCore.QLibraryInfo.LibraryPath.PluginsPath)
    return obstacle(dict(os.environ), Path(plugins) / "platforms")
