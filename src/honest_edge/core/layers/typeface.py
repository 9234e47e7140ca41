"""One typeface: letters shaped by HarfBuzz, and their outlines."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
import shapely
import uharfbuzz
from bidi import algorithm as bidi

from honest_edge.core.geometry.paths import CurveRing, Floats, as_multipolygon

_TOLERANCE_EM = 0.0002  # of a flattened curve: 2 um on letters 10 mm high
_CAPITAL_SHARE = 0.7  # of an em, where a font does not state the height of its capitals


@dataclass(frozen=True, slots=True, kw_only=True)
class ShapedGlyph:
    """One glyph of a shaped line.

    Attributes:
        glyph: its number in the font; 0 stands for a letter that the font does not have.
        cluster: the letter it came from, counted in the line.
        x, y: where its origin stands, in ems, y down.
        advance: how far it moves the pen, in ems.
    """

    glyph: int
    cluster: int
    x: float
    y: float
    advance: float


@dataclass(frozen=True, slots=True, eq=False)
class Typeface:
    """A font file's bytes, ready to shape; equal and hashed by what names it.

    Attributes:
        name: family and style, as messages say it.
        data: the font file.
        index: of the face within the file.
    """

    name: str
    data: bytes
    index: int = 0
    _font: uharfbuzz.Font = field(init=False, repr=False)

    def __post_init__(self) -> None:
        face = uharfbuzz.Face(self.data, self.index)
        font = uharfbuzz.Font(face)
        font.scale = (face.upem, face.upem)
        object.__setattr__(self, "_font", font)

    @property
    def capital_height(self) -> float:
        """Height of a capital, in ems, as the font states it or its H stands."""
        per_em = self._font.face.upem
        glyph = self._font.get_nominal_glyph(ord("H"))
        extents = self._font.get_glyph_extents(glyph) if glyph else None
        return extents.y_bearing / per_em if extents is not None and extents.y_bearing > 0 else _CAPITAL_SHARE

    def shape(self, line: str, *, spacing: float = 0.0) -> tuple[tuple[ShapedGlyph, ...], float]:
        """Return the glyphs of one line from left to right, and its width in ems.

        Runs of one direction are shaped by themselves, in the order in which they are seen (Unicode Standard
        Annex #9, rule L2).

        Args:
            line: the text, in the order in which it is read.
            spacing: added after every cluster, in ems.
        """
        glyphs: list[ShapedGlyph] = []
        pen, per_em = 0.0, self._font.face.upem
        for start, text, rightward in _runs(line):
            buffer = uharfbuzz.Buffer()
            buffer.add_str(text)
            buffer.guess_segment_properties()
            buffer.direction = "ltr" if rightward else "rtl"
            # letters that are spaced out stand apart: no ligature joins them (as CSS Text 3 §8.2 asks)
            uharfbuzz.shape(self._font, buffer, {"liga": False, "clig": False} if spacing else {})
            infos, positions = buffer.glyph_infos, buffer.glyph_positions
            for place, (info, position) in enumerate(zip(infos, positions, strict=True)):
                is_last = place + 1 == len(infos) or infos[place + 1].cluster != info.cluster
                advance = position.x_advance / per_em + (spacing if is_last else 0.0)
                glyphs.append(
                    ShapedGlyph(
                        glyph=info.codepoint,
                        cluster=start + info.cluster,
                        x=pen + position.x_offset / per_em,
                        y=-position.y_offset / per_em,
                        advance=advance,
                    )
                )
                pen += advance
        return tuple(glyphs), pen - (spacing if glyphs else 0.0)

    def glyph_area(self, glyph: int) -> shapely.MultiPolygon:
        """Return what a glyph covers, in ems from its origin, y down."""
        return _glyph_area(self, glyph)

    def contours(self, glyph: int) -> list[Floats]:
        """Return a glyph's closed contours as (n, 2) points in ems, y down."""
        pen = _Contours()
        self._font.draw_glyph_with_pen(glyph, pen)
        flip = np.array([1.0, -1.0]) / self._font.face.upem
        rings = [CurveRing(np.array(cubics) * flip, np.array(straight)) for cubics, straight in pen.found() if cubics]
        return [ring.flattened(_TOLERANCE_EM) for ring in rings]


@lru_cache(maxsize=4096)
def _glyph_area(typeface: Typeface, glyph: int) -> shapely.MultiPolygon:
    """Fill by the non-zero rule: an inner contour opens only the outer one that holds it."""
    rings = [ring for points in typeface.contours(glyph) if len(points) > 2 and (ring := _ring(points)) is not None]
    if not rings:
        return shapely.MultiPolygon()
    outward = max(rings, key=lambda ring: abs(ring[0]))[0] > 0
    outer = [polygon for turn, polygon in rings if (turn > 0) == outward]
    holes: list[list[shapely.Geometry]] = [[] for _ in outer]
    for turn, polygon in rings:
        if (turn > 0) != outward:
            place = shapely.point_on_surface(polygon)
            around = np.flatnonzero(shapely.contains(outer, place))
            if len(around):
                holes[around[shapely.area(np.array(outer)[around]).argmin()]].append(polygon)
    solid = [shapely.difference(part, shapely.union_all(bored)) for part, bored in zip(outer, holes, strict=True)]
    return as_multipolygon(shapely.union_all(solid))


def _ring(points: Floats) -> tuple[float, shapely.Geometry] | None:
    """Return a contour's signed area and its polygon."""
    x, y = points.T
    turn = float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2
    polygon = shapely.make_valid(shapely.Polygon(points))
    return None if shapely.area(polygon) == 0 else (turn, polygon)


def _runs(line: str) -> Iterator[tuple[int, str, bool]]:
    """Yield (start, text, reads rightward) of every run of one direction, as seen from left to right."""
    levels = _levels(line)
    runs, start = [], 0
    for at in range(1, len(line) + 1):
        if at == len(line) or levels[at] != levels[start]:
            runs.append((levels[start], start, line[start:at]))
            start = at
    for level in range(max(levels, default=0), 0, -1):
        first = 0
        while first < len(runs):
            last = first
            while last < len(runs) and runs[last][0] >= level:
                last += 1
            runs[first:last] = runs[first:last][::-1]
            first = max(last, first + 1)
    for level, start, text in runs:
        yield start, text, level % 2 == 0


def _levels(line: str) -> list[int]:
    """Return each letter's embedding level (Unicode Standard Annex #9)."""
    storage = bidi.get_empty_storage()
    storage["base_level"] = bidi.get_base_level(line)
    storage["base_dir"] = ("L", "R")[storage["base_level"]]
    bidi.get_embedding_levels(line, storage)
    kept = [letter not in bidi.X9_REMOVED for letter in map(bidi.bidirectional, line)]
    bidi.explicit_embed_and_overrides(storage)
    bidi.resolve_weak_types(storage)
    bidi.resolve_neutral_types(storage, False)
    bidi.resolve_implicit_levels(storage, False)
    letters = iter(storage["chars"])
    level, levels = storage["base_level"], []
    for is_kept in kept:  # marks of direction carry no level of their own: they take their neighbour's
        level = next(letters)["level"] if is_kept else level
        levels.append(level)
    return levels


class _Contours:
    """Collects a glyph's contours as cubics (the pen protocol of fontTools)."""

    def __init__(self) -> None:
        self._rings: list[tuple[list[list[tuple[float, float]]], list[bool]]] = []
        self._at = (0.0, 0.0)

    def moveTo(self, point: tuple[float, float]) -> None:  # noqa: N802 - fontTools' name
        self._rings.append(([], []))
        self._at = point

    def lineTo(self, point: tuple[float, float]) -> None:  # noqa: N802
        if point != self._at:
            self._add([self._at, self._at, point, point], True)

    def qCurveTo(self, middle: tuple[float, float], end: tuple[float, float]) -> None:  # noqa: N802
        (x0, y0), (x1, y1), (x2, y2) = self._at, middle, end
        first = (x0 + 2 / 3 * (x1 - x0), y0 + 2 / 3 * (y1 - y0))
        second = (x2 + 2 / 3 * (x1 - x2), y2 + 2 / 3 * (y1 - y2))
        self._add([self._at, first, second, end], False)

    def curveTo(self, first: tuple[float, float], second: tuple[float, float], end: tuple[float, float]) -> None:  # noqa: N802
        self._add([self._at, first, second, end], False)

    def closePath(self) -> None:  # noqa: N802
        if self._rings and self._rings[-1][0]:
            self.lineTo(self._rings[-1][0][0][0])

    def endPath(self) -> None:  # noqa: N802
        self.closePath()

    def found(self) -> list[tuple[list[list[tuple[float, float]]], list[bool]]]:
        return self._rings

    def _add(self, cubic: list[tuple[float, float]], straight: bool) -> None:
        cubics, lines = self._rings[-1]
        cubics.append(cubic)
        lines.append(straight)
        self._at = cubic[3]
