"""What all tests share. The window is the real one, drawn without a screen."""

import gc
import os
import sys
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"
os.environ["HONEST_EDGE_BOOK"] = "/dev/null/no test may write into the user’s own Book"
os.environ.setdefault("NUMPY_MADVISE_HUGEPAGE", "0")  # as the application sets it, before NumPy loads
sys.path.insert(0, str(Path(__file__).parent))

import pytest
from hypothesis import settings

from honest_edge.files.memory import keep_memory_together
from memory import let_go_if_grown

keep_memory_together()

# no test is timed, and the same commit finds the same
settings.register_profile("patient", deadline=None, derandomize=True)
settings.load_profile("patient")

ROOT = Path(__file__).parent.parent


def pytest_collection_modifyitems(items):
    """What is listed as slow is; files that take long go first: no process is left alone with one."""
    slow = set((ROOT / "tests" / "slow.txt").read_text().split())
    for item in items:
        if item.nodeid.partition("[")[0] in slow:
            item.add_marker("slow")
    items.sort(key=lambda item: not hasattr(item.module, "pytestmark"))


def pytest_collection_finish():
    gc.freeze()  # modules stay: collecting need not look through them


@pytest.fixture(scope="module", autouse=True)
def _memory_given_back():
    """Let go of all that the file of tests before computed."""
    let_go_if_grown()


@pytest.fixture
def root() -> Path:
    return ROOT
