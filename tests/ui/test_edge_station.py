"""The Edge station driven by hand: schools, changes, the bench's error, the strip, detail, the grip on the cut."""

from dataclasses import replace

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QGraphicsSimpleTextItem
from scipy.stats import rayleigh

from hands import click, draw_on_table, type_into, visit
from honest_edge.app.results.assess_edge import places_of
from honest_edge.ui.stations.edge.drawing import OffsetHandle
from honest_edge.ui.stations.outline.drawing import PlaceMark
from honest_edge.ui.widgets.words import one_in, percent
from pictures import coverage, disc, png, rgba

pytestmark = pytest.mark.slow


@pytest.fixture
def edge(with_disc, settle):
    """A disc at the Edge station, with full bleed."""
    window = with_disc
    visit(window, "edge")
    click(window.stations["edge"].panel.schools["bleed"])
    settle(window)
    return window, window.stations["edge"].panel


def recipe(window):
    return window.document.job.designs[0].edge


def test_the_share_of_clean_stickers_is_the_answer(edge, settle):
    window, panel = edge
    type_into(panel.bleed, "0.3 mm")
    settle(window)
    spread = 0.5 / 2.4477  # "within 0.5 mm, 19 times of 20" of a Rayleigh distribution
    expected = rayleigh.cdf(0.3 + 0.1, scale=spread)
    shown = float(panel.answer.text().split()[0])
    assert shown == pytest.approx(100 * expected, abs=1.5)
    assert "of the stickers are expected clean" in panel.under.text()
    assert f"{panel.answer.text()} clean" in window.stations["edge"].edge_strip.sentence()


def test_every_school_has_its_share_and_one_is_advised(edge):
    window, panel = edge
    shares = {view.school: view.result.forecast.share_clean for view in window.stations["edge"].state.assessment.views}
    assert shares["bare"] < 0.2 < 0.9 < shares["bleed"]
    for school, card in panel.schools.items():
        assert percent(shares[school]) in card.accessibleDescription()
    assert "suits this art" in panel.advice.text()


def test_advice_is_never_applied_by_itself(edge, settle):
    window, panel = edge
    click(panel.schools["bare"])  # which it advises against, with changes to mend it
    asked, steps = window.document.job, window.document.undo_stack.count()
    settle(window)
    assessment = window.stations["edge"].state.assessment
    assert assessment.advice.school != "bare"
    assert assessment.changes
    assert window.document.job is asked
    assert window.document.undo_stack.count() == steps


def test_the_smallest_change_is_looked_at_and_then_used(edge, settle):
    window, panel = edge
    type_into(panel.bleed, "0.1 mm")
    settle(window)
    assert window.path_bar.buttons["edge"].state == "look"
    now = window.stations["edge"].edge_strip.sentence()
    (first, *_) = window.stations["edge"].state.assessment.changes
    assert first.target == 0.95
    click(panel.changes.looks[0])
    assert window.stations["edge"].edge_strip.sentence() != now
    assert window.stations["edge"].edge_strip._what.proposed
    assert recipe(window).bleed_mm == 0.1
    click(panel.changes.looks[0])
    assert window.stations["edge"].edge_strip.sentence() == now
    click(panel.changes.uses[0])
    settle(window)
    assert recipe(window).bleed_mm == first.edge.bleed_mm
    assert window.workspace.result.forecast.share_clean >= 0.95
    window.document.undo_stack.undo()
    assert recipe(window).bleed_mm == 0.1


def test_the_assumption_is_labelled_typed_and_opened(edge, settle):
    window, panel = edge
    words = [label.text() for label in panel.error.findChildren(type(panel.under))]
    assert "Assumed, not measured" in words
    type_into(panel.error.drift, "2 mm")
    settle(window)
    worse = window.workspace.result.forecast.share_clean
    assert worse < 0.9
    click(panel.error.more.heading)
    type_into(panel.error.rotation, "0.2")
    settle(window)
    assert window.document.job.error.rotation_deg.spread == 0.2
    assert not panel.error.drift.isEnabled()
    type_into(panel.error.bias_x, "0.4 mm")
    settle(window)
    assert window.document.job.error.shift_x_mm.bias == pytest.approx(0.4)
    assert window.workspace.result.forecast.share_clean < worse
    click(panel.error.forget)
    settle(window)
    assert window.document.job.error is None
    assert window.document.job.drift_mm == 2
    type_into(panel.error.repeat, "90 mm")
    assert "must be 0 to 20" in window.bar.message.text()


