"""Proof: what the checks cost, whether they cry wolf, and whether rehearsal, forecast and sheets to print agree.

Bounds: preflight at most a quarter of computing the demo job, and 300 ms after an edit; no false "blocks" in 200 random
sound jobs; rehearsed share and forecast within 2 points on average and 4 at the worst over 20 open artworks, 3 benches
and 4 schools; a disc with even bleed within 1 point of the Rayleigh distribution at 20,000 stickers; the demo's first
rehearsed sheet within 0.5 s, 200 in 4 s after it; sheets to print at most one (or 2 %) off the exact count over 20,000
runs, and what is promised at 95 % holds in 92 to 99 %. The benches are made up; everything is simulated.
"""

from __future__ import annotations

import math
import statistics
import sys
import time
from collections import Counter
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from pathlib import Path

import numpy as np
import shapely
from corpus import Artwork, artworks
from PIL import Image

from honest_edge.app.edits.job_holder import JobHolder
from honest_edge.app.edits.open_art import demo_project, design_from
from honest_edge.app.rehearsal.stage import staged, sticker_shape
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.edge.forecast import forecast
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Job
from honest_edge.core.values.misregistration import (
    Misregistration,
    Scatter,
    SheetPlace,
    assumed_misregistration,
)
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from honest_edge.core.workshop.sheets_to_print import SheetKind, sheets_to_print
from honest_edge.files.font_folder import FONT_FOLDER
from honest_edge.files.typefaces import FontLibrary
from honest_edge.simulator.judge import Judge, StickerShape
from honest_edge.simulator.rehearsal import rehearsed
from honest_edge.simulator.sheets_by_chance import drawn_benches, drawn_sheets

sys.path.insert(0, str(Path(__file__).parent.parent / "tests"))
from sound_jobs import sound_job

ARTWORKS, SHEETS, SOUND = 20, 6000, 200
PLACE = SheetPlace(x_mm=55.0, y_mm=-80.0, turn_deg=90.0)
BENCHES = (
    ("assumed 0.5 mm", assumed_misregistration(0.5)),
    (
        "off and askew",
        Misregistration(
            shift_x_mm=Scatter(bias=0.15, spread=0.12),
            shift_y_mm=Scatter(bias=-0.1, spread=0.15),
            rotation_deg=Scatter(bias=0.02, spread=0.06),
            scale_x_percent=Scatter(spread=0.05),
            scale_y_percent=Scatter(spread=0.08),
            repeat_mm=0.06,
        ),
    ),
    (
        "measured on 3 sheets",
        Misregistration(
            shift_x_mm=Scatter(bias=0.2, spread=0.1),
            shift_y_mm=Scatter(bias=-0.1, spread=0.1),
            rotation_deg=Scatter(spread=0.03),
            scale_x_percent=Scatter(spread=0.03),
            scale_y_percent=Scatter(spread=0.03),
            repeat_mm=0.04,
            degrees_of_freedom=5.0,
        ),
    ),
)


def told(name: str, value: float, bound: float, unit: str = "") -> bool:
    good = value <= bound
    print(f"{name:58} {value:9.3f} {unit:3} bound {bound:g}{'' if good else '   MISSED'}")
    return good


# -- what the checks cost -----------------------------------------------------------------------------


def costs() -> bool:
    demo = demo_project()
    pipeline = Pipeline(demo.assets)
    start = time.perf_counter()
    compute_overview(demo.job, pipeline)
    whole_s = time.perf_counter() - start
    again = []
    for _ in range(5):  # everything but the checks is kept
        start = time.perf_counter()
        overview = compute_overview(demo.job, pipeline)
        again.append(time.perf_counter() - start)
    check_s = statistics.median(again)
    good = told("preflight of the demo, of the time of computing it", check_s / whole_s, 0.25)
    good &= told("preflight of the demo", 1000 * check_s, 300, "ms")
    start = time.perf_counter()
    sheets = rehearsed(staged(overview).stage, demo.job.misregistration, sheets=201, seed=1)
    next(sheets)
    first_s = time.perf_counter() - start
    list(sheets)
    good &= told("first rehearsed sheet of the demo", first_s, 0.5, "s")
    return good & told("200 more", time.perf_counter() - start - first_s, 4.0, "s")


