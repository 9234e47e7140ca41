"""A form's contour and the lines in it, round its own middle, millimetres, y down."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely

from honest_edge.core.geometry.lines import CutPath, paths_along, polyline
from honest_edge.core.geometry.paths import Floats, affine, as_multipolygon
from honest_edge.core.layers.shapes import oval_points, rounded_box, shape_area
from honest_edge.core.outline.outline import EXACT_STYLE, fit_area
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.forms import Form
from honest_edge.core.values.layers import Shape

_ARC_TOLERANCE_MM = 0.001
_HANG_HOLE_EDGE_MM = 5.0  # from a sheet's upper edge to its hang hole; common practice, no published source


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class FormShape:
    """What a form is cut to.

    Attributes:
        area: what the outer cut encloses.
        lines: creases, perforations, inner kiss cuts and slits.
        facts: what was computed, each a sentence.
    """

    area: shapely.MultiPolygon
    lines: tuple[CutPath, ...] = ()
    facts: tuple[str, ...] = ()


def form_shape(form: Form) -> FormShape:
    """Return a form's contour and lines.

    Raises:
        BlockedError: its sizes contradict each other.
    """
    makers = {
        "sticker sheet": _sheet,
        "label": _box,
        "oval label": _oval,
        "wrap label": _wrap,
        "lid label": _lid,
        "tag": _tag,
        "planner boxes": _planner,
        "folded card": _card,
        "pop-up card": _pop_up,
        "sleeve": _sleeve,
    }
    return makers[form.kind](form)


def _box(form: Form) -> FormShape:
    return FormShape(area=as_multipolygon(rounded_box(form.width_mm, form.height_mm, form.radius_mm)))


def _oval(form: Form) -> FormShape:
    return FormShape(area=as_multipolygon(shapely.Polygon(oval_points(form.width_mm, form.height_mm))))


def _sheet(form: Form) -> FormShape:
    area: shapely.Geometry = rounded_box(form.width_mm, form.height_mm, form.radius_mm)
    if form.hole_mm:
        down = -form.height_mm / 2 + _HANG_HOLE_EDGE_MM + form.hole_mm / 2
        if form.hole_mm > form.width_mm - 2 * _HANG_HOLE_EDGE_MM or down + form.hole_mm / 2 > form.height_mm / 2:
            raise BlockedError(f"A hang hole of {form.hole_mm:g} mm does not fit on this sheet: make it smaller")
        hole = shapely.Polygon(oval_points(form.hole_mm, form.hole_mm) + np.array([0.0, down]))
        area = shapely.difference(area, hole)
    return FormShape(area=as_multipolygon(area))


def _tag(form: Form) -> FormShape:
    shape = Shape(
        kind="tag",
        width_mm=form.width_mm,
        height_mm=form.height_mm,
        radius_mm=form.radius_mm,
        eyelet_mm=form.hole_mm,
    )
    return FormShape(area=shape_area(shape))


def _lid(form: Form) -> FormShape:
    across = form.jar_mm - 2 * form.margin_mm
    if across < 5:
        raise BlockedError(
            f"A margin of {form.margin_mm:g} mm leaves nothing of a lid of {form.jar_mm:g} mm: make it smaller"
        )
    area = as_multipolygon(shapely.Polygon(oval_points(across, across)))
    return FormShape(area=area, facts=(f"{across:.1f} mm across, {form.margin_mm:g} mm inside the lid’s rim",))


def _wrap(form: Form) -> FormShape:
    """Return a label that goes round a jar: straight for a cylinder, a piece of a ring for a cone."""
    upper, lower = form.jar_mm, form.lower_jar_mm or form.jar_mm
    if abs(upper - lower) < 0.05:
        round_mm = math.pi * upper
        area = as_multipolygon(rounded_box(round_mm + form.overlap_mm, form.height_mm, form.radius_mm))
        return FormShape(area=area, facts=(f"{round_mm:.1f} mm round, and {form.overlap_mm:g} mm of overlap",))
    larger, smaller = max(upper, lower), min(upper, lower)
    if larger - smaller > 2 * form.height_mm:
        raise BlockedError(
            f"From {upper:g} to {lower:g} mm within {form.height_mm:g} mm of slope no jar narrows: measure again"
        )
    # the cone unrolled: its radii stand to the slope as the diameters to their difference
    far = form.height_mm * larger / (larger - smaller)
    near = far - form.height_mm
    angle = (math.pi * larger + form.overlap_mm) / far
    if angle >= 2 * math.pi:
        raise BlockedError(f"A cone from {upper:g} to {lower:g} mm is too flat to be wrapped: use a lid label")
    ring = np.vstack([_arc(far, -angle / 2, angle / 2), _arc(near, angle / 2, -angle / 2)])
    ring = ring * [1.0, -1.0] if upper >= lower else ring  # the longer arc lies at the wider end
    left, top, right, bottom = shapely.Polygon(ring).bounds
    area = as_multipolygon(shapely.Polygon(ring - np.array([(left + right) / 2, (top + bottom) / 2])))
    return FormShape(
        area=area,
        facts=(
            f"a cone: arcs of {far:.1f} and {near:.1f} mm radius over {math.degrees(angle):.1f} degrees, "
            f"{form.overlap_mm:g} mm of overlap",
        ),
    )


def _arc(radius: float, start: float, end: float) -> Floats:
    """Return points of an arc round the origin, angles from straight down, y down."""
    step = 2 * math.acos(max(-1.0, 1 - _ARC_TOLERANCE_MM / radius))
    angle = np.linspace(start, end, max(2, math.ceil(abs(end - start) / step) + 1))
    return radius * np.stack([np.sin(angle), np.cos(angle)], axis=1)


def _planner(form: Form) -> FormShape:
    """Return a sheet of equal boxes, each kiss-cut, with a gap's air round all."""
    across = form.columns * (form.width_mm + form.gap_mm) + form.gap_mm
    down = form.rows * (form.height_mm + form.gap_mm) + form.gap_mm
    (one,) = fit_area(as_multipolygon(rounded_box(form.width_mm, form.height_mm, form.radius_mm)), EXACT_STYLE)
    lines = []
    for row in range(form.rows):
        for column in range(form.columns):
            x = -across / 2 + form.gap_mm + form.width_mm / 2 + column * (form.width_mm + form.gap_mm)
            y = -down / 2 + form.gap_mm + form.height_mm / 2 + row * (form.height_mm + form.gap_mm)
            lines.append(CutPath(kind="kiss", curve=one.placed(affine(x_mm=x, y_mm=y))))
    return FormShape(
        area=as_multipolygon(rounded_box(across, down, form.radius_mm)),
        lines=tuple(lines),
        facts=(f"{form.columns * form.rows} boxes on {across:.1f} × {down:.1f} mm",),
    )


