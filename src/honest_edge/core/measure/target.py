"""The target for a picture: printed discs with a smaller disc cut inside each, tags that tell how the sheet lies.

Both edges border the same ink, so that what the ink spreads on paper is the same all round and the centres stay.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, fields, replace

import numpy as np
import shapely

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.sheet.media import Box
from honest_edge.core.sheet.space import SheetSpace, space_of
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.measured import ErrorParts, parts_of
from honest_edge.core.values.sheet import SheetSpec

PRINTED_RADIUS_MM, CUT_RADIUS_MM = 5.0, 3.0
TAG_MM, QR_MM = 14.0, 26.0
TAG_IDS = (0, 1, 2, 3)
"""Of the family 36h11: top left, top right, bottom right, bottom left."""

LEAST_PLACES, MOST_PLACES, USUAL_PLACES = 9, 30, 12
_AIR_MM, _STEP_MM, _FINE = 2.0, 0.1, 1e-4
_START = "HE1"


@dataclass(frozen=True, slots=True, kw_only=True)
class TargetLayout:
    """What says where everything of a target stands; its QR code carries it. Tenths of a millimetre where not said.

    Attributes:
        key: names the sheet of paper's job, eight capitals and digits.
        sheet: number of the sheet, from 1.
        width, height: of the paper.
        left, top, right, bottom: of the grid of places.
        columns, rows: counts of places.
        corner: how far the places in the corners are moved inward along y, off the marks.
        correction: what the cut file is moved by, in ten thousandths of mm, degrees and percent; empty for nothing.
    """

    key: str
    sheet: int
    width: int
    height: int
    left: int
    top: int
    right: int
    bottom: int
    columns: int
    rows: int
    corner: int
    correction: tuple[int, ...] = ()

    @property
    def code(self) -> str:
        """The text of its QR code: capitals, digits and dashes, which make it small."""
        plain = (str(getattr(self, name)) for name in _PLAIN)
        return "-".join((_START, *plain, *(str(value).replace("-", "N") for value in self.correction)))

    @property
    def cut_moved_by(self) -> ErrorParts:
        """What the cut file is moved by."""
        return parts_of(value * _FINE for value in self.correction) if self.correction else ErrorParts()

    @property
    def middle_mm(self) -> Floats:
        """The marks' middle, on the sheet."""
        return np.array([self.width, self.height]) * _STEP_MM / 2

    @property
    def places_mm(self) -> Floats:
        """(n, 2) middles of the discs on the sheet, row by row."""
        xs, ys = (np.linspace(a, b, n) * _STEP_MM for a, b, n in (
            (self.left, self.right, self.columns), (self.top, self.bottom, self.rows)))  # fmt: skip
        x, y = np.meshgrid(xs, ys)
        move = self.corner * _STEP_MM
        y[0, [0, -1]] += move
        y[-1, [0, -1]] -= move
        return np.stack([x.ravel(), y.ravel()], 1)

    @property
    def cell_mm(self) -> tuple[float, float]:
        """From one place to the next, across and down."""
        return (
            (self.right - self.left) / (self.columns - 1) * _STEP_MM,
            (self.bottom - self.top) / (self.rows - 1) * _STEP_MM,
        )

    @property
    def tags_mm(self) -> Floats:
        """(4, 2) middles of the tags, in the order of ``TAG_IDS``: in the middle of the corner cells."""
        across, down = self.cell_mm
        left, right = self.left * _STEP_MM + across / 2, self.right * _STEP_MM - across / 2
        top, bottom = self.top * _STEP_MM + down / 2, self.bottom * _STEP_MM - down / 2
        return np.array([(left, top), (right, top), (right, bottom), (left, bottom)])

    @property
    def qr_mm(self) -> Floats:
        """(2,) middle of the QR code: between the upper tags."""
        return np.asarray(self.tags_mm[:2].mean(0))

    @property
    def words_mm(self) -> Floats:
        """(2,) middle of the words: between the lower tags."""
        return np.asarray(self.tags_mm[2:].mean(0))


_PLAIN = tuple(field.name for field in fields(TargetLayout) if field.name != "correction")


def layout_in(code: str) -> TargetLayout | None:
    """Return the layout that a QR code's text tells; None where it is another code."""
    parts = code.strip().split("-")
    plain, moved = parts[1 : 1 + len(_PLAIN)], parts[1 + len(_PLAIN) :]
    if parts[0] != _START or len(plain) != len(_PLAIN) or len(moved) not in (0, 5):
        return None
    if not re.fullmatch(r"[0-9A-Z]{8}", plain[0]) or not all(re.fullmatch(r"\d{1,6}", part) for part in plain[1:]):
        return None
    if not all(re.fullmatch(r"N?\d{1,6}", part) for part in moved):
        return None
    layout = TargetLayout(
        key=plain[0],
        **dict(zip(_PLAIN[1:], map(int, plain[1:]), strict=True)),
        correction=tuple(int(part.replace("N", "-")) for part in moved),
    )
    count = layout.columns * layout.rows
    is_sound = layout.columns > 1 and layout.rows > 1 and count <= MOST_PLACES and layout.left < layout.right
    return layout if is_sound and layout.top < layout.bottom else None


