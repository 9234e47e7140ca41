"""What would go wrong with one design, found before paper is spent."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import replace

import cv2
import numpy as np
import shapely

from honest_edge.core.edge.art_edge import SEEN_CONTRAST
from honest_edge.core.edge.changes import smallest_change
from honest_edge.core.edge.contour import CutLines, InsetLoss
from honest_edge.core.edge.forecast import Forecast
from honest_edge.core.edge.profile import EdgeProfile
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.imaging.leaks import Leak, as_dam
from honest_edge.core.imaging.matte import Matte
from honest_edge.core.imaging.recognise import Likeness
from honest_edge.core.imaging.upright import Corners, upright_size
from honest_edge.core.outline.bays import bays
from honest_edge.core.outline.joining import is_a_set, offered_offset_mm
from honest_edge.core.outline.narrow import Narrow
from honest_edge.core.proof import register
from honest_edge.core.proof.cut_checks import cut_findings
from honest_edge.core.proof.words import counted
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.findings import Finding, Fix, Place, Quantity, Subject
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import (
    CONTOURS,
    CRISP_PPI,
    LARGEST_WIDTH_MM,
    NARROWEST_HOLE_MM,
    SCHOOL_DEFAULTS,
    SMALLEST_WIDTH_MM,
    Correction,
    Cutting,
    EdgeRecipe,
    with_school,
)
from honest_edge.core.values.stock import Stock

ENOUGH_CLEAN = 0.95
"""Below this share of clean stickers the edge needs a look."""

_RECTANGULAR = 0.97  # of its box, from which on a shape counts as a rectangle
_MOST_PLACES = 60
_COARSE_PPI = 150.0
"""Below this pixels show at reading distance; common practice, no published source."""

_CLOSEST_NODES_MM = 0.5
"""Cutters stutter where nodes lie closer on average: common practice, no published source, the number is ours."""


def design_findings(
    design: Design,
    *,
    artwork: Artwork,
    width_mm: float,
    art: shapely.MultiPolygon,
    layers: Sequence[Finding],
    aslant: Corners | None,
    on_shaded_paper: bool,
    looks_like: Likeness | None,
    cleared: Likeness | None,
    specks: int,
    leaks: Sequence[Leak],
    cut: CutLines,
    joining_mm: float | None,
    narrow: Sequence[Narrow],
    inset: Sequence[InsetLoss],
    matte: Matte | None,
    edge: EdgeProfile,
    expected: Forecast,
    job: Job,
) -> tuple[Finding, ...]:
    """Return what needs a look in one design.

    ``width_mm`` is that of the whole picture, ``art`` what of it is not empty; ``layers`` is what was found in
    its layers already.
    """
    return (
        *layers,
        *_of_art(design, artwork, width_mm, float(np.ptp(art.bounds[::2]))),
        *_of_cut_lines(design, artwork),
        *_of_aslant(design, artwork, aslant),
        *_of_paper(design, on_shaded_paper=on_shaded_paper),
        *_of_ground(design, looks_like, cleared),
        *_of_specks(design, specks),
        *_of_bays(design, art),
        *_of_leaks(design, leaks),
        *_of_parts(design, cut, joining_mm),
        *_of_slits(design, cut, art, width_mm),
        *_of_narrow(design, narrow, job.narrowest_mm),
        *of_nodes(design, cut),
        *cut_findings(design, cut, art, width_mm, job.sheet.machine),
        *_of_inset(design, inset),
        *_of_matte(design, matte),
        *_of_mirror(design, cut),
        *_of_cloth(design, job.sheet.stock),
        *_of_white(design, artwork, width_mm, art, job.sheet),
        *_of_drift(design, edge, expected, job),
    )


def _subject(design: Design) -> Subject:
    return Subject(kind="design", design=design.key)


def _of_art(design: Design, artwork: Artwork, width_mm: float, art_mm: float) -> Iterator[Finding]:
    ppi = artwork.ppi_at(width_mm)
    if ppi < CRISP_PPI - 0.5:
        crisp_mm = art_mm * ppi / CRISP_PPI
        rounded_mm = math.floor(crisp_mm * 10) / 10
        shrunk_mm = width_mm * rounded_mm / art_mm
        can_shrink = not design.is_layered and shrunk_mm >= SMALLEST_WIDTH_MM
        yield register.PPI.found(
            _subject(design),
            f"{ppi:.0f} ppi at {art_mm:.1f} mm of art: the print will look soft",
            f"print the art {crisp_mm:.1f} mm wide or less, or find a larger picture",
            measured=Quantity(value=ppi, unit="ppi"),
            needed=Quantity(value=CRISP_PPI, unit="ppi"),
            fix=Fix(words=f"Make the art {rounded_mm:.1f} mm wide", design=design.key, width_mm=shrunk_mm)
            if can_shrink
            else None,
            severity="blocks" if ppi < _COARSE_PPI else None,
        )
    if artwork.has_conflict:
        said = ", ".join(f"{source} says {ppi:.0f} ppi" for source, ppi in artwork.statements)
        yield register.STATED_SIZES.found(
            _subject(design),
            f"the file states two sizes: {said}",
            "hold a ruler to where it will go and type the width",
        )


def _of_cut_lines(design: Design, artwork: Artwork) -> Iterator[Finding]:
    """Lines that a drawing brings for a machine are never printed unasked."""
    source = design.source
    printed = source.lines_to_print(artwork.cutting)
    if not printed:
        return
    others: tuple[Fix, ...] = ()
    if (along := cut_along(design, artwork.cutting)) is not None:
        others = (
            Fix(
                words="Cut along them",
                design=design.key,
                source=along.source,
                edge=along.edge,
                outline=along.outline,
            ),
        )
    yield register.CUT_LINES.found(
        _subject(design),
        f"lines that mean a cut, “{'” and “'.join(artwork.layers[index] for index, _ in printed)}”, would be printed",
        "leave them out, cut along them, or leave them as they are if they are ink",
        fix=Fix(words="Leave them out", design=design.key, source=source.without_lines(artwork.cutting)),
        others=others,
    )


def cut_along(design: Design, cutting: Cutting) -> Design | None:
    """Return a design that is cut along its file's own lines; None where none of them goes round a sticker."""
    asked = [means for _, means in design.source.lines_to_print(cutting)]
    if not any(means in CONTOURS for means in asked):
        return None
    edge = replace(with_school(design.edge, "bleed"), line_kind="through" if "through" in asked else "kiss")
    outline = replace(design.outline, background="auto")
    return replace(design, source=design.source.along_lines(cutting), edge=edge, outline=outline)


