"""What a hand does to the layers of a design as a whole: turning a picture into a layer, laying stickers on a form."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace

from honest_edge.core.layers.arrange import Bounds, free_key, moved
from honest_edge.core.layers.forms import form_shape
from honest_edge.core.layers.stack import clears_a_ring
from honest_edge.core.layers.sticker_rows import free_place, in_rows
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, Layer, Picture, Sticker
from honest_edge.core.values.misregistration import strays_mm
from honest_edge.core.values.specs import ArtSource

_MOST_STICKERS = 120


def ring_mm(job: Job) -> float:
    """Return how far a sheet's colour keeps off a sticker's cut: as far as this bench strays, and what is seen."""
    return round(strays_mm(job.misregistration) + job.visible_mm, 2)


def with_rings(design: Design, ring_mm: float) -> Design:
    """Return a sheet whose stickers clear rings of one width; those that clear none are left so."""
    layers = tuple(replace(one, gap_mm=ring_mm) if clears_a_ring(one) else one for one in design.layers)
    return replace(design, layers=layers)


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


def place_for_layer(
    design: Design, layer: Layer, boxes: Mapping[str, Bounds], clear_mm: float
) -> tuple[float, float] | None:
    """Return where a new layer finds room on its form, clear of the others and of the edge; None without any."""
    size = _guessed_size(layer)
    if design.form is None or size is None:
        return None
    left, top, right, bottom = (float(edge) for edge in form_shape(design.form).area.bounds)
    whole = (right - left) * (bottom - top)
    taken = [box for box in boxes.values() if (box[2] - box[0]) * (box[3] - box[1]) < whole / 2]  # no ground
    middle = (round((left + right) / 2, 2), round((top + bottom) / 2, 2))
    if not taken:
        return middle
    free = free_place(size, (left, top, right, bottom), taken, gap_mm=clear_mm)
    return None if free is None else (round(free[0], 2), round(free[1], 2))


def _guessed_size(layer: Layer) -> tuple[float, float] | None:
    """Return about how large a layer is before it is drawn; a picture's height is not known yet."""
    if layer.shape is not None:
        return layer.shape.width_mm, layer.shape.height_mm
    if layer.code is not None:
        return layer.code.width_mm, layer.code.width_mm if layer.code.kind == "QR" else layer.code.height_mm + 6
    if layer.lettering is not None:
        lines = layer.lettering.text.split("\n")
        size_mm = layer.lettering.size_mm
        return 0.9 * size_mm * max(map(len, lines)), 1.4 * size_mm * len(lines)
    return None if layer.picture is None else (layer.picture.width_mm, layer.picture.width_mm)


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


def filled_with_stickers(
    design: Design,
    sizes: Mapping[str, tuple[float, float]],
    names: Mapping[str, str],
    boxes: Mapping[str, Bounds],
    gap_mm: float,
) -> tuple[Layer, ...]:
    """Return the layers with as many stickers in even rows as the form holds, all designs in turn.

    Args:
        design: a sheet of stickers; stickers that lie on it already make room.
        sizes: width and height of the cut of every design that may lie on it, by key.
        names: what they are called, by key.
        boxes: of the layers, by key; titles stay clear.
        gap_mm: how far the sheet's colour keeps off each cut.

    Raises:
        BlockedError: not one of each fits.
    """
    assert design.form is not None
    if not sizes:
        raise BlockedError("The job has no other design to lay on this sheet: add some art first")
    area: Bounds = tuple(float(edge) for edge in form_shape(design.form).area.bounds)  # type: ignore[assignment]
    kept = tuple(layer for layer in design.layers if layer.sticker is None)
    titles = [boxes[layer.key] for layer in kept if layer.lettering and layer.key in boxes and not layer.is_hidden]
    keys = list(sizes)
    count, places = len(keys), in_rows(list(sizes.values()), area, gap_mm=2 * gap_mm, kept=titles)
    while count < _MOST_STICKERS:
        try:
            wanted = [sizes[keys[n % len(keys)]] for n in range(count + 1)]
            count, places = count + 1, in_rows(wanted, area, gap_mm=2 * gap_mm, kept=titles)
        except BlockedError:
            break
    layers = kept
    for number, (x_mm, y_mm) in enumerate(places):
        key = keys[number % len(keys)]
        layers = (
            *layers,
            Layer(
                key=free_key(layers),
                name=names[key],
                sticker=Sticker(design=key),
                joining="knock out",
                gap_mm=gap_mm,
                x_mm=round(x_mm, 2),
                y_mm=round(y_mm, 2),
            ),
        )
    return layers


def only_on_sheets(job: Job, keys: Collection[str]) -> Job:
    """Return a job whose designs are not made by themselves any more, unless a number of them was asked for."""
    for design in job.designs:
        if design.key in keys and design.fills:
            job = job.with_design(replace(design, copies=0, fills=False))
    return job


def taken_apart(design: Design, height_mm: float, names: Sequence[str], cutting: Collection[int]) -> Design:
    """Return a design of a file with layers as a stack of them, each at the place and size that it had.

    Args:
        design: of one picture.
        height_mm: of the whole picture.
        names: of the file's layers, the lowest first.
        cutting: those of them that are no ink; they are left out, as are those that were hidden.

    Raises:
        BlockedError: all of them are left out.
    """
    gone = {*design.source.hidden_layers, *design.source.cut_layers, *cutting}
    if len(gone) >= len(names):
        raise BlockedError("All layers of the file are left out: tick one at least")
    whole = turned_layered(design, height_mm)
    (first,) = whole.layers
    assert first.picture is not None  # just made
    layers: list[Layer] = []
    for index in (index for index in range(len(names)) if index not in gone):
        hidden = tuple(other for other in range(len(names)) if other != index)
        source = replace(design.source, hidden_layers=hidden, cut_layers=())
        picture = replace(first.picture, source=source, outline=replace(design.outline, corrections=()))
        layers.append(replace(first, key=f"l{len(layers) + 1}", name=names[index], picture=picture))
    return replace(whole, layers=tuple(layers))


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
