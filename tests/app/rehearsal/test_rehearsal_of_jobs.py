"""A job on the simulated bench: held against the forecast, drawn where it lies, and counted."""

from dataclasses import replace

import numpy as np
import pytest
import shapely

from honest_edge.app.rehearsal.drawn import drawn_copies, sheet_svg
from honest_edge.app.rehearsal.expected import expected_share
from honest_edge.app.rehearsal.print_count import PrintAdvice, as_job_prints
from honest_edge.app.rehearsal.shares import clean_share, typical_sheet, worst_sheet
from honest_edge.app.rehearsal.stage import staged
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.views.put_together import folded_faces
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.forms import Form
from honest_edge.core.values.layers import Paint
from honest_edge.core.values.misregistration import Misregistration, Scatter
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from honest_edge.files.font_folder import FONT_FOLDER
from honest_edge.files.typefaces import FontLibrary
from honest_edge.simulator.rehearsal import rehearsed
from pictures import coverage, star
from planted import box, labels, layered, pictured

BENCH = Misregistration(
    shift_x_mm=Scatter(bias=0.1, spread=0.25),
    shift_y_mm=Scatter(spread=0.25),
    rotation_deg=Scatter(spread=0.08),
    repeat_mm=0.08,
)


@pytest.fixture(scope="module")
def stars():
    edge = replace(SCHOOL_DEFAULTS["bleed"], bleed_mm=0.5)
    job, assets = pictured(coverage(star(110, 70) + 150, 300, 300), edge=edge)
    (design,) = job.designs
    job = replace(job, designs=(replace(design, copies=30),), error=BENCH)
    overview = compute_overview(job, Pipeline(assets))
    return overview, staged(overview)


def sheets_of(stage, count=400, seed=1):
    return list(rehearsed(stage.stage, BENCH, sheets=count, seed=seed))


def test_rehearsed_share_and_forecast_agree_over_a_whole_job(stars):
    overview, stage = stars
    share, unsure = clean_share(sheets_of(stage, 1500))
    expected = expected_share(overview, stage)
    assert 0.4 < share < 0.95
    assert share == pytest.approx(expected.share, abs=0.02 + expected.uncertainty)
    assert unsure < 0.03


def test_the_range_that_is_said_holds_nineteen_times_of_twenty(stars):
    _, stage = stars
    truth, _ = clean_share(sheets_of(stage, 4000, 99))
    held = [abs(share - truth) <= unsure for share, unsure in (clean_share(sheets_of(stage, 60, s)) for s in range(60))]
    assert np.mean(held) > 0.85


def test_the_worst_and_a_typical_sheet(stars):
    _, stage = stars
    sheets = sheets_of(stage, 60)
    shares = [sheet.good / len(sheet.fates) for sheet in sheets]
    assert shares[worst_sheet(sheets)] == min(shares[:20])
    assert sorted(shares)[28] <= shares[typical_sheet(sheets)] <= sorted(shares)[31]


def test_a_copy_is_drawn_where_its_error_takes_it_and_its_spot_lies_on_its_cut(stars):
    overview, stage = stars
    sheet = sheets_of(stage)[worst_sheet(sheets_of(stage))]
    copies = drawn_copies(overview, stage, sheet)
    spoiled = [copy for copy in copies if copy.fate != "good"]
    assert len(spoiled) == sheet.spoiled > 0
    curve = overview.laid[0].cut.curves[0]
    for copy in spoiled:
        lies = shapely.LinearRing(curve.placed(copy.cut_matrix).flattened(0.01))
        meant = shapely.LinearRing(curve.placed(copy.print_matrix).flattened(0.01))
        at = shapely.Point(copy.spoiled_mm)
        assert meant.distance(at) < 0.05
        assert lies.distance(at) < 2.5
        assert copy.beyond_mm > 0
    shift = np.array(sheet.error.parts[0, :2])
    middle = copies[0].cut_matrix[:, 2] - copies[0].print_matrix[:, 2]
    assert np.hypot(*(middle - shift)) < 0.6  # but for the turn and the repeat
    assert sheet_svg(overview, stage, sheet).count(b"<circle") == len(spoiled)


def test_nothing_printed_and_nothing_laid_out_are_said():
    piece = replace(box("leaf", 20, 20), role="stock")
    overview = compute_overview(layered(piece), Pipeline({}, FontLibrary((FONT_FOLDER,))))
    with pytest.raises(BlockedError, match="Nothing is printed"):
        staged(overview)
    empty = compute_overview(replace(labels(), designs=()), Pipeline({}))
    with pytest.raises(BlockedError, match="nothing to rehearse"):
        staged(empty)


def test_one_more_sheet_is_advised_where_too_few_come_out_good(stars):
    overview, stage = stars
    advice = PrintAdvice(overview, stage)
    assert advice.wanted == (30,)
    now, needed = advice.now(), advice.needed(0.95)
    assert now < 0.9
    assert needed.assurance >= 0.95
    assert needed.sheets > advice.printed
    job = replace(overview.job, prints=as_job_prints(needed.prints))
    again = PrintAdvice(replace(overview, job=job), stage)
    assert again.now() == pytest.approx(needed.assurance, abs=0.02)
    assert as_job_prints((1, 1)) == ()


@pytest.mark.parametrize("fold", ["left", "top"])
def test_a_pop_up_card_is_drawn_folded_with_every_part_of_it_once(fold):
    form = Form(
        kind="pop-up card", width_mm=80, height_mm=90, fold=fold, depth_mm=20, part_width_mm=30, part_height_mm=25
    )
    job = layered(box("ink", 20, 10), form=form)
    result = compute_overview(job, Pipeline({}, FontLibrary((FONT_FOLDER,)))).results["d1"]
    faces = folded_faces(result)
    assert len(faces) == 4
    whole = shapely.union_all([face.region for face in faces])
    assert whole.area == pytest.approx(sum(face.region.area for face in faces), rel=1e-6)
    assert whole.area == pytest.approx(result.cut.area.area, rel=1e-3)
    drawn = [shapely.transform(f.region, lambda p, m=f.matrix: p @ m[:, :2].T + m[:, 2]) for f in faces]
    joined = shapely.union_all([shapely.buffer(face, 0.01) for face in drawn])
    assert joined.geom_type == "Polygon"  # they meet at their creases


@pytest.mark.parametrize("step", range(6))
def test_a_band_that_runs_off_both_edges_is_no_detail_wherever_its_edge_falls_on_the_pixels(step):
    form = Form(kind="label", width_mm=80, height_mm=40, rgb=(247, 236, 214))
    band = replace(box("band", 100, 14, y_mm=13.0 + step * 25.4 / 600 / 3), paint=Paint(rgb=(47, 111, 99)))
    job = layered(band, form=form)
    result = compute_overview(job, Pipeline({}, FontLibrary((FONT_FOLDER,)))).results["d1"]
    assert result.model.detail.is_empty
    assert result.forecast.share_clean == pytest.approx(1.0, abs=1e-3)
