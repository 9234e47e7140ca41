"""Lines of layers that double another cut: the same line twice, or one a border's width inside the other."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np
import shapely

from honest_edge.core.edge.contour import CutLines
from honest_edge.core.layers.stack import Content, lines_of
from honest_edge.core.proof import register
from honest_edge.core.values.findings import Finding, Fix, Place, Quantity, Subject
from honest_edge.core.values.job import Design
from honest_edge.core.values.layers import Layer
from honest_edge.core.values.specs import LineKind

BORDER_MM = 4.0
"""As far as a border is usually wide: a line of the same kind within that distance all round is its double."""

_SAME_MM = 0.1
_STEP_MM = 1.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class _Line:
    """A closed line in the art's frame, and the layer that it comes from."""

    kind: LineKind
    layer: Layer | None
    area: shapely.Polygon

    @property
    def name(self) -> str:
        return "the cut round the art" if self.layer is None else f"“{self.layer.title[:30]}”"


def line_findings(
    design: Design, contents: Mapping[str, Content], cut: CutLines, corner_mm: np.ndarray
) -> Iterator[Finding]:
    """Yield lines that double others of their kind.

    Args:
        design: the design.
        contents: what each layer holds, by key.
        cut: the cut round it.
        corner_mm: the picture's top left in the frame of the layers.
    """
    lines = [_Line(kind=cut.line_kind, layer=None, area=shapely.Polygon(curve.flattened(0.01))) for curve in cut.curves]
    for layer in design.layers:
        if layer.role == "line" and not layer.is_hidden and layer.line in ("kiss", "through"):
            for path in lines_of(layer, contents[layer.key]):
                if path.curve.closed:
                    area = shapely.Polygon(path.curve.flattened(0.01) - corner_mm)
                    lines.append(_Line(kind=path.kind, layer=layer, area=area))
    for number, one in enumerate(lines):
        for other in lines[:number]:
            if one.layer is not None and one.kind == other.kind:
                yield from _doubled(design, one, other)


def _doubled(design: Design, one: _Line, other: _Line) -> Iterator[Finding]:
    """Yield that a layer's line doubles an earlier one."""
    layer = one.layer
    inner, outer = sorted((one.area, other.area), key=lambda area: float(area.area))
    apart_mm = _farthest_mm(inner, outer)
    if layer is None or apart_mm > BORDER_MM or not shapely.intersects(inner, outer):
        return
    is_same = apart_mm <= _SAME_MM
    left = tuple(kept for kept in design.layers if kept.key != layer.key)
    check = register.DOUBLE if is_same else register.NESTED
    message = (
        f"{one.name} is the same line as {other.name}: it would be cut twice"
        if is_same
        else f"{one.name} and {other.name} are cut {apart_mm:.1f} mm apart all round: only a thin frame stays"
    )
    yield check.found(
        Subject(kind="layer", design=design.key, layer=layer.key),
        message,
        "drop one of the two",
        places=[Place(frame="art", geometry=shapely.boundary(inner))],
        measured=Quantity(value=apart_mm, unit="mm"),
        needed=Quantity(value=BORDER_MM, unit="mm"),
        fix=Fix(words=f"Drop {one.name}", design=design.key, layers=left),
    )


def _farthest_mm(inner: shapely.Polygon, outer: shapely.Polygon) -> float:
    """Return how far any place of either line is from the other at most."""
    if not shapely.dwithin(shapely.centroid(inner), shapely.centroid(outer), 3 * BORDER_MM):
        return float("inf")
    lines = [shapely.boundary(area) for area in (inner, outer)]
    away = 0.0
    for line, other in ((lines[0], lines[1]), (lines[1], lines[0])):
        places = shapely.points(shapely.get_coordinates(shapely.segmentize(line, _STEP_MM)))
        away = max(away, float(shapely.distance(places, other).max()))
    return away
