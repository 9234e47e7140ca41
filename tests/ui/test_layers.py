"""A design of layers made by hand: words, shapes, pictures, order, groups, backing."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from hands import click, draw_on_table, drop, press_on_table, type_into, visit
from honest_edge.core.values.layers import Layer, Lettering, Shape
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.stock import Stock
from honest_edge.ui.stations.art.layer_items import ScaleGrip
from honest_edge.ui.widgets import dialogs

pytestmark = pytest.mark.slow


@pytest.fixture
def words(window, settle):
    """A window with a design of one lettering, and its panel."""
    window.intake.start_with_words()
    settle(window)
    (keep,) = window.stations["art"].layers.findings.fixes  # “Words” is what is meant here
    click(keep)
    settle(window)
    return window, window.stations["art"].layers


def layers(window):
    return window.document.job.designs[0].layers


def add(panel, name):
    (action,) = [action for action in panel.add.menu().actions() if action.text() == name]
    action.trigger()


def arrange(panel, name):
    (action,) = [action for action in panel.arrange.menu().actions() if action.text() == name]
    action.trigger()


def rows(panel):
    return [panel.list.item(at).text() for at in range(panel.list.count())]


def test_words_are_typed_and_stay_words(words, settle):
    window, panel = words
    panel.fields.text.setFocus()
    panel.fields.text.selectAll()
    QTest.keyClicks(panel.fields.text, "Mint tea")
    QTest.qWait(450)
    settle(window)
    assert layers(window)[0].lettering.text == "Mint tea"
    assert rows(panel) == ["Mint tea"]
    assert window.workspace.result.outline.part_count == 8  # seven letters, and the dot of the i
    steps = window.document.undo_stack.count()
    QTest.keyClicks(panel.fields.text, "s")
    QTest.qWait(450)
    assert window.document.undo_stack.count() == steps  # typing on is the same step
    window.document.undo_stack.undo()
    assert layers(window)[0].lettering.text == "Words"


def test_shapes_are_added_ordered_and_removed(words, settle):
    window, panel = words
    add(panel, "Disc")
    settle(window)
    assert rows(panel) == ["Disc", "Words"]
    assert window.workspace.result.outline.part_count == 1
    click(panel.down)
    settle(window)
    assert rows(panel) == ["Words", "Disc"]
    assert window.workspace.result.composed.stack.entries[-1].layer.lettering is not None
    click(panel.copy)
    settle(window)
    assert rows(panel) == ["Disc", "Words", "Disc"]
    window.table.setFocus()
    QTest.keyClick(window.table, Qt.Key.Key_Delete)
    settle(window)
    assert rows(panel) == ["Words", "Disc"]


def test_a_layer_is_dragged_snapped_nudged_and_scaled_on_the_table(words, settle):
    window, panel = words
    add(panel, "Box")
    settle(window)
    box = layers(window)[1]
    start = (box.x_mm - 15, box.y_mm - 9)  # clear of the words
    draw_on_table(window.table, start, (start[0] + 10, start[1] + 10), (start[0] + 31.3, start[1] + 17.2))
    settle(window)
    moved = layers(window)[1]
    assert moved.x_mm - box.x_mm == pytest.approx(31.3, abs=1.5)
    assert moved.y_mm - box.y_mm == pytest.approx(17.2, abs=1.5)
    # nearly back in line with the words: its middle snaps to theirs exactly
    words_box = window.stations["art"].state.layer_view.boxes["l1"]
    middle = (words_box[1] + words_box[3]) / 2
    grab = (moved.x_mm - 15, moved.y_mm - 9)
    draw_on_table(window.table, grab, (grab[0], grab[1] - 5), (grab[0], grab[1] - (moved.y_mm - middle) + 0.3))
    settle(window)
    assert layers(window)[1].y_mm == pytest.approx(middle, abs=0.01)
    before, steps = layers(window)[1], window.document.undo_stack.count()
    window.table.setFocus()
    QTest.keyClick(window.table, Qt.Key.Key_Right)
    QTest.keyClick(window.table, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    settle(window)
    assert layers(window)[1].x_mm - before.x_mm == pytest.approx(0.5)
    assert layers(window)[1].y_mm - before.y_mm == pytest.approx(5)
    assert window.document.undo_stack.count() == steps + 2
    now = layers(window)[1]
    corner = (now.x_mm + 20, now.y_mm + 12.5)
    draw_on_table(window.table, corner, (corner[0] + 5, corner[1] + 3), (now.x_mm + 40, now.y_mm + 25))
    settle(window)
    assert layers(window)[1].shape.width_mm == pytest.approx(80, rel=0.03)
    assert layers(window)[1].shape.height_mm == pytest.approx(50, rel=0.03)
    assert (layers(window)[1].x_mm, layers(window)[1].y_mm) == (now.x_mm, now.y_mm)
    # several are sized as one, about the middle of the box round them
    panel.take(("l1", "l2"))
    settle(window)
    (words_now, box_now), boxes = layers(window), window.stations["art"].state.layer_view.boxes
    left, right = (pick(boxes[key][at] for key in ("l1", "l2")) for pick, at in ((min, 0), (max, 2)))
    top, bottom = (pick(boxes[key][at] for key in ("l1", "l2")) for pick, at in ((min, 1), (max, 3)))
    middle, steps = ((left + right) / 2, (top + bottom) / 2), window.document.undo_stack.count()
    half = ((right + middle[0]) / 2, (bottom + middle[1]) / 2)
    draw_on_table(window.table, (right, bottom), (right - 3, bottom - 3), half)
    settle(window)
    assert window.document.undo_stack.count() == steps + 1
    assert layers(window)[0].lettering.size_mm == pytest.approx(words_now.lettering.size_mm / 2, rel=0.03)
    assert layers(window)[1].shape.width_mm == pytest.approx(box_now.shape.width_mm / 2, rel=0.03)
    assert layers(window)[0].x_mm - middle[0] == pytest.approx((words_now.x_mm - middle[0]) / 2, abs=0.3)
    assert layers(window)[1].y_mm - middle[1] == pytest.approx((box_now.y_mm - middle[1]) / 2, abs=0.3)


def test_groups_locks_and_hiding(words, settle):
    window, panel = words
    before, art = window.workspace.design, window.workspace.result.cut_size_mm
    arrange(panel, "Each letter a layer of its own")
    settle(window)
    assert [a.lettering.text for a in layers(window)] == [
        char for char in before.layers[0].lettering.text if char != " "
    ]
    assert window.workspace.result.cut_size_mm == pytest.approx(art, abs=0.02)  # each where it lay
    window.document.undo_stack.undo()
    settle(window)
    assert window.workspace.design == before
    panel.take(("l1",))
    add(panel, "Box")
    add(panel, "Star")
    settle(window)
    panel.take(("l1", "l2"))
    arrange(panel, "Group")
    panel.take(())
    settle(window)
    press_on_table(window.table, layers(window)[1].x_mm - 18, layers(window)[1].y_mm - 11)
    assert set(panel.taken) == {"l1", "l2"}
    arrange(panel, "Lock or unlock")
    settle(window)
    assert [layer.is_locked for layer in layers(window)] == [True, True, False]
    place = layers(window)[1]
    window.table.setFocus()
    QTest.keyClick(window.table, Qt.Key.Key_Right)
    assert layers(window)[1] == place
    panel.list.item(0).setCheckState(Qt.CheckState.Unchecked)
    settle(window)
    assert layers(window)[2].is_hidden
    assert len(window.workspace.result.composed.stack.entries) == 2
    assert "locked" in rows(panel)[1]


def test_aligning_and_even_gaps(words, settle):
    window, panel = words
    design = window.document.job.designs[0]
    boxes = [
        Layer(key=f"b{n}", shape=Shape(kind="box", width_mm=10, height_mm=5 + n), x_mm=x, y_mm=20 + n)
        for n, x in enumerate((0, 11, 40))
    ]
    window.document.edit(window.document.job.with_design(replace(design, layers=(*design.layers, *boxes))), "boxes")
    settle(window)
    panel.take(("b0", "b1", "b2"))
    arrange(panel, "Align: tops")
    settle(window)
    assert len({layer.y_mm - layer.shape.height_mm / 2 for layer in layers(window)[1:]}) == 1
    arrange(panel, "Even gaps across")
    settle(window)
    assert [layer.x_mm for layer in layers(window)[1:]] == pytest.approx([0, 20, 40])
    panel.take(("b0", "b1"))
    arrange(panel, "Even gaps across")
    assert "three layers" in window.bar.message.text()


def test_flattening_is_a_property_and_says_what_would_be_cut_apart(words, settle):
    window, panel = words
    add(panel, "Disc")
    click(panel.down)
    settle(window)
    assert panel.flat.isChecked()
    assert panel.pieces.text().startswith("cut apart: ")
    assert panel.pieces.text().endswith("flattened: 1")
    apart = int(panel.pieces.text().split()[2])
    click(panel.flat)
    settle(window)
    result = window.workspace.result
    assert result.outline.part_count == apart
    assert "each layer is cut by itself" in window.path_bar.buttons["art"].toolTip()
    click(panel.flat)
    settle(window)
    assert window.workspace.result.outline.part_count == 1
    assert len(layers(window)) == 2


def on_kraft(window, settle):
    job = window.document.job
    window.document.edit(
        replace(job, sheet=replace(job.sheet, stock=Stock(name="Kraft", rgb=(200, 170, 120)))), "stock"
    )
    settle(window)


def test_the_hole_of_an_o_is_a_gap_on_kraft_and_none_on_white_and_a_backing_closes_it(words, settle):
    window, panel = words
    type_into(panel.fields.controls["lettering.size_mm"], "20 mm")
    settle(window)
    assert not panel.findings.words  # white paper in white paper
    on_kraft(window, settle)
    assert "Unprinted stock shows through 2 gaps in and between the layers" in panel.findings.words
    index = panel.backing.findData("offset")
    panel.backing.setCurrentIndex(index)
    panel.backing.activated.emit(index)
    settle(window)
    assert "shows through" not in panel.findings.words
    assert window.workspace.result.outline.part_count == 1
    type_into(panel.reach, "4 mm")
    settle(window)
    assert window.document.job.designs[0].backing.grow_mm == 4
    type_into(panel.reach, "400 mm")
    assert "reach of the backing must be" in window.bar.message.text()


def test_a_picture_becomes_the_first_of_several_layers(with_disc, settle, monkeypatch, disc_file):
    window = with_disc
    before = window.workspace.result
    click(window.stations["art"].picture.to_layers)
    settle(window)
    panel = window.stations["art"].layers
    assert window.cards.currentWidget() is panel
    after = window.workspace.result
    assert after.outline.area.area == pytest.approx(before.outline.area.area, rel=1e-3)
    assert after.ppi == pytest.approx(before.ppi)
    monkeypatch.setattr(dialogs, "ask_picture", lambda _parent, _folder: disc_file)
    add(panel, "Picture…")
    settle(window)
    assert len(layers(window)) == 2
    type_into(panel.fields.controls["picture.width_mm"], "10 mm")
    settle(window)
    assert window.workspace.result.composed.lowest_ppi == pytest.approx(before.ppi)
    window.document.undo_stack.undo()
    window.document.undo_stack.undo()
    window.document.undo_stack.undo()
    assert window.document.job.designs[0].asset


def test_letters_are_filled_with_a_picture_or_a_pattern(words, settle, monkeypatch, disc_file):
    window, panel = words
    monkeypatch.setattr(dialogs, "ask_picture", lambda _parent, _folder: disc_file)
    fill = panel.fields.fill
    for kind in ("pattern", "picture", "plain"):
        index = fill.findData(kind)
        fill.setCurrentIndex(index)
        fill.activated.emit(index)
        settle(window)
        paint = layers(window)[0].paint
        assert (bool(paint.asset), paint.repeat_mm > 0) == (kind != "plain", kind == "pattern")
        assert (panel.answer.text() == "Crisp") == (kind == "plain")  # a picture in the letters is as sharp as it is
        assert panel.under.text().startswith("drawn forms only" if kind == "plain" else "softest picture")
    monkeypatch.setattr(dialogs, "ask_colour", lambda parent, present, title="": (200, 30, 10))
    click(panel.fields.colour)
    assert layers(window)[0].paint.rgb == (200, 30, 10)


def test_a_missing_font_is_named_and_replaced_in_sight(words, settle, tmp_path):
    window, panel = words
    design = window.document.job.designs[0]
    lettering = Lettering(text="Tea", family="Long Gone Grotesk", style="Black")
    missing = replace(design, layers=(replace(design.layers[0], lettering=lettering),))
    window.document.edit(window.document.job.with_design(missing), "font")
    settle(window)
    assert "Long Gone Grotesk Black is not on this machine" in panel.fields.substitute.text()
    assert panel.fields.substitute.isVisible()
    assert panel.fields.family.currentText() == "Long Gone Grotesk"  # what the job says stays
    assert "Long Gone Grotesk" in window.path_bar.buttons["art"].toolTip()
    assert window.path_bar.buttons["art"].state == "look"


def test_what_cannot_be_drawn_is_said_and_the_rest_stays(words, settle):
    window, panel = words
    add(panel, "Barcode EAN-13")
    settle(window)
    panel.fields.code_text.setText("12ab")
    panel.fields.code_text.editingFinished.emit()
    settle(window)
    assert "12 or 13 digits" in panel.fields.problem.text()
    assert window.path_bar.buttons["art"].state == "blocked"
    assert "l1" in window.stations["art"].state.layer_view.boxes
    panel.fields.code_text.setText("400638133393")
    panel.fields.code_text.editingFinished.emit()
    settle(window)
    assert not panel.fields.problem.isVisible()
    panel.take(("l1",))
    panel.fields.text.setPlainText("  ")
    QTest.qWait(450)
    assert "at least one letter" in window.bar.message.text()
    assert layers(window)[0].lettering.text == "Words"


def test_the_whole_grows_together_and_is_saved_and_written(words, settle, tmp_path):
    window, panel = words
    add(panel, "Rounded box")
    click(panel.down)
    settle(window)
    type_into(panel.sizes.art[0], "70 mm")
    settle(window)
    left, _, right, _ = window.workspace.result.outline.area.bounds
    assert right - left == pytest.approx(70, abs=0.01)
    path = tmp_path / "label.hedge"
    window.document.save(path)
    saved = window.document.job
    window.document.open(path)
    settle(window)
    assert window.document.job == saved
    visit(window, "outline")
    assert not window.stations["outline"].panel.toolbox.isVisible()  # nothing is told from a background
    assert "Known exactly" in window.stations["outline"].panel.method.text()
    visit(window, "edge")
    settle(window)
    visit(window, "art")
    assert window.cards.currentWidget() is panel
    assert window.table.mapFromScene(QPointF(0, 0)) is not None


def marks(window, tip):
    return [item for item in window.table.drawing().items() if item.toolTip().startswith(tip)]


def test_gaps_are_hatched_and_one_press_closes_them(words, settle):
    window, panel = words
    for x_mm, y_mm, width_mm, height_mm in ((0, -20, 60, 6), (0, 20, 60, 6), (-27, 0, 6, 46), (27, 0, 6, 46)):
        beam = Shape(kind="box", width_mm=width_mm, height_mm=height_mm)
        panel.add_layer((x_mm, y_mm), shape=beam)
        settle(window)
    assert len(marks(window, "See-through")) == len(window.stations["art"].state.layer_view.stack.gaps) == 1
    assert "White shows through 1 gap between the layers" in panel.findings.words
    click(next(made for made in panel.findings.fixes if made.text() == "Put a backing behind"))
    settle(window)
    assert not marks(window, "See-through")
    assert "shows through" not in panel.findings.words
    assert window.document.job.designs[0].backing.shape == "offset"


def test_thickened_strokes_are_seen_before_and_after(words, settle):
    window, panel = words
    type_into(panel.fields.controls["lettering.size_mm"], "5 mm")
    type_into(panel.fields.controls["lettering.fatten_mm"], "0.5 mm")
    settle(window)
    shown = window.table.grab().toImage()
    QTest.keyPress(window, Qt.Key.Key_B)
    assert window.table.grab().toImage() != shown
    QTest.keyRelease(window, Qt.Key.Key_B)
    assert window.table.grab().toImage() == shown


def test_a_line_of_cut_is_laid_on_and_its_kind_chosen(words, settle):
    window, panel = words
    add(panel, "Line to cut or fold")
    settle(window)
    assert [path.kind for path in window.workspace.result.cut.lines] == ["crease"]
    kind = panel.fields.controls["line"]
    kind.setCurrentIndex(kind.findData("perforate"))
    kind.activated.emit(kind.currentIndex())
    settle(window)
    assert {path.kind for path in window.workspace.result.cut.lines} == {"perforate"}
    assert rows(panel)[0].endswith("(line of cut)")


def test_pieces_of_stock_are_chosen_and_glued_in_order(words, settle, monkeypatch):
    window, panel = words
    add(panel, "Disc")
    click(panel.down)
    settle(window)
    role = panel.fields.controls["role"]
    role.setCurrentIndex(role.findData("stock"))
    role.activated.emit(role.currentIndex())
    monkeypatch.setattr(dialogs, "ask_colour", lambda parent, present, title="": (60, 120, 80))
    click(panel.fields.stock)
    settle(window)
    assert panel.order.text() == "Glue back to front: 1 Disc, 2 the printed part."
    assert [stock.rgb if stock else None for stock in window.workspace.overview.plan.stocks] == [None, (60, 120, 80)]
    visit(window, "sheet")
    window.workspace.page = 1
    window.redraw()
    middle = window.table.mapFromScene(QPointF(108, 200))
    assert window.table.viewport().grab().toImage().pixelColor(middle).getRgb()[:3] == (60, 120, 80)


def test_a_word_becomes_a_design_for_each_letter(words, settle):
    window, panel = words
    small = SheetSpec(paper="own", own_mm=(120, 120))
    window.document.edit(replace(window.document.job, sheet=small), "a small sheet")
    panel.fields.text.setPlainText("To")
    QTest.qWait(450)
    arrange(panel, "A page for each letter, all one size")
    settle(window)
    assert [d.name for d in window.document.job.designs[1:]] == [f"Letter {c}" for c in "To"]
    assert window.workspace.overview.plan is not None


def test_the_menu_of_a_layer_opens_where_it_lies(words, settle, qtbot):
    window, panel = words
    layer = layers(window)[0]
    at = window.table.mapFromScene(QPointF(layer.x_mm, layer.y_mm))
    QApplication.sendEvent(
        window.table.viewport(),
        QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, window.table.viewport().mapToGlobal(at)),
    )
    assert panel.arrange.menu().isVisible()
    panel.arrange.menu().hide()
    assert panel.taken == ("l1",)


def test_a_dropped_layer_stays_where_it_was_dropped_while_the_rest_is_computed(words, settle):
    window, panel = words
    add(panel, "Box")
    settle(window)
    panel.move_taken(("l2",), 30, 0)
    item = next(i for i in window.table.drawing().items() if getattr(getattr(i, "layer", None), "key", "") == "l2")
    (printed,) = item.childItems()
    assert (
        window.stations["art"].state.layer_view.design != window.document.job.designs[0]
    )  # the view is still of before
    assert printed.sceneBoundingRect().center().x() == pytest.approx(layers(window)[1].x_mm, abs=0.05)
    settle(window)
    (printed,) = next(
        i for i in window.table.drawing().items() if getattr(getattr(i, "layer", None), "key", "") == "l2"
    ).childItems()
    assert printed.sceneBoundingRect().center().x() == pytest.approx(layers(window)[1].x_mm, abs=0.05)


def test_a_grip_that_is_pressed_again_and_not_moved_changes_nothing(qtbot):
    told = []

    class Table:
        def stretch(self, factor, middle):
            told.append(("stretch", factor))

        def let_go(self, factor, _middle):
            told.append(("let go", factor))

    grip = ScaleGrip(QPointF(10, 0), QPointF(0, 0), Table())
    grip._on_drag(QPointF(10, 0), QPointF(20, 0))
    grip._on_release(QPointF(10, 0), QPointF(20, 0))
    grip._on_release(QPointF(20, 0), QPointF(20, 0))
    assert told == [("stretch", 2.0), ("let go", 2.0), ("let go", 1.0)]


def test_the_picture_inside_a_form_is_moved_and_sized_on_the_table(words, settle, monkeypatch, disc_file):
    window, panel = words
    panel.add_layer((0.0, -30.0), shape=Shape(kind="box", width_mm=30, height_mm=20))
    settle(window)
    monkeypatch.setattr(dialogs, "ask_picture", lambda _parent, _folder: disc_file)
    panel.fields.fill.setCurrentIndex(panel.fields.fill.findData("picture"))
    panel.fields.fill.activated.emit(panel.fields.fill.currentIndex())
    settle(window)
    key = panel.taken[0]
    assert window.document.job.designs[0].layer(key).paint.asset
    click(panel.fields.placing)
    faint = [item for item in window.table.drawing().items() if abs(item.opacity() - 0.35) < 0.01]
    assert len(faint) == 1
    before = window.document.job.designs[0].layer(key)
    draw_on_table(window.table, (0, -30), (2, -32), (5, -36))
    settle(window)
    after = window.document.job.designs[0].layer(key)
    assert (after.x_mm, after.y_mm) == (before.x_mm, before.y_mm)  # the form stays
    assert (after.paint.place.x_mm, after.paint.place.y_mm) == pytest.approx((5, -6), abs=0.6)
    type_into(panel.fields.controls["paint.place.zoom"], "2")
    settle(window)
    assert window.document.job.designs[0].layer(key).paint.place.zoom == 2
    panel.take(())
    assert not window.stations["art"].state.is_placing


def test_a_grown_copy_follows_its_words(words, settle):
    window, panel = words
    panel.take(("l1",))
    arrange(panel, "Grown copy below it")
    settle(window)
    assert rows(panel)[1].startswith("Words, grown")
    assert window.workspace.result.outline.part_count == 1  # the letters hang together on it
    narrow = window.workspace.result.art_size_mm[0]
    type_into(panel.fields.controls["grown.grow_mm"], "5 mm")
    settle(window)
    assert window.workspace.result.art_size_mm[0] == pytest.approx(narrow + 6, abs=0.05)
    panel.take(("l1",))
    type_into(panel.fields.controls["lettering.size_mm"], "20 mm")
    settle(window)
    assert window.workspace.result.art_size_mm[0] > narrow + 20
    panel.remove_taken()
    settle(window)
    assert "at least one layer" in window.bar.message.text()  # both would go


def test_words_are_filled_with_a_gradient(words, settle, monkeypatch):
    window, panel = words
    fields = panel.fields
    fields.fill.setCurrentIndex(fields.fill.findData("linear"))
    fields.fill.activated.emit(fields.fill.currentIndex())
    settle(window)
    gradient = layers(window)[0].paint.gradient
    assert (gradient.kind, len(gradient.colours)) == ("linear", 2)
    assert "drawn forms only" in panel.under.text()  # as sharp as the letters
    click(fields.gradient.more)
    settle(window)
    monkeypatch.setattr(dialogs, "ask_colour", lambda *_a: (10, 200, 30))
    click(fields.gradient.swatches[2])
    settle(window)
    assert layers(window)[0].paint.gradient.colours[2] == (10, 200, 30)
    type_into(fields.controls["paint.gradient.turn_deg"], "0")
    settle(window)
    pixels = window.workspace.result.artwork.pixels
    right = pixels[:, -pixels.shape[1] // 8 :]
    green = right[right[..., 3] == 255].mean(axis=0)
    assert green[1] > green[0] + 40  # the last colour lies at the right
    fields.fill.setCurrentIndex(fields.fill.findData("plain"))
    fields.fill.activated.emit(fields.fill.currentIndex())
    settle(window)
    assert layers(window)[0].paint.gradient is None


def test_a_key_is_named_only_where_it_does_something(words, settle):
    window, panel = words
    assert "B: before thickening" not in window.table.caption
    panel.take(("l1",))
    type_into(panel.fields.controls["lettering.fatten_mm"], "0.4 mm")
    settle(window)
    assert "B: before thickening" in window.table.caption


def place_of(window, key):
    """The middle of a layer as the window's own pixels."""
    left, top, right, bottom = window.stations["art"].state.layer_view.boxes[key]
    at = window.table.mapTo(window, window.table.mapFromScene(QPointF((left + right) / 2, (top + bottom) / 2)))
    return at.x(), at.y()


