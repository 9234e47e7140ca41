"""Results that are kept: bounded in bytes, made once though two ask, and by all that they depend on."""

import threading
from dataclasses import dataclass, replace

import numpy as np
import pytest
import shapely

from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.results.cache import ResultCache, size_of
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.errors import Cancelled
from honest_edge.core.values.job import Job
from honest_edge.core.values.stock import STOCKS
from pictures import disc_png


@dataclass(frozen=True)
class Pair:
    one: object
    other: object


@pytest.mark.parametrize(
    ("value", "least", "most"),
    [
        (np.zeros((100, 100, 4), np.uint8), 40_000, 40_100),
        (np.zeros((100, 100), np.uint8)[::2], 10_000, 10_100),  # a view keeps the whole
        (b"x" * 5000, 5000, 5100),
        (shapely.Point(0, 0).buffer(1, quad_segs=250), 16_000, 16_100),
        (Pair(np.zeros(1000), {"a": (np.zeros(500),)}), 12_000, 12_500),
    ],
)
def test_sizes_are_those_of_pictures_points_and_texts(value, least, most):
    assert least <= size_of(value) <= most


def test_what_a_value_holds_twice_counts_once():
    shared = np.zeros(1000)
    assert size_of(Pair(shared, shared)) < 8_300


def test_the_oldest_go_when_the_bound_is_reached():
    cache, made = ResultCache(10_000), []

    def get(key):
        return cache.get("stage", key, lambda: made.append(key) or np.zeros(1000, np.uint8))

    for key in "abcdefghijk":  # 1000 bytes each: one too many
        get(key)
    assert cache.held_bytes == 10_000
    assert get("k") is get("k")
    get("b")
    assert made == list("abcdefghijk")
    get("a")  # it had gone, and now the one goes that was longest unused
    get("c")
    assert made == [*"abcdefghijk", "a", "c"]
    get("b")
    assert made == [*"abcdefghijk", "a", "c"]


def test_a_few_results_are_kept_however_large_they_are():
    cache = ResultCache(10_000)
    large = [cache.get("stage", key, lambda: np.zeros(50_000, np.uint8)) for key in range(8)]
    assert cache.held_bytes == 250_000
    assert cache.get("stage", 7, lambda: None) is large[7]
    assert cache.get("stage", 3, lambda: None) is large[3]
    assert cache.get("stage", 2, lambda: None) is None


def test_two_threads_that_ask_at_once_get_one_result():
    cache, made, go = ResultCache(10_000), [], threading.Event()

    def make():
        made.append(1)
        assert go.wait(60)
        return np.zeros(3)

    found = []
    threads = [threading.Thread(target=lambda: found.append(cache.get("stage", "key", make))) for _ in range(4)]
    for thread in threads:
        thread.start()
    go.set()
    for thread in threads:
        thread.join(60)
    assert made == [1]
    assert len(found) == 4
    assert all(one is found[0] for one in found)


def test_who_waited_for_work_that_was_called_off_does_it_alone():
    cache, began, go, found = ResultCache(10_000), threading.Event(), threading.Event(), []

    def called_off():
        began.set()
        assert go.wait(60)
        raise Cancelled

    def first():
        with pytest.raises(Cancelled):
            cache.get("stage", "key", called_off)

    one = threading.Thread(target=first)
    other = threading.Thread(target=lambda: found.append(cache.get("stage", "key", lambda: "made")))
    one.start()
    assert began.wait(60)
    other.start()
    go.set()
    for thread in (one, other):
        thread.join(60)
    assert found == ["made"]


@pytest.mark.slow
def test_another_stock_is_another_look_at_the_arts_edge():
    holder = JobHolder()
    design = design_from(holder, Job(), disc_png(), "disc.png")
    job, pipeline = with_designs(Job(), [design]), Pipeline(holder.assets)
    for stock in (*STOCKS, STOCKS[0]):
        chosen = replace(job, sheet=replace(job.sheet, stock=stock))
        assert pipeline.result(design, chosen).art_edge.stock == stock


def test_a_small_job_keeps_no_large_past_and_a_large_one_is_kept_whole():
    cache, made = ResultCache(450_000_000), []

    def ask(name, megabytes):
        cache.get("part", name, lambda: made.append(name) or np.zeros(megabytes * 1_000_000, np.uint8))

    cache.begin_turn()
    for number in range(8):
        ask(number, 40)
    cache.end_turn()
    assert cache.held_bytes == pytest.approx(320_000_000, rel=0.01)  # all that the job needs
    cache.begin_turn()
    ask(7, 40)
    ask("other", 5)
    assert cache.held_bytes == pytest.approx(325_000_000, rel=0.01)  # it is not known yet what is needed
    cache.end_turn()
    assert cache.held_bytes <= max(75_000_000, 5 * 40_000_000)  # five results are kept whatever they take
    cache.begin_turn()
    ask(7, 40)
    ask("other", 5)
    assert made == [*range(8), "other"]
