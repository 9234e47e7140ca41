"""Layers through the pipeline: findings, lines to files, letters as designs, originals that are gone."""

from __future__ import annotations

import io
from dataclasses import replace

import ezdxf
import numpy as np
import pytest
import svgelements

from honest_edge.app.edits.job_holder import JobHolder
from honest_edge.app.edits.letter_designs import letter_designs
from honest_edge.app.output.prepare_files import prepare
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.layers.lettering import letter
from honest_edge.core.layers.letters import letters_of
from honest_edge.core.layers.paint import fill_matrix
from honest_edge.core.layers.stack import Content, stack_of
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.forms import Form
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import (
    AS_DRAWN,
    FIRST_FONT,
    Code,
    FillPlace,
    Layer,
    Lettering,
    Paint,
    Picture,
    Shape,
)
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from honest_edge.core.values.tables import Table
from honest_edge.files.font_folder import FONT_FOLDER
from honest_edge.files.typefaces import FontLibrary, font_library
from pictures import disc_png

BOX = Shape(kind="box", width_mm=40, height_mm=30)


def job_of(*layers, form=None, **more):
    more = {"edge": replace(SCHOOL_DEFAULTS["bleed"], line_kind="through"), "copies": 1, **more}
    return Job(designs=(Design(key="d1", name="Label", layers=layers, form=form, outline=AS_DRAWN, **more),))


@pytest.fixture
def pipeline():
    return Pipeline(JobHolder().assets, FontLibrary((FONT_FOLDER,)))


def checks(job, pipeline):
    return {finding.check: finding.message for finding in pipeline.result(job.designs[0], job).findings}


def test_the_contour_of_layers_is_exact_and_not_traced(pipeline):
    job = job_of(Layer(key="a", shape=Shape(kind="oval", width_mm=40, height_mm=40)))
    result = pipeline.result(job.designs[0], job)
    assert result.outline.area.area == pytest.approx(np.pi * 400, rel=1e-5)
    assert result.cut.node_count <= 12


@pytest.mark.slow
def test_a_layer_outside_the_form_is_said(pipeline):
    form = Form(kind="label", width_mm=50, height_mm=40)
    inside, outside = Layer(key="a", shape=BOX), Layer(key="b", shape=BOX, x_mm=200, name="Lost box")
    assert "outside" not in checks(job_of(inside, form=form), pipeline)
    assert "“Lost box” is printed" in checks(job_of(inside, outside, form=form), pipeline)["outside"]


@pytest.mark.parametrize(
    ("repeat_mm", "ppi"),
    [(0.0, 240 / 40 * 25.4), (30.0, 240 / 30 * 25.4), (10.0, 240 / 10 * 25.4)],
    ids=["over all of it", "a coarse pattern", "a fine pattern"],
)
def test_a_form_filled_with_a_picture_is_as_sharp_as_the_picture(repeat_mm, ppi):
    """A box of 40 mm filled with a picture of 240 px."""
    fill = JobHolder()
    paint = Paint(asset=fill.add_asset(disc_png()), file_name="disc.png", repeat_mm=repeat_mm)
    job = job_of(Layer(key="a", shape=BOX, paint=paint, name="Sky"))
    result = Pipeline(fill.assets, FontLibrary((FONT_FOLDER,))).result(job.designs[0], job)
    assert result.ppi == pytest.approx(ppi)
    soft = [finding for finding in result.findings if finding.check == "ppi"]
    assert [round(finding.measured.value) for finding in soft] == ([round(ppi)] if ppi < 300 else [])
    for finding in soft:
        assert f"“Sky” is printed at {ppi:.0f} ppi" in finding.message
        assert ("repeat" in finding.remedy) == (repeat_mm > 0)
        assert finding.places[0].middle_mm == pytest.approx((20, 15), abs=0.1)


@pytest.mark.slow
def test_the_cut_keeps_off_a_codes_quiet_zone(pipeline):
    form = Form(kind="label", width_mm=50, height_mm=40)
    code = Code(kind="QR", text="Quillwort", width_mm=20)
    assert "quiet" not in checks(job_of(Layer(key="q", code=code), form=form), pipeline)
    near = checks(job_of(Layer(key="q", code=code, x_mm=14.8), form=form), pipeline)
    assert "0.2 mm from a code’s quiet zone" in near["quiet"]
    fine = Code(kind="Code 128", text="QUILLWORT-2026-0001", width_mm=30)
    assert "too fine to be read" in checks(job_of(Layer(key="q", code=fine), form=form), pipeline)["code"]


