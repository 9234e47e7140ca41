"""A picture of a printed sheet before it dries: what its marks and its strip say of the print."""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.app.run.conductor import Conductor
from honest_edge.app.run.loaded_look import grey_of
from honest_edge.core.measure.loaded_sheet import PlannedPage
from honest_edge.core.measure.print_look import PrintLook, print_look
from honest_edge.core.measure.print_strip import StripReading
from honest_edge.core.run.print_check import fitted_scale
from honest_edge.core.sheet.marks import marks_of
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.files.print_png import page_pixels
from honest_edge.files.read_scan import Scan
from honest_edge.files.typefaces import FontLibrary

_PPI = 200.0
SEEN_SCALE = 0.012
"""Shares of its size that a picture tells a print apart by: paper's edges are found to about a millimetre; a ruler is
truer."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PrintLooked:
    """What a picture says of a print.

    Attributes:
        wrong: what is wrong, with what to do, one sentence each.
        words: all of it.
    """

    wrong: tuple[str, ...]
    words: str


def look_at_print(conductor: Conductor, number: int, scan: Scan, fonts: FontLibrary) -> PrintLooked:
    """Return what a picture says of a printed sheet of a run.

    Args:
        conductor: the run.
        number: of the sheet.
        scan: the picture, in colour.
        fonts: for the sheet's sign.

    Raises:
        BlockedError: nothing is printed on this sheet, or it is not seen in the picture.
        FileError: what was sealed is not there any more.
    """
    seal = conductor.seal
    if conductor.page_bytes(conductor.state.sheet(number).page) is None or scan.rgb is None:
        raise BlockedError(f"Nothing of sheet {number} is printed from here: a picture of it tells nothing")
    printed = grey_of(page_pixels(conductor.print_bytes((number,), fonts), 0, _PPI))
    planned = PlannedPage(grey=printed, px_per_mm=_PPI / 25.4, size_mm=seal.sheet.size_mm, marks=marks_of(seal.sheet))
    strip = None if seal.strip_box_mm is None else Box(*seal.strip_box_mm)
    look = print_look(scan.rgb, planned, strip)
    if look is None:
        raise BlockedError(
            f"Sheet {number} is not seen in {scan.name}, or not its marks: take all of the paper from above, on "
            "something darker, or hold the ruler to it"
        )
    wrong = (*_scaled(look, seal.sheet), *(() if look.strip is None else _strip(look.strip)))
    return PrintLooked(wrong=wrong, words=" ".join(wrong) or _fine(look))


def _scaled(look: PrintLook, sheet: SheetSpec) -> list[str]:
    across, down = look.scale_x, look.scale_y
    if abs(across - 1) < SEEN_SCALE and abs(down - 1) < SEEN_SCALE:
        return []
    if abs(across - down) > SEEN_SCALE:
        return [f"It looks stretched: {100 * across:.1f} % across, {100 * down:.1f} % down. Hold the ruler to it."]
    fitted = abs((across + down) / 2 - fitted_scale(sheet)) < SEEN_SCALE
    why = ": the dialog fitted it to the page" if fitted else ""
    return [f"It looks printed at {50 * (across + down):.1f} %{why}. Print it again at 100 %, “fit to page” off."]


def _strip(strip: StripReading) -> list[str]:
    said = []
    if strip.weak:
        said.append(
            f"Too little ink: {', '.join(strip.weak)}. Clean the nozzles or change the cartridge, then print it again."
        )
    if strip.has_bands:
        said.append("It has bands: take the best quality and the paper kind of this stock, or align the print head.")
    if strip.has_gaps:
        said.append(f"{100 * strip.gone:.0f} % of the fine lines are missing: nozzles do not fire; clean them.")
    if strip.has_cast and not strip.weak:
        said.append("Grey is not grey: another paper kind is set in the driver, or an ink runs low.")
    return said


def _fine(look: PrintLook) -> str:
    size = f"{50 * (look.scale_x + look.scale_y):.1f} % of its size"
    if look.strip is None:
        return f"The print is {size}, as far as a picture tells; it has no strip that could tell more."
    return f"The print is {size}, as far as a picture tells: its inks, greys and fine lines are there, without bands."
