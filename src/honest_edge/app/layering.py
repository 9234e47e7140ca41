"""From a design's layers to one picture and one contour: originals read, words shaped, all put together."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely

from honest_edge.app.cache import ResultCache
from honest_edge.app.pieces import assembled
from honest_edge.app.rows import failing_row, longest_row, named_rows, rows_too_long, unknown_fields, with_row
from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.imaging.background import clear_background
from honest_edge.core.layers.arrange import Bounds, moved
from honest_edge.core.layers.codes import LEAST_MODULE_MM, code_area
from honest_edge.core.layers.flatten import Flattened, flatten
from honest_edge.core.layers.forms import form_shape
from honest_edge.core.layers.lettering import letter
from honest_edge.core.layers.shapes import shape_area
from honest_edge.core.layers.stack import Content, Stack, placed, stack_of
from honest_edge.core.layers.sticker_rows import free_place, in_rows
from honest_edge.core.outline.outline import outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import ArtError, BlockedError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, Code, Layer, Lettering, Picture
from honest_edge.core.values.specs import ArtSource
from honest_edge.core.values.units import MM_PER_INCH
from honest_edge.files.typefaces import FontLibrary

ReadPicture = Callable[[str, str, ArtSource, float], Artwork]
"""Reads an original: SHA-256, file name, which part, finished width."""

NoteKind = Literal["font", "room", "code", "field"]


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerNote:
    """One thing to look at in one layer.

    Attributes:
        kind: which check found it.
        layer: the layer's key.
        message: what and how much, in one sentence.
        remedy: what to do about it.
    """

    kind: NoteKind
    layer: str
    message: str
    remedy: str


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Composed:
    """A layered design put together.

    Attributes:
        contents: what each layer holds, in its own frame, by key; hidden ones too.
        errors: why a layer holds nothing, by key.
        stack: the printed layers together, in the frame in which they are placed.
        flat: the one picture and its contour.
        notes: what needs a look.
        lowest_ppi: of the softest picture; None without pictures.
    """

    contents: Mapping[str, Content]
    errors: Mapping[str, str]
    stack: Stack
    flat: Flattened
    notes: tuple[LayerNote, ...]
    lowest_ppi: float | None

    @property
    def artwork(self) -> Artwork:
        """The flattened picture."""
        return Artwork(
            pixels=self.flat.pixels,
            stated_ppi=MM_PER_INCH / self.flat.pixel_mm,
            size_source="layers",
            is_vector=self.lowest_ppi is None,
        )


class LayerReader:
    """Puts layers together; what a layer holds is kept as long as it stays the same."""

    def __init__(self, read: ReadPicture, fonts: FontLibrary) -> None:
        """Take what reads originals, and the fonts."""
        self._read, self._fonts = read, fonts
        self._contents = ResultCache(most=3000)
        self._cleared = ResultCache(most=60)  # these hold whole pictures

    def composed(self, design: Design, stickers: Mapping[str, Content]) -> Composed:
        """Return a layered design put together.

        Args:
            design: the design.
            stickers: what lies on it as stickers, by the key of the design.

        Raises:
            BlockedError: nothing is printed, or a printed layer cannot be; the message names the layer.
        """
        contents: dict[str, Content] = {}
        errors: dict[str, str] = {}
        for layer in design.layers:
            try:
                contents[layer.key] = self.content(layer, stickers)
            except (ArtError, BlockedError) as error:
                errors[layer.key] = str(error)
                if not layer.is_hidden:
                    raise BlockedError(f"Layer “{layer.title[:40]}”: {error}") from None
        stack = stacked(design, contents)
        seen = [layer for layer in design.layers if not layer.is_hidden]
        pictures = [self._ppi(layer.picture) for layer in seen if layer.picture]
        pictures += [MM_PER_INCH / contents[layer.key].pixel_mm for layer in seen if layer.sticker]
        return Composed(
            contents=contents,
            errors=errors,
            stack=stack,
            flat=flatten(stack, apart=not design.is_flattened),
            notes=tuple(note for layer in seen for note in self._notes(layer)),
            lowest_ppi=min(pictures, default=None),
        )

    def shown(self, design: Design) -> Design:
        """Return what is shown of a design: of a table's labels the one with the longest words."""
        if design.table is None:
            return design
        return with_row(design, self._contents.get("longest", design, lambda: longest_row(design, self._fonts)))

    def table_notes(self, design: Design) -> tuple[LayerNote, ...]:
        """Return what needs a look in a design's table."""
        return self._contents.get("table", design, lambda: tuple(self._of_table(design)))

    def _of_table(self, design: Design) -> Iterator[LayerNote]:
        unknown = unknown_fields(design)
        if unknown:
            names = ", ".join(f"“{name}”" for name in unknown)
            where = f"the table has no column {names}" if design.table else f"there is no table for {names}"
            yield LayerNote(kind="field", layer="", message=where, remedy="name the column so, or change the field")
        failing = failing_row(design, self._fonts)
        if failing is not None:
            message = f"row {failing[0] + 1} cannot be made: {failing[1]}"
            yield LayerNote(kind="field", layer="", message=message, remedy="mend that row of the table")
        long = rows_too_long(design, self._fonts)
        if long and design.table is not None:
            verb = "is" if len(long) == 1 else "are"
            message = f"{len(long)} of {len(design.table.rows)} rows {verb} too long for its room: {named_rows(long)}"
            yield LayerNote(kind="room", layer="", message=message, remedy="shorten them, or make the letters smaller")

    def content(self, layer: Layer, stickers: Mapping[str, Content]) -> Content:
        """Return what a layer holds, wherever it lies.

        Raises:
            ArtError, BlockedError: it holds nothing that can be printed.
        """
        if layer.sticker is not None:
            if layer.sticker.design not in stickers:
                raise BlockedError("This sticker’s design is not in the job any more: remove the layer, or undo")
            return stickers[layer.sticker.design]
        key = (layer.picture, layer.lettering, layer.shape, layer.code, layer.paint.asset)
        return self._contents.get("content", key, lambda: self._content(layer))

    def _content(self, layer: Layer) -> Content:
        if layer.picture is not None:
            return self._picture(layer.picture)
        if layer.code is not None:
            found = code_area(layer.code)
            return Content(area=found.dark, ground=found.ground)
        fill = self._artwork(layer.paint.asset, layer.paint.file_name).pixels if layer.paint.asset else None
        if layer.lettering is not None:
            typeface = self._fonts.find(layer.lettering.family, layer.lettering.style).typeface
            area, plain = letter(layer.lettering, typeface).area, None
            if layer.lettering.fatten_mm:
                plain = letter(replace(layer.lettering, fatten_mm=0.0), typeface).area
            return Content(area=area, fill=fill, unfattened=plain)
        assert layer.shape is not None  # the layer's own check
        return Content(area=shape_area(layer.shape), fill=fill)

    def _picture(self, picture: Picture) -> Content:
        artwork = self._artwork(picture.asset, picture.file_name, picture.source, picture.width_mm)
        recipe = picture.outline
        key = (picture.asset, picture.source, recipe, artwork.width_px)
        subject = self._cleared.get("subject", key, lambda: clear_background(artwork, recipe))
        traced = self._cleared.get(
            "traced", key, lambda: trace_pixels(subject.coverage, recipe.threshold, corner_deg=recipe.corner_deg)
        )
        outline = outline_of(traced, width_px=artwork.width_px, width_mm=picture.width_mm, recipe=recipe)
        middle = np.array([picture.width_mm / 2, artwork.height_px * outline.pixel_mm / 2])
        area = as_multipolygon(shapely.transform(outline.area, lambda points: points - middle))
        return Content(area=area, pixels=subject.pixels, pixel_mm=outline.pixel_mm)

    def _artwork(self, asset: str, file_name: str, source: ArtSource | None = None, width_mm: float = 100.0) -> Artwork:
        try:
            return self._read(asset, file_name, source or ArtSource(), width_mm)
        except KeyError:
            raise ArtError(f"“{file_name}” is not in this job any more: add the picture again") from None

    def _ppi(self, picture: Picture) -> float:
        artwork = self._artwork(picture.asset, picture.file_name, picture.source, picture.width_mm)
        return artwork.ppi_at(picture.width_mm)

    def _notes(self, layer: Layer) -> list[LayerNote]:
        found = []
        if layer.lettering is not None:
            found += self._of_lettering(layer, layer.lettering)
        if layer.code is not None:
            found += _of_code(layer, layer.code)
        return found

    def overflow_mm(self, layer: Layer) -> float:
        """Return by how much a layer's words are wider than their room; 0 for all else."""
        words = layer.lettering
        if words is None or words.room_mm is None:
            return 0.0
        return letter(words, self._fonts.find(words.family, words.style).typeface).overflow_mm(words.room_mm)

    def _of_lettering(self, layer: Layer, lettering: Lettering) -> list[LayerNote]:
        font = self._fonts.find(lettering.family, lettering.style)
        found = []
        if font.instead:
            found.append(
                LayerNote(
                    kind="font",
                    layer=layer.key,
                    message=f"the font {font.instead} is not on this machine; {font.typeface.name} stands in for it",
                    remedy="install the font, or choose another",
                )
            )
        over_mm = self.overflow_mm(layer)
        if over_mm > 0.05:
            found.append(
                LayerNote(
                    kind="room",
                    layer=layer.key,
                    message=f"“{layer.title[:30]}” is {over_mm:.1f} mm too long for its {lettering.room_mm:g} mm",
                    remedy="shorten the words, or make the letters smaller",
                )
            )
        return found


