"""The command line: what it writes, what it says, how it ends."""

import hashlib
import io
import json
import math
import os
import re
import subprocess
import sys
from dataclasses import replace

import cv2
import numpy as np
import pypdfium2
import pytest
import svgelements
from PIL import Image

from bad_art import kinds_of_bad_art
from drawings import pdf
from honest_edge import cli
from honest_edge.app.edits.open_art import demo_project
from honest_edge.core.outline import trace
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.stock import Stock
from honest_edge.files import atomic_write
from honest_edge.files.atomic_write import MARKER
from honest_edge.files.profiles import save_profile
from honest_edge.files.project import save_project
from honest_edge.files.report import leftovers
from pictures import coverage, disc, disc_png, on_background, png, rgba, star

pytestmark = pytest.mark.slow


@pytest.fixture
def art(tmp_path):
    path = tmp_path / "disc.png"
    path.write_bytes(disc_png())
    return path


SOFT = ("--leave", "ppi=small on purpose")
"""The pictures here are small, so that the tests are quick."""


def run(*arguments):
    return cli.main([str(argument) for argument in arguments])


def test_outline_writes_the_ring_in_the_arts_own_frame(art, tmp_path, capsys):
    svg, numbers = tmp_path / "o.svg", tmp_path / "o.json"
    assert run("outline", art, "--width", "48mm", "--svg", svg, "--json", numbers) == 0
    text = svg.read_text()
    assert 'width="48mm" height="48mm" viewBox="0 0 48 48"' in text
    assert text.count("<path") == 1
    document = svgelements.SVG.parse(io.BytesIO(svg.read_bytes()), ppi=25.4)
    (path,) = document.select(lambda e: isinstance(e, svgelements.Path))
    points = np.array([(p.x, p.y) for p in (path.point(t) for t in np.linspace(0, 1, 300))])
    assert np.abs(np.hypot(*(points - 24).T) - 20).max() <= 0.03
    found = json.loads(numbers.read_text())
    assert (found["parts"], found["holes"], found["background"]) == (1, 0, "alpha")
    assert found["ppi"] == pytest.approx(240 / (48 / 25.4))
    assert found["greatest_deviation_mm"] <= 0.35 * 48 / 240
    assert "art 40.0 mm × 40.0 mm in a picture of 48.0 mm × 48.0 mm at 127 ppi" in capsys.readouterr().out
    assert run("outline", art, "--art-width", "48mm", "--json", numbers, "--force") == 0
    assert json.loads(numbers.read_text())["width_mm"] == pytest.approx(48 * 240 / 200, rel=1e-3)


def test_prepare_writes_a_whole_set_and_says_what(art, tmp_path, capsys):
    out = tmp_path / "out"
    arguments = (
        "prepare",
        art,
        "--width",
        "2in",
        "--school",
        "bleed",
        "--copies",
        3,
        "--out",
        out,
        "--units",
        "in",
        *SOFT,
    )
    assert run(*arguments) == 0
    assert sorted(p.name for p in out.iterdir()) == ["cut-1.dxf", "cut-1.svg", "print.pdf", "report.json", "ticket.pdf"]
    said = capsys.readouterr().out
    assert "3 of 1.67 in × 1.67 in as cut, art 1.67 in × 1.67 in at 120 ppi" in said
    assert "will look soft" in said
    assert run(*arguments) == 2
    assert "already holds print.pdf" in capsys.readouterr().err
    assert run(*arguments, "--force") == 0


def test_each_way_to_say_how_large_gives_what_it_says(art, tmp_path):
    for option, cut_mm in (("--cut-width", 50), ("--art-width", 54), ("--width", 50 * 200 / 240 + 4)):
        assert run("prepare", art, option, "50mm", "--out", tmp_path / option, *SOFT) == 0
        report = json.loads((tmp_path / option / "report.json").read_text())
        (design,) = report["designs"]
        assert design["cut_width_mm"] == pytest.approx(cut_mm, abs=0.02), option
        assert design["art_width_mm"] == pytest.approx(cut_mm - 4, abs=0.02), option
    assert run("profile", art, "--cut-width", "3mm") == 2  # the border alone is wider


