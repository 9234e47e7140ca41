"""Ways to a machine: a TCP port, a serial port, a queue of the system, a device or a file; each failure is one line."""

from __future__ import annotations

import contextlib
import os
import select
import socket
import stat
import subprocess
import time
from pathlib import Path
from typing import Any, Protocol
from urllib.parse import parse_qs

from honest_edge.core.values.errors import DeviceError, UsageError

_CONNECT_S = 5.0
_STUCK_S = 30.0
_BAUDS = (1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200, 230400, 250000)
_FLOWS = ("none", "rtscts", "xonxoff")


class Way(Protocol):
    """A way to a machine."""

    name: str
    hears: bool
    """Whether anything can come back."""
    holds_back: bool
    """Whether it takes no more than the machine can hold."""

    def write(self, data: bytes) -> None:
        """Send bytes; returns once they are taken.

        Raises:
            DeviceError: it is gone, or takes nothing any more.
        """

    def read(self, wait_s: float) -> bytes:
        """Return what came back, after waiting for it no longer than that; empty where nothing did.

        Raises:
            DeviceError: it is gone.
        """

    def flush(self) -> None:
        """Let go of what was written, where it is gathered first.

        Raises:
            DeviceError: it is not taken.
        """

    def forget(self) -> None:
        """Drop what was gathered and not let go of."""

    def close(self) -> None:
        """End it."""


def open_way(text: str) -> Way:
    """Return the way that ``tcp://HOST:PORT``, ``serial:PATH?baud=9600``, ``queue:NAME`` or a path names.

    Raises:
        UsageError: it names none.
        DeviceError: it cannot be opened; the message says what to do.
    """
    if text.startswith("tcp://"):
        return _Tcp(*_address(text))
    if text.startswith("serial:"):
        return _serial(text)
    if text.startswith("queue:"):
        return _Queue(text.removeprefix("queue:"))
    if "://" in text or not text:
        raise UsageError(
            f"--to “{text}” is no way: write tcp://HOST:PORT, serial:PATH?baud=9600, queue:NAME, or a path"
        )
    return _Device(Path(text))


def _address(text: str) -> tuple[str, int]:
    host, _, port = text.removeprefix("tcp://").rstrip("/").rpartition(":")
    if not host or not port.isdigit() or not 0 < int(port) < 65_536:
        raise UsageError(f"--to “{text}”: write tcp://HOST:PORT, such as tcp://localhost:9100")
    return host.strip("[]"), int(port)


class _Straight:
    """Gathers nothing: what is written is gone."""

    holds_back = True

    def flush(self) -> None:
        """Do nothing."""

    def forget(self) -> None:
        """Do nothing."""


class _Tcp(_Straight):
    hears = True

    def __init__(self, host: str, port: int) -> None:
        self.name = f"{host}:{port}"
        try:
            self._socket = socket.create_connection((host, port), _CONNECT_S)
        except OSError as error:
            raise DeviceError(
                f"Nothing takes a connection at {self.name} ({_why(error)}): is the machine on, and the port right?"
            ) from None
        self._socket.settimeout(_STUCK_S)

    def write(self, data: bytes) -> None:
        try:
            self._socket.sendall(data)
        except TimeoutError:
            raise DeviceError(f"{self.name} has taken nothing for {_STUCK_S:.0f} s: its buffer is full") from None
        except OSError as error:
            raise DeviceError(f"The connection to {self.name} was lost ({_why(error)})") from None

    def read(self, wait_s: float) -> bytes:
        ready, _, _ = select.select([self._socket], [], [], wait_s)
        if not ready:
            return b""
        try:
            data = self._socket.recv(65_536)
        except OSError as error:
            raise DeviceError(f"The connection to {self.name} was lost ({_why(error)})") from None
        if not data:
            raise DeviceError(f"The connection to {self.name} was lost: the machine closed it")
        return data

    def close(self) -> None:
        with contextlib.suppress(OSError):
            self._socket.shutdown(socket.SHUT_WR)
        with contextlib.suppress(OSError):
            self._socket.settimeout(2.0)
            while self._socket.recv(65_536):  # so that what was sent last is not thrown away by a reset
                pass
        self._socket.close()


def _serial(text: str) -> Way:
    path, _, query = text.removeprefix("serial:").partition("?")
    asked = {name: values[-1] for name, values in parse_qs(query).items()}
    unknown = set(asked) - {"baud", "flow"}
    baud, flow = asked.get("baud", "9600"), asked.get("flow", "none")
    if not path or unknown or not baud.isdigit() or int(baud) not in _BAUDS or flow not in _FLOWS:
        raise UsageError(
            f"--to “{text}”: write serial:PATH?baud={_BAUDS[3]}, with a speed of {_BAUDS[0]} to {_BAUDS[-1]} and, "
            "where the machine wants it, &flow=rtscts or &flow=xonxoff"
        )
    return _Serial(Path(path), int(baud), flow)


