"""What all tests share. The window is the real one, drawn without a screen."""

import os
import sys
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"
sys.path.insert(0, str(Path(__file__).parent))

import pytest
from hypothesis import settings

# no test is timed, and the same commit finds the same
settings.register_profile("patient", deadline=None, derandomize=True)
settings.load_profile("patient")

ROOT = Path(__file__).parent.parent


@pytest.fixture
def root() -> Path:
    return ROOT
