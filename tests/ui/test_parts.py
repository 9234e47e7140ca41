"""The parts of the window on their own: theme, fields, rulers, strip, frame, preferences."""

import gc
import json
import os
import subprocess
import sys
import weakref

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QGuiApplication, QImage, QPainter, QPalette
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QGraphicsScene

from hands import PATIENCE_S
from honest_edge.app.results.overview import EMPTY, Overview
from honest_edge.core.geometry.fitting import fit_ring
from honest_edge.core.proof import register
from honest_edge.core.values.findings import Subject
from honest_edge.core.values.job import Design, Job
from honest_edge.files.prefs import Prefs, PrefsFile
from honest_edge.ui.drawings.paths import painter_path, qimage, sticker_picture
from honest_edge.ui.drawings.picture_item import PictureItem
from honest_edge.ui.shell.first_frame import GROUND, Frame, ground
from honest_edge.ui.shell.main_window import MainWindow
from honest_edge.ui.table.light_table import LightTable
from honest_edge.ui.table.ruler import ruler_step
from honest_edge.ui.widgets.tokens import LIGHT, THEMES
from honest_edge.ui.widgets.typed import LengthField
from pictures import disc


def luminance(colour):
    # WCAG 2.2, relative luminance
    parts = [c / 255 for c in QColor(colour).getRgb()[:3]]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one, two):
    high, low = sorted((luminance(one), luminance(two)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def test_contrast_is_measured_as_wcag_defines_it():
    assert contrast("#000000", "#FFFFFF") == pytest.approx(21)
    assert contrast("#777777", "#FFFFFF") == pytest.approx(4.48, abs=0.01)


@pytest.mark.parametrize("theme", THEMES.values(), ids=THEMES)
@pytest.mark.parametrize("ground", ["table", "panel", "field", "tint", "sand"])
def test_text_stands_out_on_every_ground(theme, ground):
    # WCAG 2.2, 1.4.3: text at least 4.5 to 1; 1.4.6, enhanced: 7 to 1
    names = ["ink"] if ground in ("tint", "sand", "field") else ["ink", "soft", "accent", "danger", "look", "fine"]
    for name in names:
        assert contrast(getattr(theme, name), getattr(theme, ground)) >= (7 if theme.is_high else 4.5), name


@pytest.mark.parametrize("theme", THEMES.values(), ids=THEMES)
def test_the_filled_button_and_sand_headings_can_be_read(theme):
    least = 7 if theme.is_high else 4.5
    assert contrast(theme.on_accent, theme.accent) >= least
    assert contrast(theme.look, theme.sand) >= least
    assert contrast(theme.soft, theme.tint) >= least


@pytest.mark.parametrize("name", [name for name, tokens in THEMES.items() if tokens.is_high])
def test_every_rim_stands_out_where_contrast_is_high(name):
    theme = THEMES[name]
    for line in ("hairline", "through", "kiss", "crease", "perforation"):
        for under in ("table", "panel", "field"):
            assert contrast(getattr(theme, line), getattr(theme, under)) >= 4.5, (line, under)


def test_cut_lines_stand_out_on_paper():
    # WCAG 2.2, 1.4.11: graphics at least 3 to 1
    for name in ("kiss", "through", "danger", "accent"):
        assert contrast(getattr(LIGHT, name), "#FFFFFF") >= 3


def test_the_frame_knows_the_ground_of_each_theme():
    assert {name: tokens.table for name, tokens in THEMES.items()} == GROUND


@pytest.mark.parametrize("lightness", [20, 235])
def test_the_frame_stands_in_the_systems_colours(qtbot, lightness):
    before = QGuiApplication.palette()
    try:
        QGuiApplication.setPalette(QPalette(QColor(lightness, lightness, lightness)))
        assert ground("system") == GROUND["dark" if lightness < 128 else "light"]
        assert [ground(theme) for theme in GROUND] == list(GROUND.values())  # a choice stands whatever the system has
    finally:
        QGuiApplication.setPalette(before)


@pytest.mark.parametrize(
    ("stored", "expected"),
    [
        ('{"unit": "in", "theme": "dark"}', Prefs(unit="in", theme="dark")),
        ('{"unit": "furlong", "theme": 7, "folder": "/a"}', Prefs(folder="/a")),
        ('["unit"]', Prefs()),
        ("{", Prefs()),
        ("", Prefs()),
    ],
)
def test_nonsense_in_the_preferences_is_the_default(tmp_path, stored, expected):
    (tmp_path / "settings.json").write_text(stored)
    assert PrefsFile(tmp_path / "settings.json").read() == expected


def test_preferences_come_back_and_a_read_only_home_is_no_error(tmp_path, monkeypatch):
    file = PrefsFile(tmp_path / "deep" / "settings.json")
    file.write(Prefs(unit="in", out_folder="/x"))
    assert file.read() == Prefs(unit="in", out_folder="/x")
    (tmp_path / "taken").write_text("")
    PrefsFile(tmp_path / "taken" / "settings.json").write(Prefs())


def test_a_length_field_shows_and_takes_both_units(qtbot):
    field = LengthField("Offset")
    qtbot.addWidget(field)
    taken, refused = [], []
    field.committed.connect(taken.append)
    field.refused.connect(refused.append)
    field.show_length(2.0, "in")
    assert field.text() == "0.08 in"
    for text in ("1/16", "1.5 mm", "30px", "nothing"):
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
    assert taken[:3] == [pytest.approx(25.4 / 16), 1.5, pytest.approx(2.54)]
    assert refused == ["Offset: “nothing” is no length: write a number and a unit, such as 60 mm or 3/16 in"]


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("scale", [0.01, 0.3, 2, 17, 300, 5000])
def test_ruler_numbers_never_crowd(unit, scale):
    step, parts = ruler_step(scale, unit)
    assert parts >= 2
    assert step * scale >= 56 or step == (5.0 if unit == "in" else 5000)


def test_the_table_fits_what_it_shows(qtbot):
    table = LightTable(LIGHT)
    qtbot.addWidget(table)
    table.resize(600, 400)
    table.show()
    table.set_content(QRectF(0, 0, 100, 100), "", refit=True)
    shown = table.mapFromScene(QRectF(0, 0, 100, 100)).boundingRect()
    assert table.viewport().rect().contains(shown)
    assert shown.height() > 250
    table.go_to(20, 30)
    middle = table.mapToScene(table.viewport().rect().center())
    assert (middle - QPointF(20, 30)).manhattanLength() < 0.5


def test_screen_and_files_draw_the_same_outline():
    ring = fit_ring(disc(10, 20, 20), tolerance_mm=0.01, pixel_mm=0.1)
    path = painter_path([ring])
    assert path.contains(QPointF(20, 20))
    bounds = path.boundingRect()
    assert (bounds.left(), bounds.bottom()) == pytest.approx((10, 30), abs=0.03)


def test_pixels_keep_their_places_on_the_screen():
    pixels = np.zeros((3, 5, 4), np.uint8)
    pixels[1, 2] = (10, 200, 30, 255)
    image = qimage(pixels[:, ::-1])
    assert QColor(image.pixel(2, 1)).getRgb() == (10, 200, 30, 255)
    assert QColor.fromRgba(image.pixel(0, 0)).alpha() == 0


def test_what_a_table_showed_goes_with_the_table(qtbot):
    pixels = np.full((64, 64, 4), (200, 200, 200, 255), np.uint8)
    gone = weakref.ref(pixels)
    scene, paper = QGraphicsScene(), QImage(64, 64, QImage.Format.Format_RGB32)
    scene.addItem(PictureItem(pixels, 0, 0, 1))
    with QPainter(paper) as painter:
        scene.render(painter)
    assert QColor(paper.pixel(32, 32)).getRgb()[:3] == (200, 200, 200)
    del pixels
    scene.clear()
    gc.collect()
    assert gone() is not None  # kept for the next drawing
    del scene
    gc.collect()
    assert gone() is None


def test_a_thumbnail_shows_border_and_art(with_disc):
    picture = sticker_picture(with_disc.workspace.result, 64)
    assert QColor.fromRgba(picture.pixel(0, 0)).alpha() == 0
    assert QColor(picture.pixel(32, 32)).getRgb()[:3] == (40, 90, 160)
    row = [QColor.fromRgba(picture.pixel(x, 32)) for x in range(10)]
    assert any(c.alpha() == 255 and c.lightness() > 245 for c in row)


def test_the_frame_takes_the_windows_title_and_asks_it_before_closing(qtbot, tmp_path, disc_file, settle):
    frame = Frame(GROUND["light"])
    qtbot.addWidget(frame)
    held = []
    frame.show()
    files = PrefsFile(tmp_path / "settings.json"), tmp_path / "recovery"
    frame.fill(lambda: MainWindow(*files), held.append)
    qtbot.waitUntil(lambda: bool(held))
    window = held[0]
    window.jobs.may_leave = lambda: True  # a failure below must not end in a question nobody answers
    assert frame.centralWidget() is window
    window.take_files([disc_file])
    settle(window)
    assert frame.windowTitle() == "*Untitled – Honest Edge"
    QTest.keyClick(frame, Qt.Key.Key_3, Qt.KeyboardModifier.ControlModifier)
    qtbot.waitUntil(lambda: window.station == "edge")  # a button's key works like a slow click
    QTest.keyClick(frame, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert frame.windowTitle() == "Untitled – Honest Edge"
    window.document.undo_stack.redo()
    window.jobs.may_leave = lambda: False
    assert not frame.close()
    window.jobs.may_leave = lambda: True
    assert frame.close()
    assert window.pool.wait(20)


@pytest.mark.slow
def test_the_real_application_opens_a_job_and_closes(tmp_path, root):
    job = root / "tests/files/projects/version-4.hedge"
    script = (
        "import sys\n"
        "from PyQt6.QtCore import QTimer\n"
        "from honest_edge.ui.shell import first_frame as frame\n"
        "fill = frame.Frame.fill\n"
        "def then(self, make, after):\n"
        "    def done(window):\n"
        "        after(window)\n"
        "        def look():\n"
        "            if window.overviews.is_busy or not window.workspace.overview.results:\n"
        "                return\n"
        "            self.poll.stop()\n"  # closing lets events happen
        "            print(len(window.workspace.overview.results), self.windowTitle())\n"
        "            window.jobs.may_leave = lambda: True\n"
        "            window.close_whole()\n"
        "        self.poll = QTimer(self)\n"
        "        self.poll.timeout.connect(look)\n"
        "        self.poll.start(50)\n"
        "    fill(self, make, done)\n"
        "frame.Frame.fill = then\n"
        "from honest_edge.ui.shell.start import main\n"
        "sys.exit(main([sys.argv[1]]))\n"
    )
    environment = {**os.environ, "HOME": str(tmp_path), "QT_QPA_PLATFORM": "offscreen"}
    for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME"):
        environment.pop(name, None)
    done = subprocess.run(
        [sys.executable, "-c", script, job],
        env=environment,
        capture_output=True,
        text=True,
        check=False,
        timeout=PATIENCE_S,
    )
    assert done.returncode == 0, done.stderr
    assert done.stdout == "2 Version 4 – Honest Edge\n"
    assert "Traceback" not in done.stderr


def design(key):
    return Design(key=key, name=key.upper(), asset="0", file_name="a.png", width_mm=10)


def test_states_say_why():
    assert EMPTY.state("art") == ("empty", "no art yet")
    job = Job(designs=(design("a"), design("b")))
    found = register.ART.found(Subject(kind="design", design="b"), "it is blank")
    blocked = Overview(job=job, blocked={"b": found})
    assert blocked.state("outline") == ("blocked", "B: it is blank")
    assert blocked.state("sheet")[0] == "blocked"


def test_a_fault_in_a_slot_is_printed_and_does_not_end_the_session():
    script = (
        "import sys\n"
        "from PyQt6.QtCore import QCoreApplication, QTimer\n"
        "from honest_edge.ui.shell.faults import FaultReporter\n"
        "faults = FaultReporter()\n"
        "faults.install()\n"
        "app = QCoreApplication([])\n"
        "QTimer.singleShot(0, lambda: 1 / 0)\n"
        "QTimer.singleShot(50, lambda: print('still here') or app.quit())\n"
        "app.exec()\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", script], capture_output=True, text=True, check=False, timeout=PATIENCE_S
    )
    assert done.returncode == 0
    assert "still here" in done.stdout
    assert "ZeroDivisionError" in done.stderr


def test_prefs_file_is_plain_json(tmp_path):
    PrefsFile(tmp_path / "s.json").write(Prefs(theme="dark"))
    assert json.loads((tmp_path / "s.json").read_text())["theme"] == "dark"