def test_every_option_of_the_edge_reaches_the_report(art, tmp_path):
    out = tmp_path / "out"
    options = ["--school", "border", "--offset", "1/8in", "--bleed", "1mm", "--corners", "mitre", "--cut", "through"]
    more = ["--paper", "a4", "--gap", "4mm", "--mark-inset", "15mm", "--rim", "6mm", "--drift", "0.3mm"]
    assert run("prepare", art, "--width", "30mm", *options, *more, "--out", out) == 0
    report = json.loads((out / "report.json").read_text())
    (design,) = report["designs"]
    assert design["school"] == "border"
    assert design["corners"] == "mitre"
    assert design["line_kind"] == "through"
    assert (design["offset_mm"], design["bleed_mm"]) == (3.175, 1.0)
    assert (report["paper"], report["gap_mm"], report["assumed_drift_mm"]) == ("a4", 4.0, 0.3)
    assert report["usable_mm"][0] == 15
    sides = ["--margins", "20mm,21mm,22mm,1 in", "--rim", "3mm,4mm,5mm,6mm", "--mark-inset", "6mm"]
    assert run("prepare", art, "--width", "30mm", *sides, "--out", tmp_path / "sides") == 0
    usable = json.loads((tmp_path / "sides" / "report.json").read_text())["usable_mm"]
    assert usable == pytest.approx([25.4, 20, 215.9 - 21, 279.4 - 22], abs=0.01)
    assert run("prepare", art, "--width", "30mm", "--margins", "1,2", "--out", tmp_path / "two") == 2


def test_bad_art_gives_one_line_and_leaves_nothing(tmp_path, capsys):
    for name, code, words in kinds_of_bad_art(tmp_path):
        for command in ("outline", "prepare"):
            out = ["--out", tmp_path / "out"] if command == "prepare" else ["--svg", tmp_path / "out" / "o.svg"]
            assert run(command, tmp_path / name, "--width", "50mm", *out) == code, name
            said = capsys.readouterr()
            assert words in said.err, name
            assert said.err.count("\n") == 1, name
            assert not (tmp_path / "out").exists(), name


def usual_art_of_every_kind(folder):
    picture = Image.fromarray(on_background(coverage(disc(70, 100, 100), 200, 200), (200, 60, 30), (255, 255, 255)))
    for mode in ("1", "L", "P", "CMYK"):
        path = folder / f"{mode}.tif"
        picture.convert(mode).save(path)
        yield path
    deep = np.where(np.asarray(picture.convert("L")) > 128, 65535, 9000).astype(np.uint16)
    Image.fromarray(deep).save(folder / "deep.png")
    yield folder / "deep.png"
    frames = [picture, picture.rotate(20)]
    frames[0].save(folder / "moving.webp", save_all=True, append_images=frames[1:])
    yield folder / "moving.webp"
    picture.save(folder / "wrong.jpg", "PNG")
    yield folder / "wrong.jpg"


def test_unusual_art_is_prepared(tmp_path):
    for number, path in enumerate(usual_art_of_every_kind(tmp_path)):
        out = tmp_path / f"out{number}"
        left = (*SOFT, "--leave", "crossing=dithered to black and white, its edge is a pattern of dots")
        assert run("prepare", path, "--width", "40mm", "--school", "bleed", "--out", out, *left) == 0, path.name
        (design,) = json.loads((out / "report.json").read_text())["designs"]
        near = 0.03 if path.name == "1.tif" else 0.02  # dithered to black and white, its edge is a pattern of dots
        assert design["art_area_mm2"] == pytest.approx(np.pi * 14**2, rel=near), path.name


