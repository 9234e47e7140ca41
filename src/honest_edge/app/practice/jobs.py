"""The jobs of the practice stories, as the learner finds them: plain shapes, and one drawing."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np

from honest_edge.app.edits.job_holder import JobHolder
from honest_edge.app.edits.open_art import design_from
from honest_edge.core.values.forms import Form
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, FIRST_FONT, Layer, Lettering, Paint, Shape, Sticker
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.misregistration import Misregistration, Scatter
from honest_edge.core.values.printer import PRINTERS
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import SCHOOL_DEFAULTS, EdgeRecipe
from honest_edge.core.values.stock import STOCKS

Made = tuple[Job, dict[str, bytes]]

_GREEN, _LEAF, _GOLD = (47, 93, 80), (127, 165, 138), (217, 164, 65)
_LABEL_MM, _WIDER_MM = 42.0, 45.0
LOOSE = Misregistration(shift_x_mm=Scatter(spread=0.3), shift_y_mm=Scatter(spread=0.3), repeat_mm=0.06)
"""A bench of which nobody would be proud."""


def _disc(key: str, wide_mm: float, rgb: tuple[int, int, int]) -> Layer:
    return Layer(key=key, name=key, shape=Shape(kind="oval", width_mm=wide_mm, height_mm=wide_mm), paint=Paint(rgb=rgb))


def _round_label(wide_mm: float, *, copies: int = 12, bleed_mm: float = 1.27) -> Design:
    edge = replace(SCHOOL_DEFAULTS["bleed"], bleed_mm=bleed_mm)
    return Design(
        key="d1",
        name="Mint tea",
        outline=AS_DRAWN,
        edge=edge,
        copies=copies,
        layers=(_disc("ground", wide_mm, _GREEN), _disc("heart", wide_mm * 0.45, _GOLD)),
    )


def _job(design: Design, **more: object) -> Job:
    return replace(Job(title="Practice", designs=(design,)), **more)  # type: ignore[arg-type]


def labels() -> Made:
    """Return twelve round labels with full bleed."""
    return _job(_round_label(_LABEL_MM)), {}


def tight_labels() -> Made:
    """Return a full sheet of labels whose bleed bears what a sharp blade does, and no more."""
    return _job(_round_label(_LABEL_MM, copies=20, bleed_mm=0.45)), {}


def widened() -> Made:
    """Return the labels, wider than they were printed."""
    return _job(_round_label(_WIDER_MM)), {}


def short_bleed() -> Made:
    """Return badges with hardly any bleed on a bench that is known to be loose."""
    return _job(_round_label(_LABEL_MM, bleed_mm=0.05), error=LOOSE), {}


def marks_at_the_edge() -> Made:
    """Return labels on a sheet whose marks stand where the practice printer does not print."""
    printer = next(printer for printer in PRINTERS if printer.rim_mm == 0.0)
    sheet = SheetSpec(printer=printer).with_marks(MarkSpec(inset_mm=2.0))
    return _job(_round_label(_LABEL_MM), sheet=sheet), {}


def _on(name: str) -> SheetSpec:
    return replace(SheetSpec(), stock=next(stock for stock in STOCKS if stock.name == name))


def glossy() -> Made:
    """Return labels on glossy paper."""
    return _job(_round_label(_LABEL_MM), sheet=_on("White paper, glossy")), {}


def on_vinyl() -> Made:
    """Return labels on vinyl."""
    return _job(_round_label(_LABEL_MM), sheet=_on("White vinyl, satin")), {}


def nested_lines() -> Made:
    """Return labels with a cut line of their own inside the one that is made."""
    edge = replace(SCHOOL_DEFAULTS["bleed"], line_kind="through")
    line = Layer(
        key="line",
        name="Her cut line",
        shape=Shape(kind="box", width_mm=66.0, height_mm=36.0),
        role="line",
        line="through",
    )
    words = Lettering(text="Lemon balm", family=FIRST_FONT[0], style=FIRST_FONT[1], size_mm=6)
    design = Design(
        key="d1",
        name="Lemon balm",
        outline=AS_DRAWN,
        edge=edge,
        copies=6,
        layers=(Layer(key="words", name="Words", lettering=words), line),
        form=Form(kind="label", width_mm=70, height_mm=40, rgb=_LEAF),
    )
    return _job(design), {}


def close_backing() -> Made:
    """Return a sheet of stickers whose backing comes too close."""
    sticker = replace(_round_label(26.0, copies=0), key="d2", name="Mint", edge=EdgeRecipe())
    places = [(x, y) for y in (-45.0, 0.0, 45.0) for x in (-22.0, 22.0)]
    lies = tuple(
        Layer(
            key=f"s{number}",
            name=f"Mint {number}",
            sticker=Sticker(design="d2"),
            x_mm=x,
            y_mm=y,
            joining="knock out",
            gap_mm=0.2,
        )
        for number, (x, y) in enumerate(places, 1)
    )
    sheet = Design(
        key="d1",
        name="Sheet",
        outline=AS_DRAWN,
        edge=replace(SCHOOL_DEFAULTS["bleed"], line_kind="through"),
        copies=2,
        layers=lies,
        form=Form(kind="sticker sheet", width_mm=101.6, height_mm=152.4, radius_mm=5.08, rgb=_GREEN),
    )
    return replace(_job(sheet), designs=(sheet, sticker)), {}


def leaking_cup() -> Made:
    """Return a line drawing of a cup on white paper, with a gap in its line."""
    holder, job = JobHolder(), Job(title="Practice")
    design = design_from(holder, job, cup_png(), "cup.png")
    return replace(job, designs=(replace(design, width_mm=46.0, copies=8, fills=False),)), dict(holder.assets)


def cup_png() -> bytes:
    """Return the drawing: 640 px square, its line 14 px wide, the gap at the right below the rim."""
    big = np.full((1280, 1280, 3), 255, np.uint8)  # drawn twice as large, for smooth edges
    ink, width = (80, 93, 47), 28
    body = [(260, 420), (300, 960), (420, 1080), (800, 1080), (920, 960), (960, 420), (260, 420)]
    points = np.array(body, np.int32)
    cv2.polylines(big, [points], False, ink, width, cv2.LINE_AA)
    cv2.ellipse(big, (980, 690), (150, 190), 0, -80, 100, ink, width, cv2.LINE_AA)
    for x in (460, 620, 780):
        cv2.ellipse(big, (x, 290), (36, 80), 0, 60, 300, ink, width, cv2.LINE_AA)
    cv2.circle(big, (610, 760), 90, (65, 164, 217), -1, cv2.LINE_AA)
    big[560:596, 900:1000] = 255  # the gap
    small = cv2.resize(big, (640, 640), interpolation=cv2.INTER_AREA)
    return bytes(cv2.imencode(".png", small)[1])
