"""A system printer that is given sheets at exactly their own size."""

from __future__ import annotations

import ctypes
from collections.abc import Callable
from pathlib import Path
from typing import cast

from PyQt6.QtCore import QMarginsF, QRectF, QSizeF
from PyQt6.QtGui import QImage, QPageLayout, QPageSize, QPainter
from PyQt6.QtPrintSupport import QPrintEngine, QPrinter, QPrinterInfo

from honest_edge.core.values.errors import Cancelled, DeviceError
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.units import Unit
from honest_edge.files.print_png import page_pixels
from honest_edge.ui.widgets.local import shown_length

_MOST_PPI = 600
_FIRST_ERROR = 0x0400
"""Status codes from here on are errors (RFC 8011 §B)."""
_SAME_MM = 1.0
_SPOOLER_OPTIONS = QPrintEngine.PrintEnginePropertyKey(0xFE00)
"""Where Qt keeps names and values for CUPS (PPK_CupsOptions of its qcups_p.h)."""
_UNSCALED = {"print-scaling": "none", "number-up": "1"}
"""IPP job attributes: print-scaling of PWG 5100.13, number-up of RFC 8011 §5.2.9."""


def printer_for(sheet: SheetSpec, title: str, folder: Path) -> QPrinter:
    """Return the system's usual printer, or a file in ``folder``, set to the sheet's paper without margins."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setDocName(title)
    printer.setCreator("Honest Edge")
    printer.setFullPage(True)
    printer.setPageLayout(_layout(sheet))
    if not is_device(printer):
        printer.setOutputFileName(str(folder / f"{title}.pdf"))
    return printer


def is_device(printer: QPrinter) -> bool:
    """Return whether this is a printer and not a file."""
    return printer.outputFormat() == QPrinter.OutputFormat.NativeFormat


def _layout(sheet: SheetSpec) -> QPageLayout:
    width_mm, height_mm = sheet.size_mm
    upright = QSizeF(min(width_mm, height_mm), max(width_mm, height_mm))
    size = QPageSize(upright, QPageSize.Unit.Millimeter, sheet.paper_title, QPageSize.SizeMatchPolicy.FuzzyMatch)
    lies = width_mm > height_mm
    orientation = QPageLayout.Orientation.Landscape if lies else QPageLayout.Orientation.Portrait
    layout = QPageLayout(size, orientation, QMarginsF(0, 0, 0, 0))
    layout.setMode(QPageLayout.Mode.FullPageMode)
    return layout


def obstacle(printer: QPrinter, sheet: SheetSpec, unit: Unit) -> str | None:
    """Return why nothing can be sent to a printer as the dialog left it, or None."""
    name = printer.printerName()
    if not is_device(printer) and Path(printer.outputFileName()).is_dir():
        return "No file was named: name one, or connect a printer and choose it; nothing was printed"
    if is_device(printer) and QPrinterInfo.printerInfo(name).isNull():
        return f"The printer “{name}” is gone: switch it on or choose another one; nothing was printed"
    paper = printer.pageLayout().fullRect(QPageLayout.Unit.Millimeter)
    width_mm, height_mm = sheet.size_mm
    if abs(paper.width() - width_mm) > _SAME_MM or abs(paper.height() - height_mm) > _SAME_MM:
        set_to = " × ".join(shown_length(side, unit) for side in (paper.width(), paper.height()))
        needed = " × ".join(shown_length(side, unit) for side in sheet.size_mm)
        return (
            f"The printer is set to {set_to}, the sheets are {needed} ({sheet.paper_title}): choose that paper in the "
            "printer’s properties, or another one here; nothing was printed"
        )
    return None


def wanted_pages(printer: QPrinter, count: int) -> tuple[int, ...]:
    """Return which of ``count`` pages the dialog asked for, counted from 0."""
    ranges = printer.pageRanges()
    if printer.printRange() == QPrinter.PrintRange.AllPages or ranges.isEmpty():
        return tuple(range(count))
    return tuple(number for number in range(count) if ranges.contains(number + 1))


def send(
    printer: QPrinter,
    print_file: bytes,
    count: int,
    *,
    report: Callable[[float, str], None],
    cancelled: Callable[[], bool],
) -> None:
    """Send the ``count`` pages of a print file to a printer, unscaled.

    Raises:
        DeviceError: the printer does not take them.
        Cancelled: ``cancelled`` said so; what was begun is called off at the printer.
    """
    _forbid_scaling(printer)
    painter = QPainter()
    if not painter.begin(printer):
        raise DeviceError(f"The printer “{printer.printerName()}” does not answer: nothing was printed")
    try:
        painter.setRenderHint(QPainter.RenderHint.LosslessImageRendering)
        for number in range(count):
            if cancelled():
                printer.abort()
                raise Cancelled
            report(number / count, f"Sending sheet {number + 1} of {count}")
            if number and not printer.newPage():
                raise DeviceError(f"The printer “{printer.printerName()}” stopped after {number} of {count} sheets")
            _draw(painter, print_file, number, printer.resolution())
    finally:
        painter.end()
    refusal = _refusal() if is_device(printer) else None
    if refusal is not None:
        raise DeviceError(f"The printer “{printer.printerName()}” took no sheet ({refusal}): look at its queue")


def _refusal() -> str | None:
    """Return what CUPS said last in this thread if that was no success, for Qt passes over it in silence."""
    try:
        cups = ctypes.CDLL("libcups.so.2")
    except OSError:
        return None
    cups.cupsLastErrorString.restype = ctypes.c_char_p
    return cups.cupsLastErrorString().decode() if cups.cupsLastError() >= _FIRST_ERROR else None


def _forbid_scaling(printer: QPrinter) -> None:
    engine = printer.printEngine()
    if engine is not None and is_device(printer):
        flat = engine.property(_SPOOLER_OPTIONS) or []  # name, value, name, value …
        options = dict(zip(flat[::2], flat[1::2], strict=True)) | _UNSCALED
        engine.setProperty(_SPOOLER_OPTIONS, [text for pair in options.items() for text in pair])


def _draw(painter: QPainter, print_file: bytes, page: int, dots_per_inch: int) -> None:
    ppi = min(dots_per_inch, _MOST_PPI)
    pixels = page_pixels(print_file, page, ppi)
    height, width = pixels.shape[:2]
    image = QImage(cast("bytes", pixels.data), width, height, 4 * width, QImage.Format.Format_RGB32)  # where it lies
    scale = dots_per_inch / ppi
    painter.drawImage(QRectF(0, 0, width * scale, height * scale), image)
