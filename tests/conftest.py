"""What all tests share. The window is the real one, drawn without a screen."""

import os
import sys
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"
sys.path.insert(0, str(Path(__file__).parent))

import pytest

ROOT = Path(__file__).parent.parent


@pytest.fixture
def root() -> Path:
    return ROOT
