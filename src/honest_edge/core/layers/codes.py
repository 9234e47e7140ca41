"""Codes that a machine reads: dark modules on a light ground that is their quiet zone."""

from __future__ import annotations

from dataclasses import dataclass

import barcode
import barcode.errors
import numpy as np
import segno
import shapely

from honest_edge.core.geometry.paths import Floats, as_multipolygon
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.layers import Code

_QUIET = {
    "QR": (4, 4),  # ISO/IEC 18004 §6.3.8: four modules all round
    "Code 128": (10, 10),  # ISO/IEC 15417 §4.2.5: ten modules at either end
    "EAN-13": (11, 7),  # ISO/IEC 15420 §4.5.2: eleven modules left, seven right
}
_BARCODES = {"Code 128": "code128", "EAN-13": "ean13"}
LEAST_MODULE_MM = 0.25
"""Narrower bars and squares are not read reliably from a desktop print; common practice, no published source."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CodeArea:
    """A code round its own middle, millimetres.

    Attributes:
        dark: the modules.
        ground: the code with its quiet zone.
        module_mm: width of one module.
    """

    dark: shapely.MultiPolygon
    ground: shapely.MultiPolygon
    module_mm: float


def code_area(code: Code) -> CodeArea:
    """Return what a code covers.

    Raises:
        BlockedError: the text does not fit the kind of code.
    """
    rows = _modules(code)
    left, right = _QUIET[code.kind]
    count = rows.shape[1] + left + right
    module = code.width_mm / count
    down = module if code.kind == "QR" else code.height_mm
    around = left * module if code.kind == "QR" else 0.0
    height = rows.shape[0] * down + 2 * around
    corner = np.array([-code.width_mm / 2 + left * module, -height / 2 + around])
    ys, xs = np.nonzero(rows)
    # in steps of whole modules, whose sides meet exactly: then no crossings need be sought
    squares = shapely.coverage_union_all(shapely.box(xs, ys, xs + 1, ys + 1))
    dark = shapely.transform(squares, lambda points: points * (module, down) + corner)
    ground = shapely.box(-code.width_mm / 2, -height / 2, code.width_mm / 2, height / 2)
    return CodeArea(dark=as_multipolygon(dark), ground=as_multipolygon(ground), module_mm=module)


def _modules(code: Code) -> Floats:
    """Return the (rows, columns) modules, 1 where dark, without the quiet zone."""
    text = code.text.strip()
    if code.kind == "QR":
        try:
            return np.array([list(row) for row in segno.make(text, micro=False, error="m").matrix], np.float64)
        except (segno.DataOverflowError, ValueError) as error:
            raise BlockedError(f"A QR code cannot hold this text ({error}): shorten it") from None
    if code.kind == "EAN-13" and not (text.isdecimal() and text.isascii() and len(text) in (12, 13)):
        raise BlockedError(f"EAN-13 cannot say “{text[:30]}”: it is 12 or 13 digits")
    try:
        bars = barcode.get_barcode_class(_BARCODES[code.kind])(text).build()[0]
    except barcode.errors.BarcodeError as error:
        reason = str(error).rstrip(".")
        raise BlockedError(
            f"{code.kind} cannot say “{text[:30]}” ({reason}): use plain letters, digits and signs"
        ) from None
    if code.kind == "EAN-13" and len(text) == 13 and text != str(barcode.get_barcode_class("ean13")(text)):
        right = str(barcode.get_barcode_class("ean13")(text))[-1]
        raise BlockedError(f"The last digit of {text} should be {right}: check the number")
    return np.array([[bar == "1" for bar in bars]], np.float64)
