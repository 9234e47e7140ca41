"""The edges of a printed disc and of the disc cut inside it, found along rays to a fraction of a pixel."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.measure.target import CUT_RADIUS_MM, PRINTED_RADIUS_MM

RAYS = 180
_INNER_MM, _OUTER_MM = 1.4, 6.9
_STEP_PX = 0.5
_TUKEY, _ROUNDS = 4.685, 8
_LEAST_RAYS = 0.6  # of all, that must agree with the circle
_LEAST_CONTRAST = 24.0  # levels
_MOST_ROUGH_MM = 0.12  # rms of the rays that agree
_MOST_OFF = 0.12  # of a radius
_NEAR_INK = 0.3  # of the rise: the shadow of the cut edge lies on the other side of it, and the centre does not care


@dataclass(frozen=True, slots=True, kw_only=True)
class DiscEdges:
    """What was found at one place; places count from where the disc was looked for, in its frame's millimetres.

    Attributes:
        printed_mm, cut_mm: (2,) middles; None where that edge is not clear.
        softness_mm: from a tenth to nine tenths of the rise, across the printed edge.
        why: what is wrong, in words; empty where nothing is.
    """

    printed_mm: Floats | None = None
    cut_mm: Floats | None = None
    softness_mm: float = 0.0
    why: str = ""


def disc_edges(grey: Bytes, place_mm: Floats, to_pixels: Callable[[Floats], Floats], px_per_mm: float) -> DiscEdges:
    """Find both edges of one disc.

    Args:
        grey: the picture.
        place_mm: (2,) where its middle should be.
        to_pixels: from (n, 2) millimetres to pixels, whose middles lie at whole numbers.
        px_per_mm: about how fine the picture is there.
    """
    radii = np.arange(_INNER_MM, _OUTER_MM, _STEP_PX / px_per_mm)
    seen = _sampled(grey, place_mm, to_pixels, radii)
    if seen is None:
        return DiscEdges(why="outside the picture")
    ring = (radii > CUT_RADIUS_MM + 0.7) & (radii < PRINTED_RADIUS_MM - 0.7)
    dark = float(np.median(seen[:, ring]))
    paper = float(np.median(seen[:, radii > PRINTED_RADIUS_MM + 0.9]))
    if paper - dark < _LEAST_CONTRAST:
        return DiscEdges(why="no dark disc on light paper here")
    start = int(np.argmin(np.abs(radii - (CUT_RADIUS_MM + PRINTED_RADIUS_MM) / 2)))
    outward = _crossings(seen[:, start:], radii[start:], (paper + dark) / 2)
    printed, why = _middle(outward, PRINTED_RADIUS_MM)
    if printed is None:
        return DiscEdges(why=f"the printed edge is {why}")
    softness = _softness(seen, radii, outward, dark, paper)
    hole = _edge_free_level(seen, radii, dark)
    if hole - dark < _LEAST_CONTRAST:
        return DiscEdges(printed_mm=printed, softness_mm=softness, why="no small disc is lifted out here")
    inward = _crossings(seen[:, start::-1], radii[start::-1], dark + _NEAR_INK * (hole - dark))
    cut, why = _middle(inward, CUT_RADIUS_MM)
    return DiscEdges(
        printed_mm=printed, cut_mm=cut, softness_mm=softness, why="" if cut is not None else f"the cut edge is {why}"
    )


def _sampled(grey: Bytes, place_mm: Floats, to_pixels: Callable[[Floats], Floats], radii: Floats) -> Floats | None:
    """Return (rays, radii) levels; None where they leave the picture."""
    angle = np.arange(RAYS) * (2 * np.pi / RAYS)
    ways = np.stack([np.cos(angle), np.sin(angle)], 1)
    at = to_pixels((place_mm + ways[:, None] * radii[None, :, None]).reshape(-1, 2))
    low, high = at.min(0), at.max(0)
    height, width = grey.shape
    if low.min() < 1 or high[0] > width - 2 or high[1] > height - 2:
        return None
    corner = np.floor(low).astype(int) - 1
    end = np.ceil(high).astype(int) + 2
    patch = grey[corner[1] : end[1], corner[0] : end[0]].astype(np.float32)
    local = (at - corner).astype(np.float32).reshape(RAYS, len(radii), 2)
    return np.asarray(cv2.remap(patch, local[..., 0], local[..., 1], cv2.INTER_LINEAR), float)


def _edge_free_level(seen: Floats, radii: Floats, dark: float) -> float:
    """Return how light it is in the hole: of the liner, away from its edge, where dust and shadow do not lie."""
    inside = seen[:, radii < CUT_RADIUS_MM - 0.9]
    return float(np.median(inside)) if inside.size else dark


def _crossings(levels: Floats, radii: Floats, half: float) -> Floats:
    """Return (rays,) where each ray, from the ring on, first passes the level from dark to light; nan where nowhere."""
    passes = (levels[:, 1:] >= half) & (levels[:, :-1] < half)
    step = passes.argmax(1)
    rows = np.arange(len(levels))
    before, after = levels[rows, step], levels[rows, step + 1]
    with np.errstate(divide="ignore", invalid="ignore"):
        share = (half - before) / (after - before)
    crossing = radii[step] + share * (radii[step + 1] - radii[step])
    return np.where(passes.any(1), crossing, np.nan)


def _middle(found: Floats, radius_mm: float) -> tuple[Floats | None, str]:
    """Return the middle of the circle through the rays' ends, or None and why not.

    r(t) = r0 + a cos t + b sin t + second harmonic, with Tukey's weights; (a, b) is the middle, and the second harmonic
    takes what is oval, as by a tilted camera, and the square of the displacement.
    """
    angle = np.arange(RAYS) * (2 * np.pi / RAYS)
    there = np.isfinite(found) & (np.abs(found - radius_mm) < 1.6)
    if there.mean() < _LEAST_RAYS:
        return None, "not all there"
    matrix = np.stack([np.ones(RAYS), *(f(n * angle) for n in (1, 2) for f in (np.cos, np.sin))], 1)[there]
    reached = found[there]
    weights = np.ones(len(reached))
    for _ in range(_ROUNDS):
        root = np.sqrt(weights)
        fit = np.linalg.lstsq(matrix * root[:, None], reached * root, rcond=None)[0]
        rest = reached - matrix @ fit
        scale = max(1.4826 * float(np.median(np.abs(rest))), 1e-3)
        weights = np.clip(1 - (rest / (_TUKEY * scale)) ** 2, 0, 1) ** 2
    agree = np.abs(rest) < max(_TUKEY * scale, 0.02)
    if agree.sum() < _LEAST_RAYS * RAYS:
        return None, "dusty or torn"
    if float(np.sqrt(np.mean(rest[agree] ** 2))) > _MOST_ROUGH_MM:
        return None, "too rough"
    if abs(fit[0] / radius_mm - 1) > _MOST_OFF or np.hypot(fit[3], fit[4]) > _MOST_OFF * radius_mm:
        return None, "no circle of its size"
    return np.asarray(fit[1:3]), ""


def _softness(seen: Floats, radii: Floats, outward: Floats, dark: float, paper: float) -> float:
    """Return the median distance from a tenth to nine tenths of the rise."""
    levels = [dark + share * (paper - dark) for share in (0.15, 0.85)]
    start = int(np.argmin(np.abs(radii - PRINTED_RADIUS_MM + 1.0)))
    low, high = (_crossings(seen[:, start:], radii[start:], level) for level in levels)
    wide = (high - low)[np.isfinite(high - low) & np.isfinite(outward)]
    return float(np.median(wide)) if len(wide) else float("inf")
