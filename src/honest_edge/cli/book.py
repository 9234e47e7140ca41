"""The command ``book``: the log of what was tried and what came out, copied, checked, read out and read in."""

from __future__ import annotations

import argparse
import time
from pathlib import Path
from typing import Any

from honest_edge.cli.typed import shown


def about_book() -> dict[str, Any]:
    """Return how the command is explained."""
    return {
        "help": "export, import, back up or check the Book of what worked",
        "description": "The Book is one file in your data folder; nothing in it leaves this computer by itself.",
        "epilog": "examples:\n  honest-edge book export --out shop-log --format csv\n"
        "  honest-edge book backup /media/stick/book.sqlite\n  honest-edge book check\n\n"
        "Exit codes: 0 done; 1 the Book is damaged, or was changed by hand; 2 wrong usage or unreadable input.",
    }


def add_book(command: argparse.ArgumentParser) -> None:
    """Add what can be done with the Book."""
    from honest_edge.files.book.place import VARIABLE

    where = argparse.ArgumentParser(add_help=False)
    where.add_argument("--book", type=Path, metavar="FILE", help=f"another Book; else {VARIABLE}, else your own")
    acts = command.add_subparsers(dest="act", required=True, metavar="ACT")
    export = acts.add_parser("export", parents=[where], help="write all of it as plain files")
    export.add_argument("--out", type=Path, required=True, metavar="DIR", help="folder for the files")
    export.add_argument("--format", choices=("json", "csv"), default="json", help="JSON lines (default) or CSV")
    export.set_defaults(run=_export)
    take_in = acts.add_parser("import", parents=[where], help="add the events of an exported file")
    take_in.add_argument("file", type=Path, metavar="FILE", help="book.jsonl or book.csv")
    take_in.set_defaults(run=_import)
    backup = acts.add_parser("backup", parents=[where], help="copy it, also while a window has it open")
    backup.add_argument("file", type=Path, metavar="FILE", help="the copy")
    backup.set_defaults(run=_backup)
    check = acts.add_parser("check", parents=[where], help="say whether it is whole and unchanged")
    check.set_defaults(run=_check)


def _opened(options: argparse.Namespace) -> Any:
    from honest_edge.core.values.errors import FileError
    from honest_edge.files.book.keeping import open_book
    from honest_edge.files.book.place import book_path

    path = book_path(options.book)
    if not path.exists():
        raise FileError(f"There is no Book at {path} yet: it is made when the first run is kept")
    opened = open_book(path, _now_ms())
    for note in opened.notes:
        print(note)
    return opened.book


def _export(options: argparse.Namespace) -> None:
    from honest_edge.files.book.exchange import export

    with _opened(options) as book:
        names = export(book, options.out, options.format)
        print(f"{shown(options.out)}: {', '.join(names)}, {_counted(book.count())}")


def _import(options: argparse.Namespace) -> None:
    from honest_edge.files.book.exchange import take_in
    from honest_edge.files.book.keeping import open_book
    from honest_edge.files.book.place import book_path

    with open_book(book_path(options.book), _now_ms()).book as book:
        new, known = take_in(book, options.file, _now_ms())
        print(f"{shown(options.file)}: {_counted(new)} added, {known} were there already")


def _backup(options: argparse.Namespace) -> None:
    with _opened(options) as book:
        book.back_up(options.file)
        print(f"{options.file}: {_counted(book.count())}")


def _check(options: argparse.Namespace) -> int:
    with _opened(options) as book:
        wrong = book.wrong()
        for words in wrong:
            print(words)
        print(f"{book.path}: {_counted(book.count())}, {'not whole' if wrong else 'whole and unchanged'}")
        return 1 if wrong else 0


def _counted(events: int) -> str:
    return f"{events} event{'' if events == 1 else 's'}"


def _now_ms() -> int:
    return time.time_ns() // 1_000_000
