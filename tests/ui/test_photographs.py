"""A photograph on a card or as a sticker keeps its rectangle, says so, and is cleared by one click."""

from pathlib import Path

import pytest
import skimage
from PyQt6.QtWidgets import QPushButton

from hands import click, visit
from honest_edge import cli

CAMERA = Path(skimage.__file__).parent / "data" / "camera.png"


@pytest.fixture
def with_photograph(window, settle):
    window.take_files([CAMERA])
    settle(window)
    return window


def the_button(where):
    return next(made for made in where.findChildren(QPushButton) if made.text() == "Clear its ground anyway")


def test_a_photograph_keeps_its_rectangle_and_one_click_clears_it(with_photograph, settle):
    window = with_photograph
    visit(window, "outline")
    panel = window.stations["outline"].panel
    assert "looks like a photograph, so its whole rectangle is kept" in panel.kept.words
    assert window.workspace.result.outline.part_count == 1
    assert window.workspace.overview.state("outline")[0] == "done"  # nothing is wrong with it
    steps = window.document.undo_stack.count()
    click(the_button(panel.kept))
    settle(window)
    assert window.document.undo_stack.count() == steps + 1
    assert window.document.job.designs[0].outline.background == "flood"
    assert window.workspace.result.outline.area.area < 0.9 * window.workspace.result.width_mm**2
    assert not panel.kept.isVisibleTo(panel)


def test_a_photograph_as_a_layer_keeps_it_too_and_its_background_can_be_chosen(with_photograph, settle):
    window = with_photograph
    visit(window, "art")
    click(window.stations["art"].panel.to_layers)
    settle(window)
    panel = window.stations["art"].layers
    assert "“camera.png” looks like a photograph" in panel.findings.words
    side_mm = window.workspace.result.width_mm
    assert window.workspace.result.outline.area.area == pytest.approx(side_mm**2, rel=0.01)
    click(the_button(panel.findings))
    settle(window)
    assert window.document.job.designs[0].layers[0].picture.outline.background == "flood"
    assert window.workspace.result.outline.area.area < 0.9 * side_mm**2
    panel.take(("l1",))
    choice = panel.fields.controls["picture.outline.background"]
    choice.setCurrentIndex(choice.findData("none"))
    choice.activated.emit(choice.currentIndex())
    settle(window)
    assert window.document.job.designs[0].layers[0].picture.outline.background == "none"
    assert "looks like" not in panel.findings.words  # it was asked for


def test_the_command_line_says_it_and_clears_it_when_told(capsys, tmp_path):
    assert cli.main(["outline", str(CAMERA), "--width", "60mm"]) == 0
    assert "it looks like a photograph, so its whole rectangle is kept; --background flood" in capsys.readouterr().out
    assert cli.main(["outline", str(CAMERA), "--width", "60mm", "--background", "flood"]) == 0
    assert "looks like" not in capsys.readouterr().out
    files = ["--width", "60mm", "--out", str(tmp_path / "out")]
    assert cli.main(["prepare", str(CAMERA), *files]) == 0
    assert "looks like a photograph" in capsys.readouterr().out


@pytest.mark.slow
def test_a_screenshot_is_never_taken_apart_in_silence(with_some_of_the_demo, settle, tmp_path):
    """Flat panels all round: kept whole and said so, or what was cleared is shown as gaps and parts."""
    window = with_some_of_the_demo("Bee", "Badge")
    shots = []
    for station in ("art", "outline", "edge", "sheet"):
        visit(window, station)
        settle(window)
        shots.append(tmp_path / f"{station}.png")
        assert window.grab().save(str(shots[-1]))
    window.take_files(shots)
    settle(window)
    overview = window.workspace.overview
    taken = [design for design in window.document.job.designs if design.file_name in {shot.name for shot in shots}]
    assert len(taken) == len(shots)
    said = [{finding.check for finding in overview.results[design.key].findings} for design in taken]
    assert all(checks & {"ground", "parts", "leaks"} for checks in said)
    assert sum("ground" in checks for checks in said) >= 3
