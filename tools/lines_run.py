"""A pytest plugin: which lines each test runs and what it costs, kept in the folder HONEST_EDGE_LINES_RUN names.

``tools/mutants.py`` reads it, so that a fault is shown to the tests that run its line.
"""

import json
import os
import time
from collections.abc import Iterator
from pathlib import Path

import coverage
import pytest

_FOLDER = Path(os.environ["HONEST_EDGE_LINES_RUN"])
_SOURCE = Path(__file__).resolve().parent.parent / "src"
_WATCH = coverage.Coverage(str(_FOLDER / "lines"), data_suffix=True, source=[str(_SOURCE)], config_file=False)
_costs_s: dict[str, float] = {}


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_protocol(item: pytest.Item) -> Iterator[None]:
    """Say whose lines are run now."""
    if not _costs_s:
        _WATCH.start()
    _WATCH.switch_context(item.nodeid)
    began_s = time.process_time()
    yield
    _costs_s[item.nodeid] = time.process_time() - began_s
    _WATCH.switch_context("")


def pytest_unconfigure() -> None:
    """Keep what was seen; the process that hands tests out has seen none."""
    if _costs_s:
        _WATCH.stop()
        _WATCH.save()
        (_FOLDER / f"costs-{os.getpid()}.json").write_text(json.dumps(_costs_s))
