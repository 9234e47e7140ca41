"""What is printed beside the art, prints as pictures, and the hand-off pack."""

import io
from dataclasses import replace

import numpy as np
import pypdfium2
import pytest
import svgelements
from PIL import Image

from drawings import pdf_with_discs
from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.output.prepare_files import output_names, prepare
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.job import Job
from honest_edge.core.values.machine import MACHINES, Machine
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.printer import Printer
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from honest_edge.core.values.stock import Stock
from honest_edge.files.print_png import page_pixels
from pictures import disc_png

PPI = 600
PX = PPI / 25.4


def job_of(sheet=SheetSpec(), title="Ruled", **more):  # noqa: B008 - a frozen value
    holder = JobHolder()
    design = design_from(holder, Job(), disc_png(), "disc.png")
    design = replace(design, width_mm=40, copies=3, fills=False, edge=SCHOOL_DEFAULTS["bleed"])
    return with_designs(Job(title=title, sheet=sheet, **more), [design]), holder.assets


def written(*args, **more):
    job, assets = job_of(*args, **more)
    return prepare(job, Pipeline(assets))


def dark(data):
    """Return where the first page of a PDF is dark, at 600 ppi."""
    page = pypdfium2.PdfDocument(data)[0]
    return page.render(scale=PPI / 72, grayscale=True).to_numpy().squeeze() < 128


def test_a_ruler_of_stated_length_is_printed_below_the_art_and_clear_of_the_marks():
    inked = dark(written()["print.pdf"])
    strip = inked[round(268.4 * PX) : round(274.4 * PX)]  # between the usable area and the printer's rim
    strip = strip[:, round(33 * PX) :]  # beside the corner's clear space
    rows = np.flatnonzero(strip.any(axis=1))
    assert 1 < (rows[-1] - rows[0]) / PX < 4
    runs = [np.diff(np.flatnonzero(np.diff(np.r_[0, row, 0].astype(int))))[::2].max(initial=0) for row in strip]
    assert max(runs) / PX == pytest.approx(50.2, abs=0.1)  # from the outer side of its first tick to that of its last
    assert not inked[round(274.5 * PX) :].any()


@pytest.mark.parametrize(
    "sheet",
    [
        SheetSpec(printer=Printer(rim_mm=10)),
        SheetSpec(paper="own", own_mm=(80, 160), machine=Machine(marks=MarkSpec(length_mm=12, clear_mm=2))),
    ],
    ids=["little rim", "narrow paper"],
)
def test_where_there_is_no_room_nothing_is_printed_over_art_or_rim(sheet):
    inked = dark(written(sheet)["print.pdf"])
    bottom = round((sheet.size_mm[1] - 12 + 0.5) * PX)
    assert not inked[bottom:].any()


def test_a_title_that_the_font_cannot_set_leaves_the_ruler():
    assert dark(written(title="𓀀𓀁")["print.pdf"])[round(268.4 * PX) : round(274 * PX)].any()


@pytest.mark.slow
def test_a_print_as_picture_states_its_ppi_and_equals_the_print_file():
    job, assets = job_of(png_ppi=300.0)
    pipeline = Pipeline(assets)
    contents = prepare(job, pipeline)
    overview = compute_overview(job, pipeline)
    assert set(contents) == set(output_names(overview.plan, job, overview.laid))
    assert "print.pdf" not in contents
    picture = Image.open(io.BytesIO(contents["print-1.png"]))
    assert picture.info["dpi"] == pytest.approx((300, 300), abs=0.01)
    assert (picture.width / 300 * 25.4, picture.height / 300 * 25.4) == pytest.approx((215.9, 279.4), abs=1e-6)
    other = pypdfium2.PdfDocument(written()["print.pdf"])[0].render(scale=300 / 72).to_pil().convert("RGB")
    whole = other.crop((0, 0, *picture.size))  # the reader fits 3300 dots to 3301
    assert np.abs(np.asarray(picture, np.int16) - np.asarray(whole, np.int16)).mean() < 0.2


def test_pages_are_drawn_without_being_fitted_to_whole_pixels():
    """A disc 15 mm from the far corner of A4, of 2480.3 x 3507.9 pixels, within a hundredth of a pixel."""
    page = pdf_with_discs((210, 297), [(195, 282)])
    ink = 255 - page_pixels(page, 0, 300)[..., 0]
    along, down = (ink.sum(axis=axis, dtype=float) for axis in (0, 1))
    middle = np.array([along @ (np.arange(len(along)) + 0.5), down @ (np.arange(len(down)) + 0.5)]) / along.sum()
    assert middle == pytest.approx([195 / 25.4 * 300, 282 / 25.4 * 300], abs=0.02)


