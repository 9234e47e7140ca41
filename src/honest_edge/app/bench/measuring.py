"""From pictures and readings to measured sheets, with what is to be said of them."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from honest_edge.core.measure.bench_error import contradicts
from honest_edge.core.measure.readings import Reading, sheet_read
from honest_edge.core.measure.sheet_error import fitted_error
from honest_edge.core.measure.target_picture import NO_TARGET, TargetPicture, measured_target
from honest_edge.core.values.errors import BlockedError, HonestEdgeError
from honest_edge.core.values.measured import MeasuredPlace, MeasuredSheet
from honest_edge.files.read_scan import Scan

_TURNED_DEG = 60.0
_SCALED, _SCAN_WITHIN = 0.012, 0.12
_APART_MM = 0.6


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PictureLook:
    """One picture with what was found in it.

    Attributes:
        scan: the picture.
        found: what it told; None where nothing could be measured.
        why: why not.
    """

    scan: Scan
    found: TargetPicture | None
    why: str = ""

    @property
    def shows_no_target(self) -> bool:
        """Whether nothing of a target is in it, so that it may show stickers."""
        return NO_TARGET in self.why


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Measured:
    """What came of some pictures, or readings.

    Attributes:
        sheets: that were measured.
        looks: the pictures, in the order they were given.
        warnings: what is to be said, each one sentence.
    """

    sheets: tuple[MeasuredSheet, ...]
    looks: tuple[PictureLook, ...] = ()
    warnings: tuple[str, ...] = ()


def looked_at(scan: Scan) -> PictureLook:
    """Measure one picture; what cannot be measured is said in words."""
    try:
        return PictureLook(scan=scan, found=measured_target(scan.grey, scan.name, ppi=scan.ppi))
    except BlockedError as error:
        return PictureLook(scan=scan, found=None, why=str(error))


def measured_pictures(
    looks: Sequence[PictureLook], within_mm: float, *, each: Callable[[int], object] = lambda _number: None
) -> Measured:
    """Return the sheets in pictures; several pictures of one sheet are one sheet.

    Args:
        looks: the pictures.
        within_mm: what is assumed of the bench, to say where a sheet contradicts it.
        each: told the number of sheets that are done.
    """
    warnings = [look.why for look in looks if look.found is None]
    groups: dict[str, list[PictureLook]] = {}
    for look in looks:
        if look.found is not None:
            layout = look.found.layout
            groups.setdefault(f"{layout.key}-{layout.sheet}", []).append(look)
    sheets = []
    for name, group in groups.items():
        try:
            sheet, said = _sheet(name, group)
        except HonestEdgeError as error:
            warnings.append(f"{_names(group)}: {error}")
            continue
        sheets.append(sheet)
        warnings += said
        each(len(sheets))
    return Measured(sheets=tuple(sheets), looks=tuple(looks), warnings=(*warnings, *said_of(sheets, within_mm)))


def _names(group: Sequence[PictureLook]) -> str:
    return " and ".join(look.scan.name for look in group)


def _sheet(name: str, group: Sequence[PictureLook]) -> tuple[MeasuredSheet, list[str]]:
    """Return one sheet by all pictures of it, and what is to be said."""
    seen = [look.found for look in group if look.found is not None]
    places = tuple(_mean([picture.places[index] for picture in seen]) for index in range(len(seen[0].places)))
    error, unsure, repeat_mm, freedom = fitted_error(places)
    is_scan = all(_is_scan(picture) for picture in seen)
    sheet = MeasuredSheet(
        picture=_names(group),
        by="scan" if is_scan else "photograph",
        error=error,
        unsure=unsure,
        repeat_mm=repeat_mm,
        degrees_of_freedom=freedom,
        places=places,
        sheet=name,
        correction=seen[0].layout.cut_moved_by,
    )
    return sheet, [f"{_names(group)}: {words}" for words in _said(sheet, seen)]


def _is_scan(picture: TargetPicture) -> bool:
    return picture.print_scale is not None and abs(picture.print_scale - 1) < _SCAN_WITHIN


def _said(sheet: MeasuredSheet, found: Sequence[TargetPicture]) -> list[str]:
    said = []
    left_out = [place for place in sheet.places if not place.used]
    if left_out:
        named = "; ".join(dict.fromkeys(place.why for place in left_out))
        said.append(f"{len(left_out)} of {len(sheet.places)} places are left out ({named})")
    turns = [picture.turn_deg for picture in found]
    if not any(abs(math.remainder(a - b - 180, 360)) < _TURNED_DEG for a in turns for b in turns):
        said.append(
            "the shadow of the cut edge may move all of it by up to 0.02 mm: a second picture of the sheet, turned by "
            "half a turn, takes that out"
        )
    scales = [p.print_scale for p in found if p.print_scale is not None and _is_scan(p)]
    grown = (sheet.error.scale_x_percent + sheet.error.scale_y_percent) / 200  # a photograph tells it by the cut
    printed = sum(scales) / len(scales) if scales else 1 / (1 + grown)
    if abs(printed - 1) > _SCALED:
        said.append(
            f"the target is printed at {100 * printed:.0f} % of its size: print it at 100 %, with no fitting to "
            "the page, and measure that one"
        )
    return said


def _mean(places: Sequence[MeasuredPlace]) -> MeasuredPlace:
    """Return one place by all pictures that show it."""
    used = [place for place in places if place.used]
    if not used:
        return places[0]
    across, down = (math.fsum(getattr(p, name) for p in used) / len(used) for name in ("dx_mm", "dy_mm"))
    return replace(used[0], dx_mm=across, dy_mm=down)


def measured_readings(
    readings: dict[str, tuple[Reading, ...]], places_mm: object, within_mm: float, *, key: str = ""
) -> Measured:
    """Return the sheets that were read by eye.

    Raises:
        BlockedError: no sheet has enough readings.
        UsageError: a place that the target does not have.
    """
    import numpy as np

    sheets, warnings = [], []
    for number, (title, read) in enumerate(readings.items(), 1):
        name = title or f"sheet {number}"
        sheet = sheet_read(read, np.asarray(places_mm, float), title=name, sheet=f"{key}-{name}" if key else "")
        sheets.append(sheet)
        doubtful = [place for place in sheet.places if "does not fit" in place.why]
        warnings += [f"{name}: place {_number(place, places_mm)}: {place.why}: read it again" for place in doubtful]
        if all(place.dx_mm == place.dy_mm == 0 for place in sheet.used):
            warnings.append(f"{name}: every reading is 0: that is rare; make sure that the combs were peeled and read")
    return Measured(sheets=tuple(sheets), warnings=(*warnings, *said_of(sheets, within_mm)))


def _number(place: MeasuredPlace, places_mm: object) -> int:
    import numpy as np

    away = np.hypot(*(np.asarray(places_mm, float) - (place.x_mm, place.y_mm)).T)
    return int(away.argmin()) + 1


ONE_SHEET = "One sheet tells where it lies, and nothing about how much sheets differ: measure two more"
"""What is to be said where a bench was measured on no other sheet."""


def said_of(sheets: Sequence[MeasuredSheet], within_mm: float) -> list[str]:
    """Return what is to be said of all sheets together."""
    said = [
        f"{sheet.picture} lies {math.hypot(sheet.of_the_bench.shift_x_mm, sheet.of_the_bench.shift_y_mm):.2f} mm off, "
        f"which contradicts the {within_mm:g} mm that is assumed: the measurement counts"
        for sheet in sheets
        if contradicts(sheet, within_mm)
    ]
    middles = [sheet.of_the_bench for sheet in sheets]
    apart = max((math.dist(a.values[:2], b.values[:2]) for a in middles for b in middles), default=0.0)
    if apart > _APART_MM:
        said.append(
            f"Sheets lie more than {_APART_MM:g} mm apart from each other: something moved between them, or one was "
            "loaded askew; find out which before you trust the mean"
        )
    return said
