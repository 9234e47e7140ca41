"""What a process that decodes strangers' files gives up first: new files, the network, other programs, most reading.

Limits of resources hold everywhere. Landlock (landlock(7), Linux 5.13) bounds what may be read; a filter of system
calls (``system_calls``) leaves neither sockets, programs and processes nor files opened for writing, nor signals to
others. A kernel without one of them leaves the others; ``confine`` says what holds.
"""

from __future__ import annotations

import ctypes
import os
import resource
import signal
import struct
import sys
from collections.abc import Iterable, Iterator
from pathlib import Path

from honest_edge.files.system_calls import allow_only_decoding

_PR_SET_PDEATHSIG, _PR_SET_NO_NEW_PRIVS = 1, 38
_MOST_OPEN_FILES = 128

_LANDLOCK_CREATE, _LANDLOCK_ADD, _LANDLOCK_RESTRICT = 444, 445, 446
_READ_FILE, _READ_DIR = 1 << 2, 1 << 3
_RIGHTS_OF_ABI = {1: 13, 2: 14, 3: 15, 4: 15, 5: 16}  # how many kinds of access to files each version knows


def confine(readable: Iterable[Path], *, memory_bytes: int, parent: int) -> tuple[str, ...]:
    """Give up for good what decoding does not need; return what holds now, in words.

    Args:
        readable: folders that may be read besides where programs and their modules lie.
        memory_bytes: of address space.
        parent: the process that this one ends with.
    """
    libc = ctypes.CDLL(None, use_errno=True)
    holds = ["memory", "processor time", "no core dumps", "no growing files"]
    resource.setrlimit(resource.RLIMIT_AS, (memory_bytes, memory_bytes))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    resource.setrlimit(resource.RLIMIT_NOFILE, (_MOST_OPEN_FILES, _MOST_OPEN_FILES))
    if libc.prctl(_PR_SET_PDEATHSIG, signal.SIGKILL, 0, 0, 0) == 0:
        holds.append("ends with its parent")
    if os.getppid() != parent:
        os._exit(1)  # it was gone before this could be asked for
    if libc.prctl(_PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0) != 0:
        return tuple(holds)
    if _landlock(libc, [*readable, *_of_programs()]):
        holds.append("reads only typefaces and programs")
    if allow_only_decoding(libc):
        holds.append("no network, no programs, no new files, no signals to others")
    return tuple(holds)


def allow(*, cpu_seconds: int, memory_bytes: int) -> None:
    """Let this process use so much more processor time, and end it after that; and so much memory of its own."""
    used = sum(os.times()[:2])
    resource.setrlimit(resource.RLIMIT_CPU, (int(used) + cpu_seconds + 1, resource.RLIM_INFINITY))
    _, most = resource.getrlimit(resource.RLIMIT_DATA)
    resource.setrlimit(resource.RLIMIT_DATA, (memory_bytes, most))


def _of_programs() -> Iterator[Path]:
    """Yield where modules, libraries and what they need to know of the machine lie."""
    yield from (Path(place) for place in sys.path if place)
    yield from (Path(place) for place in (sys.prefix, sys.base_prefix))
    for place in (
        "/usr/lib",
        "/usr/lib64",
        "/lib",
        "/lib64",
        "/usr/share/fontconfig",
        "/etc/fonts",
        "/usr/share/zoneinfo",
    ):
        yield Path(place)
    yield from (
        Path(place)
        for place in ("/etc/ld.so.cache", "/proc/cpuinfo", "/proc/meminfo", "/sys/devices/system/cpu", "/dev/urandom")
    )


# -- Landlock ----------------------------------------------------------------------------------------


def _landlock(libc: ctypes.CDLL, places: Iterable[Path]) -> bool:
    """Let this process read below some places and touch no other file; return whether the kernel does that."""
    abi = libc.syscall(_LANDLOCK_CREATE, None, 0, 1)
    if abi < 1:
        return False
    handled = (1 << _RIGHTS_OF_ABI.get(abi, 16)) - 1
    rules = libc.syscall(_LANDLOCK_CREATE, struct.pack("<Q", handled), 8, 0)
    if rules < 0:
        return False
    for place in places:
        try:
            handle = os.open(place, os.O_PATH | os.O_CLOEXEC)
        except OSError:
            continue
        rights = _READ_FILE | _READ_DIR if place.is_dir() else _READ_FILE
        libc.syscall(_LANDLOCK_ADD, rules, 1, struct.pack("<Qi", rights, handle), 0)
        os.close(handle)
    done: int = libc.syscall(_LANDLOCK_RESTRICT, rules, 0)
    os.close(rules)
    return done == 0
