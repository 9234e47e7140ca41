"""What new art and new jobs begin with by habit."""

from dataclasses import replace

import numpy as np
import pytest

from honest_edge.app.edits.habits import begun_job, begun_with, kind_of_art, learnt, plain_outline
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.habits import Habits, Made
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import SCHOOL_DEFAULTS, Correction, OutlineRecipe, WantedSize
from honest_edge.files.habits import HabitsFile
from pictures import disc_png

DESIGN = Design(key="d1", name="Disc", asset="0" * 64, width_mm=80.0, copies=1, fills=True)
LAST = Made(wanted=WantedSize(of="cut", side=0, length_mm=50.0), copies=12, fills=False, edge=SCHOOL_DEFAULTS["bleed"])


def art(alpha=255, **said):
    pixels = np.full((4, 4, 4), 255, np.uint8)
    pixels[0, 0, 3] = alpha
    return Artwork(pixels=pixels, stated_ppi=300.0, size_source="assumed", **said)


@pytest.mark.parametrize(
    ("artwork", "kind"),
    [
        (art(is_vector=True, alpha=0), "drawing"),
        (art(alpha=0), "cut-out picture"),
        (art(lossy=True), "photograph"),
        (art(), "picture"),
    ],
)
def test_what_its_file_tells_says_what_kind_of_art_it_is(artwork, kind):
    assert kind_of_art(artwork) == kind


def test_new_art_begins_as_art_of_its_kind_was_made_last():
    habits = Habits(last={"photograph": LAST})
    begun = begun_with(DESIGN, "photograph", habits)
    assert (begun.copies, begun.fills, begun.edge, begun.wanted) == (12, False, LAST.edge, LAST.wanted)
    assert begun.width_mm == 50.0, "full bleed lies on the art's edge"
    assert begun_with(DESIGN, "drawing", habits) == DESIGN


def test_what_is_always_so_goes_before_what_was_done_last():
    size = WantedSize(of="cut", side=0, length_mm=60.0)
    habits = Habits(last={"photograph": LAST}, edge=SCHOOL_DEFAULTS["border"], size=size)
    begun = begun_with(DESIGN, "photograph", habits)
    assert begun.edge.school == "border"
    assert begun.wanted == size
    assert begun.width_mm == pytest.approx(60 - 2 * 2.0), "its border of 2 mm lies on either side"
    assert begun.copies == 12


def test_the_outline_of_one_picture_is_no_habit():
    mine = OutlineRecipe(
        background="subject", colour=(1, 2, 3), speck_mm2=4.0, corrections=(Correction(kind="dam", points=((0, 0),)),)
    )
    assert plain_outline(mine) == OutlineRecipe(speck_mm2=4.0)


def test_a_job_that_was_written_teaches_how_its_art_was_made():
    assets = {"a": disc_png(ppi=300)}
    design = replace(DESIGN, asset="a", edge=LAST.edge, copies=3, fills=False)
    job = Job(designs=(design,))
    result = Pipeline(assets).result(design, job)
    found = learnt(Habits(png_ppi=300.0), job, {"d1": result})
    assert found.last["cut-out picture"] == Made(copies=3, fills=False, edge=LAST.edge)
    assert found.png_ppi == 300.0


def test_a_new_job_begins_on_the_usual_sheet_with_the_profiles_that_hold_now():
    mine = replace(SheetSpec(), paper="a4", gap_mm=4.0, stock=replace(SheetSpec().stock, name="Old film"))
    job = begun_job(Job(), Habits(sheet=mine, png_ppi=600.0))
    assert (job.sheet.paper, job.sheet.gap_mm, job.png_ppi) == ("a4", 4.0, 600.0)
    assert job.sheet.stock == Job().sheet.stock
    assert begun_job(Job(), Habits(png_ppi=0.0)).png_ppi is None


def test_habits_are_kept_in_a_file(tmp_path):
    file = HabitsFile(tmp_path / "settings" / "habits.json")
    assert file.read() == Habits()
    habits = Habits(last={"drawing": LAST}, edge=LAST.edge, sheet=SheetSpec(paper="a3"))
    file.write(habits)
    assert file.read() == habits


@pytest.mark.parametrize("text", [b"", b"[]", b'{"schema": 99, "habits": {}}', b'{"schema": 1, "habits": {"last": 3}}'])
def test_habits_that_cannot_be_read_are_none(tmp_path, text):
    path = tmp_path / "habits.json"
    path.write_bytes(text)
    assert HabitsFile(path).read() == Habits()
