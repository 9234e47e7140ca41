"""The Sheet station as a user works it."""

import io
import re
import threading
from dataclasses import replace

import numpy as np
import pytest
import shapely
import svgelements
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QApplication, QColorDialog, QFileDialog, QLabel, QPushButton

from hands import PATIENCE_S, click, draw_on_table, drop, type_into, visit
from honest_edge.app.edits import sheet_edits
from honest_edge.app.output.prepare_files import prepare
from honest_edge.app.results import pipeline
from honest_edge.core.sheet.pinning import placed
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.stock import Stock
from honest_edge.core.workshop.cost import PieceCost
from honest_edge.files.profiles import load_profile
from honest_edge.files.project import load_project, save_project
from pictures import coverage, png, rgba, star

pytestmark = pytest.mark.slow


@pytest.fixture
def with_stars(window, settle, tmp_path):
    """Twelve stars of 60 mm on A5: several sheets."""
    path = tmp_path / "star.png"
    path.write_bytes(png(rgba(coverage(star(190, 40) + 200, 400, 400)), dpi=(170, 170)))
    window.take_files([path])
    settle(window)
    job = window.document.job
    (design,) = job.designs
    design = replace(design, copies=12, fills=False)
    window.document.edit(replace(job.with_design(design), sheet=SheetSpec(paper="a5")), "set up")
    visit(window, "sheet")
    settle(window)
    return window


def cuts_on(window, page=0):
    overview = window.workspace.overview
    designs = [result.footprint for result in overview.laid]
    return [placed(placement, designs) for placement in overview.plan.pages[page]]


def choose(control, value):
    control.setCurrentIndex(control.findData(value))
    control.activated.emit(control.currentIndex())


def test_waiting_shows_the_best_so_far_and_keeps_it_in_the_job(with_stars, qtbot, settle):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    before = window.workspace.overview.plan
    click(panel.wait)
    assert panel.stop.isVisible()
    assert not panel.wait.isVisible()
    qtbot.waitUntil(lambda: (window.stations["sheet"].state.better_found or 0) >= 1)
    best = window.workspace.overview.plan
    assert (len(best.pages), -best.filled[0]) < (len(before.pages), -before.filled[0])
    assert "better layout" in panel.waiting_words.text()
    click(panel.stop)
    settle(window)
    kept = window.document.job.layout
    assert kept
    assert re.match(r"Looked for \d+ s and found \d+ better layouts?; the best is kept", window.bar.message.text())
    assert len(window.workspace.overview.plan.pages) <= len(before.pages)
    assert [len(page) for page in kept] == [len(page) for page in window.workspace.overview.plan.pages]
    window.document.undo_stack.undo()
    settle(window)
    assert window.workspace.overview.plan == before


def test_a_search_that_finds_nothing_better_says_how_long_it_looked_and_what_limits(with_stars, settle, monkeypatch):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    monkeypatch.setattr(sheet_edits, "improved", lambda overview, **_more: overview.plan)
    click(panel.wait)
    settle(window)
    assert window.bar.message.text().startswith("Looked for 1 s and found none better. ")


def test_a_change_of_the_job_calls_the_search_off(with_stars, settle):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    click(panel.wait)
    type_into(panel.gap, "4 mm")
    settle(window)
    assert window.stations["sheet"].state.better_found is None
    assert panel.wait.isVisible()
    assert window.document.job.sheet.gap_mm == 4


