"""The choices of the user: in the dialog, remembered, followed at once, and following the system."""

import json
from dataclasses import replace

import pytest
from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QPushButton

from hands import click, type_into, visit
from honest_edge.core.values.units import format_length, parse_length
from honest_edge.ui.shell.preferences import PreferencesDialog
from honest_edge.ui.widgets import theme
from honest_edge.ui.widgets.tokens import DARK, THEMES


def choose(control, value):
    control.setCurrentIndex(control.findData(value))
    control.activated.emit(control.currentIndex())


@pytest.fixture
def with_dialog(window, qtbot):
    with qtbot.waitActive(window):
        window.activateWindow()
    QTest.keyClick(window, Qt.Key.Key_Comma, Qt.KeyboardModifier.ControlModifier)
    (dialog,) = window.findChildren(PreferencesDialog)
    assert dialog.isVisible()
    return window, dialog


def test_every_choice_holds_at_once_and_is_remembered(with_dialog, tmp_path, make_window, monkeypatch):
    window, dialog = with_dialog
    window.go_to("art")
    choose(dialog.theme, "dark")
    assert QColor(window.table.grab().toImage().pixel(400, 300)).name().upper() == DARK.table
    choose(dialog.unit, "in")
    assert window.menu.units.text() == "in"
    choose(dialog.inches, "fraction")
    choose(dialog.paper, "a4")
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_a: str(tmp_path / "written"))
    (folder,) = [b for b in dialog.findChildren(QPushButton) if b.accessibleName().endswith("written files")]
    click(folder)
    (close,) = [b for b in dialog.findChildren(QPushButton) if b.text() == "Close"]
    click(close)
    stored = json.loads((tmp_path / "settings" / "settings.json").read_text())
    assert stored["schema"] == 2
    again = make_window()
    assert (again.prefs.theme, again.prefs.unit, again.prefs.inches) == ("dark", "in", "fraction")
    assert (again.prefs.paper, again.prefs.out_folder) == ("a4", str(tmp_path / "written"))
    again.jobs.new()
    assert again.document.job.sheet.paper == "a4"


def test_the_room_on_a_sheet_is_said_in_whole_fractions(with_disc, settle):
    window = with_disc
    window.set_prefs(replace(window.prefs, unit="in", inches="fraction"))
    visit(window, "sheet")
    settle(window)
    assert "Letter: 8 1/2 × 11 in" in window.stations["sheet"].panel.usable.text()


def test_inches_are_fractions_where_they_are_exact(with_dialog, settle, disc_file):
    window, dialog = with_dialog
    window.take_files([disc_file])
    settle(window)
    choose(dialog.unit, "in")
    choose(dialog.inches, "fraction")
    dialog.accept()
    visit(window, "sheet")
    gap = window.stations["sheet"].panel.gap
    for typed, shown in (("1/16", "1/16 in"), ("1 1/2 in", "1 1/2 in"), ("2.5 mm", "0.1 in"), ("2", "2 in")):
        type_into(gap, typed)
        assert gap.text() == shown


@pytest.mark.parametrize(
    ("length_mm", "text"),
    [
        (25.4 / 16, "1/16 in"),
        (25.4 * 1.5, "1 1/2 in"),
        (25.4 * 3 / 32, "3/32 in"),
        (25.4 * 8, "8 in"),
        (0.0, "0.00 in"),
        (1.0, "0.039 in"),
        (-25.4 / 4, "-0.25 in"),
    ],
)
def test_a_fraction_is_read_back_as_the_length_that_it_was(length_mm, text):
    assert format_length(length_mm, "in fraction") == text
    assert parse_length(text) == pytest.approx(length_mm, abs=0.0128)  # half of the last of three decimals


@pytest.fixture
def system(window, monkeypatch):
    """Makes the system want colours and contrast, and tells the application that it is come back to."""

    def wants(scheme, contrast):
        class Access:
            def contrastPreference(self):
                return contrast

        class Hints:
            def colorScheme(self):
                return scheme

            def accessibility(self):
                return Access()

        monkeypatch.setattr(theme.QGuiApplication, "styleHints", staticmethod(Hints))
        QApplication.sendEvent(window, QEvent(QEvent.Type.ActivationChange))

    return wants


SCHEMES, CONTRASTS = Qt.ColorScheme, Qt.ContrastPreference
TURNED = {"light": "dark", "dark": "light", "light-high": "dark-high", "dark-high": "light-high"}


@pytest.mark.parametrize(
    ("scheme", "contrast", "name"),
    [
        (SCHEMES.Dark, CONTRASTS.NoPreference, "dark"),
        (SCHEMES.Light, CONTRASTS.NoPreference, "light"),
        (SCHEMES.Unknown, CONTRASTS.NoPreference, "light"),
        (SCHEMES.Light, CONTRASTS.HighContrast, "light-high"),
        (SCHEMES.Dark, CONTRASTS.HighContrast, "dark-high"),
    ],
)
def test_the_theme_follows_the_system_until_one_is_chosen(window, system, scheme, contrast, name):
    assert window.prefs.theme == "system"
    window.go_to("art")
    system(scheme, contrast)
    assert window.tokens is THEMES[name]
    assert QColor(window.table.grab().toImage().pixel(400, 300)).name().upper() == THEMES[name].table
    QTest.keyClick(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    other = TURNED[name]
    assert window.prefs.theme == other
    system(SCHEMES.Dark, CONTRASTS.NoPreference)  # which is not followed any more
    assert window.tokens is THEMES[other]


def test_high_contrast_is_a_choice_too(with_dialog):
    window, dialog = with_dialog
    choose(dialog.theme, "light-high")
    assert window.tokens is THEMES["light-high"]
    assert THEMES["light-high"].hairline in QApplication.instance().styleSheet()
    choose(dialog.theme, "light")
    assert THEMES["light-high"].hairline not in QApplication.instance().styleSheet()


@pytest.mark.parametrize(("dpi", "points", "factor"), [(96, 9, 1), (96, 11, 1), (120, 10, 1.25), (96, 16.5, 1.5)])
def test_letters_keep_to_the_systems_font_scale(monkeypatch, dpi, points, factor):
    class Screen:
        def logicalDotsPerInch(self):
            return dpi

    class Application:
        def primaryScreen(self):
            return Screen()

        def font(self):
            made = QApplication.font()
            made.setPointSizeF(points)
            return made

    monkeypatch.setattr(theme._Scale, "factor", 1.0)
    theme.take_font_scale(Application())
    assert theme.px(20) == round(20 * factor)
    assert theme.words(13).pixelSize() == round(13 * factor)


def test_the_whole_window_grows_with_the_font_scale(make_window, monkeypatch):
    monkeypatch.setattr(theme._Scale, "factor", 1.5)
    window = make_window()
    window.resize(1600, 1000)
    QApplication.processEvents()
    assert window.cards.width() == 450
    panel = window.here.panel
    assert panel.widget().minimumSizeHint().width() <= panel.viewport().width() + 1
    click(window.path_bar.buttons["edge"])
    panel = window.here.panel
    QApplication.processEvents()
    assert panel.widget().minimumSizeHint().width() <= panel.viewport().width() + 1
