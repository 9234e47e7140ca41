"""The versions of ``job.json``: what each changed, and how an older file becomes one of today.

Within a version keys may be added: a file that holds keys this version does not know is read without them, and
what was left out is said. A change that older readers would misread is a new version: one more function at the end
of ``MIGRATIONS``, and one small real file of the version before in ``tests/files/projects``.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from honest_edge.core.values.errors import FileError

Values = dict[str, Any]
"""A job as plain JSON."""


def _gains_dams(job: Values) -> Values:
    """1 to 2: gaps of an outline are dammed by themselves, which no older job asked for."""
    return _with_designs(job, lambda design: {**design, "outline": {"dam_px": 0.0, **design.get("outline", {})}})


def _gains_eased_cuts(job: Values) -> Values:
    """2 to 3: notches of a cut are eased and leftover holes closed, which no older job asked for; layers came."""
    return _with_designs(
        job, lambda design: {**design, "edge": {"ease_mm": 0.0, "hole_mm2": 0.0, **design.get("edge", {})}}
    )


def _with_designs(job: Values, change: Callable[[Values], Values]) -> Values:
    return {**job, "designs": [change(design) for design in job.get("designs", [])]}


def _gives_rim_and_marks_to_profiles(job: Values) -> Values:
    """3 to 4: the printer's rim and the marks stood with the sheet; the printer and the machine have them now."""
    sheet = dict(job.get("sheet", {}))
    if "rim_mm" in sheet:
        sheet["printer"] = {"rim_mm": sheet.pop("rim_mm")}
    if "marks" in sheet:
        sheet["machine"] = {"marks": sheet.pop("marks")}
    return {**job, "sheet": sheet}


def _forgets_prices_that_nobody_typed(job: Values) -> Values:
    """4 to 5: a price of 0 said that none was typed; such a stock has none now."""
    sheet = dict(job.get("sheet", {}))
    if "stock" in sheet:
        sheet["stock"] = _without_no_price(sheet["stock"])
    return _with_designs({**job, "sheet": sheet}, _with_layers_without_no_price)


def _with_layers_without_no_price(design: Values) -> Values:
    if "layers" not in design:
        return design
    layers = [
        {**layer, "stock": _without_no_price(layer["stock"])} if "stock" in layer else layer
        for layer in design["layers"]
    ]
    return {**design, "layers": layers}


def _without_no_price(stock: Values) -> Values:
    return {name: value for name, value in stock.items() if name != "price" or value}


MIGRATIONS: tuple[Callable[[Values], Values], ...] = (
    _gains_dams,
    _gains_eased_cuts,
    _gives_rim_and_marks_to_profiles,
    _forgets_prices_that_nobody_typed,
)
"""The n-th turns a job of version n into one of version n + 1. Append-only."""

VERSION = len(MIGRATIONS) + 1


def migrated(envelope: Any, name: str) -> Values:
    """Return what ``job.json`` holds as of today's version.

    Raises:
        FileError: no version that was ever written, or a newer one.
        KeyError, TypeError: it holds no version or no job.
    """
    version = envelope["version"]
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise FileError(f"{name} states format {str(version)[:20]!r}, which no Honest Edge wrote: open an earlier copy")
    if version > VERSION:
        raise FileError(f"{name} was saved by a newer Honest Edge (format {version}): update this one first")
    job = dict(envelope["job"])
    for migrate in MIGRATIONS[version - 1 :]:
        job = migrate(job)
    return {**envelope, "version": VERSION, "job": job}


def unknown_keys(stored: object, known: object, path: str = "") -> tuple[str, ...]:
    """Return the places of what was stored and is not known, such as "designs[0].sparkle".

    Args:
        stored: as it was read.
        known: what today's version makes of it, written again as plain values.
        path: where both stand.
    """
    unknown: list[str] = []
    if isinstance(stored, dict) and isinstance(known, dict):
        for key, value in stored.items():
            place = f"{path}.{key}" if path else str(key)
            unknown += unknown_keys(value, known[key], place) if key in known else [place]
    elif isinstance(stored, list) and isinstance(known, (list, tuple)):
        for number, (one, other) in enumerate(zip(stored, known, strict=False)):
            unknown += unknown_keys(one, other, f"{path}[{number}]")
    return tuple(unknown)
