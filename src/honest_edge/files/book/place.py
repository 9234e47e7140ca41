"""Where the Book lies."""

from __future__ import annotations

import os
from pathlib import Path

import platformdirs

VARIABLE = "HONEST_EDGE_BOOK"
"""Names another Book, as ``--book`` does."""


def book_path(named: Path | None = None) -> Path:
    """Return the Book's file: the one that was named, else that of the environment, else the user's own."""
    if named is not None:
        return named.absolute()
    other = os.environ.get(VARIABLE)
    return Path(other).absolute() if other else Path(platformdirs.user_data_dir("honest-edge")) / "book.sqlite"
