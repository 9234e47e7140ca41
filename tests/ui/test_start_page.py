"""Without a job: what was done last, where art goes, what can be made, the first questions; the path for beginners."""

import json
import time
from dataclasses import replace

import numpy as np
import pypdfium2
import pytest
from PIL import Image
from PyQt6.QtCore import QLocale, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QFileDialog

from hands import click, drop, type_into, visit
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.job import Job
from honest_edge.core.values.own_bench import BenchAnswers, own_profiles, rim_read
from honest_edge.core.values.units import MM_PER_INCH
from honest_edge.files.prefs import PrefsFile
from honest_edge.files.recent_jobs import RecentJobs
from honest_edge.files.write_rim_page import rim_page
from honest_edge.ui.shell.job_files import JobFiles
from honest_edge.ui.shell.user_choices import usual_of_locale
from honest_edge.ui.widgets.tiles import Tile

MOST_ACTIONS, MOST_SECONDS = 8, 120


@pytest.fixture(autouse=True)
def _never_asks(monkeypatch):
    monkeypatch.setattr(JobFiles, "may_leave", lambda _self: True)


@pytest.fixture
def asked(make_window):
    """A window at its very first start."""
    return make_window(bench_asked="no")


def tiles(window):
    return {tile.accessibleName(): tile for tile in window.start.page.findChildren(Tile) if tile.isVisible()}


def save(window, path, title):
    document = window.document
    document.edit(replace(document.job, title=title), "title")
    document.save(path)


def start_anew(window, settle):
    window.document.start(window.jobs.fresh_job(), {}, None)
    settle(window)


def test_an_empty_window_shows_it_and_art_takes_its_place(window, settle, disc_file):
    assert window.start.is_shown
    assert not [key for key, made in window.path_bar.buttons.items() if made.isChecked()]
    drop(window, [disc_file])
    settle(window)
    assert not window.start.is_shown
    assert (window.station, len(window.document.job.designs)) == ("art", 1)
    window.start.show()
    assert window.start.is_shown
    click(window.path_bar.buttons["edge"])
    assert not window.start.is_shown
    window.jobs.new()
    settle(window)
    assert window.start.is_shown


def test_recent_jobs_show_their_sheets_and_open_by_a_click(with_disc, make_window, settle, tmp_path):
    window = with_disc
    save(window, tmp_path / "first.hedge", "First of all")
    settle(window)
    assert list((tmp_path / "state").rglob("*.jpg")) + list((tmp_path / "settings").rglob("*.jpg"))
    start_anew(window, settle)
    tile = tiles(window)["First of all"]
    assert tile.picture.pixmap().height() > 50
    other = make_window()
    settle(other)
    click(tiles(other)["First of all"])
    settle(other)
    assert other.document.path == tmp_path / "first.hedge"
    assert not other.start.is_shown


def test_a_job_that_is_gone_says_so_and_goes_off_the_list(with_disc, settle, tmp_path):
    window = with_disc
    save(window, tmp_path / "gone.hedge", "Gone")
    (tmp_path / "gone.hedge").unlink()
    start_anew(window, settle)
    tile = tiles(window)["Gone"]
    assert tile.detail.text().startswith("gone: press")
    assert str(tmp_path / "gone.hedge") in tile.toolTip()
    click(tile)
    settle(window)
    assert "Gone" not in tiles(window)


@pytest.mark.parametrize("text", ["{", "[]", '{"jobs": [{"path": 1}]}', '{"jobs": 5}', "\udcff"])
def test_a_broken_list_is_put_aside_with_a_word(make_window, settle, tmp_path, text):
    folder = tmp_path / "state" / "recent"
    folder.mkdir(parents=True)
    (folder / "recent.json").write_bytes(text.encode("utf-8", "surrogateescape"))
    window = make_window()
    settle(window)
    assert "begins anew" in window.bar.message.text()
    assert (folder / "recent.json.damaged").exists()
    assert window.start.is_shown