def cries_wolf() -> bool:
    fonts, found = FontLibrary((FONT_FOLDER,)), Counter[str]()
    for seed in range(SOUND):
        job, assets = sound_job(seed)
        for finding in compute_overview(job, Pipeline(assets, fonts)).findings:
            found[finding.severity] += 1
    print(f"{SOUND} sound jobs: {dict(found)}")
    return told("false blocks", found["blocks"], 0)


# -- rehearsal and forecast ---------------------------------------------------------------------------


def agreement() -> bool:
    with ProcessPoolExecutor(2) as pool:
        rows = [row for found in pool.map(compare, artworks(ARTWORKS)) for row in found]
    gaps: dict[tuple[str, str], list[float]] = {}
    for bench, school, clean, expected in rows:
        gaps.setdefault((bench, school), []).append(100 * (clean - expected))
    for (bench, school), found in gaps.items():
        worst = max(found, key=abs)
        print(
            f"  {bench:24} {school:8} {len(found):3} artworks: mean {statistics.mean(found):+.2f}, worst {worst:+.2f}"
        )
    every = [abs(gap) for found in gaps.values() for gap in found]
    good = told("rehearsed share against forecast, mean", statistics.mean(every), 2.0, "pt")
    return good & told("the same, worst", max(every), 4.0, "pt")


def compare(art: Artwork) -> list[tuple[str, str, float, float]]:
    import io

    holder, job, held = JobHolder(), Job(), io.BytesIO()
    Image.fromarray(art.pixels).save(held, "PNG", dpi=(300, 300))
    design = replace(design_from(holder, job, held.getvalue(), "art.png"), width_mm=50.8)
    pipeline, rows = Pipeline(holder.assets), []
    for school, recipe in SCHOOL_DEFAULTS.items():
        edge = replace(recipe, bleed_mm=0.5) if school == "bleed" else recipe
        edge = replace(edge, offset_mm=0.6) if school in ("border", "inside") else edge
        for name, error in BENCHES:
            try:
                result = pipeline.result(replace(design, edge=edge), replace(job, error=error), place=PLACE)
            except BlockedError:
                continue
            judge = Judge(sticker_shape(result), job.visible_mm)
            random = np.random.default_rng(11)
            errors = drawn_sheets(error, SHEETS, random)
            repeats = random.standard_normal((SHEETS, 2)) * errors.repeat_mm[:, None]
            clean = float(np.mean(judge.spoiled(errors, repeats, matrix_at(result.model.middle)) == 0))
            expected = forecast(result.model, error, PLACE, visible_mm=job.visible_mm).share_clean
            rows.append((name, school, clean, expected))
    return rows


def matrix_at(middle: np.ndarray) -> np.ndarray:
    turn = math.radians(PLACE.turn_deg)
    way = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
    return np.column_stack([way, np.array([PLACE.x_mm, PLACE.y_mm]) - way @ middle])


def rayleigh() -> bool:
    """P(r <= R) = 1 - exp(-R^2 / 2 s^2): Lord Rayleigh, Philosophical Magazine 10, 1880."""
    disc, count, worst = shapely.Point(0, 0).buffer(10, quad_segs=128), 20_000, 0.0
    for number, bleed_mm in enumerate((0.2, 0.35, 0.5, 0.8)):
        shape = disc_shape(disc, bleed_mm)
        error = assumed_misregistration(0.7)
        errors = drawn_sheets(error, count, np.random.default_rng(number))
        still = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
        clean = float(np.mean(Judge(shape, 0.1).spoiled(errors, np.zeros((count, 2)), still) == 0))
        truth = 1 - math.exp(-((bleed_mm + 0.1) ** 2) / 2 / error.shift_x_mm.spread**2)
        worst = max(worst, 100 * abs(clean - truth))
    return told("a disc against Rayleigh, worst of four bleeds", worst, 1.0, "pt")


def disc_shape(disc: shapely.Polygon, bleed_mm: float) -> StickerShape:
    return StickerShape(
        cut_points=shapely.get_coordinates(disc)[:-1],
        ink=shapely.MultiPolygon([shapely.Point(0, 0).buffer(10 + bleed_mm, quad_segs=128)]),
        detail_points=np.empty((0, 2)),
        enclosed=shapely.MultiPolygon([disc]),
    )


# -- sheets to print ----------------------------------------------------------------------------------


