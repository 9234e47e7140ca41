"""The bench: what pictures and readings of targets add, what forecasts then promise, causes found, sheets wasted.

Hidden truths are drawn by seed, with other code than the estimator's. No real print or cut was at hand: readers,
shadows, dust and benches are simulated, and every number of them is an assumption. Bounds stand beside the figures.
"""

from __future__ import annotations

import io
import math
import sys
import time
from dataclasses import dataclass

import cv2
import numpy as np
import shapely
from PIL import Image
from scipy import stats

from honest_edge.core.edge.forecast import forecast
from honest_edge.core.edge.model import EdgeModel
from honest_edge.core.geometry.distance import distance_field
from honest_edge.core.geometry.paths import as_multipolygon, rings_of
from honest_edge.core.measure.bench_error import WeighedSheet, believed, correction_for, interval, misregistration_of
from honest_edge.core.measure.combs import STEP_MM, comb_places
from honest_edge.core.measure.diagnosis import CAUSES, QUESTIONS, causes_by_answers, causes_of
from honest_edge.core.measure.mark_reading import READER, line_sd_mm, mark_sd_mm, marks_middles
from honest_edge.core.measure.readings import Reading, sheet_read
from honest_edge.core.measure.sheet_error import fitted_error
from honest_edge.core.measure.target import TargetLayout, target_layout
from honest_edge.core.measure.target_drawing import dark_area
from honest_edge.core.measure.target_picture import measured_target
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.measured import MeasuredPlace, MeasuredSheet
from honest_edge.core.values.misregistration import MARKS_MIDDLE
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.simulator.camera import CameraNature, CutTarget, dusty, photograph, scan
from honest_edge.simulator.nature import BenchNature
from honest_edge.simulator.practice_bench import PracticeBench

SHEET = SheetSpec(paper="a4")
VISIBLE_MM = 0.1
DISC_MM = 15.0
KINDS = ("tight", "usual", "loose", "askew")
_failed: list[str] = []


def told(name: str, figures: str, bound: str, *, holds: bool) -> None:
    print(f"{name:48} {figures:44} {bound:34} {'' if holds else 'MISSED'}")
    if not holds:
        _failed.append(name)


# -- hidden truths -------------------------------------------------------------------------------------


def moved(parts: np.ndarray, points: np.ndarray) -> np.ndarray:
    """Shift, turn and growth written out anew, so that a wrong sign in the estimator's own matrix would show."""
    shift_x, shift_y, turn, grow_x, grow_y = parts
    angle = math.radians(turn)
    x, y = points.T
    return np.stack([shift_x - angle * y + grow_x / 100 * x, shift_y + angle * x + grow_y / 100 * y], 1)


def hidden_parts(random: np.random.Generator) -> np.ndarray:
    return random.normal(size=5) * np.array([0.25, 0.25, 0.05, 0.05, 0.08])


def target_of(layout: TargetLayout, displaced: np.ndarray, random: np.random.Generator) -> CutTarget:
    return CutTarget(
        size_mm=(layout.width / 10, layout.height / 10),
        dark=tuple(np.asarray(ring) for ring in rings_of(dark_area(layout))),
        printed_mm=layout.places_mm,
        cut_mm=layout.places_mm + displaced,
        printed_radius_mm=5 + random.uniform(0.0, 0.08),
    )


def sheet_of(points: np.ndarray, displaced: np.ndarray) -> MeasuredSheet:
    places = tuple(
        MeasuredPlace(x_mm=x, y_mm=y, dx_mm=dx, dy_mm=dy)
        for (x, y), (dx, dy) in zip(points.tolist(), displaced.tolist(), strict=True)
    )
    error, unsure, repeat, freedom = fitted_error(places)
    return MeasuredSheet(
        picture="", by="scan", error=error, unsure=unsure, repeat_mm=repeat, degrees_of_freedom=freedom, places=places
    )  # fmt: skip


# -- pictures ------------------------------------------------------------------------------------------