def _of_aslant(design: Design, artwork: Artwork, corners: Corners | None) -> Iterator[Finding]:
    if corners is not None and design.source.region is None and design.source.corners is None:
        source = replace(design.source, corners=corners)
        yield register.ASLANT.found(
            _subject(design),
            "a page lies aslant in this photograph",
            fix=Fix(
                words="Set the page upright",
                design=design.key,
                source=source,
                width_mm=upright_width_mm(design.width_mm, artwork, corners),
            ),
        )


def upright_width_mm(width_mm: float, artwork: Artwork, corners: Corners) -> float:
    """Return how wide the page in a photograph is that is printed so wide, at the same scale.

    Raises:
        ArtError: the corners are no four corners of a page.
    """
    wide_px, _ = upright_size((artwork.width_px, artwork.height_px), corners)
    return min(max(width_mm * wide_px / artwork.width_px, SMALLEST_WIDTH_MM), LARGEST_WIDTH_MM)


def _of_paper(design: Design, *, on_shaded_paper: bool) -> Iterator[Finding]:
    if on_shaded_paper and design.source.paper == "kept":
        source = replace(design.source, paper="white")
        yield register.SHADED.found(
            _subject(design),
            "it is a drawing on paper, and the paper is not white all over",
            fix=Fix(words="Make the paper white", design=design.key, source=source),
        )


