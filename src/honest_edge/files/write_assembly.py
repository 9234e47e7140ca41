"""How a design is glued together: its pieces' outlines in their places, numbered back to front (SVG, mm)."""

from __future__ import annotations

from collections.abc import Sequence
from xml.sax.saxutils import escape

import shapely

from honest_edge.core.geometry.paths import rings_of

_AIR_MM, _LINE_MM, _LETTER_MM = 8.0, 6.0, 4.0


def assembly_svg(title: str, parts: Sequence[tuple[str, shapely.MultiPolygon]]) -> bytes:
    """Return a page with every part's outline in its place.

    Args:
        title: the design's name.
        parts: name and area of each, back to front, in one frame.
    """
    left, top, right, bottom = shapely.total_bounds([area for _, area in parts]).tolist()
    width = max(right - left, 80.0) + 2 * _AIR_MM
    height = bottom - top + 3 * _AIR_MM + _LINE_MM * (len(parts) + 1)
    lines = [_text(_AIR_MM, _AIR_MM + 3, f"{title}: glue back to front", 5.0)]
    below = bottom - top + 2.5 * _AIR_MM + _LINE_MM
    for number, (name, area) in enumerate(parts, 1):
        moved = shapely.transform(area, lambda points: points - (left - _AIR_MM, top - 2 * _AIR_MM))
        data = "".join("M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in ring.tolist()) + "Z" for ring in rings_of(moved))
        lines.append(f'<path d="{data}" fill="none" stroke="#22305e" stroke-width="0.25"/>')
        place = shapely.point_on_surface(moved)
        lines.append(_text(float(place.x), float(place.y), str(number), _LETTER_MM))
        lines.append(_text(_AIR_MM, below + (number - 1) * _LINE_MM, f"{number}  {name}", _LETTER_MM))
    head = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.2f}mm" height="{height:.2f}mm" '
        f'viewBox="0 0 {width:.2f} {height:.2f}">'
    )
    body = "\n".join(lines)
    return f'<?xml version="1.0" encoding="UTF-8"?>\n{head}\n{body}\n</svg>\n'.encode()


def _text(x: float, y: float, words: str, size: float) -> str:
    return f'<text x="{x:.2f}" y="{y:.2f}" font-family="sans-serif" font-size="{size}">{escape(words)}</text>'
