"""The Art station driven by hand: kinds of file, size statements, comparison, split, clipboard, folders."""

import io
import threading
from dataclasses import replace

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QMimeData, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QGraphicsSimpleTextItem

from drawings import pdf, psd, svg
from hands import PATIENCE_S, click, drop, type_into, visit
from honest_edge.app.edits import open_art
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.ui.drawings.picture_item import PictureItem
from honest_edge.ui.stations.art.drawing import RulerItem
from pictures import coverage, disc, disc_png, png, rgba

pytestmark = pytest.mark.slow


def add(window, settle, folder, name, data):
    (folder / name).write_bytes(data)
    drop(window, [folder / name])
    settle(window)
    return window.stations["art"].picture


def test_a_drawing_stays_crisp_at_every_size(window, settle, tmp_path):
    panel = add(window, settle, tmp_path, "a.svg", svg())
    assert "stays crisp" in panel.sharp.text()
    assert "SVG units: 60.0 mm wide" in panel.stated.text()
    type_into(panel.sizes.art[0], "100 mm")
    settle(window)
    assert window.workspace.result.ppi == pytest.approx(600, abs=1)
    assert window.path_bar.buttons["art"].state == "done"


def test_a_page_of_a_pdf_is_chosen(window, settle, qtbot, tmp_path):
    panel = add(window, settle, tmp_path, "a.pdf", pdf(pages=3))
    window.acts.say_parts(window.workspace.design, window.workspace.result.artwork)  # as when it was dropped
    assert "a.pdf has 3 pages; the first is taken." in window.bar.message.text()
    click(window.bar._actions[0])
    assert len(window.document.job.designs) == 3
    window.document.undo_stack.undo()
    assert panel.page.isVisibleTo(panel)
    panel.page.setValue(3)
    settle(window)
    assert window.workspace.design.source.page == 3
    assert "PDF page" in panel.stated.text()
    # each page is seen, and chosen by a press; or each becomes a design, beside that which has one
    assert [made.text() for made in panel.pages.pages] == ["1", "2", "3"]
    qtbot.waitUntil(lambda: all(not made.icon().isNull() for made in panel.pages.pages), timeout=PATIENCE_S * 1000)
    assert panel.pages.pages[2].isChecked()
    look = panel.pages.pages[0].icon().pixmap(64, 64).toImage()
    assert look.pixelColor(32, 16).getRgb()[:3] == (255, 0, 0)  # the red box that each page shows
    click(panel.pages.pages[1])
    settle(window)
    assert window.workspace.design.source.page == 2
    click(panel.pages.each)
    settle(window)
    assert [design.source.page for design in window.document.job.designs] == [2, 1, 3]
    assert [design.name for design in window.document.job.designs] == ["A", "A, page 1", "A, page 3"]
    click(panel.pages.each)  # nothing is made twice
    assert len(window.document.job.designs) == 3


def test_layers_are_ticked_off(window, settle, tmp_path):
    panel = add(window, settle, tmp_path, "a.psd", psd())
    assert [tick.text() for tick in panel.layer_ticks] == ["Dot", "Back"]
    panel.layer_ticks[1].click()
    settle(window)
    assert window.workspace.design.source.hidden_layers == (0,)
    assert window.workspace.result.artwork.pixels[20, 20, 3] == 0
    window.document.undo_stack.undo()
    settle(window)
    assert panel.layer_ticks[1].isChecked()


LAYERED = b"""<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="60mm" viewBox="0 0 80 60">
<g id="Leaf"><ellipse cx="40" cy="30" rx="28" ry="18" fill="#3a7"/></g>
<g id="Flower"><circle cx="40" cy="30" r="9" fill="#e63"/></g>
<g id="Contour"><rect x="6" y="6" width="68" height="48" fill="none" stroke="magenta" stroke-width=".1"/></g></svg>"""


