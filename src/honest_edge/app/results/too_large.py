"""What lets a design that is too large for the sheet fit after all: smaller, turned, on its side, a larger paper."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

import shapely
import shapely.affinity

from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.layers.arrange import all_scaled
from honest_edge.core.sheet.fit import fit
from honest_edge.core.sheet.plan import Footprint
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.findings import Fix
from honest_edge.core.values.job import Job
from honest_edge.core.values.papers import PAPER_MM, PAPER_TITLE
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import SMALLEST_WIDTH_MM

_STEPS = 9
_SMALLEST_SHARE = 0.1


def too_large(laid: Sequence[DesignResult], sheet: SheetSpec) -> DesignResult | None:
    """Return the first design of which not one copy fits an empty sheet; None where all do."""
    fresh = replace(sheet, used=())
    wanted = (result for result in laid if result.footprint.copies or result.footprint.fills)
    return next((result for result in wanted if not _fits(result.footprint, fresh)), None)


def ways_to_fit(result: DesignResult, job: Job) -> Iterator[Fix]:
    """Yield what would let a design fit the sheet, each tried: what changes least first."""
    sheet = job.sheet
    for ways in (_turned(sheet), _larger(sheet)):
        for words, changed in ways:
            if _fits(result.footprint, replace(changed, used=())):
                yield Fix(words=words, sheet=changed)
                break
    smaller = _smaller(result, job)
    if smaller is not None:
        yield smaller


def _turned(sheet: SheetSpec) -> Iterator[tuple[str, SheetSpec]]:
    """Yield the same paper with more turning, or on its side."""
    if sheet.turning == "none":
        yield "Allow quarter turns", replace(sheet, turning="quarter")
    if sheet.turning != "free":
        yield "Allow any turn", replace(sheet, turning="free")
    yield "Lay the paper on its side", replace(sheet, is_landscape=not sheet.is_landscape)


def _larger(sheet: SheetSpec) -> Iterator[tuple[str, SheetSpec]]:
    """Yield larger papers: those that the printer takes first, each kind by size."""
    here = sheet.size_mm[0] * sheet.size_mm[1]
    larger = sorted((wide * high, name) for name, (wide, high) in PAPER_MM.items() if wide * high > here)
    for _, name in sorted(larger, key=lambda paper: (paper[1] not in sheet.printer.papers, paper[0])):
        note = "" if name in sheet.printer.papers else ", on another printer"
        yield f"Take {PAPER_TITLE[name]}{note}", replace(sheet, paper=name)


def _smaller(result: DesignResult, job: Job) -> Fix | None:
    """Return the largest size at which a design fits the sheet, to a hundredth; None for forms: their size is meant."""
    design, sheet = result.design, replace(job.sheet, used=())
    if design.form is not None or design.table is not None:
        return None
    low, high = _SMALLEST_SHARE, 1.0
    if not _fits(_scaled(result, low), sheet):
        return None
    for _ in range(_STEPS):
        middle = (low + high) / 2
        if _fits(_scaled(result, middle), sheet):
            low = middle
        else:
            high = middle
    factor = int(low * 100) / 100
    left, _, right, _ = _scaled(result, factor).area.bounds
    words = f"Make it {right - left:.0f} mm wide as cut"
    if design.is_layered:
        return Fix(words=words, design=design.key, layers=all_scaled(design.layers, factor))
    if design.width_mm * factor < SMALLEST_WIDTH_MM:
        return None
    return Fix(words=words, design=design.key, width_mm=design.width_mm * factor)


def _scaled(result: DesignResult, factor: float) -> Footprint:
    """Return the room of a copy whose art is so many times as large, the cut as far from it as before."""
    edge = result.design.edge
    art = as_multipolygon(shapely.affinity.scale(result.outline.area, factor, factor, origin=(0, 0)))
    return replace(result.footprint, area=offset_area(art, edge.signed_offset_mm))


def _fits(footprint: Footprint, sheet: SheetSpec) -> bool:
    try:
        return bool(fit([replace(footprint, copies=1, fills=False, stock=None)], sheet).copies)
    except BlockedError:
        return False
