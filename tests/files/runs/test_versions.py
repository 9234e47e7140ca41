"""Runs outlive the versions that began them: one small real run of every version is opened, led on and compared.

``version-1`` was written by the program before events had records of their own, ``version-2`` by the one that first
spoke to a machine: a seal, its print, its journal, a project that has the run, and the number under which its files
were written.
"""

import dataclasses
import json
import shutil
from dataclasses import field, make_dataclass, replace
from pathlib import Path

import pytest

from honest_edge.app.run.conductor import Conductor
from honest_edge.core.run.state import state_of
from honest_edge.core.values.errors import FileError
from honest_edge.core.values.job import Job
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.run_events import EVENT_KINDS, Back, Ended, Inspected, Measured, ProofJudged
from honest_edge.core.values.stock import Stock
from honest_edge.files.first_fields import FIRST_FIELDS
from honest_edge.files.project import load_project
from honest_edge.files.runs.event_lines import parse_event, plain_event
from honest_edge.files.runs.journal import JOURNAL, SEAL, Journal, parse_run, seal_bytes
from honest_edge.files.seal import differing, parts_of, seal_of
from sealed import NOW

HERE = Path(__file__).parent
VERSIONS = sorted(path.name for path in HERE.glob("version-*"))


@pytest.fixture(params=VERSIONS)
def kept(request, tmp_path):
    """The run of a version, in a folder where runs are kept."""
    source = HERE / request.param
    run = json.loads((source / SEAL).read_bytes())["run"]
    folder = tmp_path / run
    folder.mkdir()
    for name in (SEAL, JOURNAL, "print.pdf"):
        shutil.copy(source / name, folder / name)
    return source, folder


def test_a_run_of_every_version_is_opened_and_led_on(kept):
    source, folder = kept
    conductor = Conductor.take_up(folder, lambda: NOW.after(200_000))
    came_later = {"aligned", "lines cut"} if source.name == "version-1" else set()
    assert set(EVENT_KINDS) - {event.what for event in conductor.events} - came_later <= {"ended", "unmeasured"}
    state = conductor.state
    assert conductor.events[0].what == "ordered"
    assert (state.sheet(1).skipped, state.sheet(1).again, len(state.sheets)) == ((0,), (2,), 3)
    assert [(one.copy, one.reason, one.side, one.wide_mm) for one in state.sheet(1).bad] == [
        (3, "white rim", "left", 0.5),
        (4, "torn", "", None),
    ]
    assert (state.sheet(1).passes, [event.places for event in conductor.events if event.what == "aligned"][-1:]) == (
        1,
        [] if came_later else [((0, 20.0, 250.1), (1, 210.3, 250.4), (2, 20.2, 12.75), (3, 210.5, 12.8))],
    )
    assert (state.sheet(3).spoiled, state.blade, dict(state.settings)) == (
        "jammed",
        "Blade no. 2",
        {"through": "force 84"},
    )
    (measured,) = [event for event in conductor.events if isinstance(event, Measured)]
    assert (measured.verdict, measured.across_mm, measured.down_mm, measured.ruler_mm) == ("true", 191.9, None, 50.0)
    bad, good = [event for event in conductor.events if isinstance(event, ProofJudged)]
    assert (bad.verdict, bad.side, bad.wide_mm, bad.note, good.side) == ("white rim", "left", 0.4, "", "")
    before = (folder / JOURNAL).read_bytes()
    conductor.happens(Ended(reason="enough"))
    conductor.journal.close()
    assert (folder / JOURNAL).read_bytes().startswith(before)
    again = Journal.take_up(folder)
    assert state_of(again.seal, again.events).ended == "enough"
    again.close()


def without_later(now, before):
    """Leave out what a version did not know yet."""
    if isinstance(before, dict):
        return {key: without_later(value, before[key]) for key, value in now.items() if key in before}
    if isinstance(before, list):
        return [without_later(one, two) for one, two in zip(now, before, strict=True)]
    return now


def test_a_print_of_every_version_still_matches_its_job(kept):
    source, folder = kept
    project = load_project(source / "project.hedge")
    ((run, text),) = project.runs.items()
    seal, events = parse_run(text, run[:8])
    assert differing(seal.job_parts, parts_of(project.job)) == ()
    assert seal_of(project.job) == (source / "seal_of_job.txt").read_text().strip()
    sealed = json.loads((folder / SEAL).read_bytes())
    assert without_later(json.loads(seal_bytes(seal)), sealed) == sealed
    journal = Journal.take_up(folder)
    assert tuple(journal.events) == events
    assert journal.text() == text
    journal.close()
    moved = replace(project.job, sheet=replace(project.job.sheet, stock=replace(project.job.sheet.stock, name="Felt")))
    assert differing(seal.job_parts, parts_of(moved)) == ("the stock",)


