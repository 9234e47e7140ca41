"""A 8 000 x 8 000 px RGBA picture: peak memory of opening, tracing and preparing it, and how fast a cancel answers.

Bounds: 2.5 GB on the command line and in the window; 0.3 s from the press of Cancel to the window's answer.
"""

from __future__ import annotations

import io
import os
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

SIDE_PX, BOUND_MB, BOUND_S = 8000, 2500, 0.3


def artwork() -> bytes:
    pixels = np.zeros((SIDE_PX, SIDE_PX, 4), np.uint8)
    ramp = np.linspace(0, 255, SIDE_PX).astype(np.uint8)
    pixels[..., 0], pixels[..., 1], pixels[..., 2] = ramp[:, None], ramp[None, :], 90
    angle = np.arange(18) * np.pi / 9
    radius = np.where(np.arange(18) % 2 == 0, 0.47, 0.3) * SIDE_PX
    star = np.stack([radius * np.cos(angle), radius * np.sin(angle)], axis=1) + SIDE_PX / 2
    alpha = np.zeros((SIDE_PX, SIDE_PX), np.uint8)
    cv2.fillPoly(alpha, [star.astype(np.int32)], 255, cv2.LINE_AA)
    cv2.circle(alpha, (SIDE_PX // 2, SIDE_PX // 2), SIDE_PX // 14, 0, -1, cv2.LINE_AA)
    pixels[..., 3] = alpha
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG", compress_level=1, dpi=(2500, 2500))
    return out.getvalue()


def in_the_window(art: Path) -> None:
    """Open the picture, press Cancel once its progress shows, compute it after all; print seconds and megabytes."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from PyQt6.QtCore import QEventLoop, QTimer
    from PyQt6.QtWidgets import QApplication

    from honest_edge.files.prefs import PrefsFile
    from honest_edge.ui.shell.main_window import MainWindow

    application = QApplication([])  # kept as long as the window
    window = MainWindow(PrefsFile(art.parent / "prefs.json"), art.parent / "recovery.hedge")
    window.show()

    def until(done) -> None:
        loop, poll = QEventLoop(), QTimer()
        poll.timeout.connect(lambda: loop.quit() if done() else None)
        poll.start(5)
        loop.exec()

    window.take_files([art])
    until(lambda: window.document.job.designs)
    until(lambda: "…" in window.bar.message.text() and window.overviews.is_busy and window.bar.isVisibleTo(window))
    start = time.perf_counter()
    window.bar._actions[0].click()
    until(lambda: "Called off" in window.bar.message.text())
    answered = time.perf_counter() - start
    window.bar._actions[0].click()
    until(lambda: window.workspace.result is not None and not window.busy)
    print(answered, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024, flush=True)
    application.quit()
    os._exit(0)


def peak_mb(command: list[str]) -> tuple[float, str]:
    done = subprocess.run(
        ["/usr/bin/env", "python3", "-c", _WATCH, *command], capture_output=True, text=True, check=True
    )
    *words, peak = done.stdout.strip().splitlines()
    return float(peak), "\n".join(words)


_WATCH = """
import resource, subprocess, sys
subprocess.run(sys.argv[1:], check=True)
print(resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024)
"""


def main() -> bool:
    with tempfile.TemporaryDirectory() as folder:
        art = Path(folder) / "art.png"
        art.write_bytes(artwork())
        options = ["--width", "4in", "--school", "bleed", "--out", f"{folder}/out"]
        command_mb, _ = peak_mb([sys.executable, "-m", "honest_edge", "prepare", str(art), *options])
        _, words = peak_mb([sys.executable, __file__, str(art)])
        answered, window_mb = map(float, words.split())
    print(f"prepare: peak {command_mb:.0f} MB; window: peak {window_mb:.0f} MB   bound {BOUND_MB} MB")
    print(f"cancel answered within {answered:.3f} s   bound {BOUND_S} s")
    return max(command_mb, window_mb) < BOUND_MB and answered <= BOUND_S


if __name__ == "__main__":
    if len(sys.argv) > 1:
        in_the_window(Path(sys.argv[1]))
    sys.exit(0 if main() else 1)
