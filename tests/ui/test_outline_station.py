"""The Outline station driven by hand: gaps, parts, tools, sliders, what hangs together."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QCheckBox, QPushButton

from hands import click, draw_on_table, press_on_table, type_into, visit
from honest_edge.ui.stations.outline.drawing import PlaceMark
from honest_edge.ui.stations.outline.tools import DAM
from pictures import coverage, disc, png, rgba

pytestmark = pytest.mark.slow


@pytest.fixture
def at(with_some_of_the_demo, settle):
    """Take a design of the demo in hand at the Outline station."""

    def take(name):
        window = with_some_of_the_demo(name)
        visit(window, "outline")
        settle(window)
        return window, window.stations["outline"].panel

    return take


def words_on_table(window):
    return [item.text for item in window.table.drawing().items() if isinstance(item, PlaceMark)]


def buttons_in(widget, text):
    return [made for made in widget.findChildren(QPushButton) if made.text() == text]


def steps(window):
    return window.workspace.design.outline.corrections


def test_gaps_are_marked_with_their_width_and_dammed_by_one_click(at, settle):
    window, panel = at("Bee")
    assert window.path_bar.buttons["outline"].state == "look"
    assert any("gap of 0.9" in words for words in words_on_table(window))
    assert any("closed" in words for words in words_on_table(window))
    area = window.workspace.result.outline.area.area
    click(buttons_in(panel.gaps, "Close")[-1])
    settle(window)
    assert window.workspace.result.outline.area.area > area + 30
    assert [step.kind for step in steps(window)] == ["dam"]
    click(buttons_in(panel.gaps, "Leave")[0])
    settle(window)
    assert all(leak.dammed for leak in window.workspace.result.subject.leaks)
    window.document.undo_stack.undo()
    window.document.undo_stack.undo()
    settle(window)
    assert steps(window) == ()
    assert window.workspace.result.outline.area.area == pytest.approx(area)


def test_a_gap_is_shown_where_it_is(at):
    window, panel = at("Bee")
    zoom = window.table.zoom
    click(next(made for made in panel.gaps.findChildren(QPushButton) if made.property("link")))
    assert window.table.zoom > zoom


def test_a_dam_is_drawn_on_the_table_and_taken_back_by_itself(at, settle, qtbot):
    window, panel = at("Bee")
    leak = max(window.workspace.result.subject.leaks, key=lambda leak: leak.width)
    width = window.workspace.design.width_mm
    (x0, y0), (x1, y1) = leak.start, leak.end
    area = window.workspace.result.outline.area.area
    QTest.keyClick(window, Qt.Key.Key_D)
    qtbot.waitUntil(lambda: window.table.tool == DAM)
    draw_on_table(
        window.table, ((x0 * 1.1 - x1 * 0.1) * width, y0 * width), ((x1 * 1.1 - x0 * 0.1) * width, y1 * width)
    )
    settle(window)
    assert window.workspace.result.outline.area.area > area + 30
    type_into(panel.toolbox.brush, "3 mm")
    click(panel.toolbox.buttons["clear"])
    draw_on_table(window.table, (20, 25), (30, 25))
    settle(window)
    assert [step.kind for step in steps(window)] == ["dam", "clear"]
    assert steps(window)[1].brush * width == pytest.approx(3)
    click(buttons_in(panel.steps, "Take back")[1])
    settle(window)
    assert [step.kind for step in steps(window)] == ["dam"]
    QTest.keyClick(window, Qt.Key.Key_Escape)
    assert window.table.tool is None


def test_the_area_tool_limits_what_is_traced_and_a_click_lifts_it(at, settle):
    window, panel = at("Bee")
    click(panel.toolbox.buttons["area"])
    draw_on_table(window.table, (24, 0), (48, 38))
    settle(window)
    assert window.workspace.result.outline.area.bounds[0] == pytest.approx(24, abs=0.3)
    click(panel.toolbox.buttons["area"])
    press_on_table(window.table, 30, 20)
    settle(window)
    assert window.workspace.design.outline.trace_area is None


def test_a_colour_is_picked_on_the_table_and_given_back(at, settle):
    window, panel = at("Bee")
    panel.background.setCurrentIndex(panel.background.findData("colour"))
    panel.background.activated.emit(panel.background.currentIndex())
    settle(window)
    click(panel.colour)
    press_on_table(window.table, 21, 21)  # the yellow between two stripes
    settle(window)
    red, green, blue = window.workspace.design.outline.colour
    assert red > 200
    assert 150 < green < 210
    assert blue < 90
    assert window.workspace.result.subject.coverage[int(21 / 38.9 * 340), int(21 / 48 * 420)] == 0
    click(panel.colour)
    settle(window)
    assert window.workspace.design.outline.colour is None


def test_parts_are_left_out_by_a_click_on_the_table_or_in_the_list(at, settle):
    window, panel = at("Thyme")
    count = window.workspace.result.outline.part_count
    part = window.workspace.result.outline.parts[-1]
    place = part.polygon.representative_point()
    press_on_table(window.table, place.x, place.y)
    settle(window)
    assert window.workspace.result.outline.part_count == count - 1
    press_on_table(window.table, place.x, place.y)
    settle(window)
    assert window.workspace.result.outline.part_count == count
    tick = [row for row in panel.parts.rows if isinstance(row, QCheckBox)][1]
    tick.click()
    settle(window)
    assert window.workspace.result.outline.part_count == count - 1
    assert "by hand" in " ".join(row.text() for row in panel.parts.rows if isinstance(row, QCheckBox))


def test_the_only_part_is_not_left_out(at, settle):
    window, _ = at("Lavender")
    place = window.workspace.result.outline.parts[0].polygon.representative_point()
    press_on_table(window.table, place.x, place.y)
    settle(window)
    assert "needs at least one" in window.bar.message.text()
    assert window.document.is_saved


def test_a_hole_is_cut_out_by_a_click(at, settle):
    window, panel = at("Thyme")
    hole = window.workspace.result.outline.holes[0]
    place = hole.polygon.representative_point()
    press_on_table(window.table, place.x, place.y)
    settle(window)
    assert window.workspace.result.outline.hole_count == 1
    (tick,) = [row for row in panel.holes.rows if isinstance(row, QCheckBox)]
    assert tick.isChecked()
    tick.click()
    settle(window)
    assert window.workspace.result.outline.hole_count == 0


def test_the_offset_that_joins_all_parts_is_offered_and_holds(at, settle):
    window, panel = at("Thyme")
    visit(window, "edge")
    type_into(window.stations["edge"].panel.offset, "0.5 mm")
    visit(window, "outline")
    settle(window)
    assert len(window.workspace.result.cut.area.geoms) > 1
    assert "loose" in words_on_table(window)
    assert "falls into" in panel.together.words.text()
    click(panel.together.join)
    settle(window)
    assert len(window.workspace.result.cut.area.geoms) == 1
    assert "All 7 parts join" in panel.together.words.text()
    assert "loose" not in words_on_table(window)


def test_a_slid_threshold_is_one_step_of_undo_and_seen_while_it_moves(at, settle, qtbot):
    window, panel = at("Lavender")
    before, raw = window.document.job, window.workspace.result.outline.area.area
    slider = panel.threshold.slider
    slider.setSliderDown(True)
    for place in (120, 110, 100, 90):
        with qtbot.waitSignal(window.previewed):
            slider.setValue(place)
    slider.setSliderDown(False)
    slider.sliderReleased.emit()
    settle(window)
    assert window.workspace.design.outline.threshold < 0.3
    assert window.workspace.result.outline.area.area > raw
    window.document.undo_stack.undo()
    assert window.document.job == before


def test_tolerance_is_measured_shown_and_typed(at, settle):
    window, panel = at("Bee")
    assert panel.tolerance.field.placeholderText() == "auto, 16"
    type_into(panel.tolerance.field, "60")
    settle(window)
    assert window.workspace.result.subject.tolerance == 60
    type_into(panel.tolerance.field, "")
    settle(window)
    assert window.workspace.design.outline.tolerance is None
    type_into(panel.tolerance.field, "soft")
    assert "is no number" in window.bar.message.text()
    type_into(panel.tolerance.field, "900")
    assert "tolerance must be 1 to 200" in window.bar.message.text()


def test_smoothness_shows_its_price(at, settle):
    window, panel = at("Lavender")
    nodes = window.stations["outline"].fitted.node_count
    type_into(panel.smoothness.field, "0.3")
    settle(window)
    fitted = window.stations["outline"].fitted
    assert fitted.node_count < nodes
    assert f"{fitted.deviation_mm:.3f} mm" in panel.curve.text()
    assert "nodes" in panel.curve.text()
    items = len(window.table.drawing().items())
    panel.deviation.click()
    assert len(window.table.drawing().items()) == items + 1


def test_a_strand_too_narrow_for_the_blade_is_marked(at, settle):
    window, panel = at("Bee")
    type_into(panel.narrowest, "5 mm")
    settle(window)
    assert any(place.kind == "strand" for place in window.workspace.result.narrow)
    assert any("narrow" in words for words in words_on_table(window))
    assert "they are marked" in panel.narrow.text()
    type_into(panel.narrowest, "0 mm")
    settle(window)
    assert panel.narrow.text() == "No strand or gap of the cut is narrower."


def ring_file(folder, *, inner_mm):
    """A disc of 24 mm with a hole at its middle, 300 ppi."""
    mm = 300 / 25.4
    cover = coverage(disc(12 * mm, 160, 160), 320, 320) - coverage(disc(inner_mm / 2 * mm, 160, 160), 320, 320)
    path = folder / "ring.png"
    path.write_bytes(png(rgba(cover)))
    return path


def test_a_hole_that_the_border_shrinks_to_a_slit_is_marked_and_closed_by_one_click(window, settle, tmp_path):
    window.take_files([ring_file(tmp_path, inner_mm=5.3)])
    settle(window)
    visit(window, "outline")
    panel = window.stations["outline"].panel
    type_into(panel.hole, "1")
    settle(window)
    assert "the border leaves only 1.3 mm of 1 hole in the art" in panel.kept.words.lower()
    (slit,) = [f for f in window.workspace.result.findings if f.check == "slit"]
    assert slit.places[0].middle_mm == pytest.approx((160 * 25.4 / 300,) * 2, abs=0.05)
    assert "Holes of the art stay; where less than 2.0 mm is left" in panel.hole_rule.text()
    (close,) = panel.kept.fixes
    click(close)
    settle(window)
    assert not window.workspace.result.cut.area.geoms[0].interiors
    assert not [f for f in window.workspace.result.findings if f.check == "slit"]


def test_the_smallest_border_that_joins_can_be_asked_for_when_all_is_joined(window, settle, tmp_path):
    cover = coverage(disc(40, 60, 60), 200, 120) + coverage(disc(30, 145, 60), 200, 120)  # 15 px apart
    (tmp_path / "two.png").write_bytes(png(rgba(cover), dpi=(300, 300)))
    window.take_files([tmp_path / "two.png"])
    settle(window)
    visit(window, "outline")
    panel, result = window.stations["outline"].panel, window.workspace.result
    assert len(result.cut.area.geoms) == 1
    assert result.joining_mm < 15 * 25.4 / 300 / 2  # easing bridges before the grown parts touch
    assert "All 2 parts join from a border of" in panel.together.words.text()
    assert "Use the smallest border" in panel.together.join.text()
    click(panel.together.join)
    settle(window)
    assert window.workspace.result.design.edge.offset_mm < 1.0
    assert len(window.workspace.result.cut.area.geoms) == 1
    assert not panel.together.join.isVisibleTo(panel)
