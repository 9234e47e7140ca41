"""Everything computed for one design."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from honest_edge.core.edge.art_edge import ArtEdge
from honest_edge.core.edge.bleed import PrintArt
from honest_edge.core.edge.contour import CutLines, InsetLoss
from honest_edge.core.edge.forecast import Forecast
from honest_edge.core.edge.kiss import KissCuts
from honest_edge.core.edge.model import EdgeModel
from honest_edge.core.edge.profile import EdgeProfile
from honest_edge.core.imaging.background import Subject
from honest_edge.core.imaging.matte import Matte
from honest_edge.core.outline.narrow import Narrow
from honest_edge.core.outline.outline import Outline
from honest_edge.core.sheet.plan import Footprint
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.findings import Finding
from honest_edge.core.values.job import Design
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.stock import Stock

if TYPE_CHECKING:
    import shapely

    from honest_edge.app.results.composed import Composed


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class DesignResult:
    """Everything computed for one design.

    Attributes:
        composed: its layers put together; None for a design of one picture.
        joining_mm: smallest border at which all parts join, eased and thickened as cut; None where they are too many.
        narrow: where the cut is too narrow for the blade.
        inset: parts that an inward offset split or swallowed.
        matte: what an earlier background removal left round the art.
        edge_looked_at: gives what the art looks like at its edge.
        inked: where ink lies.
        kiss: the kiss cuts of stickers that lie on it; None where none do.
        model: the edge, ready for forecasts.
        forecast: of a sticker at the middle of the marks.
        reach_mm: how far ink reaches past the cut.
        stock: what a piece that is not printed is cut from; None for what is printed.
    """

    design: Design
    composed: Composed | None
    artwork: Artwork
    subject: Subject
    outline: Outline
    joining_mm: float | None
    narrow: tuple[Narrow, ...]
    inset: tuple[InsetLoss, ...]
    matte: Matte | None
    cut: CutLines
    art: PrintArt
    edge_looked_at: Callable[[], ArtEdge]
    inked: shapely.MultiPolygon
    kiss: KissCuts | None
    model: EdgeModel
    edge: EdgeProfile
    forecast: Forecast
    findings: tuple[Finding, ...]
    reach_mm: float
    stock: Stock | None = None

    @property
    def art_edge(self) -> ArtEdge:
        """What the art looks like at its edge; made again where it was not asked for lately."""
        return self.edge_looked_at()

    def looked_at(self) -> DesignResult:
        """Return the result with what only one that is looked at needs, so that nobody waits for it."""
        _ = self.edge.strip, self.outline.true_forms
        return self

    @property
    def ppi(self) -> float:
        """Pixels per inch at the finished width; of layers, that of the softest picture."""
        lowest = self.composed.lowest_ppi if self.composed else None
        return lowest or self.artwork.ppi_at(self.width_mm)

    @property
    def width_mm(self) -> float:
        """Finished width of the whole picture."""
        return self.composed.flat.width_mm if self.composed else self.design.width_mm

    @property
    def height_mm(self) -> float:
        """Finished height of the whole picture."""
        return self.width_mm * self.artwork.height_px / self.artwork.width_px

    @property
    def art_size_mm(self) -> tuple[float, float]:
        """Width and height of the art without what is empty round it."""
        return _size(self.outline.area)

    @property
    def cut_size_mm(self) -> tuple[float, float]:
        """Width and height of the sticker as cut."""
        return _size(self.cut.area)

    @property
    def footprint(self) -> Footprint:
        """The room that a copy takes on a sheet."""
        wanted = 0 if self.design.is_cut_only else self.design.label_count
        return Footprint(
            key=self.design.key,
            name=self.design.name,
            area=self.cut.area,
            reach_mm=self.reach_mm,
            copies=wanted,
            fills=self.design.fills and not self.design.is_cut_only,
            stock=self.stock,
        )


def _size(area: shapely.MultiPolygon) -> tuple[float, float]:
    left, top, right, bottom = (float(edge) for edge in area.bounds)
    return right - left, bottom - top


def printed_kinds(laid: Sequence[DesignResult]) -> set[LineKind]:
    """Return the kinds of line that are cut on printed sheets."""
    return {path.kind for result in laid if result.stock is None for path in result.cut.all_paths}