def _of_ground(design: Design, looks_like: Likeness | None, cleared: Likeness | None) -> Iterator[Finding]:
    if looks_like is not None:
        subject, flood = replace(design.outline, background="subject"), replace(design.outline, background="flood")
        words, outline = (register.CUT_OUT, subject) if looks_like == "photograph" else (register.CLEAR_ANYWAY, flood)
        fix = Fix(words=words, design=design.key, outline=outline)
        yield register.GROUND.found(_subject(design), f"the picture {ground_words(looks_like)}", fix=fix)
    if cleared is not None:
        kept = Fix(words="Keep its rectangle", design=design.key, outline=replace(design.outline, background="none"))
        yield register.KEPT_GROUND.found(
            _subject(design), f"the picture looks like a {cleared}, and its ground was cleared", fix=kept
        )


def ground_words(looks_like: Likeness) -> str:
    """Return why a picture keeps its ground, as the rest of a sentence."""
    return f"looks like a {looks_like}, so its whole rectangle is kept"


def _of_specks(design: Design, specks: int) -> Iterator[Finding]:
    if specks:
        yield register.SPECKS.found(
            _subject(design), f"{specks:,} specks, such as grain of paper or dots of a print, are left out"
        )


def _of_bays(design: Design, art: shapely.MultiPolygon) -> Iterator[Finding]:
    """On paper that was made white nothing tells a white part at the art's edge from the paper."""
    bays_of = bays(art) if design.source.paper != "kept" and not design.is_layered else []
    if bays_of:
        where = "a bay" if len(bays_of) == 1 else f"{len(bays_of)} bays"
        yield register.BAYS.found(
            _subject(design),
            f"what is as white as the paper at the art’s edge was taken for paper: {where} may belong to the art",
            "brush over with Keep what belongs to it",
            places=[Place(frame="art", geometry=bay) for bay in bays_of],
        )


def _of_leaks(design: Design, leaks: Sequence[Leak]) -> Iterator[Finding]:
    leaking = [leak for leak in leaks if not leak.dammed]
    if not leaking:
        return
    width_mm = design.width_mm
    widest_mm = max(leak.width for leak in leaking) * width_mm
    dams = tuple(Correction(kind="dam", points=as_dam(leak)) for leak in leaking)
    recipe = design.outline
    yield register.LEAKS.found(
        _subject(design),
        f"background may flow in through {counted(len(leaking), 'gap')}, up to {widest_mm:.2f} mm wide",
        "look at the marked places and close those that are gaps",
        places=[_gap(leak, width_mm) for leak in leaking[:_MOST_PLACES]],
        measured=Quantity(value=widest_mm, unit="mm"),
        needed=Quantity(value=0.0, unit="mm"),
        fix=Fix(
            words=f"Close {counted(len(leaking), 'gap')}",
            design=design.key,
            outline=replace(recipe, corrections=(*recipe.corrections, *dams)),
        ),
    )


def _of_parts(design: Design, cut: CutLines, joining_mm: float | None) -> Iterator[Finding]:
    pieces = sorted(cut.area.geoms, key=lambda piece: -piece.area)
    if len(pieces) < 2:
        return
    if is_a_set(pieces):
        yield register.PARTS.found(
            _subject(design),
            f"it is a set of {len(pieces)} pieces alike, each cut by itself",
            "“Split” at Art makes a design of each",
            places=[Place(frame="art", geometry=piece) for piece in pieces[1 : _MOST_PLACES + 1]],
            measured=Quantity(value=len(pieces), unit=""),
            severity="note",
        )
        return
    fix = None
    if joining_mm is not None:
        offset_mm = offered_offset_mm(joining_mm)
        edge = replace(design.edge, school="border", offset_mm=offset_mm)
        before = f"{design.edge.offset_mm:g} → " if design.edge.school == "border" else "of "
        words = f"Border {before}{offset_mm:g} mm: {len(pieces)} parts in one"
        fix = Fix(words=words, design=design.key, edge=edge)
    yield register.PARTS.found(
        _subject(design),
        f"the cut falls into {len(pieces)} separate pieces",
        "raise the offset until they join, or raise the smallest part",
        places=[Place(frame="art", geometry=piece) for piece in pieces[1 : _MOST_PLACES + 1]],
        measured=Quantity(value=len(pieces), unit=""),
        needed=Quantity(value=1, unit=""),
        fix=fix,
    )


