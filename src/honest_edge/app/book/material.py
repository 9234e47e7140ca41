"""What a layout takes: metres of cut, and area really inked."""

from __future__ import annotations

import numpy as np

from honest_edge.app.results.design_result import DesignResult
from honest_edge.app.results.overview import Overview
from honest_edge.core.edge.bleed import PrintArt
from honest_edge.core.sheet.costs import length_mm
from honest_edge.core.values.machine import Machine

_PAPER_WHITE = 250
"""What is as light in every channel takes no ink that counts."""

_EVERY = 3
"""One pixel of nine tells the area of a picture to less than a hundredth of it, tested."""


def cut_m(overview: Overview) -> float:
    """Return how many metres the blade cuts in all sheets, every pass counted."""
    lengths = [_cut_mm(result, overview.job.sheet.cutter) for result in overview.laid]
    return sum(lengths[design] for design in _placed(overview)) / 1000


def ink_cm2(overview: Overview) -> float:
    """Return the area of all sheets that is really inked: neither clear nor white."""
    areas = [inked_mm2(result.art) if result.stock is None else 0.0 for result in overview.laid]
    return sum(areas[design] for design in _placed(overview)) / 100


def inked_mm2(art: PrintArt) -> float:
    """Return the area of one print that takes ink, each pixel by its cover."""
    sample = art.pixels[::_EVERY, ::_EVERY].astype(np.float32)
    alpha = sample[..., 3] / 255
    darkest = sample[..., :3].min(axis=2) * alpha + 255 * (1 - alpha)
    share = float((alpha * (darkest < _PAPER_WHITE)).mean()) if alpha.size else 0.0
    area = share * art.pixels.shape[0] * art.pixels.shape[1] * art.pixel_mm**2
    return float(area if art.ink_area is None else min(area, art.ink_area.area))


def _placed(overview: Overview) -> list[int]:
    return [] if overview.plan is None else [p.design for page in overview.plan.pages for p in page]


def _cut_mm(result: DesignResult, machine: Machine) -> float:
    return sum(machine.lines[path.kind].passes * length_mm(path.curve) for path in result.cut.all_paths)
