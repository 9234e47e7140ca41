"""What would go wrong with a stack of layers."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import shapely

from honest_edge.core.edge.contour import CutLines
from honest_edge.core.layers.stack import Stack
from honest_edge.core.values.job import Design, Job


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerFinding:
    """One thing to look at: which check, what and how much, what to do."""

    check: str
    message: str
    remedy: str


def stack_findings(
    design: Design,
    stack: Stack,
    pieces: int,
    quiet_zones: Sequence[shapely.MultiPolygon],
    cut: CutLines,
    job: Job,
) -> tuple[LayerFinding, ...]:
    """Return what needs a look in how a design's layers lie together.

    Args:
        design: the design.
        stack: its layers put together.
        pieces: into how many it is cut before any offset.
        quiet_zones: the grounds of its codes, in the cut's frame.
        cut: the cut.
        job: tells how far print and cut may disagree.
    """
    return (
        *_apart(design, pieces),
        *_gaps(stack),
        *_outside(design, stack),
        *_rings(design, job.drift_mm),
        *_quiet(quiet_zones, cut, job.drift_mm),
    )


def _apart(design: Design, pieces: int) -> Iterator[LayerFinding]:
    if not design.is_flattened and pieces > 1:
        yield LayerFinding(
            check="apart",
            message=f"each layer is cut by itself: {pieces} pieces",
            remedy="flatten the design, and one cut goes round all of it",
        )


def _gaps(stack: Stack) -> Iterator[LayerFinding]:
    if stack.gaps:
        largest, count = stack.gaps[0].area, len(stack.gaps)
        name = "1 gap" if count == 1 else f"{count} gaps"
        yield LayerFinding(
            check="gap",
            message=f"the stock shows through {name} between the layers, up to {largest:.1f} mm²",
            remedy="put a backing behind them, unless that is meant",
        )


def _outside(design: Design, stack: Stack) -> Iterator[LayerFinding]:
    """Find printed layers of which nothing lies on the form."""
    shown = {entry.layer.key for entry in stack.entries if entry.layer is not None}
    lost = [
        layer
        for layer in design.layers
        if layer.role == "printed" and not layer.is_hidden and layer.joining in ("over", "knock out")
        if layer.key not in shown
    ]
    if lost:
        yield LayerFinding(
            check="outside",
            message=f"nothing of “{lost[0].title[:30]}” is printed: it lies outside the form, or is taken away",
            remedy="move it onto the form, or remove it",
        )


def _rings(design: Design, drift_mm: float) -> Iterator[LayerFinding]:
    """Find stickers whose ring is narrower than print and cut may disagree."""
    narrow = [layer for layer in design.layers if layer.sticker and layer.gap_mm < drift_mm and not layer.is_hidden]
    if narrow:
        least = min(layer.gap_mm for layer in narrow)
        yield LayerFinding(
            check="ring",
            message=f"the sheet’s colour comes within {least:g} mm of a kiss cut that may drift {drift_mm:g} mm",
            remedy="widen the sticker’s gap, or measure the bench and find that it drifts less",
        )


def _quiet(zones: Sequence[shapely.MultiPolygon], cut: CutLines, drift_mm: float) -> Iterator[LayerFinding]:
    if not zones:
        return
    enclosed = cut.enclosed
    rooms = [
        shapely.distance(shapely.boundary(enclosed), zone) if shapely.covers(enclosed, zone) else 0.0 for zone in zones
    ]
    if min(rooms) < drift_mm:
        yield LayerFinding(
            check="quiet",
            message=f"the cut passes {min(rooms):.1f} mm from a code’s quiet zone and may drift {drift_mm:g} mm",
            remedy="move the code inward, or give the design a border",
        )
