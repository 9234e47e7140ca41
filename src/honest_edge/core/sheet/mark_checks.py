"""What could keep a reader from finding the marks."""

from __future__ import annotations

from collections.abc import Iterator

from honest_edge.core.sheet.marks import marks_of
from honest_edge.core.sheet.room import reach_of
from honest_edge.core.values.sheets import SheetSpec
from honest_edge.core.values.specs import Colour

LEAST_CONTRAST = 3.0
"""Ratio of luminances (WCAG 2.2) below which readers miss marks; common practice, no published source."""


def mark_warnings(sheet: SheetSpec) -> Iterator[str]:
    """Yield what speaks against the marks on this stock and this machine, each with the way out."""
    stock, marks = sheet.stock, sheet.marks
    ground = (255, 255, 255) if stock.is_clear else stock.rgb
    contrast = contrast_ratio(marks.rgb, ground)
    are_ours = not sheet.machine.prints_own_marks
    if are_ours and contrast < LEAST_CONTRAST:
        yield (
            f"The marks stand out from the stock by only {contrast:.1f} to 1 (3 to 1 is needed): make them darker, "
            "or stick white paper under them"
        )
    if stock.is_clear:
        yield "On clear film readers see what lies below: put white paper under it while cutting"
    if stock.gloss in ("glossy", "mirror"):
        yield f"The stock is {stock.gloss}: dull the marks with matt tape, or shade them from light"
    reach = reach_of(sheet)
    for mark in marks_of(sheet) if are_ours else ():
        boxes = [*mark.bars] if mark.disc is None else []
        if any(
            b.left < reach.left or b.right > reach.right or b.top < reach.top or b.bottom > reach.bottom for b in boxes
        ):
            yield f"{sheet.machine.name} does not reach the mark {mark.name}: use a smaller paper or a larger inset"
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
