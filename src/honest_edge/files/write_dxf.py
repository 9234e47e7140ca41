"""Cut lines as DXF in millimetres, one layer per line kind.

DXF counts y upward, so the origin is the sheet's bottom left. R2000 holds LWPOLYLINEs of arcs, or SPLINEs; R12 holds
POLYLINEs of arcs and knows no unit.
"""

from __future__ import annotations

import io
from dataclasses import replace
from typing import TYPE_CHECKING, Literal

import numpy as np

from honest_edge.core.geometry.arcs import arc_chain
from honest_edge.core.geometry.paths import CurveRing
from honest_edge.files.sheet_page import SheetPage

if TYPE_CHECKING:
    from ezdxf.document import Drawing
    from ezdxf.layouts import Modelspace

ARC_TOLERANCE_MM = 0.003
_COLOUR_INDEX = {"kiss": 6, "crease": 30, "perforate": 3, "through": 5, "marks": 7}
"""AutoCAD colour index: magenta, orange, green, blue, black."""

Flavour = Literal["arcs", "splines", "r12"]


def cut_dxf(page: SheetPage, flavour: Flavour = "arcs") -> bytes:
    """Return the cut file of one sheet; the same page gives the same bytes."""
    import ezdxf  # takes 0.4 s to load, so only those who write DXF wait for it

    before, ezdxf.options.write_fixed_meta_data_for_testing = ezdxf.options.write_fixed_meta_data_for_testing, True
    try:
        document = ezdxf.new("R12") if flavour == "r12" else ezdxf.new("R2000", units=4)  # $INSUNITS 4: millimetres
        _set_extents(document, page)
        for name, colour in _COLOUR_INDEX.items():
            document.layers.add(name, color=colour)
        space = document.modelspace()
        for kind, rings in page.cuts.items():
            for ring in rings:
                _add(space, _upward(ring, page.height_mm), kind, flavour)
        for ring in page.marks:
            _add(space, _upward(ring, page.height_mm), "marks", "r12" if flavour == "r12" else "arcs")
        out = io.StringIO()
        document.write(out)
        return out.getvalue().encode("ascii", "replace")
    finally:
        ezdxf.options.write_fixed_meta_data_for_testing = before


def _set_extents(document: Drawing, page: SheetPage) -> None:
    corner = (page.width_mm, page.height_mm, 0)
    space = document.modelspace()
    if document.dxfversion != "AC1009":  # R12 knows no measurement
        document.header["$MEASUREMENT"] = 1
    space.dxf.extmin, space.dxf.extmax = (0, 0, 0), corner
    space.dxf.limmin, space.dxf.limmax = (0, 0), (page.width_mm, page.height_mm)
    # ezdxf copies the extents into the header only where they do not start at the origin
    document.header["$EXTMIN"], document.header["$EXTMAX"] = (0, 0, 0), corner


def _upward(ring: CurveRing, height_mm: float) -> CurveRing:
    return replace(ring, cubics=ring.cubics * np.array([1.0, -1.0]) + np.array([0.0, height_mm]))


def _add(space: Modelspace, ring: CurveRing, layer: str, flavour: Flavour) -> None:
    if flavour == "splines":
        # Béziers in a row are a B-spline whose inner knots are threefold
        points = [ring.cubics[0, 0], *ring.cubics[:, 1:].reshape(-1, 2)]
        count = len(ring.cubics)
        knots = [0.0] * 4 + [float(k) for k in range(1, count) for _ in range(3)] + [float(count)] * 4
        spline = space.add_spline(degree=3, dxfattribs={"layer": layer})
        spline.control_points = [(round(float(x), 5), round(float(y), 5), 0.0) for x, y in points]
        spline.knots = knots
        spline.closed = ring.closed
        return
    chain = arc_chain(ring, tolerance_mm=ARC_TOLERANCE_MM).tolist()
    vertices = [(round(x, 5), round(y, 5), round(bulge, 8)) for x, y, bulge in chain]
    if flavour == "r12":
        space.add_polyline2d(vertices, "xyb", close=ring.closed, dxfattribs={"layer": layer})
    else:
        space.add_lwpolyline(vertices, "xyb", close=ring.closed, dxfattribs={"layer": layer})
