"""Files and sets of files: whole or not at all, under a full disk, a kill and links."""

import os
import stat
import subprocess
import sys
import time

import pytest

from honest_edge.core.values.errors import FileError
from honest_edge.files import atomic_write
from honest_edge.files.atomic_write import MARKER, finish, unfinished, write_set

OLD = {"print.pdf": b"old print", "cut-1.svg": b"old cut", "cut-2.svg": b"old second cut"}
NEW = {"print.pdf": b"new print", "cut-1.svg": b"new cut"}

KILLED = """
import os, sys
from pathlib import Path
from honest_edge.files import atomic_write
left = int(sys.argv[2])
real = {name: getattr(os, name) for name in ("replace", "unlink")}
def counted(name):
    def act(*arguments, **more):
        global left
        if left == 0:
            os._exit(9)
        left -= 1
        return real[name](*arguments, **more)
    return act
os.replace, os.unlink = counted("replace"), counted("unlink")
new = {"print.pdf": b"new print", "cut-1.svg": b"new cut"}
atomic_write.write_set(Path(sys.argv[1]), new, replace=True, stale=["cut-2.svg"])
"""


def held(folder):
    return {path.name: path.read_bytes() for path in folder.iterdir()}


@pytest.fixture
def folder(tmp_path):
    for name, data in OLD.items():
        (tmp_path / name).write_bytes(data)
    return tmp_path


def test_files_appear_whole_or_not_at_all(tmp_path, monkeypatch):
    (tmp_path / "a.txt").write_bytes(b"old")
    wrote = []

    def full(handle):
        wrote.append(handle)
        if len(wrote) == 2:
            raise OSError(28, "No space left on device")

    monkeypatch.setattr(atomic_write.os, "fsync", full)
    with pytest.raises(FileError, match="disk is full"):
        write_set(tmp_path, {"a.txt": b"new", "b.txt": b"new"}, replace=True)
    assert [p.name for p in tmp_path.iterdir()] == ["a.txt"]
    assert (tmp_path / "a.txt").read_bytes() == b"old"


def test_an_existing_file_is_refused_by_name(tmp_path):
    (tmp_path / "a.txt").write_bytes(b"old")
    with pytest.raises(FileError, match=r"already holds a\.txt"):
        write_set(tmp_path, {"a.txt": b"new", "b.txt": b"new"}, replace=False)
    assert not (tmp_path / "b.txt").exists()


def test_the_mode_of_a_replaced_file_stays(tmp_path):
    place = tmp_path / "a.txt"
    place.write_bytes(b"old")
    place.chmod(0o640)
    write_set(tmp_path, {"a.txt": b"new"}, replace=True)
    assert stat.S_IMODE(place.stat().st_mode) == 0o640
    write_set(tmp_path, {"b.txt": b"new"}, replace=True)
    mask = os.umask(0)
    os.umask(mask)
    assert stat.S_IMODE((tmp_path / "b.txt").stat().st_mode) == 0o666 & ~mask


def test_a_file_where_a_folder_should_be_is_said(tmp_path):
    (tmp_path / "place").write_bytes(b"")
    with pytest.raises(FileError, match="is a file, not a folder"):
        write_set(tmp_path / "place", {"a.txt": b"new"}, replace=True)


@pytest.mark.parametrize("steps", range(10))
def test_a_kill_between_two_files_is_found_and_the_set_is_finished(folder, steps):
    """Wherever the process dies, the folder holds the old set, the new one, or a marker that leads to the new one."""
    ended = subprocess.run([sys.executable, "-c", KILLED, str(folder), str(steps)], check=False, env=os.environ)
    assert ended.returncode in (0, 9)
    if named := unfinished(folder):
        assert named == ["print.pdf", "cut-1.svg", "cut-2.svg"]
        assert finish(folder) == named
        assert held(folder) == NEW
    else:
        shown = {name: data for name, data in held(folder).items() if not name.startswith(".")}
        assert shown in (OLD, NEW)
    write_set(folder, NEW, replace=True, stale=["cut-2.svg"])
    assert {name for name in held(folder) if not name.endswith((".part", ".old"))} == set(NEW)


def test_a_kill_was_seen_in_every_place(folder):
    """The test above would be none if no process died with some files replaced."""
    mixed = 0
    for steps in range(1, 7):
        for name, data in OLD.items():
            (folder / name).write_bytes(data)
        subprocess.run([sys.executable, "-c", KILLED, str(folder), str(steps)], check=False, env=os.environ)
        mixed += (folder / "print.pdf").read_bytes() == b"new print" and (
            folder / "cut-1.svg"
        ).read_bytes() == b"old cut"
        finish(folder)
    assert mixed >= 1


