"""Printing through the system's dialog, as a user does it, onto paper that is a PDF."""

from dataclasses import replace

import numpy as np
import pikepdf
import pypdfium2
import pytest
from PyQt6.QtCore import QMarginsF
from PyQt6.QtGui import QPageLayout, QPageSize
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtWidgets import QLineEdit, QRadioButton, QSpinBox

from drawings import drawn, pdf_with_discs
from hands import click, visit
from honest_edge.app.output.prepare_files import prepare
from honest_edge.core.values.errors import Cancelled, DeviceError
from honest_edge.core.values.machine import MACHINES
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.ui.shared.system_printer import obstacle, printer_for, send
from honest_edge.ui.stations.files import print_sheets

pytestmark = pytest.mark.slow

A5 = SheetSpec(paper="a5")


@pytest.fixture
def with_two_sheets(with_disc, settle):
    """Discs of 20 mm on two sheets of A5, the Files station open."""
    window = with_disc
    (design,) = window.document.job.designs
    job = window.document.job.with_design(replace(design, copies=40))
    window.document.edit(replace(job, sheet=A5), "set up")
    visit(window, "files")
    settle(window)
    assert len(window.workspace.overview.plan.pages) == 2
    return window


def print_to(window, settle, path, *, before=lambda dialog: None):
    """Press Print…, name a file in the system's dialog and accept it."""
    click(window.stations["files"].panel.print)
    dialog = window.stations["files"].printing.dialog
    dialog.findChild(QLineEdit, "filename").setText(str(path))
    before(dialog)
    dialog.accept()
    settle(window)


def on_paper(printer):
    """Return the PDF that a printer made, its paper."""
    with open(printer.outputFileName(), "rb") as made:
        return made.read()


def test_printing_to_a_file_gives_the_print_file_itself(with_two_sheets, settle, tmp_path):
    window, path = with_two_sheets, tmp_path / "out" / "sheets.pdf"
    print_to(window, settle, path)
    assert path.read_bytes() == prepare(window.document.job, window.pipeline())["print.pdf"]
    assert "2 sheets went to" in window.bar.message.text()
    assert window.stations["files"].panel.print.isVisible()


def test_a_file_that_is_there_is_asked_about(with_two_sheets, settle, tmp_path, monkeypatch):
    window, path = with_two_sheets, tmp_path / "sheets.pdf"
    path.write_bytes(b"mine")
    monkeypatch.setattr(print_sheets, "ask_to_replace", lambda *_: False)
    print_to(window, settle, path)
    assert path.read_bytes() == b"mine"
    monkeypatch.setattr(print_sheets, "ask_to_replace", lambda *_: True)
    print_to(window, settle, path)
    assert path.read_bytes().startswith(b"%PDF")


def test_one_sheet_of_two_is_printed_when_the_dialog_says_so(with_two_sheets, settle, tmp_path):
    def second_only(dialog):
        dialog.findChild(QRadioButton, "printRange").setChecked(True)
        dialog.findChild(QSpinBox, "from").setValue(2)
        dialog.findChild(QSpinBox, "to").setValue(2)

    window, path = with_two_sheets, tmp_path / "second.pdf"
    print_to(window, settle, path, before=second_only)
    whole = prepare(window.document.job, window.pipeline())["print.pdf"]
    assert len(pikepdf.open(path).pages) == 1
    assert np.array_equal(drawn(path.read_bytes()), drawn(whole, page=1))
    assert "1 sheet went to" in window.bar.message.text()


def test_a_printer_set_to_other_paper_is_refused_with_both_sizes(with_two_sheets, settle, tmp_path):
    window, path = with_two_sheets, tmp_path / "wrong.pdf"
    print_to(
        window,
        settle,
        path,
        before=lambda dialog: dialog.printer().setPageSize(QPageSize(QPageSize.PageSizeId.A4)),
    )
    assert not path.exists()
    said = window.bar.message.text()
    assert "210.0 mm × 297.0 mm" in said
    assert "148.0 mm × 210.0 mm (A5)" in said
    assert "nothing was printed" in said


def test_without_a_file_name_it_says_what_to_do(with_two_sheets, settle, tmp_path):
    print_to(with_two_sheets, settle, tmp_path)
    assert "No file was named" in with_two_sheets.bar.message.text()


