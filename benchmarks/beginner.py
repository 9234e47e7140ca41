"""Sheets a beginner wastes until the first good one, without Proof, Bench and Run and with them: 200 hidden benches.

Each bench hides mishaps by chance, and some jobs a mistake; how often and how large is assumed, from common practice,
no published source (``CHANCES``). Wanted is one good sheet: 19 of 20 labels clean.

Without: everything is printed and cut at once. After a bad sheet one thing that was not tried yet is changed, whichever
comes to mind first, and the next sheet is printed. With: what Proof finds is mended by its buttons; the force is found
by trial squares at the sheet's edge; the print is measured before it is cut; one sticker is cut first; a missed mark
gets tape. When two first stickers were bad the bench is measured, which costs a sheet that counts as wasted: its steady
part is taken out and the bleed set to what the rest needs. No policy knows what is hidden, and both try remedies in the
same order.
"""

from __future__ import annotations

import sys
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
from honest_edge.core.values.job import Job
from honest_edge.core.values.misregistration import Misregistration, Scatter

BENCHES, MOST_SHEETS = 200, 12
CHANCES = {"fits_page": 0.25, "askew": 0.3, "slips": 0.15, "is_dull": 0.2, "glare": 0.15, "force": 0.3}
MISTAKES = (
    ("none", 0.5, jobs.tight_labels, ()),
    ("short bleed", 0.2, jobs.short_bleed, ()),
    ("two cut lines", 0.15, jobs.nested_lines, ("nested", "double")),
    ("leaking outline", 0.15, jobs.leaking_cup, ("leaks",)),
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


class Bench:
    """One hidden bench with the job that comes to it."""

    def __init__(self, seed: int) -> None:
        random = np.random.default_rng((19, seed))
        has = {name: bool(random.random() < chance) for name, chance in CHANCES.items()}
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

    def day(self, error: Misregistration | None = None) -> PracticeDay:
        hidden = self.hidden if error is None else replace(self.hidden, error=error)
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


def with_everything(bench: Bench, shop: Shop) -> int:
    """Return how many sheets are wasted with Proof, Bench and Run."""
    job = mended(shop, bench.job, bench.assets)
    day, hands = bench.day(), replace(Hands(), cuts_one_first=True)
    targets, bad_first, tries = 0, 0, [one for one in bench.order if not one.startswith("force") and one != "the job"]
    for force in range(24, 60, 4):  # trial squares cost no sheet
        if "lifts clean" in day.try_square(replace(hands, force=force)):
            hands = replace(hands, force=force + 2)
            break
    while day.lost + targets < MOST_SHEETS:
        overview = shop.overview(job, bench.assets)
        if day.print is None:
            day.print_sheet(overview, hands)
            if "It is 50 mm" not in day.lay_ruler(overview):
                day.throw_away()
                hands = replace(hands, at_full_size=True)
                continue
        made = day.cut(overview, hands)
        if made.is_good:
            return day.lost + targets
        if made.sheet is None:
            hands = replace(hands, tapes_marks=True)
            continue
        bad_first += 1
        if bad_first == 2:
            targets += 1
            error = bench.hidden.error
            steady = replace(error, shift_x_mm=replace(error.shift_x_mm, bias=0.0),
                             shift_y_mm=replace(error.shift_y_mm, bias=0.0))  # fmt: skip
            lost, day_before = day.lost, day
            day = bench.day(steady)
            day.lost, day.print, day._sheets, day._cuts = lost, None, day_before._sheets, day_before._cuts
            day.lost += day_before.print is not None  # the print was made for another bleed
            job = with_bleed(job, 1.27)
        elif tries:
            before = job
            hands, job = changed(tries.pop(0), hands, job, shop, bench.assets)
            if job != before and day.print is not None:
                day.throw_away()
        else:
            return MOST_SHEETS
    return MOST_SHEETS


def main() -> int:
    shop = Shop()
    bare, helped = [], []
    for seed in range(BENCHES):
        bench = Bench(seed)
        bare.append(without(bench, shop))
        helped.append(with_everything(bench, shop))
    print(f"{BENCHES} hidden benches, sheets wasted until the first good one (at most {MOST_SHEETS})")
    for name, lost in (("without Proof, Bench and Run", bare), ("with them", helped)):
        mean = np.mean(lost)
        error = np.std(lost) / np.sqrt(len(lost))
        none = 100 * np.mean(np.array(lost) == 0)
        often = f"{none:3.0f} % of benches none, 9 of 10 at most {np.quantile(lost, 0.9):.0f}"
        print(f"{name:30} {mean:5.2f} +- {error:.2f} on average, {often}")
    good = np.mean(helped) < np.mean(bare) / 2
    print(f"with them at most half{'' if good else '   MISSED'}")
    return 0 if good else 1


if __name__ == "__main__":
    sys.exit(main())
