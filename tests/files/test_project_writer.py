"""One writer for one project: in order, and never over what others wrote."""

import threading

import pytest

from honest_edge.core.values.errors import FileError
from honest_edge.core.values.job import Job
from honest_edge.files import project_writer
from honest_edge.files.project import load_project, save_project
from honest_edge.files.project_writer import ProjectWriter

RUN = "0f" * 16


@pytest.fixture
def writer():
    made = ProjectWriter()
    yield made
    made.wait()


def test_a_run_that_is_noted_beside_a_save_turns_nothing_back(writer, tmp_path, monkeypatch):
    """The run is noted in the job of before, and while that is under way the job is saved anew."""
    path = tmp_path / "tea.hedge"
    writer.save(path, Job(title="before"), {}, {}, over=True)()
    begun, go_on = threading.Event(), threading.Event()
    real = load_project

    def slow(place):
        found = real(place)
        begun.set()
        assert go_on.wait(60)
        return found

    monkeypatch.setattr(project_writer, "load_project", slow)
    noted = writer.note_run(path, RUN, b"{}")
    assert begun.wait(60)
    saved = writer.save(path, Job(title="after"), {}, {RUN: b"{}"}, over=False)
    go_on.set()
    noted()
    saved()
    found = real(path)
    assert (found.job.title, found.runs) == ("after", {RUN: b"{}"})


def test_what_was_handed_over_later_lies_there_in_the_end(writer, tmp_path):
    path = tmp_path / "tea.hedge"
    waits = [writer.save(path, Job(title=f"Tea {number}"), {}, {}, over=False) for number in range(20)]
    waits += [writer.note_run(path, f"{number:032x}", b"{}") for number in range(20)]
    writer.wait()
    found = load_project(path)
    assert found.job.title == "Tea 19"
    assert len(found.runs) == 20
    for wait in waits:
        wait()
    assert not writer.is_changed_elsewhere(path)


def test_nothing_is_written_over_what_others_wrote_unless_asked_for(writer, tmp_path):
    path = tmp_path / "tea.hedge"
    writer.save(path, Job(title="ours"), {}, {}, over=False)()
    save_project(path, Job(title="theirs"), {})
    assert writer.is_changed_elsewhere(path)
    for wait in (
        writer.save(path, Job(title="again"), {}, {}, over=False),
        writer.note_run(path, RUN, b"{}"),
    ):
        with pytest.raises(FileError, match=r"tea\.hedge was changed by another window"):
            wait()
    assert load_project(path).job.title == "theirs"
    writer.save(path, Job(title="again"), {}, {}, over=True)()
    assert load_project(path).job.title == "again"
    assert not writer.is_changed_elsewhere(path)


def test_a_project_that_was_read_is_known(writer, tmp_path):
    path = tmp_path / "tea.hedge"
    save_project(path, Job(title="there"), {})
    assert writer.load(path)().job.title == "there"
    writer.note_run(path, RUN, b"{}")()
    assert load_project(path).runs == {RUN: b"{}"}
    save_project(path, Job(title="theirs"), {})
    assert writer.is_changed_elsewhere(path)
