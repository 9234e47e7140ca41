"""Labels, sheets of stickers and cards made by hand, and a table that fills labels."""

from __future__ import annotations

import math
from dataclasses import replace

import msgspec
import numpy as np
import pytest
import shapely
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from hands import click, draw_on_table, drop, type_into, visit
from honest_edge.app.output.prepare_files import prepare
from honest_edge.core.values.forms import PRESETS
from honest_edge.files.report import Report
from honest_edge.ui.drawings.picture_item import PictureItem
from honest_edge.ui.stations.art.grid_rows import GridRows
from honest_edge.ui.widgets import dialogs
from pictures import disc_png

pytestmark = pytest.mark.slow

FORMS = {preset.name: preset for preset in PRESETS}


@pytest.fixture
def made(window, settle):
    """Make a design on a form; returns the panel."""

    def make(name):
        (action,) = [a for a in window.tray.make.menu().actions() if a.text() == name]
        action.trigger()
        settle(window)
        return window.stations["art"].layers

    return make


def design(window):
    return window.workspace.design


@pytest.mark.parametrize("name", ["Lid label", "Planner boxes", "Folded card", "Box sleeve"])
def test_forms_are_made_cut_and_judged(window, settle, made, name):
    made(name)
    result = window.workspace.result
    assert result.cut.line_kind == "through"
    assert len(result.cut.area.geoms) == 1
    visit(window, "edge")
    settle(window)
    assert window.stations["edge"].state.assessment is not None


def test_a_wrap_label_is_measured_from_the_jar(window, settle, made):
    panel = made("Wrap label")
    assert panel.form.caution.text().startswith("On the outside of the jar only. Ink, paper and glue")
    fields = panel.form.fields
    type_into(fields.table.controls["jar_mm"], "80 mm")
    settle(window)
    assert f"{math.pi * 80:.1f} mm round" in fields.facts.text()
    left, _, right, _ = window.workspace.result.cut.area.bounds
    assert right - left == pytest.approx(math.pi * 80 + 6, abs=0.02)
    type_into(fields.table.controls["jar_mm"], "5 mm")
    assert "jar’s diameter must be 10 to 1000 mm, not 5" in window.bar.message.text()
    assert design(window).form.jar_mm == 80
    type_into(fields.table.controls["lower_jar_mm"], "72 mm")
    settle(window)
    assert "a cone" in fields.facts.text().lower()
    type_into(fields.table.controls["height_mm"], "3 mm")
    settle(window)
    assert "no jar narrows" in fields.problem.text()
    assert window.path_bar.buttons["art"].state == "blocked"


def test_a_sheet_of_stickers_is_spread_and_cut_in_two_kinds(with_some_of_the_demo, settle):
    window = with_some_of_the_demo("Lavender", "Badge", "Bee")
    job = window.document.job
    alone = tuple(replace(one, copies=1, spares=0) for one in job.designs)  # many take long to lay out
    window.document.start(replace(job, designs=alone), {}, None)
    window.intake.start_with_form(FORMS["Sticker sheet"])
    settle(window)
    panel = window.stations["art"].layers
    panel.add.menu().aboutToShow.emit()
    offered = {action.text(): action for action in panel.stickers_menu.actions()}
    for name in ("Lavender", "Badge", "Bee"):
        offered[name].trigger()
        settle(window)
    placed = [
        shapely.box(*window.stations["art"].state.layer_view.boxes[a.key]) for a in design(window).layers if a.sticker
    ]
    assert not any(a.intersects(b) for n, a in enumerate(placed) for b in placed[:n])  # each finds a free place
    click(panel.form.spread)
    settle(window)
    result = window.workspace.result
    kinds = [path.kind for path in result.cut.all_paths]
    assert kinds.count("through") == 1
    assert kinds.count("kiss") >= 3
    stickers = [layer for layer in design(window).layers if layer.sticker]
    boxes = [shapely.box(*window.stations["art"].state.layer_view.boxes[layer.key]) for layer in stickers]
    assert all(a.distance(b) > 1 for n, a in enumerate(boxes) for b in boxes[:n])
    # the sheet's colour keeps off every kiss cut by the drift that is expected
    assert all(layer.gap_mm >= window.document.job.drift_mm for layer in stickers)
    ground = result.composed.stack.entries[0].area
    for entry in result.composed.stack.entries[3:]:
        assert shapely.distance(ground, entry.area) == pytest.approx(stickers[0].gap_mm, abs=0.02)
    panel.take((stickers[0].key,))
    type_into(panel.fields.controls["gap_mm"], "0.1 mm")
    settle(window)
    assert "expected with every kiss cut clean" in panel.findings.words
    assert window.path_bar.buttons["edge"].state == "look"
    visit(window, "edge")
    assert "expected with every kiss cut clean" in window.stations["edge"].panel.findings.words
    visit(window, "art")
    # gone from the job, gone from the sheet: said, not silently dropped
    window.document.edit(window.document.job.without(stickers[1].sticker.design), "remove")
    settle(window)
    assert "not in the job any more" in window.workspace.error


