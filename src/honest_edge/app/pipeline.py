"""From a job to its results, each computed from the untouched originals and kept until its input changes."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely

from honest_edge.app.cache import ResultCache
from honest_edge.app.layering import Composed, LayerReader, quiet_zones
from honest_edge.app.pieces import PRINTED_PART, assembly_order, piece_designs
from honest_edge.app.recipe_keys import footprint_key, of_background, of_cut, shown_by
from honest_edge.app.rows import with_row
from honest_edge.app.stickers import in_layers_frame, sticker_content
from honest_edge.core.edge.bleed import PrintArt, carry_colour, printed_area
from honest_edge.core.edge.contour import CutLines, InsetLoss, contour, inset_losses
from honest_edge.core.edge.forecast import Forecast, farthest_mm, forecast
from honest_edge.core.edge.model import EdgeModel, edge_model
from honest_edge.core.edge.profile import EdgeProfile, profile
from honest_edge.core.edge.rim import Rim, rim_of
from honest_edge.core.geometry.distance import reach_mm
from honest_edge.core.geometry.paths import CurveRing, as_multipolygon
from honest_edge.core.imaging.background import Subject, clear_background
from honest_edge.core.imaging.matte import Matte, find_matte
from honest_edge.core.layers.stack import Content
from honest_edge.core.outline.joining import joining_offset_mm
from honest_edge.core.outline.narrow import Narrow, narrow_places
from honest_edge.core.outline.outline import Outline, fit_area, greatest_deviation_mm, outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.proof.checks import Finding, findings_of
from honest_edge.core.proof.layer_checks import LayerFinding, stack_findings
from honest_edge.core.sheet.fit import fit
from honest_edge.core.sheet.plan import Footprint, Plan
from honest_edge.core.sheet.stored import pinned_of, plan_kept
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.bench import MARKS_MIDDLE, SheetPlace
from honest_edge.core.values.errors import BlockedError, Cancelled, HonestEdgeError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.sheets import Stock
from honest_edge.core.values.specs import ArtSource, LineKind
from honest_edge.files.kinds import VECTOR_KINDS, drawn_kind
from honest_edge.files.read_art import read_art
from honest_edge.files.typefaces import FontLibrary, font_library

_RUNGS_MM = (1.5, 3.0, 6.0, 14.0)

Report = Callable[[float, str], None]
IsCancelled = Callable[[], bool]


def never() -> bool:
    """Nobody cancels."""
    return False


def unreported(_share: float, _what: str) -> None:
    """Nobody watches."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class DesignResult:
    """Everything computed for one design.

    Attributes:
        composed: its layers put together; None for a design of one picture.
        outline_curves: the outline as fitted, for the eye; the cut is fitted by itself.
        deviation_mm: how far they stray from the raw outline at most.
        joining_mm: smallest offset at which all parts join; None where they are too many.
        narrow: where the cut is too narrow for the blade.
        inset: parts that an inward offset split or swallowed.
        matte: what an earlier background removal left round the art.
        rim: what the art looks like at its edge.
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
    outline_curves: tuple[CurveRing, ...]
    deviation_mm: float
    joining_mm: float | None
    narrow: tuple[Narrow, ...]
    inset: tuple[InsetLoss, ...]
    matte: Matte | None
    cut: CutLines
    art: PrintArt
    rim: Rim
    model: EdgeModel
    edge: EdgeProfile
    forecast: Forecast
    findings: tuple[Finding, ...]
    reach_mm: float
    stock: Stock | None = None

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


class Pipeline:
    """Computes results; the same request is computed once."""

    def __init__(self, assets: Mapping[str, bytes], fonts: FontLibrary | None = None) -> None:
        """Take the originals by SHA-256, which may grow later, and the fonts; None takes this machine's."""
        self._assets = assets
        self._cache = ResultCache()
        self.fonts = fonts or font_library()
        self.layers = LayerReader(self._read, self.fonts)

    def asset(self, design: Design) -> bytes | None:
        """Return a design's original, byte for byte; None for layers."""
        return self._assets[design.asset] if design.asset else None

    def _read(
        self, asset: str, file_name: str, source: ArtSource, width_mm: float, cancelled: IsCancelled = never
    ) -> Artwork:
        data = self._assets[asset]
        drawn_mm = width_mm if drawn_kind(data) in VECTOR_KINDS else None
        return self._cache.get(
            "artwork",
            (asset, source, drawn_mm),
            lambda: read_art(data, file_name, source, width_mm=drawn_mm, cancelled=cancelled),
        )

    def result(
        self,
        design: Design,
        job: Job,
        *,
        place: SheetPlace = MARKS_MIDDLE,
        report: Report = unreported,
        cancelled: IsCancelled = never,
    ) -> DesignResult:
        """Return everything about one design of a job, forecast for a place on the sheet.

        Raises:
            ArtError: the original cannot be read.
            BlockedError: the art makes a step impossible.
            Cancelled: ``cancelled`` said so between two steps.
        """

        def step(share: float, what: str) -> None:
            if cancelled():
                raise Cancelled
            report(share, f"{what} {design.name}")

        step(0.0, "Reading")
        composed, artwork = self._artwork(design, job, cancelled)
        width_mm = composed.flat.width_mm if composed else design.width_mm
        step(0.2, "Clearing the background of")
        shows = shown_by(design, job)
        subject = self._subject(design, artwork, (*shows, artwork.width_px))
        step(0.45, "Tracing")
        outline_key = (*shows, design.outline, width_mm)
        outline = self._cache.get(
            "outline", outline_key, lambda: self._outline(design, composed, artwork, subject, shows)
        )
        step(0.6, "Drawing the cut of")
        cut_key = (*outline_key, of_cut(design.edge))
        cut = self._cache.get("cut", cut_key, lambda: _with_lines(contour(outline, design.edge), composed))
        narrow = self._cache.get(
            "narrow", (*cut_key, job.narrowest_mm), lambda: narrow_places(cut.area, job.narrowest_mm)
        )
        step(0.7, "Fitting")
        curves = self._cache.get("curves", outline_key, lambda: fit_area(outline.area, outline.style))
        deviation_mm = self._cache.get("deviation", outline_key, lambda: greatest_deviation_mm(curves, outline.area))
        joining_mm = self._cache.get("joining", outline_key, lambda: joining_offset_mm(outline.area))
        step(0.8, "Carrying the colour of")
        art_key = (*outline_key, replace(design.edge, detail=()))
        art = self._cache.get("art", art_key, lambda: carry_colour(subject, outline, cut, design.edge))
        matte = self._cache.get(
            "matte",
            (*shows, artwork.width_px),
            lambda: find_matte(artwork.pixels) if artwork.is_cut_out and composed is None else None,
        )
        step(0.9, "Judging the edge of")
        stock = job.sheet.stock
        rim = self._cache.get("rim", (*outline_key, stock), lambda: rim_of(subject, outline, stock))
        inked = self._cache.get(
            "inked",
            art_key if art.ink_area is not None else (outline_key, "as it is"),
            lambda: printed_area(art, outline, design.outline.threshold),
        )
        left, top, right, bottom = cut.area.bounds
        largest_mm = _rung(farthest_mm(job.bench_error, max(right - left, bottom - top), place))
        edge_key = (*outline_key, design.edge, stock, largest_mm)
        model = self._cache.get(
            "model",
            edge_key,
            lambda: edge_model(outline, cut, inked, rim, design.edge, width_mm=width_mm, largest_mm=largest_mm),
        )
        edge = self._cache.get("edge", edge_key, lambda: profile(cut, art, model, rim))
        step(0.95, "Forecasting")
        seen = self._cache.get(
            "forecast",
            (*edge_key, job.bench_error, job.visible_mm, place),
            lambda: forecast(model, job.bench_error, place, visible_mm=job.visible_mm),
        )
        inset = inset_losses(outline, cut, design.edge)
        findings = findings_of(
            design,
            artwork=artwork,
            width_mm=width_mm,
            layers=self._layer_findings(design, composed, cut, job) if composed else (),
            leaks=subject.leaks,
            cut=cut,
            narrow=narrow,
            inset=inset,
            matte=matte,
            edge=edge,
            seen=seen,
            job=job,
        )
        return DesignResult(
            design=design,
            composed=composed,
            artwork=artwork,
            subject=subject,
            outline=outline,
            outline_curves=curves,
            deviation_mm=deviation_mm,
            joining_mm=joining_mm,
            narrow=narrow,
            inset=inset,
            matte=matte,
            cut=cut,
            art=art,
            rim=rim,
            model=model,
            edge=edge,
            forecast=seen,
            findings=findings,
            reach_mm=self._cache.get(
                "reach", art_key, lambda: reach_mm(outline.area if art.ink_area is None else art.ink_area, cut.area)
            ),
        )

    def stickers(self, design: Design, job: Job, *, cancelled: IsCancelled = never) -> dict[str, Content]:
        """Return what lies on a design as stickers, by the key of their designs; missing ones are left out.

        Raises:
            BlockedError: one is a sheet itself, or cannot be made; the message names it.
        """
        found = {}
        for other in (other for other in job.designs if other.key in design.stickers):
            if other.stickers:
                raise BlockedError(f"“{other.name}” is a sheet of stickers itself and cannot lie on another")
            try:
                found[other.key] = sticker_content(self.result(other, job, cancelled=cancelled))
            except HonestEdgeError as error:
                raise BlockedError(f"Sticker “{other.name}”: {error}") from None
        return found

    def _artwork(self, design: Design, job: Job, cancelled: IsCancelled) -> tuple[Composed | None, Artwork]:
        if not design.is_layered:
            return None, self._read(design.asset, design.file_name, design.source, design.width_mm, cancelled)

        def make() -> tuple[Composed, Artwork]:
            shown = self.layers.shown(design)
            composed = self.layers.composed(shown, self.stickers(design, job, cancelled=cancelled))
            return composed, composed.artwork

        return self._cache.get("composed", shown_by(design, job), make)

    def _layer_findings(self, design: Design, composed: Composed, cut: CutLines, job: Job) -> tuple[LayerFinding, ...]:
        notes = (*composed.notes, *self.layers.table_notes(design))
        if design.table is not None:  # rows that are too long are counted together
            notes = tuple(note for note in notes if note.kind != "room" or not note.layer)
        found = [LayerFinding(check=note.kind, message=note.message, remedy=note.remedy) for note in notes]
        return (*found, *stack_findings(design, composed.stack, composed.flat.pieces, quiet_zones(composed), cut, job))

    def _subject(self, design: Design, artwork: Artwork, shows: tuple[Hashable, ...]) -> Subject:
        if design.is_layered:
            return Subject(pixels=artwork.pixels, method="alpha")
        key = (*shows, of_background(design.outline))
        return self._cache.get("subject", key, lambda: clear_background(artwork, design.outline))

    def _outline(
        self,
        design: Design,
        composed: Composed | None,
        artwork: Artwork,
        subject: Subject,
        shows: tuple[Hashable, ...],
    ) -> Outline:
        recipe = design.outline
        if composed is not None:  # known exactly: nothing is traced
            flat = composed.flat
            area = as_multipolygon(shapely.transform(flat.area, lambda points: points / flat.pixel_mm))
            return outline_of(area, width_px=artwork.width_px, width_mm=flat.width_mm, recipe=recipe)
        key = (*shows, artwork.width_px, of_background(recipe), recipe.threshold, recipe.corner_deg)
        area = self._cache.get(
            "trace", key, lambda: trace_pixels(subject.coverage, recipe.threshold, corner_deg=recipe.corner_deg)
        )
        return outline_of(area, width_px=artwork.width_px, width_mm=design.width_mm, recipe=recipe)

    def plan(self, footprints: Sequence[Footprint], job: Job, *, cancelled: IsCancelled = never) -> Plan:
        """Return the layout of all copies, laid anew only where something of it changed.

        Raises:
            BlockedError: a design does not fit, or the marks cannot be placed.
            Cancelled: ``cancelled`` said so.
        """
        key = (tuple(map(footprint_key, footprints)), job.sheet, job.pins, job.layout)
        return self._cache.get("plan", key, lambda: _plan_of(footprints, job, cancelled=cancelled))

    def labels(
        self, job: Job, *, report: Report = unreported, cancelled: IsCancelled = never
    ) -> list[tuple[DesignResult, ...]]:
        """Return what is laid: for each design, and each piece of one, its results, of a table one for each row."""
        found: list[tuple[DesignResult, ...]] = []
        for index, design in enumerate(job.designs):
            report(index / len(job.designs), f"Tracing {design.name}")
            shown = self.result(design, job, cancelled=cancelled)
            if design.table is None:
                found += [(shown,), *((piece,) for piece in self.pieces(design, job, cancelled=cancelled))]
                continue
            rows = []
            for row in range(len(design.table.rows)):
                if cancelled():
                    raise Cancelled
                share = (index + row / len(design.table.rows)) / len(job.designs)
                report(share, f"Lettering row {row + 1} of {design.name}")
                try:
                    rows.append(self._row(with_row(design, row), shown, job, cancelled))
                except BlockedError as error:
                    raise BlockedError(f"Row {row + 1} of {design.name}: {error}") from None
            found.append(tuple(rows))
        return found

    def pieces(self, design: Design, job: Job, *, cancelled: IsCancelled = never) -> tuple[DesignResult, ...]:
        """Return what of a design is cut from stock of its own, each as a design by itself, back to front.

        Raises:
            ArtError, BlockedError, Cancelled: as for ``result``.
        """
        found = []
        for alone, stock in piece_designs(design):
            result = self.result(alone, job, cancelled=cancelled)
            findings = tuple(finding for finding in result.findings if finding.check in ("parts", "narrow"))
            nothing = replace(result.art, pixels=np.zeros((1, 1, 4), np.uint8), ink_area=result.cut.area)
            found.append(replace(result, art=nothing, stock=stock, findings=findings))
        return tuple(found)

    def assembly(self, design: Design, job: Job) -> list[tuple[str, shapely.MultiPolygon]]:
        """Return the parts of a glued design in the frame of its layers, back to front, each with its name."""
        areas = {}
        for (alone, _), result in zip(piece_designs(design), self.pieces(design, job), strict=True):
            areas[alone.layers[0].key] = in_layers_frame(result)
        if not design.is_cut_only:
            areas[PRINTED_PART[0]] = in_layers_frame(self.result(design, job))
        return [(name, areas[key]) for key, name in assembly_order(design)]

    def _row(self, label: Design, shown: DesignResult, job: Job, cancelled: IsCancelled) -> DesignResult:
        """Return one row's label: another print in the same cut."""
        composed = self.layers.composed(label, self.stickers(label, job, cancelled=cancelled))
        subject = Subject(pixels=composed.flat.pixels, method="alpha")
        art = carry_colour(subject, shown.outline, shown.cut, label.edge)
        return replace(shown, design=label, art=art, findings=())  # one picture each is enough to hold


def _plan_of(footprints: Sequence[Footprint], job: Job, *, cancelled: IsCancelled = never) -> Plan:
    """Return the layout of all copies: the one that the job keeps where it still holds, else a new one."""
    pins = pinned_of(job.pins, footprints)
    kept = plan_kept(job.layout, footprints, job.sheet, pins) if job.layout else None
    return kept or fit(footprints, job.sheet, pins, cancelled=cancelled)


def printed_kinds(laid: Sequence[DesignResult]) -> set[LineKind]:
    """Return the kinds of line that are cut on printed sheets."""
    return {path.kind for result in laid if result.stock is None for path in result.cut.all_paths}


def _with_lines(cut: CutLines, composed: Composed | None) -> CutLines:
    return cut if composed is None else replace(cut, lines=composed.flat.lines)


def _rung(distance_mm: float) -> float:
    """Return the next of a few distances, so that a model serves many errors."""
    return next((rung for rung in _RUNGS_MM if distance_mm <= rung), _RUNGS_MM[-1])