@pytest.mark.parametrize(
    ("options", "code", "words"),
    [
        (["--width", "0mm"], 2, "width must be 1 to 2000 mm, not 0"),
        (["--width", "5m"], 2, "not 5000"),
        (["--width", "60"], 2, "has no unit"),
        (["--width", "sixty"], 2, "is no length"),
        (["--width", "400mm"], 1, "make it smaller"),
        (["--width", "40mm", "--copies", "0"], 2, "copies must be 1 to 10000, not 0"),
        (["--width", "40mm", "--copies", "10001"], 2, "copies must be 1 to 10000, not 10001"),
        (["--width", "40mm", "--copies", "many"], 2, "invalid int value"),
        (["--width", "40mm", "--offset=-1mm"], 2, "offset must be"),
        (["--width", "40mm", "--bleed", "80mm"], 2, "bleed must be 0 to 50 mm, not 80"),
        (["--width", "40mm", "--school", "inside", "--offset", "30mm"], 1, "leaves nothing to cut"),
        (["--width", "40mm", "--school", "sideways"], 2, "invalid choice"),
        (["--width", "40mm", "--mark-inset", "2mm"], 1, "printer cannot print"),
        (["--width", "40mm", "--mark-length", "200mm"], 2, "mark length must be"),
        (["--width", "40mm", "--background", "flood"], 0, ""),
        ([], 2, "--cut-width --art-width --width is required"),
    ],
)
def test_bad_choices_give_one_line(art, tmp_path, capsys, options, code, words):
    assert run("prepare", art, *options, "--out", tmp_path / "out") == code
    said = capsys.readouterr()
    assert words in said.err
    assert said.err.count("\n") == (code != 0)
    assert (tmp_path / "out").exists() == (code == 0)


def test_a_full_disk_leaves_nothing_half_written(art, tmp_path, capsys, monkeypatch):
    def full(_handle):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(atomic_write.os, "fsync", full)
    assert run("prepare", art, "--width", "40mm", "--out", tmp_path / "out") == 2
    assert "the disk is full" in capsys.readouterr().err
    assert not list((tmp_path / "out").iterdir())


def report_of(folder):
    return json.loads((folder / "report.json").read_text())


def test_profiles_papers_and_marks_are_chosen_by_options(art, tmp_path):
    plotter = replace(Machine(), name="Plotter", formats=("plt",), marks=MarkSpec(kind="four discs", length_mm=6))
    save_profile(tmp_path / "plotter.toml", plotter)
    save_profile(tmp_path / "foil.json", Stock(name="Foil", rgb=(190, 190, 200), price=2.5))
    out = tmp_path / "out"
    used = ("--use", tmp_path / "plotter.toml", "--use", tmp_path / "foil.json", "--mark-length", "8mm")
    assert run("prepare", art, "--width", "40mm", "--paper", "a5", "--landscape", *used, "--out", out) == 0
    report = report_of(out)
    assert (report["paper_width_mm"], report["paper_height_mm"]) == (210, 148)
    assert report["sheets"][0]["cut_files"] == ["cut-1.plt"]
    # four discs of 8 mm, 12 mm from the edges: their outer sides bound what is usable
    assert report["usable_mm"] == [12, 12, 198, 136]
    print_file = pypdfium2.PdfDocument((out / "print.pdf").read_bytes())[0]
    page = np.asarray(print_file.render(scale=300 / 72).to_pil().convert("L"))
    px = 300 / 25.4
    assert page[round(16 * px), round(16 * px)] < 60  # the middle of the first disc
    assert page[round(16 * px), round(20.5 * px)] > 200  # past its rim
    squares = tmp_path / "squares"
    assert run("prepare", art, "--width", "40mm", "--marks", "four-squares", "--out", squares) == 0
    assert report_of(squares)["sheets"][0]["cut_files"] == ["cut-1.svg", "cut-1.dxf"]


def test_a_profile_that_cannot_be_read_is_said_in_one_line(art, tmp_path, capsys):
    (tmp_path / "bad.toml").write_text('kind = "machine"\nspeed = 3\n')
    assert run("prepare", art, "--width", "40mm", "--use", tmp_path / "bad.toml", "--out", tmp_path / "out") == 2
    said = capsys.readouterr().err
    assert "bad.toml: “speed” is unknown" in said
    assert said.count("\n") == 1
    assert not (tmp_path / "out").exists()


