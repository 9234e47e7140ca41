"""A filter of system calls (seccomp(2)) that allows what decoding a picture asks of the kernel, and nothing else.

Numbers are from the kernel's tables for x86-64 and arm64 (arch/x86/entry/syscalls/syscall_64.tbl,
include/uapi/asm-generic/unistd.h); a test holds them against libseccomp. No package that is kept up brings that library
along, and a desktop need not have it: so the filter is written here, as the kernel's classic BPF.
"""

from __future__ import annotations

import ctypes
import os
import platform
import struct

_PR_SET_SECCOMP, _SECCOMP_MODE_FILTER = 22, 2
_EPERM, _ENOSYS = 1, 38
_AUDIT_ARCH = {"x86_64": 0xC000003E, "aarch64": 0xC00000B7}
_X32 = 0x40000000
"""Set in the numbers by which x86-64 is asked in another way; nobody here asks so."""

ALLOWED: dict[str, dict[str, int]] = {
    "x86_64": {
        "read": 0, "write": 1, "close": 3, "stat": 4, "fstat": 5, "lstat": 6, "poll": 7, "lseek": 8, "mmap": 9,
        "mprotect": 10, "munmap": 11, "brk": 12, "rt_sigaction": 13, "rt_sigprocmask": 14, "rt_sigreturn": 15,
        "pread64": 17, "readv": 19, "writev": 20, "access": 21, "select": 23, "sched_yield": 24, "mremap": 25,
        "mincore": 27, "madvise": 28, "dup": 32, "dup2": 33, "nanosleep": 35, "getpid": 39, "exit": 60, "uname": 63,
        "getcwd": 79, "readlink": 89, "gettimeofday": 96, "getrlimit": 97, "getrusage": 98, "sysinfo": 99, "times": 100,
        "getuid": 102, "getgid": 104, "geteuid": 107, "getegid": 108, "getppid": 110, "sigaltstack": 131,
        "arch_prctl": 158, "setrlimit": 160, "gettid": 186, "time": 201, "futex": 202, "sched_getaffinity": 204,
        "getdents64": 217, "set_tid_address": 218, "restart_syscall": 219, "clock_gettime": 228, "clock_getres": 229,
        "clock_nanosleep": 230, "exit_group": 231, "epoll_wait": 232, "epoll_ctl": 233, "mbind": 237,
        "get_mempolicy": 239, "newfstatat": 262, "readlinkat": 267, "faccessat": 269, "pselect6": 270, "ppoll": 271,
        "set_robust_list": 273, "epoll_pwait": 281, "epoll_create1": 291, "dup3": 292, "getrandom": 318,
        "membarrier": 324, "statx": 332, "rseq": 334, "faccessat2": 439, "futex_waitv": 449,
    },
    "aarch64": {
        "getcwd": 17, "epoll_create1": 20, "epoll_ctl": 21, "epoll_pwait": 22, "dup": 23, "dup3": 24, "faccessat": 48,
        "close": 57, "getdents64": 61, "lseek": 62, "read": 63, "write": 64, "readv": 65, "writev": 66, "pread64": 67,
        "pselect6": 72, "ppoll": 73, "readlinkat": 78, "newfstatat": 79, "fstat": 80, "exit": 93, "exit_group": 94,
        "set_tid_address": 96, "futex": 98, "set_robust_list": 99, "nanosleep": 101, "clock_gettime": 113,
        "clock_getres": 114, "clock_nanosleep": 115, "sched_getaffinity": 123, "sched_yield": 124,
        "restart_syscall": 128, "sigaltstack": 132, "rt_sigaction": 134, "rt_sigprocmask": 135, "rt_sigreturn": 139,
        "times": 153, "uname": 160, "getrlimit": 163, "setrlimit": 164, "getrusage": 165, "gettimeofday": 169,
        "getpid": 172, "getppid": 173, "getuid": 174, "geteuid": 175, "getgid": 176, "getegid": 177, "gettid": 178,
        "sysinfo": 179, "brk": 214, "munmap": 215, "mremap": 216, "mmap": 222, "mprotect": 226, "mincore": 232,
        "madvise": 233, "mbind": 235, "get_mempolicy": 236, "getrandom": 278, "membarrier": 283, "statx": 291,
        "rseq": 293, "faccessat2": 439, "futex_waitv": 449,
    },
}  # fmt: skip
"""Calls that concern this process alone, or files that are open, whatever their arguments are."""

LOOKED_AT: dict[str, dict[str, int]] = {
    "x86_64": {
        "open": 2, "ioctl": 16, "clone": 56, "kill": 62, "fcntl": 72, "prctl": 157, "tgkill": 234, "openat": 257,
        "prlimit64": 302,
    },
    "aarch64": {
        "fcntl": 25, "ioctl": 29, "openat": 56, "kill": 129, "tgkill": 131, "prctl": 167, "clone": 220,
        "prlimit64": 261,
    },
}  # fmt: skip
"""Calls that are allowed with some arguments."""

