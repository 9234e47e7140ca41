"""The commands ``check`` and ``rehearse``, and what ``prepare`` saves and leaves: what they say, write and return."""

import json
from dataclasses import replace

import msgspec
import pytest

from honest_edge import cli
from honest_edge.core.values.layers import PLACEHOLDER_WORDS
from honest_edge.files.project import load_project, save_project
from honest_edge.files.proof_record import ProofRecord, RehearsalRecord
from pictures import disc_png
from planted import labels, nested_layer, placeholder


@pytest.fixture(autouse=True)
def _own_book(tmp_path, monkeypatch):
    monkeypatch.setenv("HONEST_EDGE_BOOK", str(tmp_path / "book.sqlite"))


def run(*arguments):
    return cli.main([str(argument) for argument in arguments])


@pytest.fixture
def saved(tmp_path):
    def save(job, assets=None, name="job.hedge"):
        save_project(tmp_path / name, job, assets or {})
        return tmp_path / name

    return save


def test_check_writes_what_it_finds_as_json_and_says_what_blocks(saved, tmp_path, capsys):
    path, target = saved(nested_layer().job), tmp_path / "found.json"
    assert run("check", path, "--json", target) == 1
    found = json.loads(target.read_text())
    assert found["blocked"] is True
    assert set(found["findings"][0]) == {
        "check", "severity", "station", "subject", "message", "remedy", "places", "measured", "needed", "fix", "left",
    }  # fmt: skip
    (nested,) = [one for one in found["findings"] if one["check"] == "nested"]
    assert (nested["severity"], nested["subject"]["layer"]) == ("blocks", "line")
    assert nested["fix"] == "Drop “line”"
    assert nested["measured"]["unit"] == "mm"
    assert msgspec.json.decode(target.read_bytes(), type=ProofRecord).blocked
    said = capsys.readouterr().out
    assert "blocks: Label: “line” and the cut round the art are cut" in said
    assert "nothing can be written" in said


def test_a_good_job_is_ready_and_its_bench_and_stock_are_told(saved, capsys):
    job = replace(labels(), error=None)
    assert run("check", saved(job)) == 0
    said = capsys.readouterr().out
    assert "note: how print and cut agree is only assumed" in said
    assert "look: no setting is proven" in said
    assert "ready to write" in said


def test_what_is_left_is_told_with_its_reason(saved, capsys):
    planted = placeholder()
    assert run("check", saved(planted.job)) == 1
    from honest_edge.app.edits.tried import with_left
    from honest_edge.app.results.compute_overview import compute_overview
    from honest_edge.app.results.pipeline import Pipeline

    found = [f for f in compute_overview(planted.job, Pipeline({})).findings if f.check == "placeholder"]
    assert PLACEHOLDER_WORDS in found[0].message
    assert run("check", saved(with_left(planted.job, found, "it is the shop’s name"))) == 0
    assert "(left: it is the shop’s name)" in capsys.readouterr().out


def test_rehearse_writes_shares_sheets_and_drawings(saved, tmp_path, capsys):
    path, target = saved(labels(4)), tmp_path / "rehearsed.json"
    arguments = ("rehearse", path, "--sheets", 40, "--seed", 3, "--json", target, "--pictures", tmp_path / "drawn")
    assert run(*arguments) == 0
    found = json.loads(target.read_text())
    assert set(found) == {"share_clean", "uncertainty", "forecast_share", "forecast_uncertainty", "sheets"}
    assert found["sheets"] == [{"good": 4, "spoiled": 0}] * 40
    assert found["share_clean"] == pytest.approx(found["forecast_share"], abs=0.02)
    assert len(msgspec.json.decode(target.read_bytes(), type=RehearsalRecord).sheets) == 40
    assert len(list((tmp_path / "drawn").glob("sheet-*.svg"))) == 20
    assert "of 160 stickers on 40 sheets" in capsys.readouterr().out
    assert run(*arguments) == 2  # they are there already
    assert run("rehearse", path, "--sheets", 4, "--wrong", "missed") == 0
    assert "0.0 % clean of 16 stickers" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("options", "code", "words"),
    [
        (["--sheets", "0"], 2, "--sheets must be 1 to 20000, not 0"),
        (["--seed", "-1"], 2, "--seed must be 0 or more"),
        (["--wrong", "gremlins"], 2, "invalid choice"),
    ],
)
def test_bad_choices_give_one_line(saved, capsys, options, code, words):
    assert run("rehearse", saved(labels()), *options) == code
    said = capsys.readouterr().err
    assert words in said
    assert said.count("\n") == 1


def test_a_job_without_designs_has_nothing_to_rehearse(saved, capsys):
    assert run("rehearse", saved(replace(labels(), designs=()))) == 1
    assert "nothing to rehearse" in capsys.readouterr().err


def test_prepare_saves_the_job_with_its_error_and_what_is_left(tmp_path, capsys):
    (tmp_path / "disc.png").write_bytes(disc_png())
    held = ["prepare", tmp_path / "disc.png", "--width", "60mm", "--shift", "0.2mm", "--bias", "0.1mm,0mm"]
    assert run(*held, "--out", tmp_path / "out") == 1
    assert '--leave "ppi=...")' in capsys.readouterr().err
    job = tmp_path / "disc.hedge"
    assert run(*held, "--out", tmp_path / "out", "--leave", "ppi=seen from afar", "--save", job) == 0
    found = load_project(job).job
    assert found.error.shift_x_mm.bias == 0.1
    assert [leaving.reason for leaving in found.left] == ["seen from afar"]
    assert run("check", job) == 0
    assert run("check", tmp_path / "out", "--of", job) == 0
    assert "print and cut fit each other" in capsys.readouterr().out
    report = json.loads((tmp_path / "out" / "report.json").read_text())
    assert report["sheets"][0]["prints"] == 1
    assert run(*held, "--out", tmp_path / "o2", "--leave", "ppi=x", "--save", job) == 2
    assert "add --force" in capsys.readouterr().err
    assert run(*held, "--out", tmp_path / "o3", "--leave", "art=x") == 2
    assert "names no check that can be left" in capsys.readouterr().err
    assert run(*held, "--out", tmp_path / "o4", "--leave", "ppi=x", "--save", tmp_path / "job.txt") == 2


def test_a_folder_that_was_tampered_with_blocks(tmp_path, capsys):
    (tmp_path / "disc.png").write_bytes(disc_png())
    assert run("prepare", tmp_path / "disc.png", "--width", "20mm", "--out", tmp_path / "out") == 0
    (tmp_path / "out" / "cut-1.svg").write_text("<svg/>")
    target = tmp_path / "found.json"
    assert run("check", tmp_path / "out", "--json", target) == 1
    assert "cut-1.svg was changed after it was written" in capsys.readouterr().out
    assert json.loads(target.read_text())["blocked"] is True
