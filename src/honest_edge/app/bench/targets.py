"""A target as files like any job: the print, the cut, and where everything of it stands."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

import msgspec
import numpy as np
import shapely

from honest_edge.core.geometry.paths import CurveRing, as_multipolygon, polygon_of
from honest_edge.core.layers.lettering import letter
from honest_edge.core.measure.combs import STEP_MM, CombPlaces, Label, comb_cuts, comb_dark, comb_labels, comb_places
from honest_edge.core.measure.target import CUT_RADIUS_MM, PRINTED_RADIUS_MM, TargetLayout, rulers, target_layout
from honest_edge.core.measure.target_drawing import cuts, dark_area, discs, moved_matrix, ruler_area
from honest_edge.core.sheet.marks import marks_of
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.layers import Lettering
from honest_edge.core.values.measured import ErrorParts
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.files.cut_files import cut_files
from honest_edge.files.sheet_page import SheetPage
from honest_edge.files.typefaces import FontLibrary, font_library
from honest_edge.files.write_pdf import print_pdf

TargetKind = Literal["picture", "eye"]
MOST_SHEETS = 10
_FONT = ("Fredoka SemiBold", "Regular")
_NONE = ErrorParts()


def target_files(
    sheet: SheetSpec,
    key: str,
    *,
    kind: TargetKind = "picture",
    places: int | None = None,
    sheets: int = 1,
    correction: ErrorParts = _NONE,
    fonts: FontLibrary | None = None,
) -> dict[str, bytes]:
    """Return the files of a target by name: ``print.pdf``, the cut files and ``target.json``.

    Args:
        sheet: paper, marks, machine and printer.
        key: names these sheets of paper, eight capitals and digits.
        kind: for a picture, or for the eye.
        places: how many places; None takes what is usual.
        sheets: how many sheets, each with its own number.
        correction: what the cut is moved by.
        fonts: None takes this machine's.

    Raises:
        BlockedError: it has no room.
        UsageError: a number of places or sheets that no target has.
    """
    if not 1 <= sheets <= MOST_SHEETS:
        raise UsageError(f"A target has 1 to {MOST_SHEETS} sheets; {sheets} were asked for")
    words = _Words(fonts or font_library())
    if kind == "eye":
        combs = comb_places(sheet, *(() if places is None else (places,)))
        pages = [_comb_page(sheet, combs, key, number, correction, words) for number in range(1, sheets + 1)]
        told = _comb_record(sheet, combs, key, sheets, correction)
    else:
        asked = {} if places is None else {"places": places}
        layouts = [target_layout(sheet, key, number=n, correction=correction, **asked) for n in range(1, sheets + 1)]
        pages = [_page(sheet, layout, words) for layout in layouts]
        told = _record(sheet, layouts[0], sheets)
    contents = {"print.pdf": print_pdf(pages, [], f"Bench target {key}")}
    for cut_file in cut_files(pages, sheet.machine):
        contents |= dict(cut_file)
    contents["target.json"] = msgspec.json.format(msgspec.json.encode(told), indent=1) + b"\n"
    return contents


class _Words:
    """Letters short texts of the print."""

    def __init__(self, fonts: FontLibrary) -> None:
        self._typeface = fonts.find(*_FONT).typeface

    def at(self, label: Label) -> shapely.MultiPolygon:
        """Return a text with its middle at its place."""
        lettering = Lettering(text=label.text, family=_FONT[0], style=_FONT[1], size_mm=label.size_mm)
        area = letter(lettering, self._typeface).area
        left, top, right, bottom = area.bounds
        move = np.array([label.x_mm - (left + right) / 2, label.y_mm - (top + bottom) / 2])
        return as_multipolygon(shapely.transform(area, lambda points: points + move))


def _made(sheet: SheetSpec, dark: Sequence[shapely.Geometry], lines: tuple[CurveRing, ...]) -> SheetPage:
    width, height = sheet.size_mm
    own = sheet.machine.prints_own_marks
    marks = () if own else tuple(ring for mark in marks_of(sheet) for ring in mark.rings)
    note = as_multipolygon(shapely.MultiPolygon([part for area in dark for part in as_multipolygon(area).geoms]))
    return SheetPage(
        width_mm=width, height_mm=height, arts=(), cuts={"kiss": lines, "through": ()}, marks=marks,
        marks_rgb=sheet.marks.rgb, note=note,
    )  # fmt: skip


def _page(sheet: SheetSpec, layout: TargetLayout, words: _Words) -> SheetPage:
    x, y = layout.words_mm.tolist()
    small = f"{layout.key}   sheet {layout.sheet}"
    texts = [("Print at 100 %, no scaling", 2.0), ("Cut, then lift the small discs out", 2.0), (small, 1.7)]
    labels = [Label(text=text, x_mm=x, y_mm=y + 5.0 * (n - 1), size_mm=size) for n, (text, size) in enumerate(texts)]
    for ruler in rulers(layout):
        away = (14.0, 3.2) if ruler.start_mm[1] == ruler.end_mm[1] else (7.0, 6.0)
        at = ruler.start_mm[0] + away[0], ruler.start_mm[1] + away[1]
        labels.append(Label(text=f"{ruler.length_mm:g} mm", x_mm=at[0], y_mm=at[1], size_mm=1.8))
    round_parts = [polygon_of([ring]) for ring in discs(layout)]
    dark = [dark_area(layout), ruler_area(layout), *round_parts, *map(words.at, labels)]
    return _made(sheet, dark, cuts(layout))


def _comb_page(
    sheet: SheetSpec, combs: CombPlaces, key: str, number: int, correction: ErrorParts, words: _Words
) -> SheetPage:
    matrix = moved_matrix(correction, np.array(sheet.size_mm) / 2)
    lines = tuple(ring.placed(matrix) for ring in comb_cuts(combs))
    x, y = combs.places_mm[0]
    label = Label(text=f"{key} {number}", x_mm=x, y_mm=y + 18.0, size_mm=1.7)
    return _made(sheet, [comb_dark(combs), *map(words.at, (*comb_labels(combs), label))], lines)


def _common(sheet: SheetSpec, key: str, sheets: int, correction: ErrorParts) -> dict[str, Any]:
    width, height = sheet.size_mm
    return {
        "key": key,
        "sheets": sheets,
        "paper_width_mm": width,
        "paper_height_mm": height,
        "machine": sheet.machine.name,
        "printer": sheet.printer.name,
        "correction": correction,
    }


def _record(sheet: SheetSpec, layout: TargetLayout, sheets: int) -> dict[str, Any]:
    return {
        "kind": "picture",
        **_common(sheet, layout.key, sheets, layout.cut_moved_by),
        "printed_radius_mm": PRINTED_RADIUS_MM,
        "cut_radius_mm": CUT_RADIUS_MM,
        "places": [{"x_mm": x, "y_mm": y} for x, y in (layout.places_mm - layout.middle_mm).round(4).tolist()],
        "tags": [{"x_mm": x, "y_mm": y} for x, y in (layout.tags_mm - layout.middle_mm).round(4).tolist()],
        "rulers": list(rulers(layout)),
    }


def _comb_record(sheet: SheetSpec, combs: CombPlaces, key: str, sheets: int, correction: ErrorParts) -> dict[str, Any]:
    return {
        "kind": "eye",
        **_common(sheet, key, sheets, correction),
        "step_mm": STEP_MM,
        "places": [{"x_mm": x, "y_mm": y} for x, y in combs.from_middle.round(4).tolist()],
    }