def _card(form: Form) -> FormShape:
    wide, high = flat_size_mm(form)
    ends = [(0.0, -high / 2), (0.0, high / 2)] if form.fold == "left" else [(-wide / 2, 0.0), (wide / 2, 0.0)]
    return FormShape(
        area=as_multipolygon(rounded_box(wide, high, form.radius_mm)),
        lines=tuple(_fold(form, *np.array(ends))),
        facts=(f"{wide:.1f} × {high:.1f} mm flat, folded once",),
    )


def flat_size_mm(form: Form) -> tuple[float, float]:
    """Return width and height of a card before it is folded."""
    if form.fold == "left":
        return 2 * form.width_mm, form.height_mm
    return form.width_mm, 2 * form.height_mm


def _fold(form: Form, start: Floats, end: Floats) -> list[CutPath]:
    line = polyline(np.stack([start, end]), closed=False)
    return list(paths_along(form.fold_kind, line, cut_mm=form.cut_mm, tie_mm=form.tie_mm))


def _pop_up(form: Form) -> FormShape:
    """Return a card whose middle strip steps out when it is opened: two slits, three creases and the fold.

    The strip leaves one panel ``part_height_mm`` from the fold and the other ``depth_mm`` from it; between
    them it bends where the two lengths meet the other way round, so that it stands as a parallelogram.
    """
    refuse_tall_part(form)
    if form.part_width_mm > 0.9 * _fold_length_mm(form):
        raise BlockedError(
            f"A part {form.part_width_mm:g} mm wide leaves no card beside it: make it "
            f"{0.9 * _fold_length_mm(form):.0f} mm or narrower"
        )
    card = _card(form)
    half, back, front = form.part_width_mm / 2, form.part_height_mm, form.depth_mm
    half_fold = _fold_length_mm(form) / 2
    lines = []
    for side in (-half, half):
        lines.append(
            CutPath(kind="through", curve=polyline(_turned(form, [(side, -back), (side, front)]), closed=False))
        )
    for at in (-back, front - back, front):
        lines += _fold(form, *_turned(form, [(-half, at), (half, at)]))
    for side in (-1, 1):  # the card's own fold, but for the strip
        lines += _fold(form, *_turned(form, [(side * half, 0.0), (side * half_fold, 0.0)]))
    fact = f"the part reaches {back + front:.1f} of {_panel_mm(form):.1f} mm when the card is shut"
    return FormShape(area=card.area, lines=tuple(lines), facts=(*card.facts, fact))