@pytest.mark.parametrize("failing", ["cut-1.svg", "cut-2.svg"])
def test_what_cannot_be_replaced_or_removed_leaves_everything_as_it_was(folder, monkeypatch, failing):
    real_replace, real_unlink = os.replace, os.unlink

    def refuse(real):
        def act(*places):
            if str(places[-1]).endswith(f"/{failing}"):
                raise PermissionError(13, "Permission denied")
            return real(*places)

        return act

    monkeypatch.setattr(atomic_write.os, "replace", refuse(real_replace))
    monkeypatch.setattr(atomic_write.os, "unlink", refuse(real_unlink))
    with pytest.raises(FileError, match="Nothing was written"):
        write_set(folder, NEW, replace=True, stale=["cut-2.svg"])
    assert held(folder) == OLD


def test_where_nothing_can_be_kept_the_message_names_what_changed(folder, monkeypatch):
    real = os.replace

    def refuse(one, other):
        if str(other).endswith("/cut-1.svg"):
            raise OSError(5, "Input/output error")
        real(one, other)

    def no_links(*_places):
        raise OSError(1, "Operation not permitted")

    monkeypatch.setattr(atomic_write.os, "replace", refuse)
    monkeypatch.setattr(atomic_write.os, "link", no_links)
    with pytest.raises(FileError, match=r"Only print\.pdf of the set changed in .*; cut-1\.svg as before: Input"):
        write_set(folder, NEW, replace=True)
    assert held(folder) == OLD | {"print.pdf": b"new print"}


def test_links_are_followed_and_one_that_leads_nowhere_is_left(folder, tmp_path_factory):
    far = tmp_path_factory.mktemp("far")
    (far / "real.pdf").write_bytes(b"old")
    (folder / "print.pdf").unlink()
    (folder / "print.pdf").symlink_to(far / "real.pdf")
    write_set(folder, NEW, replace=True)
    assert (folder / "print.pdf").is_symlink()
    assert (far / "real.pdf").read_bytes() == b"new print"
    assert [path.name for path in far.iterdir()] == ["real.pdf"]
    (folder / "lost.pdf").symlink_to(far / "none.pdf")
    with pytest.raises(FileError, match=r"already holds lost\.pdf"):
        write_set(folder, {"lost.pdf": b"x"}, replace=False)
    with pytest.raises(FileError, match=r"lost\.pdf is a link that leads nowhere"):
        write_set(folder, {"lost.pdf": b"x"}, replace=True)
    assert (folder / "lost.pdf").is_symlink()


def test_new_folders_are_flushed_in_their_parents(tmp_path, monkeypatch):
    flushed = []
    monkeypatch.setattr(atomic_write, "_flush_folder", flushed.append)
    write_set(tmp_path / "one" / "two", {"a.txt": b"new"}, replace=False)
    assert flushed == [tmp_path, tmp_path / "one", tmp_path / "one" / "two"]


def test_what_a_killed_writing_left_is_swept_and_strange_markers_do_nothing(folder):
    old, fresh = folder / ".print.pdf.abcd_123.part", folder / ".print.pdf.abcd_124.part"
    for place in (old, fresh):
        place.write_bytes(b"half")
    os.utime(old, (time.time() - 7200,) * 2)
    evil = '{"written": [["../../a", "b"]], "removed": ["/etc/hostname"], "kept": []}'
    (folder / MARKER).write_text(evil)
    assert unfinished(folder) == []
    (folder / MARKER).unlink()
    write_set(folder, {"a.txt": b"new"}, replace=True)
    assert not old.exists()
    assert fresh.exists()


def test_a_name_that_is_too_long_is_one_line(tmp_path):
    with pytest.raises(FileError, match="the name is too long"):
        write_set(tmp_path, {"n" * 300: b""}, replace=True)


@pytest.fixture
def order(monkeypatch):
    """What was flushed and renamed, in order; a file by its name as it was when it was flushed."""
    found = []
    real = {name: getattr(os, name) for name in ("fsync", "replace")}

    def flushed(handle):
        found.append(("fsync", os.path.basename(os.readlink(f"/proc/self/fd/{handle}"))))
        real["fsync"](handle)

    monkeypatch.setattr(os, "fsync", flushed)

    def renamed(staged, place):
        found.append(("replace", os.path.basename(place)))
        real["replace"](staged, place)

    monkeypatch.setattr(os, "replace", renamed)
    return found


def test_a_file_is_on_the_disk_before_it_takes_its_name_and_the_folder_after(tmp_path, order):
    """A power cut would leave a name without its contents (fsync(2); the order of rename and data is not kept)."""
    write_set(tmp_path, {"a.txt": b"new"}, replace=True)
    staged, renamed, folder = order
    assert staged[0] == "fsync"
    assert staged[1].startswith(".a.txt.")
    assert renamed == ("replace", "a.txt")
    assert folder == ("fsync", tmp_path.name)


def test_a_marker_is_on_the_disk_before_any_file_of_its_set_takes_its_name(folder, order):
    write_set(folder, NEW, replace=True)
    first = next(n for n, (act, _) in enumerate(order) if act == "replace")
    flushed = [name for act, name in order[:first]]
    assert MARKER in flushed
    assert folder.name in flushed[flushed.index(MARKER) :]  # and so is its name
    assert sum(name.endswith(".part") for name in flushed) == len(NEW)
