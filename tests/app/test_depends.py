"""What is kept follows what it was computed from: every field that a result reads is changed once.

The result of a pipeline that kept everything of before must equal that of a fresh one, and only what depends on the
field is made anew. A key that forgets a field shows a stale result; one that holds too much makes all of it again.
"""

from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass, replace
from typing import get_origin, get_type_hints

import numpy as np
import pytest
import shapely

from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.results.declared_steps import LATER
from honest_edge.app.results.design_steps import STEPS, given_of
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.job import Job
from honest_edge.core.values.misregistration import MARKS_MIDDLE, Misregistration, Scatter, SheetPlace
from honest_edge.core.values.orders import OrderLine
from honest_edge.core.values.specs import SCHOOL_DEFAULTS, Correction, EdgeRecipe, OutlineRecipe
from pictures import coverage, disc, png, rgba

OUTLINE = ("artwork", "subject", "trace", "outline", "joining_mm", "matte")
CUT = ("cut", "narrow")
PRINT = ("art", "blunt", "inked", "reach_mm")
EDGE = ("kiss", "model", "edge", "forecast", "findings", "art_edge")
ALL = (*OUTLINE, *CUT, *PRINT, *EDGE)


@pytest.fixture(scope="module")
def base():
    """A ring with a slit, and a speck beside it, in two colours: its cut closes the slit, and the hole with it."""
    large, hole, speck = (coverage(disc(r, x, 90), 300, 180) for r, x in ((60, 90), (20, 90), (9, 240)))
    ring = large - hole
    ring[86:94, 90:160] = 0  # too wide to be dammed
    pixels = rgba(np.clip(ring + speck, 0, 1))
    pixels[:, 200:, 2] = 200
    spread = Scatter(spread=0.1)
    holder, job = JobHolder(), Job(error=Misregistration(shift_x_mm=spread, shift_y_mm=spread))
    design = design_from(holder, job, png(pixels, dpi=(300, 300)), "ring.png")
    design = replace(design, edge=replace(SCHOOL_DEFAULTS["bleed"], bleed_mm=0.6, offset_mm=0.4))
    return with_designs(job, [design]), holder.assets


class Watched(Pipeline):
    """Remembers which steps were made, and not only taken from what was kept."""

    def __init__(self, assets):
        super().__init__(assets)
        self.made = set()
        for cache in (self._cache, self._passing):
            cache.get = self._watch(cache.get)

    def _watch(self, real):
        def get(stage, key, make):
            def noted():
                self.made.add(stage)
                return make()

            return real(stage, key, noted)

        return get


def computed(pipeline, job, place):
    result = pipeline.result(job.designs[0], job, place=place)
    result.edge_looked_at()
    return result


def same(one, two):
    """Whether two values say the same, whatever objects they are."""
    if type(one) is not type(two):
        return False
    if isinstance(one, np.ndarray):
        return one.shape == two.shape and np.array_equal(one, two, equal_nan=one.dtype.kind == "f")
    if isinstance(one, shapely.Geometry):
        return shapely.equals_exact(one, two, 0)
    if is_dataclass(one):
        return all(same(getattr(one, f.name), getattr(two, f.name)) for f in fields(one) if f.compare or f.init)
    if isinstance(one, Mapping):
        return one.keys() == two.keys() and all(same(one[key], two[key]) for key in one)
    if isinstance(one, list | tuple):
        return len(one) == len(two) and all(same(a, b) for a, b in zip(one, two, strict=True))
    if callable(one) or type(one).__module__.startswith("honest_edge.core.geometry"):
        return True  # what looks up, and fields of distances: what is read from them is compared
    return one == two or (one != one and two != two)


SHOWN = ("outline", "joining_mm", "narrow", "inset", "matte", "cut", "art", "inked", "edge", "reach_mm", "findings")


def told(result):
    """What a result shows."""
    forecast = result.forecast
    return (
        *(getattr(result, name) for name in SHOWN),
        (forecast.share_clean, forecast.share_without_white, forecast.narrowest_border_mm, forecast.uncertainty),
        result.subject.coverage if result.subject.pixels is not None else None,
        result.edge_looked_at(),
    )


