"""A scan or a photograph of a target that was printed, cut and weeded: where every cut disc lies against its print.

Tags give a rough map; at each place both edges are found by themselves, and what is told is only how far one lies
from the other, so that a scanner's wander, a lens or a curl of the paper cancels.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.measure.bent import Mapping, bent, projective
from honest_edge.core.measure.disc_edges import DiscEdges, disc_edges
from honest_edge.core.measure.tags import found_tags, tag_corners
from honest_edge.core.measure.target import LEAST_PLACES, TAG_IDS, TAG_MM, TargetLayout, layout_in
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.measured import MeasuredPlace

NO_TARGET = "shows no target of Honest Edge"
_TAG_SEARCH_PX = 2200
_DUSTY = (5, 9)
"""Widths of the medians that take specks out, in pixels of the smaller copy; a module of a tag has ten and more."""
_CORNER_NAMES = ("top left", "top right", "bottom right", "bottom left")
_MOST_SOFT_MM, _MOST_SOFT_SHARE = 0.45, 0.5
_FLAT_LEVELS = 0.35  # paper and ink of a scan vary by more; a drawn picture does not
_SHARE_NEEDED = 0.5
_MOST_STRAY_MM = 2.0
_MOST_BENDS, _LEAST_BENT, _LEAST_CUBIC, _STRAIGHT_MM = 3, 7, 10, 0.3
_MOST_AWAY_MM = 0.8  # scanners that wander, simulated, come to 0.3


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class TargetPicture:
    """What one picture told.

    Attributes:
        layout: of the target.
        places: where the cut lies against the print, place by place.
        px_per_mm: how fine the picture is.
        turn_deg: by how much the sheet lies turned in it, clockwise.
        corners_px: (4, 2) the sheet's corners in it, from the top left, clockwise.
        print_scale: how long the print is, by the resolution that the picture states; None where it states none.
    """

    layout: TargetLayout
    places: tuple[MeasuredPlace, ...]
    px_per_mm: float
    turn_deg: float
    corners_px: Floats
    print_scale: float | None


def measured_target(grey: Bytes, name: str, *, ppi: float | None = None) -> TargetPicture:
    """Measure the one target in a picture.

    Args:
        grey: (h, w) the picture.
        name: of the picture, for messages.
        ppi: what a scan states; None for a photograph.

    Raises:
        BlockedError: nothing could be measured; says why.
    """
    _refuse_dark(grey, name)
    tags = _tags(grey, name)
    layout = _layout(grey, tags, name)
    middles, corners = layout.tags_mm, np.concatenate([tags[number] for number in TAG_IDS])
    known = np.concatenate([tag_corners(middle, TAG_MM) for middle in middles])
    homography = cv2.findHomography(known, corners, 0)[0]
    matrix = np.eye(3) if homography is None else np.asarray(homography, np.float64)
    if homography is None or not _fits(matrix, known, corners):
        raise BlockedError(f"{name}: the tags do not lie as on this target: lay the sheet flat and take it again")
    to_pixels = projective(matrix)
    scale = _scale_at(to_pixels, layout.middle_mm)
    if scale < 3.0:
        raise BlockedError(
            f"{name} has {scale * 25.4:.0f} pixels an inch of the sheet, too few: scan at 150 or more, or go nearer"
        )
    edges = [disc_edges(grey, place, to_pixels, scale) for place in layout.places_mm]
    if ppi is not None:
        _refuse_other_places(edges, name)
    for _ in range(_MOST_BENDS):
        better = _bent(to_pixels, layout, edges)
        if better is None:
            break
        to_pixels = better  # a lens or a curl: look again where the discs then are
        edges = [disc_edges(grey, place, to_pixels, scale) for place in layout.places_mm]
    _refuse(edges, grey, to_pixels, layout, name)
    places = _compared(layout, edges)
    across = to_pixels(layout.tags_mm[[0, 1]])
    turn = float(np.degrees(np.arctan2(across[1, 1] - across[0, 1], across[1, 0] - across[0, 0])))
    size = np.array([layout.width, layout.height]) / 10
    return TargetPicture(
        layout=layout,
        places=places,
        px_per_mm=scale,
        turn_deg=turn,
        corners_px=to_pixels(np.array([(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)]) * size),
        print_scale=None if ppi is None else scale * 25.4 / ppi,
    )


def _refuse_dark(grey: Bytes, name: str) -> None:
    small = grey[:: max(1, grey.shape[0] // 400), :: max(1, grey.shape[1] // 400)]
    if float(np.quantile(small, 0.98)) < 60:
        raise BlockedError(f"{name} is black: give it more light, or lay the sheet face down on the scanner")


def _tags(grey: Bytes, name: str) -> dict[int, Floats]:
    """Return the corners of the four tags, found in a smaller copy and made exact in the picture itself."""
    share = max(1.0, max(grey.shape) / _TAG_SEARCH_PX)
    small = grey if share == 1.0 else cv2.resize(grey, None, fx=1 / share, fy=1 / share, interpolation=cv2.INTER_AREA)
    tags_seen = found_tags(np.asarray(small, np.uint8))
    for width in _DUSTY:  # a speck on a tag's rim hides it: look again with specks taken out
        if len({number for number, _ in tags_seen} & set(TAG_IDS)) in (0, len(TAG_IDS)):
            break
        seen = {number for number, _ in tags_seen}
        tags_seen += [
            one for one in found_tags(np.asarray(cv2.medianBlur(small, width), np.uint8)) if one[0] not in seen
        ]
    numbers = [number for number, _ in tags_seen]
    if any(numbers.count(number) > 1 for number in TAG_IDS):
        raise BlockedError(f"{name} shows two targets: take one sheet a picture")
    tags = {
        number: np.asarray((corners + 0.5) * share - 0.5, np.float64)
        for number, corners in tags_seen
        if number in TAG_IDS
    }
    if not tags:
        raise BlockedError(f"{name} {NO_TARGET}: print one here, cut it, lift the small discs out and scan it")
    lacking = [_CORNER_NAMES[index] for index, number in enumerate(TAG_IDS) if number not in tags]
    if lacking:
        raise BlockedError(
            f"{name}: the tag {' and the tag '.join(lacking)} cannot be read: the whole sheet must be in the picture, "
            "sharp, flat and evenly lit"
        )
    return tags


def _layout(grey: Bytes, tags: dict[int, Floats], name: str) -> TargetLayout:
    """Read the QR code between the upper tags, straightened."""
    import zxingcpp

    upper = np.array([tags[0].mean(0), tags[1].mean(0)])
    side = float(np.linalg.norm(tags[0][1] - tags[0][0]))
    across = (upper[1] - upper[0]) / np.linalg.norm(upper[1] - upper[0])
    down = (tags[0][3] - tags[0][0]) / np.linalg.norm(tags[0][3] - tags[0][0])
    middle, reach, wide = upper.mean(0), 1.35 * side, 520
    corners = np.array(
        [middle - reach * (across + down), middle + reach * (across - down), middle + reach * (across + down)]
    )
    matrix = cv2.getAffineTransform(corners.astype(np.float32), np.array([(0, 0), (wide, 0), (wide, wide)], np.float32))
    straight = cv2.warpAffine(grey, matrix, (wide, wide), flags=cv2.INTER_LINEAR, borderValue=255)
    for picture in (straight, cv2.GaussianBlur(straight, (0, 0), 1.5), cv2.medianBlur(straight, 5), grey):
        for code in zxingcpp.read_barcodes(picture, formats=zxingcpp.BarcodeFormats(zxingcpp.BarcodeFormat.QRCode)):
            layout = layout_in(code.text)
            if layout is not None:
                return layout
    raise BlockedError(
        f"{name}: the QR code between the upper tags cannot be read, or is no target’s: wipe dust off, take it sharper"
    )


def _bent(to_pixels: Mapping, layout: TargetLayout, edges: Sequence[DiscEdges]) -> Mapping | None:
    """Return the map bent so that the printed discs lie where they were found; None where it was straight enough."""
    known = [
        (place, edge.printed_mm)
        for place, edge in zip(layout.places_mm, edges, strict=True)
        if edge.printed_mm is not None
    ]
    if len(known) < _LEAST_BENT:
        return None
    places, off = np.array([place for place, _ in known]), np.array([moved for _, moved in known])
    if len(known) == len(edges) and np.hypot(*off.T).max() < _STRAIGHT_MM:
        return None
    tags, order = layout.tags_mm, 3 if len(known) >= _LEAST_CUBIC else 2
    every, moved = np.concatenate([places, tags]), np.concatenate([off, np.zeros_like(tags)])
    return bent(to_pixels, every, moved, layout.middle_mm, order=order)


def _scale_at(to_pixels: Mapping, place: Floats) -> float:
    a, b, c = to_pixels(place + np.array([(0.0, 0.0), (1.0, 0.0), (0.0, 1.0)]))
    (ax, ay), (bx, by) = b - a, c - a
    return float(np.sqrt(abs(ax * by - ay * bx)))


def _fits(matrix: Floats, known: Floats, corners: Floats) -> bool:
    to_pixels = projective(matrix)
    stray = np.linalg.norm(to_pixels(known) - corners, axis=1).max()
    is_mirrored = np.linalg.det(matrix[:2, :2]) < 0
    return bool(not is_mirrored and stray < _MOST_STRAY_MM * _scale_at(to_pixels, known.mean(0)))


def _refuse_other_places(edges: Sequence[DiscEdges], name: str) -> None:
    """Refuse a scan whose discs do not lie where the sheet's own code says; a photograph bends more than that."""
    away_mm = max((float(np.hypot(*edge.printed_mm)) for edge in edges if edge.printed_mm is not None), default=0.0)
    if away_mm > _MOST_AWAY_MM:
        raise BlockedError(
            f"{name}: a printed disc lies {away_mm:.1f} mm from where the sheet’s own code says: the code is of "
            "another sheet, or the paper is torn or folded"
        )