def later(kind, name, default):
    """Return a type of today with one more field that came later."""
    return make_dataclass(
        kind.__name__, [(name, type(default), field(default=default))], bases=(kind,), frozen=True, kw_only=True
    )


def grown(value, kind, **more):
    held = {one.name: getattr(value, one.name) for one in dataclasses.fields(value)}
    return kind(**held, **more)


def with_stock(job, stock):
    return replace(job, sheet=replace(job.sheet, stock=stock))


def with_machine(job, machine):
    return replace(job, sheet=replace(job.sheet, machine=machine))


@pytest.mark.parametrize(
    ("kind", "held", "put"),
    [
        (Job, lambda job: job, lambda _job, value: value),
        (Stock, lambda job: job.sheet.stock, with_stock),
        (Machine, lambda job: job.sheet.machine, with_machine),
    ],
)
def test_a_field_that_came_later_changes_no_earlier_print(kind, held, put):
    job = load_project(HERE / "version-1" / "project.hedge").job
    kind_later = later(kind, "sparkle", 0.0)
    as_before = put(job, grown(held(job), kind_later))
    assert seal_of(as_before) == seal_of(job)
    assert parts_of(as_before) == parts_of(job)
    assert seal_of(put(job, grown(held(job), kind_later, sparkle=0.5))) != seal_of(job)


def test_every_first_field_is_still_there_and_counts():
    """What was hashed once is hashed for ever: a field that goes would change every print of before."""
    job = Job()
    for kind in (Job, Stock, Machine):
        assert FIRST_FIELDS[kind.__name__] <= {one.name for one in dataclasses.fields(kind)}
    assert seal_of(replace(job, sheet=replace(job.sheet, stock=Stock(name="Felt")))) != seal_of(job)


def test_an_event_with_a_field_of_a_later_version_keeps_its_line(kept):
    """The hash is that of the stored bytes: what this version does not know of an event breaks no chain."""
    from honest_edge.files.runs import chain as module

    _, folder = kept
    journal = Journal.take_up(folder)
    real = module.plain_event
    module.plain_event = lambda event: {**real(event), "sparkle": 1}
    try:
        journal.add(Ended(reason="enough", at=NOW))
    finally:
        module.plain_event = real
    journal.close()
    again = Journal.take_up(folder)
    assert again.events[-1] == Ended(reason="enough", at=NOW)
    assert b"sparkle" in again.text()
    again.close()


def test_a_kind_of_event_of_a_later_version_is_named(kept):
    from honest_edge.files.runs import chain as module

    _, folder = kept
    journal = Journal.take_up(folder)
    real = module.plain_event
    module.plain_event = lambda event: {**real(event), "what": "polished"}
    try:
        journal.add(Ended(reason="enough", at=NOW))
    finally:
        module.plain_event = real
    journal.close()
    with pytest.raises(FileError, match="“polished” happens in runs of a newer Honest Edge: update this one"):
        Journal.take_up(folder)


def test_every_kind_of_event_comes_back_as_it_was_written():
    from honest_edge.files.runs.canonical import canonical

    samples = {int: 3, str: "", float: 0.5}
    for kind in EVENT_KINDS.values():
        values = {}
        for one in dataclasses.fields(kind):
            if one.name == "at":
                values["at"] = NOW
            elif one.default is dataclasses.MISSING:
                values[one.name] = _sample(kind, one.name, samples)
        event = kind(**values)
        assert parse_event(canonical(plain_event(event))) == event
    assert parse_event(canonical(plain_event(Back(at=NOW)))) == Back(at=NOW)
    assert parse_event(canonical(plain_event(Inspected(sheet=1, at=NOW)))).bad == ()


def _sample(kind, name, samples):
    words = {
        "verdict": "good" if kind is ProofJudged else "true",
        "reason": "done",
        "kinds": "kiss",
        "blade": "B",
        "why": "torn",
    }
    if name in words:
        return words[name]
    if name == "places":
        return ((0, 1.5, 2.25), (2, 0.025, 301.0), (1, 9.0, 9.0))
    return (1, 2) if name in ("pages", "copies", "marks") else samples[int]
