"""What the child that decodes art cannot do, tried from inside it.

Landlock and seccomp are asked of the kernel first: where it has neither, only the limits of resources are tried.
"""

import ctypes
import ctypes.util
import os
import platform
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from drawings import svg
from honest_edge.files import system_calls
from honest_edge.files.drawing_child import Request
from honest_edge.files.drawing_parent import Renderer

OTHERS = ["signal another", "signal all", "signal a thread of another", "signal another through its threads",
          "queue a signal", "own a file for another", "type into the terminal", "limit another", "slow another",
          "move another", "be traced", "wait for others"]  # fmt: skip

TRY = """
import os, sys
from pathlib import Path
from honest_edge.files.confinement import confine
import socket, subprocess, multiprocessing
holds = confine([Path(sys.argv[1])], memory_bytes=2_500_000_000, parent=os.getppid())
print("holds:", "; ".join(holds))
secret, fonts = Path(sys.argv[2]), Path(sys.argv[1])

def attempt(name, act):
    try:
        act()
    except BaseException as error:
        print(name, "no", type(error).__name__)
    else:
        print(name, "yes")

attempt("read fonts", lambda: (fonts / "a.ttf").read_bytes())
attempt("read secret", secret.read_bytes)
attempt("read passwd", lambda: open("/etc/passwd").read())
attempt("list home", lambda: os.listdir(secret.parent))
attempt("write", lambda: (secret.parent / "new").write_bytes(b"x"))
attempt("write to tmp", lambda: open("/tmp/honest-edge-new", "w").write("x"))
attempt("remove", lambda: os.unlink(fonts / "a.ttf"))
attempt("socket", lambda: socket.socket(socket.AF_INET, socket.SOCK_STREAM))
attempt("local socket", lambda: socket.socketpair())
attempt("fork", lambda: os.fork() or os._exit(0))
attempt("program", lambda: subprocess.run(["/bin/true"], check=True))
attempt("exec", lambda: os.execv("/bin/true", ["true"]))
libc = __import__("ctypes").CDLL(None, use_errno=True)

def call(number, *arguments):
    if libc.syscall(number, *arguments) < 0:
        raise OSError(__import__("ctypes").get_errno(), "denied")

stranger = int(sys.argv[3])
fcntl = __import__("fcntl")
attempt("signal another", lambda: os.kill(stranger, 0))
attempt("signal all", lambda: os.kill(-1, 0))
attempt("signal a thread of another", lambda: call(200, stranger, 0))
attempt("signal another through its threads", lambda: call(234, stranger, stranger, 0))
attempt("queue a signal", lambda: call(129, stranger, 0, 0))
attempt("own a file for another", lambda: fcntl.fcntl(0, fcntl.F_SETOWN, stranger))
attempt("type into the terminal", lambda: fcntl.ioctl(0, 0x5412, b"x"))
attempt("limit another", lambda: __import__("resource").prlimit(stranger, __import__("resource").RLIMIT_NOFILE, (9, 9)))
attempt("slow another", lambda: os.setpriority(os.PRIO_PROCESS, stranger, 19))
attempt("move another", lambda: os.sched_setaffinity(stranger, {0}))
attempt("be traced", lambda: call(157, 0x59616d61, -1, 0, 0, 0))
attempt("wait for others", lambda: call(434, stranger, 0))
attempt("signal itself", lambda: os.kill(os.getpid(), 0))
attempt("limit itself", lambda: __import__("resource").prlimit(0, __import__("resource").RLIMIT_CPU, (99, 99)))
attempt("thread", lambda: __import__("threading").Thread(target=int).start())
"""


def has_landlock():
    return ctypes.CDLL(None).syscall(444, None, 0, 1) >= 1


@pytest.fixture(scope="module")
def found(tmp_path_factory):
    folder = tmp_path_factory.mktemp("confined")
    (folder / "fonts").mkdir()
    (folder / "fonts" / "a.ttf").write_bytes(b"font")
    (folder / "home").mkdir()
    (folder / "home" / "secret").write_bytes(b"secret")
    with subprocess.Popen(["sleep", "300"]) as stranger:
        ran = subprocess.run(
            [sys.executable, "-c", TRY, str(folder / "fonts"), str(folder / "home" / "secret"), str(stranger.pid)],
            capture_output=True,
            text=True,
            check=False,
            env=os.environ | {"OPENBLAS_NUM_THREADS": "1"},
        )
        stranger.kill()
    holds, *tried = ran.stdout.splitlines()
    assert tried, ran.stderr
    assert not (folder / "home" / "new").exists()
    assert (folder / "fonts" / "a.ttf").exists()
    why = {line.rpartition(" no ")[0] or line.removesuffix(" yes"): line.rpartition(" ")[2] for line in tried}
    for what in OTHERS:  # the filter says no, and not the arguments: they are good enough to be looked at
        assert "no network" not in holds or why[what] == "PermissionError", (what, why[what])
    return holds, {what: verdict != "yes" for what, verdict in why.items()}


def test_what_decoding_needs_is_left(found):
    _, denied = found
    assert not denied["read fonts"]
    assert not denied["thread"]
    assert not denied["signal itself"]
    assert not denied["limit itself"]


