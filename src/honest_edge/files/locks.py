"""A folder's lock, which goes with the process that holds it."""

from __future__ import annotations

import fcntl
import os
from pathlib import Path


def locked(place: Path) -> int | None:
    """Return the handle of a file that is locked now; None where another process, or another handle, holds it.

    Raises:
        OSError: it cannot be opened or locked.
    """
    handle = os.open(place, os.O_CREAT | os.O_RDWR | os.O_CLOEXEC | os.O_NOFOLLOW | os.O_NONBLOCK, 0o600)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        os.close(handle)
        return None
    except OSError:
        os.close(handle)
        raise
    return handle
