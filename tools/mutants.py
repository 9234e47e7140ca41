"""Puts small faults into core, app and files, one at a time, and asks the tests that import the module: who notices?

Faults are drawn by seed: a comparison or a bound moved, a sign or an operator swapped, a condition turned round, a
number changed, a part of a key left out. Each is put into a copy of the tree; the test files that import the module
run, the nearest first, until one fails. What nobody noticed is listed with its place, to be read by a person: some of
it changes nothing that anybody could see.

Bounds: 85 % of all are noticed, 95 % in the rooms on which runs, measuring and files rest.
"""

from __future__ import annotations

import argparse
import ast
import copy
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

ROOT = Path(__file__).resolve().parent.parent
SOURCE = ROOT / "src" / "honest_edge"
ROOMS = ("core", "app", "files")
STRICT = ("core/edge", "core/measure", "core/run", "files")
BOUND, STRICT_BOUND = 0.85, 0.95
MOST_TEST_FILES = 8
PATIENCE_S = 900

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
        case ast.Constant(value=int(value) | float(value)):
            yield ast.Constant(value + 1 if isinstance(value, int) else value * 2 or 1.0)
        case ast.Tuple(elts=[_, _, *_], ctx=ast.Load()):
            made.elts = made.elts[:-1]
            yield made


def imports_of(path: Path) -> set[str]:
    """Return the modules of ours that a file imports, wherever in it."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.ImportFrom) and node.module:
            found |= {node.module, *(f"{node.module}.{alias.name}" for alias in node.names)}
        elif isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
    return {name for name in found if name.startswith("honest_edge")}


def module_of(path: Path) -> str:
    """Return a file's module."""
    return ".".join(("honest_edge", *path.relative_to(SOURCE).with_suffix("").parts)).removesuffix(".__init__")


def tests_near(importers: dict[str, set[str]], tests: dict[Path, set[str]], module: str) -> list[Path]:
    """Return the test files that import a module, or else what imports it, the nearest first."""
    ring, seen, found = {module}, {module}, []
    while ring and len(found) < MOST_TEST_FILES:
        near = [path for path, names in tests.items() if names & ring and path not in found]
        found += sorted(near, key=lambda path: (module.split(".")[1] not in path.parts, path.stat().st_size))
        if found:
            break
        ring = {other for name in ring for other in importers.get(name, ())} - seen
        seen |= ring
    return found[:MOST_TEST_FILES]


def is_noticed(fault: Fault, tests: list[Path], tree: Path) -> bool:
    """Whether any of the tests fails with a fault in a copy of the tree."""
    target = tree / fault.path.relative_to(ROOT)
    before = target.read_text()
    target.write_text(fault.put_into(before))
    environment = {**os.environ, "PYTHONPATH": str(tree / "src"), "QT_QPA_PLATFORM": "offscreen"}
    command = [sys.executable, "-m", "pytest", "-q", "-x", "-m", "not long", "--timeout", "300"]
    try:
        ran = subprocess.run(
            [*command, *(str(path.relative_to(ROOT)) for path in tests)],
            cwd=tree, env=environment, capture_output=True, check=False, timeout=PATIENCE_S,
        )  # fmt: skip
    except subprocess.TimeoutExpired:
        return True
    finally:
        target.write_text(before)
    return ran.returncode != 0


def drawn(count: int, seed: int) -> list[Fault]:
    """Return so many faults, drawn by seed from all that could be put in."""
    files = sorted(path for room in ROOMS for path in (SOURCE / room).rglob("*.py"))
    every = [fault for path in files for fault in faults_of(path)]
    return random.Random(seed).sample(every, min(count, len(every)))


def main() -> int:
    """Put faults in and say who noticed; the exit code is 1 below a bound."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0] if __doc__ else None)
    parser.add_argument("--count", type=int, default=300)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--room", default="", help="only faults in files whose path begins so")
    parser.add_argument("--processes", type=int, default=2)
    options = parser.parse_args()
    chosen = [f for f in drawn(10**9, options.seed) if str(f.path.relative_to(SOURCE)).startswith(options.room)]
    chosen = chosen[: options.count]
    importers: dict[str, set[str]] = {}
    for path in SOURCE.rglob("*.py"):
        for name in imports_of(path):
            importers.setdefault(name, set()).add(module_of(path))
    tests = {path: imports_of(path) for path in (ROOT / "tests").rglob("test_*.py")}
    with tempfile.TemporaryDirectory() as folder:
        trees: Queue[Path] = Queue()
        for number in range(options.processes):
            tree = Path(folder) / str(number)
            unwanted = shutil.ignore_patterns(".git", ".venv", "__pycache__", "corpus", ".mypy_cache", ".hypothesis")
            shutil.copytree(ROOT, tree, ignore=unwanted)
            trees.put(tree)

        def judge(fault: Fault) -> bool:
            tree = trees.get()
            try:
                near = tests_near(importers, tests, module_of(fault.path))
                noticed = bool(near) and is_noticed(fault, near, tree)
            finally:
                trees.put(tree)
            print("." if noticed else f"\nnobody noticed {fault.place}", end="" if noticed else "\n", flush=True)
            return noticed

        with ThreadPoolExecutor(options.processes) as workers:
            verdicts = list(workers.map(judge, chosen))
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
