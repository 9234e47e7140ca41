"""From a job to its results, each computed from the untouched originals and kept until its input changes."""

from __future__ import annotations

import contextlib
import itertools
from collections.abc import Callable, Hashable, Iterator, Mapping, Sequence
from dataclasses import replace

import numpy as np
import shapely

from honest_edge.app.results.cache import ResultCache
from honest_edge.app.results.cache_keys import footprint_key, shown_by
from honest_edge.app.results.composed import Composed
from honest_edge.app.results.declared_steps import Stepping
from honest_edge.app.results.design_result import DesignResult
from honest_edge.app.results.design_steps import STEPS, TOLD, given_of, result_of
from honest_edge.app.results.fitted_outline import FittedOutline, fitted_outline
from honest_edge.app.results.layer_reader import LayerReader
from honest_edge.app.results.mirrored import mirrored
from honest_edge.app.results.parallel import in_parallel
from honest_edge.app.results.progress import IsCancelled, ReportProgress, never, unreported
from honest_edge.app.results.sticker_content import in_layers_frame, sticker_content
from honest_edge.app.results.stock_pieces import PRINTED_PART, assembly_order, piece_designs
from honest_edge.core.edge.bleed import carry_colour
from honest_edge.core.edge.cloth import on_stock
from honest_edge.core.edge.repaint import repainted
from honest_edge.core.imaging.background import Subject
from honest_edge.core.layers.stack import Content
from honest_edge.core.proof import register
from honest_edge.core.proof.register import of_checks
from honest_edge.core.sheet.fit import fit
from honest_edge.core.sheet.plan import Footprint, Plan
from honest_edge.core.sheet.quick import Before, quick_fit
from honest_edge.core.sheet.stored import pinned_of, plan_kept
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import BlockedError, Cancelled, HonestEdgeError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.misregistration import MARKS_MIDDLE, SheetPlace
from honest_edge.core.values.specs import ArtSource
from honest_edge.files.file_kinds import VECTOR_KINDS, drawn_kind
from honest_edge.files.read_art import read_art
from honest_edge.files.typefaces import FontLibrary, font_library

MOST_CACHED_BYTES = 450_000_000
"""The demo job holds 310 MB of it and forty pictures of 600 px 270: both come back whole after any edit."""

_MOST_PASSING_BYTES = 12_000_000  # of what is quickly made again


