"""Puts small faults into core, app and files, one at a time, and asks the tests that run the line: who notices?

Faults are drawn by seed: a comparison or a bound moved, a sign or an operator swapped, a condition turned round, a
number changed, a part of a key left out; none in what is made up for the demo, nor in numbers so small that they only
keep a division from failing. Each is put into a copy of the tree; the tests that run its line run, the cheapest first,
until one fails. What nobody noticed is listed with its place, to be read by a person: some of it changes nothing that
anybody could see.

Bounds: 85 % of all are noticed, 95 % in the rooms on which runs, measuring and files rest.
"""

from __future__ import annotations

import argparse
import ast
import copy
import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import Queue

import coverage

ROOT = Path(__file__).resolve().parent.parent
SOURCE = ROOT / "src" / "honest_edge"
ROOMS = ("core", "app", "files")
STRICT = ("core/edge", "core/measure", "core/run", "files")
BOUND, STRICT_BOUND = 0.85, 0.95
BUDGET_S = 25.0
PATIENCE_S = 240
MADE_UP = ("demo_book.py", "demo_bench.py")
IN_A_CHILD = ("tests/files/test_confinement.py", "tests/files/test_drawings.py", "tests/files/test_file_layers.py",
              "tests/files/test_in_drawings.py", "tests/files/test_read_art.py")  # fmt: skip
"""Tests of what runs in processes of its own, which nothing watches."""
LEAST = 1e-4
PYTEST = (sys.executable, "-m", "pytest", "-q", "-m", "not long")

OF_TYPES = {"Callable", "Iterator", "Iterable", "Literal", "Mapping", "NDArray", "Sequence", "dict", "list", "tuple"}
COMPARED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
}  # fmt: skip
RECKONED: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.FloorDiv: ast.Mult,
}  # fmt: skip


@dataclass(frozen=True)
class Fault:
    """One fault: where it goes, and what stands there instead."""

    path: Path
    first: tuple[int, int]
    last: tuple[int, int]
    was: str
    now: str

    @property
    def place(self) -> str:
        """Its file and line, and what it does."""
        return f"{self.path.relative_to(SOURCE)}:{self.first[0]}: {self.was}  ->  {self.now}"

    def put_into(self, text: str) -> str:
        """Return a file's text with the fault in it."""
        lines = text.splitlines(keepends=True)
        starts = [0]
        for line in lines:
            starts.append(starts[-1] + len(line.encode()))
        data = text.encode()
        begin, end = (starts[row - 1] + column for row, column in (self.first, self.last))
        return (data[:begin] + self.now.encode() + data[end:]).decode()


def faults_of(path: Path) -> Iterator[Fault]:
    """Yield every fault that a file can be given."""
    tree = ast.parse(path.read_text())
    for node in _reached(tree):
        for changed in _changed(node):
            yield Fault(
                path=path,
                first=(node.lineno, node.col_offset),
                last=(node.end_lineno or 0, node.end_col_offset or 0),
                was=" ".join(ast.unparse(node).split())[:70],
                now=f"({ast.unparse(changed)})",
            )


def _reached(node: ast.AST) -> Iterator[ast.expr]:
    """Yield expressions that run: no annotations, no texts and nothing inside them, whose places are not told."""
    skipped: set[int] = set()
    if isinstance(node, ast.AnnAssign | ast.arg):
        skipped.add(id(node.annotation))
    if isinstance(node, ast.FunctionDef | ast.ClassDef):
        skipped |= {id(one) for one in (getattr(node, "returns", None), *node.decorator_list)}
    if isinstance(node, ast.Subscript) and isinstance(node.value, ast.Name) and node.value.id in OF_TYPES:
        return  # the name of a type runs, too, and nobody asks it
    is_for_types = isinstance(node, ast.If) and "TYPE_CHECKING" in ast.dump(node.test)
    if is_for_types or isinstance(node, ast.Raise | ast.JoinedStr):
        return
    for child in ast.iter_child_nodes(node):
        if id(child) not in skipped:
            if isinstance(child, ast.expr):
                yield child
            yield from _reached(child)


def _changed(node: ast.expr) -> Iterator[ast.expr]:
    made = copy.deepcopy(node)
    match made:
        case ast.Compare(ops=[op]) if type(op) in COMPARED:
            made.ops = [COMPARED[type(op)]()]
            yield made
        case ast.BinOp(op=op) if type(op) in RECKONED:
            made.op = RECKONED[type(op)]()
            yield made
        case ast.UnaryOp(op=ast.USub() | ast.Not()):
            yield made.operand
        case ast.BoolOp(op=op):
            made.op = ast.Or() if isinstance(op, ast.And) else ast.And()
            yield made
        case ast.IfExp():
            made.body, made.orelse = made.orelse, made.body
            yield made
        case ast.Constant(value=bool(value)):
            yield ast.Constant(not value)
        case ast.Constant(value=int(value) | float(value)) if not 0 < abs(value) < LEAST:
            yield ast.Constant(value + 1 if isinstance(value, int) else value * 2 or 1.0)
        case ast.Tuple(elts=[_, _, *_], ctx=ast.Load()):
            made.elts = made.elts[:-1]
            yield made