def added(count: int, take: object, seed: int) -> tuple[np.ndarray, np.ndarray, int]:
    """Return what pictures add to the five parts, and the ratio of the repeat found to that drawn."""
    random, layout = np.random.default_rng(seed), target_layout(SHEET, "BENCHMRK")
    points = layout.places_mm - layout.middle_mm
    off, repeats, lost = [], [], 0
    for number in range(count):
        displaced = moved(hidden_parts(random), points) + random.normal(0, 0.05, points.shape)
        target = target_of(layout, displaced, random)
        try:
            found = take(target, 1000 * seed + 10 * number, random)  # type: ignore[operator]
        except BlockedError:
            lost += 1
            continue
        told_of = np.isfinite(found[:, 0])
        exact, got = (sheet_of(points[told_of], moved_[told_of]) for moved_ in (displaced, found))
        off.append(np.array(got.error.values) - np.array(exact.error.values))
        repeats.append(got.repeat_mm / exact.repeat_mm)
    return np.array(off), np.array(repeats), lost


def places_in(picture: np.ndarray) -> np.ndarray:
    return np.array([(p.dx_mm, p.dy_mm) for p in measured_target(picture, "picture").places])


def turned_pair(target: CutTarget, seed: int, random: np.random.Generator) -> np.ndarray:
    turn = random.uniform(-4, 4)
    one, other = (places_in(scan(target, 300, seed + n, turn_deg=turn + 180 * n)) for n in (0, 1))
    return (one + other) / 2


def one_scan(target: CutTarget, seed: int, random: np.random.Generator) -> np.ndarray:
    return places_in(scan(target, 300, seed, turn_deg=random.uniform(0, 360)))


def one_photograph(target: CutTarget, seed: int, random: np.random.Generator) -> np.ndarray:
    picture = photograph(
        target,
        12,
        seed,
        tilt_deg=random.uniform(0, 20),
        turn_deg=random.uniform(0, 360),
        lens=random.uniform(-0.05, 0.05),
    )
    return places_in(picture)


def pictures() -> None:
    off, repeats, lost = added(12, turned_pair, 1)
    shift, turn, scale = (float(np.sqrt(np.mean(np.square(part)))) for part in (off[:, :2], off[:, 2], off[:, 3:]))
    told(
        "two scans at 300 ppi, one turned: they add",
        f"{1000 * shift:.1f} um, {turn:.4f} deg, {scale:.4f} % ({lost} lost)",
        "at most 5 um, 0.002 deg, 0.005 %",
        holds=shift <= 0.005 and turn <= 0.002 and scale <= 0.005 and lost == 0,
    )
    worst = float(np.abs(repeats - 1).max())
    told("repeat of 0.05 mm, worst of 12 sheets", f"within {100 * worst:.1f} %", "within 15 %", holds=worst <= 0.15)
    for name, take, bound in (
        ("one scan at 300 ppi", one_scan, 25.0),
        ("12 MP photograph, tilt to 20 deg", one_photograph, 30.0),
    ):
        off, _, lost = added(16, take, 2)
        shift = 1000 * float(np.hypot(off[:, 0], off[:, 1]).max())
        told(
            f"{name}: worst of 16",
            f"{shift:.1f} um ({lost} lost)",
            f"at most {bound:.0f} um",
            holds=shift <= bound and lost == 0,
        )


def dust(count: int = 200) -> None:
    """Sheets not measured, and numbers that are wrong, with dust on the glass from 150 ppi up."""
    random, layout = np.random.default_rng(3), target_layout(SHEET, "BENCHMRK")
    points = layout.places_mm - layout.middle_mm
    lost = wrong = 0
    for number in range(count):
        displaced = moved(hidden_parts(random), points) + random.normal(0, 0.05, points.shape)
        nature = dusty(CameraNature(), random.uniform(2, 25))
        picture = scan(
            target_of(layout, displaced, random), float(random.choice([150, 150, 200])), number, nature=nature,
            turn_deg=random.uniform(0, 360),
        )  # fmt: skip
        try:
            found = measured_target(picture, "dusty").places
        except BlockedError:
            lost += 1
            continue
        used = np.array([p.used for p in found])
        got = np.array([(p.dx_mm, p.dy_mm) for p in found])
        wrong += bool(np.hypot(*(got - displaced)[used].T).max() > 0.06)
    told(f"dusty, 150 ppi and up, {count} sheets", f"{lost} not measured, {wrong} wrong", "1 in 50 not, none wrong",
         holds=lost <= count / 50 and wrong == 0)  # fmt: skip


