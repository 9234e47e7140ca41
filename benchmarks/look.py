"""From a dropped picture to the art on the table, in the real window, against Pillow's decoding of the same file.

Bound: at most 1.3 times Pillow and one frame of a 60 Hz screen, medians of five. Without a screen, painted into the
window's own pixels.
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from pathlib import Path

from corpus import artworks, render
from live import on_white, wait
from PIL import Image
from PyQt6.QtWidgets import QApplication

from honest_edge.files.drawing_parent import RENDERER
from honest_edge.files.prefs import PrefsFile
from honest_edge.ui.shell.main_window import MainWindow
from honest_edge.ui.widgets import theme

SIDES_PX, PICTURES, BOUND, FRAME_S = (1200, 2400, 4000), 5, 1.3, 1 / 60


def by_pillow(path: Path) -> float:
    start = time.perf_counter()
    Image.open(path).convert("RGBA").tobytes()
    return time.perf_counter() - start


def looked_at(application: QApplication, window: MainWindow, path: Path) -> float:
    """Return how long one waits to see a picture; what follows is waited for too."""
    before, start = len(window.document.job.designs), time.perf_counter()
    window.take_files([path])
    while len(window.document.job.designs) == before:
        application.processEvents()
    window.table.viewport().repaint()
    seconds = time.perf_counter() - start
    wait(window.settled)
    return seconds


def measured(application: QApplication, folder: Path, picture: Image.Image, suffix: str) -> bool:
    window = MainWindow(PrefsFile(folder / "prefs.json"), folder / "recovery")
    window.resize(1280, 800)
    window.show()
    RENDERER.warm()
    decoded, looks = [], []
    for number in range(PICTURES + 1):
        path = folder / f"{picture.width}-{number}.{suffix}"
        picture.rotate(60 * number).save(path, dpi=(600, 600))
        decoded.append(by_pillow(path))
        looks.append(looked_at(application, window, path))
    window.document.undo_stack.setClean()
    window.close()
    pillow, look = (statistics.median(column[1:]) for column in (decoded, looks))  # the first starts a process
    ratio = (look - FRAME_S) / pillow
    print(
        f"{picture.width} px {suffix}: Pillow {1000 * pillow:.0f} ms, on the table {1000 * look:.0f} ms, "
        f"less a frame {ratio:.2f}   bound {BOUND}"
    )
    return ratio <= BOUND


def main() -> bool:
    application = QApplication([])
    theme.load_fonts()
    theme.apply(application, "light")
    art, good = next(artworks(2)), True
    for side in SIDES_PX:
        picture = Image.fromarray(render(art.svg, side))
        for suffix, saved in (("png", picture), ("jpg", on_white(picture))):
            with tempfile.TemporaryDirectory() as folder:
                good &= measured(application, Path(folder), saved, suffix)
    return good


if __name__ == "__main__":
    sys.exit(0 if main() else 1)