def test_a_picture_dropped_on_a_layer_takes_its_place(window, settle, disc_file):
    window.intake.start_with_words()
    settle(window)
    panel = window.stations["art"].layers
    add(panel, "Box")
    settle(window)
    box = panel.taken[0]
    panel.arranging.move((box,), 0, 60)
    settle(window)
    drop(window, [disc_file], place_of(window, box))
    settle(window)
    assert len(window.document.job.designs) == 1, "it did not become a design of its own"
    layer = window.workspace.design.layer(box)
    assert (layer.paint.file_name, layer.shape.width_mm) == (disc_file.name, 40)
    words_key = next(one.key for one in window.workspace.design.layers if one.lettering is not None)
    wide = (lambda box: box[2] - box[0])(window.stations["art"].state.layer_view.boxes[words_key])
    assert window.workspace.design.layer(words_key).is_placeholder
    drop(window, [disc_file], place_of(window, words_key))
    settle(window)
    layer = window.workspace.design.layer(words_key)
    assert layer.lettering is None
    assert layer.picture.width_mm == pytest.approx(wide, abs=0.5)
    drop(window, [disc_file], (5, 5))  # beside everything it is a design of its own
    settle(window)
    assert len(window.document.job.designs) == 2
    window.document.undo_stack.undo()
    window.document.undo_stack.undo()
    assert window.workspace.design.layer(words_key).lettering is not None