def test_a_drawing_brings_its_layers_and_its_cut_lines(window, settle, tmp_path):
    panel = add(window, settle, tmp_path, "leaf.svg", LAYERED)
    window.acts.say_parts(window.workspace.design, window.workspace.result.artwork)  # as when it was dropped
    assert "leaf.svg has 2 layers; it is one picture." in window.bar.message.text()
    click(window.bar._actions[0])
    assert [layer.name for layer in window.workspace.design.layers] == ["Leaf", "Flower"]
    window.document.undo_stack.undo()
    settle(window)
    assert [tick.text() for tick in panel.layer_ticks] == ["Contour", "Flower", "Leaf"]
    assert "ines that mean a cut, “Contour”, would be printed" in panel.cut_lines.words
    assert window.path_bar.buttons["art"].state == "blocked"  # no cut line is printed in silence
    assert [fix.text() for fix in panel.cut_lines.fixes] == ["Leave them out", "Cut along them"]
    click(panel.cut_lines.fixes[1])
    settle(window)
    assert window.workspace.design.source.cut_layers == (2,)
    assert window.workspace.result.cut_size_mm == (pytest.approx(68, abs=0.1), pytest.approx(48, abs=0.1))
    assert not panel.cut_lines.isVisible()
    window.document.undo_stack.undo()
    settle(window)
    visit(window, "art")
    window.workspace.edit_design("hide", source=replace(window.workspace.design.source, hidden_layers=(0, 1)))
    settle(window)
    click(panel.take_apart)
    assert "All layers of the file are left out" in window.bar.message.text()
    window.document.undo_stack.undo()
    settle(window)
    click(panel.take_apart)
    settle(window)
    layers = window.workspace.design.layers
    assert [layer.name for layer in layers] == ["Leaf", "Flower"]  # what means a cut is no ink
    assert window.workspace.result.art_size_mm == (pytest.approx(56, abs=0.2), pytest.approx(36, abs=0.2))
    assert window.workspace.result.artwork.pixels[..., :3].reshape(-1, 3).tolist().count([0xEE, 0x66, 0x33]) > 1000


def test_what_became_of_a_file_s_cut_lines_is_so_for_the_next_of_its_kind_and_is_said(window, settle, tmp_path):
    panel = add(window, settle, tmp_path, "leaf.svg", LAYERED)
    click(panel.cut_lines.fixes[1])
    settle(window)
    window.habits.learn(window.workspace.overview)
    add(window, settle, tmp_path, "fern.svg", LAYERED.replace(b"rect", b"rect id='a'", 1))
    window.take(window.document.job.designs[-1].key)
    settle(window)
    design = window.workspace.design
    assert (design.name, design.source.cut_layers, design.edge.school) == ("Fern", (2,), "bleed")
    assert window.workspace.result.cut_size_mm == (pytest.approx(68, abs=0.1), pytest.approx(48, abs=0.1))
    assert window.workspace.result.artwork.pixels[..., 3].any(), "and is decoded without its line"
    assert "Lines that mean a cut, “Contour”, are cut along as in your last SVG." in window.bar.message.text()
    click(next(one for one in window.bar._actions if one.text() == "Ask me about them"))
    settle(window)
    assert "would be printed" in panel.cut_lines.words
    click(panel.cut_lines.fixes[0])
    settle(window)
    window.habits.learn(window.workspace.overview)
    assert window.habits.known.cut_lines == {".svg": "left out"}


def test_sizes_that_differ_are_both_shown(window, settle, tmp_path):
    out = io.BytesIO()
    exif = Image.Exif()
    exif[0x011A], exif[0x011B], exif[0x0128] = 240.0, 240.0, 2
    cover = coverage(disc(90, 120, 120), 240, 240)
    rgb = np.where(cover[..., None] > 0.5, (30, 60, 90), 255).astype(np.uint8)
    Image.fromarray(rgb).save(out, "JPEG", dpi=(150, 150), exif=exif)
    panel = add(window, settle, tmp_path, "a.jpg", out.getvalue())
    assert "JFIF: 150 ppi" in panel.stated.text()
    assert "EXIF: 240 ppi" in panel.stated.text()
    assert "They differ; JFIF was taken" in panel.stated.text()
    assert window.path_bar.buttons["art"].state == "look"
    assert any(finding.check == "size" for finding in window.workspace.result.findings)


