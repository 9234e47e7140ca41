"""The steps from one design to its result, each computed when it is asked for and kept until its input changes."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from contextlib import suppress
from dataclasses import replace
from typing import TypeVar

import shapely

from honest_edge.app.results.cache import ResultCache
from honest_edge.app.results.cache_keys import of_background, of_cut, shown_by
from honest_edge.app.results.composed import Composed
from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.edge.art_edge import ArtEdge, art_edge_of
from honest_edge.core.edge.bleed import PrintArt, carry_colour, printed_area
from honest_edge.core.edge.cloth import on_stock
from honest_edge.core.edge.contour import CutLines, InsetLoss, contour, inset_losses, joining_border_mm
from honest_edge.core.edge.forecast import Forecast, farthest_mm, forecast
from honest_edge.core.edge.model import EdgeModel, edge_model
from honest_edge.core.edge.profile import EdgeProfile, profile
from honest_edge.core.geometry.distance import reach_mm
from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.imaging.background import Subject, clear_background
from honest_edge.core.imaging.matte import Matte, find_matte
from honest_edge.core.outline.narrow import Narrow, narrow_places
from honest_edge.core.outline.outline import Outline, outline_of
from honest_edge.core.outline.trace import trace_sharp_and_blunt
from honest_edge.core.proof.design_checks import design_findings
from honest_edge.core.proof.layer_checks import stack_findings
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.findings import Finding
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.misregistration import SheetPlace
from honest_edge.core.values.once import once
from honest_edge.core.values.specs import EdgeRecipe

T = TypeVar("T")

STEPS = (
    (0.2, "Clearing the background of", "subject"),
    (0.45, "Tracing", "outline"),
    (0.6, "Drawing the cut of", "narrow"),
    (0.7, "Fitting", "joining_mm"),
    (0.8, "Carrying the colour of", "art"),
    (0.9, "Judging the edge of", "edge"),
    (0.95, "Forecasting", "forecast"),
)
"""What is long enough to be told: how far the whole is when it begins, in words, and which step."""

_RUNGS_MM = (1.5, 3.0, 6.0, 14.0)


class DesignSteps:
    """One design of a job on its way to a result; a step computes the steps that it needs."""

    def __init__(
        self,
        design: Design,
        job: Job,
        place: SheetPlace,
        *,
        composed: Composed | None,
        artwork: Artwork,
        table_findings: tuple[Finding, ...],
        cache: ResultCache,
        passing: ResultCache,
    ) -> None:
        """Take the design with its art as it was read or put together, and where results are kept, some only lately."""
        self._design, self._job, self._place = design, job, place
        self._composed, self._artwork, self._table_findings = composed, artwork, table_findings
        self._cache, self._passing = cache, passing
        self._width_mm = composed.flat.width_mm if composed else design.width_mm

    # -- what results are kept by ----------------------------------------------------------------------

    @once
    def _shows(self) -> tuple[Hashable, ...]:
        return (*shown_by(self._design, self._job), self._artwork.width_px)

    @once
    def _outline_key(self) -> tuple[Hashable, ...]:
        return (*self._shows, self._design.outline, self._width_mm)

    @once
    def _recipe(self) -> EdgeRecipe:
        return on_stock(self._design.edge, self._job.sheet.stock)

    @once
    def _cut_key(self) -> tuple[Hashable, ...]:
        return (*self._outline_key, of_cut(self._design.edge))

    @once
    def _art_key(self) -> tuple[Hashable, ...]:
        return (*self._outline_key, replace(self._recipe, detail=()))

    @once
    def _edge_key(self) -> tuple[Hashable, ...]:
        return (*self._outline_key, self._design.edge, self._job.sheet.stock, self._largest_mm)

    def _kept(self, stage: str, key: Hashable, make: Callable[[], T]) -> T:
        return self._cache.get(stage, key, make)

    # -- the outline -----------------------------------------------------------------------------------

    @once
    def subject(self) -> Subject:
        """The art without its background."""
        if self._composed is not None:
            return Subject(pixels=self._artwork.pixels, method="alpha")
        recipe = self._design.outline
        key = (*self._shows, of_background(recipe))
        return self._kept("subject", key, lambda: clear_background(self._artwork, recipe))

    @once
    def outline(self) -> Outline:
        """Where the art ends."""
        return self._kept("outline", self._outline_key, self._traced if self._composed is None else self._exact)

    def _traced(self) -> Outline:
        return self._in_mm(self._sharp_and_blunt[0])

    @once
    def _sharp_and_blunt(self) -> tuple[shapely.MultiPolygon, shapely.MultiPolygon]:
        recipe, subject = self._design.outline, self.subject
        key = (*self._shows, of_background(recipe), recipe.threshold, recipe.corner_deg)
        return self._kept(
            "trace", key, lambda: trace_sharp_and_blunt(subject.coverage, recipe.threshold, recipe.corner_deg)
        )

    def _in_mm(self, area_px: shapely.MultiPolygon) -> Outline:
        recipe = self._design.outline
        return outline_of(area_px, width_px=self._artwork.width_px, width_mm=self._width_mm, recipe=recipe)

    def _exact(self) -> Outline:
        """The outline of layers is known: nothing is traced."""
        assert self._composed is not None
        flat = self._composed.flat
        area = as_multipolygon(shapely.transform(flat.area, lambda points: points / flat.pixel_mm))
        return self._in_mm(area)

    @once
    def joining_mm(self) -> float | None:
        """The smallest border at which all parts join, eased and thickened as they are cut."""
        outline, edge = self.outline, self._design.edge
        key = (*self._outline_key, replace(of_cut(edge), school="border", offset_mm=0.0, line_kind="kiss"))
        return self._kept("joining", key, lambda: joining_border_mm(outline.area, edge))

    # -- the cut ---------------------------------------------------------------------------------------

    @once
    def _cut(self) -> CutLines:
        return self._kept("cut", self._cut_key, self._contour)

    def _contour(self) -> CutLines:
        cut = contour(self.outline, self._design.edge)
        return cut if self._composed is None else replace(cut, lines=self._composed.flat.lines)

    @once
    def narrow(self) -> tuple[Narrow, ...]:
        """Where the cut is too narrow for the blade."""
        cut, narrowest_mm = self._cut, self._job.narrowest_mm
        return self._kept("narrow", (*self._cut_key, narrowest_mm), lambda: narrow_places(cut.area, narrowest_mm))

    @once
    def _inset(self) -> tuple[InsetLoss, ...]:
        return inset_losses(self.outline, self._cut, self._design.edge)

    # -- what is printed -------------------------------------------------------------------------------

    @once
    def art(self) -> PrintArt:
        """The printed picture, its colour carried past the cut."""
        subject, outline, cut = self.subject, self.outline, self._cut
        return self._kept("art", self._art_key, lambda: carry_colour(subject, outline, cut, self._recipe))

    @once
    def _matte(self) -> Matte | None:
        artwork = self._artwork
        if self._composed is not None or not artwork.is_cut_out:
            return None
        return self._kept("matte", self._shows, lambda: find_matte(artwork.pixels))

    @once
    def _inked(self) -> shapely.MultiPolygon:
        art, outline = self.art, self.outline
        key = self._art_key if art.ink_area is not None else (self._outline_key, "as it is")
        return self._kept("inked", key, lambda: self._as_printed(art, outline))

    def _as_printed(self, art: PrintArt, outline: Outline) -> shapely.MultiPolygon:
        if art.ink_area is None and self._composed is None:
            with suppress(BlockedError):  # blunt, the art may be too small to keep
                blunt = self._in_mm(self._sharp_and_blunt[1])
                if (blunt.part_count, blunt.hole_count) == (outline.part_count, outline.hole_count):
                    return blunt.area
        return printed_area(art, outline, self._design.outline.threshold)

    @once
    def _reach_mm(self) -> float:
        art, outline, cut = self.art, self.outline, self._cut
        ink = outline.area if art.ink_area is None else art.ink_area
        return self._kept("reach", self._art_key, lambda: reach_mm(ink, cut.area))

    # -- the edge --------------------------------------------------------------------------------------

    @once
    def _art_edge(self) -> ArtEdge:
        return self._edge_looked_at()()

    def _edge_looked_at(self) -> Callable[[], ArtEdge]:
        """Return what gives the art's edge; it holds on to nothing that it can make again."""
        subject, outline, stock, rim_rgb = self.subject, self.outline, self._job.sheet.stock, self._recipe.rim_rgb
        cache, key = self._passing, (*self._outline_key, stock)

        def looked_at() -> ArtEdge:
            found: ArtEdge = cache.get("art edge", key, lambda: art_edge_of(subject, outline, stock))
            return found if found.rim_rgb == rim_rgb else replace(found, rim_rgb=rim_rgb)

        return looked_at

    @once
    def _largest_mm(self) -> float:
        left, top, right, bottom = self._cut.area.bounds
        return _rung(farthest_mm(self._job.misregistration, max(right - left, bottom - top), self._place))

    @once
    def _model(self) -> EdgeModel:
        outline, cut, inked = self.outline, self._cut, self._inked
        return self._kept(
            "model",
            self._edge_key,
            lambda: edge_model(
                outline,
                cut,
                inked,
                self._art_edge,
                self._design.edge,
                width_mm=self._width_mm,
                largest_mm=self._largest_mm,
            ),
        )

    @once
    def edge(self) -> EdgeProfile:
        """What lies across the cut, all along it."""
        cut, art, model = self._cut, self.art, self._model
        return self._kept("edge", self._edge_key, lambda: profile(cut, art, model, self._art_edge))

    @once
    def forecast(self) -> Forecast:
        """What share of stickers comes out clean."""
        model, job, place = self._model, self._job, self._place
        return self._kept(
            "forecast",
            (*self._edge_key, job.misregistration, job.visible_mm, place),
            lambda: _foreseen(forecast(model, job.misregistration, place, visible_mm=job.visible_mm)),
        )

    # -- all together ----------------------------------------------------------------------------------

    def _findings(self) -> tuple[Finding, ...]:
        """What was found, kept by all that it was asked of: of many designs an edit changes but one."""
        job = self._job
        asked = (job.misregistration, job.visible_mm, job.narrowest_mm, job.kept_clear_mm, job.drift_mm, job.sheet)
        key = (*self._edge_key, self._design, self._place, self._table_findings, asked)
        return self._kept("findings", key, self._found)

    def _found(self) -> tuple[Finding, ...]:
        return design_findings(
            self._design,
            artwork=self._artwork,
            width_mm=self._width_mm,
            art=self.outline.area,
            layers=self._layer_findings(),
            looks_like=self.subject.looks_like,
            cleared=self.subject.cleared,
            leaks=self.subject.leaks,
            cut=self._cut,
            joining_mm=self.joining_mm,
            narrow=self.narrow,
            inset=self._inset,
            matte=self._matte,
            edge=self.edge,
            expected=self.forecast,
            job=self._job,
        )

    def _layer_findings(self) -> tuple[Finding, ...]:
        composed, design = self._composed, self._design
        if composed is None:
            return ()
        found = (*composed.findings, *self._table_findings)
        if design.table is not None:  # rows that are too long are counted together
            found = tuple(one for one in found if one.check != "room" or one.subject.kind != "layer")
        return (
            *found,
            *stack_findings(
                design,
                composed.stack,
                composed.contents,
                composed.flat,
                composed.quiet_zones,
                self._cut,
                self._job,
            ),
        )

    def result(self) -> DesignResult:
        """Return everything about the design."""
        return DesignResult(
            design=self._design,
            composed=self._composed,
            artwork=self._artwork,
            subject=self.subject,
            outline=self.outline,
            joining_mm=self.joining_mm,
            narrow=self.narrow,
            inset=self._inset,
            matte=self._matte,
            cut=self._cut,
            art=self.art,
            edge_looked_at=self._edge_looked_at(),
            inked=self._inked,
            model=self._model,
            edge=self.edge,
            forecast=self.forecast,
            findings=self._findings(),
            reach_mm=self._reach_mm,
        )


def _foreseen(found: Forecast) -> Forecast:
    """Return a forecast with what is shown of it worked out: whoever looks at it should not have to."""
    _ = found.share_clean, found.narrowest_border_mm
    return found


def _rung(distance_mm: float) -> float:
    """Return the next of a few distances, so that a model serves many errors."""
    return next((rung for rung in _RUNGS_MM if distance_mm <= rung), _RUNGS_MM[-1])