def of_outline(**changes):
    return lambda job: job.with_design(replace(job.designs[0], outline=replace(job.designs[0].outline, **changes)))


def of_edge(**changes):
    return lambda job: job.with_design(replace(job.designs[0], edge=replace(job.designs[0].edge, **changes)))


def of_design(**changes):
    return lambda job: job.with_design(replace(job.designs[0], **changes))


def of_job(**changes):
    return lambda job: replace(job, **changes)


def of_stock(**changes):
    return lambda job: replace(job, sheet=replace(job.sheet, stock=replace(job.sheet.stock, **changes)))


AFTER_TRACE = ("outline", "joining_mm", *CUT, *PRINT, *EDGE)
AFTER_CUT = (*CUT, *PRINT, "model", "edge", "forecast", "findings")
NEAR = Correction(kind="keep", points=((0.5, 0.3),), brush=0.05)
GUARD = Correction(kind="guard", points=((0.12, 0.3), (0.2, 0.3)), brush=0.02)

INK = (40, 90, 160)
"""The colour of the art: on stock of it nothing that is missing is seen."""

CHANGES = {
    "background": (of_outline(background="flood", colour=(255, 255, 255)), (*OUTLINE, *CUT, *PRINT, *EDGE)),
    "colour": (of_outline(background="flood", colour=(250, 250, 250)), (*OUTLINE, *CUT, *PRINT, *EDGE)),
    "closely_mm": (of_outline(background="subject", closely_mm=2.0), (*OUTLINE, *CUT, *PRINT, *EDGE)),
    "closely_mm alone": (of_outline(closely_mm=2.0), AFTER_TRACE),
    "true_mm": (of_outline(true_mm=0.5), AFTER_TRACE),
    "tolerance": (of_outline(background="flood", tolerance=60.0), (*OUTLINE, *CUT, *PRINT, *EDGE)),
    "trace_area": (of_outline(trace_area=(0.0, 0.0, 0.7, 1.0)), (*OUTLINE, *CUT, *PRINT, *EDGE)),
    "dam_px": (of_outline(background="flood", dam_px=9.0), (*OUTLINE, *CUT, *PRINT, *EDGE)),
    "corrections": (of_outline(corrections=(NEAR,)), (*OUTLINE, *CUT, *PRINT, *EDGE)),
    "threshold": (of_outline(threshold=0.8), ("subject", "trace", *AFTER_TRACE)),
    "corner_deg": (of_outline(corner_deg=60.0), ("trace", *AFTER_TRACE)),
    "speck_mm2": (of_outline(speck_mm2=9.0), AFTER_TRACE),
    "outline hole_mm2": (of_outline(hole_mm2=0.5), AFTER_TRACE),
    "smoothness_mm": (of_outline(smoothness_mm=0.2), AFTER_TRACE),
    "school": (of_edge(school="border", offset_mm=2.0, bleed_mm=0.0), AFTER_CUT),
    "offset_mm": (of_edge(offset_mm=0.7), AFTER_CUT),
    "corners": (of_edge(corners="mitre", offset_mm=0.7), (*AFTER_CUT, "joining_mm")),
    "edge hole_mm2": (of_edge(hole_mm2=1.0, offset_mm=0.4), (*AFTER_CUT, "joining_mm")),
    "hole_mm2 alone": (of_edge(hole_mm2=1.0), (*AFTER_CUT, "joining_mm")),
    "ease_mm": (of_edge(ease_mm=0.0, offset_mm=0.7), (*AFTER_CUT, "joining_mm")),
    "fatten_mm": (of_edge(fatten_mm=0.4), (*AFTER_CUT, "joining_mm")),
    "line_kind": (of_edge(line_kind="through"), AFTER_CUT),
    "detail": (of_edge(detail=(GUARD,)), ("model", "edge", "forecast", "findings")),
    "bleed_mm": (of_edge(bleed_mm=1.1), (*PRINT, "model", "edge", "forecast", "findings")),
    "fill_rgb": (of_edge(fill="plain", fill_rgb=(10, 200, 30)), (*PRINT, "model", "edge", "forecast", "findings")),
    "width_mm": (of_design(width_mm=40.0), (*AFTER_TRACE, "artwork")),
    "stock": (of_stock(rgb=INK), (*EDGE, *PRINT)),
    "error": (of_job(error=Misregistration(shift_x_mm=Scatter(bias=0.1, spread=0.2))), (*EDGE,)),
    "visible_mm": (of_job(visible_mm=0.3), ("forecast", "findings")),
    "narrowest_mm": (of_job(narrowest_mm=3.0), ("narrow", "findings")),
    "kept_clear_mm": (of_job(kept_clear_mm=7.0), ("findings",)),
    "name": (of_design(name="Another"), ("findings",)),
    "copies": (of_design(copies=9), ("findings",)),
    "title": (of_job(title="Another"), ()),
    "order": (of_job(order=(OrderLine(design="d1", quantity=2),)), ()),
    "prints": (of_job(prints=(3,)), ()),
}
"""A field, how it is changed, and all that may be made anew because of it."""


