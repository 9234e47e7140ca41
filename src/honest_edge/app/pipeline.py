"""From a job to its results, each computed from the untouched originals and kept until its input changes."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import shapely

from honest_edge.app.cache import ResultCache
from honest_edge.core.edge.bleed import PrintArt, carry_colour
from honest_edge.core.edge.contour import CutLines, contour
from honest_edge.core.edge.profile import EdgeProfile, profile
from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.imaging.background import Subject, clear_background
from honest_edge.core.outline.trace import Outline, fit_area, outline_of, trace_pixels
from honest_edge.core.proof.checks import Finding, findings_of
from honest_edge.core.sheet.fit import Footprint, Plan, fit
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import Cancelled
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.specs import SheetSpec
from honest_edge.files.read_art import read_art

Report = Callable[[float, str], None]
IsCancelled = Callable[[], bool]


def never() -> bool:
    """Nobody cancels."""
    return False


def unreported(_share: float, _what: str) -> None:
    """Nobody watches."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class DesignResult:
    """Everything computed for one design."""

    design: Design
    artwork: Artwork
    subject: Subject
    outline: Outline
    outline_curves: tuple[CurveRing, ...]
    cut: CutLines
    art: PrintArt
    edge: EdgeProfile
    findings: tuple[Finding, ...]

    @property
    def ppi(self) -> float:
        """Pixels per inch at the finished width."""
        return self.artwork.ppi_at(self.design.width_mm)

    @property
    def height_mm(self) -> float:
        """Finished height of the whole picture."""
        return self.design.width_mm * self.artwork.height_px / self.artwork.width_px

    @property
    def footprint(self) -> Footprint:
        """The room that a copy takes on a sheet."""
        cut = Box(*(float(edge) for edge in self.cut.area.bounds))
        left, top, right, bottom = self.art.bounds_mm
        reach = max(cut.left - left, cut.top - top, right - cut.right, bottom - cut.bottom, 0.0)
        return Footprint(name=self.design.name, cut=cut, reach_mm=reach, copies=self.design.copies)


class Pipeline:
    """Computes results; the same request is computed once."""

    def __init__(self, assets: Mapping[str, bytes]) -> None:
        """Take the originals by SHA-256; the mapping may grow later."""
        self._assets = assets
        self._cache = ResultCache()

    def artwork(self, asset: str, name: str) -> Artwork:
        """Return an original's picture.

        Raises:
            ArtError: it cannot be read.
        """
        return self._cache.get("artwork", asset, lambda: read_art(self._assets[asset], name))

    def result(self, design: Design, drift_mm: float, *, cancelled: IsCancelled = never) -> DesignResult:
        """Return everything about one design.

        Raises:
            ArtError: the original cannot be read.
            BlockedError: the art makes a step impossible.
            Cancelled: ``cancelled`` said so between two steps.
        """
        artwork = self.artwork(design.asset, design.file_name)
        _pause(cancelled)
        subject, outline = self._outline(design, artwork, cancelled)
        outline_key = (design.asset, design.outline, design.width_mm)
        cut_key = (*outline_key, design.edge.signed_offset_mm, design.edge.corners, design.edge.line_kind)
        cut = self._cache.get("cut", cut_key, lambda: contour(outline, design.edge))
        _pause(cancelled)
        curves = self._cache.get("curves", outline_key, lambda: fit_area(outline.area, pixel_mm=outline.pixel_mm))
        _pause(cancelled)
        art_key = (*cut_key, design.edge.bleed_mm)
        art = self._cache.get("art", art_key, lambda: carry_colour(subject, outline, cut, design.edge))
        _pause(cancelled)
        edge = self._cache.get("edge", art_key, lambda: profile(cut, art))
        ppi = artwork.ppi_at(design.width_mm)
        return DesignResult(
            design=design,
            artwork=artwork,
            subject=subject,
            outline=outline,
            outline_curves=curves,
            cut=cut,
            art=art,
            edge=edge,
            findings=findings_of(design, ppi=ppi, cut=cut, edge=edge, drift_mm=drift_mm),
        )

    def _outline(self, design: Design, artwork: Artwork, cancelled: IsCancelled) -> tuple[Subject, Outline]:
        recipe = design.outline
        key = (design.asset, recipe.background, recipe.tolerance)
        subject = self._cache.get("subject", key, lambda: clear_background(artwork, recipe))
        _pause(cancelled)
        area: shapely.MultiPolygon = self._cache.get("trace", key, lambda: trace_pixels(subject.coverage))
        pixel_mm = design.width_mm / artwork.width_px
        outline = self._cache.get(
            "outline",
            (key, design.width_mm, recipe),
            lambda: outline_of(area, pixel_mm=pixel_mm, recipe=recipe),
        )
        _pause(cancelled)
        return subject, outline

    def results(
        self, job: Job, *, report: Report = unreported, cancelled: IsCancelled = never
    ) -> tuple[DesignResult, ...]:
        """Return the results of all designs in order."""
        found = []
        for index, design in enumerate(job.designs):
            report(index / len(job.designs), f"Tracing {design.name}")
            found.append(self.result(design, job.drift_mm, cancelled=cancelled))
        return tuple(found)


def plan_of(results: Sequence[DesignResult], sheet: SheetSpec) -> Plan:
    """Return the layout of all copies.

    Raises:
        BlockedError: a design does not fit, or the marks cannot be placed.
    """
    return fit([result.footprint for result in results], sheet)


def _pause(cancelled: IsCancelled) -> None:
    if cancelled():
        raise Cancelled
