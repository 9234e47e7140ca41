"""SVG, PDF and PSD: drawn by a child process, harm kept out, and what the file says of its size."""

import os
import signal

import numpy as np
import pikepdf
import pytest
from PIL import ImageCms

from drawings import flat_psd, pdf, psd, svg
from honest_edge.core.values.errors import ArtError, Cancelled
from honest_edge.core.values.specs import ArtSource
from honest_edge.files.drawing_child import Request
from honest_edge.files.drawing_parent import Renderer
from honest_edge.files.read_art import read_art
from honest_edge.files.svg_gate import gated

RED = (192, 48, 32)


def test_an_svg_is_drawn_in_colour_at_its_stated_size():
    art = read_art(svg(), "a.svg")
    assert (art.stated_width_mm, art.size_source, art.is_vector) == (pytest.approx(60, rel=1e-3), "SVG units", True)
    assert tuple(art.pixels[art.height_px // 2, art.width_px // 2]) == (*RED, 255)
    share = (art.pixels[..., 3] > 127).mean()
    assert share == pytest.approx(np.pi * 15**2 / (60 * 40), rel=2e-3)


@pytest.mark.parametrize(
    ("attributes", "width_mm", "source"),
    [
        ('width="3in" height="2in" viewBox="0 0 60 40"', 76.2, "SVG units"),
        ('width="96" height="64" viewBox="0 0 60 40"', 25.4, "SVG pixels of 1/96 in"),  # CSS Values 3, 6.2
        ('viewBox="0 0 192 128"', 50.8, "SVG pixels of 1/96 in"),
        ('height="4cm" viewBox="0 0 60 40"', 60.0, "SVG units"),
    ],
)
def test_the_units_of_an_svg_give_its_size(attributes, width_mm, source):
    art = read_art(svg(attributes=attributes), "a.svg")
    assert art.stated_width_mm == pytest.approx(width_mm, rel=2e-3)
    assert art.size_source == source


def test_sizes_that_contradict_each_other_are_said():
    gate = gated(svg(attributes='width="60mm" height="60mm" viewBox="0 0 60 40"'), "a.svg")
    assert any("do not match its viewBox" in note for note in gate.notes)


@pytest.mark.slow
@pytest.mark.parametrize(("width_mm", "width_px"), [(20, 1200), (80, 1890), (2000, 5000)])
def test_a_drawing_has_the_pixels_that_its_finished_size_needs(width_mm, width_px):
    assert read_art(svg(), "a.svg", width_mm=width_mm).width_px == pytest.approx(width_px, abs=1)


def test_lettering_in_a_missing_typeface_is_drawn_and_named():
    words = '<text x="5" y="30" font-size="14" font-family="No Such Script">Tea</text>'
    art = read_art(svg(words), "a.svg")
    assert any("No Such Script" in note for note in art.notes)
    assert (art.pixels[..., 3] > 127).mean() > 0.01
    in_style = '<text x="5" y="30" style="font-size:14px;font-family:Missing Hand">Tea</text>'
    assert gated(svg(in_style), "a.svg").families == ("Missing Hand",)


@pytest.mark.parametrize(
    ("body", "note"),
    [
        ('<script>alert(1)</script><rect width="9" height="9"/>', "Scripts"),
        ('<rect width="9" height="9" onload="x()"/>', "Scripts"),
        ('<image href="/etc/passwd" width="9" height="9"/>', "1 reference to other files"),
        ('<image xlink:href="file:///etc/hostname" width="9" height="9"/>', "1 reference to other files"),
        ('<use href="other.svg#a"/><use href="http://example.org/a.svg#b"/>', "2 references"),
        ('<rect width="9" height="9" style="fill:url(http://example.org/x)"/>', "1 reference"),
        ("<style>@import url('http://example.org/a.css'); .a{fill:red}</style>", "1 reference"),
    ],
)
def test_what_could_reach_outside_is_left_out_and_said(body, note):
    gate = gated(svg(body), "a.svg")
    assert any(note in said for said in gate.notes)
    for word in ("passwd", "hostname", "example.org", "script", "onload", "other.svg"):
        assert word not in gate.text


def test_a_picture_on_disk_is_never_drawn_into_an_svg(tmp_path):
    from pictures import disc_png

    (tmp_path / "secret.png").write_bytes(disc_png())
    inside = f'<image href="{tmp_path}/secret.png" width="60" height="40"/>'
    assert not read_art(svg(inside), "a.svg").pixels[..., 3].any()


def test_references_inside_the_file_stay():
    gate = gated(svg('<defs><rect id="a" width="9" height="9"/></defs><use href="#a"/>'), "a.svg")
    assert "#a" in gate.text
    assert gate.notes == ()


BOMB = b"""<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;&a;&a;">
<!ENTITY c "&b;&b;&b;&b;&b;&b;&b;&b;&b;&b;">]>
<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><text>&c;</text></svg>"""
OUTSIDE = b"""<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]>
<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><text>&x;</text></svg>"""

BAD = {
    "bomb.svg": (BOMB, "entities"),
    "outside.svg": (OUTSIDE, "entities"),
    "deep.svg": (svg("<g>" * 5000 + "</g>" * 5000), "damaged or no SVG"),
    "cut.svg": (svg()[:120], "damaged or no SVG"),
    "other.svg": (b"<html><svg:svg xmlns:svg='http://www.w3.org/2000/svg'/></html>", "no SVG drawing"),
    "vast.svg": (svg(attributes='width="9e9mm" height="9e9mm"'), "must be 0.1 to 5080 mm"),
    "sizeless.svg": (svg(attributes=""), "neither a size nor a viewBox"),
    "many.svg": (svg("<g/>" * 200_001), "more than 200000 elements"),
    "locked.pdf": (pdf(encryption=pikepdf.Encryption(user="secret", owner="other")), "locked by a password"),
    "empty.pdf": (pdf(pages=0), "damaged or no PDF|has 0 pages"),
    "vast.pdf": (pdf(size=(14400, 14400), page={"/UserUnit": 100}), "must be 0.1 to 5080 mm"),
    "cut.pdf": (pdf()[:300], "damaged"),
    "cut.psd": (psd()[:200], "damaged"),
    "channel.psd": (flat_psd(8)[:-200], "damaged"),
    "huge.psd": (flat_psd(8)[:14] + (90_000).to_bytes(4, "big") * 2 + flat_psd(8)[22:], "damaged|60 million"),
}


@pytest.mark.parametrize("name", BAD)
def test_bad_drawings_are_refused_in_one_line(name):
    data, words = BAD[name]
    with pytest.raises(ArtError, match=words) as caught:
        read_art(data, name)
    assert str(caught.value).startswith(name)
    assert "\n" not in str(caught.value)


@pytest.mark.slow
def test_endless_filters_end_at_the_time_limit_and_the_next_drawing_is_drawn():
    blur = '<feGaussianBlur stdDeviation="400"/><feMorphology operator="dilate" radius="300"/>' * 400
    hard = svg(f'<filter id="f" x="-9" y="-9" width="30" height="30">{blur}</filter>'
               f'{"<g filter=" + chr(34) + "url(#f)" + chr(34) + ">"}<circle cx="30" cy="20" r="15"/></g>')  # fmt: skip
    short = Renderer(patience_s=6.0, most=1)
    with pytest.raises(ArtError, match=r"takes too long|more than can be drawn|damaged"):
        short.draw(hard, Request(kind="svg", name="hard.svg"))
    answer, _ = short.draw(svg(), Request(kind="svg", name="a.svg"))
    assert answer.width_px > 0
    short.close()


def the_process(renderer):
    (child,) = renderer._free.queue
    return child._process


@pytest.mark.slow
def test_a_child_that_dies_is_replaced():
    renderer = Renderer(most=1)
    renderer.draw(svg(), Request(kind="svg", name="a.svg"))
    process = the_process(renderer)
    os.kill(process.pid, signal.SIGKILL)
    process.wait()
    assert renderer.draw(svg(), Request(kind="svg", name="a.svg"))[0].width_px > 0
    renderer.close()


def test_cancelling_ends_the_child_and_the_next_drawing_is_drawn():
    renderer = Renderer(most=1)
    renderer.draw(svg(), Request(kind="svg", name="a.svg"))
    process = the_process(renderer)
    with pytest.raises(Cancelled):
        renderer.draw(svg(), Request(kind="svg", name="a.svg"), cancelled=lambda: True)
    assert process.poll() is not None
    assert renderer.draw(svg(), Request(kind="svg", name="a.svg"))[0].width_px > 0
    renderer.close()


def test_a_file_that_is_refused_does_not_cost_the_child():
    renderer = Renderer(most=1)
    renderer.draw(svg(), Request(kind="svg", name="a.svg"))
    process = the_process(renderer)
    with pytest.raises(ArtError):
        renderer.draw(b"<svg", Request(kind="svg", name="a.svg"))
    assert the_process(renderer) is process
    assert process.poll() is None
    renderer.close()


def test_a_page_of_a_pdf_has_its_size_and_colour():
    art = read_art(pdf(pages=3), "a.pdf", ArtSource(page=2))
    assert art.page_count == 3
    assert art.stated_width_mm == pytest.approx(50.8, rel=1e-3)
    place = (art.height_px // 2, art.width_px * 50 // 144)
    assert tuple(art.pixels[place]) == (255, 0, 0, 255)
    assert art.pixels[3, 3, 3] == 0
    with pytest.raises(ArtError, match="has no page 4, but 3 pages: take one of 1 to 3"):
        read_art(pdf(pages=3), "a.pdf", ArtSource(page=4))


def test_a_pages_unit_and_turn_are_heeded():
    assert read_art(pdf(page={"/UserUnit": 2}), "a.pdf").stated_width_mm == pytest.approx(101.6, rel=1e-3)
    assert read_art(pdf(page={"/Rotate": 90}), "a.pdf").stated_width_mm == pytest.approx(25.4, rel=1e-3)


def test_layers_of_a_psd_become_layers():
    art = read_art(psd(), "a.psd")
    assert art.layers == ("Back", "Dot")
    assert tuple(art.pixels[70, 70]) == (40, 40, 200, 255)
    without = read_art(psd(), "a.psd", ArtSource(hidden_layers=(0,)))
    assert without.pixels[20, 20, 3] == 0
    assert tuple(without.pixels[70, 70]) == (40, 40, 200, 255)


@pytest.mark.parametrize(("space", "said"), [("LAB", "for other colours"), ("sRGB", "")])
def test_the_colour_profile_of_a_psd_is_applied_or_left_aside(space, said):
    art = read_art(psd(profile=ImageCms.ImageCmsProfile(ImageCms.createProfile(space)).tobytes()), "a.psd")
    assert said in "".join(art.notes)
    assert bool(art.notes) == bool(said)
    assert tuple(art.pixels[20, 20]) == (200, 40, 40, 255)


def test_16_bits_and_cmyk_are_converted_and_said():
    deep = read_art(flat_psd(16), "a.psd")
    assert any("16 bits" in note for note in deep.notes)
    assert tuple(deep.pixels[0, 0]) == (0, 0, 0, 255)
    assert tuple(deep.pixels[-1, -1]) == (255, 255, 255, 255)
    assert any("CMYK" in note for note in read_art(flat_psd(8, 4, 4), "a.psd").notes)


def test_a_region_is_cut_out_with_its_size():
    whole = read_art(svg(), "a.svg", width_mm=60)
    right = read_art(svg(), "a.svg", ArtSource(region=(0.5, 0.0, 1.0, 1.0)), width_mm=30)
    assert right.width_px == pytest.approx(whole.width_px / 2, abs=1)
    assert right.stated_width_mm == pytest.approx(30, rel=2e-3)
    assert (right.pixels == whole.pixels[:, whole.width_px - right.width_px :]).all()
