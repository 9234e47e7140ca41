"""Stock that is seen from behind: print and cut are mirrored together, and it is said on sheet, ticket and report."""

import io
from dataclasses import replace

import cv2
import msgspec
import numpy as np
import pypdfium2
import pytest
import shapely

from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.output.prepare_files import prepare
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from honest_edge.core.values.stock import STOCKS
from honest_edge.files.report import Report
from pictures import coverage, png, rgba

FLAG = np.array([[20, 20], [60, 20], [60, 60], [220, 60], [220, 120], [60, 120], [60, 220], [20, 220]], float)
IRON_ON = next(stock for stock in STOCKS if stock.is_mirrored)


@pytest.fixture
def job():
    holder = JobHolder()
    design = design_from(holder, Job(), png(rgba(coverage(FLAG, 240, 240)), dpi=(300, 300)), "flag.png")
    design = replace(design, copies=1, fills=False, edge=SCHOOL_DEFAULTS["bare"])
    made = with_designs(Job(), [design])
    sheet = replace(made.sheet, turning="none")
    return replace(made, sheet=sheet), holder


def printed(contents):
    with pypdfium2.PdfDocument(contents["print.pdf"]) as pdf:
        page = np.asarray(pdf[0].render(scale=300 / 72).to_pil().convert("L"))
        words = pdf[0].get_textpage().get_text_range()
    return page, words


def flag_of(page):
    """The largest dark thing on a page, as a mask of its own."""
    count, labels, sizes, _ = cv2.connectedComponentsWithStats((page < 170).astype(np.uint8))
    largest = 1 + int(sizes[1:count, cv2.CC_STAT_AREA].argmax())
    left, top, width, height, _ = sizes[largest]
    return (labels[top : top + height, left : left + width] == largest), (int(left), int(top))


def test_print_and_cut_are_mirrored_together(job):
    plain_job, holder = job
    film_job = replace(plain_job, sheet=replace(plain_job.sheet, stock=IRON_ON))
    plain, film = (prepare(one, Pipeline(holder.assets)) for one in (plain_job, film_job))
    one, _ = flag_of(printed(plain)[0])
    other, (left, top) = flag_of(printed(film)[0])
    assert one.shape == other.shape
    assert (one[:, ::-1] == other).mean() > 0.99
    assert (one == other).mean() < 0.9
    overview = compute_overview(film_job, Pipeline(holder.assets))
    (placement,) = overview.plan.pages[0]
    cut = shapely.transform(overview.laid[0].cut.area, lambda p: p @ placement.matrix[:, :2].T + placement.matrix[:, 2])
    mm = 25.4 / 300
    assert cut.bounds[0] == pytest.approx(left * mm, abs=0.15)
    assert cut.bounds[1] == pytest.approx(top * mm, abs=0.15)
    pole = shapely.Point((left + other.shape[1] * 0.9) * mm, (top + other.shape[0] * 0.8) * mm)
    assert cut.contains(pole)  # the pole of the flag stands at the right now
    before = overview.results["d1"].cut.area  # as it was designed it stands at the left
    assert not before.contains(shapely.Point(200 * mm, 180 * mm))


def test_it_is_said_on_the_ticket_and_in_the_report(job):
    plain_job, holder = job
    film_job = replace(plain_job, sheet=replace(plain_job.sheet, stock=IRON_ON))
    contents = prepare(film_job, Pipeline(holder.assets))
    assert msgspec.json.decode(contents["report.json"], type=Report).is_mirrored
    with pypdfium2.PdfDocument(io.BytesIO(contents["ticket.pdf"])) as pdf:
        words = " ".join(page.get_textpage().get_text_range() for page in pdf).replace("\r\n", " ")
    assert "mirrored already" in words
    plain = prepare(plain_job, Pipeline(holder.assets))
    assert not msgspec.json.decode(plain["report.json"], type=Report).is_mirrored