def test_a_pop_up_is_shown_folded_and_refused_when_it_looks_out(window, settle, made):
    panel = made("Pop-up card")
    fields = panel.form.fields
    assert fields.fold.isVisibleTo(panel)
    before = fields.fold.grab().toImage()
    fields.slider.setValue(20)
    QTest.qWait(20)
    assert fields.fold.grab().toImage() != before
    type_into(fields.table.controls["part_height_mm"], "90 mm")
    settle(window)
    assert "together 120 mm, and the panel has 105" in fields.problem.text()
    window.document.undo_stack.undo()
    settle(window)
    kinds = {path.kind for path in window.workspace.result.cut.all_paths}
    assert kinds == {"through", "crease"}
    fold = fields.table.controls["fold_kind"]
    fold.setCurrentIndex(fold.findData("perforate"))
    fold.activated.emit(fold.currentIndex())
    settle(window)
    assert "perforate" in {path.kind for path in window.workspace.result.cut.all_paths}


def drawn_in_rows(window, settle):
    """Find every row’s own print on each table that shows sheets, and on a rehearsed one."""
    rows = [result.art.pixels for result in window.pipeline().labels(window.document.job)[0]]

    def drawn():
        pictures = [item for item in window.table.drawing().items() if isinstance(item, PictureItem)]
        return {n for item in pictures for n, row in enumerate(rows) if np.array_equal(item._pixels, row)}

    for place in ("sheet", "proof", "files"):
        visit(window, place)
        settle(window)
        assert drawn() == {0, 1, 2}, place
    visit(window, "proof")
    settle(window)
    click(window.here.panel.rehearse)
    settle(window)
    assert drawn() == {0, 1, 2}
    window.here.rehearsing.end()


def test_a_table_makes_one_label_a_row(window, settle, made, tmp_path, monkeypatch):
    panel = made("Square label")
    path = tmp_path / "teas.csv"
    path.write_text("name,price\nMint,4.50\nLemon balm and verbena,5\nSage,3.90\n", encoding="utf-8")
    monkeypatch.setattr(dialogs, "ask_table", lambda _parent, _folder: path)
    (words,) = [action for action in panel.add.menu().actions() if action.text() == "Words"]
    words.trigger()
    settle(window)
    panel.fields.text.setPlainText("{name}\n{price}")
    QTest.qWait(450)
    settle(window)
    assert "there is no table for “name”, “price”" in panel.findings.words.lower()
    click(panel.form.table.choose)
    settle(window)
    assert "3 rows of teas.csv" in panel.form.table.words.text()
    shown = window.stations["art"].state.layer_view.stack.entries[-1].layer.lettering.text
    assert shown.startswith("Lemon balm")
    assert "1 of 3 rows is set smaller to fit, down to capitals of" in panel.findings.words
    left, _, right, _ = window.stations["art"].state.layer_view.boxes["l1"]
    assert right - left == pytest.approx(50 - 2 * 3, abs=0.5)  # what the form leaves, words kept clear of its edge
    type_into(panel.fields.controls["lettering.least_mm"], "6 mm")
    settle(window)
    assert "1 of 3 rows is too long even in the smallest letters (row 2)" in panel.findings.words
    assert [i for i in window.table.drawing().items() if i.toolTip() == "Too long for its room"]
    job = window.document.job
    assert window.workspace.overview.plan is not None
    assert sum(len(page) for page in window.workspace.overview.plan.pages) == 3  # once a row
    contents = prepare(job, window.pipeline())

    report = msgspec.json.decode(contents["report.json"], type=Report)
    assert [found.name for found in report.designs] == [
        "Square label, row 1: Mint",
        "Square label, row 2: Lemon balm and verbena",
        "Square label, row 3: Sage",
    ]
    drawn_in_rows(window, settle)
    visit(window, "art")
    settle(window)
    path.write_bytes("name\nCafé\n".encode("latin-1"))
    click(panel.form.table.choose)
    assert "no UTF-8 text" in window.bar.message.text()
    assert window.document.job == job
    click(panel.form.table.drop)
    assert design(window).table is None


