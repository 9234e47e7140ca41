"""What would go wrong with a stack of layers."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

import numpy as np
import shapely

from honest_edge.core.edge.contour import CutLines
from honest_edge.core.edge.forecast import Forecast
from honest_edge.core.layers.flatten import Flattened
from honest_edge.core.layers.paint import printed_ppi
from honest_edge.core.layers.stack import Content, Stack
from honest_edge.core.proof import register
from honest_edge.core.proof.collisions import collisions
from honest_edge.core.proof.design_checks import ENOUGH_CLEAN
from honest_edge.core.proof.line_checks import line_findings
from honest_edge.core.proof.words import counted
from honest_edge.core.values.findings import Finding, Fix, Place, Quantity, Subject
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import Backing
from honest_edge.core.values.misregistration import strays_mm
from honest_edge.core.values.specs import CRISP_PPI
from honest_edge.core.values.stock import Stock

_WIDEST_RING_MM = 6.0
"""Wider rings leave no sheet between stickers; from experience, no published source."""


def stack_findings(
    design: Design,
    stack: Stack,
    contents: Mapping[str, Content],
    flat: Flattened,
    quiet_zones: Sequence[shapely.MultiPolygon],
    cut: CutLines,
    job: Job,
) -> tuple[Finding, ...]:
    """Return what needs a look in how a design's layers lie together.

    Args:
        design: the design.
        stack: its layers put together.
        contents: what each layer holds, by key.
        flat: its one picture, which tells where the layers lie in the art's frame.
        quiet_zones: the grounds of its codes, in the cut's frame.
        cut: the cut.
        job: tells how far print and cut may disagree, and how far words stay from cuts.
    """
    corner_mm = np.array([flat.left_mm, flat.top_mm])
    subject = Subject(kind="design", design=design.key)
    return (
        *_apart(design, flat.pieces, subject),
        *_gaps(design, stack, job.sheet.stock, corner_mm, subject),
        *_outside(design, stack),
        *_placeholders(design),
        *collisions(design, contents, stack.form, job.kept_clear_mm, corner_mm),
        *line_findings(design, contents, cut, corner_mm),
        *_soft(design, stack, corner_mm),
        *_quiet(quiet_zones, cut, strays_mm(job.misregistration), subject),
    )


def _apart(design: Design, pieces: int, subject: Subject) -> Iterator[Finding]:
    if not design.is_flattened and pieces > 1:
        yield register.CUT_APART.found(
            subject,
            f"each layer is cut by itself: {pieces} pieces",
            "flatten the design, and one cut goes round all of it",
            measured=Quantity(value=pieces, unit=""),
            needed=Quantity(value=1, unit=""),
            fix=Fix(words="Flatten it", design=design.key, is_flattened=True),
        )


def _gaps(design: Design, stack: Stack, stock: Stock, corner_mm: np.ndarray, subject: Subject) -> Iterator[Finding]:
    """Find gaps between layers; the hole of an O is one only where the stock is not white, as paper in it would be."""
    is_white = stock.bare_name == "white"
    gaps = stack.gaps if is_white else (*stack.gaps, *stack.counters)
    if not gaps:
        return
    largest_mm2 = max(gap.area for gap in gaps)
    between = "between the layers" if is_white else "in and between the layers"
    backing = Fix(words="Put a backing behind", design=design.key, backing=Backing(shape="offset"))
    yield register.SEE_THROUGH.found(
        subject,
        f"{stock.bare_name} shows through {counted(len(gaps), 'gap')} {between}, up to {largest_mm2:.1f} mm²",
        "put a backing behind them, unless that is meant",
        places=[_place(gap, corner_mm) for gap in gaps],
        measured=Quantity(value=largest_mm2, unit="mm²"),
        fix=backing if design.backing is None and design.form is None else None,
    )


def _outside(design: Design, stack: Stack) -> Iterator[Finding]:
    """Find printed layers of which nothing lies on the form."""
    shown = {entry.layer.key for entry in stack.entries if entry.layer is not None}
    lost = [
        layer
        for layer in design.layers
        if layer.role == "printed" and not layer.is_hidden and layer.joining in ("over", "knock out")
        if layer.key not in shown
    ]
    if lost:
        yield register.OFF_THE_FORM.found(
            Subject(kind="layer", design=design.key, layer=lost[0].key),
            f"nothing of “{lost[0].title[:30]}” is printed: it lies outside the form, or is taken away",
            "move it onto the form, or remove it",
        )


def _placeholders(design: Design) -> Iterator[Finding]:
    """Find words and codes that came with a form or a menu and were not typed over."""
    for layer in design.layers:
        if layer.is_placeholder and not layer.is_hidden and layer.role != "guide":
            meant = tuple(replace(other, is_meant=True) if other is layer else other for other in design.layers)
            said = layer.lettering.text if layer.lettering is not None else layer.code.text if layer.code else ""
            yield register.PLACEHOLDER.found(
                Subject(kind="layer", design=design.key, layer=layer.key),
                f"“{said[:30]}” only holds a place",
                "type what is to stand there, or keep it",
                fix=Fix(words=f"Keep “{said[:20]}”", design=design.key, layers=meant),
            )


def _soft(design: Design, stack: Stack, corner_mm: np.ndarray) -> Iterator[Finding]:
    """Find pictures and fills that are printed at too few pixels; a sticker's own design says it of stickers."""
    for entry in stack.entries:
        ppi, layer = printed_ppi(entry), entry.layer
        if layer is None or layer.sticker is not None or ppi is None or ppi >= CRISP_PPI - 0.5:
            continue
        what = "the picture in " if layer.picture is None else ""
        yield register.PPI.found(
            Subject(kind="layer", design=design.key, layer=layer.key),
            f"{what}“{layer.title[:30]}” is printed at {ppi:.0f} ppi and will look soft",
            "let it repeat more narrowly, or take a larger picture"
            if entry.repeat_mm
            else "make it smaller, or take a larger picture",
            places=[_place(entry.area, corner_mm)],
            measured=Quantity(value=ppi, unit="ppi"),
            needed=Quantity(value=CRISP_PPI, unit="ppi"),
        )


