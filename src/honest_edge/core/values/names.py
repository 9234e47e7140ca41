"""A rule for what users call things."""

from __future__ import annotations

from honest_edge.core.values.errors import UsageError, one_line

_MOST_OF_A_FILE = 255


def readable(name: str) -> str:
    """Return a file's name as text that can be shown and stored: what is no letter of it is replaced."""
    return one_line(name, _MOST_OF_A_FILE)


def check_name(what: str, name: str) -> None:
    """Refuse a name that is empty or too long to be shown.

    Raises:
        UsageError: not 1 to 80 letters.
    """
    if not name.strip() or len(name) > 80 or name != readable(name):
        raise UsageError(f"a {what} needs a name of 1 to 80 letters, not “{name[:20]}”")
