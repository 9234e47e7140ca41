"""The real window prints through CUPS' own library to a simulated printer, in a process that knows no other."""

import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from drawings import drawn
from hands import PATIENCE_S
from pictures import disc_png
from simulated_printer import SimulatedPrinter

pytestmark = pytest.mark.slow

SOURCE = Path(__file__).parents[2] / "src"
SCRIPT = """
import sys, urllib.request
from dataclasses import replace
from pathlib import Path
from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtWidgets import QApplication
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.files.prefs import PrefsFile
from honest_edge.ui.shell.main_window import MainWindow

application, folder, word = QApplication([]), Path(sys.argv[1]), sys.argv[2]
window = MainWindow(PrefsFile(folder / "settings.json"), folder / "recovery")

def settle():
    loop, poll = QEventLoop(), QTimer()
    poll.timeout.connect(lambda: None if window.busy else loop.quit())
    poll.start(20)
    loop.exec()

window.take_files([folder / "disc.png"])
settle()
window.document.edit(replace(window.document.job, sheet=SheetSpec(paper="a5")), "paper")
settle()
window.stations["files"].print()
if word == "gone":
    urllib.request.urlopen("http://" + sys.argv[3] + "/taken-away").read()
window.stations["files"].printing.dialog.accept()
settle()
print(window.bar.message.text())
window.pool.wait()
"""


def printed(tmp_path, word="", **how):
    """Return what the window said and what the printer was sent."""
    (tmp_path / "disc.png").write_bytes(disc_png(ppi=300))
    with SimulatedPrinter(**how) as printer:
        run = subprocess.run(
            [sys.executable, "-c", SCRIPT, str(tmp_path), word, printer.address],
            env={
                **os.environ,
                "CUPS_SERVER": printer.address,
                "QT_QPA_PLATFORM": "offscreen",
                "PYTHONPATH": str(SOURCE),
                "HOME": str(tmp_path),
            },
            capture_output=True,
            text=True,
            timeout=PATIENCE_S,
            check=False,
        )
        assert run.returncode == 0, run.stderr
        return run.stdout.strip(), printer.jobs


def test_a_printer_is_sent_the_sheet_with_its_paper_and_no_scaling(tmp_path):
    said, jobs = printed(tmp_path)
    assert said.startswith("1 sheet went to the printer “Simulated”")
    (job,) = jobs
    assert job.attributes["print-scaling"] == ["none"]  # PWG 5100.13
    assert job.attributes["number-up"] == [1]  # RFC 8011
    assert job.attributes["media"] == ["A5"]
    page = drawn(job.document)
    assert page.shape == pytest.approx((210 / 25.4 * 300, 148 / 25.4 * 300), abs=3)
    assert np.mean(page < 128) > 0.002
    assert Image.fromarray(page.astype(np.uint8)).getpixel((0, 0)) == 255


def test_a_printer_that_went_away_is_named_and_sent_nothing(tmp_path):
    said, jobs = printed(tmp_path, "gone")
    assert said == "The printer “Simulated” is gone: switch it on or choose another one; nothing was printed"
    assert jobs == []


def test_a_printer_that_refuses_is_said_with_its_own_reason(tmp_path):
    said, jobs = printed(tmp_path, refuses=True)
    assert "took no sheet (server-error-not-accepting-jobs)" in said
    assert jobs == []