UNKNOWN = {"clone3": 435, "openat2": 437}
"""Calls whose arguments cannot be looked at: libraries fall back to those whose can."""

_WRITING = os.O_WRONLY | os.O_RDWR | os.O_CREAT | os.O_TRUNC | os.O_APPEND
_CLONE_THREAD = 0x10000
_FCNTL = (0, 1, 2, 3, 4, 1030)  # F_DUPFD to F_SETFL, F_DUPFD_CLOEXEC: not F_SETOWN, by which others are signalled
_IOCTL = (0x5401, 0x5413, 0x5421, 0x5450, 0x5451)  # TCGETS, TIOCGWINSZ, FIONBIO, FIONCLEX, FIOCLEX: not TIOCSTI
_PRCTL = (15, 16, 0x53564D41)  # PR_SET_NAME, PR_GET_NAME, PR_SET_VMA, by which memory gets a name

_Instruction = tuple[int, int, int, int]
"""Code, jumps for true and false, operand."""

_LOAD, _EQUAL, _ANY_OF, _RETURN = 0x20, 0x15, 0x45, 0x06  # BPF: LD|W|ABS, JMP|JEQ|K, JMP|JSET|K, RET|K
_ALLOW, _ERRNO, _KILL = 0x7FFF0000, 0x00050000, 0x80000000
_NUMBER_AT, _ARCH_AT, _ARGUMENTS_AT = 0, 4, 16  # in struct seccomp_data


class _Program(ctypes.Structure):
    _fields_ = (("length", ctypes.c_ushort), ("instructions", ctypes.c_char_p))


def allow_only_decoding(libc: ctypes.CDLL) -> bool:
    """Install the filter for good; return whether the kernel, on a machine that is known here, did.

    No new privileges must have been given up before (PR_SET_NO_NEW_PRIVS); threads that run already are not bound.
    """
    machine = platform.machine()
    if machine not in ALLOWED:
        return False
    code = b"".join(struct.pack("<HBBI", *instruction) for instruction in _filter(machine, os.getpid()))
    program = _Program(len(code) // 8, code)
    done: int = libc.prctl(_PR_SET_SECCOMP, _SECCOMP_MODE_FILTER, ctypes.byref(program), 0, 0)
    return done == 0


def _filter(machine: str, own: int) -> list[_Instruction]:
    """Return the filter for a process of the number ``own``."""
    rules = [
        (_LOAD, 0, 0, _ARCH_AT),
        (_EQUAL, 1, 0, _AUDIT_ARCH[machine]),
        (_RETURN, 0, 0, _KILL),
        (_LOAD, 0, 0, _NUMBER_AT),
        (_ANY_OF, 0, 1, _X32),
        (_RETURN, 0, 0, _KILL),
    ]
    for number in ALLOWED[machine].values():
        rules += [(_EQUAL, 0, 1, number), (_RETURN, 0, 0, _ALLOW)]
    for number in UNKNOWN.values():
        rules += [(_EQUAL, 0, 1, number), (_RETURN, 0, 0, _ERRNO | _ENOSYS)]
    for name, number in LOOKED_AT[machine].items():
        verdict = _verdict(name, own)
        rules += [(_EQUAL, 0, len(verdict), number), *verdict]
    return [*rules, (_RETURN, 0, 0, _ERRNO | _EPERM)]


def _verdict(name: str, own: int) -> list[_Instruction]:
    """Return what allows or denies a call by its arguments; it ends the program."""
    match name:
        case "open":
            return _unless_any(1, _WRITING)
        case "openat":
            return _unless_any(2, _WRITING)
        case "clone":
            return _if_any(0, _CLONE_THREAD)
        case "kill" | "tgkill":
            return _if_one_of(0, (own,))
        case "prlimit64":
            return _if_one_of(0, (0, own))
        case "fcntl":
            return _if_one_of(1, _FCNTL)
        case "ioctl":
            return _if_one_of(1, _IOCTL)
        case _:
            return _if_one_of(0, _PRCTL)


def _argument(place: int) -> _Instruction:
    """Load the lower half of an argument: what is looked at here is an int, of which the kernel takes no more."""
    return (_LOAD, 0, 0, _ARGUMENTS_AT + 8 * place)


def _unless_any(place: int, bits: int) -> list[_Instruction]:
    return [_argument(place), (_ANY_OF, 0, 1, bits), (_RETURN, 0, 0, _ERRNO | _EPERM), (_RETURN, 0, 0, _ALLOW)]


def _if_any(place: int, bits: int) -> list[_Instruction]:
    return [_argument(place), (_ANY_OF, 0, 1, bits), (_RETURN, 0, 0, _ALLOW), (_RETURN, 0, 0, _ERRNO | _EPERM)]


def _if_one_of(place: int, values: tuple[int, ...]) -> list[_Instruction]:
    rules = [_argument(place)]
    for value in values:
        rules += [(_EQUAL, 0, 1, value), (_RETURN, 0, 0, _ALLOW)]
    return [*rules, (_RETURN, 0, 0, _ERRNO | _EPERM)]