def cost() -> None:
    """CPU time of a 300 ppi A4 scan against Pillow's decoding and one blur of the same picture."""
    random, layout = np.random.default_rng(4), target_layout(SHEET, "BENCHMRK")
    displaced = moved(hidden_parts(random), layout.places_mm - layout.middle_mm)
    out = io.BytesIO()
    Image.fromarray(scan(target_of(layout, displaced, random), 300, 5, turn_deg=1.5)).save(out, "PNG", dpi=(300, 300))

    def decoded() -> np.ndarray:
        with Image.open(io.BytesIO(out.getvalue())) as image:
            return np.asarray(image.convert("L"))

    measuring = min(_cpu(lambda: measured_target(decoded(), "scan")) for _ in range(5))
    reference = min(_cpu(lambda: cv2.GaussianBlur(decoded(), (0, 0), 2.0)) for _ in range(5))
    told(
        "a 300 ppi A4 scan", f"{measuring:.2f} CPU s, {measuring / reference:.2f} of decoding and blur",
        "at most 1.5 CPU s, 3 times", holds=measuring <= 1.5 and measuring <= 3 * reference,
    )  # fmt: skip


def _cpu(act: object) -> float:
    before = time.process_time()
    act()  # type: ignore[operator]
    return time.process_time() - before


# -- the eye -------------------------------------------------------------------------------------------


def eye(count: int = 500) -> None:
    """The assumed reader judges a pair of lines with sd 0.04 mm; 3 % slips: a neighbour, a flipped sign, anywhere."""
    random, places = np.random.default_rng(6), comb_places(SHEET, 9)
    points = places.from_middle
    off, inside, slips, found, false = [], [], 0, 0, 0
    for _ in range(count):
        parts = random.normal(size=5) * np.array([0.2, 0.2, 0.05, 0.05, 0.05])
        true = moved(parts, points) + random.normal(0, 0.03, points.shape)
        seen = true + random.normal(0, 0.04, true.shape)
        slip, kind = random.random(true.shape) < 0.03, random.integers(0, 3, true.shape)
        other = np.choose(
            kind,
            [seen + random.choice([-0.2, -0.1, 0.1, 0.2], true.shape), -seen, random.uniform(-0.8, 0.8, true.shape)],
        )
        numbers = np.clip(np.round(2 * np.where(slip, other, seen) / STEP_MM) / 2, -8, 8)
        readings = [Reading(place=n, across=float(a), down=float(b)) for n, (a, b) in enumerate(numbers, 1)]
        sheet = sheet_read(readings, points, title="sheet")
        error = np.array(sheet.error.values) - parts
        half = np.array(sheet.unsure.values) * stats.t.ppf(0.975, sheet.degrees_of_freedom)
        off.append(error)
        inside.append(np.abs(error) <= half)
        far = np.abs(numbers * STEP_MM - true) > 0.12
        for place, row in zip(sheet.places, range(len(points)), strict=True):
            for axis, name in enumerate(("across", "down")):
                named = name in place.why
                slips, found = slips + far[row, axis], found + (named and far[row, axis])
                false += named and not far[row, axis] and not slip[row, axis]
    rms, holds = np.sqrt(np.mean(np.square(off), 0)), np.mean(inside, 0)
    shift, turn = float(rms[:2].max()), float(rms[2])
    told(
        "by eye, 9 places: rms of shift and turn",
        f"{shift:.4f} mm, {turn:.4f} deg",
        "0.025 mm, 0.012 deg",
        holds=shift <= 0.025 and turn <= 0.012,
    )
    told(
        "95 % intervals hold",
        f"{100 * holds.min():.1f} to {100 * holds.max():.1f} %",
        "92 to 98 %",
        holds=holds.min() >= 0.92 and holds.max() <= 0.98,
    )
    told(
        "slips over 0.12 mm found; false a sheet",
        f"{100 * found / slips:.0f} % of {slips}; {false / count:.3f}",
        "65 %; at most 0.1",
        holds=found >= 0.65 * slips and false <= 0.1 * count,
    )


