"""Windows that are killed in the middle of each step of a run."""

import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from honest_edge.files.runs.journal import left_runs
from pictures import disc_png

SOURCE = Path(__file__).parents[2] / "src"

SCRIPT = """
import sys
from dataclasses import replace
from pathlib import Path
from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtWidgets import QApplication
from honest_edge.files.prefs import Prefs, PrefsFile
from honest_edge.files.runs.journal import left_runs, runs_folder
from honest_edge.ui.shell.main_window import MainWindow
from leader import Leader

application, folder = QApplication([]), Path(sys.argv[1])
file = PrefsFile(folder / "settings.json")
file.write(Prefs(out_folder=str(folder / "out")))
window = MainWindow(file, folder / "recovery")
window.show()

def settle(window):
    loop, poll = QEventLoop(), QTimer()
    poll.timeout.connect(lambda: None if window.busy else loop.quit())
    poll.start(10)
    loop.exec()

class Clock:
    seconds = 0.0

leader = Leader(window, settle, Clock())
left, _ = left_runs(runs_folder())
if left:
    leader.visit()
    leader.keeper.take_up(left[0].folder)
    settle(window)
else:
    window.take_files([folder / "disc.png"])
    settle(window)
    leader.with_copies(6)
    leader.begin(dry_min=0, laminated=True, carriers=2)
for _ in range(1 + int(sys.argv[2])):
    print(leader.step.key, leader.state.sheet(1).passes, leader.view.title.text(), sep="|", flush=True)
    sys.stdin.readline()
    leader.press("It was done") if leader.keeper.conductor.asks_where else leader.go_on()
"""


STEPS = ("print first", "measure", "laminate", "load", "set", "read", "proof", "look", "pass", "cutting", "take out",
         "inspect")  # fmt: skip


@pytest.mark.slow
@pytest.mark.parametrize("every", [3, pytest.param(1, marks=pytest.mark.long)])
def test_a_window_that_is_killed_resumes_exactly_there(tmp_path, every):
    """SIGKILL in steps of a run, one window after the other leading it on: no pass is taken for done.

    Each of the twelve is killed in the conductor's process, in tests/app/run/test_conducted.py.
    """
    (tmp_path / "disc.png").write_bytes(disc_png(ppi=300))
    environment = {
        **os.environ,
        "QT_QPA_PLATFORM": "offscreen",
        "HONEST_EDGE_BOOK": str(tmp_path / "book.sqlite"),
        "HOME": str(tmp_path),
        "PYTHONPATH": os.pathsep.join([str(SOURCE), str(SOURCE.parent / "tests")]),
    }
    seen, before = [], ""
    while not before.startswith("tally"):
        command = [sys.executable, "-c", SCRIPT, str(tmp_path), str(every)]
        with subprocess.Popen(
            command, env=environment, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
        ) as process:
            resumed = process.stdout.readline()
            for _ in range(every):
                process.stdin.write("\n")
                process.stdin.flush()
                after = process.stdout.readline()
            process.send_signal(signal.SIGKILL)
        key, passes, title = resumed.strip().split("|")
        if before:
            assert before.split("|")[:2] == [key, passes]
            assert title == ("Where did sheet 1 stop?" if key == "cutting" else before.strip().split("|")[2])
        seen.append(key)
        before = after
        ((run,), unread) = left_runs(tmp_path / "runs")
        assert not unread
        assert not run.has_ended
        assert not run.is_taken  # the lock went with its process
    assert seen == list(STEPS[::every])
