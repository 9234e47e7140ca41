"""What lies inside drawings: words in any typeface are drawn, pictures are judged by their own pixels."""

import base64
import io

import numpy as np
import pikepdf
import pytest
import reportlab.lib.utils
from PIL import Image
from reportlab.pdfgen.canvas import Canvas

from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.specs import ArtSource
from honest_edge.files.read_art import read_art

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'


def drawn(body, size='width="60mm" height="20mm" viewBox="0 0 60 20"'):
    return read_art(f"{HEAD} {size}>{body}</svg>".encode(), "drawing.svg", width_mm=60)


def ink(art):
    return int((art.pixels[..., 3] > 127).sum())


LETTERED = drawn('<text x="5" y="12" font-size="8" font-family="sans-serif">Mint tea</text>')


@pytest.mark.parametrize(
    "text",
    [
        '<text x="5" y="12" font-size="8">Mint tea</text>',
        '<g style="font: 8px Nonesuch"><text x="5" y="12">Mint tea</text></g>',
        "<style>.a{font: bold italic 8px/1.2 'None Such', cursive}</style>"
        '<text class="a" x="5" y="12">Mint tea</text>',
        '<style>text{font-family:Nonesuch;font-size:8px}</style><text x="5" y="12">Mint tea</text>',
        *(
            f'<text x="5" y="12" font-size="8" font-family="{family}">Mint tea</text>'
            for family in ("serif", "monospace", "cursive", "fantasy", "Nonesuch")
        ),
    ],
)
def test_words_never_vanish(text):
    art = drawn(text)
    assert ink(art) > 0.6 * ink(LETTERED)
    said = " ".join(art.notes)
    assert ("Another typeface was taken for “Mint tea”" in said) == ("such" in text.lower())


def test_letters_that_no_typeface_has_are_named():
    art = drawn('<text x="5" y="12" font-size="8">tea \U0001f9ff\U000f0001</text>')
    assert ink(art) > 0
    assert "\U000f0001”: these letters were left out." in " ".join(art.notes)


def png(width, height):
    out = io.BytesIO()
    Image.fromarray(np.full((height, width, 3), 90, np.uint8)).save(out, "PNG")
    return out.getvalue()


def image(attributes, data=None):
    embedded = base64.b64encode(png(90, 30) if data is None else data).decode()
    return f'<image {attributes} xlink:href="data:image/png;base64,{embedded}"/>'


def wide(width, height):
    return image(f'width="{width}" height="{height}"')


@pytest.mark.parametrize(
    ("body", "across"),
    [
        # a picture of 90 px over all of a drawing 60 wide: it has 90 px across, whatever it was scaled by
        (image('width="60" height="20"'), 90),
        (f'<g transform="scale(0.5)">{wide(120, 40)}</g>', 90),
        (f'<g transform="translate(3 4) rotate(90) scale(2)">{wide(30, 10)}</g>', 90),
        (f'<g transform="matrix(0 1 -1 0 60 0)">{wide(60, 20)}</g>', 90),
        (image('width="30" height="10"'), 180),  # as fine as 180 px over all
        (image('width="3" height="2"'), 0),  # too small to decide
        (image('width="60" height="20"', b"no picture"), 0),
        ('<rect width="60" height="20"/>', 0),
    ],
)
def test_a_picture_in_an_svg_has_its_own_pixels(body, across):
    art = drawn(body)
    assert art.inner_px == pytest.approx(across)
    assert art.is_vector
    assert art.stays_crisp == (across == 0)
    if across:
        assert art.ppi_at(100) == pytest.approx(across / (100 / 25.4))


def pdf(*, unit=1.0):
    """A page 100 mm wide with a picture of 90 px over all of it, and a small one of 9 px."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(100 / 25.4 * 72, 50 / 25.4 * 72))
    for data, box in ((png(90, 45), (0, 0, 283.46, 141.73)), (png(9, 9), (0, 0, 5, 5))):
        canvas.drawImage(reportlab.lib.utils.ImageReader(io.BytesIO(data)), *box)
    canvas.save()
    with pikepdf.open(io.BytesIO(out.getvalue())) as made:
        if unit != 1:
            made.pages[0].obj["/UserUnit"] = unit
        again = io.BytesIO()
        made.save(again)
    return again.getvalue()


@pytest.mark.parametrize("unit", [1.0, 2.0])
def test_a_soft_picture_wrapped_in_a_pdf_is_soft(unit):
    art = read_art(pdf(unit=unit), "page.pdf", width_mm=100)
    assert art.inner_px == pytest.approx(90, abs=0.1)
    # 90 px over 100 mm are 90 / (100 / 25.4) = 22.9 ppi, by the definition of the inch
    assert art.ppi_at(100) == pytest.approx(22.86, abs=0.03)
    half = read_art(pdf(unit=unit), "page.pdf", ArtSource(region=(0.0, 0.0, 0.5, 1.0)), width_mm=50)
    assert half.ppi_at(50) == pytest.approx(22.86, abs=0.05)


def test_a_plain_picture_is_judged_as_before():
    art = Artwork(pixels=np.zeros((10, 300, 4), np.uint8), stated_ppi=300, size_source="assumed")
    assert art.ppi_at(25.4) == 300
    assert not art.stays_crisp