def refuse_tall_part(form: Form) -> None:
    """Refuse a pop-up part that would look out of the shut card.

    Raises:
        BlockedError: its height and its distance from the fold together reach the panel's edge.
    """
    reach, panel = form.part_height_mm + form.depth_mm, _panel_mm(form)
    if reach >= panel:
        raise BlockedError(
            f"The part is {form.part_height_mm:g} mm high and stands {form.depth_mm:g} mm from the fold: together "
            f"{reach:g} mm, and the panel has {panel:g}. Lower it, or bring it nearer to the fold"
        )


def _panel_mm(form: Form) -> float:
    return form.width_mm if form.fold == "left" else form.height_mm


def _fold_length_mm(form: Form) -> float:
    return form.height_mm if form.fold == "left" else form.width_mm


def _turned(form: Form, points: list[tuple[float, float]]) -> Floats:
    """Return points given along and across the fold, in the form's frame."""
    turned = np.array(points)
    return turned[:, ::-1].copy() if form.fold == "left" else turned


def folded_part(form: Form, opening_deg: float) -> Floats:
    """Return the side view of an opened pop-up card: five points, y up.

    They are the edge of the panel behind, where the strip leaves it, the strip's bend, where it meets the
    panel in front, and that panel's edge; the fold is the origin and the front panel lies along x.
    """
    angle = math.radians(opening_deg)
    behind = np.array([math.cos(angle), math.sin(angle)])
    before = np.array([1.0, 0.0])
    panel, back, front = _panel_mm(form), form.part_height_mm, form.depth_mm
    return np.stack([panel * behind, back * behind, back * behind + front * before, front * before, panel * before])


def _sleeve(form: Form) -> FormShape:
    """Return the strip that goes round a box: front, side, back, side and a glue flap."""
    walls = [form.width_mm, form.depth_mm, form.width_mm, form.depth_mm]
    wide, high = sum(walls) + form.flap_mm, form.height_mm
    lines: list[CutPath] = []
    at = -wide / 2
    for wall in walls if form.flap_mm else walls[:-1]:
        at += wall
        lines += _fold(form, np.array([at, -high / 2]), np.array([at, high / 2]))
    return FormShape(
        area=as_multipolygon(rounded_box(wide, high, 0.0)),
        lines=tuple(lines),
        facts=(f"{wide:.1f} × {high:.1f} mm flat, for a box of {form.width_mm:g} × {form.depth_mm:g} mm",),
    )