def test_a_copy_dragged_stays_where_it_was_dropped_and_the_rest_fits_around(with_stars, qtbot, settle):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    first = cuts_on(window)[0].centroid
    draw_on_table(window.table, (first.x, first.y), (80, 100), (74, 105))
    qtbot.waitUntil(lambda: bool(window.document.job.pins))
    settle(window)
    (pin,) = window.document.job.pins
    pinned = [n for n, p in enumerate(window.workspace.overview.plan.pages[pin.page]) if p.is_pinned]
    assert len(pinned) == 1
    cuts = cuts_on(window, pin.page)
    at = cuts[pinned[0]].centroid
    assert (at.x, at.y) == (pytest.approx(74, abs=1), pytest.approx(105, abs=1))
    others = [cut for n, cut in enumerate(cuts) if n != pinned[0]]
    assert all(cut.distance(cuts[pinned[0]]) >= 2.5 - 1e-5 for cut in others)
    assert window.workspace.overview.plan.copies == 12
    assert "1 copy placed by hand" in panel.by_hand.pinned.text()
    click(panel.by_hand.release)
    settle(window)
    assert not window.document.job.pins


def test_a_copy_dropped_on_a_mark_goes_back_and_says_why(with_stars, qtbot):
    window = with_stars
    first = cuts_on(window)[0].centroid
    draw_on_table(window.table, (first.x, first.y), (40, 40), (22, 22))
    qtbot.waitUntil(lambda: "it stays where it was" in window.bar.message.text())
    assert not window.document.job.pins


def test_a_drop_on_a_layout_that_is_older_than_the_job_changes_nothing(with_stars, settle):
    window, station = with_stars, with_stars.stations["sheet"]
    gap = window.workspace.job.sheet.gap_mm + 1
    window.workspace.edit_sheet("gap", gap_mm=gap)
    assert not window.workspace.is_known  # the new layout is still computed
    steps = window.document.undo_stack.count()
    station._on_moved(0, 3.0, 4.0)
    assert window.document.undo_stack.count() == steps
    settle(window)
    assert not window.document.job.pins
    assert window.workspace.overview.job.sheet.gap_mm == gap


def pinned_cut(window):
    """Return number and cut of the one copy of the first sheet that was placed by hand."""
    placements = window.workspace.overview.plan.pages[0]
    ((number, cut),) = [(n, cuts_on(window)[n]) for n, p in enumerate(placements) if p.is_pinned]
    return number, cut


def test_a_copy_turned_by_hand_keeps_its_middle_and_can_be_released(with_stars, qtbot, settle):
    window = with_stars
    first = cuts_on(window)[0].centroid
    draw_on_table(window.table, (first.x, first.y), (80, 100), (74, 105))
    qtbot.waitUntil(lambda: bool(window.document.job.pins))
    settle(window)
    number, before = pinned_cut(window)
    menu = window.stations["sheet"].menu(number)
    next(action for action in menu.actions() if "15" in action.text()).trigger()
    settle(window)
    (pin,) = window.document.job.pins
    assert pin.copy.turn_deg % 90 == pytest.approx(15)
    number, turned = pinned_cut(window)
    assert turned.centroid.distance(before.centroid) < 3
    menu = window.stations["sheet"].menu(number)
    next(action for action in menu.actions() if "fit" in action.text()).trigger()
    settle(window)
    assert not window.document.job.pins


def test_a_used_area_is_drawn_and_kept_free(with_stars, settle):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    click(panel.toolbox.buttons["used"])
    draw_on_table(window.table, (0, 0), (50, 60), (148, 110))
    settle(window)
    (used,) = window.document.job.sheet.used
    assert used == pytest.approx((0, 0, 148, 110), abs=1)
    assert all(not cut.intersects(shapely.box(*used)) for cut in cuts_on(window))
    assert "1 used area" in panel.by_hand.used.text()
    click(panel.by_hand.clear)
    settle(window)
    assert not window.document.job.sheet.used


def test_a_sheet_kept_as_used_is_gone_round(with_stars, settle):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    gone = cuts_on(window)
    click(panel.by_hand.keep)
    settle(window)
    assert len(window.document.job.sheet.used) == len(gone)
    assert all(not cut.intersects(old) for cut in cuts_on(window) for old in gone)


