"""What a process that decodes strangers' files gives up first: new files, the network, other programs, most reading.

Limits of resources hold everywhere. Landlock (landlock(7), Linux 5.13) bounds what may be read; a seccomp filter
(seccomp(2)) denies sockets, programs, processes and files opened for writing. A kernel without one of them leaves the
others; ``confine`` says what holds. Numbers of system calls are from the kernel's tables for x86-64 and arm64
(arch/x86/entry/syscalls/syscall_64.tbl, include/uapi/asm-generic/unistd.h).
"""

from __future__ import annotations

import ctypes
import os
import platform
import resource
import signal
import struct
import sys
from collections.abc import Iterable, Iterator
from pathlib import Path

_PR_SET_PDEATHSIG, _PR_SET_NO_NEW_PRIVS, _PR_SET_SECCOMP = 1, 38, 22
_SECCOMP_MODE_FILTER = 2
_EPERM, _ENOSYS = 1, 38
_MOST_OPEN_FILES = 128

_AUDIT_ARCH = {"x86_64": 0xC000003E, "aarch64": 0xC00000B7}
_DENIED = {
    "x86_64": {
        "socket": 41, "socketpair": 53, "connect": 42, "bind": 49, "sendto": 44, "fork": 57, "vfork": 58,
        "execve": 59, "execveat": 322, "ptrace": 101, "process_vm_readv": 310, "process_vm_writev": 311, "creat": 85,
        "mknod": 133, "mknodat": 259, "mkdir": 83, "mkdirat": 258, "rename": 82, "renameat": 264, "renameat2": 316,
        "unlink": 87, "unlinkat": 263, "rmdir": 84, "link": 86, "linkat": 265, "symlink": 88, "symlinkat": 266,
        "truncate": 76, "chmod": 90, "fchmodat": 268, "chown": 92, "fchownat": 260, "utimensat": 280, "mount": 165,
        "memfd_create": 319, "bpf": 321, "perf_event_open": 298, "userfaultfd": 323, "io_uring_setup": 425,
        "keyctl": 250, "add_key": 248, "open_by_handle_at": 304, "unshare": 272, "setns": 308, "pidfd_open": 434,
    },
    "aarch64": {
        "socket": 198, "socketpair": 199, "connect": 203, "bind": 200, "sendto": 206, "execve": 221,
        "execveat": 281, "ptrace": 117, "process_vm_readv": 270, "process_vm_writev": 271, "mknodat": 33,
        "mkdirat": 34, "renameat": 38, "renameat2": 276, "unlinkat": 35, "linkat": 37, "symlinkat": 36,
        "truncate": 45, "fchmodat": 53, "fchownat": 54, "utimensat": 88, "mount": 40, "memfd_create": 279, "bpf": 280,
        "perf_event_open": 241, "userfaultfd": 282, "io_uring_setup": 425, "keyctl": 219, "add_key": 217,
        "open_by_handle_at": 265, "unshare": 97, "setns": 268, "pidfd_open": 434,
    },
}  # fmt: skip
_UNKNOWN = {"clone3": 435, "openat2": 437}  # libraries fall back to the calls whose arguments can be looked at
_OPEN = {"x86_64": ((2, 1), (257, 2)), "aarch64": ((56, 2),)}  # open and openat: number, place of the flags
_CLONE = {"x86_64": 56, "aarch64": 220}
_CLONE_THREAD = 0x10000
_WRITING = os.O_WRONLY | os.O_RDWR | os.O_CREAT | os.O_TRUNC | os.O_APPEND

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
    if _seccomp(libc):
        holds.append("no network, no programs, no new files")
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


# -- seccomp -----------------------------------------------------------------------------------------

_LOAD, _EQUAL, _ANY_OF, _RETURN = 0x20, 0x15, 0x45, 0x06  # BPF: LD|W|ABS, JMP|JEQ|K, JMP|JSET|K, RET|K
_ALLOW, _ERRNO, _KILL = 0x7FFF0000, 0x00050000, 0x80000000
_NUMBER_AT, _ARCH_AT, _ARGUMENTS_AT = 0, 4, 16  # in struct seccomp_data


class _Program(ctypes.Structure):
    _fields_ = (("length", ctypes.c_ushort), ("instructions", ctypes.c_char_p))


def _seccomp(libc: ctypes.CDLL) -> bool:
    """Install the filter; return whether the kernel, on a machine that is known here, did."""
    machine = platform.machine()
    if machine not in _AUDIT_ARCH:
        return False
    code = b"".join(struct.pack("<HBBI", *instruction) for instruction in _filter(machine))
    program = _Program(len(code) // 8, code)
    done: int = libc.prctl(_PR_SET_SECCOMP, _SECCOMP_MODE_FILTER, ctypes.byref(program), 0, 0)
    return done == 0


def _filter(machine: str) -> list[tuple[int, int, int, int]]:
    """Return the filter: each instruction as code, jumps for true and false, and operand."""
    made = [
        (_LOAD, 0, 0, _ARCH_AT),
        (_EQUAL, 1, 0, _AUDIT_ARCH[machine]),
        (_RETURN, 0, 0, _KILL),
        (_LOAD, 0, 0, _NUMBER_AT),
    ]
    for number in _DENIED[machine].values():
        made += [(_EQUAL, 0, 1, number), (_RETURN, 0, 0, _ERRNO | _EPERM)]
    for number in _UNKNOWN.values():
        made += [(_EQUAL, 0, 1, number), (_RETURN, 0, 0, _ERRNO | _ENOSYS)]
    for number, place in _OPEN[machine]:
        made += [(_EQUAL, 0, 4, number), *_unless(place, _WRITING, deny=True)]
    made += [(_EQUAL, 0, 4, _CLONE[machine]), *_unless(0, _CLONE_THREAD, deny=False)]
    return [*made, (_RETURN, 0, 0, _ALLOW)]


def _unless(place: int, bits: int, *, deny: bool) -> list[tuple[int, int, int, int]]:
    """Return what allows or denies a call by whether its argument has any of some bits; ends the program."""
    verdicts = (_ERRNO | _EPERM, _ALLOW) if deny else (_ALLOW, _ERRNO | _EPERM)
    return [
        (_LOAD, 0, 0, _ARGUMENTS_AT + 8 * place),
        (_ANY_OF, 0, 1, bits),
        (_RETURN, 0, 0, verdicts[0]),
        (_RETURN, 0, 0, verdicts[1]),
    ]