class LinesRun:
    """Which tests run which lines, the cheapest first."""

    def __init__(self, folder: Path) -> None:
        """Read what ``tools/lines_run.py`` kept."""
        self._data = [coverage.CoverageData(str(path)) for path in folder.glob("lines.*")]
        for data in self._data:
            data.read()
        self._costs_s: dict[str, float] = {}
        for path in folder.glob("costs-*.json"):
            self._costs_s |= json.loads(path.read_text())
        self._of_file: dict[Path, dict[int, set[str]]] = {}

    def tests_of(self, fault: Fault) -> list[str]:
        """Return the tests that run a fault's lines; of what runs when it is imported, those that run its file."""
        if fault.path not in self._of_file:
            lines: dict[int, set[str]] = {}
            for data in self._data:
                for line, tests in data.contexts_by_lineno(str(fault.path)).items():
                    lines.setdefault(line, set()).update(test for test in tests if test in self._costs_s)
            self._of_file[fault.path] = lines
        lines = self._of_file[fault.path]
        here = set().union(*(lines.get(line, set()) for line in range(fault.first[0], fault.last[0] + 1)))
        folder = "/".join(fault.path.relative_to(SOURCE).parts[:-1])
        if not here and folder.startswith("files"):
            here = {test for test in self._costs_s if test.startswith(IN_A_CHILD)}
        return self._affordable(here or set().union(*lines.values()), f"tests/{folder}/")

    def _affordable(self, tests: set[str], near: str) -> list[str]:
        """Return the nearest and cheapest tests, as many as there is patience for, file by file."""
        chosen: list[str] = []
        left_s = BUDGET_S
        for test in sorted(tests, key=lambda test: (not test.startswith(near), self._costs_s[test], test)):
            left_s -= self._costs_s[test]
            if chosen and left_s < 0:
                break
            chosen.append(test)
        files = dict.fromkeys(test.split("::")[0] for test in chosen)
        return sorted(chosen, key=lambda test: list(files).index(test.split("::")[0]))


def watched(folder: Path) -> None:
    """Run all tests once, to see which lines each runs."""
    environment = _environment(ROOT) | {"HONEST_EDGE_LINES_RUN": str(folder)}
    environment["PYTHONPATH"] += f":{ROOT / 'tools'}"
    command = [*PYTEST, "-n", "2", "--dist", "worksteal", "-p", "lines_run"]
    subprocess.run(command, cwd=ROOT, env=environment, check=True)


def is_noticed(fault: Fault, tests: list[str], tree: Path) -> bool:
    """Whether any of the tests fails with a fault in a copy of the tree."""
    target = tree / fault.path.relative_to(ROOT)
    before = target.read_text()
    target.write_text(fault.put_into(before))
    try:
        ran = subprocess.run(
            [*PYTEST, "-x", "--timeout", "300", *tests],
            cwd=tree, env=_environment(tree), capture_output=True, check=False, timeout=PATIENCE_S,
        )  # fmt: skip
    except subprocess.TimeoutExpired:
        return True
    finally:
        target.write_text(before)
    return ran.returncode != 0


def _environment(tree: Path) -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": str(tree / "src"), "QT_QPA_PLATFORM": "offscreen"}


def drawn(count: int, seed: int) -> list[Fault]:
    """Return so many faults, drawn by seed from all that could be put in."""
    files = sorted(path for room in ROOMS for path in (SOURCE / room).rglob("*.py") if path.name not in MADE_UP)
    every = [fault for path in files for fault in faults_of(path)]
    return random.Random(seed).sample(every, min(count, len(every)))


def main() -> int:
    """Put faults in and say who noticed; the exit code is 1 below a bound."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0] if __doc__ else None)
    parser.add_argument("--count", type=int, default=300)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--room", default="", help="only faults in files whose path begins so")
    parser.add_argument("--lines", type=Path, help="which test runs which line, kept there; made where it is not")
    parser.add_argument("--processes", type=int, default=2)
    options = parser.parse_args()
    chosen = [f for f in drawn(10**9, options.seed) if str(f.path.relative_to(SOURCE)).startswith(options.room)]
    chosen = chosen[: options.count]
    with tempfile.TemporaryDirectory() as folder:
        lines = options.lines or Path(folder) / "lines"
        if not lines.exists():
            lines.mkdir()
            watched(lines)
        run_by = LinesRun(lines)
        trees: Queue[Path] = Queue()
        for number in range(options.processes):
            tree = Path(folder) / str(number)
            unwanted = shutil.ignore_patterns(".git", ".venv", "__pycache__", ".mypy_cache", ".hypothesis")
            shutil.copytree(ROOT, tree, ignore=unwanted)
            trees.put(tree)
        shown = [(fault, run_by.tests_of(fault)) for fault in chosen]

        def judge(asked: tuple[Fault, list[str]]) -> bool:
            fault, tests = asked
            tree = trees.get()
            try:
                noticed = bool(tests) and is_noticed(fault, tests, tree)
            finally:
                trees.put(tree)
            asked_of = f", of {len(tests)} tests" if tests else ": no test runs it"
            print(
                "." if noticed else f"\nnobody noticed {fault.place}{asked_of}", end="" if noticed else "\n", flush=True
            )
            return noticed

        with ThreadPoolExecutor(options.processes) as workers:
            verdicts = list(workers.map(judge, shown))
    return told(chosen, verdicts)


def told(chosen: list[Fault], verdicts: list[bool]) -> int:
    """Print the shares by room; return 1 where one is below its bound."""
    all_, noticed = Counter[str](), Counter[str]()
    for fault, is_seen in zip(chosen, verdicts, strict=True):
        name = str(fault.path.relative_to(SOURCE))
        rooms = {"all", "/".join(name.split("/")[:2]) if name.startswith("core/") else name.split("/")[0]}
        all_.update(rooms)
        noticed.update(rooms if is_seen else ())
    code = 0
    for room in sorted(all_):
        share, bound = noticed[room] / all_[room], STRICT_BOUND if room in STRICT else BOUND
        is_bound = room == "all" or room in STRICT
        code |= is_bound and share < bound
        counted = f"{room:16} {noticed[room]:4} of {all_[room]:4} = {100 * share:5.1f} %"
        print(f"{counted}  bound {100 * bound:.0f}" if is_bound else counted)
    return code


if __name__ == "__main__":
    sys.exit(main())
