"""The tool that puts small faults in: each stands at its place and nowhere else."""

import importlib.util

import pytest

SOURCE = '''"""Ä text."""
from dataclasses import dataclass

@dataclass(frozen=True)
class Sheet:
    width: "float" = 2.0

def turned(x, y, *, flag=False):
    words = f"ü {x + 1}"
    if x < 3 and not flag:
        return (-y, x * 2)
    raise ValueError(words + "no")
'''


@pytest.fixture
def mutants(root):
    spec = importlib.util.spec_from_file_location("mutants", root / "tools" / "mutants.py")
    module = importlib.util.module_from_spec(spec)
    import sys

    sys.modules["mutants"] = module  # which its dataclass looks itself up by
    spec.loader.exec_module(module)
    yield module
    del sys.modules["mutants"]


def test_faults_are_put_where_they_are_meant_and_into_what_runs_alone(mutants, tmp_path):
    path = tmp_path / "sheet.py"
    path.write_text(SOURCE)
    found = {(fault.was, fault.now) for fault in mutants.faults_of(path)}
    assert {
        ("2.0", "(4.0)"), ("False", "(True)"), ("x < 3", "(x <= 3)"), ("not flag", "(flag)"), ("-y", "(y)"),
        ("x < 3 and (not flag)", "(x < 3 or not flag)"), ("x * 2", "(x / 2)"), ("(-y, x * 2)", "((-y,))"),
    } <= found  # fmt: skip
    assert not {was for was, _ in found} & {"True", "x + 1", "words + 'no'"}
    (turned,) = [fault for fault in mutants.faults_of(path) if fault.was == "-y"]
    assert turned.put_into(SOURCE) == SOURCE.replace("-y", "(y)")
    compile(turned.put_into(SOURCE), "sheet.py", "exec")


def test_the_nearest_tests_come_first(mutants, tmp_path):
    near, far = tmp_path / "core" / "test_a.py", tmp_path / "app" / "test_b.py"
    for path in (near, far):
        path.parent.mkdir()
        path.write_text("")
    importers = {"honest_edge.core.one": {"honest_edge.app.two"}}
    tests = {far: {"honest_edge.app.two"}, near: {"honest_edge.core.one"}}
    assert mutants.tests_near(importers, tests, "honest_edge.core.one") == [near]
    assert mutants.tests_near(importers, {far: tests[far]}, "honest_edge.core.one") == [far]
