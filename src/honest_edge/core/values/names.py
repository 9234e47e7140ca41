"""A rule for what users call things."""

from __future__ import annotations

from honest_edge.core.values.errors import UsageError


def check_name(what: str, name: str) -> None:
    """Refuse a name that is empty or too long to be shown.

    Raises:
        UsageError: not 1 to 80 letters.
    """
    if not name.strip() or len(name) > 80:
        raise UsageError(f"a {what} needs a name of 1 to 80 letters, not “{name[:20]}”")
