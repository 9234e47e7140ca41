"""The steps from one design to its result; each says by its parameters what it reads."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace

import numpy as np
import shapely

from honest_edge.app.results.cache_keys import of_background, of_cut, shown_by
from honest_edge.app.results.composed import Composed
from honest_edge.app.results.declared_steps import Given, Step, Stepping, Steps
from honest_edge.app.results.design_result import DesignResult
from honest_edge.app.results.kissed import kissed
from honest_edge.core.edge.art_edge import ArtEdge, art_edge_of
from honest_edge.core.edge.bleed import PrintArt, carry_colour, printed_area
from honest_edge.core.edge.cloth import on_stock
from honest_edge.core.edge.contour import CutLines, InsetLoss, contour, inset_losses, joining_border_mm
from honest_edge.core.edge.forecast import Forecast, farthest_mm
from honest_edge.core.edge.forecast import forecast as forecast_of
from honest_edge.core.edge.kiss import KissCuts
from honest_edge.core.edge.model import EdgeModel, edge_model
from honest_edge.core.edge.profile import EdgeProfile, profile
from honest_edge.core.geometry.distance import reach_mm as reach_of
from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.imaging.background import Subject, clear_background
from honest_edge.core.imaging.matte import Matte, find_matte
from honest_edge.core.imaging.paper import on_shaded_paper
from honest_edge.core.imaging.upright import Corners, page_corners
from honest_edge.core.outline.narrow import Narrow, narrow_places
from honest_edge.core.outline.outline import Outline, outline_of
from honest_edge.core.outline.trace import trace_sharp_and_blunt
from honest_edge.core.proof import register
from honest_edge.core.proof.design_checks import design_findings
from honest_edge.core.proof.layer_checks import ring_findings, stack_findings
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.findings import Finding
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.misregistration import Misregistration, SheetPlace
from honest_edge.core.values.specs import EdgeRecipe, OutlineRecipe
from honest_edge.core.values.stock import Stock

_RUNGS_MM = (1.5, 3.0, 6.0, 14.0)

STEPS = Steps()


def given_of(
    design: Design,
    job: Job,
    place: SheetPlace,
    *,
    composed: Composed | None,
    artwork: Artwork,
    table_findings: tuple[Finding, ...],
) -> dict[str, Given]:
    """Return what the steps begin with: a recipe without what a step must not see, a job without what it may not ask.

    ``artwork`` is the picture as it was read, or ``composed`` of its layers; ``table_findings`` is what was found in
    the rows of its table.
    """
    shows = (*shown_by(design, job), artwork.width_px)
    edge, sheet = design.edge, job.sheet
    printed = on_stock(edge, sheet.stock)
    asked = (job.misregistration, job.visible_mm, job.narrowest_mm, job.kept_clear_mm, sheet)
    error, visible_mm, narrowest_mm, kept_clear_mm, _ = asked
    rules = Job(error=error, visible_mm=visible_mm, narrowest_mm=narrowest_mm, kept_clear_mm=kept_clear_mm, sheet=sheet)
    plain = {
        "background": of_background(design.outline),
        "threshold": design.outline.threshold,
        "corner_deg": design.outline.corner_deg,
        "outlined_by": design.outline,
        "width_mm": composed.flat.width_mm if composed else design.width_mm,
        "cut_by": of_cut(edge),
        "joined_by": replace(of_cut(edge), school="border", offset_mm=0.0, line_kind="kiss"),
        "printed_by": replace(printed, detail=()),
        "edge_by": edge,
        "stock": sheet.stock,
        "rim_rgb": printed.rim_rgb,
        "narrowest_mm": narrowest_mm,
        "error": error,
        "visible_mm": visible_mm,
        "place": place,
        "table_findings": table_findings,
        "design": design,
    }
    return {
        "artwork": Given(artwork, shows),
        "composed": Given(composed, composed is not None),  # known by what its artwork is known by
        "rules": Given(rules, asked),
        **{name: Given(value, value) for name, value in plain.items()},
    }


# -- the outline -------------------------------------------------------------------------------------


@STEPS.step()
def subject(composed: Composed | None, artwork: Artwork, background: OutlineRecipe) -> Subject:
    """The art without its background."""
    if composed is not None:
        return Subject(pixels=artwork.pixels, method="alpha")
    return clear_background(artwork, background)


@STEPS.step()
def is_shaded(composed: Composed | None, artwork: Artwork) -> bool:
    """Whether it is a drawing on paper that is not white all over."""
    return composed is None and not artwork.is_vector and on_shaded_paper(artwork.pixels)


@STEPS.step()
def aslant(composed: Composed | None, artwork: Artwork) -> Corners | None:
    """The corners of a page that lies aslant in a photograph."""
    is_plain = composed is None and not artwork.is_vector and not artwork.is_cut_out
    return page_corners(artwork.pixels) if is_plain else None


@STEPS.step()
def trace(
    composed: Composed | None, subject: Subject, threshold: float, corner_deg: float
) -> tuple[shapely.MultiPolygon, shapely.MultiPolygon]:
    """Where the art ends, sharp and blunt, in pixels; of layers it is known, and nothing is traced."""
    if composed is None:
        return trace_sharp_and_blunt(subject.coverage, threshold, corner_deg)
    flat = composed.flat
    exact = as_multipolygon(shapely.transform(flat.area, lambda points: points / flat.pixel_mm))
    return exact, exact


@STEPS.step()
def outline(
    trace: tuple[shapely.MultiPolygon, shapely.MultiPolygon],
    artwork: Artwork,
    width_mm: float,
    outlined_by: OutlineRecipe,
) -> Outline:
    """Where the art ends."""
    return outline_of(trace[0], width_px=artwork.width_px, width_mm=width_mm, recipe=outlined_by)


@STEPS.step()
def joining_mm(outline: Outline, joined_by: EdgeRecipe) -> float | None:
    """The smallest border at which all parts join, eased and thickened as they are cut."""
    return joining_border_mm(outline.area, joined_by)


# -- the cut -----------------------------------------------------------------------------------------


@STEPS.step()
def cut(composed: Composed | None, outline: Outline, cut_by: EdgeRecipe) -> CutLines:
    """The cut."""
    lines = contour(outline, cut_by)
    return lines if composed is None else replace(lines, lines=composed.flat.lines)


@STEPS.step()
def narrow(cut: CutLines, narrowest_mm: float) -> tuple[Narrow, ...]:
    """Where the cut is too narrow for the blade."""
    return narrow_places(cut.area, narrowest_mm)


@STEPS.step("not")
def inset(outline: Outline, cut: CutLines, cut_by: EdgeRecipe) -> tuple[InsetLoss, ...]:
    """Parts that an inward offset split or swallowed."""
    return inset_losses(outline, cut, cut_by)


# -- what is printed ---------------------------------------------------------------------------------


@STEPS.step()
def art(subject: Subject, outline: Outline, cut: CutLines, printed_by: EdgeRecipe) -> PrintArt:
    """The printed picture, its colour carried past the cut."""
    return carry_colour(subject, outline, cut, printed_by)


@STEPS.step()
def matte(composed: Composed | None, artwork: Artwork) -> Matte | None:
    """What an earlier background removal left round the art."""
    return find_matte(artwork.pixels) if composed is None and artwork.is_cut_out else None


@STEPS.step()
def blunt(
    composed: Composed | None,
    trace: tuple[shapely.MultiPolygon, shapely.MultiPolygon],
    outline: Outline,
    artwork: Artwork,
    width_mm: float,
    outlined_by: OutlineRecipe,
) -> shapely.MultiPolygon | None:
    """Where the ink of a picture ends that is printed as it is; None where its blunt outline has other parts."""
    if composed is None:
        with suppress(BlockedError):  # blunt, the art may be too small to keep
            area = outline_of(trace[1], width_px=artwork.width_px, width_mm=width_mm, recipe=outlined_by)
            if (area.part_count, area.hole_count) == (outline.part_count, outline.hole_count):
                return area.area
    return None


@STEPS.step()
def inked(
    art: PrintArt, later_blunt: Callable[[], shapely.MultiPolygon | None], outline: Outline, threshold: float
) -> shapely.MultiPolygon:
    """Where ink lies."""
    area = later_blunt() if art.ink_area is None else None
    return printed_area(art, outline, threshold) if area is None else area


@STEPS.step()
def reach_mm(art: PrintArt, outline: Outline, cut: CutLines) -> float:
    """How far ink reaches past the cut."""
    return reach_of(outline.area if art.ink_area is None else art.ink_area, cut.area)


# -- the edge ----------------------------------------------------------------------------------------


@STEPS.step("passing")
def art_edge(subject: Subject, outline: Outline, stock: Stock) -> ArtEdge:
    """What the art looks like at its edge, the stock's own rim round it."""
    return art_edge_of(subject, outline, stock)


