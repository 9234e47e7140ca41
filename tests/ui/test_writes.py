"""What is kept is kept, all of it, in order, and in the right Book; what is no longer open is let go."""

import threading
from dataclasses import replace

import pytest

from hands import PATIENCE_S
from honest_edge.app.results import compute_overview as computing
from honest_edge.app.results.overview import Overview
from honest_edge.core.values.book_records import BladeNote
from honest_edge.files.book.place import book_path
from honest_edge.files.book.records import BLADE
from honest_edge.files.book.store import Book
from pictures import disc_png


@pytest.fixture
def blades(window, settle):
    """The part of the Book where blades are told of."""
    window.go_to("book:blades")
    settle(window)
    return window.workshop["book"].here


def kept():
    with Book(book_path()) as book:
        return [(note.record.blade, note.record.what) for note in reversed(book.notes(BLADE))]


@pytest.fixture
def held(window):
    """Hold all writing and computing up until it is called: five busy threads, and a write that takes long."""
    gate = threading.Event()
    for _ in range(5):
        window.new_task().submit(lambda **_how: gate.wait(PATIENCE_S))
    window.writes.submit(lambda: gate.wait(PATIENCE_S))
    yield gate.set
    gate.set()


def test_of_two_things_that_are_told_one_after_the_other_both_are_kept(window, settle, blades, held):
    blades._keep(BladeNote(blade="A", what="fitted"))
    blades._keep(BladeNote(blade="A", what="dull"))
    blades._keep(BladeNote(blade="B", what="fitted"))
    held()
    settle(window)
    assert kept() == [("A", "fitted"), ("A", "dull"), ("B", "fitted")]


def test_what_is_told_goes_into_the_book_of_the_job_that_was_open_then(window, settle, blades, held):
    blades._keep(BladeNote(blade="mine", what="fitted"))
    window.document.start(window.document.job, {}, None, is_demo=True)
    blades._keep(BladeNote(blade="made up", what="fitted"))
    held()
    settle(window)
    assert kept() == [("mine", "fitted")]
    (newest, *_) = window.desk()().look_up(lambda book: book.notes(BLADE), "", 1_790_000_000_000).rows
    assert newest.record.blade == "made up"
    window.document.start(window.document.job, {}, None)
    blades._keep(BladeNote(blade="mine", what="dull"))
    settle(window)
    assert kept() == [("mine", "fitted"), ("mine", "dull")]


def test_closing_waits_for_what_is_being_kept(window, qtbot, settle, blades):
    gate = threading.Event()
    window.writes.submit(lambda: gate.wait(PATIENCE_S))
    blades._keep(BladeNote(blade="A", what="fitted"))
    threading.Timer(0.6, gate.set).start()
    window.close()
    assert kept() == [("A", "fitted")]


def test_the_book_is_bound_by_the_windows_thread_alone(window):
    said = []

    def ask():
        try:
            window.desk()
        except RuntimeError as error:
            said.append(str(error))

    asking = threading.Thread(target=ask)
    asking.start()
    asking.join()
    assert said == ["The Book is bound when work is handed over"]


def test_originals_of_jobs_that_are_no_longer_open_go_and_undo_keeps_its_own(unlaid, window, settle, tmp_path):
    names = []
    for number in range(3):
        path = tmp_path / f"disc-{number}.png"
        path.write_bytes(disc_png(60 + number, ppi=300))
        window.take_files([path])
        settle(window)
        names.append(window.document.job.designs[-1].asset)
    assets = window.document.holder.assets
    assert assets.keys() >= set(names)
    job = window.document.job
    window.document.edit(job.without(job.designs[0].key), "remove")
    settle(window)
    assert names[0] in assets  # undo brings it back
    window.document.undo_stack.undo()
    settle(window)
    one = replace(job, designs=job.designs[:1])
    window.document.start(one, {names[0]: assets[names[0]]}, None)
    settle(window)
    assert not set(names[1:]) & assets.keys()
    assert names[0] in assets
    window.document.start(replace(job, designs=()), {}, None)
    settle(window)
    assert not set(names) & assets.keys()


@pytest.fixture
def unlaid(monkeypatch):
    """Nothing is computed of a job: what is added to it and let go of it is looked at alone."""
    monkeypatch.setattr(computing, "compute_overview", lambda job, _pipeline, **_more: Overview(job=job))


def discs(folder, names):
    made = [folder / f"{name}.png" for name in names]
    for number, path in enumerate(made):
        path.write_bytes(disc_png(60 + number, ppi=300))
    return made


def test_pictures_that_are_dropped_while_the_job_changes_are_all_added(unlaid, window, settle, tmp_path):
    """Dropped beside each other and beside other changes: each is there, under a key and a name of its own."""
    for round_ in range(3):
        first = discs(tmp_path, [f"a{round_}", f"b{round_}", f"c{round_}"])
        window.take_files(first)
        window.document.edit(replace(window.document.job, title=f"Tea {round_}"), "title")
        window.take_files(discs(tmp_path, [f"d{round_}"]))
        window.document.amend(replace(window.document.job, visible_mm=0.1 + round_ / 100))
        settle(window)
    job = window.document.job
    assert sorted(design.name for design in job.designs) == sorted(f"{n}{r}" for n in "ABCD" for r in range(3))
    assert len({design.key for design in job.designs}) == 12
    assert window.bar.message.text() == ""


def test_pictures_are_never_added_to_a_job_that_was_opened_meanwhile(unlaid, window, settle, tmp_path):
    window.take_files(discs(tmp_path, ["late"]))
    window.document.start(replace(window.document.job, title="another"), {}, None)
    settle(window)
    assert window.document.job.designs == ()
