"""What a print says outside of the art: which sheet it is, and a ruler that tells whether it was scaled.

At the end of the same strip a place is left for the sign that a sheet gets when it is printed in a run.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import segno
import shapely

from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.layers.lettering import letter
from honest_edge.core.layers.typeface import Typeface
from honest_edge.core.measure.print_strip import STRIP_MM
from honest_edge.core.sheet.media import Box
from honest_edge.core.sheet.plan import Plan
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.layers import Lettering
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.units import format_length
from honest_edge.files.typefaces import FontLibrary

RULER_MM = 50.0
_FONT = ("Fredoka SemiBold", "Regular")
_CAPITALS_MM, _LINE_MM, _AIR_MM, _LEAST_MM = 1.6, 0.2, 1.0, 3.6
_SIGN_WORDS_MM, _MOST_SIGN_MM = 15.0, 6.0


def print_notes(plan: Plan, sheet: SheetSpec, title: str, fonts: FontLibrary) -> Iterator[shapely.MultiPolygon | None]:
    """Yield for each sheet what is printed below the usable area; None where there is no room for it."""
    strip = _strip(plan, sheet.rims_mm.bottom)
    sign = sign_box(plan, sheet.rims_mm.bottom)
    strip = strip if strip is None or sign is None else strip._replace(right=sign.left - _AIR_MM)
    typeface = fonts.find(*_FONT).typeface
    for number in range(1, len(plan.pages) + 1):
        if strip is None:
            yield None
            continue
        long = f"{RULER_MM:g} mm ({format_length(RULER_MM, 'in')}) long"
        seen = "    mirrored" if sheet.stock.is_mirrored else ""
        rule = f"page {number} of {len(plan.pages)}    100 %, no scaling: this line is {long}{seen}"
        words = _words(f"{title}    {rule}", typeface) or _words(rule, typeface)
        yield _laid(words, strip)


def sign_box(plan: Plan, rim_mm: float) -> Box | None:
    """Return where a sheet's own sign is printed; None where there is no room for it."""
    strip = _strip(plan, rim_mm)
    if strip is None or strip.width < RULER_MM + 2 * (_SIGN_WORDS_MM + _MOST_SIGN_MM):
        return None
    side = min(strip.height, _MOST_SIGN_MM)
    middle = (strip.top + strip.bottom) / 2
    return Box(strip.right - side - _SIGN_WORDS_MM, middle - side / 2, strip.right, middle + side / 2)


def strip_box(plan: Plan, rim_mm: float) -> Box | None:
    """Return where a strip of patches is printed above the usable area; None where there is no room for it."""
    box = plan.usable
    band = Box(box.left, rim_mm + _AIR_MM / 2, box.right, box.top - _AIR_MM)
    keep_outs = [one for mark in plan.marks for one in mark.keep_outs if one.overlaps(band)]
    left = max([one.right for one in keep_outs if one.middle[0] < plan.width_mm / 2], default=band.left)
    right = min([one.left for one in keep_outs if one.middle[0] >= plan.width_mm / 2], default=band.right)
    width, height = STRIP_MM[0] + 2 * _AIR_MM, STRIP_MM[1] + _AIR_MM
    if right - left < width or band.height < height:
        return None
    x, y = (left + right - STRIP_MM[0]) / 2, band.bottom - STRIP_MM[1]
    return Box(x, y, x + STRIP_MM[0], y + STRIP_MM[1])


def sign_area(sign: str, box: Box, fonts: FontLibrary) -> shapely.MultiPolygon:
    """Return a sheet's sign as ink in its box: in words, and as a QR code (ISO/IEC 18004) that a photograph shows."""
    side = box.height
    code = segno.make(sign, error="q", micro=False)
    modules = np.array([list(row) for row in code.matrix], bool)
    step = side / len(modules)
    rows, columns = np.nonzero(modules)
    left, top = box.right - side + columns * step, box.top + rows * step
    squares = shapely.box(left, top, left + step, top + step)
    parts: list[shapely.Geometry] = [shapely.union_all(squares)]
    words = _words(sign, fonts.find(*_FONT).typeface)
    if words is not None:
        parts.append(_beside(words, Box(box.left, box.top, box.right - side - _AIR_MM, box.bottom)))
    return as_multipolygon(shapely.union_all(parts))


def _strip(plan: Plan, rim_mm: float) -> Box | None:
    """Return the band between the usable area and the printer's rim, clear of the marks."""
    top, bottom = plan.usable.bottom + _AIR_MM, plan.height_mm - rim_mm - _AIR_MM / 2
    band = Box(plan.usable.left, top, plan.usable.right, bottom)
    keep_outs = [box for mark in plan.marks for box in mark.keep_outs if box.overlaps(band)]
    left = max([box.right for box in keep_outs if box.middle[0] < plan.width_mm / 2], default=band.left)
    right = min([box.left for box in keep_outs if box.middle[0] >= plan.width_mm / 2], default=band.right)
    if bottom - top < _LEAST_MM or right - left < RULER_MM + 2 * _AIR_MM:
        return None
    return Box(left + _AIR_MM, top, right - _AIR_MM, bottom)


def _words(text: str, typeface: Typeface) -> shapely.MultiPolygon | None:
    """Return words as an area; None where the font lacks one of their letters."""
    try:
        return letter(Lettering(text=text, family=_FONT[0], style=_FONT[1], size_mm=_CAPITALS_MM), typeface).area
    except BlockedError:
        return None


def _laid(words: shapely.MultiPolygon | None, strip: Box) -> shapely.MultiPolygon:
    """Return a ruler at the left of a strip and words beside it, smaller where they would be too long."""
    middle = (strip.top + strip.bottom) / 2
    ticks = [
        shapely.box(x - _LINE_MM / 2, middle - 1.0, x + _LINE_MM / 2, middle + 1.0)
        for x in np.linspace(strip.left, strip.left + RULER_MM, 6)
    ]
    line = shapely.box(strip.left, middle - _LINE_MM / 2, strip.left + RULER_MM, middle + _LINE_MM / 2)
    parts: list[shapely.Geometry] = [line, *ticks]
    if words is not None:
        parts.append(_beside(words, strip._replace(left=strip.left + RULER_MM + 3)))
    return as_multipolygon(shapely.union_all(parts))


def _beside(words: shapely.MultiPolygon, box: Box) -> shapely.Geometry:
    """Return words at the left of a box, in its middle, smaller where they would be too long."""
    left, top, right, bottom = words.bounds
    scale = min(1.0, box.width / (right - left))
    at, centre = np.array([left, (top + bottom) / 2]), np.array([box.left, box.middle[1]])
    return shapely.transform(words, lambda xy: (xy - at) * scale + centre)