def test_a_longer_look_never_needs_more_sheets(tmp_path):
    star_file = tmp_path / "star.png"
    star_file.write_bytes(png(rgba(coverage(star(190, 40) + 200, 400, 400)), dpi=(170, 170)))
    sheets = []
    for name, more in (("quick", ()), ("long", ("--better", "4"))):
        out = tmp_path / name
        asked = ("--width", "60mm", "--paper", "a5", "--copies", "9", "--turning", "free", *more)
        assert run("prepare", star_file, *asked, "--out", out) == 0
        report = report_of(out)
        assert sum(len(sheet["placements"]) for sheet in report["sheets"]) == 9
        sheets.append((len(report["sheets"]), -report["sheets"][0]["filled"]))
    assert sheets[1] <= sheets[0]
    assert run("prepare", star_file, "--width", "60mm", "--better", "0", "--out", tmp_path / "none") == 2


def test_a_page_aslant_and_lines_that_mean_a_cut_are_taken_as_they_are_meant(tmp_path, capsys):
    photo = np.full((400, 500, 3), 60, np.uint8)
    cv2.fillPoly(photo, [np.array([(120, 60), (400, 90), (430, 350), (80, 330)])], (236, 236, 232))
    cv2.circle(photo, (250, 210), 60, (40, 60, 120), 8)
    page = tmp_path / "page.png"
    page.write_bytes(png(photo))
    upright = ("outline", page, "--width", "60mm", "--drawn-on", "white", "--page-corners")
    for typed in ("auto", "120,60 400,90 430,350 80,330"):
        assert run(*upright, typed) == 0
        assert "1 part" in capsys.readouterr().out
    assert run(*upright, "1,2") == 2
    assert "--page-corners takes auto, or four places" in capsys.readouterr().err
    page.write_bytes(png(np.full((90, 90, 3), 250, np.uint8)))
    assert run(*upright, "auto") == 1
    assert "No page that lies aslant" in capsys.readouterr().err
    line = '<rect x="5" y="5" width="50" height="30" fill="none" stroke="magenta" stroke-width=".1"/>'
    head = '<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="40mm" viewBox="0 0 60 40">'
    (tmp_path / "cut.svg").write_text(f'{head}<circle cx="30" cy="20" r="12" fill="#286"/>{line}</svg>')
    prepare = ("prepare", tmp_path / "cut.svg", "--width", "60mm", "--school", "bleed", "--copies", "1", "--out")
    assert run(*prepare, tmp_path / "as-it-is") == 1
    assert "lines that mean a cut" in capsys.readouterr().err
    for asked, wide_mm in (("out", 24), ("follow", 50)):
        assert run(*prepare, tmp_path / asked, "--cut-lines", asked, *SOFT) == 0
        said = re.search(r"Cut: 1 of ([\d.]+) mm", capsys.readouterr().out)
        assert float(said[1]) == pytest.approx(wide_mm, abs=0.11)


def test_lines_that_are_left_out_of_a_pdf_are_left_out_of_its_print(tmp_path):
    """A page is printed as it is, as vectors, unless something of it is left out."""
    (tmp_path / "page.pdf").write_bytes(pdf(content=b"0 0.5 0.3 rg 30 20 80 30 re f 1 0 1 RG 0.2 w 10 10 120 50 re S"))
    for asked, leave in (("print", ("--leave", "cut lines=ink")), ("out", ())):
        out = tmp_path / asked
        more = ("--width", "60mm", "--background", "none", "--copies", "1", "--cut-lines", asked, *leave, *SOFT)
        assert run("prepare", tmp_path / "page.pdf", *more, "--out", out) == 0
        page = pypdfium2.PdfDocument(out / "print.pdf")[0].render(scale=300 / 72).to_numpy()[..., :3].astype(int)
        magenta = (page[..., 0] > 150) & (page[..., 2] > 150) & (page[..., 1] < 120)
        assert bool(magenta.sum() > 200) == (asked == "print")


