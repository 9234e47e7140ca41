"""Practice through the real window: a story failed, mended in the real stations, solved; the free bench; a crash."""

import os

import pytest
from PyQt6.QtWidgets import QAbstractButton

from hands import click, visit
from honest_edge.app.practice.stories import STORIES
from honest_edge.files.book.records import PRACTISED
from honest_edge.files.practice_mark import LeftPractice, PracticeMark, left_practice
from honest_edge.ui.shell.practice_offer import PracticeOffer


@pytest.fixture
def room(window, settle, monkeypatch):
    monkeypatch.setattr("secrets.randbelow", lambda _most: 1)  # the same chances every time
    window.go_to("practice")
    settle(window)
    return window.workshop["practice"]


def practised(window):
    desk = window.desk()()
    return list(desk.look_up(lambda book: [kept.record for kept in book.notes(PRACTISED, most=-1)], "", 0).rows)


def tick(room, *names):
    for name in names:
        room.bench.hands[name].setChecked(True)


def sheet(room, window, settle):
    for made in (room.bench.print, room.bench.cut):
        if made.isEnabled():
            click(made)
            settle(window)


def test_the_stories_stand_in_a_list_and_say_how_they_went(room, window):
    assert list(room.stories.tiles) == [story.key for story in STORIES]
    assert {tile.detail.text() for tile in room.stories.tiles.values()} == {"not tried yet"}
    assert "practice" not in window.path_bar._all


def test_a_story_is_lost_mended_at_its_station_and_solved(room, window, settle):
    click(room.stories.tiles["thin bleed"])
    settle(window)
    assert window.document.is_practice
    assert room.bench.title.text() == "As tight as it goes"
    assert not room.bench.cut.isEnabled()
    assert "Print a sheet first" in room.bench.cut.toolTip()
    sheet(room, window, settle)
    assert (room.day.lost, room.day.is_solved) == (1, False)
    assert room.bench.figures.text().startswith("1 sheet lost")
    assert not room.bench.lesson.isVisible()
    visit(window, "edge")
    settle(window)
    assert room.banner.isVisible()
    assert "1 sheet lost" in room.banner.words.text()
    click(window.here.panel.changes.uses[-1])
    settle(window)
    click(room.banner.bench)
    settle(window)
    assert not room.banner.isVisible()
    sheet(room, window, settle)
    assert room.day.is_solved
    assert room.bench.lesson.isVisible()
    assert "bleed was shorter" in room.bench.lesson_words.text()
    assert not room.bench.print.isEnabled()
    settle(window)
    (note,) = practised(window)
    assert (note.story, note.lost, note.is_solved) == ("thin bleed", 1, True)
    click(room.bench.next)
    settle(window)
    assert room.stories.tiles["thin bleed"].detail.text().startswith("solved: 1 sheet lost")
    assert not window.document.is_practice
    assert window.document.job.designs == ()


def test_hands_solve_what_the_job_is_not_guilty_of(room, window, settle):
    room.begin("wedding")
    settle(window)
    click(room.bench.print)
    settle(window)
    click(room.bench.ruler)
    assert "It is 47.5 mm" in room.bench.told.text()
    click(room.bench.throw)
    tick(room, "at_full_size")
    sheet(room, window, settle)
    assert (room.day.is_solved, room.day.lost) == (True, 1)
    click(room.bench.more)
    assert window.helper.handbook.pages.topic == "printing"
    window.helper.handbook.close()


def test_who_gives_up_is_told_and_it_counts_as_not_solved(room, window, settle):
    room.begin("dust")
    settle(window)
    click(room.bench.reveal)
    settle(window)
    assert "The blade was dull" in room.bench.lesson_words.text()
    assert [note.is_solved for note in practised(window)] == [False]
    assert not room.bench.reveal.isEnabled()


def test_the_free_bench_is_found_out(room, window, settle):
    room.begin_free(3, 1)
    settle(window)
    causes = room._free.causes
    sheet(room, window, settle)
    click(room.bench.say)
    assert "Tick what you think" in room.bench.verdict.text()
    for cause, box in room.bench.causes.items():
        box.setChecked(cause in causes)
    click(room.bench.questions)
    assert room.dialog.isVisible()
    room.dialog.accept()
    click(room.bench.say)
    settle(window)
    assert room.bench.verdict.text().startswith("That is it")
    (note,) = practised(window)
    assert (note.story, note.seed, note.level, note.is_solved) == ("free", 3, 1, True)
    room.stop()
    settle(window)
    assert room.stories.free_words.text() == "Tried so far: 1; found: 1."


def test_another_job_ends_the_practice_and_nothing_of_it_is_kept(room, window, settle, disc_file):
    room.begin("shiny")
    settle(window)
    window.workspace.edit_design("name", name="Other")
    assert window.document.keeper is not None
    assert window.document._unsaved() is None
    assert window.jobs.may_leave()
    window.jobs.open_demo()
    settle(window)
    assert room.day is None
    assert not room.banner.isVisible()


def test_unsaved_work_is_asked_about_before_a_story(with_disc, settle, monkeypatch):
    window = with_disc
    monkeypatch.setattr(window.jobs, "may_leave", lambda: False)
    window.go_to("practice:dust")
    settle(window)
    assert not window.document.is_practice
    assert window.workshop["practice"].day is None


def test_a_story_that_is_none_has_its_words(room, window):
    window.go_to("practice:nothing")
    assert "no such practice story" in window.bar.message.text()
    window.go_to("practice:free/77777/1")
    assert "0 to 9999" in window.bar.message.text()


def test_a_practice_that_a_crash_ended_is_told_once(make_window, settle, tmp_path):
    folder = tmp_path / "state" / "practice"
    left = LeftPractice(title="A little dust", story="dust", seed=0, level=0)
    mark = PracticeMark(folder)
    mark.set(left)
    assert left_practice(folder) is None  # its window lives
    handle, place = mark._held

    os.close(handle)  # as a crash lets it go
    (folder / "9.json").write_text("{")
    window = make_window()
    PracticeOffer(window, folder).look()
    settle(window)
    assert "“A little dust” was interrupted" in window.bar.message.text()
    assert not (folder / "9.json").exists()  # what was told, or cannot be read, is told no more
    (again,) = [one for one in window.bar.findChildren(QAbstractButton) if one.text() == "Begin it again"]
    click(again)
    settle(window)
    assert window.workshop["practice"].day.story.key == "dust"
    assert not place.exists() or str(place).endswith(f"{os.getpid()}.json")
    window.workshop["practice"].stop()
    assert left_practice(folder) is None