def test_a_used_sheet_without_room_says_so(with_stars, settle):
    window = with_stars
    sheet = replace(window.document.job.sheet, used=((0.0, 0.0, 148.0, 180.0),))
    window.document.edit(replace(window.document.job, sheet=sheet), "used up")
    settle(window)
    assert "used up. Start with a fresh sheet" in window.stations["sheet"].panel.page_words.text()
    click(window.stations["sheet"].panel.by_hand.clear)
    settle(window)
    assert "used up" not in window.stations["sheet"].panel.page_words.text()


def test_a_design_fills_what_is_left_and_spare_ones_count(with_stars, settle):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    panel.spares.setValue(2)
    settle(window)
    assert window.workspace.overview.plan.copies == 14
    panel.spares.setValue(0)
    panel.copies.count.setValue(1)
    panel.copies.fills.click()
    settle(window)
    assert len(window.workspace.overview.plan.pages) == 1
    laid = window.workspace.overview.plan.copies
    assert laid >= 3
    assert panel.copies.fills.text() == f"Fill the sheet: {laid} now"
    assert panel.copies.count.value() == laid
    panel.copies.fills.click()  # as many as lie there now stay
    settle(window)
    assert window.document.job.designs[0].copies == window.workspace.overview.plan.copies == laid
    assert "sticker" in panel.under.text()


def test_papers_turn_and_take_a_size_of_their_own(with_stars, settle):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    panel.landscape.click()
    settle(window)
    assert (window.workspace.overview.plan.width_mm, window.workspace.overview.plan.height_mm) == (210, 148)
    choose(panel.paper, "own")
    settle(window)
    assert panel.own_width.isVisible()
    type_into(panel.own_width, "14 in")
    settle(window)
    assert window.workspace.overview.plan.height_mm == pytest.approx(355.6)
    assert "your own paper, landscape: 300.0 × 355.6 mm" in panel.usable.text()
    type_into(panel.own_width, "1 mm")
    assert "your own paper must be 30 to 2000 mm" in window.bar.message.text()


def test_each_kind_of_mark_is_drawn_and_says_what_it_costs(limits_sought, with_stars, settle):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    choose(panel.marks.kind, "frame")
    settle(window)
    assert len(window.workspace.overview.plan.marks) == 1
    assert not panel.marks.length.isVisible()
    lines = panel.marks.costs.text().splitlines()
    assert [line.split(":")[0] for line in lines] == [
        "three brackets",
        "four brackets",
        "four discs",
        "four squares",
        "frame",
    ]
    assert all("to a fresh sheet" in line for line in lines)
    choose(panel.arrangement, "tidy")
    settle(window)
    assert window.document.job.sheet.arrangement == "tidy"
    assert re.search(r"Laid tight: \d+ more\.", panel.limits.text())


def test_pale_marks_and_shiny_stock_are_warned_of(with_stars, settle, monkeypatch):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    monkeypatch.setattr(QColorDialog, "getColor", lambda *_a, **_k: QColor(200, 200, 200))
    click(panel.marks.colour)
    settle(window)
    assert "stand out from the stock by only 1.7 to 1" in panel.warnings.words
    assert window.workspace.overview.state("sheet")[0] == "look"
    window.workspace.edit_job("stock", sheet=replace(window.document.job.sheet, stock=Stock(gloss="mirror")))
    settle(window)
    assert "The stock is mirror" in panel.warnings.words


def test_what_limits_is_said_of_the_design_in_hand(limits_sought, with_stars, settle):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    limits = window.stations["sheet"].state.limits.limits
    text = panel.limits.text()
    assert text
    if limits.more:
        assert f"{limits.more} more of" in text
    elif limits.gap_mm is not None:
        assert limits.gap_mm < 2.5
        assert "would fit with a gap of" in text
    else:
        assert "a longer look may find room" in text


