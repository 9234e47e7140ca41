"""A photograph on a card or as a sticker keeps its rectangle, says so, and is cleared by one click."""

import math
from pathlib import Path

import cv2
import numpy as np
import pytest
import skimage
from PIL import Image
from PyQt6.QtWidgets import QPushButton

from hands import click, draw_on_table, drop, type_into, visit
from honest_edge import cli
from honest_edge.files.project import load_project
from pictures import png

CAMERA = Path(skimage.__file__).parent / "data" / "camera.png"


@pytest.fixture
def with_photograph(window, settle):
    window.take_files([CAMERA])
    settle(window)
    return window


def the_button(where):
    return next(made for made in where.findChildren(QPushButton) if made.text() == "Cut out the subject")


COFFEE = CAMERA.with_name("coffee.png")
"""A cup on a saucer, 600 x 400 px; the saucer's ellipse was measured by eye, its middle and half axes in px."""
SAUCER = (278, 235, 200, 142)


def share_of_saucer(result):
    coverage = result.subject.coverage > 127
    rows, columns = np.indices(coverage.shape)
    x, y, wide, high = SAUCER
    inside = ((columns - x) / wide) ** 2 + ((rows - y) / high) ** 2 <= 1
    return (coverage & inside).sum() / inside.sum(), (coverage & ~inside).sum() / coverage.sum()


def test_the_subject_is_cut_out_from_art_on_looped_brushed_undone_and_kept(window, settle, tmp_path):
    window.take_files([COFFEE])
    settle(window)
    visit(window, "art")
    settle(window)
    button = window.here.panel.cut_out
    assert button.isVisible()
    click(button)
    settle(window)
    assert window.station == "outline"
    panel, per_px = window.here.panel, window.workspace.result.outline.pixel_mm
    assert "A first guess" in panel.method.text()
    assert panel.subject.isVisible()
    assert not panel.toolbox.isVisible()
    click(panel.subject.toolbox.buttons["around"])
    corners = [(40, 30), (330, 12), (520, 60), (530, 250), (440, 385), (200, 392), (50, 330)]
    draw_on_table(window.table, *[(x * per_px, y * per_px) for x, y in corners])
    settle(window)
    design = window.workspace.design
    assert [step.kind for step in design.outline.corrections] == ["around"]
    assert "the border is found again" in panel.method.text()
    held, beyond = share_of_saucer(window.workspace.result)
    assert held > 0.9
    assert beyond < 0.25  # the cup rises above the saucer
    assert window.table.tool is None
    click(panel.subject.toolbox.buttons["clear"])
    type_into(panel.subject.toolbox.brush, "4 mm")
    draw_on_table(window.table, (278 * per_px, 330 * per_px), (300 * per_px, 350 * per_px))
    settle(window)
    assert window.workspace.result.subject.coverage[340, 290] == 0
    window.document.undo_stack.undo()
    settle(window)
    assert window.workspace.result.subject.coverage[340, 290] == 255
    before = window.workspace.result.outline.area
    type_into(panel.subject.closely.field, "5")
    settle(window)
    assert window.workspace.design.outline.closely_mm == 5
    assert window.workspace.result.outline.area.length < before.length
    window.document.save(tmp_path / "cup.hedge")
    kept = load_project(tmp_path / "cup.hedge").job.designs[0].outline
    assert kept == window.workspace.design.outline
    click(panel.subject.toolbox.buttons["around box"])
    draw_on_table(window.table, (1, 1), (1, 1.05))
    assert "The loop holds nothing" in window.bar.message.text()
    assert window.workspace.design.outline == kept


