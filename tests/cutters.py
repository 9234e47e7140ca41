"""A way to a simulated cutter within the process, and sheets to be cut."""

import contextlib
import socket
import threading
import time

import numpy as np

from honest_edge.core.sheet.strokes import Stroke
from honest_edge.core.values.errors import DeviceError
from honest_edge.simulator.cutter import SimulatedCutter, Unplugged


class NearWay:
    """Hands bytes over to a cutter, and back, in pieces of any size."""

    name, holds_back = "the cutter", True

    def __init__(self, cutter, *, piece=7, hears=True):
        self.cutter, self.hears, self._piece = cutter, hears, piece
        self._answers, self.is_gone = b"", False
        self.most_waiting = 0

    def write(self, data):
        if self.is_gone:
            raise DeviceError(f"The connection to {self.name} was lost")
        for start in range(0, len(data), self._piece):
            try:
                self._answers += self.cutter.feed(data[start : start + self._piece])
            except Unplugged:
                self.is_gone = True
                raise DeviceError(f"The connection to {self.name} was lost") from None

    def read(self, wait_s):
        data, self._answers = self._answers[: self._piece], self._answers[self._piece :]
        return data

    def flush(self):
        """Nothing is gathered."""

    def forget(self):
        """Nothing is gathered."""

    def close(self):
        self.is_gone = True


def ring(x, y, radius=5.0, count=40, kind="kiss", pen=1):
    angle = np.linspace(0, 2 * np.pi, count)
    return Stroke(kind=kind, pen=pen, points=np.stack([x + radius * np.cos(angle), y + radius * np.sin(angle)], 1))


def sheet_of_rings(count=12):
    return tuple(
        ring(
            20 + 15 * (n % 4),
            20 + 15 * (n // 4),
            kind="kiss" if n < count - 2 else "through",
            pen=1 + 3 * (n >= count - 2),
        )
        for n in range(count)
    )


def simulated(language, **more):
    return SimulatedCutter(language=language, **more)


class PortCutter:
    """A cutter behind a TCP port of this process; each visitor finds it as the last one left it."""

    def __init__(self, language="gcode", **more):
        self.cutter = SimulatedCutter(language=language, **more)
        self.is_held = threading.Event()
        self.visits = 0
        self._listening = socket.create_server(("127.0.0.1", 0))
        self.to = f"tcp://127.0.0.1:{self._listening.getsockname()[1]}"
        threading.Thread(target=self._serve, daemon=True, name="stand-in").start()

    def _serve(self):
        while True:
            try:
                visitor, _ = self._listening.accept()
            except OSError:
                return
            self.visits += 1
            self._visitor = visitor
            self.cutter.is_stopped = False  # a real one is switched on again
            with visitor, contextlib.suppress(OSError, Unplugged):
                while data := visitor.recv(4096):
                    while self.is_held.is_set():
                        time.sleep(0.005)
                    answers = self.cutter.feed(data)
                    if answers:
                        visitor.sendall(answers)

    def drop(self):
        """Pull the plug of whoever is connected."""
        self._visitor.shutdown(socket.SHUT_RDWR)

    def close(self):
        self.is_held.clear()
        self._listening.close()
