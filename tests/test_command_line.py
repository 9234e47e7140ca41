"""Any words on the command line end in an exit code and one line; who is refused has lost nothing.

Combinations by seed, right ones and wrong ones mixed: HONEST_EDGE_COMBINATIONS=530 tries more of them.
"""

import os
import random

import pytest

from honest_edge import cli
from honest_edge.core.values.job import Job
from honest_edge.files.project import save_project
from pictures import disc_png

COMBINATIONS = int(os.environ.get("HONEST_EDGE_COMBINATIONS", "40"))

WRONG_LENGTHS = ("0mm", "-3mm", "1e9mm", "nan", "", "five", "3/0in", "12px")
LENGTHS = ("18mm", "0.7in", "3/4in", "2cm")
COMMANDS = {
    "outline": {
        "--width": (*LENGTHS, *WRONG_LENGTHS), "--svg": ("o.svg", "no/such/o.svg", "."), "--json": ("o.json", "."),
        "--threshold": ("0.5", "2", "x"), "--background": ("alpha", "flood", "odd"), "--page": ("1", "0", "-1", "x"),
        "--units": ("mm", "in", "px"), "--force": (None,),
    },
    "profile": {
        "--width": (*LENGTHS, *WRONG_LENGTHS), "--school": ("bleed", "border", "odd"), "--bleed": ("1mm", "-1mm", "x"),
        "--shift": ("0.3mm", "900mm"), "--rotate": ("0.1deg", "90deg", "x"), "--json": ("p.json", "."),
        "--force": (None,),
    },
    "prepare": {
        "--width": (*LENGTHS, *WRONG_LENGTHS), "--out": ("out", "disc.png", "out/deep"),
        "--copies": ("2", "0", "1e9", "x"),
        "--save": ("job.hedge", "job.png", "."), "--paper": ("a4", "letter", "stone"), "--force": (None,),
        "--leave": ("ppi=small on purpose", "ppi=", "nothing=x"),
    },
    "check": {"--json": ("c.json", "."), "--force": (None,)},
    "cut": {
        "--to": ("cut.txt", ".", "tcp://127.0.0.1:1", "tcp://x", "serial:none", "ftp://x"),
        "--language": ("hpgl", "gcode", "x"),
        "--sheet": ("1", "0", "x"), "--use": ("Roll plotter", "none.toml"), "--aligned": ("text.png", "none.json"),
        "--unaligned": (None,), "--from": ("1", "0", "9999"), "--yes": (None,),
    },
    "plan": {"--good": ("4", "-1", "x"), "--assurance": ("95%", "200%", "x"), "--carriers": ("2", "0", "x")},
    "rehearse": {"--sheets": ("2", "0", "1e9", "x"), "--seed": ("1", "x"), "--json": ("r.json", ".")},
}  # fmt: skip
FILES = {"check": "job.hedge", "cut": "job.hedge", "plan": "job.hedge", "rehearse": "job.hedge"}
ODD = ("disc.png", "none.png", "text.png", ".", "empty.hedge", "odd\udce9.png", "")


@pytest.fixture(scope="module")
def start():
    return disc_png(ppi=300)


@pytest.fixture
def folder(tmp_path, monkeypatch, start):
    (tmp_path / "disc.png").write_bytes(start)
    (tmp_path / os.fsdecode(b"odd\xe9.png")).write_bytes(start)
    (tmp_path / "text.png").write_bytes(b"no picture")
    save_project(tmp_path / "empty.hedge", Job(), {})
    save_project(tmp_path / "job.hedge", Job(title="before"), {})
    (tmp_path / "out").mkdir()
    (tmp_path / "out" / "print.pdf").write_bytes(b"before")
    monkeypatch.chdir(tmp_path)
    monkeypatch.setenv("HONEST_EDGE_BOOK", str(tmp_path / "book" / "book.sqlite"))
    return tmp_path


def words(chance):
    """A command with some of its options: one in three of the files and values is wrong on purpose."""
    command = chance.choice(tuple(COMMANDS))
    right = FILES.get(command, "disc.png")
    typed = [command, right if chance.random() < 0.7 else chance.choice(ODD)]
    for option, values in COMMANDS[command].items():
        if chance.random() < (0.85 if option in ("--width", "--out", "--leave") else 0.3):
            value = values[0] if chance.random() < 0.7 else chance.choice(values)
            typed += [option] if value is None else [option, value]
    return typed


def held(folder):
    files = (path for path in sorted(folder.rglob("*")) if path.is_file() and "book" not in path.parts)
    return {path: path.read_bytes() for path in files}


@pytest.mark.parametrize("part", range(4))
def test_whatever_is_typed_ends_in_one_line_and_loses_nothing(folder, capsys, part):
    chance = random.Random(part)
    codes = set()
    for _ in range(-(-COMBINATIONS // 4)):
        typed, before = words(chance), held(folder)
        code = cli.main(typed)
        said = capsys.readouterr().err
        codes.add(code)
        assert code in (0, 1, 2), typed
        assert "Traceback" not in said, (typed, said)
        if code and not (typed[0] == "check" and code == 1):  # which says what it found, and writes it
            lines = [line for line in said.splitlines() if line.startswith("honest-edge: ")]
            assert lines, (typed, said)
            assert held(folder) == before, typed
    assert {0, 2} <= codes


def test_where_the_job_cannot_be_saved_nothing_is_replaced(folder, capsys):
    arguments = ["prepare", "disc.png", "--width", "18mm", "--out", "out", "--force", "--leave", "ppi=small"]
    for place in ("job.png", "."):
        assert cli.main([*arguments, "--save", place]) == 2
        assert (folder / "out" / "print.pdf").read_bytes() == b"before"
    assert "is no job: end it in .hedge" in capsys.readouterr().err


@pytest.mark.parametrize("typed", [("outline", "--width", "18mm"), ("bench measure",), ("profile", "--width", "18mm")])
def test_a_name_that_is_no_utf_8_is_read_as_any_other(folder, capsys, typed):
    command, *options = typed
    code = cli.main([*command.split(), "odd\udce9.png", *options])
    assert code == (1 if command == "bench measure" else 0), capsys.readouterr().err
