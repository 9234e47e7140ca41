"""What can go wrong, in words a crafter can act on.

Every message is one line: what is wrong, where, the number found and the number needed, the way out.
"""

from __future__ import annotations


class HonestEdgeError(Exception):
    """Base of every error whose message may be shown to the user as it stands."""


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


class Cancelled(Exception):  # noqa: N818 - no error
    """The work was called off; not an error and never shown."""