def texts(window):
    return [i.text() for i in window.table.drawing().items() if isinstance(i, QGraphicsSimpleTextItem)]


def test_art_is_held_against_things_of_known_size(with_disc, settle):
    window, panel = with_disc, with_disc.stations["art"].picture
    visit(window, "art")
    panel.compare.setCurrentIndex(1)
    panel.compare.activated.emit(1)
    assert "Jar lid, 70 mm" in texts(window)
    panel.compare.setCurrentIndex(panel.compare.count() - 1)
    panel.compare.activated.emit(panel.compare.count() - 1)
    type_into(panel.compare_size, "2 x 3 in")
    assert window.stations["art"].picture.comparison.width_mm == pytest.approx(50.8)
    type_into(panel.compare_size, "wide")
    assert "is no length" in window.bar.message.text()
    panel.compare.setCurrentIndex(0)
    panel.compare.activated.emit(0)
    assert window.stations["art"].picture.comparison is None


def test_a_ruler_lies_on_the_table(with_disc):
    window = with_disc
    visit(window, "art")
    window.stations["art"].picture.ruler.click()
    (ruler,) = [item for item in window.table.drawing().items() if isinstance(item, RulerItem)]
    assert ruler.boundingRect().width() == pytest.approx(20)  # whole centimetres under a disc of 16.9 mm
    assert ruler.flags() & ruler.GraphicsItemFlag.ItemIsMovable
    window.menu.units.trigger()
    (ruler,) = [item for item in window.table.drawing().items() if isinstance(item, RulerItem)]
    assert ruler.boundingRect().width() == pytest.approx(25.4)


def test_one_picture_of_many_drawings_is_split_and_put_together_again(window, settle, tmp_path):
    cover = coverage(disc(40, 60, 60), 300, 140) + coverage(disc(40, 220, 60), 300, 140)
    panel = add(window, settle, tmp_path, "two.png", png(rgba(cover), dpi=(300, 300)))
    assert panel.split.text() == "Split into 2 designs"
    click(panel.split)
    settle(window)
    assert window.tray.shelf.count() == 2
    assert not panel.split_card.isVisibleTo(panel)
    window.document.undo_stack.undo()
    settle(window)
    assert window.tray.shelf.count() == 1