def _of_code(layer: Layer, code: Code) -> list[LayerNote]:
    module = code_area(code).module_mm
    if module >= LEAST_MODULE_MM:
        return []
    needed = code.width_mm * LEAST_MODULE_MM / module
    message = f"the {code.kind} code’s bars are {module:.2f} mm wide, too fine to be read for sure"
    return [LayerNote(kind="code", layer=layer.key, message=message, remedy=f"make it {needed:.0f} mm wide or more")]


def stacked(design: Design, contents: Mapping[str, Content]) -> Stack:
    """Return a design's layers put together on its form, where it has one.

    Raises:
        BlockedError: as for ``stack_of`` and ``form_shape``.
    """
    if design.is_cut_only:
        design = assembled(design)
    drawn = [layer for layer in design.layers if layer.key in contents]
    if design.form is None:
        return stack_of(drawn, contents, design.backing)
    return stack_of(drawn, contents, design.backing, form_shape(design.form), design.form.rgb)


def ring_mm(job: Job) -> float:
    """Return how far a sheet's colour keeps off a sticker's cut: as far as drifts, and what is seen."""
    return round(job.drift_mm + job.visible_mm, 2)


def place_for_sticker(
    design: Design, size: tuple[float, float], boxes: Mapping[str, Bounds], gap_mm: float
) -> tuple[float, float]:
    """Return where a new sticker goes: the first free place of the form, else its middle."""
    if design.form is None:
        return 0.0, 0.0
    left, top, right, bottom = (float(edge) for edge in form_shape(design.form).area.bounds)
    whole = (right - left) * (bottom - top)
    taken = [box for box in boxes.values() if (box[2] - box[0]) * (box[3] - box[1]) < whole / 2]  # no ground
    return free_place(size, (left, top, right, bottom), taken, gap_mm=2 * gap_mm) or (0.0, 0.0)