def test_the_place_on_the_sheet_counts(edge, settle):
    window, panel = edge
    type_into(panel.bleed, "0.4 mm")
    type_into(panel.error.rotation, "0.2")
    settle(window)
    on_sheet = window.stations["edge"].state.assessment.on_sheet
    assert on_sheet.farthest < on_sheet.nearest
    assert "farthest place" in panel.sheet_words.text()
    places = places_of(window.workspace.current, window.workspace.overview)
    assert len(places) == window.workspace.overview.plan.copies > 1  # a new sticker fills its sheet
    assert 0 <= window.stations["edge"].state.assessment.whole_sheet <= on_sheet.mean + 0.05


def test_all_schools_lie_side_by_side(edge):
    window, panel = edge
    panel.side_by_side.click()
    words = [i.text() for i in window.table.drawing().items() if isinstance(i, QGraphicsSimpleTextItem)]
    assert len(words) == 4
    assert any(word.startswith("At the art\n") and "clean" in word for word in words)
    panel.side_by_side.click()
    assert not any(isinstance(i, QGraphicsSimpleTextItem) for i in window.table.drawing().items())


def test_the_cut_is_dragged_seen_live_and_is_one_step_of_undo(edge, settle, qtbot):
    window, panel = edge
    click(panel.schools["border"])
    settle(window)
    (grip,) = [item for item in window.table.drawing().items() if isinstance(item, OffsetHandle)]
    start = grip.pos()
    steps = window.document.undo_stack.count()
    at = [window.table.mapFromScene(QPointF(start.x() + mm, start.y())) for mm in (0, 0.5, 1.0)]
    view = window.table.viewport()
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=at[0])
    with qtbot.waitSignal(window.previewed):
        QTest.mouseMove(view, at[1])
        QTest.mouseMove(view, at[2])
    assert "let go to take it" in panel.under.text()
    assert recipe(window).offset_mm == 2.0
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at[2])
    qtbot.waitUntil(lambda: recipe(window).offset_mm != 2.0)
    settle(window)
    assert recipe(window).offset_mm == pytest.approx(3.0, abs=0.15)
    assert window.document.undo_stack.count() == steps + 1


def test_the_rings_of_a_sheet_are_dragged_seen_live_and_typed(with_some_of_the_demo, settle, qtbot):
    window = with_some_of_the_demo("Bee", "Badge", "Lavender", "Herb sheet")
    (sheet,) = [one for one in window.workspace.job.designs if one.form is not None]
    window.take(sheet.key)
    others = [replace(one, gap_mm=0.9) if one.key == "s3" else one for one in sheet.layers]
    window.workspace.edit_design("one ring", layers=tuple(others))
    window.go_to("edge")
    settle(window)
    panel = window.here.panel
    _, grip = [
        item for item in window.table.drawing().items(Qt.SortOrder.AscendingOrder) if isinstance(item, OffsetHandle)
    ]
    before_mm, steps = panel.rings.text(), window.document.undo_stack.count()
    view = window.table.viewport()
    at = [window.table.mapFromScene(grip.pos() + QPointF(mm, 0)) for mm in (0, 0.5, 1.0)]
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=at[0])
    QTest.qWait(20)
    assert window.document.undo_stack.count() == steps, "a click makes no rings alike that differ"
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=at[0])
    with qtbot.waitSignal(window.previewed):
        QTest.mouseMove(view, at[1])
        QTest.mouseMove(view, at[2])
    assert panel.under.text().startswith("with rings of ")
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at[2])
    qtbot.waitUntil(lambda: window.document.undo_stack.count() > steps)
    (ring_mm,) = {one.gap_mm for one in window.workspace.design.layers if one.sticker is not None}
    assert ring_mm == pytest.approx(float(before_mm.split()[0]) + 1.0, abs=0.45)  # a pixel is 0.4 mm
    assert window.document.undo_stack.count() == steps + 1
    type_into(panel.rings, "1.2")
    assert {one.gap_mm for one in window.workspace.design.layers if one.sticker is not None} == {1.2}
    window.document.undo_stack.undo()
    assert {one.gap_mm for one in window.workspace.design.layers if one.sticker is not None} == {ring_mm}


def test_detail_is_guarded_and_spared_by_hand(edge, settle):
    window, panel = edge
    assert window.workspace.result.model.detail.is_empty
    click(panel.toolbox.buttons["guard"])
    draw_on_table(window.table, (3.0, 10.0), (3.0, 11.0))
    settle(window)
    assert recipe(window).detail[0].kind == "guard"
    assert window.workspace.result.model.detail.area > 1
    assert window.workspace.result.forecast.share_without_loss < 1
    click(panel.toolbox.buttons["spare"])
    draw_on_table(window.table, (3.0, 9.0), (3.0, 12.0))
    settle(window)
    assert window.workspace.result.model.detail.area < 1
    click(panel.forget)
    settle(window)
    assert recipe(window).detail == ()


