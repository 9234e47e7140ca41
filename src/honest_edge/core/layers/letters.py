"""Words fall into their letters, each a lettering by itself that lies where it lay."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from itertools import groupby

from honest_edge.core.layers.lettering import laid_lines
from honest_edge.core.layers.typeface import Typeface
from honest_edge.core.values.layers import Lettering


@dataclass(frozen=True, slots=True, kw_only=True)
class SingleLetter:
    """One letter, or what a font draws as one, of words.

    Attributes:
        lettering: it alone.
        x_mm, y_mm: where its middle lies, in the frame of the words.
        turn_deg: clockwise, as the arc turns it.
    """

    lettering: Lettering
    x_mm: float
    y_mm: float
    turn_deg: float


def letters_of(words: Lettering, typeface: Typeface) -> list[SingleLetter]:
    """Return the letters of words at their places, kerned as they were; spaces are none.

    Raises:
        BlockedError: the words cannot be lettered.
    """
    laid, em_mm = laid_lines(words, typeface)
    capital = typeface.capital_height
    alone = replace(
        words, sized_by="capitals", size_mm=em_mm * capital, arc_mm=0.0, spacing=0.0, room_mm=None, least_mm=0.0
    )
    letters = []
    for text, (line, x, y, radius) in zip(words.text.strip("\n").split("\n"), laid, strict=True):
        starts = sorted({glyph.cluster for glyph in line.glyphs})
        ends = dict(zip(starts, [*starts[1:], len(text)], strict=True))
        for cluster, several in groupby(line.glyphs, key=lambda glyph: glyph.cluster):
            glyphs = list(several)
            part = text[cluster : ends[cluster]].strip()
            if not part:
                continue
            start, own = x + glyphs[0].x, typeface.shape(part)[1]
            kerned = sum(glyph.advance for glyph in glyphs)  # by which an arc turns it; alone it is as wide as its own
            angle = (start + kerned / 2) / radius if radius else 0.0
            across = (own - kerned) / 2 if radius else start + own / 2
            down = y - radius - capital / 2
            cos, sin = math.cos(angle), math.sin(angle)
            letters.append(
                SingleLetter(
                    lettering=replace(alone, text=part),
                    x_mm=em_mm * (across * cos - down * sin),
                    y_mm=em_mm * (across * sin + down * cos),
                    turn_deg=math.degrees(angle),
                )
            )
    return letters
