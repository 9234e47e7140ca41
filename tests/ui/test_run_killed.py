"""Windows that are killed in the middle of each step of a run."""

import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from honest_edge.core.run.state import state_of
from honest_edge.files.runs.journal import Journal, left_runs
from pictures import disc_png

SOURCE = Path(__file__).parents[2] / "src"

SCRIPT = """
import sys
from dataclasses import replace
from pathlib import Path
from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtWidgets import QApplication
from honest_edge.files.prefs import Prefs, PrefsFile
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

window.take_files([folder / "disc.png"])
settle(window)
leader = Leader(window, settle, Clock())
leader.with_copies(6)
leader.begin(dry_min=0, laminated=True, carriers=2)
while leader.step.key != "ended":
    sheet = leader.step.sheet or 1
    print(leader.step.key, leader.state.sheet(sheet).passes, flush=True)
    sys.stdin.readline()
    if leader.step.key == "cutting":
        leader.space()
    else:
        leader.go_on()
"""


@pytest.mark.slow
def test_a_window_that_is_killed_at_any_step_resumes_exactly_there(tmp_path):
    """SIGKILL in the middle of each step of a run: what was said is kept, and no pass is taken for done."""
    (tmp_path / "disc.png").write_bytes(disc_png(ppi=300))
    environment = {
        **os.environ,
        "QT_QPA_PLATFORM": "offscreen",
        "HONEST_EDGE_BOOK": str(tmp_path / "book.sqlite"),
        "HOME": str(tmp_path),
        "PYTHONPATH": os.pathsep.join([str(SOURCE), str(SOURCE.parent / "tests")]),
    }
    seen, kill_at = [], 0
    while not seen or seen[-1] != "tally":
        command = [sys.executable, "-c", SCRIPT, str(tmp_path)]
        with subprocess.Popen(
            command, env=environment, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
        ) as process:
            for _ in range(kill_at):
                process.stdout.readline()
                process.stdin.write("\n")
                process.stdin.flush()
            key, passes = process.stdout.readline().rsplit(" ", 1)
            process.send_signal(signal.SIGKILL)
        seen.append(key.strip())
        kill_at += 1
        ((run,), unread) = left_runs(tmp_path / "runs")
        assert not unread
        journal = Journal.take_up(run.folder)
        state = state_of(journal.seal, journal.events)
        assert not state.ended
        assert state.sheet(1).passes == int(passes)
        assert (state.sheet(1).under_way is not None) == (key == "cutting")
        journal.close()
        for path in run.folder.iterdir():
            path.unlink()
        run.folder.rmdir()
    assert seen == [
        "print first", "measure", "laminate", "load", "set", "read", "proof", "look", "pass", "cutting", "inspect",
        "tally",
    ]  # fmt: skip