def test_pictures_and_drawings_are_pasted(window, settle):
    clipboard = QApplication.clipboard()
    image = QImage(120, 120, QImage.Format.Format_ARGB32)
    image.fill(Qt.GlobalColor.transparent)
    for x in range(30, 90):
        for y in range(30, 90):
            image.setPixelColor(x, y, Qt.GlobalColor.blue)
    clipboard.setImage(image)
    QTest.keyClick(window, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    settle(window)
    mime = QMimeData()
    mime.setData("image/svg+xml", svg())
    clipboard.setMimeData(mime)
    window.intake.paste()
    settle(window)
    assert [design.file_name for design in window.document.job.designs] == ["Clipboard.png", "Clipboard.svg"]
    clipboard.setText("words")
    window.intake.paste()
    assert "holds no picture" in window.bar.message.text()


def test_a_folder_is_added_whole_and_what_cannot_be_read_is_said(window, settle, tmp_path):
    folder = tmp_path / "art"
    (folder / "inner").mkdir(parents=True)
    (folder / "b.png").write_bytes(disc_png())
    (folder / "a.svg").write_bytes(svg())
    (folder / "c.png").write_bytes(b"broken")
    (folder / "notes.txt").write_bytes(b"no picture")
    drop(window, [folder])
    settle(window)
    assert [design.file_name for design in window.document.job.designs] == ["a.svg", "b.png"]
    assert "c.png is no picture" in window.bar.message.text()
    assert len(window.document.job.designs) == 2
    assert window.document.undo_stack.count() == 1


def test_adding_many_files_can_be_called_off(window, settle, tmp_path):
    for number in range(30):
        (tmp_path / f"{number}.svg").write_bytes(svg())
    drop(window, [tmp_path / f"{number}.svg" for number in range(30)])
    window.intake._adding.cancel()
    settle(window)
    assert not window.document.job.designs


def test_a_picture_that_changes_on_disk_stays_what_it_was(window, settle, tmp_path):
    add(window, settle, tmp_path, "disc.png", disc_png())
    area = window.workspace.result.outline.area.area
    (tmp_path / "disc.png").write_bytes(b"something else")
    type_into(window.stations["art"].picture.copies.count.lineEdit(), "9")
    visit(window, "outline")
    type_into(window.stations["outline"].panel.speck, "2")
    settle(window)
    assert window.workspace.result.outline.area.area == pytest.approx(area)


def test_long_work_is_announced_and_can_be_called_off(with_disc, settle):
    window = with_disc
    window.overviews._asked_at -= 10
    window.overviews._on_progress(0.4, "Tracing Disc")
    assert "Tracing Disc … 40 %" in window.bar.message.text()
    click(window.bar._actions[0])
    assert "Called off" in window.bar.message.text()
    click(window.bar._actions[0])
    settle(window)
    assert window.workspace.result is not None


def test_art_is_seen_before_anything_is_traced(window, settle, qtbot, tmp_path, monkeypatch):
    """The pipeline waits here until the picture was seen."""
    go_on = threading.Event()
    real = Pipeline.result

    def waits(self, *arguments, **more):
        assert go_on.wait(PATIENCE_S)
        return real(self, *arguments, **more)

    monkeypatch.setattr(Pipeline, "result", waits)
    unseen = rgba(coverage(disc(61, 100, 90), 200, 180), (12, 34, 56))  # by any other test: results are shared
    (tmp_path / "disc.png").write_bytes(png(unseen, dpi=(300, 300)))
    window.take_files([tmp_path / "disc.png"])
    qtbot.waitUntil(lambda: window.workspace.sketch is not None)
    assert window.workspace.result is None
    (picture,) = [item for item in window.table.drawing().items() if isinstance(item, PictureItem)]
    design = window.workspace.design
    assert picture.boundingRect().width() == pytest.approx(design.width_mm)
    assert not window.tray.shelf.item(0).icon().isNull()
    decoded = window.workspace.sketch
    go_on.set()
    settle(window)
    assert window.workspace.sketch is None
    assert window.workspace.result.artwork is decoded  # it was not decoded a second time


def test_only_what_takes_long_to_read_is_announced(window, settle, qtbot, tmp_path, monkeypatch):
    (tmp_path / "disc.png").write_bytes(disc_png())
    said, say = [], window.say
    monkeypatch.setattr(window, "say", lambda words, **more: said.append(words) or say(words, **more))
    window.intake._patience.setInterval(60_000)
    window.take_files([tmp_path / "disc.png"])
    settle(window)
    assert not [words for words in said if "Reading" in words]
    go_on, real = threading.Event(), open_art.decoded
    monkeypatch.setattr(open_art, "decoded", lambda *a, **more: go_on.wait(PATIENCE_S) and real(*a, **more))
    window.intake._patience.setInterval(10)
    window.take_files([tmp_path / "disc.png"])
    qtbot.waitUntil(lambda: any("Reading disc.png" in words for words in said))
    go_on.set()
    settle(window)
    assert len(window.document.job.designs) == 2


def test_of_a_large_picture_a_look_stands_on_the_table_and_the_whole_is_worked_on(window, settle, qtbot, tmp_path):
    large = rgba(coverage(disc(500, 1001, 999), 2003, 1999), (65, 43, 21))
    (tmp_path / "large.png").write_bytes(png(large, dpi=(600, 600)))
    window.take_files([tmp_path / "large.png"])
    qtbot.waitUntil(lambda: window.workspace.sketch is not None)
    look, design = window.workspace.sketch, window.workspace.design
    assert max(look.width_px, look.height_px) <= 800
    (picture,) = [item for item in window.table.drawing().items() if isinstance(item, PictureItem)]
    assert picture.boundingRect().width() == pytest.approx(design.width_mm)
    assert design.width_mm == pytest.approx(2003 / 600 * 25.4, rel=1e-3)
    settle(window)
    assert window.workspace.result.artwork.width_px == 2003
    assert window.workspace.design.width_mm == design.width_mm