def test_a_printer_that_is_gone_is_named(qtbot):
    class Gone(QPrinter):
        def printerName(self):
            return "Upstairs"

        def outputFormat(self):
            return QPrinter.OutputFormat.NativeFormat

    assert obstacle(Gone(), A5, "mm") == (
        "The printer “Upstairs” is gone: switch it on or choose another one; nothing was printed"
    )


def test_nothing_is_printed_where_the_machines_own_program_does_it(with_two_sheets, settle):
    window = with_two_sheets
    own = next(machine for machine in MACHINES if machine.prints_own_marks)
    window.document.edit(replace(window.document.job, sheet=replace(A5, machine=own)), "another machine")
    settle(window)
    assert not window.stations["files"].panel.print.isEnabled()
    window.stations["files"].print()
    assert "own program prints" in window.bar.message.text()
    assert window.stations["files"].printing.dialog is None


def middles_mm(pdf, ppi=600):
    """Return the middle of the ink in each quarter of a page, read by pdfium, which fits pages to whole pixels."""
    ink = 255 - drawn(pdf, ppi=ppi)
    height, width = ink.shape
    page_mm = np.array(pypdfium2.PdfDocument(pdf)[0].get_size()) * 25.4 / 72
    found = []
    for rows in (slice(0, height // 2), slice(height // 2, height)):
        for columns in (slice(0, width // 2), slice(width // 2, width)):
            along, down = (ink[rows, columns].sum(axis=axis, dtype=float) for axis in (0, 1))
            x, y = np.arange(columns.start, columns.stop) + 0.5, np.arange(rows.start, rows.stop) + 0.5
            found.append(np.array([x @ along, y @ down]) / along.sum())
    return np.array(found) * page_mm / [width, height]


@pytest.mark.parametrize(
    "sheet",
    [A5, SheetSpec(), SheetSpec(paper="a4", is_landscape=True), SheetSpec(paper="own", own_mm=(123.4, 177.7))],
    ids=["a5", "letter", "a4 landscape", "own"],
)
def test_a_printer_is_sent_everything_at_its_own_size_and_place(qtbot, tmp_path, sheet):
    """Within 0.03 mm, less than a dot of 600 ppi: the reader lays a picture's corners on whole dots."""
    printer = to_file(sheet, tmp_path / "paper.pdf")
    width, height = sheet.size_mm
    right = [[15, 15], [width - 15, 15], [15, height - 15], [width - 15, height - 15]]
    page = pdf_with_discs(sheet.size_mm, right)
    send(printer, page, 1, report=lambda *_: None, cancelled=lambda: False)
    assert np.abs(middles_mm(on_paper(printer)) - right).max() < 0.03


def to_file(sheet, path):
    printer = printer_for(sheet, "A job", path.parent)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(path))
    return printer


def test_a_printer_asked_for_margins_still_gets_whole_pages(qtbot, tmp_path):
    layout = printer_for(A5, "A job", tmp_path).pageLayout()
    assert layout.mode() == QPageLayout.Mode.FullPageMode
    assert layout.margins() == QMarginsF(0, 0, 0, 0)


def test_calling_off_stops_between_sheets(with_two_sheets, tmp_path):
    window = with_two_sheets
    print_file = prepare(window.document.job, window.pipeline())["print.pdf"]
    said = []
    printer = to_file(A5, tmp_path / "half.pdf")
    with pytest.raises(Cancelled):
        send(printer, print_file, 2, report=lambda _share, words: said.append(words), cancelled=lambda: len(said) == 1)
    assert said == ["Sending sheet 1 of 2"]
    assert printer.printerState() != QPrinter.PrinterState.Active


def test_a_printer_that_does_not_answer_is_said(with_two_sheets, tmp_path):
    printer = to_file(A5, tmp_path / "missing" / "paper.pdf")
    with pytest.raises(DeviceError, match="does not answer"):
        send(printer, b"", 1, report=lambda *_: None, cancelled=lambda: False)


@pytest.mark.parametrize("own_mm", [(120.0, 210.0), (148.0, 180.0), (180.0, 210.0)])
def test_paper_that_differs_in_one_side_only_is_refused_with_both_sizes(qtbot, tmp_path, own_mm):
    sheet = SheetSpec(paper="own", own_mm=own_mm)
    said = obstacle(to_file(A5, tmp_path / "paper.pdf"), sheet, "mm")
    assert "set to 148.0 mm × 210.0 mm" in said
    assert f"{own_mm[0]:.1f} mm × {own_mm[1]:.1f} mm" in said
    assert obstacle(to_file(sheet, tmp_path / "own.pdf"), sheet, "mm") is None
