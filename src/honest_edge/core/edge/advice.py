"""Which school of edge suits a design, and why: from the art’s own edge, the stock and the bench's error."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from honest_edge.core.edge.art_edge import SEEN_CONTRAST, ArtEdge
from honest_edge.core.geometry.corners import resample
from honest_edge.core.geometry.paths import rings_of
from honest_edge.core.outline.outline import Outline
from honest_edge.core.values.specs import School

RimKind = Literal["uniform", "gradient", "pattern", "unseen"]

_SPACING_MM = 0.25
_SPREAD = 14.0  # RGB standard deviation below which a rim has one colour
_CHANGE = 48.0  # RGB distance within a spacing that is a step and no gradient
_STEP_EVERY_MM = 12.0  # a rim with a step more often than this is patterned
_LEVEL = 0.02  # shares nearer than this are not told apart


@dataclass(frozen=True, slots=True, kw_only=True)
class EdgeTraits:
    """What the art looks like along its rim.

    Attributes:
        kind: one colour, colours that change slowly, colours that change often, or the stock's own colour.
        parts: separate parts of the art.
    """

    kind: RimKind
    parts: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Advice:
    """A school and the reasons, each one sentence."""

    school: School
    reasons: tuple[str, ...]


def traits_of(art_edge: ArtEdge, outline: Outline) -> EdgeTraits:
    """Look at the colours all along the outline."""
    places = [resample(ring, _SPACING_MM) for ring in rings_of(outline.area)]
    points = np.concatenate(places)
    unseen = float((art_edge.contrast_at(points) < SEEN_CONTRAST).mean())
    colours = [art_edge.colours_at(ring).astype(np.float64) for ring in places]
    jumps = sum(int((np.linalg.norm(np.diff(ring, axis=0), axis=1) > _CHANGE).sum()) for ring in colours)
    spread = float(np.linalg.norm(np.concatenate(colours).std(axis=0)))
    kind: RimKind = "gradient"
    if unseen > 0.8:
        kind = "unseen"
    elif jumps * _STEP_EVERY_MM > outline.area.length:
        kind = "pattern"
    elif spread < _SPREAD:
        kind = "uniform"
    return EdgeTraits(kind=kind, parts=outline.part_count)


_RIM_WORDS: dict[RimKind, str] = {
    "uniform": "The edge has one colour, which carries outward cleanly",
    "gradient": "The edge’s colours change slowly; each is carried straight outward",
    "pattern": "The edge changes colour often: carried outward it would streak, so white round it looks cleaner",
    "unseen": "The edge has the stock’s own colour: nothing can be missed there",
}
_SUITED: dict[RimKind, tuple[School, ...]] = {
    "uniform": ("bleed", "border", "inside"),
    "gradient": ("bleed", "border", "inside"),
    "pattern": ("border", "inside", "bleed"),
    "unseen": ("bare", "border"),
}


def advise(traits: EdgeTraits, shares: Mapping[School, float], *, border_is_white: bool, stock_words: str) -> Advice:
    """Return the school that suits, the cleanest of those that do; never applied by itself.

    Args:
        traits: of the art's rim.
        shares: expected clean share under every school that is possible.
        border_is_white: whether a border would be white.
        stock_words: what shows where no ink is.
    """
    reasons = [_RIM_WORDS[traits.kind]]
    suited = [school for school in _SUITED[traits.kind] if school in shares]
    if not border_is_white and "border" in suited and len(suited) > 1:
        suited.remove("border")
        reasons.append(f"A border would show {stock_words}, not white")
    elif traits.parts > 1 and "border" in suited:
        suited = ["border"]
        reasons.append(f"The art has {traits.parts} parts, which a border that is wide enough holds together")
    if not suited:
        suited = list(shares)
    best = max(shares[school] for school in suited)
    chosen = next(school for school in suited if shares[school] >= best - _LEVEL)
    reasons.append(f"{100 * shares[chosen]:.0f} % are expected clean with it")
    return Advice(school=chosen, reasons=tuple(reasons))