# -- from sheets to promises ---------------------------------------------------------------------------


@dataclass(frozen=True)
class Hidden:
    """A bench nobody sees: what is steady, and one standard deviation of what is not."""

    steady: np.ndarray
    spread: np.ndarray
    repeat_mm: float

    def sheet(self, points: np.ndarray, random: np.random.Generator) -> np.ndarray:
        parts = self.steady + self.spread * random.normal(size=5)
        return moved(parts, points) + self.repeat_mm * random.normal(size=points.shape)


def hidden_bench(kind: str, random: np.random.Generator) -> Hidden:
    far = {"tight": 0.3, "usual": 0.15, "loose": 0.2, "askew": 0.15}[kind]
    wide = {"tight": 0.03, "usual": 0.05, "loose": 0.12, "askew": 0.06}[kind]
    turn = 0.06 if kind == "askew" else 0.012
    steady = random.normal(size=5) * np.array([far, far, turn, 0.03, 0.06])
    spread = random.uniform(0.7, 1.3, 5) * np.array([wide, wide, turn / 1.5, 0.025, 0.035])
    return Hidden(steady, spread, float(random.uniform(0.02, 0.06)))


def disc_model() -> EdgeModel:
    """A disc that is inked just to its cut, whose bleed ``share_with`` then adds."""
    angle = np.arange(256) * (2 * math.pi / 256)
    disc = as_multipolygon(shapely.Polygon(DISC_MM * np.stack([np.cos(angle), np.sin(angle)], 1)))
    field = distance_field(disc, (-24.0, -24.0, 24.0, 24.0), reach_mm=8.0, step_mm=0.2)
    points = DISC_MM * np.stack([np.cos(angle[::2]), np.sin(angle[::2])], 1)
    return EdgeModel(
        cut_points=points, ink=field, detail_points=np.empty((0, 2)), cut=field, middle=np.zeros(2),
        detail=shapely.MultiPolygon(), is_inked=True, border_mm=0.0,
    )  # fmt: skip


def promises() -> None:
    """Predicted share against the true one of discs with 0.2 to 1 mm of bleed at the marks' middle, and how often the
    parts of the next sheet lie within their interval."""
    random, model, points = np.random.default_rng(8), disc_model(), target_layout(SHEET, "BENCHMRK").places_mm
    points = points - np.array(SHEET.size_mm) / 2
    off: dict[tuple[str, int], list[float]] = {}
    inside: dict[str, list[float]] = {}
    for number in range(200):
        kind = KINDS[number % 4]
        bench = hidden_bench(kind, random)
        draws = bench.steady[:2] + np.hypot(bench.spread[:2], bench.repeat_mm) * random.normal(size=(20_000, 2))
        distance = np.hypot(*draws.T)
        bleed = float(random.uniform(0.2, 1.0))
        true = float(np.mean(distance <= bleed + VISIBLE_MM))
        sheets: list[WeighedSheet] = []
        for count in range(1, 9):
            sheets.append(
                WeighedSheet(
                    sheet=sheet_of(points, bench.sheet(points, random) + random.normal(0, 0.003, points.shape))
                )
            )
            if count not in (1, 3, 8):
                continue
            belief = believed(sheets, 0.5)
            assert belief is not None
            expected = forecast(model, misregistration_of(belief), MARKS_MIDDLE, visible_mm=VISIBLE_MM)
            off.setdefault((kind, count), []).append(100 * (expected.share_with(bleed_mm=bleed) - true))
            for part, steady, spread in zip(belief.parts, bench.steady, bench.spread, strict=True):
                low, high = interval(part)
                held = stats.norm.cdf((high - steady) / spread) - stats.norm.cdf((low - steady) / spread)
                inside.setdefault(kind, []).append(float(held))
    for count, bound in ((1, 6), (3, 4), (8, 2)):
        means = {kind: float(np.mean(off[kind, count])) for kind in KINDS}
        spread = float(np.mean(np.abs(np.concatenate([off[kind, count] for kind in KINDS]))))
        mean = float(np.mean(np.concatenate([off[kind, count] for kind in KINDS])))
        told(
            f"predicted share after {count} sheet(s), 200 benches",
            f"{mean:+.1f} points, {spread:.1f} without signs (kinds {', '.join(f'{m:+.1f}' for m in means.values())})",
            f"at most {bound} points on average", holds=abs(mean) <= bound,
        )  # fmt: skip
    lowest = min(float(np.mean(values)) for values in inside.values())
    told("95 % interval of the next sheet, lowest kind", f"{100 * lowest:.1f} %", "at least 90 %", holds=lowest >= 0.9)


