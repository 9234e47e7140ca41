"""Layers of drawings, and lines in them that mean a cut and no ink. About 3 CPU seconds."""

import math

import numpy as np
import pytest

from drawings import layered_pdf
from honest_edge.core.imaging.cut_lines import cut_along
from honest_edge.core.values.errors import ArtError
from honest_edge.core.values.specs import ArtSource
from honest_edge.files.read_art import read_art

LABEL = "http://www.inkscape.org/namespaces/inkscape"  # the namespace of the editor's labels, as its files state it
LAYERED = """
<ellipse cx="40" cy="30" rx="28" ry="18" fill="#3a7"/>
<g inkscape:label="Flower"><circle cx="40" cy="30" r="9" fill="#e63"/></g>
<g id="contour"><rect x="6" y="6" width="68" height="48" rx="10" class="c"/></g>
<path d="M40 6V54" style="fill:none;stroke:magenta;stroke-width:.1" id="fold"/>
"""


def drawing(inside, *, style=".c{fill:none;stroke:#ec008c;stroke-width:.1}", width="80mm"):
    head = f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:inkscape="{LABEL}" width="{width}" viewBox="0 0 80 60">'
    return f"{head}<style>{style}</style>{inside}</svg>".encode()


def read(inside, source=ArtSource(), **more):  # noqa: B008
    return read_art(drawing(inside, **more), "art.svg", source)


def seen(art, x_mm, y_mm):
    """Return the colour at a place, or None where nothing is."""
    px = art.width_px / 80
    red, green, blue, alpha = art.pixels[round(y_mm * px), round(x_mm * px)]
    return None if alpha == 0 else (int(red), int(green), int(blue))


def test_groups_and_what_lies_loose_are_layers_with_the_names_of_the_file():
    art = read(LAYERED)
    assert art.layers == ("1 loose shape", "Flower", "contour", "1 magenta line")
    assert dict(art.cutting) == {2: "cut", 3: "crease"}
    assert (seen(art, 37, 28), seen(art, 40, 20)) == ((0xEE, 0x66, 0x33), (255, 0, 255))
    assert seen(read(LAYERED, ArtSource(hidden_layers=(1,))), 37, 28) == (0x33, 0xAA, 0x77)
    bare = read(LAYERED, ArtSource(hidden_layers=(0, 1, 2)))
    assert seen(bare, 30, 30) is None
    wrapped = read(f'<g><g id="all">{LAYERED}</g></g>')
    assert wrapped.layers == art.layers


def test_one_group_or_none_is_no_layered_drawing():
    assert read('<g id="fox"><circle cx="40" cy="30" r="9"/></g>').layers == ()
    assert read('<circle cx="40" cy="30" r="9"/><circle cx="60" cy="30" r="9"/>').layers == ()
    two = read('<g><title>Ears</title><circle cx="40" cy="30" r="9"/></g><g data-name="Tail"><path d="M0 0h9v9"/></g>')
    assert two.layers == ("Ears", "Tail")


@pytest.mark.parametrize(
    ("line", "means"),
    [
        ('<rect width="9" height="9" fill="none" stroke="#f00" stroke-width=".1"/>', "cut"),
        ('<g style="fill:none;stroke:rgb(0,0,255)" stroke-width="0.2pt"><rect width="9" height="9"/></g>', "cut"),
        ('<rect class="c" width="9" height="9"/>', "cut"),
        ('<g transform="scale(.1)"><path d="M0 0h9v9" fill="none" stroke="cyan" stroke-width=".9"/></g>', "cut"),
        ('<path id="FoldLine" d="M0 0H9" fill="none" stroke="#777" stroke-width="1"/>', "crease"),
        ('<g id="kiss-cut_1"><rect width="9" height="9" fill="none" stroke="black"/></g>', "kiss"),
        ('<path id="perf 2" d="M0 0H9" fill="none" stroke="green"/>', "perforate"),
        ('<rect width="9" height="9" fill="none" stroke="#f00" stroke-width="1"/>', ""),  # as thick as a pen draws
        ('<rect width="9" height="9" fill="none" stroke="#a33" stroke-width=".1"/>', ""),  # no pure colour
        ('<rect width="9" height="9" fill="#fff" stroke="#f00" stroke-width=".1"/>', ""),  # it is filled
        ('<rect id="cutting-board" width="9" height="9" fill="#a52"/>', ""),
        ('<defs><rect id="cut" width="9" height="9" fill="none" stroke="red"/></defs>', ""),  # nothing is drawn
        ('<text x="9" y="9" id="cut">Cut</text>', ""),
    ],
)
def test_a_line_that_means_a_cut_is_told_by_its_name_or_as_a_hairline_of_pure_colour(line, means):
    art = read(f'<circle cx="40" cy="30" r="9"/>{line}')
    assert [asked for _, asked in art.cutting] == ([means] if means else [])