def test_copies_stand_in_rows_unless_tight_is_asked(art, tmp_path):
    laid = {}
    for name in ("tidy", "tight"):
        out = tmp_path / name
        assert run("prepare", art, "--width", "40mm", "--copies", "8", "--arrangement", name, "--out", out, *SOFT) == 0
        laid[name] = [one for sheet in report_of(out)["sheets"] for one in sheet["placements"]]
    assert len(laid["tidy"]) == len(laid["tight"]) == 8
    assert len({round(one["y_mm"], 3) for one in laid["tidy"]}) == 2
    assert laid["tight"] != laid["tidy"]


def test_files_of_an_earlier_writing_go_with_it_unless_they_were_changed(art, tmp_path, capsys):
    out = tmp_path / "out"
    assert run("prepare", art, "--width", "60mm", "--copies", "40", "--out", out, *SOFT) == 0
    before = {path.name for path in out.iterdir()}
    assert {"cut-3.svg", "cut-4.svg"} <= before
    kept = (out / "cut-4.svg").read_bytes()[:-2] + b"\n\n"  # of the size that was written
    (out / "cut-4.svg").write_bytes(kept)
    (out / "notes.txt").write_text("mine")
    assert run("prepare", art, "--width", "40mm", "--copies", "4", "--out", out, "--force", *SOFT) == 0
    left = {path.name for path in out.iterdir()}
    assert left == {"print.pdf", "cut-1.svg", "cut-1.dxf", "ticket.pdf", "report.json", "cut-4.svg", "notes.txt"}
    assert (out / "cut-4.svg").read_bytes() == kept
    assert "taken away, no part of it any more: cut-2.svg" in capsys.readouterr().out


def test_a_report_that_names_files_elsewhere_takes_nothing_away(tmp_path):
    (tmp_path / "out").mkdir()
    (tmp_path / "mine.txt").write_bytes(b"mine")
    digest = hashlib.sha256(b"mine").hexdigest()
    listed = {"files": [{"name": "../mine.txt", "bytes": 4, "sha256": digest}]}
    (tmp_path / "out" / "report.json").write_text(json.dumps(listed))
    assert leftovers(tmp_path / "out", ()) == []
    (tmp_path / "out" / "report.json").write_text("no report")
    assert leftovers(tmp_path / "out", ()) == []


def test_a_folder_in_the_way_of_a_file_is_named_and_nothing_is_written(art, tmp_path, capsys):
    (tmp_path / "out" / "print.pdf").mkdir(parents=True)
    assert run("prepare", art, "--width", "40mm", "--out", tmp_path / "out", "--force") == 2
    assert "print.pdf is a folder there" in capsys.readouterr().err
    assert [path.name for path in (tmp_path / "out").iterdir()] == ["print.pdf"]


def test_a_file_open_elsewhere_is_replaced_and_its_reader_keeps_what_it_reads(art, tmp_path):
    assert run("prepare", art, "--width", "40mm", "--out", tmp_path / "out", *SOFT) == 0
    with open(tmp_path / "out" / "print.pdf", "rb") as reader:
        begun = reader.read(100)
        assert run("prepare", art, "--width", "50mm", "--out", tmp_path / "out", "--force", *SOFT) == 0
        old = begun + reader.read()
    assert old.rstrip().endswith(b"%%EOF")
    assert (tmp_path / "out" / "print.pdf").read_bytes() != old


@pytest.mark.skipif(os.geteuid() != 0, reason="drops root’s rights to meet a folder it may not write")
def test_a_folder_that_may_not_be_written_is_said(art, tmp_path):
    closed = tmp_path / "closed"
    closed.mkdir(mode=0o555)
    for folder in (tmp_path, *tmp_path.parents):
        if folder.name.startswith(("pytest", "popen", "test_")):
            folder.chmod(0o755)
    # everything is imported before the rights go: the interpreter itself may lie in root's home
    script = (
        "import os\n"
        "import honest_edge.app.edits.open_art, honest_edge.app.output.prepare_files, ezdxf, PIL.PngImagePlugin\n"
        "from honest_edge import cli\n"
        f"cli.main(['prepare', {str(art)!r}, '--width', '40mm', '--out', {str(tmp_path / 'open')!r}])\n"
        f"os.chmod({str(tmp_path)!r}, 0o777)\n"
        "os.seteuid(65534)\n"
        f"print(cli.main(['prepare', {str(art)!r}, '--width', '40mm', '--out', {str(closed / 'out')!r}]))\n"
        "os.seteuid(0)\n"
        f"os.chmod({str(art)!r}, 0)\n"
        "os.seteuid(65534)\n"
        f"print(cli.main(['outline', {str(art)!r}, '--width', '40mm']))\n"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=False)
    assert done.stdout.split()[-2:] == ["2", "2"], done.stderr
    assert "the folder may not be written" in done.stderr
    assert f"{art} may not be read" in done.stderr