def test_the_list_is_short_and_its_latest_stands_first(tmp_path):
    recent = RecentJobs(tmp_path / "recent")
    for number in range(15):
        recent.note(tmp_path / f"{number}.hedge", f"Job {number}", number)
    recent.note(tmp_path / "9.hedge", "Job 9 again", 99)
    jobs, said = recent.read()
    assert [job.title for job in jobs[:2]] == ["Job 9 again", "Job 14"]
    assert (len(jobs), said) == (12, "")
    recent.keep_picture(tmp_path / "9.hedge", b"picture")
    assert recent.picture_of(jobs[0]) == b"picture"
    recent.forget(jobs[0].path)
    assert recent.picture_of(jobs[0]) == b""
    assert len(json.loads((tmp_path / "recent" / "recent.json").read_text())["jobs"]) == 11


@pytest.mark.parametrize(
    ("name", "kind"),
    [("Sheet of stickers", "sticker sheet"), ("Label for a jar", "oval label"), ("Card", "folded card")],
)
def test_what_can_be_made_begins_with_its_form(window, settle, name, kind):
    click(tiles(window)[name])
    settle(window)
    assert window.document.job.designs[0].form.kind == kind
    assert window.workspace.overview.plan is not None or kind == "sticker sheet"


def test_tags_begin_with_their_table(window, settle, tmp_path, monkeypatch):
    table = tmp_path / "plants.csv"
    table.write_text("name,price\n" + "\n".join(f"Plant {n},{n}.50" for n in range(1, 21)))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(table), ""))
    click(tiles(window)["Tags"])
    settle(window)
    (design,) = window.document.job.designs
    assert [layer.lettering.text for layer in design.layers] == ["{name}", "{price}"]
    assert window.workspace.overview.plan.copies == 20
    assert [found.check for found in window.workspace.overview.findings if found.severity == "blocks"] == []


def keep_template(window, settle):
    window.go_to("book:library")
    settle(window)
    room = window.workshop["book"]
    room.here._ask_template()
    click(room.here.dialog.keep)
    settle(window)


def test_a_template_of_the_book_asks_for_other_art(with_disc, settle):
    window = with_disc
    keep_template(window, settle)
    start_anew(window, settle)
    window.start.show()
    settle(window)
    assert window.start.page.templates_title.isVisible()
    click(tiles(window)["Untitled"])
    settle(window)
    assert window.start.page.dialog.windowTitle() == "Next one like this"
    window.start.page.dialog.reject()


def test_a_template_whose_art_is_gone_has_its_word(with_disc, settle, tmp_path):
    window = with_disc
    keep_template(window, settle)
    for original in (tmp_path / "book" / "originals").iterdir():
        original.unlink()
    start_anew(window, settle)
    window.start.show()
    settle(window)
    click(tiles(window)["Untitled"])
    settle(window)
    assert "is not kept on this machine any more" in window.bar.message.text()
    assert window.document.job.designs == ()


def test_everything_on_it_is_reached_by_tab_and_has_a_name(window, settle):
    settle(window)
    wanted = {one for one in window.start.page.findChildren(QAbstractButton) if one.isVisible()}
    reached, widget = set(), window.start.page.choose
    for _ in range(400):
        widget = widget.nextInFocusChain()
        if widget.focusPolicy() & Qt.FocusPolicy.TabFocus:
            reached.add(widget)
    assert wanted <= reached
    assert [one for one in wanted if not (one.text() or one.accessibleName())] == []


# -- the first questions ------------------------------------------------------------------------------


def choose(choice, value):
    choice.setCurrentIndex(choice.findData(value))
    choice.activated.emit(choice.currentIndex())


def test_without_any_settings_the_land_says_what_is_usual(make_window, tmp_path, monkeypatch):
    monkeypatch.setattr(PrefsFile, "is_there", property(lambda _self: False))
    monkeypatch.setattr("honest_edge.ui.shell.user_choices.usual_of_locale", lambda _locale: ("in", "a3"))
    window = make_window(bench_asked="no")
    assert (window.prefs.unit, window.document.job.sheet.paper) == ("in", "a3")
    assert window.start.page.questions.paper.currentData() == "a3"


