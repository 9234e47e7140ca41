"""What a hand does to the layers of a design as a whole: turning a picture into a layer, laying stickers on a form."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from honest_edge.core.layers.arrange import Bounds, moved
from honest_edge.core.layers.forms import form_shape
from honest_edge.core.layers.sticker_rows import free_place, in_rows
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, Layer, Picture
from honest_edge.core.values.specs import ArtSource


def ring_mm(job: Job) -> float:
    """Return how far a sheet's colour keeps off a sticker's cut: as far as drifts, and what is seen."""
    return round(job.drift_mm + job.visible_mm, 2)


def place_for_sticker(
    design: Design, size: tuple[float, float], boxes: Mapping[str, Bounds], gap_mm: float
) -> tuple[float, float]:
    """Return where a new sticker goes: the first free place of the form, else its middle."""
    if design.form is None:
        return 0.0, 0.0
    left, top, right, bottom = (float(edge) for edge in form_shape(design.form).area.bounds)
    whole = (right - left) * (bottom - top)
    taken = [box for box in boxes.values() if (box[2] - box[0]) * (box[3] - box[1]) < whole / 2]  # no ground
    return free_place(size, (left, top, right, bottom), taken, gap_mm=2 * gap_mm) or (0.0, 0.0)


def spread_stickers(design: Design, boxes: Mapping[str, Bounds]) -> tuple[Layer, ...]:
    """Return the layers with all stickers in even rows on the form, clear of titles.

    Raises:
        BlockedError: they do not fit.
    """
    assert design.form is not None
    left, top, right, bottom = (float(edge) for edge in form_shape(design.form).area.bounds)
    stickers = [layer for layer in design.layers if layer.sticker and layer.key in boxes and not layer.is_hidden]
    kept = [boxes[layer.key] for layer in design.layers if layer.lettering and layer.key in boxes]
    sizes = [(boxes[a.key][2] - boxes[a.key][0], boxes[a.key][3] - boxes[a.key][1]) for a in stickers]
    gap_mm = max((layer.gap_mm for layer in stickers), default=0.0)
    places = in_rows(sizes, (left, top, right, bottom), gap_mm=2 * gap_mm, kept=kept)
    moves = {}
    for layer, (x_mm, y_mm) in zip(stickers, places, strict=True):
        box = boxes[layer.key]
        moves[layer.key] = (x_mm - (box[0] + box[2]) / 2, y_mm - (box[1] + box[3]) / 2)
    layers = design.layers
    for key, way in moves.items():
        layers = moved(layers, (key,), *way)
    return layers


def turned_layered(design: Design, height_mm: float) -> Design:
    """Return a one-picture design as a stack of that one picture, at the same place and size."""
    picture = Picture(
        asset=design.asset,
        file_name=design.file_name,
        width_mm=design.width_mm,
        source=design.source,
        outline=design.outline,
    )
    layer = Layer(key="l1", picture=picture, x_mm=design.width_mm / 2, y_mm=height_mm / 2)
    return replace(design, asset="", file_name="", source=ArtSource(), outline=AS_DRAWN, layers=(layer,))
