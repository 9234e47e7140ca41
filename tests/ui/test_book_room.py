"""The Book in the window: kept at Files, found in its room."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from hands import click, type_into
from honest_edge.app.book.desk import BookDesk
from honest_edge.app.book.run_of_job import run_event
from honest_edge.app.edits.open_art import demo_project
from honest_edge.core.values.errors import FileError
from honest_edge.core.values.log_event import RunRecord
from honest_edge.files.book.place import book_path
from honest_edge.files.book.store import Book
from honest_edge.ui.rooms.book.runs import COLUMNS
from honest_edge.ui.shared.what_worked_words import ago
from honest_edge.ui.stations.files import cut_dialog
from honest_edge.ui.stations.files.cut_dialog import CutDialog, Outcome
from pictures import disc_png


def cells(room, column):
    return room.page.ledger.shown(column)


def visited(window, settle):
    click(window.path_bar.rooms["book"])
    settle(window)
    return window.workshop["book"]


def keep(window, settle, monkeypatch, **changes):
    outcome = Outcome(**{"sheets": 1, "good": 11, "bad": 1, "reason": "torn at the tip", **changes})
    monkeypatch.setattr(cut_dialog, "ask_outcome", lambda *_, **_more: outcome)
    window.go_to("files")
    click(window.stations["files"].panel.keep)
    settle(window)


def test_an_empty_book_says_how_it_is_filled(window, settle):
    room = visited(window, settle)
    assert room.page.empty.isVisible()
    assert "I cut this…" in room.page.empty.text()
    assert room.answer.text() == "No runs"
    assert not room.made_up.isVisible()


def test_what_was_cut_is_kept_and_found_by_a_word(with_disc, settle, qtbot, monkeypatch):
    window = with_disc
    keep(window, settle, monkeypatch)
    assert window.bar.message.text() == "It is kept in the Book."
    keep(window, settle, monkeypatch, good=20, bad=0, reason="")
    click(window.bar._actions[0])  # "See the Book"
    settle(window)
    room = window.workshop["book"]
    assert room.widget.isVisible()
    assert not window.table.isVisible()
    assert room.answer.text() == "2 runs"
    assert room.under.text() == (
        "31 of 32 pieces came out good, on 2 sheets; forecast 100 %, came out 97 % over 2 runs"
    )
    assert sorted(cells(room, "Good")) == ["11 of 12", "20 of 20"]
    room.search.setText("torn")
    qtbot.waitUntil(lambda: room.answer.text() == "1 run")
    assert cells(room, "Good") == ["11 of 12"]
    assert "torn at the tip" in room.here.told.text()
    room.search.setText("nothing like it")
    qtbot.waitUntil(lambda: "No run has “nothing like it”" in room.page.empty.text())
    with Book(book_path()) as book:
        assert book.count() == 2
        assert book.wrong() == []
        assert book.runs()[0].run.stock == window.document.job.sheet.stock.name


def test_files_says_what_came_out_of_this_stock_before(with_disc, settle, monkeypatch):
    window, panel = with_disc, with_disc.stations["files"].panel
    window.go_to("files")
    settle(window)
    stock = window.document.job.sheet.stock
    assert panel.known.text() == f"{stock.name}: no setting is known on this machine."
    assert panel.test_cut.isVisible()
    assert not book_path().exists()  # looking makes none
    keep(window, settle, monkeypatch)
    settle(window)
    assert panel.known.text().splitlines()[1:] == ["Last run, within a day: 11 of 12 came out good: torn at the tip."]
    window.workspace.edit_sheet("stock", stock=replace(stock, name="Kraft paper"))
    settle(window)
    assert panel.known.text() == "Kraft paper: no setting is known on this machine."


def test_a_window_that_stays_open_looks_after_the_book_again_and_again(window, settle, qtbot, monkeypatch):
    looked = []
    monkeypatch.setattr(BookDesk, "look_after", lambda _self, _now_ms: looked.append(1) or ("A note.",))
    assert window.workshop._again.interval() == 3_600_000
    window.workshop._again.setInterval(10)
    window.workshop.keep_in_order()
    qtbot.waitUntil(lambda: len(looked) >= 3)
    window.workshop._again.stop()
    settle(window)
    assert window.bar.message.text() == "A note."


def test_what_another_window_keeps_is_seen(window, settle, qtbot):
    room = visited(window, settle)
    assert not book_path().exists()
    run = RunRecord(title="Elsewhere", sheets=1, good=3, bad=0)
    with Book(book_path()) as other:
        other.add([run_event(run, 1_790_000_000_000)])
    room._watch.setInterval(20)
    qtbot.waitUntil(lambda: room.answer.text() == "1 run")
    assert cells(room, "Job") == ["Elsewhere"]


@pytest.mark.parametrize(
    ("days", "words"),
    [(0.5, "within a day"), (1, "yesterday"), (2, "2 days ago"), (13.9, "13 days ago"), (14, "2 weeks ago"),
     (59, "8 weeks ago"), (60, "2 months ago"), (729, "24 months ago"), (730, "2 years ago"), (-3, "within a day")],
)  # fmt: skip
def test_how_long_ago(days, words):
    assert ago(round(days * 86_400_000)) == words


def test_columns_are_sorted_by_what_they_mean(with_disc, settle, monkeypatch):
    for good in (9, 100, 20):
        keep(with_disc, settle, monkeypatch, good=good)
    room = visited(with_disc, settle)
    number = [column.heading for column in COLUMNS].index("Good")
    room.page.ledger.sortByColumn(number, Qt.SortOrder.AscendingOrder)
    assert cells(room, "Good") == ["9 of 10", "20 of 21", "100 of 101"]
    room.page.ledger.sortByColumn(number, Qt.SortOrder.DescendingOrder)
    assert cells(room, "Good") == ["100 of 101", "20 of 21", "9 of 10"]


def test_a_run_that_fell_short_is_marked_by_more_than_a_colour(with_disc, settle, monkeypatch):
    keep(with_disc, settle, monkeypatch, good=1, bad=9)
    assert cells(visited(with_disc, settle), "Came out") == ["▼ 10 %"]


def test_the_demo_shows_its_own_book_and_says_so(window, settle, monkeypatch):
    demo = demo_project()
    window.document.start(demo.job.without(demo.job.designs[0].key), demo.assets, None, is_demo=True)
    room = visited(window, settle)
    assert room.made_up.isVisible()
    assert room.answer.text() == "20 runs"
    assert not book_path().exists()
    window.jobs.new()
    settle(window)
    room = visited(window, settle)
    assert room.answer.text() == "No runs"
    assert not room.made_up.isVisible()


def test_the_way_back_to_the_path_leads_where_one_was(with_disc, settle):
    visited(with_disc, settle)
    assert with_disc.path_bar.rooms["book"].isChecked()
    click(with_disc.path_bar.buttons["art"])
    assert with_disc.table.isVisible()
    assert with_disc.station == "art"


def test_a_job_is_made_again_as_it_was_and_is_no_file_yet(with_disc, settle, qtbot, monkeypatch):
    window = with_disc
    before = window.document.job
    keep(window, settle, monkeypatch)
    monkeypatch.setattr(window.jobs, "may_leave", lambda: True)
    window.jobs.new()
    settle(window)
    assert not window.document.job.designs
    room = visited(window, settle)
    click(room.here.again)
    qtbot.waitUntil(lambda: window.document.job == before)
    settle(window)
    assert window.station == "sheet"
    assert window.table.isVisible()
    assert window.document.path is None
    assert not window.document.is_saved
    assert window.workspace.overview.plan is not None


def test_a_run_shows_its_sheets_and_is_made_again_with_as_many_pieces_as_are_typed(
    with_disc, settle, qtbot, monkeypatch, tmp_path
):
    window = with_disc
    keep(window, settle, monkeypatch, setting="force 91", minutes=25.0)
    room = visited(window, settle)
    qtbot.waitUntil(lambda: not room.here.picture.pixmap().isNull())
    assert "set to force 91, 25 min of hands" in room.here.told.text()
    assert room.here.pieces.value() == 12
    type_into(room.here.pieces, "3")
    (choose,) = room.here.once_more.pictures.values()
    assert choose.text() == "as it was"
    other = tmp_path / "Larger.png"
    other.write_bytes(disc_png(radius=110.0, size=260))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(other), ""))
    click(choose)
    assert choose.text() == "Larger.png"
    monkeypatch.setattr(window.jobs, "may_leave", lambda: True)
    click(room.here.again)
    qtbot.waitUntil(lambda: [design.copies for design in window.document.job.designs] == [3])
    settle(window)
    assert window.workspace.design.file_name == "Larger.png"
    assert window.workspace.result.artwork.width_px == 260


def test_words_of_that_day_are_asked_for_when_it_is_made_again(window, settle, qtbot, monkeypatch):
    window.intake.start_with_words()
    settle(window)
    layer = window.workspace.design.layers[0]
    words = replace(layer, lettering=replace(layer.lettering, text="Mint tea\nBatch 12"))
    window.workspace.edit_design("words", layers=(words,))
    settle(window)
    keep(window, settle, monkeypatch)
    room = visited(window, settle)
    qtbot.waitUntil(lambda: bool(room.here.once_more.words))
    (field,) = room.here.once_more.words.values()
    assert field.text() == "Mint tea / Batch 12"
    field.setFocus()
    field.setCursorPosition(len(field.text()))
    QTest.keyClick(field, Qt.Key.Key_Backspace)
    QTest.keyClicks(field, "3")
    monkeypatch.setattr(window.jobs, "may_leave", lambda: True)
    click(room.here.again)
    qtbot.waitUntil(lambda: window.document.job.designs[0].layers[0].lettering.text == "Mint tea\nBatch 13")
    settle(window)


def test_a_made_up_run_cannot_be_made_again(window, settle):
    demo = demo_project()
    window.document.start(demo.job.without(demo.job.designs[0].key), demo.assets, None, is_demo=True)
    room = visited(window, settle)
    room.page.ledger.selectRow(3)
    assert not any(way.isEnabled() for way in (room.here.again, room.export, room.backup))
    room.page.ledger.doubleClicked.emit(room.page.ledger.model().index(3, 0))
    settle(window)
    assert room.widget.isVisible()


def test_the_book_is_exported_and_backed_up(with_disc, settle, monkeypatch, tmp_path):
    keep(with_disc, settle, monkeypatch)
    room = visited(with_disc, settle)
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path / "out"))
    click(room.export)
    settle(with_disc)
    assert with_disc.bar.message.text() == "Written: book.jsonl, book.csv, runs.csv."
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "copy.sqlite"), ""))
    click(room.backup)
    settle(with_disc)
    with Book(tmp_path / "copy.sqlite") as copy:
        assert copy.count() == 1
    (tmp_path / "file").write_text("")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "file" / "x.sqlite"), ""))
    click(room.backup)
    settle(with_disc)
    assert "The Book x.sqlite" in with_disc.bar.message.text()


def test_a_book_that_cannot_be_read_is_said_in_its_place(window, settle, monkeypatch):
    def fails(*_):
        raise FileError("The Book book.sqlite: the disk does not answer as it should")

    monkeypatch.setattr(window.desk()(), "runs", fails)
    assert "the disk does not answer" in visited(window, settle).under.text()


def test_what_was_bad_is_taken_from_what_was_good(qtbot):
    dialog = CutDialog(None, title="Tea", sheets=2, copies=12)
    qtbot.addWidget(dialog)
    dialog.show()
    assert dialog.outcome() == Outcome(sheets=2, good=12, bad=0, reason="")
    type_into(dialog.bad, "3")
    dialog.reason.setText("  askew ")
    assert dialog.outcome() == Outcome(sheets=2, good=9, bad=3, reason="askew")
    type_into(dialog.good, "0")
    type_into(dialog.bad, "0")
    dialog.good.setValue(0)
    assert not dialog.keep.isEnabled()


def test_names_of_places_are_whole_in_a_narrow_window_and_say_their_questions_in_a_wide_one(window, qtbot):
    for width in (900, 1024, 1280, 1500, 1900):
        window.resize(width, 760)
        for place in ("art", "edge", "run", "book"):
            window.go_to(place)
            QTest.qWait(30)
            buttons = {**window.path_bar.buttons, **window.path_bar.rooms}
            for made in buttons.values():
                whole = made.width_with(brief=made.has_brief, stacked=made.is_stacked)
                assert made.width() >= whole - 8, (width, place, made.entry.title)
            assert all(made.has_brief for made in buttons.values()) == (width == 1900)