def _refuse(edges: Sequence[DiscEdges], grey: Bytes, to_pixels: Mapping, layout: TargetLayout, name: str) -> None:
    """Refuse what is no weeded target on paper."""
    printed = [edge for edge in edges if edge.printed_mm is not None]
    if len(printed) < _SHARE_NEEDED * len(edges):
        raise BlockedError(f"{name}: most printed discs cannot be found: this is another target, or it is too blurred")
    if float(np.median([edge.softness_mm for edge in printed])) > _MOST_SOFT_MM:
        raise BlockedError(f"{name} is too blurred to measure: hold still, focus, or scan it")
    if _is_drawn(grey, to_pixels, layout):
        raise BlockedError(
            f"{name} is a picture of the file, not of paper: print it, cut it, then scan or photograph it"
        )
    there = [edge for edge in edges if edge.cut_mm is not None]
    unlifted = sum(edge.why.startswith("no small disc") for edge in edges)
    if unlifted > len(edges) - max(LEAST_PLACES // 2, int(_SHARE_NEEDED * len(edges))):
        raise BlockedError(
            f"{name}: in {unlifted} of {len(edges)} places no small disc is lifted out, or what lies under it is dark: "
            "weed them, and lay white paper behind"
        )
    if len(there) < _SHARE_NEEDED * len(edges):
        raise BlockedError(
            f"{name}: only {len(there)} of {len(edges)} places are clear: brush dust off and take it again"
        )


def _is_drawn(grey: Bytes, to_pixels: Mapping, layout: TargetLayout) -> bool:
    """Whether the paper beside the discs varies less than any paper that was scanned or photographed."""
    rough = []
    for place in layout.places_mm:
        x, y = to_pixels((place + np.array([8.0, 0.0]))[None])[0]
        half = 6
        patch = grey[int(y) - half : int(y) + half, int(x) - half : int(x) + half]
        if patch.size:
            rough.append(float(patch.std()))
    return bool(rough) and float(np.median(rough)) < _FLAT_LEVELS


def _compared(layout: TargetLayout, edges: Sequence[DiscEdges]) -> tuple[MeasuredPlace, ...]:
    """Return d = J^-1 (C - P) at each place, J from the printed middles round it."""
    nominal = layout.places_mm
    have = np.array([edge.printed_mm is not None for edge in edges])
    printed = np.array([edge.printed_mm if edge.printed_mm is not None else (np.nan, np.nan) for edge in edges])
    places = []
    for place, edge in zip(nominal, edges, strict=True):
        x, y = (place - layout.middle_mm).tolist()
        if edge.printed_mm is None or edge.cut_mm is None:
            places.append(MeasuredPlace(x_mm=x, y_mm=y, dx_mm=np.nan, dy_mm=np.nan, used=False, why=edge.why))
            continue
        moved = np.linalg.solve(_local_map(place, nominal[have], printed[have]), edge.cut_mm - edge.printed_mm)
        places.append(MeasuredPlace(x_mm=x, y_mm=y, dx_mm=float(moved[0]), dy_mm=float(moved[1])))
    return tuple(places)


def _local_map(place: Floats, nominal: Floats, printed: Floats) -> Floats:
    """Return (2, 2) how the frame of the tags stretches round a place, by the printed middles near it."""
    away = nominal - place
    reach = np.sort(np.hypot(*away.T))[min(5, len(away) - 1)]
    weight = np.exp(-np.square(away).sum(1) / (2 * reach**2))
    matrix = np.column_stack([np.ones(len(away)), away])
    root = np.sqrt(weight)[:, None]
    slope = np.linalg.lstsq(matrix * root, printed * root, rcond=None)[0][1:]
    return np.asarray(np.eye(2) + slope.T)
