"""Wires everything together: a command, or the window."""

from __future__ import annotations

import sys

COMMANDS = ("outline", "prepare", "profile")
"""What needs no window; the window in turn does not load what they need."""


def main() -> int:
    """Run what the command line asks for and return the exit code."""
    arguments = sys.argv[1:]
    if arguments and arguments[0] in COMMANDS:
        from honest_edge import cli

        return cli.main(arguments)
    from honest_edge.ui.shell.start import main as window_main

    return window_main(arguments)


if __name__ == "__main__":
    sys.exit(main())