def test_no_room_for_a_single_design_is_a_clear_word(with_stars, settle):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    type_into(panel.marks.inset, "50 mm")
    settle(window)
    assert window.workspace.overview.plan is None
    assert "“Star” needs" in panel.warnings.words
    window.document.undo_stack.undo()
    settle(window)
    assert window.workspace.overview.plan is not None


def test_ten_thousand_copies_are_laid_and_writing_them_can_be_called_off(with_stars, qtbot, settle, tmp_path):
    window = with_stars
    type_into(window.stations["sheet"].panel.copies.count, "10000")
    settle(window)
    assert window.workspace.overview.plan.copies == 10_000
    folder = tmp_path / "out"
    window.document.out_folder = folder
    files = window.stations["files"].panel
    visit(window, "files")
    click(files.write)
    qtbot.waitUntil(lambda: "together" in files.progress_words.text())
    click(files.cancel)
    settle(window)
    assert "no file was changed" in window.bar.message.text()
    assert not folder.exists()


def test_profiles_are_chosen_edited_kept_and_passed_on(with_stars, settle, tmp_path, monkeypatch):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    choose(panel.profiles.choices["machine"], "Roll plotter")
    settle(window)
    assert window.document.job.sheet.machine.formats == ("plt", "dxf")
    assert window.workspace.overview.plan.marks[0].name == "top left"
    panel.profiles.edit("machine")
    dialog = panel.profiles.dialog
    type_into(dialog.controls["name"], "My plotter")
    type_into(dialog.controls["feed_margin_mm"], "1 in")
    dialog.controls["formats.pdf"].click()
    QApplication.processEvents()
    assert "through.passes" not in dialog.controls, "they belong to a recipe"
    dialog.controls["through.pen"].setValue(3)
    dialog.controls["through.alone"].click()
    dialog.controls["margins_mm"].click()
    type_into(dialog.controls["margins_mm.left"], "45")
    assert dialog.profile.margins_mm == (0, 0, 0, 45)
    assert "direct.force" in dialog.controls, "it reads plot text"
    assert "direct.blade" not in dialog.controls, "nothing asks how its blade is lifted"
    dialog.controls["direct.language"].chosen.emit("gcode")
    QApplication.processEvents()
    dialog.controls["direct.blade"].chosen.emit("servo")
    QApplication.processEvents()
    assert "direct.up_mm" not in dialog.controls
    type_into(dialog.controls["direct.down_s"], "70")
    type_into(dialog.controls["direct.settle_s"], "99")
    assert "time that a servo takes must be 0 to 10 s, not 99" in dialog.message.text()
    type_into(dialog.controls["speed_mm_s"], "-4")
    assert "cutting speed must be 1 to 5000 mm/s, not -4" in dialog.message.text()
    place = tmp_path / "plotter.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(place), ""))
    click(dialog.give)
    click(dialog.keep)
    click(dialog.use)
    settle(window)
    machine = window.document.job.sheet.machine
    assert (machine.name, machine.feed_margin_mm, machine.speed_mm_s) == ("My plotter", pytest.approx(25.4), 400)
    assert (machine.formats, machine.lines["through"].pen) == (("plt", "dxf", "pdf"), 3)
    assert machine.lines["through"].alone
    assert (machine.direct.blade, machine.direct.down_s, machine.direct.settle_s) == ("servo", 70.0, 0.15)
    assert load_profile(place) == machine
    assert panel.profiles.choices["machine"].findData("My plotter") >= 0
    panel.profiles.edit("printer")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a: (str(place), ""))
    click(panel.profiles.dialog.bring)
    assert "profile of a machine, not of a printer" in panel.profiles.dialog.message.text()