def test_a_lack_of_memory_is_said(art, tmp_path, capsys, monkeypatch):
    def too_much(*_arguments, **_options):
        raise MemoryError

    monkeypatch.setattr(trace.cv2, "GaussianBlur", too_much)
    assert run("prepare", art, "--width", "40mm", "--out", tmp_path / "out") == 2
    assert "not enough memory" in capsys.readouterr().err


@pytest.mark.parametrize("command", ["outline", "prepare", "profile"])
def test_help_reads_like_a_manual_page(command, capsys):
    assert run(command, "--help") == 0
    text = capsys.readouterr().out
    for part in ("usage: honest-edge", "example", "Exit codes: 0 done", "--width", "60mm"):
        assert part in text


# -- profile --------------------------------------------------------------------------------------------


def profiled(art, tmp_path, *options):
    out = tmp_path / "edge.json"
    assert run("profile", art, "--width", "40mm", *options, "--json", out, "--force") == 0
    return json.loads(out.read_text())


@pytest.mark.parametrize(("bleed", "spread"), [(0.3, 0.3), (0.6, 0.3), (1.0, 0.5)])
def test_profile_forecasts_a_disc_by_the_rayleigh_distribution(art, tmp_path, bleed, spread):
    options = (
        "--school",
        "bleed",
        "--offset",
        "0",
        "--bleed",
        f"{bleed}mm",
        "--shift",
        f"{spread}mm",
        "--visible",
        "0",
    )
    found = profiled(art, tmp_path, *options)
    assert found["share_clean"] == pytest.approx(1 - math.exp(-(bleed**2) / (2 * spread**2)), abs=0.01)
    assert 0 <= found["uncertainty"] < 0.03
    assert found["worst_place"]["trouble"] == "white"


def test_profile_takes_the_whole_error_and_the_place(art, tmp_path, capsys):
    near = ("--school", "bleed", "--bleed", "0.4mm", "--shift", "0.1mm", "--rotate", "0.1deg", "--scale", "0.1%")
    share = profiled(art, tmp_path, *near)["share_clean"]
    far = profiled(art, tmp_path, *near, "--at", "120mm,80mm")
    assert far["share_clean"] < share
    assert far["at_mm"] == [120, 80]
    biased = profiled(art, tmp_path, *near, "--bias", "0.3mm,-0.2mm")
    assert biased["share_clean"] < share
    assert far["smallest_changes"]["95%"]["bleed_mm"] > 0.4
    assert far["smallest_changes"]["99%"]["share_clean"] >= 0.99
    assert "% clean" in capsys.readouterr().out


def test_profile_without_an_error_says_what_is_assumed(art, tmp_path, capsys):
    found = profiled(art, tmp_path, "--school", "border", "--offset", "0.5mm")
    assert "assumed, not measured: within 0.5 mm" in capsys.readouterr().out
    assert found["border_nominal_mm"] == 0.5
    assert abs(found["border_narrowest_mm"]) < 0.1  # 19 of 20 keep within 0.5 mm


@pytest.mark.parametrize("school", ["border", "bleed", "inside", "bare"])
@pytest.mark.parametrize("stock", ["white", "clear", "#303030"])
def test_profile_shows_no_number_that_is_none(art, tmp_path, school, stock):
    found = profiled(art, tmp_path, "--school", school, "--stock", stock, "--shift", "0mm")
    assert 0 <= found["share_clean"] <= 1
    assert "NaN" not in json.dumps(found)


