"""Copies of unsaved work: one for every window, found when it is gone, damaged ones put aside."""

import os
import subprocess
import sys

import pytest

from honest_edge.app.edits.open_art import demo_project
from honest_edge.core.values.errors import FileError
from honest_edge.files.project import save_project
from honest_edge.files.recovery import RecoveryFolder

OTHER_WINDOW = """
import sys, time
from pathlib import Path
from honest_edge.app.edits.open_art import demo_project
from honest_edge.files.recovery import RecoveryFolder
demo = demo_project()
slot = RecoveryFolder(Path(sys.argv[1])).new_slot()
slot.write(demo.job, demo.assets, [b"picture"])
print("kept", flush=True)
time.sleep(600)
"""


@pytest.fixture(scope="module")
def demo():
    return demo_project()


@pytest.fixture
def folder(tmp_path):
    return RecoveryFolder(tmp_path / "recovery")


def test_what_a_killed_window_kept_is_found_and_what_a_living_one_keeps_is_not(folder, tmp_path, demo):
    other = subprocess.Popen(
        [sys.executable, "-c", OTHER_WINDOW, str(tmp_path / "recovery")], stdout=subprocess.PIPE, env=os.environ
    )
    assert other.stdout.readline() == b"kept\n"
    assert folder.left() == ([], [])
    mine = folder.new_slot()
    mine.write(demo.job, demo.assets)
    other.kill()
    other.communicate()
    (work,), said = folder.left()
    assert not said
    assert (work.job, work.assets) == (demo.job, demo.assets)
    assert work.pictures == (b"picture",)
    assert RecoveryFolder(tmp_path / "recovery").left() == ([], [])  # held while it is offered
    work.slot.release()
    (again,), _ = folder.left()
    again.slot.drop()
    assert folder.left() == ([], [])
    mine.drop()


def test_originals_are_written_once(folder, demo):
    slot = folder.new_slot()
    slot.write(demo.job, demo.assets)
    before = {path: path.stat().st_mtime_ns for path in (slot.folder / "assets").iterdir()}
    assert {path.name for path in before} == set(demo.assets)
    slot.write(demo.job.without(demo.job.designs[0].key), demo.assets)
    assert {path: path.stat().st_mtime_ns for path in (slot.folder / "assets").iterdir()} == before
    slot.release()
    (work,), _ = folder.left()
    assert len(work.job.designs) == len(demo.job.designs) - 1


@pytest.mark.parametrize("harm", ["job", "original", "missing"])
def test_a_damaged_copy_is_put_aside_and_named(folder, tmp_path, demo, harm):
    slot = folder.new_slot()
    slot.write(demo.job, demo.assets)
    first = next(iter((slot.folder / "assets").iterdir()))
    if harm == "job":
        (slot.folder / "job.json").write_bytes(b'{"version": 4, "jo')
    elif harm == "original":
        first.write_bytes(b"other")
    else:
        first.unlink()
    slot.release()
    works, (said,) = folder.left()
    assert works == []
    aside = tmp_path / "recovery" / "damaged" / slot.folder.name
    assert aside.is_dir()
    assert str(aside) in said
    assert folder.left() == ([], [])


def test_the_single_copy_of_earlier_versions_is_found_too(folder, tmp_path, demo):
    save_project(tmp_path / "recovery.hedge", demo.job, demo.assets)
    (work,), said = folder.left()
    assert not said
    assert work.job == demo.job
    assert not (tmp_path / "recovery.hedge").exists()
    work.slot.drop()
    (tmp_path / "recovery.hedge").write_bytes(b"PK nothing")
    works, (said,) = folder.left()
    assert not works
    assert (tmp_path / "recovery" / "damaged" / "recovery.hedge").read_bytes() == b"PK nothing"


def test_a_copy_that_cannot_be_written_is_said_and_the_one_before_stays(folder, demo, monkeypatch):
    slot = folder.new_slot()
    slot.write(demo.job, demo.assets)

    def full(_handle):
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patched:
        patched.setattr("honest_edge.files.atomic_write.os.fsync", full)
        with pytest.raises(FileError, match="the disk is full"):
            slot.write(demo.job.without(demo.job.designs[0].key), demo.assets)
    slot.release()
    (work,), _ = folder.left()
    assert work.job == demo.job