def test_a_stock_names_its_cloth_and_one_press_prints_the_rim(with_stars, settle, monkeypatch):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    panel.profiles.edit("stock")
    dialog = panel.profiles.dialog
    dialog.controls["cloth_rgb"].click()
    monkeypatch.setattr("honest_edge.ui.widgets.dialogs.ask_colour", lambda *_a: (20, 30, 90))
    dialog.controls["cloth_rgb.colour"].click()
    click(dialog.use)
    settle(window)
    assert window.document.job.sheet.stock.cloth_rgb == (20, 30, 90)
    visit(window, "edge")
    click(window.stations["edge"].panel.findings.fixes[0])
    settle(window)
    design = window.workspace.design
    assert (design.edge.fill, design.edge.bleed_mm) == ("cloth", 1.27)
    assert (window.workspace.result.art.pixels[..., :3] == (20, 30, 90)).all(axis=2).any()
    visit(window, "sheet")
    panel.profiles.edit("stock")
    assert panel.profiles.dialog.controls["cloth_rgb"].isChecked()
    panel.profiles.dialog.controls["cloth_rgb"].click()
    assert "cloth_rgb.colour" not in panel.profiles.dialog.controls
    click(panel.profiles.dialog.use)
    assert window.document.job.sheet.stock.cloth_rgb is None


def test_stock_is_priced_and_what_it_cannot_do_is_said(with_stars, settle):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    sheet = window.document.job.sheet
    stock = Stock(name="Card", has_liner=False, price=0.6)
    window.document.edit(replace(window.document.job, sheet=replace(sheet, stock=stock)), "stock")
    settle(window)
    pages = len(window.workspace.overview.plan.pages)
    assert panel.under.text() == f"12 stickers in all; stock for {0.6 * pages:.2f}, {0.05 * pages:.2f} each"
    assert "“Card” has no liner, so a kiss cut goes through" in panel.warnings.words
    assert window.path_bar.buttons["sheet"].state == "look"


def test_profiles_travel_in_the_job(with_stars, tmp_path):
    window = with_stars
    sheet = window.document.job.sheet
    mine = replace(sheet, machine=replace(sheet.machine, name="Nobody else’s", overcut_mm=0.4))
    window.workspace.edit_job("machine", sheet=mine)
    save_project(tmp_path / "a.hedge", window.document.job, window.document.holder.assets)
    assert load_project(tmp_path / "a.hedge").job.sheet == mine


def test_a_written_cut_file_is_held_against_its_sheet(with_stars, settle, tmp_path, monkeypatch):
    window = with_stars
    window.stations["sheet"].panel.copies.count.setValue(10)  # so that no sheet is like another
    settle(window)
    contents = prepare(window.document.job, window.pipeline())
    place = tmp_path / "cut-2.svg"
    place.write_bytes(contents["cut-2.svg"])
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a: (str(place), ""))
    window.stations["sheet"].choose_cut_file()
    settle(window)
    assert window.workspace.page == 1
    assert "cut-2.svg lies over sheet 2" in window.bar.message.text()
    assert window.stations["sheet"].state.comparison.distance_mm < 0.01
    assert [item for item in window.table.drawing().items() if item.data(0) == "comparison"]
    (tmp_path / "cut-1.dxf").write_bytes(contents["cut-1.dxf"])
    drop(window, [tmp_path / "cut-1.dxf"])  # no art is a DXF
    settle(window)
    assert "cut-1.dxf lies over sheet 1" in window.bar.message.text()
    place.write_bytes(b"<svg/>")
    window.stations["sheet"].choose_cut_file()
    settle(window)
    assert "holds no lines to cut" in window.bar.message.text()
    type_into(window.stations["sheet"].panel.gap, "3 mm")
    assert window.stations["sheet"].state.comparison is None


def blade_items(window):
    return [item for item in window.table.scene().items() if item.data(0) == "blade"]