def print_counts() -> bool:
    off, held = [], []
    for draw, wanted, assurance in cases():
        random = np.random.default_rng(5)
        kind = SheetKind(good=[draw(600, random) for _ in range(1)], least=max(1, math.ceil(wanted / 12)))
        found = sheets_to_print([kind], [wanted], assurance).sheets[0]
        exact = exact_count(draw, wanted, assurance)
        off.append(max(0.0, abs(found - exact) - max(1.0, 0.02 * exact)))
        if assurance == 0.95:
            held.append(share_of_runs(draw, found, wanted, np.random.default_rng(77)))
    good = told("sheets beyond one (or 2 %) off the exact count, worst", max(off), 0)
    print(f"  promised 95 % holds in {100 * min(held):.1f} to {100 * max(held):.1f} % of runs")
    good &= told("promised 95 % held less than 92 % or more than 99.9 %", float(min(held) < 0.92), 0)
    return good & posterior_promise()


Draw = Callable[[int, np.random.Generator], np.ndarray]


def cases() -> Iterator[tuple[Draw, int, float]]:
    """Sheets of twelve whose stickers fail together, by chance of the sheet and of the sticker."""
    for spoil_all, each in ((0.05, 0.98), (0.15, 0.95), (0.3, 0.9)):

        def draw(count: int, random: np.random.Generator, spoil: float = spoil_all, share: float = each) -> np.ndarray:
            good = random.binomial(12, share, size=count)
            return (good * (random.random(count) >= spoil)).astype(np.int32)[:, None]

        for wanted in (10, 24, 60, 200):
            for assurance in (0.90, 0.95):
                yield draw, wanted, assurance


def share_of_runs(draw: Draw, sheets: int, wanted: int, random: np.random.Generator) -> float:
    good = draw(20_000 * sheets, random).reshape(20_000, sheets).sum(1)
    return float(np.mean(good >= wanted))


def exact_count(draw: Draw, wanted: int, assurance: float) -> int:
    sheets = max(1, math.ceil(wanted / 12))
    while share_of_runs(draw, sheets, wanted, np.random.default_rng(sheets)) < assurance:
        sheets += 1
    return sheets


_LEAST = 30  # sheets: with few of them one more is a large step, and the promise is kept by more than was asked


def posterior_promise() -> bool:
    """Benches that were measured on a few sheets: what is promised then holds for the bench that is really there."""
    disc, random, held = shapely.Point(0, 0).buffer(10, quad_segs=64), np.random.default_rng(3), []
    judge, still = Judge(disc_shape(disc, 0.3), 0.1), np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
    for _ in range(120):
        truth = random.normal(0, 0.15, 2), 0.12 * math.exp(random.normal(0, 0.2))
        seen = truth[0] + truth[1] * random.standard_normal((6, 2))
        spread = float(np.sqrt(np.square(seen - seen.mean(0)).sum() / (2 * (len(seen) - 1))))
        wide = spread * math.sqrt(1 + 1 / (len(seen) + 0.05))
        x, y = (Scatter(bias=float(b), spread=wide) for b in seen.mean(0))
        error = Misregistration(shift_x_mm=x, shift_y_mm=y, degrees_of_freedom=10.0)
        good = [
            12 * (judge.spoiled(errors, np.zeros((len(errors), 2)), still) == 0).astype(np.int32)[:, None]
            for errors in drawn_benches(error, 6, 32, 75, random)
        ]
        try:
            sheets = sheets_to_print([SheetKind(good=good, least=_LEAST)], [12 * _LEAST], 0.95).sheets[0]
        except BlockedError:
            continue
        sure = Misregistration(
            shift_x_mm=Scatter(bias=float(truth[0][0]), spread=truth[1]),
            shift_y_mm=Scatter(bias=float(truth[0][1]), spread=truth[1]),
        )
        errors = drawn_sheets(sure, 400 * sheets, random)
        clean = (judge.spoiled(errors, np.zeros((len(errors), 2)), still) == 0).reshape(400, sheets).sum(1)
        held.append(float(np.mean(clean >= _LEAST)))
    print(f"  {len(held)} benches measured on six sheets: promised 95 %, held {100 * statistics.mean(held):.1f} %")
    outside = max(0.92 - statistics.mean(held), statistics.mean(held) - 0.99, 0.0)
    return told("the same, points outside of 92 to 99", 100 * outside, 0, "pt")


PARTS = {f.__name__: f for f in (costs, cries_wolf, agreement, rayleigh, print_counts)}


def main() -> bool:
    wanted = sys.argv[1:] or list(PARTS)
    found = [PARTS[name]() for name in wanted]
    return all(found)


if __name__ == "__main__":
    sys.exit(0 if main() else 1)
