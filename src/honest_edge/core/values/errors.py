"""What can go wrong, in words a crafter can act on.

Every message is one line: what is wrong, where, the number found and the number needed, the way out.
"""

from __future__ import annotations

import unicodedata

_MOST_LETTERS = 600  # of one message, whatever it quotes


class HonestEdgeError(Exception):
    """Base of every error whose message may be shown to the user as it stands."""

    def __init__(self, message: str) -> None:
        super().__init__(one_line(message, _MOST_LETTERS))


def one_line(text: str, most: int) -> str:
    """Return a text that can be shown and logged: one line without control characters, its middle cut out if long."""
    if len(text) > most:
        text = f"{text[: 2 * most // 3 - 1]}…{text[len(text) - most // 3 :]}"
    return "".join(
        "\ufffd" if unicodedata.category(letter) in _UNSEEN and letter not in _JOINERS else letter for letter in text
    )


_JOINERS = "\u200c\u200d"  # of some scripts, and of emoji
_UNSEEN = ("Cc", "Cf", "Cs", "Co", "Zl", "Zp")  # line ends, reversed writing, halves of letters


class UsageError(HonestEdgeError):
    """A value that was typed or stored cannot be used."""


class ArtError(HonestEdgeError):
    """A picture cannot be read."""


class BlockedError(HonestEdgeError):
    """The art or the job itself makes the work impossible, though everything could be read."""


class FileError(HonestEdgeError):
    """A project or output file cannot be read or written."""


class DeviceError(HonestEdgeError):
    """A printer does not take what it is given."""


class HeldError(BlockedError):
    """A check speaks against writing; it can be left for a reason.

    Attributes:
        check: its name.
    """

    def __init__(self, message: str, check: str) -> None:
        """Take what is said, and the check's name."""
        super().__init__(message)
        self.check = check


class Cancelled(Exception):  # noqa: N818 - no error
    """The work was called off; not an error and never shown."""
