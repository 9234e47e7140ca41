"""Cut lines as DXF R2000 in millimetres: LWPOLYLINEs of arcs, one layer per line kind.

DXF counts y upward, so the origin is the sheet's bottom left.
"""

from __future__ import annotations

import io
from dataclasses import replace

import numpy as np

from honest_edge.core.geometry.arcs import arc_chain
from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.sheet.media import Box
from honest_edge.files.sheet_page import SheetPage

ARC_TOLERANCE_MM = 0.003
_COLOUR_INDEX = {"kiss": 6, "crease": 30, "perforate": 3, "through": 5, "marks": 7}
"""AutoCAD colour index: magenta, orange, green, blue, black."""


def cut_dxf(page: SheetPage) -> bytes:
    """Return the cut file of one sheet; the same page gives the same bytes."""
    import ezdxf  # takes 0.4 s to load, so only those who write DXF wait for it

    before, ezdxf.options.write_fixed_meta_data_for_testing = ezdxf.options.write_fixed_meta_data_for_testing, True
    try:
        document = ezdxf.new("R2000", units=4)  # $INSUNITS 4: millimetres
        document.header["$MEASUREMENT"] = 1
        for name, colour in _COLOUR_INDEX.items():
            document.layers.add(name, color=colour)
        space = document.modelspace()
        corner = (page.width_mm, page.height_mm, 0)
        space.dxf.extmin, space.dxf.extmax = (0, 0, 0), corner
        # ezdxf copies the extents into the header only where they do not start at the origin
        document.header["$EXTMIN"], document.header["$EXTMAX"] = (0, 0, 0), corner
        space.dxf.limmin, space.dxf.limmax = (0, 0), (page.width_mm, page.height_mm)
        for kind, rings in page.cuts.items():
            for ring in rings:
                space.add_lwpolyline(
                    _vertices(ring, page.height_mm), "xyb", close=ring.closed, dxfattribs={"layer": kind}
                )
        for bar in page.mark_bars:
            space.add_lwpolyline(_corners(bar, page.height_mm), "xy", close=True, dxfattribs={"layer": "marks"})
        out = io.StringIO()
        document.write(out)
        return out.getvalue().encode("ascii", "replace")
    finally:
        ezdxf.options.write_fixed_meta_data_for_testing = before


def _vertices(ring: CurveRing, height_mm: float) -> list[tuple[float, float, float]]:
    upward = replace(ring, cubics=ring.cubics * np.array([1.0, -1.0]) + np.array([0.0, height_mm]))
    return [(round(x, 5), round(y, 5), round(b, 8)) for x, y, b in arc_chain(upward, tolerance_mm=ARC_TOLERANCE_MM)]


def _corners(bar: Box, height_mm: float) -> list[tuple[float, float]]:
    top, bottom = height_mm - bar.top, height_mm - bar.bottom
    return [(bar.left, bottom), (bar.right, bottom), (bar.right, top), (bar.left, top)]