def test_answers_fill_the_shelf_and_are_asked_once(asked, make_window, settle):
    window = asked
    questions = window.start.page.questions
    assert questions.isVisible()
    choose(questions.paper, "a4")
    type_into(questions.rim, "4.5 mm")
    questions.marks.show_value("four discs")
    type_into(questions.wide, "200 mm")
    type_into(questions.long, "250 mm")
    questions.stock.show_value("White vinyl, satin")
    click(questions.keep)
    assert not questions.isVisible()
    names = {profile.name for kind in ("machine", "printer") for profile in window.profiles.all(kind)}
    assert {"My printer", "My cutter"} <= names
    settle(window)
    sheet = window.document.job.sheet
    assert (sheet.paper, sheet.printer.name, sheet.printer.rim_mm) == ("a4", "My printer", 4.5)
    assert (sheet.machine.marks.kind, sheet.machine.width_mm, sheet.machine.length_mm) == ("four discs", 200, 250)
    assert sheet.stock.name == "White vinyl, satin"
    other = make_window()
    assert other.start.page.questions is None
    assert other.document.job.sheet.printer.name == "My printer"


def test_every_question_can_be_passed_over(asked, settle):
    window = asked
    before, questions = window.document.job.sheet, window.start.page.questions
    choose(questions.unit, "in")
    choose(questions.paper, "a4")
    assert (window.prefs.unit, window.document.job.sheet.paper) == ("in", "a4"), "shown, and in force at once"
    click(questions.skip)
    assert not window.start.page.questions.isVisible()
    assert window.prefs.bench_asked == "yes"
    assert window.prefs.unit == "in", "what a card shows is in force, though it was passed over"
    assert window.document.job.sheet == replace(before, paper="a4")  # the job in hand, not only the next
    assert own_profiles(BenchAnswers()) == ()


def test_half_an_area_and_nonsense_have_their_words(asked):
    window = asked
    questions = window.start.page.questions
    type_into(questions.wide, "200 mm")
    click(questions.keep)
    assert "needs both sides" in questions.problem.text()
    type_into(questions.rim, "four")
    assert "is no length" in questions.problem.text()
    type_into(questions.rim, "400 mm")
    type_into(questions.long, "250 mm")
    click(questions.keep)
    assert "must be 0 to 60" in questions.problem.text()
    assert window.prefs.bench_asked == "no"


def test_two_numbers_of_a_page_say_the_rim(asked):
    window = asked
    questions = window.start.page.questions
    click(questions.rim_help)
    assert questions.print_page.isVisible()
    questions.side.setValue(4)
    questions.foot.setValue(6)
    assert questions.rim.length_mm == 6
    assert rim_read(4, 6) == 6
    with pytest.raises(UsageError, match="none of them"):
        rim_read(0, 3)


def test_the_page_has_a_line_at_every_millimetre_of_two_edges():
    """Read by pypdfium2: line n stands n mm from the left edge, and from the lower one."""
    document = pypdfium2.PdfDocument(rim_page(210, 297))
    assert document[0].get_size() == pytest.approx((210 / MM_PER_INCH * 72, 297 / MM_PER_INCH * 72), abs=0.01)
    picture = document[0].render(scale=600 / 72, grayscale=True).to_numpy().squeeze()
    per_mm = 600 / MM_PER_INCH
    for number in range(1, 16):
        column = picture[:, round(number * per_mm) - 3 : round(number * per_mm) + 4]
        row = picture[picture.shape[0] - round(number * per_mm) - 4 : picture.shape[0] - round(number * per_mm) + 3]
        assert column.min() < 128
        assert row.min() < 128
    assert picture[:, : round(0.7 * per_mm)].min() > 200


@pytest.mark.parametrize(
    ("name", "custom"), [("en_US", ("in", "letter")), ("de_DE", ("mm", "a4")), ("en_CA", ("mm", "letter"))]
)
def test_unit_and_paper_begin_as_is_the_custom(name, custom):
    assert usual_of_locale(QLocale(name)) == custom


# -- the path for beginners ---------------------------------------------------------------------------


def test_from_a_picture_to_files_in_eight_actions(window, settle, disc_file, tmp_path, monkeypatch):
    out = disc_file.with_name("Disc")
    asked = []
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_a, **_k: asked.append(1) or "")
    started, actions = time.monotonic(), 1
    drop(window, [disc_file])
    settle(window)
    while not out.exists() and actions < 20:
        assert window.guide.isVisible()
        assert "most people" in window.guide.words.text()
        click(window.guide.usual)
        settle(window)
        actions += 1
    actions += len(asked)
    assert actions <= MOST_ACTIONS
    assert time.monotonic() - started < MOST_SECONDS
    assert {"print.pdf", "ticket.pdf"} <= {path.name for path in out.iterdir()}
    assert window.station == "files"
    assert window.workspace.overview.state("proof")[0] != "blocked"