# -- causes --------------------------------------------------------------------------------------------


def wrong_sheets(
    cause: str, count: int, noise: float, points: np.ndarray, random: np.random.Generator
) -> list[np.ndarray]:
    """Sheets of a bench with one thing wrong."""
    size, angle = random.uniform(0.25, 0.6) * random.choice([-1, 1]), random.uniform(0, 2 * math.pi)
    reach, bad, corner = float(np.hypot(*points.T).max()), random.integers(count), random.integers(4)
    found = []
    for number in range(count):
        off = random.normal(0, max(0.3, 3 * noise) if cause == "random" else noise, points.shape) + random.normal(
            0, 0.03, 2
        )
        if cause == "shift":
            off += size * np.array([math.cos(angle), math.sin(angle)])
        elif cause == "rotation":
            off += moved(np.array([0, 0, math.degrees(size / reach), 0, 0]), points)
        elif cause == "scale":
            off += moved(np.array([0, 0, 0, 100 * size / reach, 100 * size / reach * random.uniform(0.7, 1.3)]), points)
        elif cause == "slip":
            y = points[:, 1]
            off[:, 1] += 1.2 * size * (y - y.min()) / np.ptp(y)
        elif cause == "misread" and number == bad:
            marks = np.array([(-90, -125), (90, -125), (-90, 125), (90, 125)], float)[: random.choice([3, 4])]
            seen = marks.copy()
            seen[corner % len(marks)] += 2 * abs(size) * np.array([math.cos(angle), math.sin(angle)])
            through = np.linalg.lstsq(np.column_stack([marks, np.ones(len(marks))]), seen, rcond=None)[0]
            off += np.column_stack([points, np.ones(len(points))]) @ through - points
        found.append(off)
    return found


def causes(count: int = 60) -> None:
    random = np.random.default_rng(9)
    points = target_layout(SHEET, "BENCHMRK").places_mm - np.array(SHEET.size_mm) / 2
    right = sure = surely = total = asked = 0
    for _ in range(count):
        for cause in CAUSES:
            sheets = wrong_sheets(cause, 3, 0.1, points, random)
            likely = causes_of([sheet_of(points, off) for off in sheets])
            total, right = total + 1, right + (likely[0].cause == cause)
            if likely[0].probability > 0.9:
                sure, surely = sure + 1, surely + (likely[0].cause == cause)
            by_eye = causes_by_answers(answers_of(sheets, points, random))
            asked += cause in (by_eye[0].cause, by_eye[1].cause)
    told(
        "causes, 3 sheets x 12 places, noise 0.1",
        f"{100 * right / total:.1f} % right",
        "95 %",
        holds=right >= 0.95 * total,
    )
    told(
        "... when it says over 0.9",
        f"{100 * surely / sure:.1f} % right ({100 * sure / total:.0f} % of cases)",
        "95 %",
        holds=surely >= 0.95 * sure,
    )
    told(
        "eight questions, 7 % wrong answers",
        f"{100 * asked / total:.1f} % among the first two",
        "85 %",
        holds=asked >= 0.85 * total,
    )