def target_layout(
    sheet: SheetSpec,
    key: str,
    *,
    number: int = 1,
    places: int = USUAL_PLACES,
    correction: ErrorParts = ErrorParts(),  # noqa: B008 it is frozen
) -> TargetLayout:
    """Return a target as large as a sheet lets it be.

    Raises:
        BlockedError: it has no room, or the marks have none.
        UsageError: too few places, or too many.
    """
    if not LEAST_PLACES <= places <= MOST_PLACES:
        raise UsageError(f"A target has {LEAST_PLACES} to {MOST_PLACES} places; {places} were asked for")
    room = space_of(sheet)
    width, height = sheet.size_mm
    inner = room.usable.grown(-(PRINTED_RADIUS_MM + _AIR_MM))
    layouts = [tried for columns, rows in _grids(places)
             if (tried := _laid(room, inner, (width, height), key, number, columns, rows)) is not None]  # fmt: skip
    if not layouts:
        raise BlockedError(
            f"A target of {places} places does not fit {sheet.paper_title} with these marks: "
            "ask for fewer places, or take a larger paper"
        )
    moved = () if correction.is_none else tuple(round(value / _FINE) for value in correction.values)
    return replace(max(layouts, key=lambda layout: min(layout.cell_mm)), correction=moved)


def _grids(places: int) -> Iterator[tuple[int, int]]:
    """Yield columns and rows that make just so many places, or the fewest that are more."""
    for count in range(places, MOST_PLACES + 1):
        ways = [(c, count // c) for c in range(3, count // 3 + 1) if count % c == 0 and 0.3 < c / (count // c) < 3]
        if ways:
            yield from ways
            return


def _laid(
    room: SheetSpace, inner: Box, size: tuple[float, float], key: str, number: int, columns: int, rows: int
) -> TargetLayout | None:
    left, top, right, bottom = (round(edge / _STEP_MM) for edge in inner)
    if right <= left or bottom <= top:
        return None
    for corner in range(0, (bottom - top) // (2 * max(2, rows)), 5):
        layout = TargetLayout(
            key=key, sheet=number, width=round(size[0] / _STEP_MM), height=round(size[1] / _STEP_MM),
            left=left, top=top, right=right, bottom=bottom, columns=columns, rows=rows, corner=corner,
        )  # fmt: skip
        if not _collide(layout, room):
            return layout
    return None


def parts_boxes(layout: TargetLayout) -> list[Box]:
    """Return the boxes of everything that is read in a picture, with the air round it."""
    reach = PRINTED_RADIUS_MM + _AIR_MM
    discs = [_round_box(place, reach) for place in layout.places_mm]
    tags = [_round_box(tag, TAG_MM / 2 + _AIR_MM) for tag in layout.tags_mm]
    return [*discs, *tags, _round_box(layout.qr_mm, QR_MM / 2)]


def _collide(layout: TargetLayout, room: SheetSpace) -> bool:
    boxes = [*parts_boxes(layout), *room.keep_outs]
    tree = shapely.STRtree([shapely.box(*box) for box in boxes])
    one, other = tree.query(tree.geometries, predicate="intersects")
    return any(boxes[a].overlaps(boxes[b]) for a, b in zip(one.tolist(), other.tolist(), strict=True) if a < b)


def _round_box(middle: Iterable[float], reach: float) -> Box:
    x, y = (float(value) for value in middle)
    return Box(x - reach, y - reach, x + reach, y + reach)


@dataclass(frozen=True, slots=True, kw_only=True)
class Ruler:
    """A printed line to lay a ruler against, which alone tells the printer's own scale.

    Attributes:
        start_mm, end_mm: its ends on the sheet.
        length_mm: from end to end, whole tens.
    """

    start_mm: tuple[float, float]
    end_mm: tuple[float, float]
    length_mm: float


def rulers(layout: TargetLayout) -> tuple[Ruler, ...]:
    """Return a line across and one down, as long as there is room for, between everything else."""
    boxes = [*parts_boxes(layout), _words_box(layout)]
    left, top, right, bottom = (value * _STEP_MM for value in (layout.left, layout.top, layout.right, layout.bottom))
    lines = []
    for is_across, low, high, start, end in ((True, top, bottom, left, right), (False, left, right, top, bottom)):
        length = math.floor((end - start) / 10) * 10.0
        for at in sorted(np.arange(low, high, 1.0), key=lambda v: abs(v - (low + high) / 2)):
            line = (
                Box(start, at - 1.5, start + length, at + 1.5)
                if is_across
                else Box(at - 1.5, start, at + 1.5, start + length)
            )
            if not any(box.overlaps(line) for box in boxes):
                ends = ((start, at), (start + length, at)) if is_across else ((at, start), (at, start + length))
                lines.append(Ruler(start_mm=_pair(ends[0]), end_mm=_pair(ends[1]), length_mm=length))
                break
    return tuple(lines)


def _pair(place: tuple[float, float]) -> tuple[float, float]:
    return round(float(place[0]), 3), round(float(place[1]), 3)


def _words_box(layout: TargetLayout) -> Box:
    x, y = layout.words_mm.tolist()
    return Box(x - 22, y - 9, x + 22, y + 9)
