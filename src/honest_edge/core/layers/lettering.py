"""Words as an area: shaped, sized by capitals or width, spaced, laid on an arc, welded."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely

from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.geometry.thin import fattened
from honest_edge.core.layers.typeface import ShapedGlyph, Typeface
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.layers import Lettering

_MISSING = 0  # the glyph of a letter that a font does not have


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Lettered:
    """Words as an area.

    Attributes:
        area: what they cover, in millimetres; the middle of their lines lies at the origin.
        thinnest_is_fattened: whether fattening changed anything.
    """

    area: shapely.MultiPolygon
    thinnest_is_fattened: bool


@dataclass(frozen=True, slots=True)
class ShapedLine:
    """A line of words: its glyphs, and its width, in ems."""

    glyphs: tuple[ShapedGlyph, ...]
    width: float


def widths_mm(lettering: Lettering, typeface: Typeface) -> tuple[float, ...]:
    """Return the width of each line as set, spaces at its ends included, without drawing it.

    Raises:
        BlockedError: the words cannot be lettered.
    """
    lines, em_mm = _shaped(lettering, typeface)
    _laid(lines, lettering, em_mm, typeface.capital_height)  # refuses an arc that is too tight
    return tuple(em_mm * line.width for line in lines)


def _shaped(lettering: Lettering, typeface: Typeface) -> tuple[list[ShapedLine], float]:
    """Return the lines in ems, and the size of an em; refuse what the font cannot show."""
    texts = lettering.text.strip("\n").split("\n")
    lines = [ShapedLine(*typeface.shape(text.rstrip(), spacing=lettering.spacing)) for text in texts]
    _refuse_missing(texts, lines, typeface)
    widest = max(line.width for line in lines)
    if widest <= 0 or all(typeface.glyph_area(glyph.glyph).is_empty for line in lines for glyph in line.glyphs):
        raise BlockedError(f"“{lettering.text.strip()[:20]}” shows nothing: type letters that can be seen")
    return lines, lettering.size_mm / (typeface.capital_height if lettering.sized_by == "capitals" else widest)


def laid_lines(lettering: Lettering, typeface: Typeface) -> tuple[list[tuple[ShapedLine, float, float, float]], float]:
    """Return each line with its start, its baseline and the radius of that, all in ems, and the size of an em in mm.

    Raises:
        BlockedError: the words cannot be lettered.
    """
    lines, em_mm = _shaped(lettering, typeface)
    return _laid(lines, lettering, em_mm, typeface.capital_height), em_mm


def letter(lettering: Lettering, typeface: Typeface) -> Lettered:
    """Return words as an area, letters that touch welded into one.

    Raises:
        BlockedError: the font lacks a letter, nothing of the text can be seen, or the arc is too tight.
    """
    lines, em_mm = _shaped(lettering, typeface)
    drawn = [
        _placed(typeface.glyph_area(glyph.glyph), (x + glyph.x, y + glyph.y), glyph.advance / 2, em_mm, bend)
        for line, x, y, bend in _laid(lines, lettering, em_mm, typeface.capital_height)
        for glyph in line.glyphs
    ]
    area = as_multipolygon(shapely.union_all(drawn))
    if lettering.fill_counters:
        area = as_multipolygon(shapely.union_all([shapely.Polygon(part.exterior) for part in area.geoms]))
    thicker = fattened(area, lettering.fatten_mm)
    return Lettered(
        area=thicker,
        thinnest_is_fattened=bool(thicker.area > area.area * (1 + 1e-9)),
    )


def _refuse_missing(texts: list[str], lines: list[ShapedLine], typeface: Typeface) -> None:
    missing = dict.fromkeys(
        text[glyph.cluster]
        for text, line in zip(texts, lines, strict=True)
        for glyph in line.glyphs
        if glyph.glyph == _MISSING and glyph.cluster < len(text)
    )
    if missing:
        letters = ", ".join(f"“{letter}” (U+{ord(letter):04X})" for letter in list(missing)[:5])
        raise BlockedError(f"{typeface.name} has no {letters}: choose another font, or other letters")


def _laid(
    lines: list[ShapedLine], lettering: Lettering, em_mm: float, capital: float
) -> list[tuple[ShapedLine, float, float, float]]:
    """Return each line with its start and baseline in ems, and the radius of its baseline in ems, 0 for straight.

    Straight blocks have their middle at the origin; of an arc, the circle's middle lies there.
    """
    widest = max(line.width for line in lines)
    share = {"left": 0.0, "centre": 0.5, "right": 1.0}[lettering.align]
    block = capital + (len(lines) - 1) * lettering.line_spacing
    laid = []
    for number, line in enumerate(lines):
        down = number * lettering.line_spacing
        x = -widest / 2 + share * (widest - line.width)
        if lettering.arc_mm == 0:
            laid.append((line, x, capital - block / 2 + down, 0.0))
            continue
        radius = lettering.arc_mm / em_mm - down  # the next line of either bend lies below the one before
        if abs(radius) < 0.2 or radius * lettering.arc_mm < 0:
            raise BlockedError(f"An arc of {abs(lettering.arc_mm):g} mm leaves no room for line {number + 1}: widen it")
        if line.width > 2 * math.pi * abs(radius):
            raise BlockedError(
                f"The line is {em_mm * line.width:.1f} mm long and the whole circle of {abs(lettering.arc_mm):g} mm "
                f"only {em_mm * 2 * math.pi * abs(radius):.1f} mm: widen the arc, or shrink the letters"
            )
        laid.append((line, -line.width / 2, 0.0, radius))
    return laid


def _placed(
    glyph: shapely.MultiPolygon, at: tuple[float, float], to_middle: float, em_mm: float, radius: float
) -> shapely.MultiPolygon:
    """Move one glyph to its place, on an arc turned round the circle by the middle of its advance."""
    if radius == 0:
        return shapely.transform(glyph, lambda points: em_mm * (points + at))
    angle = (at[0] + to_middle) / radius
    turn = np.array([[math.cos(angle), -math.sin(angle)], [math.sin(angle), math.cos(angle)]])
    from_hub = np.array([-to_middle, at[1] - radius])
    return shapely.transform(glyph, lambda points: em_mm * ((points + from_hub) @ turn.T))
