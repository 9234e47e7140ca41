"""Forty designs of open artwork, 600 px, six copies each: read, computed, laid out, changed.

References in the same run: Pillow decodes the same files; one layout made as good as it gets is what a first one is
held against. Bounds: reading at most 6 times Pillow (it is done in a confined process, and checked); elapsed at most
0.75 of the processor time of all results where there are two cores; every first layout within 0.25 of the good one's.
"""

from __future__ import annotations

import io
import os
import sys
import time
from collections.abc import Callable
from dataclasses import replace
from typing import TypeVar

from corpus import artworks, render
from PIL import Image

from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import decoded, design_of
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.overview import EMPTY, Overview
from honest_edge.app.results.parallel import in_parallel
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.job import Job
from honest_edge.files.drawing_parent import RENDERER

COUNT, SIDE_PX, COPIES = 40, 600, 6
MOST_OF_PILLOW, MOST_ELAPSED, MOST_OF_GOOD = 6.0, 0.75, 0.25

T = TypeVar("T")


def timed(work: Callable[[], T]) -> tuple[T, float, float]:
    """Return what work returns, its elapsed seconds, and the processor time of this process."""
    wall, cpu = time.perf_counter(), time.process_time()
    found = work()
    return found, time.perf_counter() - wall, time.process_time() - cpu


def files() -> list[bytes]:
    made = []
    for art in artworks(COUNT):
        out = io.BytesIO()
        Image.fromarray(render(art.svg, SIDE_PX)).save(out, "PNG", dpi=(300, 300))
        made.append(out.getvalue())
    return made


def by_pillow(pictures: list[bytes]) -> None:
    for data in pictures:
        Image.open(io.BytesIO(data)).convert("RGBA").tobytes()


def laid(job: Job, pipeline: Pipeline, before: Overview) -> tuple[Overview, float, float]:
    """Return an overview, and after how many seconds its first and its good layout were there.

    The good one is shown while a sheet less is still sought.
    """
    began, shown = time.perf_counter(), list[float]()
    found = compute_overview(
        job, pipeline, before=before, laid_out=lambda _overview: shown.append(time.perf_counter() - began)
    )
    shown.append(time.perf_counter() - began)
    return found, shown[0], shown[1]


def main() -> bool:
    pictures, holder, job = files(), JobHolder(), Job()
    RENDERER.warm()
    decoded(pictures[0], "warm.png")
    _, pillow_s, _ = timed(lambda: by_pillow(pictures))
    read, read_s, _ = timed(lambda: in_parallel(lambda data: decoded(data, "a.png"), pictures))
    for number, (data, artwork) in enumerate(zip(pictures, read, strict=True)):
        design = design_of(holder, job, data, f"a{number}.png", artwork)
        job = with_designs(job, [replace(design, copies=COPIES, fills=False)])
    pipeline = Pipeline(holder.assets)
    for design, artwork in zip(job.designs, read, strict=True):
        pipeline.keep_decoded(design, artwork)
    _, wall, cpu = timed(lambda: in_parallel(lambda design: pipeline.result(design, job), job.designs))
    good = read_s <= MOST_OF_PILLOW * pillow_s and (wall <= MOST_ELAPSED * cpu or (os.cpu_count() or 1) < 2)
    print(f"{COUNT} pictures read in {read_s:.2f} s, {read_s / pillow_s:.1f} times Pillow (bound {MOST_OF_PILLOW})")
    print(f"all results: {cpu:.1f} CPU s, {wall:.1f} s elapsed, {wall / cpu:.2f} of it (bound {MOST_ELAPSED})")
    overview, first_s, good_s = laid(job, pipeline, EMPTY)
    changes = {
        "opened": (first_s, good_s),
        "a count changed": laid(changed_count(job), pipeline, overview)[1:],
        "one removed": laid(job.without(job.designs[0].key), pipeline, overview)[1:],
        "another paper": laid(replace(job, sheet=replace(job.sheet, paper="a4")), pipeline, overview)[1:],
    }
    for name, (first, whole) in changes.items():
        good &= first <= MOST_OF_GOOD * whole
        print(
            f"{name}: first layout after {first:.2f} s, the good one after {whole:.1f} s (bound {MOST_OF_GOOD} of it)"
        )
    return good


def changed_count(job: Job) -> Job:
    return job.with_design(replace(job.designs[0], copies=COPIES + 1))


if __name__ == "__main__":
    sys.exit(0 if main() else 1)
