"""What would go wrong with the cut lines of one design: frames, crossings, turns and islands too small to weed."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import shapely

from honest_edge.core.edge.contour import CutLines
from honest_edge.core.geometry.corners import arc_lengths, resample
from honest_edge.core.geometry.paths import CurveRing, Floats
from honest_edge.core.proof import register
from honest_edge.core.proof.words import counted
from honest_edge.core.values.findings import Finding, Fix, Place, Quantity, Subject
from honest_edge.core.values.job import Design
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.specs import NARROWEST_HOLE_MM, Correction

FRAME_MM = 3.0
"""A rim that is narrower all round, cut inside and outside, is a frame left by a second line: common practice."""

_MOST_PLACES = 60
_FRAMED_SHARE = 0.5  # of what the outer line encloses, from which on the inner one is its double
_GAP_MM = 2.0  # ends of a line nearer than this were meant to meet
_FLAT_MM = 0.01
_TURN_DEG = 150.0  # a blade that turns by more within twice its lead tears rather than cuts: common practice
_PER_WINDOW = 12
_DISTINCT_MM = 1.0


def cut_findings(
    design: Design, cut: CutLines, art: shapely.MultiPolygon, width_mm: float, machine: Machine
) -> Iterator[Finding]:
    """Yield what speaks against a design's cut lines.

    Args:
        design: the design.
        cut: its cut lines.
        art: what of the picture is not empty.
        width_mm: of the whole picture, the unit of corrections.
        machine: tells how far the blade trails.
    """
    yield from _nested(design, cut, width_mm)
    yield from _open(design, cut)
    yield from _crossing(design, cut)
    yield from _islands(design, cut, art, width_mm)
    yield from _tight(design, cut, machine)


def _subject(design: Design) -> Subject:
    return Subject(kind="line", design=design.key)


def _nested(design: Design, cut: CutLines, width_mm: float) -> Iterator[Finding]:
    """Find rims that are so narrow all round that inner and outer cut are one line drawn twice."""
    frames = []
    widest_mm = max(FRAME_MM, 2 * design.edge.signed_offset_mm + 1.0)
    for part in cut.area.geoms:
        whole = shapely.Polygon(part.exterior).area
        for ring in part.interiors:
            hole = shapely.Polygon(ring)
            if hole.area >= _FRAMED_SHARE * whole and shapely.buffer(part, -widest_mm / 2).is_empty:
                frames.append(hole)
    if not frames:
        return
    middles = [shapely.point_on_surface(hole) for hole in frames]
    closed = tuple(
        Correction(kind="fill", points=((float(at.x) / width_mm, float(at.y) / width_mm),)) for at in middles
    )
    rims = [part.area / (part.length / 2) for part in cut.area.geoms if part.interiors]
    yield register.NESTED.found(
        _subject(design),
        f"{counted(len(frames), 'cut')} inside another, {min(rims):.1f} mm apart all round: only a thin frame stays",
        "drop the inner line",
        places=[Place(frame="art", geometry=shapely.boundary(hole)) for hole in frames[:_MOST_PLACES]],
        measured=Quantity(value=float(min(rims)), unit="mm"),
        needed=Quantity(value=widest_mm, unit="mm"),
        fix=Fix(
            words="Drop the inner line",
            design=design.key,
            outline=replace(design.outline, corrections=(*design.outline.corrections, *closed)),
        ),
    )


def _open(design: Design, cut: CutLines) -> Iterator[Finding]:
    """Find lines whose ends were meant to meet; a slit's are farther apart, or it would cut nothing out."""
    gaps = []
    for path in cut.all_paths:
        if path.kind in ("kiss", "through") and not path.curve.closed:
            start, end = path.curve.cubics[0, 0], path.curve.cubics[-1, 3]
            gap_mm = float(np.hypot(*(end - start)))
            length_mm = float(arc_lengths(path.curve.flattened(_FLAT_MM))[-1])
            if gap_mm < _GAP_MM and length_mm > 4 * _GAP_MM:
                gaps.append(shapely.LineString([start, end]))
    if gaps:
        widest_mm = max(gap.length for gap in gaps)
        yield register.OPEN.found(
            _subject(design),
            f"{counted(len(gaps), 'cut line')} not closed, the ends {widest_mm:.2f} mm apart: nothing falls out",
            "draw the line closed, or remove its layer",
            places=[Place(frame="art", geometry=gap) for gap in gaps[:_MOST_PLACES]],
            measured=Quantity(value=widest_mm, unit="mm"),
            needed=Quantity(value=0.0, unit="mm"),
        )


def _crossing(design: Design, cut: CutLines) -> Iterator[Finding]:
    """Find lines that cross themselves, or each other where they enclose one sticker."""
    places = [at for path in cut.all_paths if path.curve.closed for at in crossings(path.curve)]
    if places:
        recipe = design.outline
        finer_mm = max(0.01, (recipe.smoothness_mm or 0.05) / 2)
        yield register.CROSSING.found(
            _subject(design),
            f"a cut line crosses itself at {counted(len(places), 'place')}",
            "let the curve follow the raw edge more closely",
            places=[Place(frame="art", geometry=shapely.Point(at)) for at in places[:_MOST_PLACES]],
            measured=Quantity(value=len(places), unit=""),
            needed=Quantity(value=0, unit=""),
            fix=Fix(
                words="Fit the curve more closely", design=design.key, outline=replace(recipe, smoothness_mm=finer_mm)
            ),
        )


