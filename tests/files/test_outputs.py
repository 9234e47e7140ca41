"""Written files, read back by other libraries and measured."""

import io
import json
import math
from dataclasses import replace

import ezdxf
import ezdxf.path
import numpy as np
import pikepdf
import pypdfium2
import pytest
import shapely
import svgelements
from jsonschema import Draft202012Validator
from skimage.measure import label, regionprops

from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.output.prepare_files import prepare
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.job import Job
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import SCHOOL_DEFAULTS, EdgeRecipe
from honest_edge.files.report import report_schema
from pictures import disc_png

pytestmark = pytest.mark.slow

WIDTH_MM = 20.0
RADIUS_MM = WIDTH_MM * 100 / 240


def job_of(edge=SCHOOL_DEFAULTS["bare"], copies=2, paper="letter", data=None):
    holder, job = JobHolder(), Job(title="Discs", sheet=SheetSpec(paper=paper))
    design = design_from(holder, job, data or disc_png(), "disc.png")
    job = with_designs(job, [replace(design, width_mm=WIDTH_MM, copies=copies, fills=False, edge=edge)])
    return job, holder.assets


def written(**choices):
    job, assets = job_of(**choices)
    return prepare(job, Pipeline(assets))


@pytest.fixture(scope="module")
def bare():
    return written()


def centres_in_report(contents):
    report = json.loads(contents["report.json"])
    return [(p["x_mm"] + WIDTH_MM / 2, p["y_mm"] + WIDTH_MM / 2) for p in report["sheets"][0]["placements"]]


def discs_in_pdf(data, ppi=1200):
    """Centres and radii of the printed discs, from the page rendered at 1200 ppi; marks are black and left out."""
    page = pypdfium2.PdfDocument(data)[0]
    below_mm = 60  # all discs of these tests lie above
    crop = (0, page.get_height() - below_mm / 25.4 * 72, 0, 0)
    bitmap = page.render(scale=ppi / 72, crop=crop).to_numpy()[..., :3]
    inked = bitmap.max(axis=2) > bitmap.min(axis=2).astype(int) + 60
    mm = 25.4 / ppi
    found = []
    for region in regionprops(label(inked)):
        if region.area > 1000:
            row, column = region.centroid
            found.append(((column + 0.5) * mm, (row + 0.5) * mm, math.sqrt(region.area / math.pi) * mm))
    return sorted(found)


def rings_in_svg(data, group):
    document = svgelements.SVG.parse(io.BytesIO(data), ppi=25.4)
    (found,) = [g for g in document if isinstance(g, svgelements.Group) and g.id == group]
    for shape in found:
        path = svgelements.Path(shape)
        points = [path.point(t) for t in np.linspace(0, 1, 721)[:-1]]
        yield np.array([(p.x, p.y) for p in points])


def rings_in_dxf(data, layer, height_mm):
    document = ezdxf.read(io.StringIO(data.decode()))
    assert document.units == ezdxf.units.MM
    for line in document.modelspace().query(f'LWPOLYLINE[layer=="{layer}"]'):
        points = list(ezdxf.path.make_path(line).flattening(0.0005))[:-1]
        yield np.array([(p.x, height_mm - p.y) for p in points])


def circle(points):
    """Centre and radius of a closed ring of points, from its area and centroid."""
    ring = shapely.Polygon(points)
    return ring.centroid.x, ring.centroid.y, math.sqrt(ring.area / math.pi)


def test_print_and_cut_of_a_disc_agree(bare):
    truth = sorted(centres_in_report(bare))
    printed = discs_in_pdf(bare["print.pdf"])
    in_svg = sorted(circle(r) for r in rings_in_svg(bare["cut-1.svg"], "kiss"))
    in_dxf = sorted(circle(r) for r in rings_in_dxf(bare["cut-1.dxf"], "kiss", 279.4))
    assert len(printed) == len(in_svg) == len(in_dxf) == len(truth) == 2
    for found in (printed, in_svg, in_dxf):
        for (x, y, radius), (true_x, true_y) in zip(found, truth, strict=True):
            assert math.hypot(x - true_x, y - true_y) <= 0.02
            assert radius == pytest.approx(RADIUS_MM, abs=0.03)


def test_printed_bleed_reaches_past_the_cut_by_what_was_asked():
    contents = written(edge=EdgeRecipe(school="bleed", offset_mm=0, bleed_mm=1.5), copies=1)
    for _, _, radius in discs_in_pdf(contents["print.pdf"]):
        assert radius == pytest.approx(RADIUS_MM + 1.5, abs=0.03)
    for ring in rings_in_svg(contents["cut-1.svg"], "kiss"):
        assert circle(ring)[2] == pytest.approx(RADIUS_MM, abs=0.03)


