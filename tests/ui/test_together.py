"""Several designs taken together: size, copies, school and cut change in all, as one step of undo."""

from dataclasses import replace

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QInputDialog

from hands import click, drop, type_into, visit
from pictures import coverage, disc_png, png, rgba, square


@pytest.fixture
def three(window, settle, tmp_path):
    for name, ppi in (("mint", 300), ("sage", 200), ("thyme", 150)):
        (tmp_path / f"{name}.png").write_bytes(disc_png(ppi=ppi))
    drop(window, [tmp_path / f"{name}.png" for name in ("mint", "sage", "thyme")])
    settle(window)
    for row in (0, 2):
        window.tray.shelf.item(row).setSelected(True)
    window.tray.shelf.item(1).setSelected(False)
    return window


def designs(window):
    return window.document.job.designs


def test_what_is_typed_for_one_holds_for_those_taken_with_it(three, settle):
    window = three
    assert [design.name for design in window.workspace.together] == ["Mint", "Thyme"]
    panel = window.stations["art"].panel
    assert "2 designs together" in panel.together_note.text()
    before = window.document.job
    type_into(panel.sizes.cut[0], "30 mm")
    settle(window)
    widths = [window.workspace.fresh[design.key].cut_size_mm[0] for design in designs(window)]
    assert widths[0] == pytest.approx(30, abs=0.02)
    assert widths[2] == pytest.approx(30, abs=0.02)
    assert widths[1] == pytest.approx(240 / 200 * 25.4 * 200 / 240 + 4, abs=0.1)  # as it was
    window.document.undo_stack.undo()
    assert window.document.job == before
    type_into(panel.copies.count.lineEdit(), "7")
    settle(window)
    assert [design.copies for design in designs(window)] == [7, 1, 7]
    visit(window, "edge")
    settle(window)
    click(window.stations["edge"].panel.schools["bleed"])
    settle(window)
    assert [design.edge.school for design in designs(window)] == ["bleed", "border", "bleed"]


def test_a_design_is_made_once_more_and_takes_another_picture_where_that_is_dropped_on_it(three, settle, tmp_path):
    window, shelf = three, three.tray.shelf
    click_on(shelf, 0)
    type_into(window.stations["art"].panel.sizes.cut[0], "30 mm")
    settle(window)
    QTest.keyClick(window, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    settle(window)
    assert [design.name for design in designs(window)] == ["Mint", "Mint 2", "Sage", "Thyme"]
    assert window.workspace.design.name == "Mint 2"  # the copy is in hand
    (tmp_path / "basil.png").write_bytes(png(rgba(coverage(square(60) + 100, 200, 200))))
    tile = shelf.viewport().mapTo(window, shelf.visualItemRect(shelf.item(1)).center())
    drop(window, [tmp_path / "basil.png"], (tile.x(), tile.y()))
    settle(window)
    made, before = designs(window)[1], designs(window)[0]
    assert (made.file_name, made.edge, made.copies) == ("basil.png", before.edge, before.copies)
    assert made.name == "Mint 2"  # what was named by hand, or told apart by a number, stays
    assert window.workspace.fresh[made.key].cut_size_mm[0] == pytest.approx(30, abs=0.02)
    assert window.bar.message.text().startswith(
        "basil.png took its place in “Mint 2”; size, edge and copies stay; but it "
    )
    assert "it has only 117 ppi" in window.bar.message.text(), "120 of its pixels lie on 26 mm inside the border"
    click(window.bar._actions[0])
    assert designs(window)[1].file_name == "mint.png"
    (tmp_path / "broken.png").write_bytes(b"no picture")
    drop(window, [tmp_path / "broken.png"], (tile.x(), tile.y()))
    settle(window)
    assert "broken.png" in window.bar.message.text()
    assert designs(window)[1].file_name == "mint.png"


def test_what_can_be_done_with_a_design_stands_under_the_pointer(three, monkeypatch):
    window, shelf, told = three, three.tray.shelf, []
    window.tray.menu_wanted.disconnect()  # a menu that is shown waits for the hand
    window.tray.menu_wanted.connect(lambda key, _place: told.append(key))
    shelf.customContextMenuRequested.emit(shelf.visualItemRect(shelf.item(1)).center())
    assert told == [designs(window)[1].key]
    shelf.customContextMenuRequested.emit(QPoint(5, shelf.viewport().height() - 2))  # where nothing lies
    assert len(told) == 1
    menu = window.acts.menu(told[0])
    entries = {action.text().split("\t")[0]: action for action in menu.actions()}
    assert list(entries) == ["Duplicate", "Replace its picture…", "Rename…", "Fill the sheet with it", "Remove"]
    monkeypatch.setattr(QInputDialog, "getText", lambda *_a, **_k: (" Clary ", True))
    entries["Rename…"].trigger()
    assert designs(window)[1].name == "Clary"
    window.document.edit(window.document.job.with_design(replace(designs(window)[1], fills=False, copies=3)), "three")
    entries["Fill the sheet with it"].trigger()
    assert designs(window)[1].fills
    entries["Duplicate"].trigger()
    assert [design.name for design in designs(window)] == ["Mint", "Clary", "Clary 2", "Thyme"]
    entries["Remove"].trigger()
    assert [design.name for design in designs(window)] == ["Mint", "Clary 2", "Thyme"]
    entries["Duplicate"].trigger()  # it is gone by now
    assert len(designs(window)) == 3


def click_on(shelf, row):
    QTest.mouseClick(shelf.viewport(), Qt.MouseButton.LeftButton, pos=shelf.visualItemRect(shelf.item(row)).center())


def test_a_name_is_that_of_one_and_a_plain_click_takes_one_alone(three, settle):
    window = three
    type_into(window.stations["art"].panel.name, "Peppermint")
    settle(window)
    assert [design.name for design in designs(window)] == ["Peppermint", "Sage", "Thyme"]
    shelf = window.tray.shelf
    QTest.mouseClick(shelf.viewport(), Qt.MouseButton.LeftButton, pos=shelf.visualItemRect(shelf.item(1)).center())
    settle(window)
    assert [design.name for design in window.workspace.together] == ["Sage"]
    panel = window.stations["art"].panel
    assert not panel.together_note.isVisibleTo(panel)
    assert window.tray.shelf.item(1).flags() & Qt.ItemFlag.ItemIsSelectable