def crossings(curve: CurveRing) -> list[tuple[float, float]]:
    """Return where a closed line crosses itself."""
    ring = shapely.linearrings(curve.flattened(_FLAT_MM))
    if shapely.is_simple(ring):
        return []
    named = re.search(r"\[(\S+) (\S+)\]", str(shapely.is_valid_reason(shapely.Polygon(ring))))
    noded = shapely.node(ring)
    ends = [end for part in shapely.get_parts(noded) for end in shapely.get_coordinates(part)[[0, -1]].tolist()]
    start = shapely.get_coordinates(ring)[0].tolist()
    crossing = {(round(x, 4), round(y, 4)) for x, y in ends if [x, y] != start}
    if not crossing and named is not None:
        crossing = {(float(named[1]), float(named[2]))}
    return sorted(crossing)


def _islands(design: Design, cut: CutLines, art: shapely.MultiPolygon, width_mm: float) -> Iterator[Finding]:
    """Find parts that stay, or are weeded out, and are too small to take hold of."""
    parts = [part for part in cut.area.geoms if _is_small(shapely.Polygon(part.exterior))]
    parts = parts if len(parts) < len(cut.area.geoms) else parts[:-1]
    of_art = shapely.union_all([shapely.Polygon(ring) for part in art.geoms for ring in part.interiors])
    rings = [shapely.Polygon(ring) for part in cut.area.geoms for ring in part.interiors]
    holes = [hole for hole in rings if _is_small(hole) and _was_small(hole, of_art)]
    if not parts and not holes:
        return
    steps = [("drop", part) for part in parts] + [("fill", hole) for hole in holes]
    points = [(kind, shapely.point_on_surface(area)) for kind, area in steps]
    corrections = tuple(
        Correction(
            kind="drop" if kind == "drop" else "fill", points=((float(at.x) / width_mm, float(at.y) / width_mm),)
        )
        for kind, at in points
    )
    said = [counted(len(named), noun) for named, noun in ((parts, "part"), (holes, "hole")) if named]
    recipe = design.outline
    yield register.ISLAND.found(
        _subject(design),
        f"{' and '.join(said)} narrower than {NARROWEST_HOLE_MM:g} mm, too small to weed",
        "drop them, or print larger",
        places=[Place(frame="art", geometry=area) for _, area in steps[:_MOST_PLACES]],
        needed=Quantity(value=NARROWEST_HOLE_MM, unit="mm"),
        fix=Fix(
            words=f"Drop {' and '.join(said)}",
            design=design.key,
            outline=replace(recipe, corrections=(*recipe.corrections, *corrections)),
        ),
    )


def _is_small(area: shapely.Polygon) -> bool:
    plain = shapely.simplify(area, _FLAT_MM)
    if shapely.distance(shapely.point_on_surface(plain), shapely.boundary(plain)) > NARROWEST_HOLE_MM / 2:
        return False
    return bool(shapely.buffer(plain, -NARROWEST_HOLE_MM / 2, quad_segs=4).is_empty)


def _was_small(hole: shapely.Polygon, of_art: shapely.Geometry) -> bool:
    """Whether a hole is the art's own and small there, too; what a border narrows is said of slits."""
    at = shapely.point_on_surface(hole)
    own = [part for part in shapely.get_parts(of_art) if shapely.contains(part, at)]
    return bool(own) and _is_small(own[0])


def _tight(design: Design, cut: CutLines, machine: Machine) -> Iterator[Finding]:
    lead_mm = machine.blade_offset_mm
    if lead_mm == 0:
        return
    places = [at for curve in cut.curves for at in hairpins(curve.flattened(_FLAT_MM), 2 * lead_mm)]
    if places:
        yield register.TIGHT.found(
            _subject(design),
            f"the cut turns back within {2 * lead_mm:g} mm at {counted(len(places), 'place')}, tighter than the "
            "blade’s tip can follow",
            "ease the notches, or round the corners",
            places=[Place(frame="art", geometry=shapely.Point(at)) for at in places[:_MOST_PLACES]],
            measured=Quantity(value=len(places), unit=""),
            needed=Quantity(value=0, unit=""),
            fix=Fix(
                words="Ease the notches",
                design=design.key,
                edge=replace(design.edge, ease_mm=max(2 * design.edge.ease_mm, 4 * lead_mm), corners="round"),
            ),
        )


def hairpins(ring: Floats, within_mm: float) -> list[tuple[float, float]]:
    """Return where a closed line through (n, 2) points turns back on itself within a length."""
    if len(ring) < 3:
        return []
    ring = resample(ring, within_mm / _PER_WINDOW)  # even steps: a hair between two nodes has no heading of its own
    ways = np.roll(ring, -1, axis=0) - ring
    headings = np.arctan2(ways[:, 1], ways[:, 0])
    turns = (np.roll(headings, -1) - headings + np.pi) % (2 * np.pi) - np.pi
    at = arc_lengths(np.vstack([ring, ring[:1]]))
    along, whole = at[1:], float(at[-1])
    doubled = np.concatenate([along, along + whole])
    total = np.concatenate([[0.0], np.cumsum(np.concatenate([turns, turns]))])
    last = np.searchsorted(doubled, along + within_mm, side="right")
    turned = np.abs(total[last] - total[: len(along)])
    sharp = np.flatnonzero(turned > np.radians(_TURN_DEG))
    hairpins_at: list[tuple[float, float]] = []
    for number in sharp.tolist():
        x, y = ring[(number + _PER_WINDOW // 2) % len(ring)].tolist()
        if all(abs(x - other[0]) + abs(y - other[1]) > _DISTINCT_MM for other in hairpins_at):
            hairpins_at.append((x, y))
    return hairpins_at
