"""Wires everything together: a command, or the window."""

from __future__ import annotations

import os
import sys

COMMANDS = ("outline", "prepare", "profile", "check", "rehearse", "plan", "cut", "cutter", "bench", "book")
"""What needs no window; the window in turn does not load what they need."""


def main() -> int:
    """Run what the command line asks for and return the exit code."""
    _forget_current_folder()
    # a picture in pages of 2 MB each is no quicker, takes more room, and gives none back (NumPy: Global state)
    os.environ.setdefault("NUMPY_MADVISE_HUGEPAGE", "0")
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="backslashreplace")  # a file's name may hold what the terminal has no letter for
    arguments = sys.argv[1:]
    if arguments and arguments[0] in COMMANDS:
        from honest_edge import cli

        return cli.main(arguments)
    from honest_edge.ui.shell.start import main as window_main

    return window_main(arguments)


def _forget_current_folder() -> None:
    """Take the current folder out of where modules are looked for: ``python -m`` puts it first.

    A folder of art may hold a file that is called like one of our libraries, and must not be run.
    """
    here, ours = os.path.realpath(os.curdir), os.path.dirname(os.path.dirname(os.path.realpath(__file__)))
    sys.path[:] = [place for place in sys.path if os.path.realpath(place or os.curdir) not in {here} - {ours}]


if __name__ == "__main__":
    sys.exit(main())
