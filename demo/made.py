"""The demo's designs that are made in the application itself: a sheet, a wrap label, a tag and a pop-up card."""

from __future__ import annotations

from dataclasses import replace

from honest_edge.app.edits.job_holder import formed_design, with_designs
from honest_edge.app.edits.layer_edits import ring_mm
from honest_edge.core.layers.sticker_rows import in_rows
from honest_edge.core.values.forms import PRESETS, Preset
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import Code, Layer, Lettering, Paint, Picture, Shape, Sticker
from honest_edge.core.values.specs import Colour, OutlineRecipe
from honest_edge.files.read_table import read_table

TEAL, CREAM, OCHRE, PLUM, CLAY = (47, 111, 99), (247, 237, 214), (217, 164, 65), (93, 50, 96), (196, 104, 59)
SERIF, SCRIPT = ("Playfair Display", "Bold"), ("Kaushan Script", "Regular")
TEAS = """name,batch,price
Morning mint,QW-041,4.50
Lemon balm and verbena,QW-042,5.20
Thyme and honey,QW-043,4.80
"""
FORMS = {preset.name: preset.form for preset in PRESETS}


def words(key: str, text: str, font: tuple[str, str], size_mm: float, rgb: Colour, x: float, y: float, **more) -> Layer:
    lettering = Lettering(text=text, family=font[0], style=font[1], size_mm=size_mm, **more)
    return Layer(key=key, lettering=lettering, x_mm=x, y_mm=y, paint=Paint(rgb=rgb))


def made(job: Job, name: str, preset: str, copies: int, layers: tuple[Layer, ...], **sizes) -> Design:
    form = replace(FORMS[preset], **sizes)
    design = formed_design(job, Preset(name=name, form=form))
    return replace(design, name=name, copies=copies, layers=layers, form=form)


def sheet(job: Job) -> Design:
    ring = ring_mm(job)
    keys = {design.name: design.key for design in job.designs}
    names, sizes = ("Lavender", "Bee", "Badge", "Lavender"), ((26, 58), (51, 42), (44, 44), (26, 58))
    places = in_rows(sizes, (-50.8, -60.0, 50.8, 64.0), gap_mm=2)
    stickers = tuple(
        Layer(
            key=f"s{n}",
            name=name,
            sticker=Sticker(design=keys[name]),
            joining="knock out",
            gap_mm=ring,
            x_mm=round(x, 2),
            y_mm=round(y, 2),
        )
        for n, (name, (x, y)) in enumerate(zip(names, places, strict=True))
    )
    title = words("title", "Herb garden", SCRIPT, 7.0, TEAL, 0, -66.5)
    shop = words("shop", "QUILLWORT TEA GARDEN", SERIF, 2.6, TEAL, 0, 69.5, spacing=0.12)
    return made(job, "Herb sheet", "Sticker sheet", 2, (title, shop, *stickers), rgb=(222, 231, 222))


def wrap(job: Job) -> Design:
    layers = (
        Layer(key="band", shape=Shape(kind="box", width_mm=208, height_mm=9), y_mm=15.5, paint=Paint(rgb=TEAL)),
        words("name", "{name}", SCRIPT, 8.0, TEAL, -18, -5, room_mm=105.0),
        words("shop", "QUILLWORT TEA GARDEN", SERIF, 3.2, CREAM, -18, 14.5, spacing=0.14),
        words("price", "{price}", SERIF, 6.0, CLAY, 60, 1),
        words("batch", "batch {batch}", SERIF, 2.2, PLUM, 60, -9),
        Layer(
            key="code", code=Code(kind="QR", text="https://example.org/teas/{batch}", width_mm=22), x_mm=-86, y_mm=-4
        ),
    )
    table = read_table(TEAS.encode(), "teas.csv")
    design = made(job, "Tin wrap", "Wrap label", 1, layers, jar_mm=63.0, height_mm=40.0, rgb=CREAM)
    return replace(design, table=table)


def tag(job: Job) -> Design:
    layers = (
        words("name", "Small batch", SCRIPT, 6.5, PLUM, 8, -5),
        words("price", "4.50", SERIF, 7.0, CREAM, 8, 9),
    )
    return made(job, "Price tag", "Tag with eyelet", 4, layers, width_mm=72.0, height_mm=36.0, rgb=OCHRE)


def card(job: Job, teapot: Design) -> Design:
    pot = Picture(asset=teapot.asset, file_name=teapot.file_name, width_mm=54.0, outline=OutlineRecipe(hole_mm2=40.0))
    layers = (
        Layer(key="pot", picture=pot, y_mm=8.0),
        words("words", "Time for tea", SCRIPT, 11.0, TEAL, 0, -76),
        words("shop", "Quillwort Tea Garden", SERIF, 3.4, CLAY, 0, 92),
    )
    return made(job, "Pop-up card", "Pop-up card", 1, layers, rgb=CREAM)


def with_made_designs(job: Job) -> Job:
    """Return the job with what is made of its art."""
    teapot = next(design for design in job.designs if design.name == "Teapot")
    for design in (sheet, wrap, tag):
        job = with_designs(job, [design(job)])
    return with_designs(job, [card(job, teapot)])
