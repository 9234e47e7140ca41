"""Test cuts, blades and stock in the Book's room, as a user works with them."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QLineEdit, QWidget

from hands import click, type_into
from honest_edge.app.edits.open_art import demo_project
from honest_edge.core.values.book_records import StockMove
from honest_edge.files.book.exchange import export
from honest_edge.files.book.place import book_path
from honest_edge.files.book.records import BLADE, LOOK, MOVE, RATES, SETTING
from honest_edge.files.book.store import Book
from pictures import coverage, png, rgba, star


def part(window, settle, key):
    window.go_to(f"book:{key}")
    settle(window)
    return window.workshop["book"]


def kept(kind):
    with Book(book_path()) as book:
        return [one.record for one in book.notes(kind)]


def dialog_of(room, settle, way):
    click(way)
    settle(room.host)
    dialog = room.here.dialog
    assert dialog.isVisible()
    return dialog


def test_every_part_teaches_while_it_is_empty_and_makes_no_book(window, settle):
    for key, words in (
        ("test cuts", "A ladder is eight"),
        ("blades", "Give yours a name"),
        ("stock", "count what is there"),
    ):
        room = part(window, settle, key)
        assert words in room.page.empty.text()
        assert room.page.empty.isVisible()
        assert room.answer.text().startswith("No ")
        assert [way.isVisible() for page in room.pages.values() for way in page.ways].count(True) == len(room.page.ways)
    assert not book_path().exists()


def test_a_setting_is_found_in_two_ladders_and_offered_where_the_stock_is_cut(with_disc, settle, monkeypatch, tmp_path):
    window = with_disc
    window.go_to("files")
    settle(window)
    click(window.stations["files"].panel.test_cut)
    settle(window)
    room = window.workshop["book"]
    assert room.here.key == "test cuts"
    dialog = dialog_of(room, settle, room.here.new)
    dialog.blade.setText("No. 7")
    click(dialog.begin)
    settle(window)
    assert [square.setting for square in dialog.ladder.squares] == [20, 28, 39, 54, 75, 104, 144, 200]
    assert not dialog.take.isEnabled()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "ladder.svg"), ""))
    click(dialog.file)
    settle(window)
    assert b"4-force-54" in (tmp_path / "ladder.svg").read_bytes()
    assert "one group" in dialog.how.text()
    click(dialog.ladder.squares[3])
    assert dialog.asked.text() == "Now click the first square whose liner is marked."
    QTest.keyClick(dialog.ladder.squares[5], Qt.Key.Key_Space)  # by keyboard as well
    assert dialog.ladder.squares[4].accessibleName() == "Square 5, force 75: clean"
    click(dialog.take)
    settle(window)
    assert len(kept(LOOK)) == 1  # a look is kept at once
    assert "Ladder 2 of at most 3" in dialog.how.text()
    click(dialog.ladder.squares[3])
    click(dialog.ladder.squares[6])
    click(dialog.take)
    settle(window)
    assert dialog.verdict.text().startswith("Likely window ")
    assert not dialog.ladder.isVisible()
    click(dialog.close_it)
    (newest, _) = kept(SETTING)
    assert (newest.blade, newest.looks, newest.is_safe) == ("No. 7", 2, True)
    settle(window)
    assert room.answer.text() == "1 setting"
    assert room.page.ledger.shown("Setting") == [f"force {newest.best:g}"]
    assert room.here.words.text() == dialog.verdict.text()
    assert "ladder 1: 20 torn" in room.here.curve.accessibleDescription()
    window.go_to("files")
    settle(window)
    panel = window.stations["files"].panel
    assert (
        f"force {newest.best:g} (window {newest.low:g} to {newest.high:g}, No. 7, within a day)" in panel.known.text()
    )
    assert not panel.test_cut.isVisible()


def test_the_next_search_starts_from_what_is_known_and_a_reading_can_be_clicked_anew(with_disc, settle):
    window = with_disc
    room = part(window, settle, "test cuts")
    dialog = dialog_of(room, settle, room.here.new)
    assert dialog.start.currentText() == "nothing known"
    type_into(dialog.highest, "20.5")
    click(dialog.begin)
    assert "no 2 settings" in dialog.wrong.text()
    type_into(dialog.highest, "160")
    click(dialog.begin)
    settle(window)
    for _ in range(2):
        click(dialog.none)
        assert dialog.ladder.first_marked == 8  # what does not lift is not cut through
        click(dialog.again)
        click(dialog.ladder.squares[2])
        click(dialog.ladder.squares[5])
        click(dialog.take)
        settle(window)
    dialog.accept()
    again = dialog_of(room, settle, room.here.new)
    assert again.highest.number == 160
    assert again.start.currentText().startswith(window.document.job.sheet.stock.name)
    again.stock.setCurrentText("Another")
    assert again.start.currentText() == "nothing known"
    assert again.start.count() == 2
    again.reject()


def test_a_click_that_contradicts_the_first_begins_anew_and_a_depth_has_a_range_of_its_own(with_disc, settle):
    room = part(with_disc, settle, "test cuts")
    dialog = dialog_of(room, settle, room.here.new)
    dialog.what.setCurrentIndex(1)
    dialog.what.activated.emit(1)
    assert (dialog.lowest.number, dialog.highest.number) == (1, 10)
    click(dialog.begin)
    settle(with_disc)
    assert len({square.setting for square in dialog.ladder.squares}) == 8
    click(dialog.ladder.squares[5])
    click(dialog.ladder.squares[2])
    assert "cut through, so that square lifts" in dialog.asked.text()
    assert not dialog.take.isEnabled()
    click(dialog.ladder.squares[2])
    click(dialog.ladder.squares[6])
    click(dialog.take)
    settle(with_disc)
    assert kept(LOOK)[0].name == "depth"
    dialog.reject()


def test_no_safe_setting_is_said_with_what_to_try(with_disc, settle):
    room = part(with_disc, settle, "test cuts")
    dialog = dialog_of(room, settle, room.here.new)
    click(dialog.begin)
    settle(with_disc)
    for _ in range(3):
        click(dialog.ladder.squares[4])
        click(dialog.ladder.squares[4])
        click(dialog.take)
        settle(with_disc)
    assert "No safe setting found" in dialog.verdict.text()
    assert "fresh blade" in dialog.verdict.text()
    click(dialog.close_it)
    settle(with_disc)
    assert room.page.ledger.shown("Window") == ["▼ none safe"]
    with_disc.go_to("files")
    settle(with_disc)
    assert "no safe setting was found" in with_disc.stations["files"].panel.known.text()


def test_the_curve_is_read_by_keyboard(with_disc, settle):
    demo = part(with_disc, settle, "test cuts")
    dialog = dialog_of(demo, settle, demo.here.new)
    click(dialog.begin)
    settle(with_disc)
    click(dialog.ladder.squares[3])
    click(dialog.ladder.squares[6])
    click(dialog.take)
    settle(with_disc)
    curve = dialog.curve
    QTest.keyClick(curve, Qt.Key.Key_Right)
    first = curve.reading()
    QTest.keyClick(curve, Qt.Key.Key_Right)
    assert first.startswith("force ")
    assert first.endswith("% clean")
    assert curve.reading() != first
    dialog.reject()


def test_sheets_that_came_are_counted_down_by_runs_and_said_at_files(with_disc, settle, monkeypatch):
    window = with_disc
    room = part(window, settle, "stock")
    dialog = dialog_of(room, settle, room.here.move)
    fields = {child.accessibleName(): child for child in dialog.findChildren(QWidget)}
    click(dialog.keep)
    assert "0 sheets cannot be bought" in dialog.wrong.text()
    fields["Sheets"].setValue(2)
    type_into(fields["Price of a sheet"], "0,40")
    click(dialog.keep)  # Enter kept it already: a press more keeps nothing twice
    settle(window)
    (move,) = kept(MOVE)
    assert (move.sheets, move.price) == (2, 0.4)
    assert room.page.ledger.shown("On hand") == ["2"]
    from honest_edge.ui.stations.files import cut_dialog

    outcome = cut_dialog.Outcome(sheets=2, good=9, bad=3, reason="", blade="B", minutes=30)
    monkeypatch.setattr(cut_dialog, "ask_outcome", lambda *_, **_more: outcome)
    window.go_to("files")
    settle(window)
    assert "2 sheets on hand: enough." in window.stations["files"].panel.known.text()
    click(window.stations["files"].panel.keep)
    settle(window)
    assert "0 sheets on hand, 1 are needed: buy more." in window.stations["files"].panel.known.text()
    room = part(window, settle, "stock")
    assert room.page.ledger.shown("On hand") == ["▼ 0"]
    assert "Time to buy" in room.under.text()
    described = dialog_of(room, settle, room.here.describe)
    fields = {child.accessibleName(): child for child in described.findChildren(QWidget)}
    type_into(fields["Hardness"], "1.5")
    click(described.keep)
    settle(window)
    assert "hardness 1.5" in room.here.known.text()
    room = part(window, settle, "blades")
    (metres,) = room.page.ledger.shown("Cut")
    assert float(metres.removesuffix(" m")) > 0
    assert "No life is claimed" in room.under.text()


def test_a_blade_is_fitted_and_goes_dull(window, settle):
    room = part(window, settle, "blades")
    dialog = dialog_of(room, settle, room.here.new)
    click(dialog.keep)
    assert "Name the blade" in dialog.wrong.text()
    dialog.findChildren(QLineEdit)[0].setText("No. 3")
    click(dialog.keep)
    settle(window)
    assert room.page.ledger.shown("State") == ["in use"]
    click(room.here.dull)
    settle(window)
    assert room.page.ledger.shown("State") == ["went dull"]
    assert not room.here.dull.isEnabled()
    assert [note.what for note in kept(BLADE)] == ["dull", "fitted"]


def test_prices_are_typed_once_and_what_is_missing_is_named_at_sheet(with_disc, settle):
    window = with_disc
    window.workspace.edit_sheet("price", stock=replace(window.document.job.sheet.stock, price=0.5))
    window.go_to("sheet")
    settle(window)
    words = window.stations["sheet"].panel.cost.words.text()
    assert "at least 0." in words
    assert "not counted: ink, blade, time" in words
    room = part(window, settle, "runs")
    dialog = dialog_of(room, settle, room.here.prices)
    fields = {child.accessibleName(): child for child in dialog.findChildren(QWidget)}
    type_into(fields["Ink for 100 cm²"], "much")
    assert "“much” is no number" in dialog.wrong.text()  # Enter keeps, as the button does
    fields["Ink for 100 cm²"].setText("0.06")
    type_into(fields["Margin in percent"], "100")
    assert not dialog.isVisible()
    settle(window)
    assert kept(RATES)[0].ink == 0.06
    window.go_to("sheet")
    settle(window)
    words = window.stations["sheet"].panel.cost.words.text()
    assert "not counted: blade, time" in words
    assert "With your margin" in words


def test_a_design_is_kept_found_and_laid_into_another_job(with_disc, settle, monkeypatch):
    window = with_disc
    before = window.workspace.design
    room = part(window, settle, "library")
    dialog = dialog_of(room, settle, room.here.keep_design)
    name, words = dialog.findChildren(QLineEdit)
    name.clear()
    click(dialog.keep)
    assert "Give it a name" in dialog.wrong.text()
    name.setText("Moon")
    words.setText("night")
    click(dialog.keep)
    settle(window)
    assert room.page.ledger.shown("Name") == ["Moon"]
    assert not room.here.picture.pixmap().isNull()
    assert window.bar.message.text() == "“Moon” is in the library."
    monkeypatch.setattr(window.jobs, "may_leave", lambda: True)
    window.jobs.new()
    settle(window)
    room = part(window, settle, "library")
    room.search.setText("night")
    settle(window)
    click(room.here.use)
    settle(window)
    assert window.station == "art"
    design = window.workspace.design
    assert (design.width_mm, design.edge, design.asset) == (before.width_mm, before.edge, before.asset)
    assert window.workspace.overview.plan is not None
    window.document.undo_stack.undo()
    assert not window.document.job.designs


def test_what_is_taken_out_of_the_library_can_be_put_back(with_disc, settle):
    window = with_disc
    room = part(window, settle, "library")
    click(dialog_of(room, settle, room.here.keep_design).keep)
    settle(window)
    click(room.here.drop)
    settle(window)
    assert room.answer.text() == "No works"
    click(window.bar._actions[0])  # "Put it back"
    settle(window)
    assert room.answer.text() == "1 work"


def test_the_next_one_like_a_template_has_other_art(with_disc, settle, monkeypatch, tmp_path):
    window = with_disc
    window.workspace.edit_design("copies", copies=2, fills=False)  # many stars take long to lay out
    settle(window)
    room = part(window, settle, "library")
    click(dialog_of(room, settle, room.here.keep_template).keep)
    settle(window)
    assert room.page.ledger.shown("What") == ["Template"]
    dialog = dialog_of(room, settle, room.here.use)
    (tmp_path / "star.png").write_bytes(png(rgba(coverage(star(95, 40) + 100, 200, 200)), dpi=(150, 150)))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "star.png"), ""))
    (place,) = dialog.art.values()
    click(place)
    assert place.text() == "star.png"
    dialog.job_title.setText("Stars")
    monkeypatch.setattr(window.jobs, "may_leave", lambda: True)
    click(dialog.make)
    settle(window)
    assert window.document.job.title == "Stars"
    assert [design.file_name for design in window.document.job.designs] == ["star.png"]
    assert window.document.path is None
    assert window.workspace.overview.plan is not None


def test_nothing_in_hand_cannot_be_kept(window, settle):
    room = part(window, settle, "library")
    click(room.here.keep_design)
    assert "Take a design in hand" in window.bar.message.text()
    click(room.here.keep_template)
    assert "Lay out a sheet first" in window.bar.message.text()
    assert not book_path().exists()


def test_a_copy_that_differs_is_said_and_taken_either_way(with_disc, settle):
    window = with_disc
    machine = window.document.job.sheet.machine
    window.workspace.edit_sheet("overcut", machine=replace(machine, overcut_mm=0.4))
    settle(window)
    room = part(window, settle, "shelf")
    assert f"This job’s copy of {machine.name} differs" in room.under.text()
    number = room.page.ledger.shown("Name").index(machine.name)
    assert room.page.ledger.shown("In this job")[number] == "▼ its copy differs"
    room.page.ledger.selectRow(number)
    assert "Cut runs past its start by: 0.40 mm in the job, 0.00 mm on the shelf" in room.here.told.text()
    click(room.here.take)
    settle(window)
    assert window.document.job.sheet.machine == machine
    assert "differs" not in room.under.text()
    window.workspace.edit_sheet("overcut", machine=replace(machine, overcut_mm=0.4))
    settle(window)
    room = part(window, settle, "shelf")
    room.page.ledger.selectRow(number)
    click(room.here.keep)
    settle(window)
    assert window.document.job.sheet.machine.overcut_mm == 0.4
    assert "differs" not in room.under.text()
    assert room.page.ledger.shown("Whose")[number] == "yours"
    (own,) = [one for one in window.profiles.all("machine") if one.name == machine.name]
    assert own.overcut_mm == 0.4


def test_the_sheet_says_what_cuts_the_stock_and_which_copy_differs(with_disc, settle):
    window = with_disc
    window.workspace.edit_design("copies", copies=2, fills=False)
    window.go_to("sheet")
    settle(window)
    card = window.stations["sheet"].panel.profiles
    stock = window.document.job.sheet.stock
    assert card.known.text() == f"{stock.name}: no setting is known on this machine."
    assert not card.to_shelf.isVisible()
    window.workspace.edit_sheet("gloss", stock=replace(stock, gloss="glossy"))
    settle(window)
    assert card.differs.text() == f"This job’s copy of {stock.name} differs from yours."
    click(card.to_shelf)
    settle(window)
    assert window.workshop["book"].here.key == "shelf"


def test_another_machine_s_book_is_taken_in(window, settle, monkeypatch, tmp_path):
    with Book(tmp_path / "other.sqlite") as other:
        other.add([MOVE.event(StockMove(stock="Kraft", what="bought", sheets=9), "b" * 32, 1_790_000_000_000)])
        export(other, tmp_path, "json")
    room = part(window, settle, "stock")
    for words in ("1 event added; 0 were there already.", "0 events added; 1 were there already."):
        monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "book.jsonl"), ""))
        click(room.bring)
        settle(window)
        assert window.bar.message.text() == words
        assert room.page.ledger.shown("On hand") == ["9"]
    line = (tmp_path / "book.jsonl").read_text().replace('"sheets":9', '"sheets":-9').replace("b" * 32, "c" * 32)
    (tmp_path / "book.jsonl").write_text(line)
    click(room.bring)
    settle(window)
    assert "-9 sheets cannot be bought" in window.bar.message.text()
    assert "nothing was added" in window.bar.message.text()


def test_the_library_is_one_key_away(with_disc, settle):
    (action,) = [one for one in with_disc.actions() if one.text().startswith("From the library")]
    assert action.shortcut().toString() == "Ctrl+L"
    action.trigger()
    settle(with_disc)
    assert with_disc.workshop["book"].here.key == "library"


def test_every_part_fits_the_narrowest_window(window, settle):
    window.show()
    window.resize(window.minimumSize())
    for key in ("runs", "test cuts", "blades", "stock", "library", "shelf"):
        room = part(window, settle, key)
        QTest.qWait(20)
        assert room.widget.minimumSizeHint().width() <= window.width() == 900, key
        assert room.widget.minimumSizeHint().height() <= window.height(), key


def test_every_part_can_be_narrowed_down(window, settle):
    demo = demo_project()
    window.document.start(demo.job.without(demo.job.designs[0].key), demo.assets, None, is_demo=True)
    for key, filter_, answer in (
        ("runs", "fell short of the forecast", "2 runs"),
        ("test cuts", "none was safe", "1 setting"),
        ("blades", "in use", "1 blade"),
        ("stock", "not counted", "1 stock"),
        ("library", "designs", "No works"),
        ("shelf", "carriers", "2 things"),
    ):
        room = part(window, settle, key)
        assert room.only.currentText().startswith("all ")
        room.only.setCurrentIndex(room.only.findText(filter_))
        room.only.activated.emit(room.only.currentIndex())
        settle(window)
        assert room.answer.text() == answer, key
    room = part(window, settle, "runs")
    room.only.setCurrentIndex(room.only.findText("can be made again"))
    room.only.activated.emit(room.only.currentIndex())
    settle(window)
    assert room.page.empty.text() == "No run is of that kind."


def test_a_carrier_is_noted_and_changed_and_profiles_can_be_looked_at(window, settle):
    room = part(window, settle, "shelf")
    dialog = dialog_of(room, settle, room.here.new)
    dialog.findChildren(QLineEdit)[0].clear()
    click(dialog.keep)
    assert "Name the carrier" in dialog.wrong.text()
    dialog.findChildren(QLineEdit)[0].setText("Green mat")
    click(dialog.keep)
    settle(window)
    assert room.page.ledger.shown("Name")[-1] == "Green mat"
    room.page.ledger.selectRow(len(room.page.ledger.shown("Name")) - 1)
    assert not room.here.take.isEnabled()
    again = dialog_of(room, settle, room.here.edit)
    again.findChildren(QLineEdit)[-1].setText("holds paper")
    click(again.keep)
    settle(window)
    assert room.page.ledger.shown("Name").count("Green mat") == 1
    room.page.ledger.selectRow(len(room.page.ledger.shown("Name")) - 1)
    assert "holds paper" in room.here.told.text()
    room.page.ledger.selectRow(0)
    profile = dialog_of(room, settle, room.here.edit)
    assert profile.windowTitle() == "Machine profile"
    profile.reject()


@pytest.mark.parametrize("theme", ["light", pytest.param("dark", marks=pytest.mark.long)])
def test_the_demo_s_parts_are_whole(window, settle, theme):
    demo = demo_project()
    window.document.start(demo.job.without(demo.job.designs[0].key), demo.assets, None, is_demo=True)
    window.set_prefs(replace(window.prefs, theme=theme))
    for key, answer in (
        ("runs", "20 runs"),
        ("test cuts", "4 settings"),
        ("blades", "2 blades"),
        ("stock", "4 stocks"),
        ("library", "No works"),
        ("shelf", "19 things"),
    ):
        room = part(window, settle, key)
        assert room.answer.text() == answer
        assert room.made_up.isVisible() == (key != "shelf")
        assert not room.export.isEnabled()
    assert not book_path().exists()