class _Serial(_Straight):
    hears = True

    def __init__(self, path: Path, baud: int, flow: str) -> None:
        import serial  # only who has such a port needs it

        self.name, self.holds_back = str(path), flow != "none"
        _check_there(path)
        try:
            self._port: Any = serial.Serial(
                str(path),
                baud,
                timeout=0,
                write_timeout=_STUCK_S,
                rtscts=flow == "rtscts",
                xonxoff=flow == "xonxoff",
                exclusive=True,
            )
        except (OSError, ValueError) as error:
            raise DeviceError(f"{path} cannot be opened ({_why(error)}): is another program using it?") from None
        self._lost = (OSError, serial.SerialException)

    def write(self, data: bytes) -> None:
        try:
            self._port.write(data)
        except self._lost as error:
            raise DeviceError(f"{self.name} is gone, or takes nothing any more ({_why(error)})") from None

    def read(self, wait_s: float) -> bytes:
        try:
            self._port.timeout = wait_s
            first = self._port.read(1)
            return bytes(first + self._port.read(self._port.in_waiting)) if first else b""
        except self._lost as error:
            raise DeviceError(f"{self.name} is gone ({_why(error)})") from None

    def close(self) -> None:
        with contextlib.suppress(*self._lost):
            self._port.close()


class _Device(_Straight):
    """A file, or a device that only takes: the system's printer port."""

    def __init__(self, path: Path) -> None:
        self.name = str(path)
        self.hears = False
        is_device = path.exists() and not stat.S_ISREG(path.stat().st_mode)
        if is_device:
            _check_there(path)
        elif path.exists():
            raise DeviceError(f"{path} is there already: name another file, or a device")
        flags = os.O_WRONLY | (0 if is_device else os.O_CREAT | os.O_EXCL)
        try:
            self._file = os.open(path, flags, 0o644)
        except OSError as error:
            raise DeviceError(f"{path} cannot be opened ({_why(error)})") from None

    def write(self, data: bytes) -> None:
        try:
            while data:
                data = data[os.write(self._file, data) :]
        except OSError as error:
            raise DeviceError(f"{self.name} takes nothing any more ({_why(error)})") from None

    def read(self, wait_s: float) -> bytes:
        time.sleep(0)
        return b""

    def close(self) -> None:
        os.close(self._file)


class _Queue:
    """A queue of the system's printing that hands on what it is given as it is: one job each time it is let go of."""

    hears, holds_back = False, True

    def __init__(self, queue: str) -> None:
        if not queue or queue.startswith("-"):
            raise UsageError("Write queue:NAME, with the name of a queue as lpstat -e tells it")
        self.name, self._queue, self._gathered = f"the queue “{queue}”", queue, b""

    def write(self, data: bytes) -> None:
        self._gathered += data

    def read(self, wait_s: float) -> bytes:
        return b""

    def flush(self) -> None:
        job, self._gathered = self._gathered, b""
        if not job:
            return
        command = ["lp", "-d", self._queue, "-o", "raw", "-t", "Honest Edge"]
        try:
            done = subprocess.run(command, input=job, capture_output=True, check=False, timeout=_STUCK_S)
        except FileNotFoundError:
            raise DeviceError("This system has no lp command: install its printing (CUPS), or name a port") from None
        except subprocess.TimeoutExpired:
            raise DeviceError(f"{self.name} took nothing for {_STUCK_S:.0f} s") from None
        if done.returncode:
            raise DeviceError(f"{self.name} took nothing ({_why(OSError(done.stderr.decode(errors='replace')))})")

    def forget(self) -> None:
        self._gathered = b""

    def close(self) -> None:
        self._gathered = b""


def _check_there(path: Path) -> None:
    """Say what a port is missing: itself, or the permission, with the group and the command that give it."""
    try:
        status = path.stat()
    except OSError:
        raise DeviceError(f"{path} is not there: is the machine plugged in and switched on?") from None
    if os.access(path, os.R_OK | os.W_OK):
        return
    import grp

    try:
        group = grp.getgrgid(status.st_gid).gr_name
    except KeyError:
        group = str(status.st_gid)
    raise DeviceError(
        f"{path} may not be used: it belongs to the group “{group}”. Join it with: sudo usermod -aG {group} $USER, "
        "then log in again"
    )


def _why(error: BaseException) -> str:
    text = getattr(error, "strerror", None) or str(error) or type(error).__name__
    return " ".join(str(text).split())[:120]


def found_ways() -> list[tuple[str, str]]:
    """Return the ways that this computer shows: each as ``open_way`` takes it, and what the system says of it."""
    from serial.tools import list_ports  # only who looks for a machine needs it

    ports = [
        (f"serial:{port.device}?baud=115200", " ".join(str(port.description or port.device).split())[:60])
        for port in list_ports.comports()
    ]
    return ports + [(str(path), "the system’s USB printer port") for path in sorted(Path("/dev/usb").glob("lp*"))]