def test_every_row_is_looked_at_and_one_is_left_out(window, settle, made, tmp_path, monkeypatch):
    panel = made("Round label")
    path = tmp_path / "teas.csv"
    path.write_text(f"name\nMint\n{'Lemon balm ' * 27}\nSage\n", encoding="utf-8")  # one row of 300 letters
    monkeypatch.setattr(dialogs, "ask_table", lambda _parent, _folder: path)
    next(action for action in panel.add.menu().actions() if action.text() == "Words").trigger()
    settle(window)
    panel.fields.text.setPlainText("{name}")
    QTest.qWait(450)
    click(panel.form.table.choose)
    settle(window)
    assert "1 of 3 rows is too long even in the smallest letters (row 2)" in panel.findings.words
    table = panel.form.table

    def shown():
        return window.stations["art"].state.layer_view.stack.entries[-1].layer.lettering.text

    assert shown().startswith("Lemon balm")
    for number, text in ((1, "Mint"), (3, "Sage"), (2, "Lemon balm")):
        table.row.setValue(number)
        settle(window)
        assert shown().startswith(text)
        assert table.row_words.text().startswith(text)
    table.left_out.click()
    settle(window)
    assert "too long" not in panel.findings.words
    assert sum(len(page) for page in window.workspace.overview.plan.pages) == 2
    assert "1 left out" in table.words.text()
    assert "2 labels in all" in table.words.text()
    names = list(
        msgspec.json.decode(prepare(window.document.job, window.pipeline())["report.json"], type=Report).designs
    )
    assert [found.name for found in names] == ["Round label, row 1: Mint", "Round label, row 3: Sage"]
    for number in (1, 3):
        table.row.setValue(number)
        settle(window)
        table.left_out.click()
        settle(window)
    assert "keep at least one" in window.bar.message.text()
    assert window.document.job.designs[0].table.left_out == (0, 1)
    table.row.setValue(0)
    settle(window)
    assert shown() == "Sage"


def test_a_round_label_has_a_diameter_and_none_of_zero(window, settle, made):
    panel = made("Round label")
    field = panel.form.fields.table.controls["diameter_mm"]
    type_into(field, "60 mm")
    settle(window)
    assert window.workspace.result.cut_size_mm == pytest.approx((60, 60), abs=0.01)
    type_into(field, "0")
    assert "diameter must be 1 to 2000 mm, not 0" in window.bar.message.text()
    assert window.document.job.designs[0].form.width_mm == 60


def test_new_layers_go_where_there_is_room(window, settle, made):
    panel = made("Sticker sheet")
    for name in ("Words", "QR code", "Barcode Code 128"):
        next(action for action in panel.add.menu().actions() if action.text() == name).trigger()
        settle(window)
    assert len(window.stations["art"].state.layer_view.boxes) == 5  # with the title and the shop's name
    assert not [f for f in window.workspace.result.findings if f.check in ("clash", "clear")]


def test_a_sheet_is_filled_with_stickers_of_all_designs_by_one_press(window, settle, tmp_path):
    for number, ppi in enumerate((300, 280, 260, 240, 220)):
        (tmp_path / f"tea{number}.png").write_bytes(disc_png(ppi=ppi))
    window.take_files([tmp_path / f"tea{number}.png" for number in range(5)])
    settle(window)
    window.intake.start_with_form(PRESETS[0])
    settle(window)
    panel = window.stations["art"].layers
    steps = window.document.undo_stack.count()
    click(panel.form.fill)
    settle(window)
    assert window.document.undo_stack.count() == steps + 1
    sheet = window.document.job.designs[-1]
    laid = [layer.sticker.design for layer in sheet.layers if layer.sticker]
    assert len(laid) >= 8
    assert set(laid) == {design.key for design in window.document.job.designs[:-1]}
    counts = [laid.count(key) for key in set(laid)]
    assert max(counts) - min(counts) <= 1
    assert not [f for f in window.workspace.result.findings if f.check in ("clash", "ring", "outside")]


