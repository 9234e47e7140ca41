"""The commands ``cut`` and ``cutter``: a sheet cut on the stand-in, over a port and a terminal, and what goes wrong."""

import json
import os
import re
import subprocess
import sys
import threading
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from honest_edge import cli
from honest_edge.app.output.prepare_files import prepare
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.sheet.marks import aims_of
from honest_edge.files.atomic_write import write_set
from honest_edge.files.project import save_project
from honest_edge.files.sheet_page import sheet_page
from planted import labels

SOURCE = Path(__file__).parents[1] / "src"


def run(*arguments):
    return cli.main([str(argument) for argument in arguments])


@pytest.fixture(scope="module")
def job():
    made = labels()
    return made.with_design(replace(made.designs[0], copies=6))


@pytest.fixture
def path(job, tmp_path):
    save_project(tmp_path / "job.hedge", job, {})
    return tmp_path / "job.hedge"


def planned(job):
    """The rings of the first sheet, y upward from its bottom left."""
    overview = compute_overview(job, Pipeline({}))
    page = sheet_page(overview.plan, 0, [one.cut for one in overview.laid], job.sheet.machine)
    return [
        np.array([0.0, page.height_mm]) + ring.flattened(0.01) * (1, -1)
        for rings in page.cuts.values()
        for ring in rings
    ]


class Cutter:
    """The command, in a process of its own."""

    def __init__(self, *arguments):
        command = [sys.executable, "-m", "honest_edge", "cutter", "--once", *map(str, arguments)]
        environment = os.environ | {"PYTHONPATH": str(SOURCE)}
        self.process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environment)
        self.way = re.search(r"(tcp|serial):\S+", self.process.stdout.readline())[0]

    def end(self):
        with self.process:
            said = self.process.stdout.read()
        assert self.process.returncode == 0
        return said


def lines_of(svg):
    text = svg.read_text()
    high = float(re.search(r'height="([\d.]+)mm"', text)[1])
    return [
        np.array([[float(x), high - float(y)] for x, y in re.findall(r"([-\d.]+),([-\d.]+)", points)])
        for points in re.findall(r'points="([^"]+)"', text)
    ]


@pytest.mark.parametrize("language", ["hpgl", "gcode"])
def test_a_sheet_is_cut_as_planned_over_a_port(job, path, tmp_path, language, capsys):
    cutter = Cutter("--language", language, "--tcp", 0, "--draw", tmp_path / "cut.svg")
    assert run("cut", path, "--to", cutter.way, "--language", language, "--unaligned", "--yes") == 0
    said = capsys.readouterr().out
    assert "The blade will travel lifted to" in said
    assert ("nothing tells whether they were cut" in said) == (language == "hpgl")
    assert re.search(r"cut \d+ lines, [\d.]+ m, in \d+ s", cutter.end())
    cut, meant = lines_of(tmp_path / "cut.svg"), planned(job)
    assert len(cut) == len(meant)
    for one, plan in zip(cut, meant, strict=True):
        assert np.abs(one[: len(plan)] - plan).max() <= 0.03


def test_a_serial_port_is_spoken_to_as_a_port_is(path, tmp_path):
    cutter = Cutter("--language", "gcode", "--pty", "--draw", tmp_path / "cut.png")
    assert run("cut", path, "--to", cutter.way, "--language", "gcode", "--unaligned", "--yes") == 0
    cutter.end()
    assert (tmp_path / "cut.png").read_bytes().startswith(b"\x89PNG")


def test_what_was_cut_before_the_plug_was_pulled_is_said_and_the_rest_follows(job, path, tmp_path, capsys):
    cutter = Cutter("--language", "gcode", "--tcp", 0, "--draw", tmp_path / "one.svg", "--wrong", "unplugged:2")
    assert run("cut", path, "--to", cutter.way, "--language", "gcode", "--unaligned", "--yes") == 1
    error = capsys.readouterr().err
    assert len(error.splitlines()) == 1
    sure, first = map(int, re.search(r"lines (\d+) w.+--from (\d+),", error).groups())
    assert first == sure + 1
    assert sure <= 2
    cutter.end()
    cutter = Cutter("--language", "gcode", "--tcp", 0, "--draw", tmp_path / "two.svg")
    assert run("cut", path, "--to", cutter.way, "--language", "gcode", "--unaligned", "--yes", "--from", 3) == 0
    cutter.end()
    assert len(lines_of(tmp_path / "one.svg")) + len(lines_of(tmp_path / "two.svg")) == len(planned(job))


