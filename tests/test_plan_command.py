"""The command ``plan``: sheets, assurance and orders of work, as said and as JSON."""

import json
from dataclasses import replace

import msgspec
import pytest

from honest_edge import cli
from honest_edge.core.values.forms import Form
from honest_edge.core.values.machine import LineUse, LineUses
from honest_edge.core.values.misregistration import Misregistration, Scatter
from honest_edge.files.plan_record import PlanRecord
from honest_edge.files.project import save_project
from planted import box, labels, layered


@pytest.fixture(autouse=True)
def _own_book(tmp_path, monkeypatch):
    monkeypatch.setenv("HONEST_EDGE_BOOK", str(tmp_path / "book.sqlite"))


def run(*arguments):
    return cli.main([str(argument) for argument in arguments])


@pytest.fixture
def saved(tmp_path):
    def save(job):
        save_project(tmp_path / "job.hedge", job, {})
        return tmp_path / "job.hedge"

    return save


def two_passes(count=4):
    """Labels with a kiss cut inside a through cut that has a file of its own."""
    line = box("line", 20, 10, role="line", line="kiss")
    job = layered(box("ink", 30, 20), line, form=Form(kind="label", width_mm=60, height_mm=40), count=count)
    (design,) = job.designs
    job = job.with_design(replace(design, edge=replace(design.edge, line_kind="through")))
    lines = LineUses(through=LineUse(colour=(34, 48, 94), pen=4, alone=True))
    return replace(job, sheet=replace(job.sheet, machine=replace(job.sheet.machine, lines=lines)))


def test_a_plan_is_written_with_its_acts_the_best_order_first(saved, tmp_path, capsys):
    target = tmp_path / "plan.json"
    path = saved(two_passes(40))
    assert run("plan", path, "--carriers", 2, "--json", target) == 0
    found = json.loads(target.read_text())
    assert set(found) == {"sheets", "assurance", "orders"}
    assert found["sheets"] >= 3
    assert found["assurance"] >= 0.95
    best, *others = found["orders"]
    assert set(best) == {"name", "minutes", "hands_on_minutes", "setting_changes", "acts"}
    assert all(order["minutes"] >= best["minutes"] for order in others)
    assert {act["what"] for act in best["acts"]} >= {"print", "dry", "lay", "put in", "kiss", "through", "peel"}
    assert {act["sheet"] for act in best["acts"]} == set(range(1, found["sheets"] + 1))
    assert max(act["end_s"] for act in best["acts"]) == pytest.approx(60 * best["minutes"])
    assert msgspec.json.decode(target.read_bytes(), type=PlanRecord).sheets == found["sheets"]
    said = capsys.readouterr().out
    assert f"job.hedge: {found['sheets']} sheets" in said
    assert f"{best['name']}: {best['minutes']:.0f} minutes" in said
    assert run("plan", path, "--json", target) == 2


def green(count):
    """Labels whose ground would be missed."""
    job = labels(count)
    (design,) = job.designs
    return job.with_design(replace(design, form=replace(design.form, rgb=(20, 90, 60))))


def test_more_good_ones_take_more_sheets_and_a_poor_bench_still_more(saved, tmp_path):
    def sheets(job, *options):
        target = tmp_path / "plan.json"
        assert run("plan", saved(job), *options, "--json", target, "--force") == 0
        return json.loads(target.read_text())["sheets"]

    few, many = sheets(green(4)), sheets(green(4), "--good", 60)
    assert (few, many) == (1, 2)
    poor = Misregistration(shift_x_mm=Scatter(spread=0.8), shift_y_mm=Scatter(spread=0.8))
    assert sheets(replace(green(4), error=poor), "--good", 60) > many
    assert sheets(replace(green(4), error=poor), "--good", 60, "--assurance", "60%") < sheets(
        replace(green(4), error=poor), "--good", 60, "--assurance", "99 %"
    )


def test_drying_is_what_the_book_says_of_the_stock(saved, tmp_path):
    import time

    from honest_edge.app.book.desk import BookDesk
    from honest_edge.core.values.book_records import StockFacts
    from honest_edge.files.book.records import FACTS

    job, now_ms = labels(2), time.time_ns() // 1_000_000
    desk = BookDesk(lambda: tmp_path / "own.sqlite")
    desk.note([(FACTS, StockFacts(stock=job.sheet.stock.name, drying_min=7))], now_ms)
    desk.close()
    target = tmp_path / "plan.json"
    assert run("plan", saved(job), "--book", tmp_path / "own.sqlite", "--json", target) == 0
    dry = next(act for act in json.loads(target.read_text())["orders"][0]["acts"] if act["what"] == "dry")
    assert dry["end_s"] - dry["start_s"] == 420


@pytest.mark.parametrize(
    ("options", "words"),
    [
        (["--good", "0"], "copies must be 1"),
        (["--carriers", "0"], "1 to 20 carriers, not 0"),
        (["--assurance", "120%"], "“120%” is none"),
        (["--assurance", "sure"], "“sure” is none"),
    ],
)
def test_bad_choices_give_one_line(saved, capsys, options, words):
    assert run("plan", saved(labels(2)), *options) == 2
    said = capsys.readouterr().err
    assert words in said
    assert said.count("\n") == 1


def test_two_designs_and_a_hopeless_bench_are_said(saved, capsys):
    job = green(2)
    (design,) = job.designs
    both = replace(job, designs=(design, replace(design, key="d2")))
    assert run("plan", saved(both), "--good", 10) == 2
    assert "set copies in the job" in capsys.readouterr().err
    far = Misregistration(shift_x_mm=Scatter(bias=9.0))
    assert run("plan", saved(replace(job, error=far))) == 1
    assert "Hardly a sticker comes out good" in capsys.readouterr().err
