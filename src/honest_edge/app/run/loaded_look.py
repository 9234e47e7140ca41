"""A picture of a sheet on its carrier, before it goes in: is it this sheet, the right way round, with all its marks?"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from honest_edge.app.output.print_notes import sign_area
from honest_edge.app.run.conductor import Conductor
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.measure.loaded_sheet import (
    MOST_ASKEW_DEG,
    LoadedSheet,
    PlannedPage,
    Turn,
    loaded_sheet,
    sign_alike,
)
from honest_edge.core.sheet.marks import Mark, marks_of
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.machine import Side
from honest_edge.files.print_png import page_pixels
from honest_edge.files.read_scan import Scan
from honest_edge.files.typefaces import FontLibrary

Which = Literal["this", "unsure", "other"]

_PPI = 200.0
_PX_MM = _PPI / 25.4
_SIGN_PX_MM = 8.0
TURN_OF: dict[Side, Turn] = {"top": 0, "left": 90, "bottom": 180, "right": 270}
"""How the sheet's top is turned where that side of the paper is at the top of the picture."""

_LEAST_ALIKE, _CLEARLY, _SURELY_OTHER = 0.86, 0.03, 0.8
"""How alike a sign is to what it should be; found on simulated photographs: its own 0.9 and more, those of other runs
below 0.78, those of other sheets of the run below its own by 0.07 and more."""


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadedLook:
    """What a picture says of a sheet that is to go in.

    Attributes:
        which: whether it is the sheet that is asked for.
        wrong: what is wrong, with what to do, one sentence each; the worst first.
        words: all of it.
    """

    which: Which
    wrong: tuple[str, ...]
    words: str

    @property
    def is_fine(self) -> bool:
        """Whether it is this sheet, and nothing is wrong with how it lies."""
        return self.which == "this" and not self.wrong


def look_at_loaded(conductor: Conductor, number: int, scan: Scan, fonts: FontLibrary) -> LoadedLook:
    """Return what a picture shows of a sheet of a run.

    Args:
        conductor: the run.
        number: of the sheet that is to go in.
        scan: the picture, taken from above with the edge that goes in first at its top.
        fonts: for the sheet's sign.

    Raises:
        BlockedError: nothing is printed on this sheet.
        FileError: what was sealed is not there any more.
    """
    page = conductor.state.sheet(number).page
    printed = conductor.page_bytes(page)
    if printed is None:
        raise BlockedError(f"Nothing of sheet {number} is printed from here: a picture of it tells nothing")
    numbers = [number, *(one.number for one in conductor.state.sheets if one.number != number)]
    box, seal = conductor.seal.sign_box_mm, conductor.seal
    signs = [] if box is None else [sign_picture(conductor.sign(one), Box(*box), fonts) for one in numbers]
    grey = grey_of(page_pixels(*printed, _PPI))
    planned = PlannedPage(grey=grey, px_per_mm=_PX_MM, size_mm=seal.sheet.size_mm, marks=_marks(conductor))
    seen = loaded_sheet(scan.grey, planned)
    if seen is None:
        return LoadedLook(which="other", wrong=(_UNSEEN.format(number=number),), words=_UNSEEN.format(number=number))
    which = "unsure" if box is None else _which(scan.grey, seen, Box(*box), signs)
    wrong = tuple(_wrong(seen, which, number, planned, seal.sheet.machine.feed_side))
    return LoadedLook(which=which, wrong=wrong, words=_told(seen, which, number, wrong))


_UNSEEN = (
    "Sheet {number} is not seen in this picture: it may lie face down, be another sheet, or be cut off. Take the whole "
    "carrier from above, sharp, without flash"
)


def _marks(conductor: Conductor) -> tuple[Mark, ...]:
    return () if conductor.seal.sheet.machine.prints_own_marks else marks_of(conductor.seal.sheet)


