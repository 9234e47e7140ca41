"""Sheets a beginner wastes until the first good one, without Proof, Bench and Run and with them: 200 hidden benches.

Each bench hides mishaps by chance, and some jobs a mistake; how often and how large is assumed, from common practice,
no published source (``CHANCES``). Wanted is one good sheet: 19 of 20 labels clean.

Without: everything is printed and cut at once. After a bad sheet one thing that was not tried yet is changed, whichever
comes to mind first, and the next sheet is printed. With: what Proof finds is mended by its buttons. A sheet on plain
paper goes first: the print is measured before it is cut, one sticker is cut first, and what it shows is mended on plain
paper; its stickers, measured by a picture, take the bench's steady part out and set the bleed to what the rest needs.
The force of the good stock is found by trial squares at its edge; a missed mark gets tape. No policy knows what is
hidden, and both try remedies in the same order. Sheets of plain paper are counted apart.

Bounds: guided, at most 0.5 sheets of good stock on average, and at most half of what is wasted without. ``--chances``
does it all again with each chance halved and doubled.
"""

from __future__ import annotations

import argparse
import sys
from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from honest_edge.app.edits.usual import usual
from honest_edge.app.practice import jobs
from honest_edge.app.practice.day import PracticeDay
from honest_edge.app.practice.hands import Hands
from honest_edge.app.practice.stories import Hidden, Story
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.proof import register
from honest_edge.core.values.job import Job
from honest_edge.core.values.misregistration import Misregistration, Scatter
from honest_edge.core.values.stock import PLAIN_PAPER

BENCHES, MOST_SHEETS = 200, 12
CHANCES = {"fits_page": 0.25, "askew": 0.3, "slips": 0.15, "is_dull": 0.2, "glare": 0.15, "force": 0.3}
MISTAKES = (
    ("none", 0.5, jobs.tight_labels, ()),
    ("short bleed", 0.2, jobs.short_bleed, ()),
    ("two cut lines", 0.15, jobs.nested_lines, (register.NESTED, register.DOUBLE)),
    ("leaking outline", 0.15, jobs.leaking_cup, (register.LEAKS,)),
)
REMEDIES = (
    "at_full_size",
    "loads_square",
    "presses_down",
    "takes_new_blade",
    "tapes_marks",
    "force up",
    "force up more",
    "force down",
    "more bleed",
    "the job",
)
ENOUGH_BLEED_MM = 2.0
PLAIN_FORCE = (15, 60)
MOST_PLAIN, MOST_WASTED = 6, 0.5


class Bench:
    """One hidden bench with the job that comes to it."""

    def __init__(self, seed: int, chances: Mapping[str, float] = CHANCES) -> None:
        random = np.random.default_rng((19, seed))
        has = {name: bool(random.random() < chance) for name, chance in chances.items()}
        number = int(random.choice(len(MISTAKES), p=[share for _, share, _, _ in MISTAKES]))
        name, _, make, checks = MISTAKES[number]
        error = Misregistration(
            shift_x_mm=Scatter(bias=float(random.normal(0, 0.2)), spread=0.08),
            shift_y_mm=Scatter(bias=float(random.normal(0, 0.2)), spread=0.08),
            repeat_mm=0.05,
        )
        if name == "short bleed":
            error = replace(error, repeat_mm=0.15)
        self.hidden = Hidden(
            error=error,
            askew_deg=0.9 if has["askew"] else 0.0,
            fits_page=has["fits_page"],
            glare=15.0 if has["glare"] else 1.0,
            slips=has["slips"],
            is_dull=has["is_dull"],
            clean_force=(38, 50) if has["force"] else (20, 45),
            checks=checks,
            spoils="it is spoiled" if checks else "",
        )
        self.job, self.assets = make()
        if has["glare"]:
            glossy, _ = jobs.glossy()
            self.job = replace(self.job, sheet=glossy.sheet)
        self.seed = seed
        self.order = [REMEDIES[n] for n in np.random.default_rng((20, seed)).permutation(len(REMEDIES))]

    def day(self, error: Misregistration | None = None, *, is_plain: bool = False) -> PracticeDay:
        hidden = self.hidden if error is None else replace(self.hidden, error=error)
        if is_plain:  # matt, and cut through by any force that the trial squares on it find
            hidden = replace(hidden, glare=1.0, clean_force=PLAIN_FORCE)
        story = Story(key="x", title="x", tale="", make=jobs.labels, hidden=hidden, par_sheets=0, par_min=0,
                      what="", shows="", avoid="", topic="wrong")  # fmt: skip
        return PracticeDay(story=story, seed=self.seed)