def ring_findings(design: Design, expected: Forecast, corner_mm: np.ndarray) -> Iterator[Finding]:
    """Find a sheet whose stickers take along, too often, what lies round their rings.

    Args:
        design: a sheet of stickers.
        expected: what comes out of it, its kiss cuts among it.
        corner_mm: where its picture begins in the frame of its layers.
    """
    on_it = [layer for layer in design.layers if layer.sticker and not layer.is_hidden]
    share = expected.share_kiss_clean
    if not on_it or share >= ENOUGH_CLEAN:
        return
    least_mm = min(layer.gap_mm for layer in on_it)
    needed_mm = math.ceil(20 * expected.ring_needed_mm(least_mm, ENOUGH_CLEAN)) / 20
    narrow = [layer for layer in on_it if layer.gap_mm < needed_mm]
    wider = tuple(replace(layer, gap_mm=needed_mm) if layer in narrow else layer for layer in design.layers)
    can_be = needed_mm <= _WIDEST_RING_MM
    yield register.RING.found(
        Subject(kind="design", design=design.key),
        f"{100 * share:.0f} % of the sheets are expected with every kiss cut clean, with rings of {least_mm:g} mm",
        f"rings of {needed_mm:g} mm are clean on 95 % of them; or measure the bench and find that it strays less"
        if can_be
        else "no ring is wide enough on this bench: measure it, and set the cutter right first",
        places=[_place(shapely.Point(layer.x_mm, layer.y_mm), corner_mm) for layer in narrow],
        measured=Quantity(value=100 * share, unit="%"),
        needed=Quantity(value=100 * ENOUGH_CLEAN, unit="%"),
        fix=Fix(words=f"Widen the rings to {needed_mm:g} mm", design=design.key, layers=wider) if can_be else None,
    )


def _quiet(
    zones: Sequence[shapely.MultiPolygon], cut: CutLines, astray_mm: float, subject: Subject
) -> Iterator[Finding]:
    if not zones:
        return
    enclosed = cut.enclosed
    rooms = [
        shapely.distance(shapely.boundary(enclosed), zone) if shapely.covers(enclosed, zone) else 0.0 for zone in zones
    ]
    if min(rooms) < astray_mm:
        yield register.QUIET.found(
            subject,
            f"the cut passes {min(rooms):.1f} mm from a code’s quiet zone and may stray {astray_mm:.2g} mm",
            "move the code inward, or give the design a border",
            places=[
                Place(frame="art", geometry=zone) for zone, room in zip(zones, rooms, strict=True) if room < astray_mm
            ],
            measured=Quantity(value=float(min(rooms)), unit="mm"),
            needed=Quantity(value=astray_mm, unit="mm"),
        )


def _place(geometry: shapely.Geometry, corner_mm: np.ndarray) -> Place:
    """Return a place of the layers' frame in the art's."""
    return Place(frame="art", geometry=shapely.transform(geometry, lambda points: points - corner_mm))
