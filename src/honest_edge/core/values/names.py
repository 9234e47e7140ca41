"""A rule for what users call things."""

from __future__ import annotations

from honest_edge.core.values.errors import UsageError, one_line

_MOST_OF_A_FILE = 255
_MOST_OF_A_KEY = 64
_MOST_SHOWN = 1000


def readable(name: str) -> str:
    """Return a file's name as text that can be shown and stored: what is no letter of it is replaced."""
    return one_line(name, _MOST_OF_A_FILE)


def check_key(what: str, key: str) -> None:
    """Refuse a key that nothing could be named by.

    Raises:
        UsageError: not 1 to 64 letters that are printed.
    """
    if not 0 < len(key) <= _MOST_OF_A_KEY or not key.isprintable():
        raise UsageError(f"“{key[:20]}” cannot be the key of a {what}: it has 1 to {_MOST_OF_A_KEY} letters")


def check_letters(what: str, *texts: str) -> None:
    """Refuse texts that are too long to be shown.

    Raises:
        UsageError: one has more than a thousand letters.
    """
    for text in texts:
        if len(text) > _MOST_SHOWN:
            raise UsageError(f"{what} “{text[:20]} …” has {len(text)} letters; {_MOST_SHOWN} are kept")


def check_name(what: str, name: str) -> None:
    """Refuse a name that is empty or too long to be shown.

    Raises:
        UsageError: not 1 to 80 letters.
    """
    if not name.strip() or len(name) > 80 or name != readable(name):
        raise UsageError(f"a {what} needs a name of 1 to 80 letters, not “{name[:20]}”")