class Shop:
    """Computes a job's overview once."""

    def __init__(self) -> None:
        self._known: dict[Job, Overview] = {}
        self._assets: dict[str, bytes] = {}
        self.pipeline = Pipeline(self._assets)

    def overview(self, job: Job, assets: dict[str, bytes]) -> Overview:
        self._assets.update(assets)
        if job not in self._known:
            self._known[job] = compute_overview(job, self.pipeline)
        return self._known[job]


def with_bleed(job: Job, bleed_mm: float) -> Job:
    return replace(
        job,
        designs=tuple(
            replace(design, edge=replace(design.edge, bleed_mm=max(design.edge.bleed_mm, bleed_mm)))
            if design.copies
            else design
            for design in job.designs
        ),
        pins=(),
        layout=(),
    )


def mended(shop: Shop, job: Job, assets: dict[str, bytes]) -> Job:
    return usual(shop.overview(job, assets), "proof", shop.pipeline).job


def changed(remedy: str, hands: Hands, job: Job, shop: Shop, assets: dict[str, bytes]) -> tuple[Hands, Job]:
    """Return hands and job with one remedy taken."""
    if remedy == "the job":
        return hands, mended(shop, job, assets)
    if remedy == "more bleed":
        return hands, with_bleed(job, ENOUGH_BLEED_MM)
    if remedy.startswith("force"):
        by = {"force up": 6, "force up more": 12, "force down": -6}[remedy]
        return replace(hands, force=min(60, max(10, hands.force + by))), job
    return replace(hands, **{remedy: True}), job


def without(bench: Bench, shop: Shop) -> int:
    """Return how many sheets are wasted when whole sheets are cut and luck decides."""
    day, hands, job, tries = bench.day(), Hands(), bench.job, list(bench.order)
    while day.lost < MOST_SHEETS:
        overview = shop.overview(job, bench.assets)
        if day.print is None:
            day.print_sheet(overview, hands)
        if day.cut(overview, hands).is_good:
            return day.lost
        if not tries:
            tries = list(bench.order)
        hands, job = changed(tries.pop(0), hands, job, shop, bench.assets)
    return MOST_SHEETS


def with_everything(bench: Bench, shop: Shop) -> tuple[int, int]:
    """Return how many sheets of good stock are wasted with all of it, and how many of plain paper it takes."""
    job = mended(shop, bench.job, bench.assets)
    hands = replace(Hands(), cuts_one_first=True, at_full_size=False)
    hands, job, steady, plain = on_plain_paper(bench, shop, job, hands)
    day = bench.day(steady)
    day._cuts = plain  # other chances than on the plain sheets
    for force in range(24, 60, 4):  # trial squares in the margin cost no sheet
        if "lifts clean" in day.try_square(replace(hands, force=force)):
            hands = replace(hands, force=force + 2)
            break
    tries = [one for one in bench.order if not one.startswith("force") and one != "the job"]
    while day.lost < MOST_SHEETS:
        overview = shop.overview(job, bench.assets)
        if day.print is None:
            day.print_sheet(overview, hands)
            if "It is 50 mm" not in day.lay_ruler(overview):
                day.throw_away()
                hands = replace(hands, at_full_size=True)
                continue
        made = day.cut(overview, hands)
        if made.is_good:
            return day.lost, plain
        if made.sheet is None:
            hands = replace(hands, tapes_marks=True)
        elif tries:
            before = job
            hands, job = changed(tries.pop(0), hands, job, shop, bench.assets)
            if job != before and day.print is not None:
                day.throw_away()
        else:
            break
    return MOST_SHEETS, plain


