"""Jobs that ask for more than anybody means: the window is never held, all is called off at once, and it closes."""

from dataclasses import replace

import pytest
from PyQt6.QtTest import QTest

from honest_edge.app.book import sheet_picture
from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.core.values.job import Job
from honest_edge.files.project import save_project
from pictures import disc_png
from watchdog import HELD_S, Watchdog

pytestmark = pytest.mark.slow

STATIONS = ("art", "outline", "edge", "sheet", "proof", "files", "run")


def copies(job):
    """Ten thousand copies, on hundreds of sheets."""
    return replace(job, designs=(replace(job.designs[0], copies=10_000, fills=False),))


def designs(job):
    """As many designs as a job may have, under names as long as they may be."""
    many = [
        replace(job.designs[0], key=f"k{n}", name=f"{n} {'long ' * 190}", copies=1, fills=False) for n in range(500)
    ]
    return replace(job, designs=tuple(many), title="T" * 1000)


def used(job):
    """As many used areas as a sheet may have."""
    boxes = tuple((3.0 * (n % 20), 3.0 * (n // 20), 3.0 * (n % 20) + 2, 3.0 * (n // 20) + 2) for n in range(200))
    return replace(job, sheet=replace(job.sheet, used=boxes))


@pytest.mark.parametrize("made", [copies, pytest.param(designs, marks=pytest.mark.long), used])
def test_a_window_with_a_job_that_asks_for_much_is_never_held_and_closes(window, settle, tmp_path, monkeypatch, made):
    holder = JobHolder()
    design = design_from(holder, Job(), disc_png(30, ppi=300), "disc.png")
    path = tmp_path / "much.hedge"
    save_project(path, made(with_designs(Job(), [design])), holder.assets)
    reduced = []
    real = sheet_picture._reduced
    monkeypatch.setattr(sheet_picture, "_reduced", lambda art, scale: reduced.append(art) or real(art, scale))
    dog = Watchdog()
    window.jobs.open_path(path)
    assert len(window.document.job.designs) >= 1
    for station in STATIONS:
        dog.doing = station
        window.go_to(station)
        QTest.qWait(150)  # nothing is waited for: it is computed meanwhile, or is not
    for spent, doing in dog.held:
        assert spent < HELD_S, doing
    assert len(reduced) <= 20 * len(
        window.document.job.designs
    )  # once a design and layout, however many copies lie there
    window.document.amend(replace(window.document.job, visible_mm=0.15))  # and it is computed anew
    window.jobs.may_leave = lambda: True
    assert window.close()
