"""A process of its own that holds the way to a machine, so that no window, crash or closing tears a line in two.

It is told what to do by lines of JSON and answers by lines of JSON. When nobody tells it anything any more it finishes
the line that is being cut, lifts the blade and ends: what is half done then is known, and the sheet has not moved.
"""

from __future__ import annotations

import json
import os
import queue
import sys
import threading
from pathlib import Path
from typing import Any

import msgspec
import numpy as np

from honest_edge.core.sheet.strokes import Stroke
from honest_edge.core.values.errors import DeviceError, HonestEdgeError
from honest_edge.core.values.machine import Machine
from honest_edge.files.languages import LANGUAGES
from honest_edge.files.send_cut import CutSender, CutStoppedError
from honest_edge.files.ways import Way, open_way

START = "from honest_edge.files.machine_process import main; main()"


def written_strokes(there: tuple[Stroke, ...]) -> bytes:
    """Return strokes as a process of this kind reads them."""
    return json.dumps([[one.kind, one.pen, np.round(one.points, 4).tolist()] for one in there]).encode()


def written_machine(machine: Machine) -> str:
    """Return a machine as a process of this kind reads it."""
    return msgspec.json.encode(machine).decode()


class MachineProcess:
    """Does one thing after the other; only stopping and pausing do not wait."""

    def __init__(self) -> None:
        self._told: queue.SimpleQueue[dict[str, Any]] = queue.SimpleQueue()
        self._stop, self._pause = threading.Event(), threading.Event()
        self._way: Way | None = None
        self._sender: CutSender | None = None

    def listen(self) -> None:
        """Hear what is told; the end of it pauses what is cut, and ends the process after it."""
        for line in sys.stdin.buffer:
            told = json.loads(line)
            if told["do"] == "stop":
                self._stop.set()
            elif told["do"] == "pause":
                self._pause.set()
            else:
                if told["do"] == "cut":  # in the order in which it was told: what is said after it is meant for it
                    self._stop.clear()
                    self._pause.clear()
                self._told.put(told)
        self._pause.set()
        self._told.put({"do": "end"})

    def work(self) -> None:
        """Do what is told until it is the end."""
        while (told := self._told.get())["do"] != "end":
            try:
                getattr(self, f"_{told['do']}")(told)
            except CutStoppedError as stop:
                _say(stopped=f"{stop}", sure=stop.sure, perhaps=stop.perhaps)
            except HonestEdgeError as error:
                _say(failed=str(error), is_gone=isinstance(error, DeviceError))
        if self._way is not None:
            self._way.close()

    def _open(self, told: dict[str, Any]) -> None:
        """Open the way and hear the machine's greeting; nothing moves."""
        if self._way is not None:
            self._way.close()
        machine = msgspec.json.decode(told["machine"], type=Machine)
        self._way = open_way(told["to"])
        self._sender = CutSender(self._way, LANGUAGES[told["language"]], machine)
        _say(open=self._way.name, answered=self._sender.is_answered)

    def _move(self, told: dict[str, Any]) -> None:
        x, y = told["to"]
        assert self._sender is not None  # it is opened first
        self._sender.move((x, y))
        _say(at=[x, y])

    def _cut(self, told: dict[str, Any]) -> None:
        """Cut the strokes of a file from one on; how many are done is written down as it is told."""
        assert self._sender is not None
        read = json.loads(Path(told["file"]).read_bytes())
        there = [Stroke(kind=kind, pen=pen, points=np.array(points)) for kind, pen, points in read]
        is_answered = self._sender.is_answered
        log = os.open(told["log"], os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o644)
        try:

            def tell(done: int) -> None:
                if is_answered or done == told["first"]:  # what nothing confirms is begun, and no more
                    os.write(log, f"done {done}\n".encode())
                _say(done=done)

            tell(told["first"])
            done = self._sender.send(
                there,
                first=told["first"],
                told=tell,
                begins=lambda begun: os.write(log, f"begun {begun}\n".encode()),
                is_stopped=self._stop.is_set,
                is_paused=self._pause.is_set,
                waits=lambda why: _say(waits=why),
            )
        finally:
            os.close(log)
        if done == len(there):
            _say(cut=done)
        else:
            sure = done if is_answered else told["first"]
            _say(
                paused=done,
                sure=sure,
                perhaps=done - sure,
                stands_at=there[done - 1].points[-1].tolist() if done else None,
            )


def lines_done(log: bytes) -> tuple[int, int]:
    """Return how many lines were done, and how many more were begun, by what a process wrote down.

    A word that is cut off at the end does not count.
    """
    counts = {"done": 0, "begun": 0}
    for line in log.decode("ascii", "replace").split("\n")[:-1]:
        what, _, number = line.partition(" ")
        if what in counts and number.isdigit():
            counts[what] = int(number)
    return counts["done"], max(0, counts["begun"] - counts["done"])


def _say(**what: Any) -> None:
    try:
        sys.stdout.write(json.dumps(what) + "\n")
        sys.stdout.flush()
    except (BrokenPipeError, ValueError):
        return  # nobody listens any more; what is done is written down


def main() -> None:
    """Listen and work."""
    process = MachineProcess()
    threading.Thread(target=process.listen, daemon=True, name="listening").start()
    process.work()
