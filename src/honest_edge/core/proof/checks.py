"""What would go wrong, found before paper is spent."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from honest_edge.core.edge.contour import CutLines
from honest_edge.core.edge.profile import EdgeProfile
from honest_edge.core.values.job import Design
from honest_edge.core.values.specs import CRISP_PPI


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
    design: Design, *, ppi: float, cut: CutLines, edge: EdgeProfile, drift_mm: float
) -> tuple[Finding, ...]:
    """Return what needs a look in one design."""
    return tuple(
        Finding(check=check, design=design.key, message=message, remedy=remedy)
        for check, message, remedy in _found(design, ppi, cut, edge, drift_mm)
    )


def _found(
    design: Design, ppi: float, cut: CutLines, edge: EdgeProfile, drift_mm: float
) -> Iterator[tuple[str, str, str]]:
    if ppi < CRISP_PPI - 0.5:
        crisp_mm = design.width_mm * ppi / CRISP_PPI
        yield (
            "ppi",
            f"{ppi:.0f} ppi at {design.width_mm:.1f} mm: the print will look soft",
            f"print it {crisp_mm:.1f} mm wide or less, or find a larger picture",
        )
    pieces = len(cut.area.geoms)
    if pieces > 1:
        yield (
            "parts",
            f"the cut falls into {pieces} separate pieces",
            "raise the offset until they join, or raise the smallest part",
        )
    spots = edge.spots(drift_mm)
    if spots:
        worst = spots[0]
        seen = "white would show" if worst.trouble == "white" else "the art would be cut"
        yield (
            "drift",
            f"with {drift_mm:g} mm of drift {seen} in {len(spots)} place{'s' if len(spots) > 1 else ''}, "
            f"first beyond {worst.margin_mm:.2f} mm at {worst.along_mm:.0f} mm along the cut",
            "carry colour farther past the cut" if worst.trouble == "white" else "raise the offset",
        )