def test_a_layer_is_placed_from_any_edge(window, settle, made):
    panel = made("Square label")
    next(action for action in panel.add.menu().actions() if action.text() == "QR code").trigger()
    settle(window)
    fields = panel.fields.distances.fields
    assert fields["left"].text() == "12.5 mm"  # a code of 25 mm in the middle of 50
    for side, place in (("left", 0), ("bottom", 3), ("right", 2), ("top", 1)):
        type_into(fields[side], "4 mm")
        settle(window)
        box = next(iter(window.stations["art"].state.layer_view.boxes.values()))
        edge = (-25, -25, 25, 25)[place]
        assert abs(box[place] - edge) == pytest.approx(4, abs=0.01), side
        assert fields[side].text() == "4 mm"


def test_a_dragged_layer_snaps_to_the_middle_of_its_form(window, settle, made):
    panel = made("Square label")
    next(action for action in panel.add.menu().actions() if action.text() == "QR code").trigger()
    settle(window)
    type_into(panel.fields.distances.fields["left"], "2 mm")
    settle(window)
    box = next(iter(window.stations["art"].state.layer_view.boxes.values()))
    middle = ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
    draw_on_table(window.table, middle, (middle[0] + 4, middle[1] + 1), (0.3, middle[1] + 5))
    settle(window)
    (layer,) = window.document.job.designs[0].layers
    assert layer.x_mm == pytest.approx(0, abs=0.01)  # let go 0.3 mm beside it
    assert layer.y_mm == pytest.approx(middle[1] + 5, abs=0.5)


def test_a_sticker_sheet_of_five_designs_takes_eight_steps(window, settle, tmp_path):
    """25 were wanted: each line below is one thing that a hand does."""
    for number, ppi in enumerate((300, 280, 260, 240, 220)):
        (tmp_path / f"tea{number}.png").write_bytes(disc_png(ppi=ppi))
    window.take_files([tmp_path / f"tea{number}.png" for number in range(5)])  # 1: drop them
    settle(window)
    making = window.tray.make.menu()  # 2: press "Make one"
    next(action for action in making.actions() if action.text() == "Sticker sheet").trigger()  # 3
    settle(window)
    panel = window.stations["art"].layers
    QTest.keyClicks(panel.fields.text, "Mint sheet")  # 4: the title is selected already
    QTest.qWait(450)
    settle(window)
    panel.list.item(0).setSelected(True)  # 5: take the shop's name in hand
    panel.list.item(1).setSelected(False)
    panel.fields.text.selectAll()
    QTest.keyClicks(panel.fields.text, "Quillwort")  # 6
    QTest.qWait(450)
    settle(window)
    click(panel.form.fill)  # 7
    settle(window)
    visit(window, "files")  # 8
    assert window.stations["files"].panel.write.isEnabled()
    assert len([layer for layer in window.document.job.designs[-1].layers if layer.sticker]) >= 8


def test_a_dozen_round_stickers_take_six_steps(window, settle):
    """Eight were wanted."""
    making = window.tray.make.menu()  # 1: press "Make one"
    next(action for action in making.actions() if action.text() == "Round label").trigger()  # 2
    settle(window)
    panel = window.stations["art"].layers
    type_into(panel.form.fields.table.controls["diameter_mm"], "40 mm")  # 3
    type_into(panel.copies.count.lineEdit(), "12")  # 4
    settle(window)
    visit(window, "files")  # 5, and 6 writes
    assert window.stations["files"].panel.write.isEnabled()
    (design,) = window.document.job.designs
    assert window.workspace.overview.plan.copies == 12
    assert window.workspace.fresh[design.key].cut_size_mm == pytest.approx((40, 40), abs=0.01)


def test_a_table_that_no_word_takes_blocks_and_its_columns_write_themselves(window, settle, tmp_path, monkeypatch):
    path = tmp_path / "jars.csv"
    path.write_text("name,batch\nMint,1\nThyme,2\n")
    monkeypatch.setattr(dialogs, "ask_table", lambda _parent, _folder: path)
    window.intake.start_with_form(next(preset for preset in PRESETS if preset.form.kind == "label"))
    settle(window)
    card = window.here.panel.form.table
    click(card.choose)
    settle(window)
    assert window.workspace.overview.state("art")[0] == "blocked"
    assert "would be all alike" in window.here.panel.findings.words
    mint = next(one for one in card.findChildren(QPushButton) if one.text() == "Write {name}")
    click(mint)
    settle(window)
    assert any(layer.lettering and "{name}" in layer.lettering.text for layer in window.workspace.design.layers)
    assert "would be all alike" not in window.here.panel.findings.words
    window.document.undo_stack.undo()
    settle(window)
    click(window.here.panel.findings.fixes[0])
    settle(window)
    assert "would be all alike" not in window.here.panel.findings.words


