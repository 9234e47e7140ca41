"""Keeps the child process that draws SVG, PDF and PSD files warm, within limits of time and memory."""

from __future__ import annotations

import atexit
import os
import selectors
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import BinaryIO, cast

import msgspec
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.values.errors import ArtError, Cancelled
from honest_edge.files.drawing_child import Answer, Request, send

PATIENCE_S = 40.0
_POLL_S = 0.05
_MOST_BLOCK = 1_000_000_000


class Renderer:
    """One child, used by one thread at a time; a new one takes over when it dies."""

    def __init__(self, patience_s: float = PATIENCE_S) -> None:
        self._patience_s = patience_s
        self._lock = threading.Lock()
        self._child: subprocess.Popen[bytes] | None = None

    def draw(
        self, data: bytes, request: Request, *, cancelled: Callable[[], bool] = lambda: False
    ) -> tuple[Answer, NDArray[np.uint8]]:
        """Return what the child drew.

        Raises:
            ArtError: the file cannot be drawn, or not within the limits.
            Cancelled: ``cancelled`` said so; the child is stopped.
        """
        with self._lock:
            try:
                return self._drawn(data, request, cancelled)
            except BaseException:
                self._stop()  # what it still writes belongs to a question nobody waits for
                raise

    def _drawn(self, data: bytes, request: Request, cancelled: Callable[[], bool]) -> tuple[Answer, NDArray[np.uint8]]:
        child = self._running()
        deadline = time.monotonic() + self._patience_s
        try:
            pipe = cast(BinaryIO, child.stdin)
            send(pipe, msgspec.json.encode(request))
            send(pipe, data)
        except BrokenPipeError:
            raise _dead(request.name) from None
        reader = _Reader(child, request.name, deadline, cancelled)
        answer = msgspec.json.decode(bytes(reader.block()), type=Answer)
        pixels = np.frombuffer(reader.block(), np.uint8)
        if answer.error:
            raise ArtError(answer.error)
        return answer, pixels.reshape(answer.height_px, answer.width_px, 4)

    def _running(self) -> subprocess.Popen[bytes]:
        if self._child is not None and self._child.poll() is not None:
            self._stop()
        if self._child is None:
            package = str(Path(__file__).parents[2])
            path = os.pathsep.join(filter(None, [package, os.environ.get("PYTHONPATH", "")]))
            self._child = subprocess.Popen(
                [sys.executable, "-m", "honest_edge.files.drawing_child"],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                stderr=subprocess.DEVNULL,
                env={**os.environ, "PYTHONPATH": path},
            )
        return self._child

    def _stop(self) -> None:
        if self._child is not None:
            self._child.kill()
            self._child.communicate()
            self._child = None

    def close(self) -> None:
        """End the child."""
        with self._lock:
            self._stop()


class _Reader:
    """Reads blocks as they come, minding the clock and the user."""

    def __init__(
        self, child: subprocess.Popen[bytes], name: str, deadline: float, cancelled: Callable[[], bool]
    ) -> None:
        self._file = cast(BinaryIO, child.stdout).fileno()
        self._name, self._deadline, self._cancelled = name, deadline, cancelled

    def block(self) -> bytearray:
        size = int.from_bytes(self._exactly(8), "big")
        if size > _MOST_BLOCK:
            raise _dead(self._name)
        return self._exactly(size)

    def _exactly(self, size: int) -> bytearray:
        found = bytearray(size)
        view, filled = memoryview(found), 0
        with selectors.DefaultSelector() as selector:
            selector.register(self._file, selectors.EVENT_READ)
            while filled < size:
                if self._cancelled():
                    raise Cancelled
                if time.monotonic() > self._deadline:
                    raise ArtError(f"{self._name} takes too long to draw: simplify it, or export it as PNG")
                if selector.select(_POLL_S):
                    count = os.readv(self._file, [view[filled:]])
                    if count == 0:
                        raise _dead(self._name)
                    filled += count
        return found


def _dead(name: str) -> ArtError:
    return ArtError(f"{name} is more than can be drawn here, nested too deep or too large: export it as PNG")


RENDERER = Renderer()
atexit.register(RENDERER.close)
