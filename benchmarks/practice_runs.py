"""Whole runs on the practice bench without a window: sheets used against what was promised, and how long a step takes.

Bounds: the chance that is told before the first sheet, and after each, comes true as often within ten points; the tally
is what the bench cut, always; an event on the disk and the next step take 50 ms, tally and outlook 0.5 s, at 50 sheets.
The art is made up; 64 good ones are wanted of three sheets of 24.
"""

from __future__ import annotations

import sys
import tempfile
import time
from dataclasses import replace
from pathlib import Path

import numpy as np

from honest_edge.app.edits.job_holder import JobHolder
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.run.clocks import RunClock
from honest_edge.app.run.conductor import Conductor
from honest_edge.app.run.practice import PracticeShop
from honest_edge.app.run.run_facts import RunFacts
from honest_edge.app.run.sealing import Circumstances, Sealing, sealed
from honest_edge.core.run.foreseen import foreseen
from honest_edge.core.values.job import Job
from honest_edge.core.values.run_events import Moved
from honest_edge.core.values.run_times import RunTimes
from honest_edge.core.values.specs import SCHOOL_DEFAULTS

sys.path.insert(0, str(Path(__file__).parents[1] / "tests"))
from conducting import Clock, do
from pictures import disc_png

RUNS, COPIES, PLANNED, WANTED = 200, 24, 3, 64


def told(name: str, value: float, low: float, high: float, unit: str = "") -> bool:
    good = low <= value <= high
    print(f"{name:62} {value:9.3f} {unit:3} bound {low:g} to {high:g}{'' if good else '   MISSED'}")
    return good


def lead(conductor: Conductor, shop: PracticeShop, clock: Clock, *, stop: str = "ended") -> list[float]:
    """Lead a run to its end, or to a step; return the chances that were told after each sheet but the last."""
    told_chances, known = [], RunFacts()
    while (step := conductor.step()).key != stop:
        do(conductor, step, clock, shop, known)
        if step.key == "inspect" and step.sheet < PLANNED:
            told_chances.append(conductor.tally(known).chance)
    return told_chances


def disc_job() -> tuple[Job, Pipeline]:
    """Return discs whose bleed is a little short for the bench, several sheets of them."""
    holder = JobHolder()
    design = design_from(holder, Job(), disc_png(ppi=300), "disc.png")
    edge = replace(SCHOOL_DEFAULTS["bleed"], offset_mm=0.0, bleed_mm=0.4)
    design = replace(design, copies=COPIES, fills=False, edge=edge)
    return Job(designs=(design,), prints=(PLANNED,)), Pipeline(holder.assets)


def conducted(sealing: Sealing, overview: Overview, folder: Path, clock: Clock) -> tuple[Conductor, PracticeShop]:
    conductor = Conductor.begin(folder, sealing, RunClock(clock), block=1, carriers=2)
    return conductor, PracticeShop(sealing.seal, overview)


def whole_runs(overview: Overview, sealing: Sealing, folder: Path) -> bool:
    """Lead many runs, each on a bench of its own chances."""
    told_before, kept_before, told_later, kept_later, disagree = [], [], [], [], 0
    designs = tuple(replace(design, wanted=WANTED) for design in sealing.seal.designs)
    for seed in range(RUNS):
        clock, run = Clock(), np.random.default_rng(seed).bytes(16).hex()
        one = replace(sealing, seal=replace(sealing.seal, run=run, designs=designs))
        conductor, shop = conducted(one, overview, folder, clock)
        told_before.append(conductor.tally(RunFacts()).chance)
        chances = lead(conductor, shop, clock)
        sheets = conductor.state.sheets
        good = sum(COPIES - len(sheet.bad or ()) for sheet in sheets)
        disagree += conductor.tally(RunFacts()).good != good
        kept_before.append(len(sheets) == PLANNED)
        told_later += chances
        kept_later += [kept_before[-1]] * len(chances)
        conductor.journal.discard()
    passed = told("told before the first sheet, chance of enough", float(np.mean(told_before)), 0.0, 1.0)
    passed &= within(kept_before, told_before)
    passed &= told("told after the first and the second sheet", float(np.mean(told_later)), 0.0, 1.0)
    passed &= within(kept_later, told_later)
    return passed & told("runs whose tally is not what the bench cut", float(disagree), 0.0, 0.0)


def within(kept: list[bool], said: list[float]) -> bool:
    middle = float(np.mean(said))
    return told("    came true, share of runs", float(np.mean(kept)), max(0.0, middle - 0.1), min(1.0, middle + 0.1))


def speed(overview: Overview, sealing: Sealing, folder: Path) -> bool:
    """Time what is waited for at every step of a run of 50 sheets."""
    many = replace(sealing, seal=replace(sealing.seal, sheets=(0,) * 50))
    clock = Clock()
    conductor, shop = conducted(many, overview, folder, clock)
    lead(conductor, shop, clock, stop="inspect")
    start = time.perf_counter()
    for _ in range(20):
        conductor.happens(Moved(sheet=50))
        conductor.step()
    step_s = (time.perf_counter() - start) / 20
    start = time.perf_counter()
    conductor.tally(RunFacts())
    foreseen(conductor.seal, conductor.state, conductor.clock(), RunTimes())
    ahead_s = time.perf_counter() - start
    conductor.journal.discard()
    passed = told("an event on the disk and the next step, 50 sheets", 1000 * step_s, 0.0, 50.0, "ms")
    return passed & told("tally and outlook, 50 sheets", ahead_s, 0.0, 0.5, "s")


def main() -> bool:
    job, pipeline = disc_job()
    overview = compute_overview(job, pipeline)
    found = Circumstances(run="0" * 32, sealed_at="2026-01-01T00:00:00Z", drying_s=1200.0, is_practice=True)
    start = time.perf_counter()
    sealing = sealed(overview, pipeline, found)
    print(f"sealed in {time.perf_counter() - start:.2f} s")
    with tempfile.TemporaryDirectory() as folder:
        passed = whole_runs(overview, sealing, Path(folder))
        return passed & speed(overview, sealing, Path(folder))


if __name__ == "__main__":
    sys.exit(0 if main() else 1)
