"""Whole runs on the practice bench, by seed, through the real window."""

import hashlib
from dataclasses import replace

import numpy as np
import pytest

from honest_edge.core.run.state import state_of
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from honest_edge.core.values.stock import STOCKS
from leader import Leader

SEEDS, COPIES = (9, 15, 16, 17, 21, 24), 12
"""Of the first thirty, those in whose runs marks are missed."""


@pytest.fixture
def practice(with_disc, settle, clock):
    """Discs whose bleed is short for the bench, so that some of them are spoiled; too few sheets are not planned."""
    leader = Leader(with_disc, settle, clock)
    leader.with_copies(COPIES)
    document = with_disc.document
    design = document.job.designs[0]
    edge = replace(SCHOOL_DEFAULTS["bleed"], offset_mm=0.0, bleed_mm=0.3)
    job = document.job.with_design(replace(design, edge=edge))
    document.edit(replace(job, prints=(2,), sheet=replace(job.sheet, stock=STOCKS[-1])), "edge and silver film")
    leader.settle()
    return leader


@pytest.mark.slow
def test_runs_are_never_stuck_and_tell_what_the_bench_did(practice, monkeypatch):
    """Marks are missed, stickers spoiled, sheets added: every run ends, and its tally is what the bench cut.

    Thirty are led without a window, in tests/app/run/test_conducted.py.
    """
    practice.visit()
    files, mishaps = {}, {"missed": 0, "bad": 0}
    for seed in SEEDS:
        random = np.random.default_rng(seed)
        monkeypatch.setattr("secrets.token_hex", lambda _bytes, random=random: random.bytes(16).hex())
        practice.begin(practice=True, carriers=1 + seed % 2)
        conductor, shop = practice.keeper.conductor, practice.keeper.shop
        seal = conductor.seal
        cut = {}
        for _ in range(300):
            step = practice.step
            if step.key == "ended":
                break
            if step.key in ("proof", "pass"):
                for name, data in conductor.cut_files(step).items():
                    part = name.split("-", 2)[-1], step.key, conductor.state.sheet(step.sheet).proofs, step.copy
                    digest = hashlib.sha256(data).hexdigest()
                    assert files.setdefault((seal.run, part), digest) == digest  # written twice, it is the same
            if step.key == "inspect":
                cut[step.sheet] = len(shop.cut(step.sheet, 0).bad)
            practice.go_on()
        assert practice.step.key == "ended", f"run {seed} is stuck at {practice.step}"
        tally = conductor.tally(practice.keeper.known)
        copies = len(seal.pages[0].copies)
        assert tally.good == sum(copies - bad for bad in cut.values())
        assert tally.bad == sum(cut.values())
        assert tally.good >= COPIES
        mishaps["bad"] += tally.bad
        mishaps["missed"] += sum(event.what == "missed" for event in conductor.events)
        assert state_of(seal, conductor.events) == conductor.state
        practice.space()  # back to the job
    assert min(mishaps.values()) > 1, mishaps  # or nothing was tried


def test_practice_leaves_nothing_in_the_users_own_book(practice):
    practice.begin(practice=True)
    practice.until("ended")
    assert practice.window.desk()().runs("", 1_790_000_000_000).rows == ()
    assert practice.window.document.runs == {}


def test_the_window_is_offered_what_a_killed_one_left(make_window, settle, clock, tmp_path, disc_file):
    window = make_window()
    window.take_files([disc_file])
    settle(window)
    window.document.out_folder = tmp_path / "out"
    leader = Leader(window, settle, clock)
    leader.with_copies(12)
    leader.begin()
    leader.until("look")
    folder, state = leader.keeper.conductor.journal.folder, leader.state
    leader.keeper.conductor.journal.close()  # as a kill does: the lock goes with the process
    other = Leader(make_window(), settle, clock)
    other.visit()
    other.keeper.take_up(folder)
    other.settle()
    assert other.state == state
    assert other.step.key == "look"