def test_a_folder_of_written_files_is_cut_as_the_job_is(job, path, tmp_path):
    write_set(tmp_path / "written", prepare(job, Pipeline({})), replace=True)
    for source, target in ((path, "a.hpgl"), (tmp_path / "written", "b.hpgl")):
        assert run("cut", source, "--to", tmp_path / target, "--language", "hpgl", "--unaligned", "--yes") == 0

    def places(name):
        text = (tmp_path / name).read_text()
        return [
            np.array([[int(x), int(y)] for x, y in re.findall(r"(\d+),(\d+)", part)])
            for part in re.findall(r"PU\d+,\d+;\n(?:PD[\d,]+;\n)+", text)
        ]

    one, other = places("a.hpgl"), places("b.hpgl")
    assert len(one) == len(other)
    for a, b in zip(one, other, strict=True):
        assert np.abs(a.min(0) - b.min(0)).max() <= 1
        assert np.abs(a.max(0) - b.max(0)).max() <= 1


def test_a_sheet_aligned_by_hand_is_cut_where_it_lies(job, path, tmp_path, capsys):
    height = compute_overview(job, Pipeline({})).plan.height_mm
    readings = [{"mark": name, "x_mm": x + 22.0, "y_mm": height - y + 9.0} for name, x, y in aims_of(job.sheet)]
    marks = tmp_path / "marks.json"
    marks.write_text(json.dumps({"readings": readings}))
    target = tmp_path / "cut.hpgl"
    assert run("cut", path, "--to", target, "--language", "hpgl", "--aligned", marks, "--yes") == 0
    assert "will remain" in capsys.readouterr().out
    first = re.search(r"PU(\d+),(\d+);\nPD", target.read_text())
    start = planned(job)[0][0] + (22.0, 9.0)
    assert (int(first[1]), int(first[2])) == pytest.approx(tuple(start * 40), abs=1.01)
    readings[0]["mark"] = "nowhere"
    marks.write_text(json.dumps({"readings": readings}))
    assert run("cut", path, "--to", tmp_path / "x", "--language", "hpgl", "--aligned", marks, "--yes") == 2
    assert "this sheet has top left" in capsys.readouterr().err
    assert not (tmp_path / "x").exists()


def test_nothing_moves_unasked(path, tmp_path, monkeypatch, capsys):
    target = tmp_path / "cut.hpgl"
    monkeypatch.setattr("builtins.input", lambda _question: "n")
    assert run("cut", path, "--to", target, "--language", "hpgl", "--unaligned") == 1
    assert "nothing was moved" in capsys.readouterr().err
    assert run("cut", path, "--to", target, "--language", "hpgl", "--yes") == 1
    assert "not known how the sheet lies" in capsys.readouterr().err
    assert run("cut", path, "--to", target, "--language", "hpgl", "--unaligned", "--yes", "--sheet", 99) == 2
    assert run("cut", path, "--to", target, "--language", "hpgl", "--unaligned", "--yes", "--from", 9999) == 2
    assert run("cut", path, "--to", target, "--language", "hpgl", "--unaligned", "--yes", "--use", "No such") == 2
    assert not target.exists()
    monkeypatch.setattr("builtins.input", lambda _question: "y")
    assert run("cut", path, "--to", target, "--language", "hpgl", "--unaligned") == 0
    assert target.exists()


def test_a_profile_of_one_s_own_says_how_the_blade_is_lifted(path, tmp_path):
    from honest_edge.core.values.machine import DirectUse, Machine
    from honest_edge.files.profiles import profile_bytes

    profile = tmp_path / "servo.toml"
    machine = replace(Machine(), name="Servo", direct=DirectUse(blade="servo", down_s=70))
    profile.write_bytes(profile_bytes(machine, ".toml"))
    target = tmp_path / "cut.gcode"
    assert run("cut", path, "--to", target, "--language", "gcode", "--unaligned", "--yes", "--use", profile) == 0
    text = target.read_text()
    assert "M3 S70" in text
    assert "Z" not in text


def test_a_machine_that_is_silent_ends_in_one_line(path, capsys, monkeypatch):
    monkeypatch.setattr("honest_edge.files.send_cut._SILENT_S", 0.2)
    import socket

    with socket.create_server(("127.0.0.1", 0)) as listening:
        held = []
        threading.Thread(target=lambda: held.append(listening.accept()), daemon=True).start()
        way = f"tcp://127.0.0.1:{listening.getsockname()[1]}"
        assert run("cut", path, "--to", way, "--language", "gcode", "--unaligned", "--yes") == 1
        for visitor, _ in held:
            visitor.close()
    error = capsys.readouterr().err
    assert "has answered nothing" in error
    assert "0 were surely cut" in error


@pytest.mark.parametrize("arguments", [("--wrong", "tired"), ("--wrong", "jam:x"), ("--draw", "x.txt")])
def test_a_stand_in_that_cannot_be_refuses_in_one_line(arguments, capsys):
    assert run("cutter", "--language", "hpgl", "--tcp", 0, *arguments) == 2
    assert len(capsys.readouterr().err.splitlines()) == 1
