"""What could keep a reader from finding the marks."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import shapely

from honest_edge.core.proof import register
from honest_edge.core.sheet.marks import marks_of
from honest_edge.core.sheet.room import reach_of
from honest_edge.core.values.findings import Finding, Fix, Place, Quantity, Subject
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import Colour

LEAST_CONTRAST = 3.0
"""Ratio of luminances (WCAG 2.2) below which readers miss marks; common practice, no published source."""

_MARKS = Subject(kind="sheet")
_BLACK = (0, 0, 0)


def mark_findings(sheet: SheetSpec) -> Iterator[Finding]:
    """Yield what speaks against the marks on this stock and this machine, each with the way out."""
    are_ours = not sheet.machine.prints_own_marks
    if are_ours:
        yield from _of_contrast(sheet)
    if sheet.stock.is_clear:
        yield register.CLEAR_FILM.found(
            _MARKS, "On clear film readers see what lies below", "put white paper under it while cutting"
        )
    if sheet.stock.gloss in ("glossy", "mirror"):
        yield register.GLOSS.found(
            _MARKS, f"The stock is {sheet.stock.gloss}", "dull the marks with matt tape, or shade them from light"
        )
    if are_ours:
        yield from _of_reach(sheet)


def _of_contrast(sheet: SheetSpec) -> Iterator[Finding]:
    ground = (255, 255, 255) if sheet.stock.is_clear else sheet.stock.rgb
    contrast = contrast_ratio(sheet.marks.rgb, ground)
    if contrast >= LEAST_CONTRAST:
        return
    black = sheet.with_marks(replace(sheet.marks, rgb=_BLACK))
    yield register.MARK_CONTRAST.found(
        _MARKS,
        f"The marks stand out from the stock by only {contrast:.1f} to 1 (3 to 1 is needed)",
        "make them darker, or stick white paper under them",
        measured=Quantity(value=contrast, unit=""),
        needed=Quantity(value=LEAST_CONTRAST, unit=""),
        fix=Fix(words="Print the marks black", sheet=black)
        if contrast_ratio(_BLACK, ground) >= LEAST_CONTRAST
        else None,
    )


def _of_reach(sheet: SheetSpec) -> Iterator[Finding]:
    reach = reach_of(sheet)
    for mark in marks_of(sheet):
        beyond = [
            bar
            for bar in (mark.bars if mark.disc is None else ())
            if bar.left < reach.left or bar.right > reach.right or bar.top < reach.top or bar.bottom > reach.bottom
        ]
        if beyond:
            yield register.MARK_REACH.found(
                _MARKS,
                f"{sheet.machine.name} does not reach the mark {mark.name}",
                "use a smaller paper or a larger inset",
                places=[Place(frame="sheet", geometry=shapely.box(*bar)) for bar in beyond],
            )
            return


def contrast_ratio(one: Colour, two: Colour) -> float:
    """Return the contrast ratio of two sRGB colours (WCAG 2.2)."""
    light, dark = sorted((_luminance(one), _luminance(two)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def _luminance(rgb: Colour) -> float:
    red, green, blue = (_linear(level / 255) for level in rgb)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def _linear(value: float) -> float:
    return value / 12.92 if value <= 0.04045 else float(((value + 0.055) / 1.055) ** 2.4)