def test_the_blades_way_is_shown_as_the_cut_file_has_it(with_stars, settle):
    window, panel = with_stars, with_stars.stations["sheet"].panel
    assert not blade_items(window)
    click(panel.blade.follows)
    settle(window)
    plain = window.stations["sheet"].state.blade
    assert len(plain.cuts) == len(window.workspace.overview.plan.pages[0])
    assert len(blade_items(window)) == 2 + len(plain.cuts)
    assert f"{len(plain.cuts)} cuts" in panel.blade.way.text()
    assert " s at least" in panel.blade.way.text()
    type_into(panel.blade.overcut, "0.5 mm")
    settle(window)
    longer = window.stations["sheet"].state.blade
    assert longer.cut_mm == pytest.approx(plain.cut_mm + 0.5 * len(plain.cuts), abs=0.3)  # flattened finer
    assert not panel.blade.trail.isVisible()
    click(panel.blade.leads)
    settle(window)
    assert panel.blade.trail.isVisible()
    assert window.document.job.sheet.machine.compensates
    svg = prepare(window.document.job, window.pipeline())["cut-1.svg"]
    for (_, points), line in zip(window.stations["sheet"].state.blade.cuts, cut_paths(svg), strict=True):
        assert shapely.LineString(points).hausdorff_distance(shapely.LineString(line)) < 0.05
    click(panel.after)
    settle(window)
    assert window.stations["sheet"].state.blade.page == 1
    click(panel.blade.follows)
    settle(window)
    assert not blade_items(window)


def cut_paths(svg):
    """Return points of the paths of a cut file in millimetres, read by svgelements."""
    parsed = svgelements.SVG.parse(io.BytesIO(svg), ppi=25.4)
    shares = np.linspace(0, 1, 2000)
    paths = [item for item in parsed.elements() if isinstance(item, svgelements.Path)]
    return [path.npoint(shares) for path in paths if path.fill.value is None]  # marks are filled


def test_a_design_too_large_is_offered_what_lets_it_fit_and_each_does(window, settle, tmp_path):
    mm = 100 / 25.4  # a strip of 250 x 40 mm at 100 ppi
    cover = coverage(
        np.array([[10, 10], [10 + 250 * mm, 10], [10 + 250 * mm, 10 + 40 * mm], [10, 10 + 40 * mm]]), 1010, 180
    )
    (tmp_path / "strip.png").write_bytes(png(rgba(cover), dpi=(100, 100)))
    window.take_files([tmp_path / "strip.png"])
    settle(window)
    sheet = replace(window.document.job.sheet, turning="none")
    window.document.edit(replace(window.document.job, sheet=sheet), "set up")
    settle(window)
    visit(window, "sheet")
    panel = window.stations["sheet"].panel
    assert window.workspace.overview.plan is None
    names = [made.text() for made in panel.warnings.fixes]
    assert names[0].startswith("Allow ")
    assert names[1].startswith("Take ")
    assert names[2].startswith("Make it ")
    assert names[2].endswith(" mm wide as cut")
    assert len(names) == 3
    before = window.document.job
    for number in range(len(names)):
        click(panel.warnings.fixes[number])
        settle(window)
        if number == 1:  # this printer takes no such paper: it is said before it is done
            assert "but then Home printer takes no Tabloid" in window.bar.message.text()
            click(next(made for made in window.bar.findChildren(QPushButton) if made.text() == "Use it anyway"))
            settle(window)
        assert window.workspace.overview.plan is not None, names[number]
        assert not panel.warnings.fixes
        window.document.undo_stack.undo()
        settle(window)
        assert window.document.job == before


def test_a_design_too_large_is_split_over_pages_by_one_press(window, settle, tmp_path):
    pixels = rgba(np.ones((300, 500)))
    pixels[..., 0] = np.linspace(0, 255, 500)[None]
    pixels[..., 1] = np.linspace(0, 255, 300)[:, None]
    (tmp_path / "poster.png").write_bytes(png(pixels, dpi=(40, 40)))  # 317 x 190 mm
    window.take_files([tmp_path / "poster.png"])
    settle(window)
    visit(window, "sheet")
    card = window.stations["sheet"].panel.tiling
    assert "Ticks show where the next page" in card.words.text()
    type_into(card.overlap, "80 mm")
    assert "overlap of pages must be 0 to 50 mm" in card.words.text()
    assert not card.split.isEnabled()
    type_into(card.overlap, "12 mm")
    pages = int(card.split.text().split()[2])
    click(card.split)
    settle(window)
    assert len(window.document.job.designs) == pages > 1
    assert window.workspace.overview.plan is not None
    assert not card.isVisible()
    window.document.undo_stack.undo()
    settle(window)
    assert len(window.document.job.designs) == 1