def _of_slits(design: Design, cut: CutLines, art: shapely.MultiPolygon, width_mm: float) -> Iterator[Finding]:
    """Find holes of the art of which the border leaves only a slit."""
    holes = [shapely.Polygon(ring) for part in art.geoms for ring in part.interiors]
    left = [shapely.Polygon(ring) for part in cut.area.geoms for ring in part.interiors]
    slits = []
    for hole in left:
        was = [other for other in holes if shapely.contains(other, shapely.point_on_surface(hole))]
        if was and inscribed_mm(hole) < NARROWEST_HOLE_MM <= inscribed_mm(was[0]):
            slits.append(hole)
    if not slits:
        return
    least_mm = min(map(inscribed_mm, slits))
    middles = [shapely.point_on_surface(slit) for slit in slits]
    closed = tuple(
        Correction(kind="fill", points=((float(at.x) / width_mm, float(at.y) / width_mm),)) for at in middles
    )
    yield register.SLIT.found(
        _subject(design),
        f"the border leaves only {least_mm:.1f} mm of {counted(len(slits), 'hole')} in the art",
        "close what is too narrow to weed, or lower the border",
        places=[Place(frame="art", geometry=slit) for slit in slits[:_MOST_PLACES]],
        measured=Quantity(value=least_mm, unit="mm"),
        needed=Quantity(value=NARROWEST_HOLE_MM, unit="mm"),
        fix=Fix(
            words=f"Close {counted(len(slits), 'hole')}",
            design=design.key,
            outline=replace(design.outline, corrections=(*design.outline.corrections, *closed)),
        ),
    )


def inscribed_mm(hole: shapely.Polygon) -> float:
    """Return the diameter of the largest circle within a hole."""
    return 2 * float(shapely.maximum_inscribed_circle(hole, tolerance=0.02).length)


def of_nodes(design: Design, cut: CutLines) -> Iterator[Finding]:
    """Say where a cut has more nodes than a cutter follows smoothly."""
    apart_mm = cut.length_mm / max(cut.node_count, 1)
    if apart_mm < _CLOSEST_NODES_MM:
        yield register.NODES.found(
            _subject(design),
            f"the cut has {cut.node_count} nodes, one every {apart_mm:.2f} mm on average: a cutter may stutter",
            f"let the curve stray farther from the raw edge, until it is {_CLOSEST_NODES_MM:g} mm or more",
            places=[Place(frame="art", geometry=cut.area.boundary)],
            measured=Quantity(value=apart_mm, unit="mm"),
            needed=Quantity(value=_CLOSEST_NODES_MM, unit="mm"),
            fix=_smoother(design, 0.05),
            others=(_smoother(design, 0.15),),
        )


def _smoother(design: Design, stray_mm: float) -> Fix:
    stray_mm = max(stray_mm, 2 * (design.outline.smoothness_mm or 0.0))
    outline = replace(design.outline, smoothness_mm=min(stray_mm, 2.0))
    return Fix(words=f"Let it stray {stray_mm:g} mm", design=design.key, outline=outline)


def _of_narrow(design: Design, narrow: Sequence[Narrow], narrowest_mm: float) -> Iterator[Finding]:
    for kind in ("strand", "gap"):
        places = [place for place in narrow if place.kind == kind]
        if places:
            yield register.NARROW.found(
                _subject(design),
                f"{counted(len(places), kind)} narrower than {narrowest_mm:g} mm, too fine for the blade",
                "raise the offset or the size" if kind == "strand" else "raise the offset until the gap closes",
                places=[_at(place.x_mm, place.y_mm) for place in places[:_MOST_PLACES]],
                needed=Quantity(value=narrowest_mm, unit="mm"),
                fix=_wider(design, kind, narrowest_mm),
            )