@pytest.mark.parametrize(
    "what", ["write", "write to tmp", "remove", "socket", "local socket", "fork", "program", "exec", *OTHERS]
)
def test_no_files_no_network_no_programs(found, what):
    holds, denied = found
    if "no network" not in holds:
        pytest.skip("this kernel or processor has no filter of system calls that is known here")
    assert denied[what]


@pytest.mark.parametrize("what", ["read secret", "read passwd", "list home"])
def test_nothing_of_the_user_is_read(found, what):
    if not has_landlock():
        pytest.skip("this kernel has no Landlock")
    assert "reads only typefaces" in found[0]
    assert found[1][what]


X32 = """
import ctypes, os
from honest_edge.files.confinement import confine
confine([], memory_bytes=2_500_000_000, parent=os.getppid())
ctypes.CDLL(None).syscall(0x40000000 + 39)
print("went on")
"""


@pytest.mark.skipif(platform.machine() != "x86_64", reason="only there is the kernel asked so")
def test_another_way_to_ask_the_kernel_ends_the_process(found):
    if "no network" not in found[0]:
        pytest.skip("this kernel or processor has no filter of system calls that is known here")
    ran = subprocess.run([sys.executable, "-c", X32], capture_output=True, text=True, check=False)
    assert ran.returncode == -signal.SIGSYS
    assert ran.stdout == ""


@pytest.mark.parametrize(("machine", "arch"), [("x86_64", 0xC000003E), ("aarch64", 0xC00000B7)])
def test_numbers_of_system_calls_are_those_of_libseccomp(machine, arch):
    """libseccomp, the reference for such filters, resolves every name (seccomp_syscall_resolve_name_arch(3))."""
    name = ctypes.util.find_library("seccomp")
    if name is None:
        pytest.skip("libseccomp is not installed")
    library = ctypes.CDLL(name)
    for table in (system_calls.ALLOWED[machine], system_calls.LOOKED_AT[machine], system_calls.UNKNOWN):
        wrong = {
            call: number
            for call, number in table.items()
            if library.seccomp_syscall_resolve_name_arch(arch, call.encode()) not in (number, -1)  # -1: it is older
        }
        assert wrong == {}


def status(pid):
    lines = Path(f"/proc/{pid}/status").read_text().splitlines()
    return dict(line.split(":\t", 1) for line in lines if ":\t" in line)


def test_the_child_that_decodes_is_confined():
    renderer = Renderer(most=1)
    renderer.draw(svg(), Request(kind="svg", name="a.svg"))
    (child,) = renderer._free.queue
    told = status(child._process.pid)
    assert told["NoNewPrivs"].strip() == "1"
    assert told["Threads"].strip() == "1"  # the filter binds the thread that asks for it
    assert told["Seccomp"].strip() == "2"
    limits = Path(f"/proc/{child._process.pid}/limits").read_text()
    assert "Max file size             0" in limits
    renderer.close()


PARENT = """
import sys, time
from honest_edge.files import system_calls
from honest_edge.files.drawing_child import Request
from honest_edge.files.drawing_parent import Renderer
renderer = Renderer(most=1)
(child,) = renderer._free.queue
print(child.running().pid, flush=True)
blur = '<feGaussianBlur stdDeviation="400"/><feMorphology operator="dilate" radius="300"/>' * 400
hard = f'''<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="90mm"><filter id="f" x="-9" y="-9" width="30"
height="30">{blur}</filter><g filter="url(#f)"><circle cx="30" cy="20" r="15"/></g></svg>'''
renderer.draw(hard.encode(), Request(kind="svg", name="hard.svg"))
"""


def test_a_busy_child_dies_with_its_parent():
    parent = subprocess.Popen([sys.executable, "-c", PARENT], stdout=subprocess.PIPE, env=os.environ)
    child = int(parent.stdout.readline())
    time.sleep(1.0)  # it draws now
    parent.kill()
    parent.communicate()
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline and Path(f"/proc/{child}").exists() and status(child)["State"][0] != "Z":
        time.sleep(0.05)
    assert not Path(f"/proc/{child}").exists() or status(child)["State"][0] == "Z"


PLANTED = "from pathlib import Path\nPath(__file__).with_suffix('.ran').touch()\nraise ImportError\n"


@pytest.mark.parametrize("command", [("--version",), ("outline", "a.svg", "--width", "50mm")])
def test_nothing_is_run_that_lies_in_the_current_folder(tmp_path, root, command):
    for name in ("msgspec", "lxml", "numpy", "PIL", "platformdirs", "resvg_py", "struct", "json", "selectors"):
        (tmp_path / f"{name}.py").write_text(PLANTED)
    (tmp_path / "a.svg").write_bytes(svg())
    ran = subprocess.run(
        [sys.executable, "-m", "honest_edge", *command],
        cwd=tmp_path,
        env=os.environ | {"PYTHONPATH": str(root / "src")},
        capture_output=True,
        text=True,
        check=False,
    )
    assert ran.returncode == 0, ran.stderr
    assert not list(tmp_path.glob("*.ran"))
