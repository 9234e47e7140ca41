"""The cut file of a ladder, read back with other libraries."""

import io
import re

import ezdxf
import numpy as np
import pytest
from lxml import etree

from honest_edge.app.output.ladder_file import write_ladder
from honest_edge.core.values.errors import FileError
from honest_edge.core.workshop.ladder_sheet import SIDE_MM, ladder_sheet
from honest_edge.files.write_ladder import LADDER_WRITERS

SETTINGS = (20.0, 28.0, 39.5, 54.0, 75.0, 104.0, 144.0, 200.0)
SHEET = ladder_sheet(SETTINGS)


def test_squares_lie_apart_inside_the_sheet_and_below_their_numbers():
    boxes = [(*square.min(axis=0), *square.max(axis=0)) for square in SHEET.squares]
    assert all(x1 - x0 == pytest.approx(SIDE_MM) == y1 - y0 for x0, y0, x1, y1 in boxes)
    every = np.vstack([*SHEET.squares, *SHEET.numbers])
    assert (every >= 0).all()
    assert (every <= (SHEET.width_mm, SHEET.height_mm)).all()
    for number in SHEET.numbers:
        assert not any(x0 <= x <= x1 and y0 <= y <= y1 for x, y in number for x0, y0, x1, y1 in boxes)


def test_svg_has_a_group_and_a_colour_for_each_setting():
    tree = etree.fromstring(LADDER_WRITERS[".svg"](SHEET, "force"))
    groups = tree.findall("{*}g")
    assert [group.get("id") for group in groups] == [f"{n}-force-{s:g}" for n, s in enumerate(SETTINGS, 1)]
    assert len({group.get("stroke") for group in groups}) == 8
    assert tree.get("width") == f"{SHEET.width_mm:g}mm"
    first = re.findall(r"[-\d.]+", groups[1][0].get("d"))
    np.testing.assert_allclose(np.array(first, float).reshape(-1, 2), SHEET.squares[1][:-1], atol=1e-3)


def test_dxf_has_a_layer_for_each_setting_in_millimetres():
    document = ezdxf.read(io.StringIO(LADDER_WRITERS[".dxf"](SHEET, "depth").decode()))
    assert document.units == 4
    squares = [line for line in document.modelspace() if line.closed]
    assert [line.dxf.layer for line in squares] == [f"{n}-depth-{s:g}" for n, s in enumerate(SETTINGS, 1)]
    (left, top), (right, bottom) = (
        np.min(squares[2].get_points("xy"), axis=0),
        np.max(squares[2].get_points("xy"), axis=0),
    )
    assert (right - left, bottom - top) == pytest.approx((SIDE_MM, SIDE_MM))
    assert bottom == pytest.approx(SHEET.height_mm - SHEET.squares[2][:, 1].min())


def test_plot_text_takes_pens_1_to_8_and_draws_the_numbers_with_the_lightest():
    text = LADDER_WRITERS[".plt"](SHEET, "force").decode()
    parts = re.split(r"SP(\d)", text)[1:]
    assert parts[::2] == [*"12345678", "0"]
    strokes = [part.count("PD") for part in parts[1::2]]
    assert strokes == [1 + len(SHEET.numbers), 1, 1, 1, 1, 1, 1, 1, 0]


def test_it_is_written_whole_and_another_ending_is_refused(tmp_path):
    assert "one group" in write_ladder(tmp_path / "ladder.svg", SETTINGS, "force")
    assert (tmp_path / "ladder.svg").read_bytes() == LADDER_WRITERS[".svg"](SHEET, "force")
    with pytest.raises(FileError, match=r"must end in \.svg, \.dxf, \.plt"):
        write_ladder(tmp_path / "ladder.pdf", SETTINGS, "force")