def _wider(design: Design, kind: str, narrowest_mm: float) -> Fix:
    """Thicken strands; ease the notches of a gap until it closes: a closing with a disc fills what is narrower."""
    edge = design.edge
    if kind == "gap":
        ease_mm = max(edge.ease_mm, math.ceil(5 * narrowest_mm + 1) / 10)
        return Fix(words=f"Close them by easing {ease_mm:g} mm", design=design.key, edge=replace(edge, ease_mm=ease_mm))
    fatten_mm = min(3.0, round(edge.fatten_mm + narrowest_mm, 2))
    return Fix(words=f"Thicken by {fatten_mm:g} mm", design=design.key, edge=replace(edge, fatten_mm=fatten_mm))


def _of_inset(design: Design, inset: Sequence[InsetLoss]) -> Iterator[Finding]:
    if not inset:
        return
    swallowed = sum(loss.pieces == 0 for loss in inset)
    split = len(inset) - swallowed
    fates = [f"{count} {words}" for count, words in ((swallowed, "swallowed"), (split, "split")) if count]
    yield register.INSET.found(
        _subject(design),
        f"cutting {design.edge.offset_mm:g} mm inside leaves {counted(len(inset), 'part')} of the art not whole: "
        f"{', '.join(fates)}",
        "lower the offset",
        places=[_at(loss.x_mm, loss.y_mm) for loss in inset[:_MOST_PLACES]],
        measured=Quantity(value=design.edge.offset_mm, unit="mm"),
    )


def _of_matte(design: Design, matte: Matte | None) -> Iterator[Finding]:
    if matte is None:
        return
    yield register.MATTE.found(
        _subject(design),
        f"a {matte.kind} rim of an earlier background lies round the art, about {matte.pull:.0f} levels off",
        "give it a bleed, which replaces the rim" if design.edge.bleed_mm == 0 else "the bleed replaces it",
        measured=Quantity(value=matte.pull, unit="levels"),
    )


def _of_mirror(design: Design, cut: CutLines) -> Iterator[Finding]:
    if design.edge.fill != "mirror":
        return
    left, top, right, bottom = cut.area.bounds
    if cut.area.area >= _RECTANGULAR * (right - left) * (bottom - top):
        return
    yield register.MIRROR.found(
        _subject(design),
        "the bleed mirrors art that is no rectangle, which shows doubled shapes at the edge",
        "carry the nearest colour instead",
        fix=Fix(words="Carry the nearest colour", design=design.key, edge=replace(design.edge, fill="nearest")),
    )


def _of_cloth(design: Design, stock: Stock) -> Iterator[Finding]:
    edge = design.edge
    if stock.cloth_rgb is None:
        if edge.fill == "cloth":
            yield register.CLOTH.found(
                _subject(design),
                f"{stock.name} names no cloth, so the nearest colour is carried",
                "give the stock the colour of its cloth at Sheet, or carry the nearest colour",
                fix=Fix(words="Carry the nearest colour", design=design.key, edge=replace(edge, fill="nearest")),
            )
        return
    shows = math.dist(stock.cloth_rgb, stock.rgb) >= SEEN_CONTRAST
    if not shows or (edge.fill == "cloth" and edge.bleed_mm > 0):
        return
    bleed_mm = edge.bleed_mm or SCHOOL_DEFAULTS["bleed"].bleed_mm
    yield register.CLOTH.found(
        _subject(design),
        f"a slip of the cut, or a border, shows {stock.bare_name} on the cloth",
        "print a rim and ground in the cloth’s colour",
        fix=Fix(
            words="Print the cloth’s colour round it",
            design=design.key,
            edge=replace(edge, fill="cloth", bleed_mm=bleed_mm),
        ),
    )