@pytest.mark.slow
def test_lines_travel_to_svg_and_dxf_each_with_its_kind(pipeline):
    form = Form(kind="label", width_mm=60, height_mm=50)
    line = Shape(kind="line", width_mm=40, height_mm=1)
    job = job_of(
        Layer(key="fold", shape=line, role="line", line="crease", y_mm=-10),
        Layer(key="tear", shape=line, role="line", line="perforate", cut_mm=3, tie_mm=1, y_mm=10),
        Layer(key="peel", shape=Shape(kind="oval", width_mm=12, height_mm=12), role="line", line="kiss", turn_deg=20),
        form=form,
    )
    contents = prepare(job, pipeline)
    svg = svgelements.SVG.parse(io.StringIO(contents["cut-1.svg"].decode()), ppi=25.4)
    groups = {g.id: [p for p in g if isinstance(p, svgelements.Path)] for g in svg if isinstance(g, svgelements.Group)}
    assert {kind: len(paths) for kind, paths in groups.items() if kind != "marks"} == {
        "kiss": 1,
        "crease": 1,
        "perforate": 10,
        "through": 1,
    }
    assert groups["crease"][0].length() == pytest.approx(40, abs=1e-3)
    assert sum(path.length() for path in groups["perforate"]) == pytest.approx(30, abs=1e-2)
    assert list(groups) == ["kiss", "crease", "perforate", "through", "marks"]
    space = ezdxf.read(io.StringIO(contents["cut-1.dxf"].decode())).modelspace()
    assert [len(space.query(f'LWPOLYLINE[layer=="{kind}"]')) for kind in groups][:4] == [1, 1, 10, 1]
    assert [e.closed for e in space.query('LWPOLYLINE[layer=="crease"]')] == [False]
    (crease,) = space.query('LWPOLYLINE[layer=="crease"]')
    ends = np.array([(x, y) for x, y, *_ in crease.get_points()])
    assert np.hypot(*(ends[-1] - ends[0])) == pytest.approx(40, abs=1e-3)


def test_an_original_that_is_gone_is_said_with_its_layer(pipeline):
    picture = Picture(asset="0" * 64, file_name="gone.png", width_mm=30)
    job = job_of(Layer(key="a", shape=BOX), Layer(key="p", picture=picture))
    with pytest.raises(BlockedError, match=r"Layer “gone\.png”: “gone\.png” is not in this job any more"):
        pipeline.result(job.designs[0], job)
    overview = compute_overview(job, pipeline)
    assert "not in this job any more" in overview.blocked["d1"].message


@pytest.mark.slow
def test_a_row_that_cannot_be_made_is_said_before_anything_is_written(pipeline):
    form = Form(kind="label", width_mm=60, height_mm=50)
    good, bad = ("Lemon verbena", "400638133393"), ("Mint", "400638133393777")
    table = Table(file_name="t.csv", columns=("name", "code"), rows=(good, good))
    code = Layer(key="c", code=Code(kind="EAN-13", text="{code}", width_mm=35))
    words = Layer(key="w", lettering=Lettering(text="{name}", family="Playfair Display", style="Bold", size_mm=4))
    assert "field" not in checks(job_of(code, words, form=form, table=table), pipeline)
    job = job_of(code, words, form=form, table=replace(table, rows=(good, bad)))
    assert "row 2 cannot be made: EAN-13 cannot say" in checks(job, pipeline)["field"]
    with pytest.raises(BlockedError, match="Row 2 of Label: Layer “EAN-13: 400638133393777”"):
        prepare(job, pipeline)


def test_a_sheet_cannot_lie_on_a_sheet(pipeline):
    from honest_edge.core.values.layers import Sticker

    form = Form(kind="sticker sheet", width_mm=80, height_mm=100)
    one = Layer(key="s", sticker=Sticker(design="d1"))
    first = Design(key="d1", name="First", form=form, layers=(replace(one, sticker=Sticker(design="d2")),))
    second = Design(key="d2", name="Second", form=form, layers=(one,))
    job = Job(designs=(first, second))
    with pytest.raises(BlockedError, match="is a sheet of stickers itself"):
        pipeline.result(first, job)


