"""Starts the process that holds the way to a machine, and talks to it; it outlives who started it by one line."""

from __future__ import annotations

import contextlib
import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any, BinaryIO, cast

from honest_edge.core.values.errors import DeviceError
from honest_edge.files.machine_process import START

_MOST_AT_ONCE = 1 << 16
_LEFT: list[subprocess.Popen[bytes]] = []
"""Those that finish their line yet; each is let go of once it has ended."""


class MachineChild:
    """One such process."""

    def __init__(self) -> None:
        _LEFT[:] = [process for process in _LEFT if process.poll() is None]
        places = [str(Path(__file__).parents[2]), *(place for place in sys.path if place)]
        self._process = subprocess.Popen(
            [sys.executable, "-I", "-c", f"import sys; sys.path[:] = {places!r}; {START}"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            start_new_session=True,  # what ends a terminal or a window does not end a line that is being cut
            cwd="/",
        )
        self._heard = b""
        os.set_blocking(self.fileno(), False)

    def fileno(self) -> int:
        """What becomes readable when it has said something."""
        return cast(BinaryIO, self._process.stdout).fileno()

    def say(self, **what: Any) -> bool:
        """Tell it what to do; return whether it still listens."""
        pipe = cast(BinaryIO, self._process.stdin)
        try:
            pipe.write(json.dumps(what).encode() + b"\n")
            pipe.flush()
        except (BrokenPipeError, ValueError):
            return False
        return True

    def heard(self) -> tuple[list[dict[str, Any]], bool]:
        """Return what it has said since, and whether it has ended."""
        has_ended = False
        try:
            while data := os.read(self.fileno(), _MOST_AT_ONCE):
                self._heard += data
            has_ended = True
        except BlockingIOError:
            pass
        except (OSError, ValueError):  # it was left
            has_ended = True
        *lines, self._heard = self._heard.split(b"\n")
        return [json.loads(line) for line in lines if line], has_ended

    def leave(self) -> None:
        """Tell it nothing any more: it finishes its line, lifts the blade and ends."""
        for pipe in (self._process.stdin, self._process.stdout):
            with contextlib.suppress(OSError):
                cast(BinaryIO, pipe).close()
        _LEFT.append(self._process)

    def wait(self, seconds: float) -> None:
        """Wait for its end, for tests and for closing; no longer than that."""
        with contextlib.suppress(subprocess.TimeoutExpired):
            self._process.wait(seconds)


class StandIn:
    """The simulated cutter as a process of its own, for practice: it ends with who started it."""

    def __init__(self, language: str, width_mm: float, length_mm: float) -> None:
        """Start it and wait until it listens.

        Raises:
            DeviceError: it does not.
        """
        places = [str(Path(__file__).parents[2]), *(place for place in sys.path if place)]
        code = f"import sys; sys.path[:] = {places!r}; from honest_edge.cli import main; sys.exit(main(sys.argv[1:]))"
        size = ["--width", f"{width_mm:g}", "--length", f"{length_mm:g}"]
        self._process = subprocess.Popen(
            [sys.executable, "-I", "-c", code, "cutter", "--language", language, "--tcp", "0", *size],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            cwd="/",
        )
        said = cast(BinaryIO, self._process.stdout).readline().decode()
        if "tcp://" not in said:
            self.close()
            raise DeviceError("The practice cutter does not start: send the files by other means")
        self.to = said[said.index("tcp://") :].strip()

    def close(self) -> None:
        """Switch it off."""
        self._process.kill()
        cast(BinaryIO, self._process.stdout).close()
        self._process.wait()
