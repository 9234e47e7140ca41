"""What would go wrong, found before paper is spent."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from honest_edge.core.edge.contour import CutLines, InsetLoss
from honest_edge.core.edge.forecast import Forecast
from honest_edge.core.edge.profile import EdgeProfile
from honest_edge.core.imaging.leaks import Leak
from honest_edge.core.imaging.matte import Matte
from honest_edge.core.outline.narrow import Narrow
from honest_edge.core.proof.layer_checks import LayerFinding
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.specs import CRISP_PPI

ENOUGH_CLEAN = 0.95
"""Below this share of clean stickers the edge needs a look."""

_RECTANGULAR = 0.97  # of its box, from which on a shape counts as a rectangle


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """One thing to look at.

    Attributes:
        check: which check found it.
        design: the design's key.
        message: what, where and how much, in one sentence.
        remedy: what to do about it.
    """

    check: str
    design: str
    message: str
    remedy: str


def findings_of(
    design: Design,
    *,
    artwork: Artwork,
    width_mm: float,
    layers: Sequence[LayerFinding],
    leaks: Sequence[Leak],
    cut: CutLines,
    narrow: Sequence[Narrow],
    inset: Sequence[InsetLoss],
    matte: Matte | None,
    edge: EdgeProfile,
    seen: Forecast,
    job: Job,
) -> tuple[Finding, ...]:
    """Return what needs a look in one design."""
    found = (
        *((found.check, found.message, found.remedy) for found in layers),
        *_of_art(artwork, width_mm),
        *_of_outline(design, leaks, cut, narrow, job.narrowest_mm),
        *_of_cut(design, inset, matte, cut),
        *_of_edge(edge, seen, job),
    )
    return tuple(
        Finding(check=check, design=design.key, message=message, remedy=remedy) for check, message, remedy in found
    )


_Found = Iterator[tuple[str, str, str]]


def _of_art(artwork: Artwork, width_mm: float) -> _Found:
    ppi = artwork.ppi_at(width_mm)
    if ppi < CRISP_PPI - 0.5:
        crisp_mm = width_mm * ppi / CRISP_PPI
        yield (
            "ppi",
            f"{ppi:.0f} ppi at {width_mm:.1f} mm: the print will look soft",
            f"print it {crisp_mm:.1f} mm wide or less, or find a larger picture",
        )
    if artwork.has_conflict:
        said = ", ".join(f"{source} says {ppi:.0f} ppi" for source, ppi in artwork.statements)
        yield "size", f"the file states two sizes: {said}", "hold a ruler to where it will go and type the width"


def _of_outline(
    design: Design, leaks: Sequence[Leak], cut: CutLines, narrow: Sequence[Narrow], narrowest_mm: float
) -> _Found:
    leaking = [leak for leak in leaks if not leak.dammed]
    if leaking:
        widest = max(leak.width for leak in leaking) * design.width_mm
        yield (
            "leaks",
            f"background may flow in through {_counted(len(leaking), 'gap')}, up to {widest:.2f} mm wide",
            "look at the marked places and dam those that are gaps",
        )
    pieces = len(cut.area.geoms)
    if pieces > 1:
        yield (
            "parts",
            f"the cut falls into {pieces} separate pieces",
            "raise the offset until they join, or raise the smallest part",
        )
    for kind in ("strand", "gap"):
        places = [place for place in narrow if place.kind == kind]
        if places:
            yield (
                "narrow",
                f"{_counted(len(places), kind)} narrower than {narrowest_mm:g} mm, too fine for the blade",
                "raise the offset or the size" if kind == "strand" else "raise the offset until the gap closes",
            )


def _of_cut(design: Design, inset: Sequence[InsetLoss], matte: Matte | None, cut: CutLines) -> _Found:
    swallowed = sum(loss.pieces == 0 for loss in inset)
    split = len(inset) - swallowed
    if inset:
        fates = [f"{count} {words}" for count, words in ((swallowed, "swallowed"), (split, "split")) if count]
        yield (
            "inset",
            f"cutting {design.edge.offset_mm:g} mm inside leaves {_counted(len(inset), 'part')} of the art not whole: "
            f"{', '.join(fates)}",
            "lower the offset",
        )
    if matte is not None:
        yield (
            "matte",
            f"a {matte.kind} rim of an earlier background lies round the art, about {matte.pull:.0f} levels off",
            "give it a bleed, which replaces the rim" if design.edge.bleed_mm == 0 else "the bleed replaces it",
        )
    if design.edge.fill == "mirror":
        left, top, right, bottom = cut.area.bounds
        if cut.area.area < _RECTANGULAR * (right - left) * (bottom - top):
            yield (
                "fill",
                "the bleed mirrors art that is no rectangle, which shows doubled shapes at the edge",
                "carry the nearest colour instead",
            )


def _of_edge(edge: EdgeProfile, seen: Forecast, job: Job) -> _Found:
    spots = edge.spots(job.bench_error, seen.place, job.visible_mm)
    if seen.share_clean >= ENOUGH_CLEAN or not spots:
        return
    worst = spots[0]
    trouble = f"{job.sheet.stock.bare_name} shows" if worst.trouble == "white" else "the art is cut"
    yield (
        "drift",
        f"{100 * seen.share_clean:.0f} % of the stickers are expected clean; {trouble} most at {worst.along_mm:.0f} mm "
        f"along the cut, where there is room for {worst.room_mm:.2f} mm",
        "carry colour farther past the cut" if worst.trouble == "white" else "move the cut away from the art",
    )


def _counted(number: int, noun: str) -> str:
    return f"{number} {noun}{'' if number == 1 else 's'}"
