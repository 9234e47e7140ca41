"""What a user names is read whole, or refused at once: pipes, devices, sparse giants, files that change."""

import json
import os
import time
import zipfile
from dataclasses import replace
from pathlib import Path

import msgspec
import pytest

from honest_edge.app.edits.open_art import demo_project
from honest_edge.core.values.errors import ArtError, FileError, HonestEdgeError, UsageError
from honest_edge.core.values.job import MOST_DESIGNS, Job
from honest_edge.core.values.layouts import Pin, PlacedCopy
from honest_edge.core.values.specs import MOST_COPIES
from honest_edge.files import read_input as reading
from honest_edge.files.profiles import load_profile, parse_profile
from honest_edge.files.project import load_project, parse_project, project_bytes
from honest_edge.files.read_cut import read_cut
from honest_edge.files.read_input import read_input, read_picture
from honest_edge.files.read_table import read_table

READERS = {
    "picture": read_picture,
    "job": load_project,
    "profile": load_profile,
    "cut": lambda path: read_cut(path, 100.0),
}


@pytest.fixture(params=sorted(READERS))
def reader(request):
    return READERS[request.param]


@pytest.mark.parametrize("kind", ["pipe", "device", "sparse", "folder", "gone", "endless name"])
def test_what_is_no_file_of_a_known_size_is_refused_at_once(tmp_path, reader, kind):
    path = tmp_path / "a.svg"
    if kind == "pipe":
        os.mkfifo(path)
    elif kind == "device":
        path.symlink_to("/dev/zero")
    elif kind == "sparse":
        with path.open("wb") as out:
            out.truncate(20_000_000_000)
    elif kind == "folder":
        path.mkdir()
    elif kind == "endless name":
        path = tmp_path / ("a" * 5000 + ".svg")
    began = time.process_time()
    words = {
        "pipe": "is a pipe or a device",
        "device": "is a pipe or a device",
        "sparse": r"has 20\.0 GB, more than",
        "folder": "is a folder",
        "gone": "does not exist",
        "endless name": "File name too long",
    }[kind]
    with pytest.raises(HonestEdgeError, match=words):
        reader(path)
    assert time.process_time() - began < 5


def test_a_file_that_is_being_written_is_not_read_half(tmp_path, monkeypatch):
    path = tmp_path / "a.svg"
    path.write_bytes(b"<svg/>")
    real = os.read

    def grows(handle, size):
        data = real(handle, size)
        with path.open("ab") as more:
            more.write(b"<!-- -->")
        return data

    monkeypatch.setattr(reading.os, "read", grows)
    with pytest.raises(ArtError, match="is being written by another program"):
        read_picture(path)


def test_a_link_to_a_file_is_read(tmp_path):
    (tmp_path / "real").write_bytes(b"abc")
    (tmp_path / "link").symlink_to(tmp_path / "real")
    assert read_input(tmp_path / "link", 10) == b"abc"


def archive(job_text, **entries):
    import io

    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        made.writestr(zipfile.ZipInfo("mimetype"), "application/vnd.honest-edge.job+zip")
        made.writestr("job.json", job_text)
        for name, data in entries.items():
            made.writestr(f"assets/{name}", data)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (archive('{"version": 5, "job": {}}', **{"0" * 64: b"\0" * 200_000_000}), "would unpack to 200 MB, more than"),
        (archive(b" " * 52_000_000), "more than the"),
        (archive('{"version": 5, "job": {"sheet": 7}}'), "sheet"),
        (archive('{"version": 3, "job": {"sheet": 7}}'), "cannot be read"),
        (archive('{"version": 1, "job": {"designs": 7}}'), "cannot be read"),
        (archive('{"version": 1, "job": {"designs": [7]}}'), "cannot be read"),
        (archive('{"version": 5, "job": 7}'), "cannot be read"),
        (archive("[" * 100_000), "cannot be read|no whole"),
        (
            archive('{"version": 5, "job": {"layout": ' + json.dumps([[]] * (MOST_COPIES + 1)) + "}}"),
            "sheets of a kept",
        ),
    ],
    ids=["bomb", "long job", "number", "old number", "designs", "design", "job", "deep", "sheets"],
)
def test_a_job_that_bursts_or_is_of_foreign_types_is_one_line(data, words):
    with pytest.raises(FileError, match=words) as told:
        parse_project(data, "a.hedge")
    assert "\n" not in str(told.value)


def test_an_entry_that_lies_about_its_size_is_not_unpacked_further():
    """The directory says 100 bytes; 300 MB come out of it."""
    data = bytearray(archive(b" " * 300_000_000))
    sizes = (300_000_000).to_bytes(4, "little")
    while (at := data.find(sizes)) >= 0:
        data[at : at + 4] = (100).to_bytes(4, "little")
    with pytest.raises(FileError):
        parse_project(bytes(data), "a.hedge")


def test_counts_of_a_job_are_bounded_and_said():
    demo = demo_project().job
    design = demo.designs[0]
    with pytest.raises(UsageError, match=f"designs of a job must be 0 to {MOST_DESIGNS}"):
        Job(designs=tuple(replace(design, key=f"k{n}") for n in range(MOST_DESIGNS + 1)))
    pin = Pin(page=0, copy=PlacedCopy(design="d", turn_deg=0, x_mm=0, y_mm=0))
    with pytest.raises(UsageError, match="copies placed by hand"):
        Job(pins=(pin,) * (MOST_COPIES + 1))
    assert parse_project(project_bytes(demo, demo_project().assets), "a.hedge").job == demo


def test_a_line_end_of_unicode_in_a_header_is_no_line_end():
    table = read_table("name, of the\u2028tea;price;kept\nMint;3;4\n".encode(), "t.csv")
    assert table.columns == ("name, of the\u2028tea", "price", "kept")


def test_keys_with_many_dots_are_refused_before_they_cost_anything():
    dotted = ("kind = 'stock'\n" + ".".join("a" * 40_000) + " = 1\n").encode()
    with pytest.raises(FileError, match="is no profile: it has"):
        parse_profile(dotted, "p.toml")
    began = time.process_time()
    with pytest.raises(FileError):
        parse_profile(("kind = 'stock'\n" + ".".join("a" * 30_000) + " = 1\n").encode(), "p.toml")
    assert time.process_time() - began < 10


def test_what_a_message_quotes_is_escaped_and_cut():
    evil = "x\n\u202egnp.exe\x1b[31m" + "y" * 5000
    said = str(ArtError(f"“{evil}” cannot be read"))
    assert len(said) <= 600
    assert not {"\n", "\u202e", "\x1b"} & set(said)
    assert msgspec.json.encode(str(ArtError("\udcff"))) == '"�"'.encode()
    assert str(FileError("👩\u200d🎨 stays")) == "👩\u200d🎨 stays"
    with pytest.raises(FileError, match=r"“a{39}…a{20}” is unknown"):
        parse_profile(f"kind = 'stock'\n{'a' * 3000} = 1\n".encode(), "p.toml")


def test_a_path_that_is_no_utf_8_is_read_and_said(tmp_path):
    path = Path(os.fsdecode(os.fsencode(tmp_path) + b"/b\xff.png"))
    with pytest.raises(ArtError, match="does not exist"):
        read_picture(path)
    path.write_bytes(b"abc")
    assert read_picture(path) == b"abc"