def spread_stickers(design: Design, boxes: Mapping[str, Bounds]) -> tuple[Layer, ...]:
    """Return the layers with all stickers in even rows on the form, clear of titles.

    Raises:
        BlockedError: they do not fit.
    """
    assert design.form is not None
    left, top, right, bottom = (float(edge) for edge in form_shape(design.form).area.bounds)
    stickers = [layer for layer in design.layers if layer.sticker and layer.key in boxes and not layer.is_hidden]
    kept = [boxes[layer.key] for layer in design.layers if layer.lettering and layer.key in boxes]
    sizes = [(boxes[a.key][2] - boxes[a.key][0], boxes[a.key][3] - boxes[a.key][1]) for a in stickers]
    gap_mm = max((layer.gap_mm for layer in stickers), default=0.0)
    places = in_rows(sizes, (left, top, right, bottom), gap_mm=2 * gap_mm, kept=kept)
    moves = {}
    for layer, (x_mm, y_mm) in zip(stickers, places, strict=True):
        box = boxes[layer.key]
        moves[layer.key] = (x_mm - (box[0] + box[2]) / 2, y_mm - (box[1] + box[3]) / 2)
    layers = design.layers
    for key, way in moves.items():
        layers = moved(layers, (key,), *way)
    return layers


def turned_layered(design: Design, height_mm: float) -> Design:
    """Return a one-picture design as a stack of that one picture, at the same place and size."""
    picture = Picture(
        asset=design.asset,
        file_name=design.file_name,
        width_mm=design.width_mm,
        source=design.source,
        outline=design.outline,
    )
    layer = Layer(key="l1", picture=picture, x_mm=design.width_mm / 2, y_mm=height_mm / 2)
    return replace(design, asset="", file_name="", source=ArtSource(), outline=AS_DRAWN, layers=(layer,))


def quiet_zones(composed: Composed) -> list[shapely.MultiPolygon]:
    """Return the grounds of all codes, in the frame of the flattened picture."""
    found = []
    corner = (composed.flat.left_mm, composed.flat.top_mm)
    for entry in composed.stack.entries:
        if entry.layer is not None and entry.layer.code is not None and entry.content.ground is not None:
            area = placed(entry.content.ground, entry.matrix)
            found.append(as_multipolygon(shapely.transform(area, lambda points: points - corner)))
    return found