@pytest.mark.parametrize(("paper", "size"), [("letter", (215.9, 279.4)), ("a4", (210.0, 297.0))])
def test_every_file_has_the_papers_exact_size(paper, size):
    contents = written(paper=paper)
    with pikepdf.open(io.BytesIO(contents["print.pdf"])) as pdf:
        left, bottom, right, top = (float(v) for v in pdf.pages[0].MediaBox)
    assert ((right - left) / 72 * 25.4, (top - bottom) / 72 * 25.4) == pytest.approx(size, abs=0.0005)
    text = contents["cut-1.svg"].decode()
    assert f'width="{size[0]:g}mm" height="{size[1]:g}mm" viewBox="0 0 {size[0]:g} {size[1]:g}"' in text
    document = ezdxf.read(io.StringIO(contents["cut-1.dxf"].decode()))
    assert document.header["$EXTMAX"][:2] == pytest.approx(size)


def test_the_boxes_of_a_page_nest(bare):
    # ISO 32000-2 14.11.2: TrimBox within BleedBox within MediaBox
    with pikepdf.open(io.BytesIO(written(edge=SCHOOL_DEFAULTS["bleed"])["print.pdf"])) as pdf:
        media, bleed, trim = ([float(v) for v in pdf.pages[0][k]] for k in ("/MediaBox", "/BleedBox", "/TrimBox"))
    assert media[0] <= bleed[0] < trim[0] < trim[2] < bleed[2] <= media[2]
    assert media[1] <= bleed[1] < trim[1] < trim[3] < bleed[3] <= media[3]
    assert (trim[0] - bleed[0]) / 72 * 25.4 == pytest.approx(1.27, abs=0.03)


def test_the_trim_box_is_the_box_round_all_cuts_and_no_other():
    """Read by pdfium, which is asked not to fall back on another box where there is none."""
    contents = written(edge=SCHOOL_DEFAULTS["bleed"])
    rings = np.vstack(list(rings_in_svg(contents["cut-1.svg"], "kiss")))
    page = pypdfium2.PdfDocument(contents["print.pdf"])[0]
    height_mm = page.get_mediabox()[3] / 72 * 25.4
    left, bottom, right, top = (value / 72 * 25.4 for value in page.get_trimbox(fallback_ok=False))
    found = (left, height_mm - top, right, height_mm - bottom)
    assert found == pytest.approx((*rings.min(axis=0), *rings.max(axis=0)), abs=0.02)


def test_marks_are_the_same_in_print_and_cut(bare):
    page = pypdfium2.PdfDocument(bare["print.pdf"])[0]
    grey = page.render(scale=600 / 72, grayscale=True).to_numpy().squeeze()
    mm = 600 / 25.4
    for x, y in ((12.5, 20), (20, 12.5), (215.9 - 12.5, 20), (12.5, 279.4 - 20)):
        assert grey[int(y * mm), int(x * mm)] == 0
    assert grey[int((279.4 - 12.5) * mm), int((215.9 - 20) * mm)] == 255  # the free corner
    assert len(list(rings_in_svg(bare["cut-1.svg"], "marks"))) == 6
    assert len(list(rings_in_dxf(bare["cut-1.dxf"], "marks", 279.4))) == 6


def test_line_kinds_go_to_groups_and_layers_of_their_own():
    contents = written(edge=replace(SCHOOL_DEFAULTS["border"], line_kind="through"))
    assert not list(rings_in_svg(contents["cut-1.svg"], "kiss"))
    assert len(list(rings_in_svg(contents["cut-1.svg"], "through"))) == 2
    assert len(list(rings_in_dxf(contents["cut-1.dxf"], "through", 279.4))) == 2


def test_a_page_a_sheet():
    contents = written(copies=240)
    with pikepdf.open(io.BytesIO(contents["print.pdf"])) as pdf:
        pages = len(pdf.pages)
    sheets = json.loads(contents["report.json"])["sheets"]
    assert pages == len(sheets) >= 2
    assert {name for name in contents if name.startswith("cut-")} == {
        f"cut-{n}.{kind}" for n in range(1, pages + 1) for kind in ("svg", "dxf")
    }


def test_the_same_job_gives_the_same_bytes(bare):
    assert written() == bare


def test_the_report_keeps_its_published_schema(bare):
    Draft202012Validator(json.loads(report_schema())).validate(json.loads(bare["report.json"]))


def test_low_resolution_is_reported():
    contents = written(data=disc_png(radius=70, size=168))
    (design,) = json.loads(contents["report.json"])["designs"]
    assert [f["check"] for f in design["findings"]] == ["ppi", "drift"]
    assert design["ppi"] == pytest.approx(168 / (WIDTH_MM / 25.4))
