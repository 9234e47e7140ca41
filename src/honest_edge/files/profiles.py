"""Profiles of machines, printers and stocks: files that people pass on, and a folder of the user's own.

A profile is a TOML or JSON file that names its kind and every value of it.
"""

from __future__ import annotations

import itertools
import json
import os
import re
import tomllib
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from pathlib import Path
from typing import Any, Literal, get_args

import msgspec
import tomli_w

from honest_edge.core.values.errors import FileError, UsageError, one_line
from honest_edge.core.values.machine import MACHINES, Machine
from honest_edge.core.values.printer import PRINTERS, Printer
from honest_edge.core.values.stock import STOCKS, Stock
from honest_edge.files.atomic_write import write_set
from honest_edge.files.read_input import read_input

Profile = Machine | Printer | Stock
Kind = Literal["machine", "printer", "stock"]
TYPE_OF: dict[str, type[Profile]] = {"machine": Machine, "printer": Printer, "stock": Stock}
SHIPPED: dict[Kind, tuple[Profile, ...]] = {"machine": MACHINES, "printer": PRINTERS, "stock": STOCKS}
_MOST_BYTES = 64_000
_MOST_DOTS = 100
_MAY_LACK = (
    "is_mirrored", "cloth_rgb", "price", "direct", "rims_mm", "margins_mm", "says_speed", "force", "speed_mm_s",
    "slow_mm_s",
)  # fmt: skip
"""Profiles kept before say nothing of most of them, and a price may never have been typed."""


def kind_of(profile: Profile) -> Kind:
    """Return what a profile describes."""
    return next(kind for kind in get_args(Kind) if isinstance(profile, TYPE_OF[kind]))


def profile_bytes(profile: Profile, suffix: str) -> bytes:
    """Return a profile as a file of that suffix, ``.toml`` or ``.json``; what it does not have is left out."""
    values = _without_none({"kind": kind_of(profile), **msgspec.to_builtins(profile)})
    if suffix == ".json":
        return msgspec.json.format(msgspec.json.encode(values), indent=2) + b"\n"
    return tomli_w.dumps(values).encode()


def _without_none(values: dict[str, Any]) -> dict[str, Any]:
    return {
        name: _without_none(value) if isinstance(value, dict) else value
        for name, value in values.items()
        if value is not None
    }


def parse_profile(data: bytes, name: str) -> Profile:
    """Return the profile in a file's bytes.

    Raises:
        FileError: no TOML or JSON, of no known kind, or with missing, unknown or impossible values.
    """
    if len(data) > _MOST_BYTES:
        raise FileError(f"{name} is no profile: it has {len(data) / 1000:.0f} kB")
    values = _read(data, name)
    kind = values.pop("kind", None)
    if not isinstance(kind, str) or kind not in TYPE_OF:
        raise FileError(f'{name} is no profile: it needs a line such as kind = "machine", "printer" or "stock"')
    _check_names(values, TYPE_OF[kind](), name, "")
    if values.get("price") == 0:  # what profiles said whose price nobody had typed
        del values["price"]
    try:
        return msgspec.convert(values, TYPE_OF[kind])
    except (msgspec.ValidationError, UsageError) as error:
        raise FileError(f"{name}: {_plain(str(error))}") from None


def _read(data: bytes, name: str) -> dict[str, Any]:
    try:
        text = data.decode("utf-8-sig")
        if max(line.count(".") for line in [*text.splitlines(), ""]) > _MOST_DOTS:
            raise ValueError("a line of endless names")  # what reads TOML takes their number squared
        stored = json.loads(text) if text.lstrip().startswith("{") else tomllib.loads(text)
    except (UnicodeDecodeError, ValueError, RecursionError) as error:
        raise FileError(f"{name} is neither TOML nor JSON: {str(error)[:100]}") from None
    if not isinstance(stored, dict):
        raise FileError(f"{name} is no profile: it holds a list")
    return stored


def _check_names(values: object, usual: object, name: str, path: str) -> None:
    """Refuse names that a profile does not have, and what it must say and does not, with their place."""
    if not isinstance(values, dict) or not (is_dataclass(usual) or isinstance(usual, dict)):
        return
    known = dict(usual) if isinstance(usual, dict) else {f.name: getattr(usual, f.name) for f in fields(usual)}
    for key in values:
        if key not in known:
            raise FileError(
                f"{name}: “{one_line(path + str(key), 60)}” is unknown: remove it, or write one of {', '.join(known)}"
            )
    for key, below in known.items():
        if key in _MAY_LACK and key not in values:
            continue
        if key not in values:
            raise FileError(f"{name} says nothing of “{path}{key}”: add it")
        _check_names(values[key], below, name, f"{path}{key}.")


def _plain(text: str) -> str:
    return re.sub(r" - at `\$\.?([^`]*)`", r" (at \1)", text)


def load_profile(path: Path) -> Profile:
    """Return the profile in a file.

    Raises:
        FileError: unreadable, or as for ``parse_profile``.
    """
    return parse_profile(read_input(path, _MOST_BYTES), path.name)


def save_profile(path: Path, profile: Profile) -> None:
    """Write a profile over ``path``, whole or not at all.

    Raises:
        FileError: the suffix is neither .toml nor .json, or it cannot be written.
    """
    if path.suffix not in (".toml", ".json"):
        raise FileError(f"“{path.name}” must end in .toml or .json")
    write_set(path.parent, {path.name: profile_bytes(profile, path.suffix)}, replace=True)


def _holds(place: Path, kind: Kind, name: str) -> bool:
    """Whether a file is the profile of that kind and name."""
    try:
        stored = load_profile(place)
    except FileError:
        return False
    return (kind_of(stored), stored.name) == (kind, name)


class ProfileFolder:
    """The user's own profiles, beside those that ship."""

    def __init__(self, folder: Path) -> None:
        """Take the folder; it is made with the first profile."""
        self._folder = folder
        self.problems: list[str] = []

    def all(self, kind: Kind) -> list[Profile]:
        """Return every profile of a kind by name, the user's in place of shipped ones of the same name."""
        by_name = {profile.name: profile for profile in SHIPPED[kind]}
        by_name |= {profile.name: profile for profile in self._own() if kind_of(profile) == kind}
        return list(by_name.values())

    def _own(self) -> Iterator[Profile]:
        self.problems = []
        for path in sorted(self._folder.glob("*.toml")):
            try:
                yield load_profile(path)
            except FileError as error:
                self.problems.append(str(error))

    def keep(self, profile: Profile) -> Path:
        """Write a profile to the folder, over one of its kind and name; return where.

        Raises:
            FileError: it cannot be written.
        """
        path = self._place_of(profile)
        save_profile(path, profile)
        return path

    def _place_of(self, profile: Profile) -> Path:
        """Return where a profile of its kind and name lies, or else a place where nothing does."""
        kind = kind_of(profile)
        stem = re.sub(r"[^a-z0-9]+", "-", profile.name.lower()).strip("-") or "profile"
        usual = self._folder / f"{kind}-{stem}.toml"
        tried = itertools.chain([usual], (usual.with_stem(f"{kind}-{stem}-{n}") for n in itertools.count(2)))
        return next(place for place in tried if not os.path.lexists(place) or _holds(place, kind, profile.name))