def answers_of(sheets: list[np.ndarray], points: np.ndarray, random: np.random.Generator) -> dict[str, bool]:
    """What somebody would say who looks at the sheets, with slips."""
    worst = int(np.argmax([np.hypot(*off.T).mean() for off in sheets]))
    off, size = sheets[worst], max(float(np.hypot(*sheets[worst].T).mean()), 1e-6)
    away = points / np.hypot(*points.T)[:, None]
    outward, round_ = float((off * away).sum(1).mean()), float((off[:, 1] * away[:, 0] - off[:, 0] * away[:, 1]).mean())
    same = float(np.hypot(*off.mean(0)))
    low, high = points[:, 1] < -60, points[:, 1] > 60
    grows = float(np.hypot(*off[high].T).mean()) > 1.8 * float(np.hypot(*off[low].T).mean())
    sizes = sorted(float(np.hypot(*sheet.T).mean()) for sheet in sheets)
    alike = len(sheets) > 1 and float(np.hypot(*(sheets[0] - sheets[1]).T).mean()) < 0.8 * size and size > 0.2
    patterned = max(same, abs(outward), abs(round_)) > 0.6 * size or grows
    said = {
        "same": same > 0.7 * size, "turning": abs(round_) > 0.55 * size, "outward": abs(outward) > 0.55 * size,
        "down": grows and size > 0.15, "one": sizes[-1] > 1.8 * sizes[0], "next": alike, "none": not patterned,
        "wide": float(np.quantile(np.hypot(*off.T), 0.9)) > 0.3,
    }  # fmt: skip
    assert set(said) == {question.key for question in QUESTIONS}
    return {key: bool(value) != (random.random() < 0.07) for key, value in said.items()}


# -- the simulated bench -------------------------------------------------------------------------------


def marks() -> None:
    """The formula of a mark's size against drawn line scans, and the time of one simulated sheet."""
    random, worst = np.random.default_rng(10), 0.0
    for length, thickness, noise in ((18, 1.0, 0.04), (18, 1.0, 0.21), (6, 0.5, 0.21), (10, 0.7, 0.1)):
        drawn = drawn_mark_sd(length, thickness, noise, random)
        worst = max(worst, abs(mark_sd_mm(length, thickness, noise) / drawn - 1))
        worst = max(worst, abs(line_sd_mm(thickness, noise) / drawn_line_sd(thickness, noise, random) - 1))
    told(
        "a mark’s error by formula against drawn scans",
        f"within {100 * worst:.1f} %",
        "within 15 %",
        holds=worst <= 0.15,
    )
    bench = PracticeBench(BenchNature(), 1, size_mm=SHEET.size_mm, marks_mm=marks_middles(SHEET))
    points = random.uniform(-80, 80, (20, 2))
    start = time.perf_counter()
    for _ in range(500):
        bench.sheet(points)
    each = (time.perf_counter() - start) / 500 * 1000
    told("a simulated sheet of 20 stickers", f"{each:.2f} ms", "at most 1 ms", holds=each <= 1.0)


def drawn_line_sd(thickness: float, noise: float, random: np.random.Generator, count: int = 1500) -> float:
    """The spread of a bar's middle by matching the blurred bar to noisy samples, step by step."""
    at = np.arange(-4, 4, READER.step_mm)

    def bar(middle: np.ndarray) -> np.ndarray:
        edges = [(at - middle[:, None] + way * thickness / 2) / READER.spot_mm / math.sqrt(2) for way in (1, -1)]
        # a spot of light goes out and comes back through one aperture: the blur is of the spot itself
        return stats.norm.cdf(edges[0] * math.sqrt(2)) - stats.norm.cdf(edges[1] * math.sqrt(2))

    true = random.uniform(-0.05, 0.05, count)
    seen = bar(true) + noise * random.normal(size=(count, len(at)))
    tries = np.linspace(-0.8, 0.8, 641)
    shapes = bar(tries)
    match = seen @ shapes.T - 0.5 * np.square(shapes).sum(1)
    best = match.argmax(1).clip(1, len(tries) - 2)
    rows = np.arange(count)
    a, b, c = (match[rows, best + n] for n in (-1, 0, 1))
    found = tries[best] + 0.5 * (a - c) / (a - 2 * b + c) * (tries[1] - tries[0])
    return float(np.std(found - true))


def drawn_mark_sd(
    length: float, thickness: float, noise: float, random: np.random.Generator, count: int = 4000
) -> float:
    """Lines over a bar whose two edges wander, averaged along it; the head adds its own."""
    lines = max(1, round(length / READER.line_mm))
    line = drawn_line_sd(thickness, noise, random, 600)
    waves = max(1, round(length / READER.wave_mm))
    edges = READER.ink_mm * random.normal(size=(count, 2, waves)).mean(2).mean(1)
    read = line * random.normal(size=(count, lines)).mean(1)
    return float(np.std(edges + read + READER.common_mm * random.normal(size=count)))