@pytest.mark.parametrize("field", CHANGES)
def test_what_depends_on_a_field_is_made_anew_and_nothing_else(base, field):
    job, assets = base
    change, may = CHANGES[field]
    pipeline = Watched(assets)
    before = told(computed(pipeline, job, MARKS_MIDDLE))
    pipeline.made.clear()
    changed = change(job)
    assert changed != job
    kept = told(computed(pipeline, changed, MARKS_MIDDLE))
    fresh = told(computed(Pipeline(assets), changed, MARKS_MIDDLE))
    wrong = [n for n, (one, two) in enumerate(zip(kept, fresh, strict=True)) if not same(one, two)]
    assert wrong == [], [(*SHOWN, "forecast", "coverage", "art edge")[n] for n in wrong]
    assert pipeline.made <= set(may), sorted(pipeline.made - set(may))
    again = told(computed(pipeline, job, MARKS_MIDDLE))
    assert all(same(one, two) for one, two in zip(before, again, strict=True))


def test_a_place_on_the_sheet_is_forecast_for_itself(base):
    """What a shift takes back on one side of the marks it adds to on the other."""
    job, assets = base
    error = Misregistration(rotation_deg=Scatter(bias=0.4), shift_y_mm=Scatter(bias=-0.35, spread=0.1))
    job, pipeline = replace(job, error=error), Pipeline(assets)
    right, left = (SheetPlace(x_mm=x) for x in (50.0, -50.0))
    shares = [computed(pipeline, job, place).forecast.share_clean for place in (right, left)]
    assert shares == [computed(Pipeline(assets), job, place).forecast.share_clean for place in (right, left)]
    assert shares[0] > shares[1] + 0.2


def test_what_a_step_reads_is_what_another_makes_or_what_is_given(base):
    """Arguments are taken by their names: one of a wrong name or type would be an error only when it is asked for."""
    job, assets = base
    design = job.designs[0]
    artwork = Pipeline(assets).result(design, job).artwork
    given = given_of(design, job, MARKS_MIDDLE, composed=None, artwork=artwork, table_findings=())
    read = set()
    for step in STEPS.by_name.values():
        types = get_type_hints(step.make)
        for name in step.reads:
            other = STEPS.by_name.get(name.removeprefix(LATER))
            read.add(name)
            if other is not None:
                makes = get_type_hints(other.make)["return"]
                assert types[name] == (Callable[[], makes] if name.startswith(LATER) else makes), (step.name, name)
            else:
                assert name in given, (step.name, name)
                assert given[name].value is None or isinstance(
                    given[name].value, get_origin(types[name]) or types[name]
                )
    assert set(given) <= read, "what is given and never read"


@pytest.mark.parametrize("recipe", [OutlineRecipe, EdgeRecipe])
def test_no_field_of_a_recipe_is_left_out(recipe):
    """A new field comes with what depends on it; the bleed's fill is changed with its colour."""
    covered = {part for name in CHANGES for part in name.split()} | {"fill"}
    assert {one.name for one in fields(recipe)} - covered == set()
