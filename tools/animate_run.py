"""Makes the short animated picture of a run, from the demo job on the practice bench: docs/run.gif.

Started with the application's environment: ``PYTHONPATH=src .venv/bin/python tools/animate_run.py [FILE]``.
"""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PIL import Image
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication

from honest_edge.app.edits.open_art import demo_project
from honest_edge.files.prefs import Prefs, PrefsFile
from honest_edge.ui.shell.main_window import MainWindow
from honest_edge.ui.shell.take_pictures import settle
from honest_edge.ui.widgets import theme

ROOT = Path(__file__).resolve().parents[1]
SIZE, SHOWN = (1180, 740), (940, 590)
MOST_BYTES, MOST_STEPS, MOST_FRAMES = 3_000_000, 60, 16
SHOWN_MS, LAST_MS = 1700, 3500
SKIPPED = ("cutting",)
"""Steps that look like the one before."""


def frame(window: MainWindow) -> Image.Image:
    """Return what the window shows."""
    image = window.grab().toImage().convertToFormat(QImage.Format.Format_RGB888)
    data = image.constBits().asstring(image.sizeInBytes())
    shown = Image.frombuffer("RGB", (image.width(), image.height()), data, "raw", "RGB", image.bytesPerLine(), 1)
    return shown.resize(SHOWN, Image.Resampling.LANCZOS)


def run(window: MainWindow) -> list[Image.Image]:
    """Lead a run from sealing to the first sheet's stickers."""
    window.go_to("run")
    settle(window)
    room = window.workshop["run"]
    frames, seen = [frame(window)], set()
    room.before.begin.click()
    settle(window)
    for _ in range(MOST_STEPS):
        step = room.keeper.step()
        if len(frames) == MOST_FRAMES or step.key in ("tally", "over") or (step.sheet > 1 and step.key == "dry"):
            break
        if step.key == "measure":
            room.view.ways[0].click()
            settle(window)
        if step.key == "inspect":
            room.view.ways[0].click()
            settle(window)
        if step.key not in SKIPPED and (step.key, step.sheet) not in seen and step.sheet <= 1:
            frames.append(frame(window))
            seen.add((step.key, step.sheet))
        if step.key == "inspect":
            break
        room.view.primary.click()
        settle(window)
    return frames


def main() -> int:
    """Write the picture; return 1 where it is too large."""
    target = Path(sys.argv[1]) if len(sys.argv) > 1 else ROOT / "docs" / "run.gif"
    home = Path(tempfile.mkdtemp())
    os.environ["HONEST_EDGE_BOOK"] = str(home / "book" / "book.sqlite")
    application = QApplication([])
    theme.load_fonts()
    theme.apply(application, "light")
    file = PrefsFile(home / "settings.json")
    file.write(Prefs(theme="light", guide="off", bench_asked="yes"))
    window = MainWindow(file, home / "recovery")
    window.resize(*SIZE)
    window.show()
    demo = demo_project()
    window.document.start(demo.job, demo.assets, None, is_demo=True)
    settle(window)
    frames = [one.quantize(128, dither=Image.Dither.NONE) for one in run(window)]
    times = [SHOWN_MS] * (len(frames) - 1) + [LAST_MS]
    frames[0].save(target, save_all=True, append_images=frames[1:], duration=times, loop=0, optimize=True)
    size = target.stat().st_size
    print(f"{target}: {len(frames)} pictures, {size / 1e6:.2f} MB")
    window.stop()
    window.pool.wait()
    return 0 if size < MOST_BYTES else 1


if __name__ == "__main__":
    code = main()
    sys.stdout.flush()
    os._exit(code)
