"""A page that was photographed aslant is set upright, and left as it was photographed again."""

from __future__ import annotations

from dataclasses import replace

from honest_edge.core.imaging.upright import Corners
from honest_edge.core.proof.design_checks import upright_width_mm
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.job import Design


def with_corners(design: Design, artwork: Artwork, corners: Corners) -> Design:
    """Return a design of a photograph whose page is set upright, at the scale that it had.

    Raises:
        ArtError: the corners are no four corners of a page.
    """
    source = replace(design.source, corners=corners, region=None)
    return replace(design, source=source, width_mm=upright_width_mm(design.width_mm, artwork, corners))


def as_photographed(design: Design, width_mm: float | None) -> Design:
    """Return a design with the whole photograph again, as wide as it was where that is known."""
    return replace(design, source=replace(design.source, corners=None), width_mm=width_mm or design.width_mm)
