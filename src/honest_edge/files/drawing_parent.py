"""Keeps the child processes that decode and draw art warm, within limits of time and memory."""

from __future__ import annotations

import atexit
import contextlib
import fcntl
import os
import queue
import selectors
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
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
_PIPE_BYTES = 1 << 20
_START = "from honest_edge.files.drawing_child import main; main({parent})"


class Renderer:
    """A few children, each used by one thread at a time; a new one takes over when one dies."""

    def __init__(self, patience_s: float = PATIENCE_S, most: int | None = None) -> None:
        """Take how long one picture may take in all, and how many children there may be: one a core, at most two."""
        self._patience_s = patience_s
        self._free: queue.LifoQueue[_Child] = queue.LifoQueue()
        for _ in range(most or min(2, os.cpu_count() or 1)):
            self._free.put(_Child())

    def draw(
        self, data: bytes, request: Request, *, cancelled: Callable[[], bool] = lambda: False
    ) -> tuple[Answer, NDArray[np.uint8]]:
        """Return what a child drew.

        Raises:
            ArtError: the file cannot be drawn, or not within the limits.
            Cancelled: ``cancelled`` said so; the child is stopped.
        """
        child = self._free.get()
        try:
            answer, pixels = child.drawn(data, request, self._patience_s, cancelled)
        except BaseException:
            child.stop()  # what it still writes belongs to a question nobody waits for
            raise
        finally:
            self._free.put(child)
        if answer.error:
            raise ArtError(answer.error)
        return answer, pixels.reshape(answer.height_px, answer.width_px, 4)

    def warm(self, count: int = 1) -> None:
        """Start so many children, or as many as there may be, before the first pictures ask for them."""
        held: list[_Child] = []
        with contextlib.suppress(queue.Empty):
            while len(held) < count:
                held.append(self._free.get_nowait())
        try:
            for child in held:
                child.running()
        finally:
            for child in held[::-1]:  # the one that runs for sure is taken first
                self._free.put(child)

    def close(self) -> None:
        """End the children that are not at work."""
        with contextlib.suppress(queue.Empty):
            while True:
                self._free.get_nowait().stop()


class _Child:
    """One child process, started when it is first needed."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None

    def drawn(
        self, data: bytes, request: Request, patience_s: float, cancelled: Callable[[], bool]
    ) -> tuple[Answer, NDArray[np.uint8]]:
        """Return an answer and its pixels."""
        process = self.running()
        deadline = time.monotonic() + patience_s
        try:
            pipe = cast(BinaryIO, process.stdin)
            send(pipe, msgspec.json.encode(request))
            send(pipe, data)
        except BrokenPipeError:
            raise _dead(request.name) from None
        reader = _Reader(process, request.name, deadline, cancelled)
        answer = msgspec.json.decode(bytes(reader.block()), type=Answer)
        return answer, np.frombuffer(reader.block(), np.uint8)

    def running(self) -> subprocess.Popen[bytes]:
        """Return the process, a new one where there is none or the last one died."""
        if self._process is not None and self._process.poll() is not None:
            self.stop()
        if self._process is None:
            self._process = _STARTER.submit(_started).result()
        return self._process

    def stop(self) -> None:
        """End the process."""
        if self._process is not None:
            self._process.kill()
            self._process.communicate()
            self._process = None


_STARTER = ThreadPoolExecutor(1, thread_name_prefix="renderer")
"""Children end when the thread that started them does: this one lives as long as the process."""


def _started() -> subprocess.Popen[bytes]:
    """Start a child, apart from the current folder and the environment: it finds modules where this process does."""
    places = [str(Path(__file__).parents[2]), *(place for place in sys.path if place)]
    popen = subprocess.Popen(
        [sys.executable, "-I", "-c", f"import sys; sys.path[:] = {places!r}; {_START.format(parent=os.getpid())}"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        env={**os.environ, "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"},  # a filter binds one thread only
        cwd="/",
    )
    for pipe in (popen.stdin, popen.stdout):
        with contextlib.suppress(OSError):
            fcntl.fcntl(cast(BinaryIO, pipe), fcntl.F_SETPIPE_SZ, _PIPE_BYTES)
    return popen


class _Reader:
    """Reads blocks as they come, minding the clock and the user."""

    def __init__(
        self, child: subprocess.Popen[bytes], name: str, deadline: float, cancelled: Callable[[], bool]
    ) -> None:
        self._child, self._file = child, cast(BinaryIO, child.stdout).fileno()
        self._name, self._deadline, self._cancelled = name, deadline, cancelled

    def block(self) -> bytearray:
        size = int.from_bytes(self._exactly(8), "big")
        if size > _MOST_BLOCK:
            raise _dead(self._name)
        return self._exactly(size)

    def _why_dead(self) -> ArtError:
        """Return what to say of a child that ended amid its answer."""
        with contextlib.suppress(subprocess.TimeoutExpired):
            if self._child.wait(timeout=5) == -signal.SIGXCPU:
                return _slow(self._name)
        return _dead(self._name)

    def _exactly(self, size: int) -> bytearray:
        received = bytearray(size)
        view, filled = memoryview(received), 0
        with selectors.DefaultSelector() as selector:
            selector.register(self._file, selectors.EVENT_READ)
            while filled < size:
                if self._cancelled():
                    raise Cancelled
                if time.monotonic() > self._deadline:
                    raise _slow(self._name)
                if selector.select(_POLL_S):
                    count = os.readv(self._file, [view[filled:]])
                    if count == 0:
                        raise self._why_dead()
                    filled += count
        return received


def _slow(name: str) -> ArtError:
    return ArtError(f"{name} takes too long to draw: simplify it, or export it as PNG")


def _dead(name: str) -> ArtError:
    return ArtError(f"{name} is more than can be drawn here, nested too deep or too large: export it as PNG")


RENDERER = Renderer()
atexit.register(RENDERER.close)
