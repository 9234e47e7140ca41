"""The command line: the same pipeline without a window."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence
from typing import NoReturn

from honest_edge.cli.bench import about_bench, add_bench
from honest_edge.cli.book import about_book, add_book
from honest_edge.cli.check import about_check, add_check
from honest_edge.cli.cut import about_cut, add_cut
from honest_edge.cli.cutter import about_cutter, add_cutter
from honest_edge.cli.outline import about_outline, add_outline
from honest_edge.cli.plan import about_plan, add_plan
from honest_edge.cli.prepare import about_prepare, add_prepare
from honest_edge.cli.profile import about_profile, add_profile
from honest_edge.cli.rehearse import about_rehearse, add_rehearse
from honest_edge.core.values.errors import BlockedError, HonestEdgeError

DONE, BLOCKED, WRONG = 0, 1, 2


class _Parser(argparse.ArgumentParser):
    """Says what is wrong in one line instead of repeating the whole usage."""

    def error(self, message: str) -> NoReturn:
        self.exit(WRONG, f"honest-edge: {message} (see {self.prog} --help)\n")


def parser() -> argparse.ArgumentParser:
    """Return the parser of the commands."""
    top = _Parser(prog="honest-edge", description="Print-then-cut stickers with an honest edge.")
    commands = top.add_subparsers(dest="command", required=True)
    as_written = argparse.RawDescriptionHelpFormatter
    add_outline(commands.add_parser("outline", formatter_class=as_written, **about_outline()))
    add_prepare(commands.add_parser("prepare", formatter_class=as_written, **about_prepare()))
    add_profile(commands.add_parser("profile", formatter_class=as_written, **about_profile()))
    add_check(commands.add_parser("check", formatter_class=as_written, **about_check()))
    add_rehearse(commands.add_parser("rehearse", formatter_class=as_written, **about_rehearse()))
    add_plan(commands.add_parser("plan", formatter_class=as_written, **about_plan()))
    add_cut(commands.add_parser("cut", formatter_class=as_written, **about_cut()))
    add_cutter(commands.add_parser("cutter", formatter_class=as_written, **about_cutter()))
    add_bench(commands.add_parser("bench", formatter_class=as_written, **about_bench()))
    add_book(commands.add_parser("book", formatter_class=as_written, **about_book()))
    return top


def main(arguments: Sequence[str]) -> int:
    """Run one command and return its exit code; errors are one line on standard error."""
    try:
        options = parser().parse_args(arguments)
    except SystemExit as stop:
        return int(stop.code or 0)
    try:
        code = options.run(options)
    except BlockedError as error:
        return _fail(str(error), BLOCKED)
    except HonestEdgeError as error:
        return _fail(str(error), WRONG)
    except MemoryError:
        return _fail("there is not enough memory for this: use a smaller picture or fewer copies", WRONG)
    except KeyboardInterrupt:
        return _fail("stopped; nothing was written", WRONG)
    return DONE if code is None else int(code)


def _fail(message: str, code: int) -> int:
    print(f"honest-edge: {message}", file=sys.stderr)
    return code