def test_a_first_layout_is_shown_while_the_good_one_is_made(with_stars, settle, qtbot, monkeypatch):
    """The good one waits here until the first was seen; nothing can be written meanwhile."""
    window, panel = with_stars, with_stars.stations["sheet"].panel
    go_on, real = threading.Event(), pipeline.fit

    def waits(*arguments, **more):
        assert go_on.wait(PATIENCE_S)
        return real(*arguments, **more)

    monkeypatch.setattr(pipeline, "fit", waits)
    before = {p for page in window.workspace.overview.plan.pages for p in page}
    (design,) = window.document.job.designs
    window.document.edit(window.document.job.with_design(replace(design, copies=50)), "copies")
    qtbot.waitUntil(lambda: window.workspace.overview.is_provisional)
    first = window.workspace.overview.plan
    assert first.copies == 50
    assert len(before & {p for page in first.pages for p in page}) >= len(before) - 2
    assert "a better layout is being made" in panel.under.text()
    visit(window, "files")
    files = window.stations["files"].panel
    assert not files.write.isEnabled()
    assert window.path_bar.buttons["files"].state == "empty"
    go_on.set()
    settle(window)
    assert not window.workspace.overview.is_provisional
    assert files.write.isEnabled()
    assert len(window.workspace.overview.plan.pages) <= len(first.pages)


def test_an_order_is_typed_or_dropped_and_says_whose_stickers_lie_where(with_disc, settle, qtbot, tmp_path):
    window = with_disc
    visit(window, "sheet")
    settle(window)
    card = window.stations["sheet"].panel.order
    card.open()
    type_into(card.quantity.lineEdit(), "4")
    card.whom.setText("Anna")
    click(card.add_line)
    settle(window)
    assert window.workspace.overview.plan.copies == 4

    def said():
        return [one.text() for one in card.findChildren(QLabel) if "Anna" in one.text() and one.isVisible()]

    qtbot.waitUntil(lambda: [words.partition(";")[0] for words in said()] == ["4 × Disc for Anna: sheet 1"])
    path = tmp_path / "order.csv"
    path.write_text("design,quantity,for\nDisc,3,Ben\n")
    drop(window, [path])
    settle(window)
    assert [line.whom for line in window.workspace.job.order] == ["Anna", "Ben"]
    assert window.workspace.overview.plan.copies == 7

    def out():
        found = [one for one in card.findChildren(QPushButton) if one.accessibleName().endswith("for Anna")]
        return [one for one in found if one.isVisible()]

    qtbot.waitUntil(lambda: len(out()) == 1)
    settle(window)
    card.show_cost(PieceCost(amount=0.2, counted=("stock",), missing=(), price=0.5))
    qtbot.waitUntil(lambda: said() == ["4 × Disc for Anna: sheet 1; 2.00"])
    assert card.price.text() == "With your margin 3.50 in all, shared by area."
    card.show_cost(PieceCost(amount=0.2, counted=("stock",), missing=(), price=None))
    assert card.price.text() == "They cost 1.40 in all, shared by area."
    qtbot.waitUntil(lambda: len(out()) == 1)
    click(out()[0])
    settle(window)
    assert window.workspace.overview.plan.copies == 3
    window.document.undo_stack.undo()
    settle(window)
    assert window.workspace.overview.plan.copies == 7