def on_plain_paper(bench: Bench, shop: Shop, job: Job, hands: Hands) -> tuple[Hands, Job, Misregistration | None, int]:
    """Return hands, job and what is left of the error after sheets on plain paper, and how many of those it took."""
    job = replace(job, sheet=replace(job.sheet, stock=PLAIN_PAPER))
    day, error = bench.day(is_plain=True), None
    tries = [one for one in bench.order if not one.startswith("force") and one != "the job"]
    for _ in range(MOST_PLAIN):
        overview = shop.overview(job, bench.assets)
        day.print_sheet(overview, hands)
        if "It is 50 mm" not in day.lay_ruler(overview):
            hands = replace(hands, at_full_size=True)
            continue
        made = day.cut(overview, replace(hands, force=sum(PLAIN_FORCE) // 2, cuts_one_first=False))
        if error is None:  # its stickers are measured whatever they look like: the next ones have no steady part
            hidden = bench.hidden.error
            error = replace(hidden, shift_x_mm=replace(hidden.shift_x_mm, bias=0.0),
                            shift_y_mm=replace(hidden.shift_y_mm, bias=0.0))  # fmt: skip
            sheets, cuts = day._sheets, day._cuts
            day = bench.day(error, is_plain=True)
            day._sheets, day._cuts = sheets, cuts
            job = with_bleed(job, 1.27)
        elif made.is_good or not tries:
            break
        else:
            hands, job = changed(tries.pop(0), hands, job, shop, bench.assets)
    stock = bench.job.sheet.stock
    return hands, replace(job, sheet=replace(job.sheet, stock=stock)), error, day._sheets


def compared(benches: int, chances: Mapping[str, float]) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return sheets wasted without and with, and sheets of plain paper, bench by bench."""
    shop, rows = Shop(), []
    for seed in range(benches):
        bench = Bench(seed, chances)
        rows.append((without(bench, shop), *with_everything(bench, shop)))
    bare, helped, plain = np.array(rows).T
    return bare, helped, plain


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0] if __doc__ else None)
    parser.add_argument("--benches", type=int, default=BENCHES)
    parser.add_argument("--chances", action="store_true", help="each chance halved and doubled as well")
    options = parser.parse_args()
    bare, helped, plain = compared(options.benches, CHANCES)
    print(f"{options.benches} hidden benches, sheets wasted until the first good one (at most {MOST_SHEETS})")
    for name, lost in (("without Proof, Bench and Run", bare), ("with them", helped), ("plain paper, beside", plain)):
        error = np.std(lost) / np.sqrt(len(lost))
        often = f"{100 * np.mean(lost == 0):3.0f} % of benches none, 9 of 10 at most {np.quantile(lost, 0.9):.0f}"
        print(f"{name:30} {np.mean(lost):5.2f} +- {error:.2f} on average, {often}")
    good = np.mean(helped) <= MOST_WASTED and np.mean(helped) < np.mean(bare) / 2
    print(f"with them at most {MOST_WASTED:g}, and at most half{'' if good else '   MISSED'}")
    for name in CHANCES if options.chances else ():
        for factor in (0.5, 2.0):
            bare, helped, plain = compared(options.benches, {**CHANCES, name: min(1.0, factor * CHANCES[name])})
            print(f"{name:10} x {factor:g}: {np.mean(bare):5.2f} without, {np.mean(helped):5.2f} with, "
                  f"{np.mean(plain):.2f} plain", flush=True)  # fmt: skip
    return 0 if good else 1


if __name__ == "__main__":
    sys.exit(main())