def test_pictures_dropped_on_a_sheet_of_stickers_are_spread_on_it_in_a_grid(window, settle, tmp_path):
    files = [tmp_path / f"{name}.png" for name in ("Ash", "Elm", "Oak", "Fir", "Yew", "Box")]
    for number, file in enumerate(files):
        file.write_bytes(disc_png(radius=60.0 + 8 * number, ppi=600))
    window.intake.start_with_form(PRESETS[0])
    settle(window)
    drop(window, files)
    settle(window)
    job, sheet = window.workspace.job, window.workspace.design
    assert window.workspace.design.form.kind == "sticker sheet"
    assert len(sheet.stickers) == 6
    assert all(job.design(key).copies == 0 for key in sheet.stickers), "they lie on the sheet alone"
    stickers = [one for one in sheet.layers if one.sticker is not None]
    rows = sorted({round(one.y_mm, 1) for one in stickers})
    assert len(rows) == 3
    titles = [one.y_mm for one in sheet.layers if one.lettering is not None]
    sizes = {key: window.workspace.fresh[key].cut_size_mm for key in sheet.stickers}
    assert max(map(max, sizes.values())) == pytest.approx(min(map(max, sizes.values())), abs=0.05), "all of one size"
    reach = max(map(max, sizes.values())) / 2
    assert min(titles) < rows[0] - reach
    assert max(titles) > rows[-1] + reach
    grid = next(one for one in window.findChildren(GridRows) if one.isVisible())
    assert (grid.count.value(), grid.columns.value()) == (6, 2)
    type_into(grid.count, "12")
    settle(window)
    assert sum(one.sticker is not None for one in window.workspace.design.layers) == 12
    assert grid.columns.value() == 3
    type_into(grid.side, "20")
    settle(window)
    assert max(window.workspace.fresh[key].cut_size_mm[0] for key in sheet.stickers) >= 20
    before = window.workspace.job
    type_into(grid.side, "150")
    settle(window)
    assert window.workspace.job == before
    assert "mm would" in window.bar.message.text()
    assert window.workspace.overview.plan is not None


def test_a_label_is_asked_where_it_lies_and_takes_usual_sizes_and_a_tape_s_reading(made, window, settle):
    panel = made("Round label")
    fields = panel.form.fields
    press = {button.text(): button for button in fields.findChildren(QPushButton) if button.isVisible()}
    click(press["2 in"])
    settle(window)
    assert window.workspace.fresh[window.workspace.current].cut_size_mm == pytest.approx((50.8, 50.8), abs=0.01)
    kind = fields.table.controls["kind"]
    kind.setCurrentIndex(kind.findText("round a jar"))
    kind.activated.emit(kind.currentIndex())
    settle(window)
    assert window.workspace.design.form.kind == "wrap label"
    type_into(fields.table.controls["around_mm"], "220")
    settle(window)
    form = window.workspace.design.form
    assert form.jar_mm == pytest.approx(220 / math.pi)
    wide = window.workspace.fresh[window.workspace.current].cut_size_mm[0]
    assert wide == pytest.approx(220 + form.overlap_mm, abs=0.02), "once round, and the overlap"


def test_a_table_dropped_anywhere_becomes_labels_with_as_many_copies_as_it_says(window, settle, tmp_path):
    path = tmp_path / "jars.csv"
    path.write_text("name,qty,price\nMint,3,$4\nThyme,2,$5\n")
    drop(window, [path])
    settle(window)
    (design,) = window.workspace.job.designs
    assert window.workspace.overview.plan.copies == 5
    assert [layer.lettering.text for layer in design.layers] == ["{name}", "{price}"]
    assert window.workspace.error is None
    drop(window, [path])  # a form in hand takes it
    settle(window)
    assert len(window.workspace.job.designs) == 1
    (tmp_path / "mint.png").write_bytes(disc_png(radius=200.0, size=440, ppi=300))
    path.write_text("name,art\nMint,mint.png\nThyme,gone.png\n")
    drop(window, [path])
    settle(window)
    assert [one.name for one in window.workspace.job.designs[1:]] == ["Mint", "Thyme"]
    assert window.workspace.design.name == "Mint"
    assert window.workspace.job.designs[1].layers[0].picture is not None
    path.write_text("name,qty\n")
    before = window.workspace.job
    drop(window, [path])
    settle(window)
    assert window.workspace.job == before
    assert "no rows" in window.bar.message.text()
