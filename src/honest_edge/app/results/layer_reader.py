"""From a design's layers to one picture and one contour: originals read, words shaped, all put together."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace

import numpy as np
import shapely

from honest_edge.app.results.cache import ResultCache
from honest_edge.app.results.composed import Composed
from honest_edge.app.results.stock_pieces import assembled
from honest_edge.app.results.table_rows import Fit, TableRows, named_rows, unknown_fields, uses_table, with_column
from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.imaging.background import clear_background
from honest_edge.core.layers.codes import LEAST_MODULE_MM, code_area
from honest_edge.core.layers.flatten import flatten
from honest_edge.core.layers.forms import form_shape
from honest_edge.core.layers.gradient import gradient_pixels
from honest_edge.core.layers.grown import grown_content, in_order
from honest_edge.core.layers.lettering import letter, widths_mm
from honest_edge.core.layers.paint import printed_ppi
from honest_edge.core.layers.shapes import shape_area
from honest_edge.core.layers.stack import Content, Stack, stack_of
from honest_edge.core.outline.outline import outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.proof import register
from honest_edge.core.proof.design_checks import ground_words
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import ArtError, BlockedError
from honest_edge.core.values.findings import Finding, Fix, Quantity, Subject
from honest_edge.core.values.job import Design
from honest_edge.core.values.layers import Code, Gradient, Layer, Lettering, Picture
from honest_edge.core.values.specs import ArtSource
from honest_edge.files.typefaces import FontLibrary

_MOST_CONTENT_BYTES = 300_000_000
_MOST_CLEARED_BYTES = 500_000_000  # of pictures without their backgrounds
_LEAST_OVERFLOW_MM = 0.05

ReadPicture = Callable[[str, str, ArtSource, float], Artwork]
"""Reads an original: SHA-256, file name, which part, finished width."""


class LayerReader:
    """Puts layers together; what a layer holds is kept as long as it stays the same."""

    def __init__(self, read: ReadPicture, fonts: FontLibrary) -> None:
        """Take what reads originals, and the fonts."""
        self._read, self._fonts = read, fonts
        self._contents = ResultCache(_MOST_CONTENT_BYTES)
        self._cleared = ResultCache(_MOST_CLEARED_BYTES)

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
        for layer in (*(layer for layer in design.layers if layer.grown is None), *in_order(design.layers)):
            try:
                contents[layer.key] = self.of_design(layer, design, contents, stickers)
            except (ArtError, BlockedError) as error:
                errors[layer.key] = str(error)
                if not layer.is_hidden:
                    raise BlockedError(f"Layer “{layer.title[:40]}”: {error}") from None
        stack = stacked(design, contents)
        shown = [layer for layer in design.layers if not layer.is_hidden]
        return Composed(
            contents=contents,
            errors=errors,
            stack=stack,
            flat=flatten(stack, apart=not design.is_flattened),
            findings=(
                *(entry for layer in shown for entry in self._of_layer(layer, design.key)),
                *_of_grounds(design, contents),
                *self._of_cut_lines(design),
            ),
            lowest_ppi=min(filter(None, map(printed_ppi, stack.entries)), default=None),
        )

    def shown(self, design: Design, clear_mm: float) -> Design:
        """Return what is shown of a design: of a table's labels the one looked at, or that with the longest words."""
        rows = self.rows(design, clear_mm)
        if rows is None:
            return design
        return rows.label(self._contents.get("shown", (design, clear_mm), rows.shown))

    def rows(self, design: Design, clear_mm: float) -> TableRows | None:
        """Return the labels of a design's table; None without one."""
        return None if design.table is None else TableRows(design, design.table, self._fonts, clear_mm)

    def table_findings(self, design: Design, clear_mm: float) -> tuple[Finding, ...]:
        """Return what needs a look in a design's table."""
        return self._contents.get("table", (design, clear_mm), lambda: tuple(self._of_table(design, clear_mm)))

    def _of_table(self, design: Design, clear_mm: float) -> Iterator[Finding]:
        subject = Subject(kind="design", design=design.key)
        unknown = unknown_fields(design)
        if unknown:
            names = ", ".join(f"“{name}”" for name in unknown)
            where = f"the table has no column {names}" if design.table else f"there is no table for {names}"
            yield register.FIELD.found(subject, where, "name the column so, or change the field")
        rows = self.rows(design, clear_mm)
        if design.table is not None and not uses_table(design):
            first, labels = design.table.columns[0], len(design.table.kept)
            yield register.BLANK_ROWS.found(
                subject,
                f"no words take a column of {design.table.file_name}: its {labels} labels would be all alike",
                f"write {{{first}}} in the words",
                fix=Fix(words=f"Write “{first}” on it", design=design.key, layers=with_column(design, first)),
            )
        if rows is None or design.table is None:
            return
        failing = rows.failing()
        if failing is not None:
            message = f"row {failing[0] + 1} cannot be made: {failing[1]}"
            yield register.FIELD.found(subject, message, "mend that row of the table")
        yield from _of_fits(rows.fits(), len(design.table.kept), subject)

    def of_design(
        self, layer: Layer, design: Design, known: Mapping[str, Content], stickers: Mapping[str, Content]
    ) -> Content:
        """Return what a layer holds among the others of its design, of which those it grows from are ``known``.

        Raises:
            ArtError, BlockedError: it holds nothing that can be printed.
        """
        if layer.grown is None:
            return self.content(layer, stickers)
        content, paint = grown_content(layer, design.layers, known), layer.paint
        if paint.asset:
            content = replace(content, fill=self._artwork(paint.asset, paint.file_name).pixels)
        return _filled(content, paint.gradient)

    def content(self, layer: Layer, stickers: Mapping[str, Content]) -> Content:
        """Return what a layer holds, wherever it lies.

        Raises:
            ArtError, BlockedError: it holds nothing that can be printed.
        """
        if layer.sticker is not None:
            if layer.sticker.design not in stickers:
                raise BlockedError("This sticker’s design is not in the job any more: remove the layer, or undo")
            return stickers[layer.sticker.design]
        key = (layer.picture, layer.lettering, layer.shape, layer.code, layer.paint.asset, layer.paint.gradient)
        return self._contents.get("content", key, lambda: self._content(layer))

    def _content(self, layer: Layer) -> Content:
        if layer.picture is not None:
            return self._picture(layer.picture)
        if layer.code is not None:
            code_box = code_area(layer.code)
            return Content(area=code_box.dark, ground=code_box.ground)
        fill = self._artwork(layer.paint.asset, layer.paint.file_name).pixels if layer.paint.asset else None
        if layer.lettering is not None:
            typeface = self._fonts.find(layer.lettering.family, layer.lettering.style).typeface
            area, plain = letter(layer.lettering, typeface).area, None
            if layer.lettering.fatten_mm:
                plain = letter(replace(layer.lettering, fatten_mm=0.0), typeface).area
            return _filled(Content(area=area, fill=fill, unfattened=plain), layer.paint.gradient)
        assert layer.shape is not None  # the layer's own check
        return _filled(Content(area=shape_area(layer.shape), fill=fill), layer.paint.gradient)

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
        return Content(area=area, pixels=subject.pixels, pixel_mm=outline.pixel_mm, looks_like=subject.looks_like)

    def _artwork(self, asset: str, file_name: str, source: ArtSource | None = None, width_mm: float = 100.0) -> Artwork:
        try:
            return self._read(asset, file_name, source or ArtSource(), width_mm)
        except KeyError:
            raise ArtError(f"“{file_name}” is not in this job any more: add the picture again") from None

    def _of_layer(self, layer: Layer, design: str) -> Iterator[Finding]:
        subject = Subject(kind="layer", design=design, layer=layer.key)
        if layer.lettering is not None:
            yield from self._of_lettering(layer, layer.lettering, subject)
        if layer.code is not None:
            yield from _of_code(layer.code, subject)

    def _of_cut_lines(self, design: Design) -> Iterator[Finding]:
        """Lines that a drawing brings for a machine are not printed unasked as part of a layer either."""
        for layer in design.layers:
            if layer.picture is None or layer.is_hidden:
                continue
            picture = layer.picture
            artwork = self._artwork(picture.asset, picture.file_name, picture.source, picture.width_mm)
            printed = picture.source.lines_to_print(artwork.cutting)
            if printed:
                source = picture.source.without_lines(artwork.cutting)
                bare = replace(layer, picture=replace(picture, source=source))
                layers = tuple(bare if other is layer else other for other in design.layers)
                named = "” and “".join(artwork.layers[index] for index, _ in printed)
                yield register.LAYER_CUT_LINES.found(
                    Subject(kind="layer", design=design.key, layer=layer.key),
                    f"“{layer.title[:30]}” brings lines that mean a cut, “{named}”, and they would be printed",
                    fix=Fix(words="Leave them out", design=design.key, layers=layers),
                )

    def overflow_mm(self, layer: Layer) -> float:
        """Return by how much a layer's words are wider than their room; 0 for all else."""
        words = layer.lettering
        if words is None or words.room_mm is None:
            return 0.0
        widest = max(widths_mm(words, self._fonts.find(words.family, words.style).typeface))
        return max(0.0, widest - words.room_mm)

    def _of_lettering(self, layer: Layer, lettering: Lettering, subject: Subject) -> Iterator[Finding]:
        font = self._fonts.find(lettering.family, lettering.style)
        if font.instead:
            yield register.FONT.found(
                subject,
                f"the font {font.instead} is not on this machine; {font.typeface.name} stands in for it",
                "install the font, or choose another",
            )
        over_mm = self.overflow_mm(layer)
        if over_mm > _LEAST_OVERFLOW_MM and lettering.room_mm is not None:
            yield register.WORDS_FIT.found(
                subject,
                f"“{layer.title[:30]}” is {over_mm:.1f} mm too long for its {lettering.room_mm:g} mm",
                "shorten the words, or make the letters smaller",
                measured=Quantity(value=lettering.room_mm + over_mm, unit="mm"),
                needed=Quantity(value=lettering.room_mm, unit="mm"),
            )


