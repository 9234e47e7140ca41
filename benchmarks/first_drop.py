"""From the drop of a picture on the real window to the frame that shows it, against Pillow decoding the same file.

Bound: 1.3 times what Pillow needs, plus one frame of a screen that shows sixty a second. Pictures are of 12 Mpx, made
of an open photograph; the window has been opened and stands idle, as it does where somebody drops something on it.
"""

from __future__ import annotations

import io
import os
import statistics
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).parents[1] / "tests"))

import skimage.data
from PIL import Image
from PyQt6.QtWidgets import QApplication

from hands import drop
from honest_edge.files.prefs import Prefs, PrefsFile
from honest_edge.ui.shell.main_window import MainWindow
from honest_edge.ui.widgets import theme

SIDE_PX, TIMES = (4000, 3000), 5
MOST, FRAME_S = 1.3, 1 / 60


def pictures() -> dict[str, bytes]:
    made = {}
    whole = Image.fromarray(skimage.data.astronaut()).resize(SIDE_PX)
    for name, options in {"a.jpg": {"quality": 92}, "a.png": {"compress_level": 6}}.items():
        out = io.BytesIO()
        whole.save(out, "JPEG" if name.endswith("jpg") else "PNG", **options)
        made[name] = out.getvalue()
    return made


def by_pillow(data: bytes) -> float:
    began = time.perf_counter()
    Image.open(io.BytesIO(data)).convert("RGBA").tobytes()
    return time.perf_counter() - began


def settle(window: MainWindow, application: QApplication) -> None:
    idle = 0
    while idle < 40:
        application.processEvents()
        time.sleep(0.005)
        idle = 0 if window.busy else idle + 1


def seen_after(window: MainWindow, application: QApplication, path: Path) -> float:
    """Return the seconds from the drop until the table was painted with the picture on it."""
    began = time.perf_counter()
    drop(window, [path])
    while window.workspace.sketch is None and window.workspace.result is None:
        application.processEvents()
    window.table.viewport().repaint()
    return time.perf_counter() - began


def main() -> bool:
    application = QApplication([])
    is_within = True
    with tempfile.TemporaryDirectory() as folder:
        os.environ["HONEST_EDGE_BOOK"] = f"{folder}/book.sqlite"
        prefs = PrefsFile(Path(folder) / "s" / "settings.json")
        prefs.write(Prefs(bench_asked="yes"))
        theme.load_fonts()
        theme.apply(application, "light")
        window = MainWindow(prefs, Path(folder) / "state" / "recovery")
        window.resize(1280, 800)
        window.show()
        settle(window, application)
        for name, data in pictures().items():
            path, seen, decoded = Path(folder) / name, [], []
            path.write_bytes(data)
            for _ in range(TIMES):
                decoded.append(by_pillow(data))
                seen.append(seen_after(window, application, path))
                settle(window, application)
                window.document.start(window.jobs.fresh_job(), {}, None)
                settle(window, application)
            most = MOST * statistics.median(decoded) + FRAME_S
            print(
                f"{name}: seen after {statistics.median(seen):.3f} s, Pillow {statistics.median(decoded):.3f} s   "
                f"bound {most:.3f}"
            )
            is_within &= statistics.median(seen) <= most
        window.jobs.may_leave = lambda: True
        window.stop()
    return is_within


if __name__ == "__main__":
    sys.stdout.flush()
    ok = main()
    sys.stdout.flush()
    os._exit(0 if ok else 1)