def test_what_closed_lines_enclose_is_the_sticker_and_the_lines_are_not_printed():
    """A box of 68 by 48 mm with corners of 10: its area by geometry, within 0.03 mm of edge."""
    plain = read(LAYERED)
    art = read(LAYERED, ArtSource().along_lines(plain.cutting))
    mm = art.stated_ppi / 25.4
    edge_mm = 2 * (48 + 28) + 2 * math.pi * 10
    assert (art.pixels[..., 3] / 255).sum() / mm**2 == pytest.approx(68 * 48 - (4 - math.pi) * 100, abs=0.03 * edge_mm)
    assert seen(art, 40, 10) == (255, 255, 255)  # the fold is gone; what was paper is paper
    assert seen(art, 40, 28) == (0xEE, 0x66, 0x33)
    assert seen(art, 3, 3) is None
    left_out = read(LAYERED, ArtSource().without_lines(plain.cutting))
    assert seen(left_out, 40, 10) is None
    assert ArtSource().without_lines(plain.cutting).lines_to_print(plain.cutting) == ()


def test_a_line_that_is_open_encloses_nothing_and_says_so():
    lines = np.zeros((200, 200), np.uint8)
    lines[20:180, 20] = lines[20, 20:180] = 255
    with pytest.raises(ArtError, match="enclose nothing: close them, or leave them out"):
        cut_along(np.full((200, 200, 4), 255, np.uint8), lines)


PAGE = b"""/OC /L0 BDC 0 0.5 0.3 rg 20 16 100 40 re f EMC /OC /L1 BDC 1 0.5 0 rg 60 26 20 20 re f EMC
/OC /L2 BDC 0 G 1 w 72 0 m 72 72 l S EMC q 2 0 0 2 0 0 cm 1 0 1 RG 0.1 w 5 4 62 28 re S 0 0 1 RG 2 w 0 1 m 72 1 l S Q"""


def on_page(art, x_points, y_points):
    px = art.width_px / 144
    return tuple(int(level) for level in art.pixels[round((72 - y_points) * px), round(x_points * px)])


def test_layers_and_cut_lines_of_a_pdf_are_told_and_left_out_and_cut_along():
    data = layered_pdf(PAGE, ["Ground", "Sun", "Crease lines"])
    plain = read_art(data, "page.pdf")
    assert plain.layers == ("Ground", "Sun", "Crease lines", "1 magenta line")  # the thick blue one is ink
    assert dict(plain.cutting) == {2: "crease", 3: "cut"}
    assert on_page(plain, 70, 36)[:3] == (255, 128, 0)
    assert on_page(read_art(data, "page.pdf", ArtSource(hidden_layers=(1,))), 70, 36)[:3] == (0, 128, 77)
    bare = read_art(data, "page.pdf", ArtSource(hidden_layers=(0, 1)))
    assert on_page(bare, 70, 36)[3] == 0
    art = read_art(data, "page.pdf", ArtSource().along_lines(plain.cutting))
    assert (on_page(art, 6, 20)[3], on_page(art, 72, 12)) == (0, (255, 255, 255, 255))
    point = art.width_px / 144
    area = (art.pixels[..., 3] / 255).sum() / point**2
    assert area == pytest.approx(124 * 56, abs=0.03 / 25.4 * 72 * 2 * (124 + 56))
