"""What could keep a reader from finding the marks."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

import shapely

from honest_edge.core.proof import register
from honest_edge.core.sheet.marks import marks_of, rim_of_marks
from honest_edge.core.sheet.space import reach_of
from honest_edge.core.values.findings import Finding, Fix, Place, Quantity, Subject
from honest_edge.core.values.marks import MARK_LENGTH_MM
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import Colour

LEAST_CONTRAST = 3.0
"""Ratio of luminances (WCAG 2.2) below which readers miss marks; common practice, no published source."""

LEAST_LENGTH_MM, LEAST_THICKNESS_MM = 15.0, 1.0
"""Shorter or thinner brackets are missed; common practice, no published source."""

_MARKS = Subject(kind="sheet")
_BLACK = (0, 0, 0)


def mark_findings(sheet: SheetSpec) -> Iterator[Finding]:
    """Yield what speaks against the marks on this stock and this machine, each with the way out."""
    are_ours = not sheet.machine.prints_own_marks
    if are_ours:
        yield from _of_contrast(sheet)
        yield from _of_size(sheet)
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


def rim_finding(sheet: SheetSpec) -> Finding | None:
    """Return that marks would lie where the printer cannot print; None where they do not."""
    marks, rim_mm = sheet.marks, rim_of_marks(sheet)
    if marks.inset_mm >= rim_mm:
        return None
    width, height = sheet.size_mm
    rim = shapely.difference(
        shapely.box(0, 0, width, height), shapely.box(rim_mm, rim_mm, width - rim_mm, height - rim_mm)
    )
    inset_mm = float(math.ceil(rim_mm))
    return register.MARK_RIM.found(
        _MARKS,
        f"the marks stand {marks.inset_mm:g} mm from the paper’s edge, inside the {rim_mm:g} mm that the printer "
        "cannot print",
        "move them in",
        places=[Place(frame="sheet", geometry=rim)],
        measured=Quantity(value=marks.inset_mm, unit="mm"),
        needed=Quantity(value=rim_mm, unit="mm"),
        fix=Fix(
            words=f"Move the marks in to {inset_mm:g} mm", sheet=sheet.with_marks(replace(marks, inset_mm=inset_mm))
        ),
    )


def _of_size(sheet: SheetSpec) -> Iterator[Finding]:
    """Find brackets and frames that are shorter or thinner than readers find reliably."""
    marks = sheet.marks
    if marks.kind not in ("three brackets", "four brackets", "frame"):
        return
    is_short = marks.kind != "frame" and marks.length_mm < LEAST_LENGTH_MM
    is_thin = marks.thickness_mm < LEAST_THICKNESS_MM
    if not is_short and not is_thin:
        return
    size = f"{marks.length_mm:g} mm long and " if marks.kind != "frame" else ""
    usual = replace(
        marks,
        length_mm=MARK_LENGTH_MM[marks.kind] if is_short else marks.length_mm,
        thickness_mm=max(marks.thickness_mm, LEAST_THICKNESS_MM),
    )
    yield register.MARK_SIZE.found(
        _MARKS,
        f"the marks are {size}{marks.thickness_mm:g} mm thick: readers miss marks under {LEAST_LENGTH_MM:g} mm by "
        f"{LEAST_THICKNESS_MM:g} mm",
        "a whole sheet is lost for the room they save",
        places=[Place(frame="sheet", geometry=shapely.box(*bar)) for mark in marks_of(sheet) for bar in mark.bars],
        measured=Quantity(value=marks.length_mm if is_short else marks.thickness_mm, unit="mm"),
        needed=Quantity(value=LEAST_LENGTH_MM if is_short else LEAST_THICKNESS_MM, unit="mm"),
        fix=Fix(words="Use the usual marks", sheet=sheet.with_marks(usual)),
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