def test_the_usual_mends_what_blocks_and_is_one_step_of_undo(window, settle, tmp_path, disc_file):
    drop(window, [disc_file])
    settle(window)
    window.workspace.edit_design("width", width_mm=400.0)
    settle(window)
    before = window.document.job
    for station in ("art", "outline", "edge", "sheet"):
        window.go_to(station)
        settle(window)
        click(window.guide.usual)
        settle(window)
    assert window.workspace.overview.plan is not None
    assert [found for found in window.workspace.overview.findings if found.severity == "blocks"] == []
    steps = window.document.undo_stack.index()
    while window.document.job != before and window.document.undo_stack.canUndo():
        window.document.undo_stack.undo()
    assert window.document.job == before
    assert steps - window.document.undo_stack.index() <= 4


def test_boxes_that_lie_apart_are_a_set_and_never_joined_unasked(window, settle, tmp_path):
    page = np.full((600, 800, 3), 255, np.uint8)
    for row in (60, 340):
        for column in (60, 300, 540):
            page[row : row + 200, column : column + 180] = (40, 120, 90)
            page[row + 70 : row + 85, column : column + 4] = 255  # drawn by hand
    Image.fromarray(page).save(tmp_path / "boxes.png", dpi=(300, 300))
    drop(window, [tmp_path / "boxes.png"])
    settle(window)
    for _ in range(5):
        click(window.guide.usual)
        settle(window)
    assert len(window.workspace.result.cut.area.geoms) == 6
    (said,) = [found for found in window.workspace.result.findings if found.check == "parts"]
    assert said.message == "it is a set of 6 pieces alike, each cut by itself"
    assert said.severity == "note"
    visit(window, "outline")
    settle(window)
    together = window.here.panel.together
    assert together.words.text().startswith("A set of 6 pieces alike")
    assert not together.join.isVisible()
    true = window.here.panel.true
    assert true.words.text() == "6 boxes, to within 0.4 mm."
    click(true.make)
    settle(window)
    assert window.workspace.design.outline.true_mm == pytest.approx(0.4)
    sides = {len(part.polygon.exterior.coords) for part in window.workspace.result.outline.parts}
    areas = [round(part.area, 1) for part in window.workspace.result.outline.area.geoms]
    assert len(set(areas)) == 1
    assert areas[0] == pytest.approx(180 * 200 * (25.4 / 300) ** 2, rel=0.02)
    assert all(len(part.exterior.coords) == 5 for part in window.workspace.result.outline.area.geoms), sides
    click(true.leave)
    settle(window)
    assert window.workspace.design.outline.true_mm == 0


def test_what_was_decided_by_hand_stays(with_disc, settle):
    window = with_disc
    visit(window, "edge")
    settle(window)
    type_into(window.here.panel.offset, "3 mm")
    settle(window)
    click(window.guide.usual)
    settle(window)
    edge = window.workspace.design.edge
    assert (edge.school, edge.offset_mm) == ("border", 3.0)
    assert window.station == "sheet"


def test_who_knows_the_way_switches_it_off(with_disc, make_window, settle):
    window = with_disc
    click(window.guide.off)
    assert not window.guide.isVisible()
    assert window.prefs.guide == "off"
    assert "Bring it back" in [one.text() for one in window.bar.findChildren(QAbstractButton)]
    other = make_window()
    other.jobs.open_demo()
    assert not other.guide.isVisible()
    other.guide.swap()
    assert other.prefs.guide == "on"


def test_without_a_job_the_usual_says_what_is_missing(window):
    QTest.keyClick(window, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    assert "Add a picture first" in window.bar.message.text()
    assert window.document.job.designs == Job().designs


def test_every_station_has_its_sentence(window):
    sentences = [entry.guide for entry in window.stations.entries]
    assert all(one.count(".") == 1 and "most people" in one for one in sentences)
    assert len(set(sentences)) == len(sentences)
