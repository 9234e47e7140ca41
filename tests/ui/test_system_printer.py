"""The real window prints through CUPS' own library to a simulated printer, in a process that knows no other."""

import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pypdfium2
import pytest
import zxingcpp
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


RUN = """
from dataclasses import replace
from honest_edge.core.values.run_events import Printed, Unmeasured
window.set_prefs(replace(window.prefs, out_folder=str(folder / "out")))
window.document.edit(replace(window.document.job, prints=(3,)), "prints")
settle()
window.go_to("run")
settle()
room = window.workshop["run"]
room.before.begin.click()
settle()
room.keeper.do(lambda c: c.happens(Printed(sheet=1)), lambda c: c.happens(Unmeasured(sheet=1)))
settle()
assert room.view.primary.text() == "Print…", room.view.primary.text()
assert room.view.ways[0].text() == "I printed them elsewhere"
room.view.primary.click()
room.printing.dialog.accept()
settle()
print(window.bar.message.text())
print(room.keeper.conductor.seal.code, room.view.title.text())
assert room.view.primary.text() == "They are printed"
window.workshop.close()
window.pool.wait()
"""
"""Prints the second and the third sheet of a run."""


def printed(tmp_path, word="", script=SCRIPT, **how):
    """Return what the window said and what the printer was sent."""
    (tmp_path / "disc.png").write_bytes(disc_png(ppi=300))
    with SimulatedPrinter(**how) as printer:
        run = subprocess.run(
            [sys.executable, "-c", script, str(tmp_path), word, printer.address],
            env={
                **os.environ,
                "CUPS_SERVER": printer.address,
                "QT_QPA_PLATFORM": "offscreen",
                "PYTHONPATH": str(SOURCE),
                "HOME": str(tmp_path),
                "HONEST_EDGE_BOOK": str(tmp_path / "book.sqlite"),
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


def test_sheets_of_a_run_are_sent_unscaled_each_with_its_sign(tmp_path):
    begin = SCRIPT.split('window.stations["files"]')[0]
    said, (job,) = printed(tmp_path, script=begin + RUN)
    went, now = said.splitlines()
    assert went.startswith("2 sheets went to Simulated. Look at what comes out, then say that they are printed.")
    code, _, title = now.partition(" ")
    assert title == "Print sheets 2 to 3"  # sent is not printed: that is said by who looks
    assert job.attributes["print-scaling"] == ["none"]  # PWG 5100.13
    assert job.attributes["media"] == ["A5"]
    with pypdfium2.PdfDocument(job.document) as pdf:
        pages = [pdf[number].render(scale=300 / 72).to_numpy() for number in range(len(pdf))]
    signs = [sorted(found.text for found in zxingcpp.read_barcodes(np.ascontiguousarray(page))) for page in pages]
    assert signs == [[f"{code}-2"], [f"{code}-3"]]
