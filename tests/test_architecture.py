"""The import rules, each shown to fail where it is broken."""

import shutil
import subprocess
import sys
from pathlib import Path

import pytest

LINTER = Path(sys.executable).parent / "lint-imports"

PLANTS = {
    "core may not import files": ("core/sheet/fit.py", "from honest_edge.files import whole", "Layers"),
    "files may not import app": ("files/whole.py", "from honest_edge.app import holder", "Layers"),
    "app may not import ui": ("app/holder.py", "from honest_edge.ui import fields", "Layers"),
    "cli may not import ui": ("cli/__init__.py", "from honest_edge.ui import fields", "Layers"),
    "a package that no rule lists": ("extras/__init__.py", "", "Layers"),
    "geometry may not import edge": ("core/geometry/arcs.py", "import honest_edge.core.edge.bleed", "Inside core"),
    "no Qt in app": ("app/holder.py", "from PyQt6 import QtCore", "Qt only in ui"),
    "no Qt in core": ("core/values/job.py", "from PyQt6 import QtCore", "Qt only in ui"),
    "no files in core": ("core/values/job.py", "import pathlib", "Core knows no files"),
    "no clock in core": ("core/values/job.py", "import time", "Core knows no files"),
}


def lint(root: Path) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [LINTER, "--no-cache", "--config", "pyproject.toml"],
        cwd=root,
        env={"PYTHONPATH": str(root / "src"), "PATH": "/usr/bin:/bin", "COLUMNS": "300"},
        capture_output=True,
        text=True,
        check=False,
    )


@pytest.fixture(scope="module")
def copy(tmp_path_factory):
    root = Path(__file__).parent.parent
    place = tmp_path_factory.mktemp("planted")
    shutil.copytree(root / "src", place / "src", ignore=shutil.ignore_patterns("__pycache__", "fonts", "*.hedge"))
    shutil.copy(root / "pyproject.toml", place)
    return place


def test_the_rules_hold(copy):
    assert lint(copy).returncode == 0


@pytest.mark.parametrize("name", PLANTS)
def test_a_planted_violation_is_found(copy, name):
    where, line, contract = PLANTS[name]
    place = copy / "src" / "honest_edge" / where
    before = place.read_text() if place.exists() else None
    place.parent.mkdir(exist_ok=True)
    try:
        place.write_text((before or "") + f"\n{line}\n")
        done = lint(copy)
    finally:
        if before is None:
            shutil.rmtree(place.parent)
        else:
            place.write_text(before)
    assert done.returncode != 0
    broken = [row for row in done.stdout.splitlines() if "BROKEN" in row]
    assert any(contract in row for row in broken) or "extras" in done.stdout + done.stderr


def test_nothing_but_ui_loads_qt():
    script = (
        "import pkgutil, importlib, sys, honest_edge\n"
        "for m in pkgutil.walk_packages(honest_edge.__path__, 'honest_edge.'):\n"
        "    if not m.name.startswith('honest_edge.ui') and not m.name.endswith('__main__'):\n"
        "        importlib.import_module(m.name)\n"
        "print([m for m in sys.modules if m.startswith('PyQt')])"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"
