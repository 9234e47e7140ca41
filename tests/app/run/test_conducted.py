"""Whole runs without a window: thirty on the practice bench by seed, and one that is killed in each of its steps."""

import hashlib
import os
import signal
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from conducting import Clock, do
from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.run.clocks import RunClock
from honest_edge.app.run.conductor import Conductor
from honest_edge.app.run.practice import PracticeShop
from honest_edge.app.run.run_facts import RunFacts
from honest_edge.app.run.sealing import Circumstances, sealed
from honest_edge.core.run.state import state_of
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from honest_edge.core.values.stock import STOCKS
from honest_edge.files.runs.journal import Journal, left_runs
from pictures import disc_png
from sealed import BOTH, page, seal

RUNS, COPIES, ASSURANCE = 30, 12, 0.9
ROOT = Path(__file__).parents[3]


@pytest.fixture(scope="module")
def sealing():
    """Discs whose bleed is short for the bench, on film whose marks are missed; few sheets are planned."""
    holder, job = JobHolder(), Job(prints=(2,))
    design = design_from(holder, job, disc_png(ppi=300), "disc.png")
    edge = replace(SCHOOL_DEFAULTS["bleed"], offset_mm=0.0, bleed_mm=0.3)
    job = with_designs(job, [replace(design, copies=COPIES, fills=False, edge=edge)])
    job = replace(job, sheet=replace(job.sheet, stock=STOCKS[-1]))
    pipeline = Pipeline(holder.assets)
    overview = compute_overview(job, pipeline)
    found = Circumstances(
        run="0f" * 16, sealed_at="2026-09-21T14:13:20Z", drying_s=1200.0, is_practice=True, assurance=ASSURANCE
    )
    return sealed(overview, pipeline, found), overview


def test_thirty_runs_are_never_stuck_and_tell_what_the_bench_did(sealing, tmp_path):
    """Marks are missed, stickers spoiled, sheets added: every run ends, and its tally is what the bench cut."""
    made, overview = sealing
    known, kept, missed, spoiled = RunFacts(), [], 0, 0
    for seed in range(RUNS):
        run = replace(made.seal, run=np.random.default_rng(seed).bytes(16).hex())
        clock, shop = Clock(), PracticeShop(run, overview)
        conductor = Conductor.begin(tmp_path, replace(made, seal=run), RunClock(clock), block=1, carriers=1 + seed % 2)
        planned, cut = len(conductor.state.sheets), {}
        for _ in range(300):
            step = conductor.step()
            if step.key == "ended":
                break
            if step.key == "inspect":
                cut[step.sheet] = len(shop.cut(step.sheet, conductor.state.sheet(step.sheet).page).bad)
            do(conductor, step, clock, shop, known)
        assert step.key == "ended", f"run {seed} is stuck at {step}"
        tally, copies = conductor.tally(known), len(run.pages[0].copies)
        assert (tally.good, tally.bad) == (sum(copies - bad for bad in cut.values()), sum(cut.values()))
        assert tally.good >= COPIES
        assert state_of(run, conductor.events) == conductor.state
        used = sum(sheet.printed is not None and not sheet.spoiled for sheet in conductor.state.sheets)
        kept.append(used <= planned)
        spoiled += tally.bad
        missed += sum(event.what == "missed" for event in conductor.events)
        conductor.journal.close()
    assert min(missed, spoiled) > 3  # or nothing was tried
    assert np.mean(kept) >= ASSURANCE - 3 * (ASSURANCE * (1 - ASSURANCE) / RUNS) ** 0.5


LED_ON = """
import sys
from pathlib import Path
from conducting import Clock, do
from honest_edge.app.run.clocks import RunClock
from honest_edge.app.run.conductor import Conductor
clock = Clock()
conductor = Conductor.take_up(Path(sys.argv[1]), RunClock(clock))
step = conductor.step()
print(step.key, conductor.asks_where, sep="|", flush=True)
do(conductor, step, clock)
print(conductor.step().key, flush=True)
sys.stdin.readline()
"""


def test_a_run_whose_process_is_killed_in_any_step_goes_on_exactly_there(tmp_path):
    """SIGKILL after each of the twelve steps, one process after the other leading it on: no pass is taken for done."""
    digest = hashlib.sha256(b"%PDF").hexdigest()
    run = seal(1, (page(6, (BOTH,)),), print_sha256=digest, is_laminated=True, is_practice=True, drying_s=0.0)
    Journal.begin(tmp_path, run, b"%PDF").close()
    environment = {**os.environ, "PYTHONPATH": os.pathsep.join([str(ROOT / "src"), str(ROOT / "tests")])}
    seen, before = [], ""
    while before != "tally":
        command = [sys.executable, "-c", LED_ON, str(tmp_path / run.run)]
        with subprocess.Popen(
            command, env=environment, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
        ) as process:
            key, asks = process.stdout.readline().strip().split("|")
            after = process.stdout.readline().strip()
            process.send_signal(signal.SIGKILL)
        assert not before or before == key
        assert asks == str(key == "cutting")
        seen.append(key)
        before = after
        ((left,), unread) = left_runs(tmp_path)
        assert (unread, left.has_ended, left.is_taken) == ([], False, False)
    assert seen == [
        "print first", "measure", "laminate", "load", "set", "read", "proof", "look", "pass", "cutting", "take out",
        "inspect",
    ]  # fmt: skip
