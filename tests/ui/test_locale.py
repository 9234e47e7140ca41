"""Numbers are shown as the system's locale writes them, whatever view they stand in."""

import re

import pytest
from PyQt6.QtCore import QLocale
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QTableView, QWidget

from hands import type_into
from honest_edge.core.values.units import MM_PER_INCH
from honest_edge.ui.widgets.local import local

MOST_CACHED_BYTES = 200_000_000
POINTED = re.compile(r"(?<![\w.])\d+\.\d+(?!\.?\w)")
"""A number with a decimal point that is no part of a file's name."""
QUOTED = re.compile(r"“[^”]*”")


@pytest.fixture(autouse=True)
def german():
    before = QLocale()
    QLocale.setDefault(QLocale(QLocale.Language.German, QLocale.Country.Germany))
    yield
    QLocale.setDefault(before)


@pytest.fixture
def drawn(monkeypatch):
    """All that is painted as text."""
    texts, draw = set(), QPainter.drawText

    def noted(self, *arguments):
        texts.update(one for one in arguments if isinstance(one, str))
        return draw(self, *arguments)

    monkeypatch.setattr(QPainter, "drawText", noted)
    return texts


def shown_in(window):
    for widget in window.findChildren(QWidget):
        if not widget.isVisible():
            continue
        if isinstance(widget, QLabel | QAbstractButton | QLineEdit):
            yield widget.text()
        if isinstance(widget, QComboBox):
            yield widget.currentText()
        if isinstance(widget, QTableView) and (model := widget.model()) is not None:
            for row in range(min(model.rowCount(), 40)):
                for column in range(model.columnCount()):
                    yield str(model.index(row, column).data() or "")
        yield widget.toolTip()


def pointed(texts):
    return sorted({text for text in texts if POINTED.search(QUOTED.sub("", text))})


def test_a_comma_is_shown_where_it_is_the_custom(with_some_of_the_demo, settle, drawn):
    window = with_some_of_the_demo("Bee", "Price tag")
    places = [entry.key for entry in window.stations.entries]
    places += ["run", "bench", *(f"book:{part}" for part in ("runs", "test cuts", "blades", "stock", "shelf"))]
    found = {}
    for design in window.document.job.designs:
        window.take(design.key)
        for place in places:
            window.go_to(place)
            settle(window)
            drawn.clear()
            window.grab()
            found.setdefault(place, set()).update(pointed([*shown_in(window), *drawn]))
    assert {place: texts for place, texts in found.items() if texts} == {}


def test_either_sign_is_understood(with_disc, settle):
    window = with_disc
    window.go_to("edge")
    settle(window)
    field = window.here.panel.offset
    for typed, length_mm, shown in (
        ("1,5 mm", 1.5, "1,5 mm"),
        ("2.25mm", 2.25, "2,25 mm"),
        ("0,05 in", 1.27, "1,27 mm"),
    ):
        type_into(field, typed)
        settle(window)
        assert window.workspace.design.edge.offset_mm == pytest.approx(length_mm)
        assert field.text() == shown
    window.choices.swap_unit()
    settle(window)
    assert field.text().replace(",", ".").removesuffix(" in") == f"{1.27 / MM_PER_INCH:.2f}"


def test_names_and_versions_keep_their_points():
    assert local("print-1.5.pdf is 2.5 mm wide, “Label 2.5” too") == "print-1.5.pdf is 2,5 mm wide, “Label 2.5” too"
    assert local("version 1.2.3 of v1.5, 99.5 % and 0.25.") == "version 1.2.3 of v1.5, 99,5 % and 0,25."