def _of_drift(design: Design, edge: EdgeProfile, expected: Forecast, job: Job) -> Iterator[Finding]:
    weak_places = edge.weak_places(job.misregistration, expected.place, job.visible_mm)
    if expected.share_rim_clean >= ENOUGH_CLEAN or not weak_places:
        return
    worst, change = weak_places[0], smallest_change(expected, design.edge, ENOUGH_CLEAN)
    trouble = f"{job.sheet.stock.bare_name} shows" if worst.trouble == "white" else "the art is cut"
    yield register.DRIFT.found(
        _subject(design),
        f"{100 * expected.share_rim_clean:.1f} % of the stickers are expected clean; {trouble} most at "
        f"{worst.along_mm:.0f} mm along the cut, where there is room for {worst.room_mm:.2f} mm",
        "carry colour farther past the cut" if worst.trouble == "white" else "move the cut away from the art",
        places=[_at(place.x_mm, place.y_mm) for place in weak_places[:_MOST_PLACES]],
        measured=Quantity(value=100 * expected.share_rim_clean, unit="%"),
        needed=Quantity(value=100 * ENOUGH_CLEAN, unit="%"),
        fix=None if change is None else Fix(words=change_words(design.edge, change), design=design.key, edge=change),
    )


def change_words(before: EdgeRecipe, after: EdgeRecipe) -> str:
    """Return what a change of the edge does, as a button says it."""
    said = []
    if after.bleed_mm != before.bleed_mm:
        said.append(f"bleed {before.bleed_mm:g} → {after.bleed_mm:g} mm")
    if after.offset_mm != before.offset_mm:
        name = {"border": "border", "inside": "cut inside"}.get(after.school, "cut")
        said.append(f"{name} {before.offset_mm:g} → {after.offset_mm:g} mm")
    return f"Use {' and '.join(said)}"


def _of_white(
    design: Design, artwork: Artwork, width_mm: float, art: shapely.MultiPolygon, sheet: SheetSpec
) -> Iterator[Finding]:
    """Find white in the art where the stock is not: printers print no white."""
    stock = sheet.stock
    if stock.bare_name == "white" or design.is_layered or stock.cloth_rgb is not None:
        return
    boxes, share = white_boxes(artwork.pixels, width_mm)
    if share < _WHITE_SHARE:
        return
    yield register.WHITE.found(
        _subject(design),
        f"{100 * share:.0f} % of the art is white, which no ink prints: {stock.bare_name} shows there",
        "print on white stock, or give it a colour of its own",
        places=[Place(frame="art", geometry=box) for box in boxes],
        measured=Quantity(value=100 * share, unit="%"),
        needed=Quantity(value=0, unit="%"),
        fix=Fix(words=f"Print on “{Stock().name}”", sheet=sheet.with_profile(Stock())),
    )


_WHITE_SHARE, _WHITE_LEVEL = 0.01, 245
_LOOK_PX = 300


def white_boxes(pixels: Bytes, width_mm: float) -> tuple[list[shapely.Polygon], float]:
    """Return boxes round the largest white regions of (h, w, 4) pixels, in millimetres, and their share of the art."""
    every = max(1, max(pixels.shape[:2]) // _LOOK_PX)
    some = pixels[::every, ::every]
    solid = some[..., 3] > 127
    white = solid & (some[..., :3].min(axis=2) >= _WHITE_LEVEL)
    _, _, stats, _ = cv2.connectedComponentsWithStats(white.view(np.uint8), connectivity=4)
    largest = sorted(stats[1:].tolist(), key=lambda row: -row[cv2.CC_STAT_AREA])[:_MOST_PLACES]
    pixel_mm = width_mm / pixels.shape[1] * every
    boxes = [
        shapely.box(left * pixel_mm, top * pixel_mm, (left + wide) * pixel_mm, (top + high) * pixel_mm)
        for left, top, wide, high, _ in largest
    ]
    return boxes, float(white.sum() / max(1, solid.sum()))


def _gap(leak: Leak, width_mm: float) -> Place:
    ends = [(x * width_mm, y * width_mm) for x, y in (leak.start, leak.end)]
    return Place(frame="art", geometry=shapely.LineString(ends))


def _at(x_mm: float, y_mm: float) -> Place:
    return Place(frame="art", geometry=shapely.Point(x_mm, y_mm))
