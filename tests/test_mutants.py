"""The tool that puts small faults in: each stands at its place and nowhere else."""

import importlib.util
import json

import coverage
import pytest

SOURCE = '''"""Ä text."""
from dataclasses import dataclass

Pairs = dict[str, float]

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
    assert not {was for was, _ in found} & {"True", "x + 1", "words + 'no'", "(str, float)"}
    (turned,) = [fault for fault in mutants.faults_of(path) if fault.was == "-y"]
    assert turned.put_into(SOURCE) == SOURCE.replace("-y", "(y)")
    compile(turned.put_into(SOURCE), "sheet.py", "exec")


def test_a_fault_is_shown_to_the_tests_that_run_its_line_the_nearest_and_cheapest_first(mutants, root, tmp_path):
    path = root / "src/honest_edge/core/sheet/grid.py"
    costs_s = {"tests/ui/test_far.py::a": 0.1, "tests/core/sheet/test_grid.py::b": 9.0, "tests/x.py::dear": 99.0}
    (tmp_path / "costs-1.json").write_text(json.dumps(costs_s))
    seen = coverage.CoverageData(str(tmp_path / "lines.1"))
    for test, lines in zip([*costs_s, ""], [[5, 9], [5], [5], [1, 5, 9]], strict=True):
        seen.set_context(test)
        seen.add_lines({str(path): lines})
    seen.write()
    near, far, _dear = "tests/core/sheet/test_grid.py::b", *(test for test in costs_s if "grid" not in test)
    run = mutants.LinesRun(tmp_path)

    def shown(line):
        return run.tests_of(mutants.Fault(path=path, first=(line, 0), last=(line, 4), was="1", now="2"))

    assert shown(5) == [near, far]
    assert shown(9) == [far]
    assert shown(1) == [near, far], "what runs when it is imported is shown to all that run the file"


def test_what_the_quick_check_leaves_out_is_there_and_is_what_cost_much(root):
    spec = importlib.util.spec_from_file_location("slow_tests", root / "tools" / "slow_tests.py")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    costs_s = {"tests/a.py::b[1]": 0.05, "tests/a.py::b[2]": 0.2, "tests/a.py::c": 0.1, "tests/ui/d.py::e": 9.0}
    assert module.slow_tests(costs_s) == ["tests/a.py::b"]
    texts = {}
    for line in (root / "tests" / "slow.txt").read_text().split():
        file, _, name = line.partition("::")
        text = texts.setdefault(file, (root / file).read_text())
        assert f"def {name.rpartition('::')[2]}(" in text, line