def _filled(content: Content, gradient: Gradient | None) -> Content:
    if gradient is None:
        return content
    left, top, right, bottom = content.area.bounds
    return replace(content, fill=gradient_pixels(gradient, right - left, bottom - top), is_fill_drawn=True)


def _of_fits(fits: Mapping[int, Fit], count: int, subject: Subject) -> Iterator[Finding]:
    long = tuple(index for index, fit in fits.items() if fit.is_too_long)
    if long:
        verb = "is" if len(long) == 1 else "are"
        yield register.WORDS_FIT.found(
            subject,
            f"{len(long)} of {count} rows {verb} too long even in the smallest letters (row {named_rows(long)})",
            "shorten them, leave them out, or allow smaller letters",
        )
    small = {index: fit.size_mm for index, fit in fits.items() if fit.size_mm is not None and index not in long}
    if small:
        least_mm = min(small.values())
        yield register.SHRUNK.found(
            subject,
            f"{len(small)} of {count} rows {'is' if len(small) == 1 else 'are'} set smaller to fit, "
            f"down to capitals of {least_mm:.1f} mm (row {named_rows(tuple(small))})",
            measured=Quantity(value=least_mm, unit="mm"),
        )


def _of_grounds(design: Design, contents: Mapping[str, Content]) -> Iterator[Finding]:
    """Say which pictures kept their ground unasked."""
    for layer in design.layers:
        looks_like = contents[layer.key].looks_like if layer.key in contents and not layer.is_hidden else None
        if looks_like is not None and layer.picture is not None:
            outline = layer.picture.outline
            subject, flood = replace(outline, background="subject"), replace(outline, background="flood")
            is_photograph = looks_like == "photograph"
            words, recipe = (register.CUT_OUT, subject) if is_photograph else (register.CLEAR_ANYWAY, flood)
            cleared = replace(layer, picture=replace(layer.picture, outline=recipe))
            layers = tuple(cleared if other is layer else other for other in design.layers)
            yield register.LAYER_GROUND.found(
                Subject(kind="layer", design=design.key, layer=layer.key),
                f"“{layer.title[:30]}” {ground_words(looks_like)}",
                fix=Fix(words=words, design=design.key, layers=layers),
            )


def _of_code(code: Code, subject: Subject) -> Iterator[Finding]:
    module_mm = code_area(code).module_mm
    if module_mm >= LEAST_MODULE_MM:
        return
    needed_mm = code.width_mm * LEAST_MODULE_MM / module_mm
    yield register.CODE.found(
        subject,
        f"the {code.kind} code’s bars are {module_mm:.2f} mm wide, too fine to be read for sure",
        f"make it {needed_mm:.0f} mm wide or more",
        measured=Quantity(value=module_mm, unit="mm"),
        needed=Quantity(value=LEAST_MODULE_MM, unit="mm"),
    )


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