# -- sheets wasted -------------------------------------------------------------------------------------


_NEVER_SET = 3.0
"""Before anyone corrected it, a machine lies so many times farther off: made up."""


def wasted(count: int = 200) -> None:
    """Sheets, a target among them, until one of 20 stickers comes out with 19 clean, on benches nobody set yet.

    Ours: one target, the steady part taken out, bleed as advised for 99 % (at most 2 mm); a spoiled sheet is measured
    like a target. By hand: bleed of 0.5 mm; look at the sheet, shift by what it looks like (half wrong), again; or a
    printed grid first, read to 0.25 mm, then shift by the reading.
    """
    random, model = np.random.default_rng(11), disc_model()
    x, y = np.meshgrid(np.linspace(-75, 75, 4), np.linspace(-110, 110, 5))
    stickers = np.stack([x.ravel(), y.ravel()], 1)
    points = target_layout(SHEET, "BENCHMRK").places_mm - np.array(SHEET.size_mm) / 2
    ways: dict[str, list[int]] = {"ours": [], "look and guess": [], "a grid read to 0.25": []}
    for number in range(count):
        bench = hidden_bench(KINDS[number % 4], random)
        bench = Hidden(_NEVER_SET * bench.steady, bench.spread, bench.repeat_mm)
        ways["ours"].append(_ours(bench, model, points, stickers, random))
        ways["look and guess"].append(_by_hand(bench, stickers, random, grid=False))
        ways["a grid read to 0.25"].append(_by_hand(bench, stickers, random, grid=True))
    for way, sheets in ways.items():
        few = float(np.mean(np.array(sheets) <= 1))
        figures = f"{np.mean(sheets):.2f} on average, at most 1 in {100 * few:.0f} %, worst {max(sheets)}"
        told(
            f"sheets wasted, {way}",
            figures,
            "at most 1 in 95 %" if way == "ours" else "",
            holds=way != "ours" or few >= 0.95,
        )


def _clean(off: np.ndarray, bleed_mm: float) -> bool:
    return int((np.hypot(*off.T) <= bleed_mm + VISIBLE_MM).sum()) >= 19


def _ours(
    bench: Hidden, model: EdgeModel, points: np.ndarray, stickers: np.ndarray, random: np.random.Generator
) -> int:
    sheets, lost = [WeighedSheet(sheet=sheet_of(points, bench.sheet(points, random)))], 1
    while lost < 12:
        belief = believed(sheets, 0.5)
        assert belief is not None
        correction = correction_for(belief)
        error = misregistration_of(belief, correction)
        far = max(stickers, key=lambda place: float(np.hypot(*place)))
        expected = forecast(
            model, error, type(MARKS_MIDDLE)(x_mm=float(far[0]), y_mm=float(far[1])), visible_mm=VISIBLE_MM
        )
        steps = np.arange(0.0, 2.01, 0.05)
        bleed = next((float(b) for b in steps if expected.share_with(bleed_mm=float(b)) >= 0.99), 2.0)
        off = bench.sheet(stickers, random) + moved(np.array(correction.values), stickers)
        if _clean(off, bleed):
            return lost
        lost += 1
        raw = off - moved(np.array(correction.values), stickers)
        sheets.append(WeighedSheet(sheet=sheet_of(stickers, raw)))
    return lost


def _by_hand(bench: Hidden, stickers: np.ndarray, random: np.random.Generator, *, grid: bool) -> int:
    shift, lost = np.zeros(2), 0
    if grid:
        seen = bench.sheet(stickers, random)[0]
        shift, lost = -np.round(seen / 0.25) * 0.25, 1
    while lost < 12:
        off = bench.sheet(stickers, random) + shift
        if _clean(off, 0.5):
            return lost
        lost += 1
        seen = off.mean(0)
        shift = shift - (np.round(seen / 0.25) * 0.25 if grid else seen * random.uniform(0.5, 1.5, 2))
    return lost


def main() -> bool:
    for part in (pictures, dust, cost, eye, promises, causes, marks, wasted):
        part()
    return not _failed


if __name__ == "__main__":
    sys.exit(0 if main() else 1)
