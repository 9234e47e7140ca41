"""What is kept, laid into another job, and filled with other art and words."""

from dataclasses import replace

import pytest

from honest_edge.app.edits.fill_template import fill_template
from honest_edge.app.edits.library import design_alone, laid_into, places_of
from honest_edge.app.edits.open_art import demo_project
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.errors import FileError, UsageError
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import OutlineRecipe
from pictures import disc_png


@pytest.fixture(scope="module")
def demo():
    return demo_project()


def named(job, name):
    return next(design for design in job.designs if design.name == name)


def test_a_design_comes_back_as_it_was(demo):
    bee = named(demo.job, "Bee")
    kept = design_alone(demo.job, bee.key)
    assert kept.designs == (bee,)
    job, key = laid_into(Job(title="Next"), kept)
    assert replace(job.designs[0], key=bee.key) == bee
    again, other = laid_into(job, kept)
    assert (key, other) == ("d1", "d2")
    assert [design.name for design in again.designs] == ["Bee", "Bee 2"]


def test_a_sheet_brings_its_stickers_with_it_under_keys_of_their_own(demo):
    sheet = named(demo.job, "Herb sheet")
    kept = design_alone(demo.job, sheet.key)
    assert {design.key for design in kept.designs} == {sheet.key, *sheet.stickers}
    job, key = laid_into(demo.job, kept)
    laid = next(design for design in job.designs if design.key == key)
    assert laid.name == "Herb sheet 2"
    assert not set(laid.stickers) & {design.key for design in demo.job.designs}
    assert set(laid.stickers) <= {design.key for design in job.designs}
    assert job.designs[: len(demo.job.designs)] == demo.job.designs


def test_no_design_is_said(demo):
    with pytest.raises(UsageError, match="Take a design in hand"):
        design_alone(demo.job, "none")


def test_the_places_of_a_sheet_are_its_stickers_and_its_words(demo):
    sheet = named(demo.job, "Herb sheet")
    places = places_of(design_alone(demo.job, sheet.key))
    assert {name for _, name in places.art} <= {"Bee", "Badge", "Lavender", "Teapot", "Thyme", "Tin lid"}
    assert len(places.art) >= 2
    assert "Herb garden" in [text for _, _, text in places.words]


def test_without_stickers_every_picture_is_a_place_and_words_of_a_table_are_none(demo):
    job = Job(title="Two", designs=(named(demo.job, "Bee"), named(demo.job, "Tin wrap")))
    places = places_of(job)
    assert [name for _, name in places.art] == ["Bee"]
    assert places.words == ()


def test_two_faces_that_show_the_same_stickers_are_filled_together(demo, tmp_path):
    white = design_alone(demo.job, named(demo.job, "Herb sheet").key)
    sheet = named(white, "Herb sheet")
    black = replace(sheet, key="d90", name="Herb sheet, black", form=replace(sheet.form, rgb=(0, 0, 0)))
    template = replace(white, designs=(*white.designs, black), title="Faces")
    (first, *_), words = places_of(template).art, places_of(template).words
    (tmp_path / "new leaf.png").write_bytes(disc_png())
    typed = {(design, layer): "Rose garden" for design, layer, text in words if text == "Herb garden"}
    assert len(typed) == 2
    job, assets = fill_template(template, demo.assets, " Roses ", {first[0]: tmp_path / "new leaf.png"}, typed)
    assert job.title == "Roses"
    art = next(design for design in job.designs if design.key == first[0])
    assert (art.name, art.file_name) == ("New leaf", "new leaf.png")
    old = next(design for design in template.designs if design.key == first[0])
    assert art.edge == old.edge
    assert art.width_mm <= old.width_mm
    assert set(assets) == {asset for design in job.designs for asset in design.assets}
    shown = [layer.lettering.text for design in job.designs for layer in design.layers if layer.lettering]
    assert shown.count("Rose garden") == 2
    overview = compute_overview(job, Pipeline(assets))
    assert not overview.blocked
    assert all(art.key in design.stickers for design in job.designs if design.stickers)


def test_what_was_told_of_the_old_picture_by_hand_is_forgotten(demo, tmp_path):
    bee = replace(named(demo.job, "Bee"), outline=OutlineRecipe(tolerance=30, trace_area=(0, 0, 0.5, 1), hole_mm2=4))
    template = Job(title="Bee", designs=(bee,))
    (tmp_path / "disc.png").write_bytes(disc_png())
    job, _ = fill_template(template, demo.assets, "", {bee.key: tmp_path / "disc.png"}, {})
    (design,) = job.designs
    assert design.outline == OutlineRecipe(hole_mm2=4)
    assert job.title == "Bee"


def test_a_picture_that_cannot_be_read_is_said(demo, tmp_path):
    bee = named(demo.job, "Bee")
    with pytest.raises(FileError):
        fill_template(Job(title="Bee", designs=(bee,)), demo.assets, "", {bee.key: tmp_path / "gone.png"}, {})
