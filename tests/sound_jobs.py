"""Random jobs in which nothing is wrong that would have to block: made up, by seed."""

from dataclasses import replace

import numpy as np

from honest_edge.app.edits.job_holder import JobHolder
from honest_edge.app.edits.open_art import design_from
from honest_edge.core.values.forms import Form
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, Layer, Paint, Shape
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import SCHOOL_DEFAULTS, EdgeRecipe
from pictures import coverage, disc, png, rgba, star

PX_MM = 25.4 / 300


def sound_job(seed):
    """Return a job and its originals."""
    random = np.random.default_rng(seed)
    holder, job = JobHolder(), Job(sheet=SheetSpec(paper=str(random.choice(["letter", "a4"]))))
    for number in range(int(random.integers(1, 4))):
        copies = int(random.integers(1, 9))
        made = (_pictured if random.random() < 0.5 else _layered)(random, holder, job, f"d{number + 1}")
        job = replace(job, designs=(*job.designs, replace(made, copies=copies, fills=False)))
    return job, dict(holder.assets)


def _edge(random):
    school = str(random.choice(["border", "bleed"]))
    usual: EdgeRecipe = SCHOOL_DEFAULTS[school]
    kind = str(random.choice(["kiss", "through"]))
    if school == "border":
        return replace(usual, offset_mm=round(float(random.uniform(1.5, 4.0)), 1), line_kind=kind)
    return replace(usual, bleed_mm=round(float(random.uniform(0.8, 2.0)), 1), line_kind=kind)


def _pictured(random, holder, job, key):
    size = int(random.integers(200, 420))
    radius = 0.42 * size
    if random.random() < 0.5:
        ring = disc(radius, size / 2, size / 2)
    else:
        ring = star(radius, float(random.uniform(60, 100)), int(random.integers(5, 9))) + size / 2
    colour = tuple(int(level) for level in random.integers(20, 200, 3))
    data = png(rgba(coverage(ring, size, size), colour), dpi=(300, 300))
    design = design_from(holder, job, data, f"{key}.png")
    return replace(design, key=key, width_mm=size * PX_MM, edge=_edge(random))


def _layered(random, holder, job, key):
    kind = str(random.choice(["label", "oval label", "tag", "sticker sheet"]))
    wide, high = float(random.uniform(45, 90)), float(random.uniform(35, 70))
    form = Form(kind=kind, width_mm=wide, height_mm=high, radius_mm=3.0, hole_mm=5.0 if kind == "tag" else 0.0)
    layers = []
    for number in range(int(random.integers(1, 4))):
        shape = Shape(
            kind=str(random.choice(["box", "oval", "star", "polygon"])),
            width_mm=float(random.uniform(6, 0.3 * wide)),
            height_mm=float(random.uniform(6, 0.3 * high)),
        )
        colour = tuple(int(level) for level in random.integers(20, 200, 3))
        x, y = float(random.uniform(-0.12, 0.12) * wide), float(random.uniform(-0.12, 0.12) * high)
        layers.append(Layer(key=f"a{number}", shape=shape, paint=Paint(rgb=colour), x_mm=x, y_mm=y))
    edge = replace(SCHOOL_DEFAULTS["bleed"], line_kind="through")
    return Design(key=key, name=f"Label {key}", layers=tuple(layers), form=form, outline=AS_DRAWN, edge=edge)