@STEPS.step("not", is_told=True)
def largest_mm(cut: CutLines, error: Misregistration, place: SheetPlace) -> float:
    """How far the model has to reach: one of a few distances, so that it serves many errors."""
    left, top, right, bottom = cut.area.bounds
    farthest = farthest_mm(error, max(right - left, bottom - top), place)
    return next((rung for rung in _RUNGS_MM if farthest <= rung), _RUNGS_MM[-1])


@STEPS.step()
def kiss(composed: Composed | None, artwork: Artwork, stock: Stock) -> KissCuts | None:
    """The kiss cuts of stickers that lie on it; what is composed is known by its artwork."""
    return None if composed is None else kissed(composed, stock)


@STEPS.step()
def model(
    outline: Outline,
    cut: CutLines,
    inked: shapely.MultiPolygon,
    art_edge: ArtEdge,
    rim_rgb: tuple[int, int, int] | None,
    edge_by: EdgeRecipe,
    width_mm: float,
    largest_mm: float,
    kiss: KissCuts | None,
) -> EdgeModel:
    """The edge, ready for forecasts."""
    rimmed = with_rim(art_edge, rim_rgb)
    return edge_model(outline, cut, inked, rimmed, edge_by, width_mm=width_mm, largest_mm=largest_mm, kiss=kiss)


