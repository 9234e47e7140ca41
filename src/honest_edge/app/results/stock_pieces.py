"""Cut and glue: the layers that are cut from stock of their own, and how they are put together."""

from __future__ import annotations

from dataclasses import replace

from honest_edge.core.layers.grown import sources_of
from honest_edge.core.values.job import Design
from honest_edge.core.values.layers import AS_DRAWN, Layer
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from honest_edge.core.values.stock import Stock

PRINTED_PART = ("", "the printed part")
"""Key and name of all that is printed, as one part."""


def piece_designs(design: Design) -> tuple[tuple[Design, Stock], ...]:
    """Return each piece as a design by itself, back to front, with its stock.

    What lies above and cuts out, or keeps inside, does so to pieces too.
    """
    pieces = []
    for place, layer in enumerate(design.layers):
        if not layer.is_piece:
            continue
        cutters = (other for other in design.layers[place + 1 :] if other.joining in ("subtract", "intersect"))
        above = tuple(other for other in cutters if other.role == "printed" and not other.is_hidden)
        inlays = tuple(
            _taken_out(other, layer.tuck_mm) for other in design.layers[place + 1 :] if _lies_in(other, layer)
        )
        sources = {other.key: other for piece in (layer, *inlays) for other in sources_of(piece, design.layers)}
        drawn = {layer.key, *(other.key for other in (*inlays, *above))}
        hidden = tuple(replace(other, is_hidden=True) for key, other in sources.items() if key not in drawn)
        alone = Design(
            key=f"{design.key}/{layer.key}",
            name=f"{design.name}: {layer.title}"[:80],
            outline=AS_DRAWN,
            edge=replace(SCHOOL_DEFAULTS["bare"], line_kind="through"),
            copies=design.copies,
            spares=design.spares,
            layers=(*hidden, replace(layer, role="printed", joining="over"), *inlays, *above),
        )
        pieces.append((alone, layer.stock))
    return tuple(pieces)


def _lies_in(other: Layer, layer: Layer) -> bool:
    return layer.is_inlaid and other.is_piece


def _taken_out(other: Layer, tuck_mm: float) -> Layer:
    """Return a piece as what takes its own shape, less the tuck, out of one that it lies in."""
    return replace(other, role="printed", joining="subtract", gap_mm=-tuck_mm, group="")


def assembled(design: Design) -> Design:
    """Return a design with its pieces shown in their stocks' colours, as it looks when it is glued."""
    layers = tuple(
        replace(layer, role="printed", joining="over", paint=replace(layer.paint, rgb=layer.stock.rgb, asset=""))
        if layer.is_piece
        else layer
        for layer in design.layers
    )
    return replace(design, layers=layers)


def assembly_order(design: Design) -> tuple[tuple[str, str], ...]:
    """Return key and name of what is glued, back to front; what is printed lies where its lowest layer does."""
    order: list[tuple[str, str]] = []
    if design.form is not None:
        order.append(PRINTED_PART)
    for layer in design.layers:
        if layer.is_piece:
            order.append((layer.key, layer.title))
        elif layer.is_printed and PRINTED_PART not in order:
            order.append(PRINTED_PART)
    return tuple(order)
