"""The import rules, each shown to fail where it is broken."""

import ast
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from honest_edge.ui.rooms.book.section import Section
from honest_edge.ui.shared import contract

SOURCE = Path(__file__).parents[1] / "src"
LINTER = Path(sys.executable).parent / "lint-imports"

PLANTS = {
    "core may not import files": ("core/sheet/fit.py", "from honest_edge.files import atomic_write", "Layers"),
    "files may not import app": ("files/atomic_write.py", "from honest_edge.app.edits import job_holder", "Layers"),
    "app may not import ui": ("app/edits/job_holder.py", "from honest_edge.ui.widgets import fields", "Layers"),
    "cli may not import ui": ("cli/__init__.py", "from honest_edge.ui.widgets import fields", "Layers"),
    "a package that no rule lists": ("extras/__init__.py", "", "Layers"),
    "geometry may not import edge": ("core/geometry/arcs.py", "import honest_edge.core.edge.bleed", "Inside core"),
    "results may not import edits": ("app/results/cache.py", "import honest_edge.app.edits.fixes", "Inside app"),
    "views may not import output": (
        "app/views/layer_view.py",
        "import honest_edge.app.output.ticket_text",
        "Inside app",
    ),
    "a station may not import the shell": (
        "ui/stations/edge/panel.py",
        "from honest_edge.ui.shell import tray",
        "Inside ui",
    ),
    "a drawing may not import a station": (
        "ui/drawings/items.py",
        "from honest_edge.ui.stations.edge import strip",
        "Inside ui",
    ),
    "the table may not import a drawing": ("ui/table/tool.py", "import honest_edge.ui.drawings.paths", "Inside ui"),
    "a widget may not import what stations share": (
        "ui/widgets/words.py",
        "import honest_edge.ui.shared.tasks",
        "Inside ui",
    ),
    "a room of ui that no rule lists": ("ui/extras/__init__.py", "", "Inside ui"),
    "a station may not import another": (
        "ui/stations/edge/panel.py",
        "from honest_edge.ui.stations.outline import tools",
        "Stations know nothing",
    ),
    "a new station may not import another": (
        "ui/stations/proof/__init__.py",
        "from honest_edge.ui.stations.outline import tools",
        "Stations know nothing",
    ),
    "no circle between two modules": ("ui/shared/host.py", "import honest_edge.ui.shared.panel", "No circles"),
    "no circle for the sake of types": (
        "core/values/units.py",
        "from typing import TYPE_CHECKING\nif TYPE_CHECKING:\n    import honest_edge.core.values.job",
        "No circles",
    ),
    "no Qt in app": ("app/edits/job_holder.py", "from PyQt6 import QtCore", "Qt only in ui"),
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
    said = " ".join(done.stdout.split())
    broken = [name for name in said.split(" KEPT") if "BROKEN" in name]
    assert any(contract in name for name in broken) or "extras" in done.stdout + done.stderr


@pytest.mark.slow
def test_nothing_but_ui_loads_qt():
    modules = [
        ".".join(path.relative_to(SOURCE).with_suffix("").parts).removesuffix(".__init__")
        for path in (SOURCE / "honest_edge").rglob("*.py")
        if path.relative_to(SOURCE).parts[1] not in ("ui", "__main__.py")
    ]
    assert len(modules) > 120
    script = (
        "import importlib, sys\n"
        f"for name in {sorted(modules)!r}:\n"
        "    importlib.import_module(name)\n"
        "print([m for m in sys.modules if m.startswith('PyQt')])"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


def functions():
    for path in sorted((SOURCE / "honest_edge").rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)):
                yield path.relative_to(SOURCE), node


def test_geometry_that_threads_share_is_never_prepared_but_in_a_copy():
    """GEOS is no reader of a prepared geometry for two threads at once: ``distance.contains`` asks a copy."""
    made_here = {
        "core/edge/contour.py": 1,
        "core/outline/joining.py": 1,
        "core/geometry/distance.py": 2,
        "simulator/judge.py": 5,
    }
    asked = {}
    for path in sorted((SOURCE / "honest_edge").rglob("*.py")):
        count = len(re.findall(r"shapely\.prepare\(|contains_xy\(|intersects_xy\(", path.read_text("utf-8")))
        if count:
            asked[path.relative_to(SOURCE / "honest_edge").as_posix()] = count
    assert asked == made_here


def test_nothing_is_animated():
    """Who wants no animation has none to switch off (WCAG 2.2, 2.3.3); nor does a progress bar run without an end."""
    moving = re.compile(r"Q\w*Animation|QMovie|QTimeLine|setRange\(0, 0\)|setMaximum\(0\)|UI_Animate")
    files = sorted((SOURCE / "honest_edge" / "ui").rglob("*.py"))
    assert [path.name for path in files if moving.search(path.read_text("utf-8"))] == []


def test_no_function_is_longer_than_sixty_lines():
    lengths = {f"{path}:{node.name}": node.end_lineno - node.lineno + 1 for path, node in functions()}
    assert len(lengths) > 1000
    assert {name: length for name, length in lengths.items() if length >= 60} == {}


def test_a_local_says_what_was_found_or_made():
    named = [
        f"{path}:{inner.lineno}"
        for path, node in functions()
        for inner in ast.walk(node)
        if isinstance(inner, ast.Name) and isinstance(inner.ctx, ast.Store) and inner.id in ("found", "made")
    ]
    assert named == []


def test_no_file_of_the_interface_is_longer_than_four_hundred_lines():
    files = {path: len(path.read_text("utf-8").splitlines()) for path in (SOURCE / "honest_edge" / "ui").rglob("*.py")}
    assert len(files) > 50
    assert {path.name: length for path, length in files.items() if length > 400} == {}


def public_functions_of_ui():
    """Functions of modules, methods of classes; those of Qt, Station and Section are explained where they begin."""
    explained = {"paint", "shape", "id", "redo", "undo"}
    explained |= {name for kind in (contract.Station, Section) for name in vars(kind) if not name.startswith("_")}
    for path in sorted((SOURCE / "honest_edge" / "ui").rglob("*.py")):
        body = ast.parse(path.read_text("utf-8")).body
        inside = [node for kind in body if isinstance(kind, ast.ClassDef) for node in kind.body]
        for node in (*body, *inside):
            is_public = isinstance(node, ast.FunctionDef) and node.name.islower() and not node.name.startswith("_")
            if is_public and node.name not in explained:
                yield path, node


def test_public_functions_of_the_interface_say_what_they_are_for():
    found = list(public_functions_of_ui())
    assert len(found) > 200
    assert [f"{path.name}:{node.name}" for path, node in found if ast.get_docstring(node) is None] == []


def test_what_the_bench_is_assumed_to_keep_is_asked_only_where_nothing_is_measured():
    # everything else asks what is known of the bench, measured or typed: Job.misregistration
    may = {
        "core/values/job.py", "app/output/prepare_files.py", "core/proof/book_checks.py", "files/report.py",
        "files/first_fields.py", "files/seal.py", "cli/prepare.py", "ui/stations/edge/error_fields.py",
        "ui/shell/bench_keeper.py", "ui/rooms/bench/work.py", "ui/rooms/bench/room.py", "app/run/trial.py",
    }  # fmt: skip
    found = {
        path.relative_to(SOURCE / "honest_edge").as_posix()
        for path in (SOURCE / "honest_edge").rglob("*.py")
        if re.search(r"(?<!assumed_)\bdrift_mm\b", path.read_text("utf-8"))
    }
    assert found <= may, found - may