@pytest.mark.slow
def test_the_hand_off_pack_has_one_extent_and_no_marks():
    machine = next(one for one in MACHINES if one.prints_own_marks)
    job, assets = job_of(SheetSpec(machine=machine))
    pipeline = Pipeline(assets)
    contents = prepare(job, pipeline)
    overview = compute_overview(job, pipeline)
    assert set(contents) == set(output_names(overview.plan, job, overview.laid))
    usable = overview.plan.usable
    size = f"{usable.width:.1f}x{usable.height:.1f}mm"
    assert sorted(set(contents) - {"report.json", "ticket.pdf"}) == [
        f"handoff-1-{part}-{size}.{kind}" for part, kind in (("kiss", "png"), ("kiss", "svg"), ("print", "png"))
    ]
    pictures = [Image.open(io.BytesIO(data)) for name, data in contents.items() if name.endswith(".png")]
    assert len({picture.size for picture in pictures}) == 1
    assert pictures[0].width / 300 * 25.4 == pytest.approx(usable.width, abs=0.1)
    for picture in pictures:  # what trims empty margins keeps both corners
        assert picture.mode == "RGBA"
        assert picture.getbbox() == (0, 0, *picture.size)
    svg = svgelements.SVG.parse(io.BytesIO(contents[f"handoff-1-kiss-{size}.svg"]), ppi=25.4)
    assert (float(svg.width), float(svg.height)) == pytest.approx((usable.width, usable.height), abs=1e-3)
    # the filled line and the line itself are one: its area in the picture against the disc's own
    printed, cut = (np.asarray(picture)[..., 3] / 255 for picture in pictures)
    radius = 40 * 100 / 240
    assert cut.sum() * (25.4 / 300) ** 2 == pytest.approx(3 * np.pi * radius**2, rel=0.003)
    assert printed.sum() * (25.4 / 300) ** 2 == pytest.approx(3 * np.pi * (radius + 1.27) ** 2, rel=0.01)
    boxes = [path.bbox() for path in svg.elements() if isinstance(path, svgelements.Path)]
    rows, columns = np.nonzero(cut > 0.5)
    left, top = (min(box[k] for box in boxes) for k in (0, 1))
    assert (columns.min() * 25.4 / 300, rows.min() * 25.4 / 300) == (
        pytest.approx(left, abs=0.1),
        pytest.approx(top, abs=0.1),
    )


def words_of(data):
    with pypdfium2.PdfDocument(data) as pdf:
        return len(pdf), " ".join(page.get_textpage().get_text_range().replace("\r\n", " ") for page in pdf)


@pytest.mark.slow
def test_the_ticket_is_one_page_that_says_what_is_made_and_what_to_measure():
    contents = written(title="Tins & “tags”")
    pages, words = words_of(contents["ticket.pdf"])
    assert pages == 1
    for text in (
        "Tins & “tags”",
        "3 stickers on 1 sheet of Letter (215.9 × 279.4 mm)",
        "3 × Disc, 33.3 × 33.3 mm",
        "The ruler below the art: 50 mm.",
        "191.9 mm across, 255.4 mm down",  # Letter less twice the inset of 12 mm
        "Files: cut-1.svg, cut-1.dxf",
        "Kiss cut: through the stock, not through its liner (0.1 mm); 1 pass.",
        "At 100 mm/s all sheets take 5 s at least",  # three rings of 105 mm are 3.1 s, and the way between them
        "The sticker farthest from the marks is cut first",
    ):
        assert text in words
    assert contents["ticket.pdf"] == written(title="Tins & “tags”")["ticket.pdf"]
    with pypdfium2.PdfDocument(contents["ticket.pdf"]) as pdf:
        shown = np.asarray(pdf[0].render(scale=2).to_pil().convert("RGB"), int)
    assert (np.abs(shown - (40, 90, 160)).max(axis=-1) < 25).any()  # the discs' blue: the sheet is pictured


@pytest.mark.slow
def test_the_ticket_states_the_size_of_the_hand_off_pack_and_cautions():
    machine = next(one for one in MACHINES if one.prints_own_marks)
    _, words = words_of(written(SheetSpec(machine=machine, stock=Stock(gloss="mirror")))["ticket.pdf"])
    assert "own program, which adds the marks: type in 191.9 × 180.0 mm for every part" in words
    assert "does not reach the mark" not in words
    assert "cut first" not in words
    assert "The stock is mirror" in words
    assert "The ruler below the art" not in words