def test_the_cut_has_more_to_set(edge, settle):
    window, panel = edge
    click(panel.more.heading)
    type_into(panel.ease, "0.8 mm")
    type_into(panel.fatten, "0.4 mm")
    type_into(panel.hole, "12")
    panel.fill.setCurrentIndex(1)
    panel.fill.activated.emit(1)
    settle(window)
    edge_recipe = recipe(window)
    assert (edge_recipe.ease_mm, edge_recipe.fatten_mm, edge_recipe.hole_mm2) == pytest.approx((0.8, 0.4, 12))
    assert edge_recipe.fill == "plain"
    type_into(panel.hole, "many")
    assert "is no number" in window.bar.message.text()


def test_an_offset_that_leaves_nothing_is_said_and_no_number_is_shown(edge, settle):
    window, panel = edge
    click(panel.schools["inside"])
    type_into(panel.offset, "40 mm")
    settle(window)
    assert "leaves nothing to cut" in panel.under.text()
    assert panel.answer.text() == "–"
    assert window.path_bar.buttons["edge"].state == "blocked"


def test_the_strip_is_zoomed_walked_and_read(edge, settle):
    window, panel = edge
    click(panel.schools["bare"])
    settle(window)
    strip = window.stations["edge"].edge_strip
    plot = strip._plot()
    wheel = QWheelEvent(
        plot.center(),
        strip.mapToGlobal(plot.center()),
        QPoint(),
        QPoint(0, 480),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    held = strip._along_at(plot.center().x())
    strip.wheelEvent(wheel)
    assert strip._zoom == pytest.approx(1.2**4)
    assert strip._along_at(plot.center().x()) == pytest.approx(held)
    strip.setFocus()
    QTest.keyClick(strip, Qt.Key.Key_Minus)
    assert strip._zoom < 1.2**4
    for _ in range(12):
        strip.zoom_by(2)
    assert strip._zoom == 60
    QTest.keyClick(strip, Qt.Key.Key_Right)
    weak_place = strip.weak_places[strip.current]
    assert strip._from_mm <= weak_place.along_mm <= strip._from_mm + strip._span_mm
    assert "ink" in strip.readout(3)


def test_coloured_and_clear_stock_are_chosen_and_named(edge, settle):
    window, panel = edge
    visit(window, "sheet")
    stock = window.stations["sheet"].panel.profiles.choices["stock"]
    stock.setCurrentIndex(stock.findData("Clear film"))
    stock.activated.emit(stock.currentIndex())
    settle(window)
    assert window.document.job.sheet.stock.is_clear
    visit(window, "edge")
    click(panel.schools["bare"])
    settle(window)
    assert "clear film shows" in window.stations["edge"].edge_strip.sentence()


@pytest.mark.parametrize(
    ("share", "text"), [(0, "0 %"), (1, "100 %"), (0.9999, "over 99.9 %"), (0.00001, "under 0.1 %"), (0.9744, "97.4 %")]
)
def test_shares_are_never_rounded_to_certainty(share, text):
    assert percent(share) == text


def test_small_chances_are_told_as_one_in_so_many():
    assert [one_in(0.025), one_in(0.4), one_in(0.0)] == ["1 in 40", "40 %", "none"]


def test_what_an_inward_offset_loses_is_said_and_marked(window, settle, tmp_path):
    cover = coverage(disc(60, 80, 80), 400, 160) + coverage(disc(8, 250, 80), 400, 160)
    (tmp_path / "two.png").write_bytes(png(rgba(cover), dpi=(300, 300)))
    window.take_files([tmp_path / "two.png"])
    settle(window)
    visit(window, "edge")
    click(window.stations["edge"].panel.schools["inside"])
    settle(window)
    assert "1 swallowed" in window.stations["edge"].panel.findings.words
    marks = [item.text for item in window.table.drawing().items() if isinstance(item, PlaceMark)]
    assert marks == ["nothing is left of this part"]


def test_a_matte_is_said_with_its_remedy(window, settle, tmp_path):
    cover = coverage(disc(100, 120, 120), 240, 240)
    pixels = rgba(cover, (180, 60, 40))
    pixels[..., :3] = np.rint(cover[..., None] * np.array((180, 60, 40)) + (1 - cover[..., None]) * 255)
    (tmp_path / "matted.png").write_bytes(png(pixels, dpi=(300, 300)))
    window.take_files([tmp_path / "matted.png"])
    settle(window)
    visit(window, "edge")
    assert "light rim of an earlier background" in window.stations["edge"].panel.findings.words
    assert window.path_bar.buttons["edge"].state == "look"
