"""What tests lay on sheets, and what must hold of every layout."""

import itertools

import numpy as np
import shapely

from honest_edge.core.sheet.plan import Footprint
from honest_edge.core.sheet.space import space_of


def footprint(shape, copies, *, reach=0.0, name="d", fills=False, key=""):
    area = shapely.MultiPolygon([shape]) if shape.geom_type == "Polygon" else shape
    return Footprint(key=key or name, name=name, area=area, reach_mm=reach, copies=copies, fills=fills)


def box(width, height, copies, **more):
    return footprint(shapely.box(3, 5, 3 + width, 5 + height), copies, **more)


def star(points, outer, inner):
    angles = np.arange(2 * points) * np.pi / points
    radii = np.where(np.arange(2 * points) % 2, inner, outer)
    return shapely.Polygon(np.column_stack([radii * np.cos(angles), radii * np.sin(angles)]) + 40)


def cuts_of(plan, designs):
    """Return for each sheet its cuts as polygons, each with its reach."""
    for page in plan.pages:
        yield [
            (
                shapely.transform(designs[p.design].area, lambda xy, m=p.matrix: xy @ m[:, :2].T + m[:, 2]),
                designs[p.design].reach_mm,
            )
            for p in page
        ]


def assert_valid(plan, designs, sheet):
    """All by shapely on the true cuts: numbers, edges, keep-outs, gaps."""
    room = space_of(sheet)
    usable = shapely.box(*room.usable).buffer(1e-5)
    for index, design in enumerate(designs):
        assert plan.count(index) == design.copies or (design.fills and plan.count(index) >= design.copies)
    for number, cuts in enumerate(cuts_of(plan, designs)):
        keep_outs = [shapely.box(*b) for b in (*room.keep_outs, *(room.used if number == 0 else ()))]
        for cut, reach in cuts:
            assert usable.covers(shapely.box(*cut.bounds).buffer(reach, join_style="mitre"))
            assert all(cut.buffer(reach - 0.001).intersection(keep).area < 1e-3 for keep in keep_outs)
        for (one, reach_one), (two, reach_two) in itertools.combinations(cuts, 2):
            assert one.distance(two) >= max(sheet.gap_mm, reach_one + reach_two) - 1e-5