@pytest.mark.parametrize(
    ("options", "code", "words"),
    [
        (["--shift", "40mm"], 2, "must be 0 to 20 mm"),
        (["--rotate", "much"], 2, "is no number: write one such as 0.1deg"),
        (["--at", "12mm"], 2, "is no pair of lengths"),
        (["--stock", "mauve"], 2, "is no colour"),
        (["--bleed", "80mm"], 2, "bleed must be 0 to 50"),
        (["--school", "inside", "--offset", "30mm"], 1, "leaves nothing to cut"),
        (["--offset", "3"], 2, "has no unit"),
    ],
)
def test_profile_refuses_in_one_line(art, capsys, options, code, words):
    assert run("profile", art, "--width", "40mm", *options) == code
    said = capsys.readouterr().err
    assert words in said
    assert said.count("\n") == 1


def test_hundreds_of_parts_are_judged_and_none_is_lost(tmp_path):
    pixels = np.zeros((288, 288, 4), np.uint8)  # 15 dots by 15
    for row in range(8, 278, 18):
        for column in range(8, 278, 18):
            pixels[row : row + 9, column : column + 9] = (20, 60, 120, 255)
    path = tmp_path / "dots.png"
    Image.fromarray(pixels).save(path)
    out = tmp_path / "dots.json"
    options = ("--school", "bleed", "--bleed", "0.2mm", "--shift", "0.2mm")
    assert run("profile", path, "--width", "114mm", *options, "--json", out) == 0
    found = json.loads(out.read_text())
    assert 0.3 < found["share_clean"] < 0.9
    assert found["smallest_changes"]["95%"]["bleed_mm"] > 0.2


def test_check_says_what_blocks_and_finishes_what_was_interrupted(tmp_path, capsys):
    demo = demo_project()
    badge = next(design for design in demo.job.designs if design.name == "Badge")
    job = replace(demo.job, designs=(badge,), layout=(), pins=())
    save_project(tmp_path / "demo.hedge", job, demo.assets)
    assert run("check", tmp_path / "demo.hedge") == 0
    said = capsys.readouterr().out
    assert "demo.hedge: ready to write" in said
    assert "look: Badge: 93.6 % of the stickers are expected clean" in said
    large = replace(job, sheet=replace(job.sheet, paper="own", own_mm=(60, 60)))
    save_project(tmp_path / "large.hedge", large, demo.assets)
    assert run("check", tmp_path / "large.hedge") == 1
    assert "large.hedge: nothing can be written" in capsys.readouterr().out
    assert run("check", tmp_path / "none.hedge") == 2
    assert "does not exist" in capsys.readouterr().err
    assert run("check", tmp_path) == 0
    assert "nothing is unfinished" in capsys.readouterr().out
    (tmp_path / ".a.pdf.abcd_123.part").write_bytes(b"new")
    said = {"written": [[".a.pdf.abcd_123.part", "a.pdf"]], "removed": [], "kept": []}
    (tmp_path / MARKER).write_text(json.dumps(said))
    assert run("check", tmp_path) == 0
    assert "was finished: a.pdf" in capsys.readouterr().out
    assert (tmp_path / "a.pdf").read_bytes() == b"new"


def test_what_the_machine_is_set_to_is_kept_in_the_job_and_goes_over_lines_as_often(art, tmp_path, capsys):
    """3 CPU s."""
    from honest_edge.files.project import load_project

    out, job = tmp_path / "out", tmp_path / "job.hedge"
    common = ("prepare", art, "--width", "40mm", "--copies", "2", "--out", out)
    assert run(*common, "--setting", "kiss=force 84, 2 passes", "--save", job) == 0
    sheet = load_project(job).job.sheet
    assert (sheet.settings.kiss.force, sheet.settings.kiss.passes, sheet.cutter.lines.kiss.passes) == (84, 2, 2)
    assert sheet.machine.lines.kiss.passes == 1, "the machine itself is as it was"
    for wrong, said in (("cut=force 3", "write a kind of line"), ("kiss=", "write a kind of line"),
                        ("kiss=force 0", "force must be")):  # fmt: skip
        assert run(*common, "--force", "--setting", wrong) == 2
        assert said in capsys.readouterr().err
