"""Numbers are shown as the system's locale writes them, whatever view they stand in."""

import re
from dataclasses import replace

import pytest
from PyQt6.QtCore import QLocale
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QTableView, QWidget

from hands import type_into
from honest_edge.core.values.units import MM_PER_INCH, in_unit
from honest_edge.ui.widgets.local import local

POINTED = re.compile(r"(?<![\w.])\d+\.\d+(?!\.?\w)")
"""A number with a decimal point that is no part of a file's name."""
QUOTED = re.compile(r"“[^”]*”")


METRIC = re.compile(r"\d ?[mc]m\b|, mm\b(?!/s)|\bmm²|cm²")
"""Speeds stay as machines state them."""
BOTH = ("63 mm, or 2 x 3 in", "60 mm or 2 3/8 in")
"""Examples of what can be typed."""


@pytest.fixture
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


def metric(texts):
    without = [QUOTED.sub("", text) for text in texts if not any(both in text for both in BOTH)]
    return sorted({text for text in without if METRIC.search(text)})


def wrong_in_every_place(window, settle, drawn, places, wrong):
    """By place, what of all that is shown there with each design ``wrong`` picks out."""
    found = {}
    for design in window.document.job.designs:
        window.take(design.key)
        for place in places:
            window.go_to(place)
            settle(window)
            drawn.clear()
            window.grab()
            found.setdefault(place, set()).update(wrong([*shown_in(window), *drawn]))
    return {place: texts for place, texts in found.items() if texts}


def test_in_inches_no_text_of_any_place_says_millimetres(with_some_of_the_demo, settle, drawn):
    window = with_some_of_the_demo("Bee", "Price tag")
    places = [entry.key for entry in window.stations.entries]
    places += [
        "run",
        "bench",
        "practice",
        *(f"book:{part}" for part in ("runs", "test cuts", "blades", "stock", "shelf")),
    ]
    for place in places:  # what stands there already is told anew
        window.go_to(place)
        settle(window)
    window.set_prefs(type(window.prefs)(unit="in", inches="decimal", turned_cards=window.prefs.turned_cards))
    assert wrong_in_every_place(window, settle, drawn, places, metric) == {}


def test_an_area_is_typed_in_the_square_of_the_unit_that_is_shown(with_disc, settle):
    window = with_disc
    window.set_prefs(type(window.prefs)(unit="in", turned_cards=window.prefs.turned_cards))
    window.go_to("outline")
    settle(window)
    speck = window.here.panel.speck
    type_into(speck, "0.01")
    assert window.workspace.design.outline.speck_mm2 == pytest.approx(0.01 * MM_PER_INCH**2)
    window.choices.swap_unit()
    settle(window)
    assert speck.text() == "6.4516"


@pytest.mark.parametrize(
    ("metric", "inches"),
    [
        ("Make the art 39.4 mm wide", "Make the art 1.55 in wide"),
        ("40.0 × 30.0 mm", "1.57 × 1.18 in"),
        ("0.40 mm → 0.45 mm", "0.016 in → 0.018 in"),
        ("holes below 20 mm² and 6.5 cm² of ink", "holes below 0.031 in² and 1.01 in² of ink"),
        ("Smallest part, mm²", "Smallest part, in²"),
        ("at 250 mm/s", "at 9.84 in/s"),
        ("print-40mm.pdf, 3mmm and 12 %", "print-40mm.pdf, 3mmm and 12 %"),
    ],
)
def test_lengths_in_a_text_are_told_in_inches(metric, inches):
    assert in_unit(metric, "in") == inches
    assert in_unit(metric, "mm") == metric


def test_a_comma_is_shown_where_it_is_the_custom(german, with_some_of_the_demo, settle, drawn):
    window = with_some_of_the_demo("Bee", "Price tag")
    places = [entry.key for entry in window.stations.entries]
    places += ["run", "bench", *(f"book:{part}" for part in ("runs", "test cuts", "blades", "stock", "shelf"))]
    assert wrong_in_every_place(window, settle, drawn, places, pointed) == {}


def test_either_sign_is_understood(german, with_disc, settle):
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


def test_names_and_versions_keep_their_points(german):
    assert local("print-1.5.pdf is 2.5 mm wide, “Label 2.5” too") == "print-1.5.pdf is 2,5 mm wide, “Label 2.5” too"
    assert local("version 1.2.3 of v1.5, 99.5 % and 0.25.") == "version 1.2.3 of v1.5, 99,5 % and 0,25."


def test_a_name_keeps_its_numbers(german, with_disc):
    window = with_disc
    window.set_prefs(type(window.prefs)(unit="in"))
    window.document.edit(replace(window.document.job, title="Tea 50 mm, 1.5"), "title")
    assert window.top_bar.title.toolTip() == "Tea 50 mm, 1.5*"
