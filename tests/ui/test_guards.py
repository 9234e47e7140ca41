"""What the window keeps out: what is late, what is another's, what comes twice. Each was once noticed by no test."""

import threading
from dataclasses import replace
from types import SimpleNamespace

import pytest
from PyQt6.QtCore import QEventLoop, QTimer

from hands import PATIENCE_S, click
from honest_edge.app.results import compute_overview as computing
from honest_edge.app.results.overview import Overview
from honest_edge.app.run.clocks import RunClock
from honest_edge.core.values.bench_records import BenchSubject
from honest_edge.core.values.job import BenchCopy
from honest_edge.core.values.misregistration import Misregistration
from honest_edge.files import atomic_write
from honest_edge.ui.shell import waiting
from leader import Clock, Leader


def test_an_edit_that_leads_back_to_where_a_gesture_began_is_no_step_of_undo(window):
    document, job = window.document, window.document.job
    document.edit(replace(job, visible_mm=0.2), "slide", merge=7)
    assert document.undo_stack.count() == 1
    document.edit(job, "slide", merge=7)
    assert document.undo_stack.count() == 0
    assert document.is_saved


def test_a_layout_that_is_still_being_sought_does_not_count_as_known(with_disc):
    workspace = with_disc.workspace
    assert workspace.is_known
    workspace.overview = replace(workspace.overview, is_provisional=True)
    assert not workspace.is_known


def test_what_was_called_off_is_not_shown(with_disc, settle, monkeypatch):
    """An older computation comes upon a result and a layout while the newer one is at work already."""
    window = with_disc
    shown, gate, begun = [], threading.Event(), threading.Event()
    window.overviews.found.connect(lambda key, _result: shown.append(key))
    window.overviews.laid_out.connect(lambda overview: shown.append(overview.job.title))
    result = window.workspace.fresh["d1"]

    def slow(job, _pipeline, *, found, laid_out, **_more):
        if job.title == "older":
            begun.set()
            assert gate.wait(PATIENCE_S)
            found("d1", result)
            laid_out(Overview(job=job))
        return Overview(job=job)

    monkeypatch.setattr(computing, "compute_overview", slow)
    window.document.amend(replace(window.document.job, title="older"))
    assert begun.wait(PATIENCE_S)
    window.document.amend(replace(window.document.job, title="newer"))
    gate.set()
    settle(window)
    assert shown == []


@pytest.fixture
def lead(with_disc, settle, monkeypatch, tmp_path):
    clock = Clock()
    monkeypatch.setattr("honest_edge.app.run.clocks.present", clock)
    monkeypatch.setattr(RunClock.__init__, "__defaults__", (clock, 0.0))
    with_disc.document.out_folder = tmp_path / "out"
    leader = Leader(with_disc, settle, clock)
    leader.with_copies(12)
    return leader


def test_files_of_a_run_that_was_left_meanwhile_let_nothing_happen_in_the_next(lead, monkeypatch):
    lead.begin()
    lead.until("pass")
    folder, gate, begun, real = (
        lead.keeper.conductor.journal.folder,
        threading.Event(),
        threading.Event(),
        atomic_write.write_set,
    )

    def slow(*arguments, **more):
        begun.set()
        assert gate.wait(PATIENCE_S)
        return real(*arguments, **more)

    monkeypatch.setattr(atomic_write, "write_set", slow)
    click(lead.view.primary)  # the cut files are being written, and then it is cut
    assert begun.wait(PATIENCE_S)
    lead.keeper.leave()
    lead.keeper.take_up(folder)
    gate.set()
    lead.settle()
    assert lead.step.key == "pass"
    assert "cut begun" not in [event.what for event in lead.keeper.conductor.events]


def test_nothing_typed_or_clicked_comes_in_while_something_is_finished(window, monkeypatch):
    asked = []

    class Loop(QEventLoop):
        def exec(self, flags=QEventLoop.ProcessEventsFlag.AllEvents):
            asked.append(flags)
            return super().exec(flags)

    monkeypatch.setattr(waiting, "QEventLoop", Loop)
    assert window.jobs.waiting.for_result(lambda: 7, "Waiting") == 7
    assert asked == [QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents]


def test_a_window_that_is_finishing_something_does_not_close_a_second_time(window):
    gate, closed = threading.Event(), []

    def close():
        closed.append(window.close())
        gate.set()

    QTimer.singleShot(50, close)
    window.jobs.waiting.for_result(lambda: gate.wait(PATIENCE_S), "Waiting")
    assert closed == [False]
    assert window.isVisible()


def test_what_is_known_of_another_machine_s_bench_is_not_put_into_the_job(with_disc):
    keeper, sheet = with_disc.workshop.bench, with_disc.document.job.sheet

    def known(machine):
        bench = BenchSubject(machine=machine, printer=sheet.printer.name)
        copy = BenchCopy(machine=machine, printer=bench.printer, key="k", error=Misregistration())
        return SimpleNamespace(bench=bench, rows=(1,), copy=copy)

    keeper._take(known("Another cutter"))
    assert with_disc.document.job.measured is None
    keeper._take(known(sheet.machine.name))
    assert with_disc.document.job.measured.machine == sheet.machine.name
