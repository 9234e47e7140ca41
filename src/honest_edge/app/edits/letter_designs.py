"""A word as large as it gets: a design for each of its letters, every one as large as a sheet allows."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import shapely

from honest_edge.app.edits.job_holder import free_name, with_designs
from honest_edge.core.layers.lettering import letter
from honest_edge.core.layers.letters import SingleLetter, letters_of
from honest_edge.core.layers.typeface import Typeface
from honest_edge.core.sheet.space import space_of
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, Lettering, Paint
from honest_edge.files.typefaces import FontLibrary, font_library

_AIR_MM, _TRY_MM = 1.0, 10.0
MOST_LETTER_DESIGNS = 60


def letter_designs(
    job: Job,
    design: Design,
    key: str,
    fonts: FontLibrary | None = None,
    *,
    one_size: bool = False,
    aspect: float | None = None,
) -> Job:
    """Return the job with a design for every letter of a lettering added, each filled as the lettering is.

    Each is as large as a sheet allows between its marks, on a sheet of its own; the words themselves make no copies
    any more.

    Args:
        job: the job.
        design: which has the words.
        key: of the words' layer.
        fonts: of this machine.
        one_size: all are as large as the largest of them allows.
        aspect: width by height of the picture that fills the words once; each letter then keeps its own part of it.

    Raises:
        BlockedError: the layer is no lettering, its text too long, or a letter cannot be drawn.
    """
    layer = design.layer(key)
    words = layer.lettering
    if words is None:
        raise BlockedError("Only words fall into letters: take a lettering in hand")
    letters = [char for char in words.text if not char.isspace()]
    if len(letters) > MOST_LETTER_DESIGNS:
        raise BlockedError(f"{len(letters)} letters are more than the {MOST_LETTER_DESIGNS} that are made at once")
    typeface = (fonts or font_library()).find(words.family, words.style).typeface
    plain = replace(words, sized_by="capitals", size_mm=_TRY_MM, arc_mm=0.0, room_mm=None, fatten_mm=0.0)
    factors = [_fitting(letter(replace(plain, text=char), typeface).area, _room(job, design)) for char in letters]
    if one_size:
        factors = [min(factors)] * len(factors)
    job = job.with_design(replace(design, copies=0, spares=0, fills=False))
    job = replace(job, sheet=replace(job.sheet, grouping="apart"))
    parts = _own_parts(words, typeface, layer.paint, aspect)
    designs: list[Design] = []
    for number, (char, factor) in enumerate(zip(letters, factors, strict=True)):
        grown = with_designs(job, designs)
        alone = replace(plain, text=char, size_mm=_TRY_MM * factor)
        paint = parts[number](alone) if len(parts) == len(letters) else layer.paint
        single = replace(layer, key="l1", name="", lettering=alone, paint=paint, x_mm=0.0, y_mm=0.0, turn_deg=0.0)
        designs.append(
            Design(
                key=grown.free_key(),
                name=free_name(grown, f"Letter {char}"),
                outline=AS_DRAWN,
                edge=design.edge,
                copies=1,
                layers=(single,),
            )
        )
    return with_designs(job, designs)


def _own_parts(
    words: Lettering, typeface: Typeface, paint: Paint, aspect: float | None
) -> list[Callable[[Lettering], Paint]]:
    """Return for each letter what fills it at another size with its own part of one picture; none where that is not."""
    if not paint.asset or paint.repeat_mm or paint.gradient is not None or words.arc_mm or aspect is None:
        return []
    left, top, right, bottom = letter(words, typeface).area.bounds
    wide_mm = paint.place.zoom * max(right - left, (bottom - top) * aspect)
    middle = (left + right) / 2 + paint.place.x_mm, (top + bottom) / 2 + paint.place.y_mm

    def of(one: SingleLetter) -> Callable[[Lettering], Paint]:
        def filled(alone: Lettering) -> Paint:
            grown = alone.size_mm / one.lettering.size_mm
            box = letter(alone, typeface).area.bounds
            covering_mm = max(box[2] - box[0], (box[3] - box[1]) * aspect)
            place = replace(
                paint.place,
                zoom=grown * wide_mm / covering_mm,
                x_mm=grown * (middle[0] - one.x_mm) - (box[0] + box[2]) / 2,
                y_mm=grown * (middle[1] - one.y_mm) - (box[1] + box[3]) / 2,
            )
            return replace(paint, place=place)

        return filled

    return [of(one) for one in letters_of(words, typeface)]


def _fitting(area: shapely.MultiPolygon, room: tuple[float, float]) -> float:
    """Return by how much an area may grow to fit a room, upright or turned by a quarter."""
    left, top, right, bottom = area.bounds
    wide, high = float(right - left), float(bottom - top)
    return max(min(room[0] / wide, room[1] / high), min(room[1] / wide, room[0] / high))


def _room(job: Job, design: Design) -> tuple[float, float]:
    """Return width and height between the marks, clear of them, less border and bleed."""
    return room_for(job, max(0.0, design.edge.signed_offset_mm) + design.edge.bleed_mm)


def room_for(job: Job, around_mm: float) -> tuple[float, float]:
    """Return the largest upright box between the marks, clear of them, less what lies round the art on each side.

    Raises:
        BlockedError: the marks leave no room.
    """
    room = space_of(job.sheet)
    middle = (room.usable.top + room.usable.bottom) / 2
    top = max((box.bottom for box in room.keep_outs if box.top < middle), default=room.usable.top)
    bottom = min((box.top for box in room.keep_outs if box.bottom > middle), default=room.usable.bottom)
    edge = 2 * (around_mm + _AIR_MM)
    return room.usable.width - edge, bottom - top - edge