class Pipeline:
    """Computes results; the same request is computed once."""

    def __init__(
        self,
        assets: Mapping[str, bytes],
        fonts: FontLibrary | None = None,
        *,
        most_cached_bytes: int = MOST_CACHED_BYTES,
    ) -> None:
        """Take the originals by SHA-256, which may grow later, and the fonts; None takes this machine's."""
        self._assets = assets
        self._cache = ResultCache(most_cached_bytes)
        self._passing = ResultCache(_MOST_PASSING_BYTES, least_kept=1)
        self.fonts = fonts or font_library()
        self.layers = LayerReader(self._read, self.fonts)

    @contextlib.contextmanager
    def turn(self) -> Iterator[None]:
        """Compute another overview: results are kept for it as long as there is room at all.

        Once it is whole, what it needed stays, and some of what was before.
        """
        self._cache.begin_turn()
        yield
        self._cache.end_turn()

    def keep_decoded(self, design: Design, artwork: Artwork) -> None:
        """Keep a picture that was decoded to be added, so that it is not decoded again."""
        if not (artwork.is_vector or artwork.look_of_px):  # what is drawn follows its finished size
            self._cache.get("artwork", (design.asset, design.source, None), lambda: artwork)

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
        report: ReportProgress = unreported,
        cancelled: IsCancelled = never,
    ) -> DesignResult:
        """Return everything about one design of a job, forecast for a place on the sheet.

        Raises:
            ArtError: the original cannot be read.
            BlockedError: the art makes a step impossible.
            Cancelled: ``cancelled`` said so between two steps.
        """

        def begin(share: float, what: str) -> None:
            if cancelled():
                raise Cancelled
            report(share, f"{what} {design.name}")

        begin(0.0, "Reading")
        composed, artwork = self._artwork(design, job, cancelled)
        in_rows = self.layers.table_findings(design, job.kept_clear_mm) if composed else ()
        given = given_of(design, job, place, composed=composed, artwork=artwork, table_findings=in_rows)
        stepping = Stepping(STEPS, given, {"kept": self._cache, "passing": self._passing})
        for share, what, step in TOLD:
            begin(share, what)
            stepping.of(step)
        return result_of(stepping, design, composed, artwork)

    def _artwork(self, design: Design, job: Job, cancelled: IsCancelled) -> tuple[Composed | None, Artwork]:
        if not design.is_layered:
            return None, self._read(design.asset, design.file_name, design.source, design.width_mm, cancelled)

        def make() -> tuple[Composed, Artwork]:
            shown = self.layers.shown(design, job.kept_clear_mm)
            composed = self.layers.composed(shown, self.stickers(design, job, cancelled=cancelled))
            return composed, composed.artwork

        return self._cache.get("composed", shown_by(design, job), make)

    def stickers(self, design: Design, job: Job, *, cancelled: IsCancelled = never) -> dict[str, Content]:
        """Return what lies on a design as stickers, by the key of their designs; missing ones are left out.

        Raises:
            BlockedError: one is a sheet itself, or cannot be made; the message names it.
        """
        contents = {}
        for other in (other for other in job.designs if other.key in design.stickers):
            if other.stickers:
                raise BlockedError(f"“{other.name}” is a sheet of stickers itself and cannot lie on another")
            try:
                contents[other.key] = self._as_sticker(self.result(other, job, cancelled=cancelled))
            except HonestEdgeError as error:
                raise BlockedError(f"Sticker “{other.name}”: {error}") from None
        return contents

    def _as_sticker(self, result: DesignResult) -> Content:
        model = result.model
        own_ink = result.inked if model.is_inked else None
        return self._cache.get(
            "sticker",
            (result.art, result.cut, model.is_inked, result.design.edge.detail),
            lambda: sticker_content(result.art, result.cut, model.detail, own_ink),
        )

    def plan(
        self,
        footprints: Sequence[Footprint],
        job: Job,
        *,
        found: Callable[[Plan], None] | None = None,
        cancelled: IsCancelled = never,
    ) -> Plan:
        """Return the layout of all copies, laid anew only where something of it changed.

        Args:
            footprints: what is laid out.
            job: the job.
            found: told a good layout while a sheet less is still sought.
            cancelled: asked between steps.

        Raises:
            BlockedError: a design does not fit, or the marks cannot be placed.
            Cancelled: ``cancelled`` said so.
        """
        key = _plan_key(footprints, job)
        return self._cache.get("plan", key, lambda: _plan_of(footprints, job, found, cancelled))

    def quick_plan(
        self, footprints: Sequence[Footprint], job: Job, before: Before | None, *, cancelled: IsCancelled = never
    ) -> Plan | None:
        """Return a layout that is there before the good one; None where there is none, or the good one is known.

        Raises:
            BlockedError: the marks cannot be placed.
            Cancelled: ``cancelled`` said so.
        """
        if job.layout or self._cache.knows("plan", _plan_key(footprints, job)):
            return None
        return quick_fit(footprints, job.sheet, pinned_of(job.pins, footprints), before=before, cancelled=cancelled)

    def fitted(self, result: DesignResult) -> FittedOutline:
        """Return a result's outline as curves, which only those who look at it need."""
        return self._cache.get("fitted", result.outline, lambda: fitted_outline(result.outline))

    def as_laid(self, result: DesignResult, job: Job) -> DesignResult:
        """Return a result as it lies on the sheets: mirrored where the stock is seen from behind."""
        if not job.sheet.stock.is_mirrored:
            return result
        return self._cache.get("mirrored", result, lambda: mirrored(result))

    def labels(
        self, job: Job, *, report: ReportProgress = unreported, cancelled: IsCancelled = never
    ) -> list[tuple[DesignResult, ...]]:
        """Return what is laid: for each design, and each piece of one, its results, of a table one for each row."""
        results: list[tuple[DesignResult, ...]] = []
        for index, design in enumerate(job.designs):
            share = index / len(job.designs)
            report(share, f"Tracing {design.name}")
            shown = self.result(design, job, cancelled=cancelled)
            if design.table is None:
                results += [
                    (self.as_laid(shown, job),),
                    *((piece,) for piece in self.pieces(design, job, cancelled=cancelled)),
                ]
                continue

            def of_rows(done: float, what: str, before: float = share) -> None:
                report(before + done / len(job.designs), what)

            row_results = self.row_labels(shown, design.table.kept, job, report=of_rows, cancelled=cancelled)
            results.append(tuple(row_results.values()))
        return results

    def row_labels(
        self,
        shown: DesignResult,
        rows: Sequence[int],
        job: Job,
        *,
        report: ReportProgress = unreported,
        cancelled: IsCancelled = never,
    ) -> dict[int, DesignResult]:
        """Return labels of a design's table by their row, counted from 0; nothing where it has none.

        Raises:
            BlockedError: one cannot be made; the message names the row.
            Cancelled: ``cancelled`` said so.
        """
        design, begun = shown.design, itertools.count(1)
        labels = self.layers.rows(design, job.kept_clear_mm)
        if labels is None:
            return {}

        def made(row: int) -> DesignResult:
            if cancelled():
                raise Cancelled
            report((next(begun) - 1) / len(rows), f"Lettering row {row + 1} of {design.name}")
            try:
                return self._row(labels.label(row), shown, job, cancelled)
            except BlockedError as error:
                raise BlockedError(f"Row {row + 1} of {design.name}: {error}") from None

        return dict(zip(rows, in_parallel(made, rows), strict=True))

    def _row(self, label: Design, shown: DesignResult, job: Job, cancelled: IsCancelled) -> DesignResult:
        """Return one row's label: another print in the same cut."""
        composed = self.layers.composed(label, self.stickers(label, job, cancelled=cancelled))
        recipe = on_stock(label.edge, job.sheet.stock)
        art = repainted(shown.art, shown.subject.pixels, composed.flat.pixels, shown.outline, recipe)
        if art is None:
            subject = Subject(pixels=composed.flat.pixels, method="alpha")
            art = carry_colour(subject, shown.outline, shown.cut, recipe)
        row_label = replace(shown, design=label, art=art, findings=())  # one picture each is enough to hold
        return self.as_laid(row_label, job)

    def pieces(self, design: Design, job: Job, *, cancelled: IsCancelled = never) -> tuple[DesignResult, ...]:
        """Return what of a design is cut from stock of its own, each as a design by itself, back to front.

        Raises:
            ArtError, BlockedError, Cancelled: as for ``result``.
        """
        results = []
        for alone, stock in piece_designs(design):
            result = self.result(alone, job, cancelled=cancelled)
            findings = tuple(of_checks(result.findings, register.PARTS, register.NARROW))
            nothing = replace(result.art, pixels=np.zeros((1, 1, 4), np.uint8), ink_area=result.cut.area)
            results.append(replace(result, art=nothing, stock=stock, findings=findings))
        return tuple(results)

    def assembly(self, design: Design, job: Job) -> list[tuple[str, shapely.MultiPolygon]]:
        """Return the parts of a glued design in the frame of its layers, back to front, each with its name."""
        areas = {}
        for (alone, _), result in zip(piece_designs(design), self.pieces(design, job), strict=True):
            areas[alone.layers[0].key] = in_layers_frame(result)
        if not design.is_cut_only:
            areas[PRINTED_PART[0]] = in_layers_frame(self.result(design, job))
        return [(name, areas[key]) for key, name in assembly_order(design)]


def _plan_key(footprints: Sequence[Footprint], job: Job) -> tuple[Hashable, ...]:
    return tuple(map(footprint_key, footprints)), job.sheet, job.pins, job.layout


def _plan_of(
    footprints: Sequence[Footprint], job: Job, found: Callable[[Plan], None] | None, cancelled: IsCancelled
) -> Plan:
    """Return the layout of all copies: the one that the job keeps where it still holds, else a new one."""
    pins = pinned_of(job.pins, footprints)
    kept = plan_kept(job.layout, footprints, job.sheet, pins) if job.layout else None
    return kept or fit(footprints, job.sheet, pins, found=found, cancelled=cancelled)
