"""What the child that decodes art cannot do, tried from inside it.

Landlock and seccomp are asked of the kernel first: where it has neither, only the limits of resources are tried.
"""

import ctypes
import os
import subprocess
import sys
import time
from pathlib import Path

import pytest

from drawings import svg
from honest_edge.files.drawing_child import Request
from honest_edge.files.drawing_parent import Renderer

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
    ran = subprocess.run(
        [sys.executable, "-c", TRY, str(folder / "fonts"), str(folder / "home" / "secret")],
        capture_output=True,
        text=True,
        check=False,
        env=os.environ | {"OPENBLAS_NUM_THREADS": "1"},
    )
    holds, *tried = ran.stdout.splitlines()
    assert tried, ran.stderr
    assert not (folder / "home" / "new").exists()
    assert (folder / "fonts" / "a.ttf").exists()
    return holds, {line.rpartition(" no ")[0] or line.removesuffix(" yes"): " yes" not in line for line in tried}


def test_what_decoding_needs_is_left(found):
    _, denied = found
    assert not denied["read fonts"]
    assert not denied["thread"]


@pytest.mark.parametrize(
    "what", ["write", "write to tmp", "remove", "socket", "local socket", "fork", "program", "exec"]
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