@pytest.mark.slow
def test_letters_become_designs_as_large_as_the_sheet_allows(pipeline):
    fill = JobHolder()
    asset = fill.add_asset(disc_png())
    words = Lettering(text="TEA!", family="Playfair Display", style="Bold")
    layer = Layer(key="w", lettering=words, paint=Paint(asset=asset, file_name="disc.png"), turn_deg=30)
    job = replace(job_of(layer, edge=SCHOOL_DEFAULTS["border"]), sheet=SheetSpec(paper="own", own_mm=(120, 120)))
    pipeline = Pipeline(fill.assets, FontLibrary((FONT_FOLDER,)))
    each = letter_designs(job, job.designs[0], "w")
    sizes = [design.layers[0].lettering.size_mm for design in each.designs[1:]]
    assert sizes[-1] > 1.2 * min(sizes)  # a narrow sign may be larger than the widest letter
    assert each.designs[0].label_count == 0  # the words themselves are not made any more
    found = compute_overview(replace(each, designs=each.designs[1:]), pipeline)
    assert found.plan is not None
    assert len(found.plan.pages) == 4  # each has a page of its own, though a narrow sign had room beside another
    grown = letter_designs(job, job.designs[0], "w", one_size=True)
    made = grown.designs[1:]
    assert [design.name for design in made] == ["Letter T", "Letter E", "Letter A", "Letter !"]
    assert len({design.layers[0].lettering.size_mm for design in made}) == 1
    assert all(design.layers[0].paint.asset == asset for design in made)
    alone = replace(grown, designs=made)
    overview = compute_overview(alone, pipeline)
    assert overview.plan is not None
    assert [len(page) for page in overview.plan.pages] == [1, 1, 1, 1]
    largest = max(made, key=lambda design: overview.results[design.key].footprint.cut.width)
    bigger = replace(
        largest, layers=(replace(largest.layers[0], lettering=replace(largest.layers[0].lettering, size_mm=170)),)
    )
    assert compute_overview(replace(alone, designs=(bigger,)), pipeline).plan is None
    with pytest.raises(BlockedError, match="Only words fall into letters"):
        letter_designs(job_of(Layer(key="b", shape=BOX)), job_of(Layer(key="b", shape=BOX)).designs[0], "b")


def test_letters_on_pages_of_their_own_keep_their_own_part_of_one_photograph():
    """A place of a letter shows the pixel that it showed in the word, however large the letter became."""
    words = Lettering(text="TEA", family=FIRST_FONT[0], style=FIRST_FONT[1], size_mm=12)
    place = FillPlace(zoom=1.3, x_mm=2.0, y_mm=-1.0, turn_deg=20)
    whole = Layer(key="w", lettering=words, paint=Paint(asset="a" * 64, file_name="sea.jpg", place=place))
    job = job_of(whole)
    face = font_library().find(*FIRST_FONT).typeface
    fill = np.zeros((300, 450, 4), np.uint8)

    def shown(layer, at):
        """Return the pixel of the photograph at a place of a layer's own frame."""
        content = Content(area=letter(layer.lettering, face).area, fill=fill)
        (entry,) = stack_of([layer], {layer.key: content}, None).entries
        return np.linalg.inv(np.vstack([fill_matrix(entry), [0, 0, 1]])) @ [*at, 1]

    grown = letter_designs(job, job.designs[0], "w", aspect=1.5)
    singles = letters_of(words, face)
    for design, one in zip(grown.designs[1:], singles, strict=True):
        (layer,) = design.layers
        by = layer.lettering.size_mm / one.lettering.size_mm
        assert by > 3
        for across, down in ((0.0, 0.0), (2.0, -3.0), (-1.5, 4.0)):
            in_word = shown(whole, (one.x_mm + across, one.y_mm + down))
            assert shown(layer, (across * by, down * by)) == pytest.approx(in_word, abs=0.5)
    patterned = replace(whole, paint=replace(whole.paint, repeat_mm=9))
    kept = letter_designs(job_of(patterned), job_of(patterned).designs[0], "w", aspect=1.5)
    assert kept.designs[1].layers[0].paint == patterned.paint  # a pattern goes on as it is
