"""Lists every text that a user may read, with its place: of the window, dialogs, errors, the ticket and the handbook.

Docstrings, keys and code are left out: a text is a literal with a space in it, or one that begins with a capital.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
_CODE = re.compile(r"[{}\[<>=_\\;]|^\s*$|^[\w./:#-]+$|--|::|%[a-zA-Z]|^Qt|\bSELECT\b|\bCREATE\b|\bINSERT\b|\bPRAGMA\b")
_WORD = re.compile(r"^[A-Z][a-z]+$")


def texts() -> Iterator[tuple[str, int, str]]:
    """Yield file, line and text."""
    for path in sorted((ROOT / "src" / "honest_edge").rglob("*.py")):
        tree = ast.parse(path.read_text("utf-8"))
        skipped = _docstrings(tree)
        for node in ast.walk(tree):
            if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in skipped:
                text = node.value.strip()
                if _WORD.match(text) or (" " in text and not _CODE.search(text)):
                    yield str(path.relative_to(ROOT)), node.lineno, text
    for path in sorted((ROOT / "src" / "honest_edge" / "app" / "handbook" / "pages").glob("*.md")):
        for number, line in enumerate(path.read_text("utf-8").splitlines(), 1):
            if line.strip():
                yield str(path.relative_to(ROOT)), number, line


def _docstrings(tree: ast.AST) -> set[int]:
    """Return what is said to readers of the code and not to users."""
    return {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}


if __name__ == "__main__":
    for place, line, text in texts():
        sys.stdout.write(f"{place}:{line}: {text}\n")
