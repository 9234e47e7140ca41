"""The command ``bench``, and ``--bench measured`` where a forecast or files are made."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest
from PIL import Image

from honest_edge import cli
from honest_edge.app.bench.practice import practised
from honest_edge.app.bench.sticker_sheets import planned_sheet
from honest_edge.app.edits.open_art import demo_project
from honest_edge.app.output.composed_sheets import composed_sheets
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.measure.combs import comb_places
from honest_edge.core.measure.sheet_error import displaced
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.measured import ErrorParts
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.files.book.place import VARIABLE
from honest_edge.files.book.records import MEASURED
from honest_edge.files.book.store import Book
from honest_edge.files.profiles import profile_bytes
from honest_edge.files.project import save_project
from honest_edge.simulator.camera import scan, weeded_sheet
from pictures import disc_png

A5 = SheetSpec(paper="a5")


@pytest.fixture(autouse=True)
def book(tmp_path, monkeypatch):
    path = tmp_path / "shop" / "book.sqlite"
    monkeypatch.setenv(VARIABLE, str(path))
    return path


def saved(folder, seed=1, key="TESTKEY2", **how):
    names = []
    for scan_, name in zip(practised(A5, key, seed, **how), ("one.png", "turned.png"), strict=True):
        Image.fromarray(scan_.grey).save(folder / f"{seed}-{name}", dpi=(200, 200))
        names.append(str(folder / f"{seed}-{name}"))
    return names


def run(*arguments):
    return cli.main(["bench", *map(str, arguments)])


def test_a_target_is_a_print_a_cut_and_its_places(tmp_path, capsys):
    assert run("target", "--out", tmp_path / "t", "--paper", "a4", "--sheets", "2") == 0
    told = json.loads((tmp_path / "t" / "target.json").read_text())
    assert len(told["places"]) == 12
    assert told["sheets"] == 2
    assert sorted(path.name for path in (tmp_path / "t").iterdir()) == [
        "cut-1.dxf", "cut-1.svg", "cut-2.dxf", "cut-2.svg", "print.pdf", "target.json",
    ]  # fmt: skip
    assert "Print at 100 %" in capsys.readouterr().out
    assert run("target", "--out", tmp_path / "t", "--paper", "a4") == 2  # nothing is replaced unasked
    assert run("target", "--out", tmp_path / "u", "--paper", "a5", "--places", "30") == 1
    assert "does not fit A5" in capsys.readouterr().err


def test_two_scans_of_a_sheet_are_measured_as_one_and_kept(tmp_path, capsys, book):
    names = saved(tmp_path)
    assert run("measure", *names, "--json", tmp_path / "m.json", "--csv", tmp_path / "m.csv", "--keep") == 0
    told = json.loads((tmp_path / "m.json").read_text())
    (sheet,) = told["sheets"]
    assert sheet["picture"] == "1-one.png and 1-turned.png"
    assert abs(sheet["shift_x_mm"]) < 0.4
    assert {"x_mm", "y_mm", "dx_mm", "dy_mm", "used"} <= set(sheet["places"][0])
    assert set(told["bench"]) == {
        "shift_x_mm", "shift_y_mm", "rotation_deg", "scale_x_percent", "scale_y_percent", "repeat_mm",
    }  # fmt: skip
    assert told["bench"]["shift_x_mm"]["degrees_of_freedom"] == 3
    assert any("nothing about how much sheets differ" in words for words in told["warnings"])
    assert not any("shadow" in words for words in told["warnings"])
    with Book(book) as kept:
        assert [k.record.machine for k in kept.notes(MEASURED)] == ["Desktop cutter"]
    assert (tmp_path / "m.csv").read_text().startswith("sheet,x_mm,y_mm,dx_mm,dy_mm")
    assert run("diagnose", tmp_path / "m.csv", "--json", tmp_path / "d.json") == 0
    causes = json.loads((tmp_path / "d.json").read_text())
    assert sum(cause["probability"] for cause in causes["causes"]) == pytest.approx(1.0)
    assert causes["remedies"]


def test_one_scan_says_that_the_shadow_is_in_it(tmp_path, capsys):
    assert run("measure", saved(tmp_path)[0]) == 0
    assert "turned by half a turn" in capsys.readouterr().err


def test_what_cannot_be_measured_is_said_and_exits_with_1(tmp_path, capsys):
    (tmp_path / "disc.png").write_bytes(disc_png(ppi=300))
    assert run("measure", tmp_path / "disc.png", "--json", tmp_path / "m.json") == 1
    assert "disc.png shows no target of Honest Edge" in capsys.readouterr().err
    assert not (tmp_path / "m.json").exists()


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("photo.heic", b"\x00\x00\x00\x18ftypheic" + b"\x00" * 40, "is a HEIC or AVIF photograph"),
        ("photo.nef", b"II*\x00", "is a camera’s raw file"),
        ("notes.txt", b"hello", "is no picture that can be read"),
    ],
)
def test_kinds_that_are_not_read_say_which_are(name, data, words, tmp_path, capsys):
    (tmp_path / name).write_bytes(data)
    assert run("measure", tmp_path / name) == 2
    assert words in capsys.readouterr().err


def test_a_picture_of_200_megapixels_is_refused_before_it_is_unpacked(tmp_path, capsys):
    Image.new("1", (16_000, 12_600)).save(tmp_path / "huge.png")
    assert run("measure", tmp_path / "huge.png") == 2
    assert "more than 80 million: make it smaller first" in capsys.readouterr().err


def test_readings_are_taken_with_the_target_or_the_paper(tmp_path, capsys):
    places = comb_places(SheetSpec(paper="a4"), 9)
    moved = displaced(ErrorParts(shift_x_mm=0.2, shift_y_mm=-0.1), places.from_middle)
    rows = [
        f"first,{n},{round(2 * x / 0.1) / 2},{round(2 * y / 0.1) / 2}" for n, (x, y) in enumerate(moved.tolist(), 1)
    ]
    (tmp_path / "r.csv").write_text("sheet,place,across,down\n" + "\n".join(rows))
    assert run("read", tmp_path / "r.csv", "--paper", "a4", "--json", tmp_path / "r.json") == 0
    (sheet,) = json.loads((tmp_path / "r.json").read_text())["sheets"]
    assert (sheet["shift_x_mm"], sheet["shift_y_mm"]) == pytest.approx((0.2, -0.1), abs=0.02)
    assert run("target", "--for", "eye", "--paper", "a4", "--out", tmp_path / "eye") == 0
    assert run("read", tmp_path / "r.csv", "--target", tmp_path / "eye" / "target.json", "--keep") == 0
    assert run("target", "--paper", "a4", "--out", tmp_path / "picture") == 0
    assert run("read", tmp_path / "r.csv", "--target", tmp_path / "picture" / "target.json") == 2
    assert "is a target for a picture" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("rows", "code", "words"),
    [
        ("a,1,x,2", 2, "Line 2 of r.csv: “x” is no number of a comb"),
        ("a,1,0.1in,2", 2, "no unit"),
        ("a,one,1,2", 2, "“one” is no number of a place"),
        ("a,1,1,2", 1, "too few to tell shift"),
        ("a,1,1,2\na,1,2,2", 2, "read twice"),
    ],
)
def test_readings_that_tell_nothing_are_refused(rows, code, words, tmp_path, capsys):
    (tmp_path / "r.csv").write_text(f"sheet,place,across,down\n{rows}\n")
    assert run("read", tmp_path / "r.csv", "--paper", "a4") == code
    assert words in capsys.readouterr().err


def test_readings_that_are_all_alike_are_doubted(tmp_path, capsys):
    rows = "\n".join(f"a,{n},0,0" for n in range(1, 10))
    (tmp_path / "r.csv").write_text(f"sheet,place,across,down\n{rows}\n")
    assert run("read", tmp_path / "r.csv", "--paper", "a4") == 0
    assert "every reading is 0" in capsys.readouterr().err


def test_answers_are_diagnosed_too(tmp_path, capsys):
    assert run("diagnose", "--answers", "same=yes,next=yes,wide=yes") == 0
    assert "All of it is shifted" in capsys.readouterr().out
    assert run("diagnose", "--answers", "same=perhaps") == 2
    assert run("diagnose") == 2
    assert "one of them" in capsys.readouterr().err


def test_a_table_that_is_none_says_what_its_first_line_must_be(tmp_path, capsys):
    (tmp_path / "m.csv").write_text("a,b\n1,2\n")
    assert run("diagnose", tmp_path / "m.csv") == 2
    assert "must be sheet,x_mm,y_mm,dx_mm,dy_mm" in capsys.readouterr().err


def test_a_forecast_takes_what_was_measured(tmp_path, capsys):
    (tmp_path / "disc.png").write_bytes(disc_png(ppi=300))
    ask = ["profile", str(tmp_path / "disc.png"), "--cut-width", "30mm", "--school", "bleed", "--bleed", "0.3mm"]
    assert cli.main([*ask, "--bench", "measured"]) == 2
    assert "there is no Book" in capsys.readouterr().err
    for seed in (1, 2, 3):
        assert run("measure", *saved(tmp_path, seed, f"TESTKEY{seed}"), "--keep") == 0
    assert cli.main(ask) == 0
    assumed = capsys.readouterr().out
    assert "assumed, not measured" in assumed
    assert cli.main([*ask, "--bench", "measured"]) == 0
    assert "measured on 3 sheets" in capsys.readouterr().out
    assert cli.main([*ask, "--bench", "measured", "--shift", "0.2mm"]) == 2
    assert "contradict each other" in capsys.readouterr().err
    assert (
        cli.main(
            [
                "prepare",
                str(tmp_path / "disc.png"),
                "--cut-width",
                "30mm",
                "--out",
                str(tmp_path / "o"),
                "--bench",
                "measured",
            ]
        )
        == 0
    )
    assert json.loads((tmp_path / "o" / "report.json").read_text())["measured_sheets"] == 3


def test_a_machine_that_the_book_does_not_know_is_said(tmp_path, capsys):
    (tmp_path / "disc.png").write_bytes(disc_png(ppi=300))
    assert run("measure", *saved(tmp_path), "--keep") == 0
    (tmp_path / "other.toml").write_bytes(profile_bytes(replace(Machine(), name="Another cutter"), ".toml"))
    code = cli.main(
        [
            "profile",
            str(tmp_path / "disc.png"),
            "--cut-width",
            "30mm",
            "--bench",
            "measured",
            "--use",
            str(tmp_path / "other.toml"),
        ]
    )
    assert code == 1
    assert "knows no measurement of Another cutter with Home printer" in capsys.readouterr().err


@pytest.mark.slow
def test_weeded_stickers_of_a_job_are_measured(tmp_path, capsys):
    demo = demo_project()
    wanted = ("Teapot", "Lavender", "Thyme")
    designs = tuple(replace(d, copies=3) for d in demo.job.designs if d.name in wanted)
    job = replace(demo.job, designs=designs, layout=(), pins=())
    save_project(tmp_path / "job.hedge", job, demo.assets)
    sheets = composed_sheets(job, Pipeline(demo.assets))
    planned = planned_sheet(sheets.plan, sheets.results, sheets.print_file(), 0, ErrorParts())
    middles = np.array([sticker.middle_mm for sticker in planned.stickers]) - planned.middle_mm
    true = displaced(ErrorParts(shift_x_mm=0.25, shift_y_mm=-0.15, rotation_deg=0.04), middles)
    rings = [sticker.ring_mm + off for sticker, off in zip(planned.stickers, true, strict=True)]
    size = 2 * planned.middle_mm[0], 2 * planned.middle_mm[1]
    picture = scan(weeded_sheet(size, planned.page, planned.px_per_mm, rings), 250, 3, turn_deg=91.0)
    Image.fromarray(picture).save(tmp_path / "weeded.png")
    ask = ("measure", tmp_path / "weeded.png", "--job", tmp_path / "job.hedge")
    assert run(*ask, "--json", tmp_path / "m.json") == 0
    (sheet,) = json.loads((tmp_path / "m.json").read_text())["sheets"]
    assert (sheet["shift_x_mm"], sheet["shift_y_mm"]) == pytest.approx((0.25, -0.15), abs=0.03)
    assert sheet["rotation_deg"] == pytest.approx(0.04, abs=0.03)
    assert run(*ask, "--sheet", "9") == 1
    (tmp_path / "disc.png").write_bytes(disc_png(ppi=300))
    assert run("measure", tmp_path / "disc.png", "--job", tmp_path / "job.hedge") == 1
    assert "measure a target instead" in capsys.readouterr().err
