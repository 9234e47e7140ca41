"""Starting: the launcher, what it says where it cannot start, the pictures."""

import os
import shutil
import subprocess
import sys

import pytest

from hands import PATIENCE_S
from honest_edge.ui.shell.display_check import DEBIAN_PACKAGE, missing_library, obstacle


def launcher(tmp_path, root, environment):
    for name in ("honest-edge", "tools", "requirements"):
        source = root / name
        (shutil.copytree if source.is_dir() else shutil.copy)(source, tmp_path / name)
    return subprocess.run(
        [tmp_path / "honest-edge"], env=environment, capture_output=True, text=True, check=False, timeout=PATIENCE_S
    )


def stub(folder, text):
    folder.mkdir(exist_ok=True)
    place = folder / "python3"
    place.write_text(f"#!/bin/sh\n{text}\n")
    place.chmod(0o755)
    return folder


def tools_only(folder):
    """A PATH with what the launcher itself calls and no Python."""
    folder.mkdir(exist_ok=True)
    for name in ("sh", "dirname", "readlink", "cmp", "rm", "cp"):
        (folder / name).symlink_to(shutil.which(name))
    return folder


def test_no_python_is_one_line(tmp_path, root):
    (tmp_path / "app").mkdir()
    done = launcher(tmp_path / "app", root, {"PATH": str(tools_only(tmp_path / "bin"))})
    assert done.returncode == 2
    assert done.stderr.count("\n") == 1
    assert "apt install python3 python3-venv" in done.stderr


def test_no_venv_module_is_one_line(tmp_path, root):
    (tmp_path / "app").mkdir()
    path = tools_only(tmp_path / "bin")
    stub(path, 'case "$2" in *venv*) exit 1;; *) exit 0;; esac')
    done = launcher(tmp_path / "app", root, {"PATH": str(path)})
    assert done.returncode == 2
    assert done.stderr.count("\n") == 1
    assert "apt install python3-venv" in done.stderr
    assert not (tmp_path / "app" / ".venv").exists()


def run_module(arguments, **environment):
    base = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    return subprocess.run(
        [sys.executable, "-m", "honest_edge", *arguments],
        env={**base, **environment},
        capture_output=True,
        text=True,
        check=False,
        timeout=PATIENCE_S,
    )


@pytest.mark.parametrize("environment", [{}, {"DISPLAY": ":987"}])
def test_no_display_is_one_line(environment):
    done = run_module([], **environment)
    assert done.returncode == 2
    assert done.stderr.count("\n") == 1
    assert "display" in done.stderr.lower() or "apt install" in done.stderr
    assert "Traceback" not in done.stderr


def test_a_missing_library_is_named_with_its_package():
    error = "libEGL.so.1: cannot open shared object file: No such file or directory"
    said = missing_library(error)
    assert "apt install" in said
    assert "libegl1" in said.split("apt install")[1].split()
    assert "libnew.so.7" in missing_library("libnew.so.7: cannot open shared object file")
    assert missing_library("something else") is None
    assert all(name.startswith("lib") and ".so" in name for name in DEBIAN_PACKAGE)


def test_a_platform_that_was_chosen_is_left_alone(tmp_path):
    assert obstacle({"QT_QPA_PLATFORM": "offscreen"}, tmp_path) is None
    assert obstacle({"WAYLAND_DISPLAY": "wayland-0"}, tmp_path) is None


def test_pictures_are_asked_for_on_the_command_line(tmp_path, root):
    """What they show is told in tests/ui/test_demo.py."""
    script = (
        "import sys\n"
        "from honest_edge.ui.shell import take_pictures\n"
        "take_pictures.take_pictures = lambda window, *asked: print(window.prefs.theme, *asked) or 3\n"
        "from honest_edge.__main__ import main\n"
        "sys.argv[1:] = ['--demo', '--pictures', 'out', '--theme', 'dark', '--units', 'in']\n"
        "sys.exit(main())\n"
    )
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "HOME": str(tmp_path)}
    done = subprocess.run(
        [sys.executable, "-c", script],
        env={**environment, "PYTHONPATH": str(root / "src")},
        cwd=tmp_path,
        capture_output=True,
        text=True,
        check=False,
        timeout=PATIENCE_S,
    )
    assert (done.returncode, done.stdout) == (3, "dark out dark in\n"), done.stderr


def test_help_and_wrong_usage():
    done = run_module(["--help"])
    assert done.returncode == 0
    assert "honest-edge prepare ART" in done.stdout
    assert run_module(["--nonsense"]).returncode == 2


def test_the_process_ends_before_qt_is_taken_apart_and_after_all_else():
    script = (
        "import atexit, sys\n"
        "from PyQt6.QtWidgets import QApplication\n"
        "from honest_edge.ui.shell.start import _left_whole\n"
        "class Part:\n"
        "    def __del__(self):\n"
        "        print('taken apart')\n"
        "part = Part()\n"
        "ended_with = _left_whole(QApplication(['x']))\n"
        "atexit.register(print, 'called before')\n"
        "sys.exit({})\n"
    )
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    for ends, told in (("ended_with(3)", "called before\n"), ("3", "called before\ntaken apart\n")):
        command = [sys.executable, "-c", script.format(ends)]
        done = subprocess.run(
            command, env=environment, capture_output=True, text=True, check=False, timeout=PATIENCE_S
        )  # fmt: skip
        assert (done.returncode, done.stdout) == (3, told), done.stderr
