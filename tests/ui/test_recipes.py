"""Recipe cards as a user meets them: typed, taken into a job, kept from it, taken over from a run. 4 CPU s."""

from __future__ import annotations

import pytest
from PyQt6.QtWidgets import QFileDialog, QLineEdit

from hands import click, type_into
from honest_edge.core.values.book_records import StockMove
from honest_edge.core.values.log_event import RunRecord
from honest_edge.core.values.recipe import CutSetting
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from honest_edge.files.book.place import book_path
from honest_edge.files.book.records import MOVE, RECIPE
from honest_edge.files.book.store import Book


def field(dialog, name):
    return next(one for one in dialog.findChildren(QLineEdit) if one.accessibleName() == name)


def book_part(window, settle, key):
    window.go_to(f"book:{key}")
    settle(window)
    return window.workshop["book"]


def kept():
    with Book(book_path()) as book:
        return [one.record for one in book.notes(RECIPE)]


def test_a_card_is_typed_taken_into_the_job_and_says_how_often_the_blade_goes_over_a_line(with_disc, settle):
    window = with_disc
    room = book_part(window, settle, "recipes")
    assert "A card says what a stock is cut with" in room.page.empty.text()
    click(room.here.new)
    dialog = room.here.dialog
    click(dialog.keep)
    assert "A recipe says what is set" in dialog.wrong.text()
    field(dialog, "Force").setText("84")
    field(dialog, "Passes").setText("1.5")
    click(dialog.keep)
    assert "a whole number of times" in dialog.wrong.text()
    field(dialog, "Passes").setText("2")
    field(dialog, "Remark").setText("weeds well")
    click(dialog.keep)
    settle(window)
    assert room.page.ledger.shown("Set to") == ["force 84, 2 passes"]
    assert "weeds well" in room.here.told.text()
    assert room.here.out.text() == "No sheet was inspected since."
    window.go_to("files")
    settle(window)
    card = window.stations["files"].panel.setting
    assert "The Book, kiss: force 84, 2 passes (within a day)." in card.said.text()
    once_s = window.workspace.job.sheet.cutter.lines.kiss.passes
    click(card.take)
    settle(window)
    assert (once_s, window.workspace.job.sheet.cutter.lines.kiss.passes) == (1, 2)
    assert card.fields["kiss"].text() == "force 84, 2 passes"
    assert not card.take.isVisible()
    assert not card.fields["through"].isVisible(), "nothing of this job is cut through"
    window.document.undo_stack.undo()
    settle(window)
    assert card.fields["kiss"].text() == ""
    type_into(card.fields["kiss"], "force 0")
    assert "force must be" in window.bar.message.text()
    type_into(card.fields["kiss"], "Fine vinyl, narrow 20 mm/s")
    settle(window)
    assert window.workspace.job.sheet.settings.kiss == CutSetting(named="Fine vinyl", slow_mm_s=20)
    click(card.keep)
    settle(window)
    assert kept()[0].setting == CutSetting(named="Fine vinyl", slow_mm_s=20)
    room = book_part(window, settle, "recipes")
    assert "Before:" in room.here.earlier.text()
    click(room.here.remove)
    settle(window)
    assert room.answer.text() == "No recipe yet" or room.page.empty.isVisible()


def test_narrow_places_are_counted_and_slowed_at_one_press(window, settle, tmp_path):
    from hands import drop
    from pictures import coverage, png, rgba, star

    path = tmp_path / "star.png"
    path.write_bytes(png(rgba(coverage(star(60, 12), 200, 200)), dpi=(100, 100)))
    drop(window, [path])
    settle(window)
    window.workspace.edit_design("edge", edge=SCHOOL_DEFAULTS["bare"], copies=2, fills=False)
    settle(window)
    window.go_to("files")
    settle(window)
    card = window.stations["files"].panel.setting
    assert "2 of 2 lines have narrow places" in card.narrow.text(), "a star has points"
    click(card.slow)
    settle(window)
    machine = window.workspace.job.sheet.machine
    assert window.workspace.job.sheet.settings.kiss == CutSetting(slow_mm_s=machine.speed_mm_s / 2)
    assert "as they are set" in card.narrow.text()
    assert not card.slow.isVisible()


def test_what_a_run_was_set_to_is_taken_over(with_disc, settle):
    from dataclasses import asdict

    from honest_edge.core.values.log_event import LogEvent
    from honest_edge.files.book.store import RUN

    sheet = with_disc.workspace.job.sheet
    run = RunRecord(title="Tea", stock=sheet.stock.name, machine=sheet.machine.name, sheets=1, good=8, bad=1,
                    setting="kiss: force 77, 1 pass")  # fmt: skip
    vague = RunRecord(title="Mint", sheets=1, good=8, bad=1, setting="as always")
    book_path().parent.mkdir(parents=True, exist_ok=True)
    with Book(book_path()) as book:
        for number, one in enumerate((vague, run)):
            book.add([LogEvent(key=f"{number:032x}", at_ms=1_790_000_000_000 + number, kind=RUN, data=asdict(one))])
    room = book_part(with_disc, settle, "runs")
    click(room.here.over)
    settle(with_disc)
    assert [one.setting for one in kept()] == [CutSetting(force=77, passes=1)]
    room.page.ledger.pick(1)
    click(room.here.over)
    settle(with_disc)
    assert "does not say for which kind of line" in with_disc.bar.message.text()
    assert len(kept()) == 1


def test_ways_to_set_the_driver_are_compared_and_the_best_is_kept(with_disc, settle, tmp_path, monkeypatch):
    import pypdfium2

    stock = with_disc.workspace.job.sheet.stock.name
    book_path().parent.mkdir(parents=True, exist_ok=True)
    with Book(book_path()) as book:
        book.add([MOVE.event(StockMove(stock=stock, what="bought", sheets=5), "e" * 32, 1_790_000_000_000)])
    room = book_part(with_disc, settle, "stock")
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path))
    click(room.here.compare)
    settle(with_disc)
    assert "Feed one sheet 4 times" in with_disc.bar.message.text()
    inked = []
    for number in range(1, 5):
        with pypdfium2.PdfDocument(tmp_path / f"compare-{number}.pdf") as pdf:
            assert [side * 25.4 / 72 for side in pdf[0].get_size()] == pytest.approx((215.9, 279.4), abs=0.1)
            inked.append(pdf[0].render(scale=0.5).to_numpy().min(axis=2) < 250)
    whole = sum(picture.astype(int) for picture in inked)
    assert whole.max() == 1, "no field lies on another: they go on one sheet"
    assert all(picture.sum() > 5000 for picture in inked)
    click(room.here.describe)
    field(room.here.dialog, "Printer’s driver").setText("best, matt photo")
    click(room.here.dialog.keep)
    settle(with_disc)
    assert "driver: best, matt photo" in room.here.known.text()
    with_disc.go_to("files")
    settle(with_disc)
    assert "Set the driver to: best, matt photo." in with_disc.stations["files"].panel.known.text()