def test_a_page_aslant_is_set_upright_by_one_press_or_by_four_rings_and_left_again(window, settle, tmp_path):
    photo = np.full((400, 500, 3), 60, np.uint8)
    truth = [(120, 60), (400, 90), (430, 350), (80, 330)]
    cv2.fillPoly(photo, [np.array(truth)], (236, 236, 232))
    cv2.circle(photo, (250, 210), 60, (40, 60, 120), 8)
    (tmp_path / "page.png").write_bytes(png(photo, dpi=(100, 100)))
    drop(window, [tmp_path / "page.png"])
    settle(window)
    panel = window.stations["art"].picture
    assert "aslant" in panel.corners.words.text()
    click(panel.corners.upright)
    settle(window)
    found = window.workspace.design.source.corners
    assert np.abs(np.array(found) * [500, 400] - truth).max() < 3
    upright = window.workspace.result
    assert upright.design.width_mm == pytest.approx(350 / 100 * 25.4, rel=0.15)  # at the scale that it had
    assert not panel.corners.upright.isVisible()
    click(panel.corners.by_hand)  # the photograph again, with a ring on each corner
    settle(window)
    assert window.workspace.design.width_mm == pytest.approx(127, abs=0.01)
    mm = 25.4 / 100
    draw_on_table(window.table, (120 * mm, 60 * mm), (140 * mm, 70 * mm), (150 * mm, 80 * mm))
    assert panel.corners.at_hand[0] == pytest.approx((150 / 500, 80 / 400), abs=0.01)
    click(panel.corners.upright)
    settle(window)
    assert window.workspace.design.source.corners[0] == pytest.approx((0.3, 0.2), abs=0.01)
    click(panel.corners.leave)
    settle(window)
    assert window.workspace.design.source.corners is None
    assert window.workspace.result.artwork.width_px == 500


def test_the_paper_of_a_drawing_turns_white_by_one_press_at_art_and_back(window, settle, tmp_path):
    rows, columns = np.mgrid[:300, :400]
    ink = (np.hypot(columns - 200, rows - 150) <= 90)[..., None]
    light = (235 - columns / 8)[..., None] * np.array([1.0, 0.98, 0.94])
    Image.fromarray(np.where(ink, 0.4 * light, light).astype(np.uint8)).save(tmp_path / "pencil.png")
    window.take_files([tmp_path / "pencil.png"])
    settle(window)
    visit(window, "art")
    settle(window)
    panel = window.here.panel
    whole = window.workspace.result.outline.area.area
    assert panel.white.isVisible()
    click(panel.white)
    settle(window)
    result = window.workspace.result
    assert window.workspace.design.source.paper == "white"
    assert result.artwork.pixels[5, 5].tolist() == [255] * 4
    assert result.outline.area.area == pytest.approx(math.pi * (90 * result.outline.pixel_mm) ** 2, rel=0.02)
    assert panel.paper.isVisible()
    assert not panel.white.isVisible()
    window.document.undo_stack.undo()
    settle(window)
    assert window.workspace.result.outline.area.area == whole
    assert panel.white.isVisible()
    drawn = ["outline", str(tmp_path / "pencil.png"), "--width", "60mm", "--drawn-on"]
    assert cli.main([*drawn, "strong"]) == 0


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
    assert window.document.job.designs[0].layers[0].picture.outline.background == "subject"
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
    assert "it looks like a photograph, so its whole rectangle is kept; --background subject" in capsys.readouterr().out
    assert cli.main(["outline", str(CAMERA), "--width", "60mm", "--background", "flood"]) == 0
    assert "looks like" not in capsys.readouterr().out
    cup = ["outline", str(COFFEE), "--width", "60mm"]
    assert cli.main([*cup, "--background", "subject", "--around", "40,10,530,392"]) == 0
    assert "1 part(s)" in capsys.readouterr().out
    assert cli.main([*cup, "--around", "40,10,530,392"]) == 2
    assert "give it with --background subject" in capsys.readouterr().err
    assert cli.main([*cup, "--background", "subject", "--around", "40,x"]) == 2
    assert "LEFT,TOP,RIGHT,BOTTOM in pixels" in capsys.readouterr().err
    subject = ["--background", "subject", "--around", "40,10,530,392", "--closely", "1mm"]
    assert cli.main(["profile", str(COFFEE), "--width", "60mm", *subject]) == 0
    assert "% clean" in capsys.readouterr().out
    assert cli.main(["prepare", str(COFFEE), "--width", "60mm", *subject, "--out", str(tmp_path / "cup")]) in (0, 1)
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