@STEPS.step()
def edge(
    cut: CutLines,
    art: PrintArt,
    model: EdgeModel,
    art_edge: ArtEdge,
    rim_rgb: tuple[int, int, int] | None,
    kiss: KissCuts | None,
) -> EdgeProfile:
    """What lies across the cut, all along it, and across the kiss cuts of what lies on it."""
    return profile(cut, art, model, with_rim(art_edge, rim_rgb), kiss)


@STEPS.step()
def forecast(model: EdgeModel, error: Misregistration, place: SheetPlace, visible_mm: float) -> Forecast:
    """What share of stickers comes out clean."""
    expected = forecast_of(model, error, place, visible_mm=visible_mm)
    _ = expected.share_clean, expected.narrowest_border_mm  # whoever looks at them should not have to wait
    return expected


def with_rim(art_edge: ArtEdge, rim_rgb: tuple[int, int, int] | None) -> ArtEdge:
    """Return an edge with the rim of its recipe."""
    return art_edge if art_edge.rim_rgb == rim_rgb else replace(art_edge, rim_rgb=rim_rgb)


# -- all together ------------------------------------------------------------------------------------


@STEPS.step("not")
def layer_findings(
    composed: Composed | None, table_findings: tuple[Finding, ...], design: Design, cut: CutLines, rules: Job
) -> tuple[Finding, ...]:
    """What was found in the layers of a design, and in the rows of its table."""
    if composed is None:
        return ()
    findings = (*composed.findings, *table_findings)
    if design.table is not None:  # rows that are too long are counted together
        findings = tuple(one for one in findings if not register.WORDS_FIT.is_of(one) or one.subject.kind != "layer")
    flat, zones = composed.flat, composed.quiet_zones
    return (*findings, *stack_findings(design, composed.stack, composed.contents, flat, zones, cut, rules))


@STEPS.step()
def findings(
    design: Design,
    artwork: Artwork,
    width_mm: float,
    subject: Subject,
    is_shaded: bool,
    aslant: Corners | None,
    outline: Outline,
    cut: CutLines,
    layer_findings: tuple[Finding, ...],
    joining_mm: float | None,
    narrow: tuple[Narrow, ...],
    inset: tuple[InsetLoss, ...],
    matte: Matte | None,
    edge: EdgeProfile,
    forecast: Forecast,
    rules: Job,
    composed: Composed | None,
) -> tuple[Finding, ...]:
    """What needs a look; of many designs an edit changes but one."""
    if composed is not None:
        corner_mm = np.array([composed.flat.left_mm, composed.flat.top_mm])
        layer_findings = (*layer_findings, *ring_findings(design, forecast, corner_mm))
    return design_findings(
        design,
        artwork=artwork,
        width_mm=width_mm,
        art=outline.area,
        layers=layer_findings,
        aslant=aslant,
        on_shaded_paper=is_shaded,
        looks_like=subject.looks_like,
        cleared=subject.cleared,
        specks=subject.specks,
        leaks=subject.leaks,
        cut=cut,
        joining_mm=joining_mm,
        narrow=narrow,
        inset=inset,
        matte=matte,
        edge=edge,
        expected=forecast,
        job=rules,
    )


TOLD: tuple[tuple[float, str, Step[object]], ...] = (
    (0.2, "Clearing the background of", subject),
    (0.45, "Tracing", outline),
    (0.6, "Drawing the cut of", narrow),
    (0.7, "Fitting", joining_mm),
    (0.8, "Carrying the colour of", art),
    (0.9, "Judging the edge of", edge),
    (0.95, "Forecasting", forecast),
)
"""What is long enough to be told: how far the whole is when it begins, in words, and which step."""


def _looked_at(stepping: Stepping) -> Callable[[], ArtEdge]:
    """Return what gives the art's edge; it holds on to nothing that it can make again."""
    again, rim_rgb = stepping.again(art_edge), stepping.given("rim_rgb")
    return lambda: with_rim(again(), rim_rgb)


def result_of(stepping: Stepping, design: Design, composed: Composed | None, artwork: Artwork) -> DesignResult:
    """Return everything about a design."""
    of = stepping.of
    return DesignResult(
        design=design,
        composed=composed,
        artwork=artwork,
        subject=of(subject),
        outline=of(outline),
        joining_mm=of(joining_mm),
        narrow=of(narrow),
        inset=of(inset),
        matte=of(matte),
        cut=of(cut),
        art=of(art),
        edge_looked_at=_looked_at(stepping),
        inked=of(inked),
        kiss=of(kiss),
        model=of(model),
        edge=of(edge),
        forecast=of(forecast),
        findings=of(findings),
        reach_mm=of(reach_mm),
    )
