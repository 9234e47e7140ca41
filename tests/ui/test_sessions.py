"""Windows that are opened and closed, each in a process of its own, without the way out that the application takes."""

import os
import subprocess
import sys
from collections import Counter
from pathlib import Path

import pytest

from hands import PATIENCE_S

SOURCE = Path(__file__).parents[2] / "src"
SESSIONS = 200

SESSION = """
import random, sys
from PyQt6.QtCore import QTimer
from honest_edge.ui.shell import start
chance = random.Random(int(sys.argv[1]))
start._left_whole = lambda _application: lambda code: code
begin = start._begin
PLACES = ("art", "outline", "edge", "sheet", "proof", "files", "run", "bench", "book", "practice")

def begun(window, options):
    begin(window, options)
    window.jobs.may_leave = lambda: True
    def leave():
        if window.window().close():
            print("all is done", flush=True)
        else:
            QTimer.singleShot(200, leave)
    QTimer.singleShot(chance.randint(0, 1500), lambda: [window.go_to(place) for place in chance.sample(PLACES, 4)])
    QTimer.singleShot(chance.randint(400, 3000), leave)

start._begin = begun
sys.exit(start.main(["--demo"] if chance.random() < 0.3 else []))
"""


@pytest.mark.long
def test_whatever_goes_wrong_when_qt_is_taken_apart_all_was_done_before(tmp_path, capsys):
    """Of two hundred sessions about one ends in a fault inside PyQt, after the window closed: so the application leaves
    before. What this holds is that nothing goes wrong while a window is open, and that all was done when it closed."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "PYTHONPATH": str(SOURCE)}
    environment |= {f"XDG_{name}_HOME": str(tmp_path / name) for name in ("CONFIG", "STATE", "DATA", "CACHE")}
    environment["HONEST_EDGE_BOOK"] = str(tmp_path / "book.sqlite")
    ended = Counter()
    for number in range(SESSIONS):
        ran = subprocess.run(
            [sys.executable, "-c", SESSION, str(number)],
            env=environment, capture_output=True, text=True, check=False, timeout=PATIENCE_S,
        )  # fmt: skip
        assert "all is done" in ran.stdout, (number, ran.returncode, ran.stderr[-2000:])
        ended[ran.returncode] += 1
    with capsys.disabled():
        print(f"\n{SESSIONS} windows without the way out: {dict(ended)}")
    assert ended[0] >= 0.95 * SESSIONS