def grey_of(pixels: Bytes) -> Bytes:
    """Return blue, green and red as the grey that a camera's picture becomes."""
    return np.asarray(cv2.cvtColor(np.ascontiguousarray(pixels[..., :3]), cv2.COLOR_BGR2GRAY), np.uint8)


def sign_picture(sign: str, box: Box, fonts: FontLibrary) -> Bytes:
    """Return a sheet's sign in its box as grey levels, ``_SIGN_PX_MM`` fine."""
    over = 4
    fine = over * _SIGN_PX_MM
    ink = np.full((round(box.height * fine), round(box.width * fine)), 255, np.uint8)
    for part in sign_area(sign, box, fonts).geoms:
        rings = [part.exterior, *part.interiors]
        corner = (box.left, box.top)
        cv2.fillPoly(ink, [np.round((np.array(r.coords) - corner) * fine - 0.5).astype(np.int32) for r in rings], 0)
    size = round(box.width * _SIGN_PX_MM), round(box.height * _SIGN_PX_MM)
    return np.asarray(cv2.resize(ink, size, interpolation=cv2.INTER_AREA), np.uint8)


def _which(picture: Bytes, seen: LoadedSheet, box: Box, signs: Sequence[Bytes]) -> Which:
    """Return whether the sign is that of the first: surely, surely not, or neither."""
    alike, *others = (sign_alike(picture, seen.to_picture, box, sign, _SIGN_PX_MM) for sign in signs)
    if max(others, default=0.0) >= alike + _CLEARLY or alike < _SURELY_OTHER:
        return "other"
    return "this" if alike >= _LEAST_ALIKE and alike - max(others, default=0.0) >= _CLEARLY else "unsure"


def _wrong(seen: LoadedSheet, which: Which, number: int, planned: PlannedPage, feed_side: Side) -> list[str]:
    wrong = []
    if which == "other" or not seen.is_surely_alike:
        wrong.append(f"This is not sheet {number}, or its sign is covered: read what is printed at its foot.")
    elif which == "unsure":
        wrong.append(f"It looks like sheet {number}, but its sign cannot be read: read what is printed at its foot.")
    if seen.turn != TURN_OF[feed_side]:
        lies = {0: "its top first", 90: "its left side first", 180: "its bottom first", 270: "its right side first"}
        wrong.append(f"It lies with {lies[seen.turn]}; its {feed_side} edge goes in first, at the top of the picture.")
    hidden = [mark.name for mark, ink in zip(planned.marks, seen.marks, strict=True) if ink == "hidden"]
    pale = [mark.name for mark, ink in zip(planned.marks, seen.marks, strict=True) if ink == "pale"]
    if hidden:
        wrong.append(f"A mark is clipped or covered: {', '.join(hidden)}. Clear it, or print the sheet again.")
    if pale:
        wrong.append(f"A mark is pale: {', '.join(pale)}. Print it darker, or go over it with a black pen and a ruler.")
    if seen.askew_deg is not None and abs(seen.askew_deg) > MOST_ASKEW_DEG:
        wrong.append(f"It lies askew by {abs(seen.askew_deg):.1f}°: lay it square to the carrier’s lines.")
    if seen.lifted:
        wrong.append(f"Its edge does not run straight: {', '.join(seen.lifted)}. Press it down, or tape it.")
    return wrong


def _told(seen: LoadedSheet, which: Which, number: int, wrong: Sequence[str]) -> str:
    if not wrong:
        return _fine(seen, number)
    return " ".join((f"It is sheet {number}.", *wrong) if which == "this" and seen.is_surely_alike else wrong)


def _fine(seen: LoadedSheet, number: int) -> str:
    askew = "" if seen.askew_deg is None else f", askew by {abs(seen.askew_deg):.1f}°"
    marks = f", {len(seen.marks)} marks whole and dark" if seen.marks else ""
    return (
        f"It is sheet {number}, the right way round{marks}, its edges flat{askew}. A picture tells no more than that."
    )
