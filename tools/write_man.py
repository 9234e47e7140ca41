"""Writes the manual page from the parsers of the command line, so that it says what they take (man(7), groff)."""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from pathlib import Path

from honest_edge import __version__, cli
from honest_edge.ui.shell import start

PAGE = Path(__file__).parents[1] / "packaging" / "honest-edge.1"


def _operand(command: argparse.ArgumentParser) -> str:
    """Return what a command is given besides options."""
    named = next((action for action in command._actions if not action.option_strings), None)
    if named is None:
        return ""
    many = " ..." if named.nargs == "+" else ""
    return f"\\fI{str(named.metavar or named.dest).lower()}\\fR{many}"


def man_page() -> str:
    """Return the page."""
    window = start.parser()
    commands = cli.parser()._subparsers._group_actions[0].choices  # type: ignore[union-attr]
    lines = [
        f'.TH HONEST-EDGE 1 "" "honest-edge {__version__}" "User commands"',
        ".SH NAME",
        "honest-edge \\- turn artwork into print-then-cut stickers",
        ".SH SYNOPSIS",
        ".B honest-edge\n[\\fIoptions\\fR] [\\fIfiles\\fR ...]",
        *(f".br\n.B honest-edge {name}\n{_operand(made)} [\\fIoptions\\fR]" for name, made in commands.items()),  # type: ignore[union-attr]
        ".SH DESCRIPTION",
        _plain(window.description or ""),
        "Without a command it shows its window.",
        ".SH OPTIONS OF THE WINDOW",
        *_options(window),
    ]
    for name, command in commands.items():  # type: ignore[union-attr]
        lines += [f".SH COMMAND {name.upper()}", _plain(command.description or ""), *_options(command)]
        for act, parser in _acts(command).items():
            lines += [f".SS {name} {act}", *_options(parser)]
        lines += [".PP", ".nf", _plain(command.epilog or ""), ".fi"]
    lines += [
        ".SH FILES",
        ".TP\n\\fI~/.config/honest\\-edge\\fR\nPreferences, and the user’s machines, printers and stocks.",
        ".TP\n\\fI~/.local/state/honest\\-edge\\fR\nThe log, and a copy of unsaved work.",
        ".TP\n\\fI~/.local/share/honest\\-edge\\fR\nThe Book of what worked, and its backups.",
    ]
    return "\n".join(lines) + "\n"


def _acts(command: argparse.ArgumentParser) -> dict[str, argparse.ArgumentParser]:
    """Return what a command in turn can be told to do."""
    inner = command._subparsers
    return {} if inner is None else inner._group_actions[0].choices  # type: ignore[return-value]


def _options(parser: argparse.ArgumentParser) -> Iterator[str]:
    formatter = parser._get_formatter()
    for action in parser._actions:
        names = ", ".join(f"\\fB{_plain(name)}\\fR" for name in action.option_strings)
        value = "" if action.nargs == 0 else formatter._format_args(action, _default_name(formatter, action))
        shown = f"{names} \\fI{_plain(value)}\\fR".strip() if value else names
        yield f".TP\n{shown}\n{_plain(formatter._expand_help(action)) if action.help else ''}".rstrip()


def _default_name(formatter: argparse.HelpFormatter, action: argparse.Action) -> str:
    if action.option_strings:
        return formatter._get_default_metavar_for_optional(action)
    return formatter._get_default_metavar_for_positional(action)


def _plain(text: str) -> str:
    """Return text as groff prints it to the letter."""
    safe = text.replace("\\", "\\e").replace("-", "\\-")
    return "\n".join("\\&" + line if line.startswith((".", "'")) else line for line in safe.split("\n"))


def main() -> None:
    """Write the page."""
    PAGE.write_text(man_page(), "utf-8")


if __name__ == "__main__":
    main()
