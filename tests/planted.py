"""Jobs with one thing wrong, and where; each with its twin that has nothing wrong with it.

Which mistakes there are is common practice, no published source; the places follow from how the jobs are made.
"""

import io
from dataclasses import dataclass, replace

import cv2
import numpy as np
from PIL import Image

from honest_edge.app.edits.job_holder import JobHolder
from honest_edge.app.edits.layer_edits import turned_layered
from honest_edge.app.edits.open_art import design_from
from honest_edge.core.values.forms import Form
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, Code, Layer, Lettering, Shape, Sticker
from honest_edge.core.values.layouts import Pin, PlacedCopy
from honest_edge.core.values.machine import LineUse, LineUses, Machine
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.misregistration import Misregistration, Scatter
from honest_edge.core.values.printer import Printer
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import SCHOOL_DEFAULTS, ArtSource, OutlineRecipe
from honest_edge.core.values.stock import Stock
from honest_edge.core.values.tables import Table
from pictures import coverage, disc, on_background, png, rgba, square

PX_MM = 25.4 / 300
FINE = Misregistration(shift_x_mm=Scatter(spread=0.03), shift_y_mm=Scatter(spread=0.03))


@dataclass(frozen=True)
class Planted:
    """A job with something wrong.

    ``at`` is its frame, x and y in millimetres, or None where it has no place; ``is_mended`` whether a button mends
    it; ``twin`` the same job without it.
    """

    job: Job
    assets: dict
    at: tuple | None = None
    is_mended: bool = True
    twin: Job | None = None


def pictured(cover, *, ppi=300, width_mm=None, colour=(40, 90, 160), background=None, **more):
    """A job of one picture that a cover gives."""
    holder, job = JobHolder(), Job(error=FINE)
    pixels = rgba(cover, colour) if background is None else on_background(cover, colour, background)
    design = design_from(holder, job, png(pixels, dpi=(ppi, ppi)), "art.png")
    wide_mm = width_mm or cover.shape[1] * PX_MM
    design = replace(design, width_mm=wide_mm, copies=1, fills=False, **more)
    return replace(job, designs=(design,)), dict(holder.assets)


def layered(*layers, form=None, count=1, job=None, **more):
    """A job of one design of layers."""
    given = {"edge": SCHOOL_DEFAULTS["bleed"], "copies": count, "outline": AS_DRAWN, **more}
    return replace(job or Job(error=FINE), designs=(Design(key="d1", name="Label", layers=layers, form=form, **given),))


def box(key, wide, high, **more):
    return Layer(key=key, name=key, shape=Shape(kind="box", width_mm=wide, height_mm=high), **more)


ASTRAY = Misregistration(shift_x_mm=Scatter(spread=0.25), shift_y_mm=Scatter(spread=0.25))
"""A bench that keeps to 0.6 mm, 19 times of 20."""


def cover_of(size, *rings):
    return np.clip(sum(coverage(ring, size, size).astype(float) for ring in rings), 0, 1)


def without(cover, hole):
    return np.clip(cover.astype(float) - coverage(hole, cover.shape[1], cover.shape[0]), 0, 1)


# -- art ----------------------------------------------------------------------------------------------


def soft():
    job, assets = pictured(cover_of(240, disc(100, 120, 120)), width_mm=30.0)
    (design,) = job.designs
    return Planted(job=job, assets=assets, twin=job.with_design(replace(design, width_mm=20.0)))


def coarse():
    job, assets = pictured(cover_of(240, disc(100, 120, 120)), width_mm=60.0)
    (design,) = job.designs
    return Planted(job=job, assets=assets, twin=job.with_design(replace(design, width_mm=20.0)))


def matted():
    """A disc cut out of white with its soft edge left as it was: half way out it is half white."""
    cover = cover_of(240, disc(100, 120, 120))
    share = cover[..., None] / cover.max()
    pixels = rgba(cover, (40, 90, 160))
    pixels[..., :3] = np.rint(share * np.array((40, 90, 160)) + (1 - share) * 255)
    holder, job = JobHolder(), Job(error=FINE)
    design = replace(design_from(holder, job, png(pixels, dpi=(300, 300)), "art.png"), copies=1, fills=False)
    job = replace(job, designs=(replace(design, width_mm=240 * PX_MM),))
    clean, more = pictured(cover)
    return Planted(job=job, assets=dict(holder.assets) | more, is_mended=False, twin=clean)


def code_at_the_edge():
    form = Form(kind="label", width_mm=60, height_mm=40)
    code = Layer(key="q", code=Code(kind="QR", text="tea", width_mm=20))
    near = replace(code, x_mm=19.8)
    at = ("art", 49.8 + 2 * 25.4 / 600, 20 + 2 * 25.4 / 600)
    job, twin = (replace(layered(one, form=form), error=ASTRAY) for one in (near, code))
    return Planted(job=job, assets={}, at=at, is_mended=False, twin=twin)


def placeholder():
    form = Form(kind="label", width_mm=60, height_mm=30)
    words = Layer(key="w", lettering=Lettering(text="Words", family="Playfair Display", style="Bold", size_mm=6.0))
    meant = replace(words, lettering=replace(words.lettering, text="Thyme"))
    return Planted(job=layered(words, form=form), assets={}, twin=layered(meant, form=form))


def blank_rows():
    table = Table(file_name="teas.csv", columns=("name", "batch"), rows=(("Mint", "1"), ("Thyme", "2")))
    form = Form(kind="label", width_mm=60, height_mm=30)
    return Planted(
        job=layered(words("Tea garden"), form=form, table=table),
        assets={},
        twin=layered(words("{name}"), form=form, table=table),
    )


def photograph(background="auto"):
    sky = np.zeros((300, 400, 3), np.uint8)
    sky[:] = np.array([150, 180, 220]) + np.linspace(0, 30, 300)[:, None, None]
    ground = np.random.default_rng(5).integers(30, 120, (120, 400, 1))
    sky[180:] = np.clip(ground + np.random.default_rng(6).integers(-9, 9, (120, 400, 3)), 0, 255)
    holder, job = JobHolder(), Job(error=FINE)
    design = design_from(holder, job, png(sky, dpi=(300, 300)), "sky.png")
    design = replace(design, width_mm=400 * PX_MM, copies=1, fills=False, outline=OutlineRecipe(background=background))
    plain, more = pictured(cover_of(240, disc(100, 120, 120)), background=(255, 255, 255))
    return Planted(job=replace(job, designs=(design,)), assets=dict(holder.assets) | more, twin=plain)


def drawn_cut_lines():
    line = '<rect x="5" y="5" width="50" height="30" fill="none" stroke="magenta" stroke-width=".1"/>'
    head = '<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="40mm" viewBox="0 0 60 40">'
    jobs = []
    for more in (line, ""):
        holder, job = JobHolder(), Job(error=FINE)
        art = f'{head}<circle cx="30" cy="20" r="12" fill="#286"/>{more}</svg>'.encode()
        design = replace(design_from(holder, job, art, "art.svg"), width_mm=60, copies=1, fills=False)
        jobs.append((replace(job, designs=(design,)), dict(holder.assets)))
    (job, assets), (twin, more_assets) = jobs
    return Planted(job=job, assets=assets | more_assets, twin=twin)


def cut_lines_in_a_layer():
    made = drawn_cut_lines()
    job, twin = (one.with_design(turned_layered(one.designs[0], 40.0)) for one in (made.job, made.twin))
    return Planted(job=job, assets=made.assets, twin=twin)


def page_aslant():
    photo = np.full((400, 500, 3), 60, np.uint8)
    cv2.fillPoly(photo, [np.array([(120, 60), (400, 90), (430, 350), (80, 330)])], (236, 236, 232))
    cv2.circle(photo, (250, 210), 60, (40, 60, 120), 8)
    holder, job = JobHolder(), Job(error=FINE)
    design = design_from(holder, job, png(photo, dpi=(300, 300)), "page.png")
    design = replace(design, width_mm=500 * PX_MM, copies=1, fills=False)
    plain, more = pictured(cover_of(240, disc(100, 120, 120)), background=(255, 255, 255))
    return Planted(job=replace(job, designs=(design,)), assets=dict(holder.assets) | more, twin=plain)


def bay_of_paper():
    cover = cover_of(400, disc(150, 200, 200))
    cover[190:212, 200:] = 0.0  # a white stripe that reaches the edge
    holder, job = JobHolder(), Job(error=FINE)
    page = np.rint(252 - 180 * cover[..., None] * np.ones(3)).astype(np.uint8)
    design = replace(design_from(holder, job, png(page, dpi=(300, 300)), "flag.png"), copies=1, fills=False)
    design = replace(design, width_mm=400 * PX_MM, source=ArtSource(paper="white"))
    whole, more = pictured(cover_of(400, disc(150, 200, 200)), background=(255, 255, 255))
    at = ("art", 275 * PX_MM, 201 * PX_MM)
    return Planted(
        job=replace(job, designs=(design,)), assets=dict(holder.assets) | more, at=at, twin=whole, is_mended=False
    )


def shaded_paper():
    cover = cover_of(400, disc(90, 200, 200))
    light = np.linspace(235, 165, 400)[None, :, None] * np.array([1.0, 0.98, 0.94])
    page = np.clip(light * (1 - 0.7 * cover[..., None]), 0, 255).astype(np.uint8)
    holder, job = JobHolder(), Job(error=FINE)
    design = design_from(holder, job, png(page, dpi=(300, 300)), "pencil.png")
    design = replace(design, width_mm=400 * PX_MM, copies=1, fills=False)
    plain, more = pictured(cover, background=(255, 255, 255))
    return Planted(job=replace(job, designs=(design,)), assets=dict(holder.assets) | more, twin=plain)


# -- outline and cut ----------------------------------------------------------------------------------


def open_ring():
    cover = without(cover_of(300, disc(130, 150, 150)), disc(118, 150, 150))
    cover[140:160, 260:290] = 0.0  # a gap in its right side, 20 px wide
    job, assets = pictured(cover, background=(255, 255, 255))
    whole, more = pictured(without(cover_of(300, disc(130, 150, 150)), disc(118, 150, 150)), background=(255, 255, 255))
    at = ("art", 274 * PX_MM, 150 * PX_MM)
    return Planted(job=job, assets=assets | more, at=at, twin=whole)


def grainy():
    cover = cover_of(400, disc(90, 110, 200))
    rows, columns = np.mgrid[3:397:9, 210:397:9]
    specked = cover.copy()
    specked[rows, columns] = 1.0  # a dot every nine pixels
    job, assets = pictured(specked, background=(255, 255, 255))
    plain, more = pictured(cover, background=(255, 255, 255))
    return Planted(job=job, assets=assets | more, twin=plain, is_mended=False)


def two_parts():
    job, assets = pictured(cover_of(400, disc(80, 110, 200), disc(60, 320, 200)))
    (design,) = job.designs
    joined = job.with_design(replace(design, edge=replace(design.edge, offset_mm=4.0)))
    return Planted(job=job, assets=assets, at=("art", 320 * PX_MM, 200 * PX_MM), twin=joined)


def see_through():
    cover = layered(box("left", 20, 30, x_mm=-11), box("right", 20, 30, x_mm=11), box("top", 42, 6, y_mm=-18),
                    box("foot", 42, 6, y_mm=18))  # fmt: skip
    filled = layered(box("whole", 44, 44))
    return Planted(job=cover, assets={}, at=("art", 21 + PX_MM, 21 + PX_MM), twin=filled)


def apart():
    job = layered(box("left", 20, 30, x_mm=-14), box("right", 20, 30, x_mm=14), is_flattened=False)
    whole = layered(box("left", 20, 30, x_mm=-14), box("right", 20, 30, x_mm=14), edge=_bordered(6.0))
    return Planted(job=job, assets={}, is_mended=True, twin=whole)


def _bordered(offset_mm):
    return replace(SCHOOL_DEFAULTS["border"], offset_mm=offset_mm)


def island():
    cover = cover_of(300, disc(90, 110, 150), disc(8, 270, 150))  # 16 px are 1.35 mm
    job, assets = pictured(cover, edge=SCHOOL_DEFAULTS["bare"])
    alone, more = pictured(cover_of(300, disc(90, 110, 150)), edge=SCHOOL_DEFAULTS["bare"])
    return Planted(job=job, assets=assets | more, at=("art", 270 * PX_MM, 150 * PX_MM), twin=alone)


def thin_strand():
    cover = cover_of(300, disc(60, 70, 150), disc(60, 230, 150))
    cover[147:153, 60:240] = 1.0  # 6 px are 0.5 mm
    job, assets = pictured(cover, edge=SCHOOL_DEFAULTS["bare"])
    thick = cover.copy()
    thick[135:165, 60:240] = 1.0
    wide, more = pictured(thick, edge=SCHOOL_DEFAULTS["bare"])
    return Planted(job=job, assets=assets | more, at=("art", 150 * PX_MM, 150 * PX_MM), twin=wide)


def thin_gap():
    cover = cover_of(300, square(100) + np.array([150, 150]))
    cover[50:190, 147:153] = 0.0
    job, assets = pictured(cover, edge=SCHOOL_DEFAULTS["bare"])
    solid, more = pictured(cover_of(300, square(100) + np.array([150, 150])), edge=SCHOOL_DEFAULTS["bare"])
    return Planted(job=job, assets=assets | more, at=("art", 150 * PX_MM, 120 * PX_MM), twin=solid)


def rough():
    """A saw of 0.5 mm, followed to a twentieth of a millimetre."""
    angle = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    radius = 100 + 1.6 * (np.arange(400) % 2)
    ring = np.stack([radius * np.cos(angle) + 120, radius * np.sin(angle) + 120], 1)
    recipe = OutlineRecipe(smoothness_mm=0.005)
    job, assets = pictured(cover_of(240, ring), edge=SCHOOL_DEFAULTS["bare"], outline=recipe)
    smooth, more = pictured(cover_of(240, disc(100, 120, 120)), edge=SCHOOL_DEFAULTS["bare"])
    return Planted(job=job, assets=assets | more, twin=smooth)


def nested():
    """A line drawing of which only the line was kept: cut outside and inside, a frame stays."""
    ring = without(cover_of(300, disc(120, 150, 150)), disc(108, 150, 150))
    job, assets = pictured(ring, edge=SCHOOL_DEFAULTS["bare"], outline=OutlineRecipe(hole_mm2=1.0))
    whole, more = pictured(cover_of(300, disc(120, 150, 150)), edge=SCHOOL_DEFAULTS["bare"])
    return Planted(job=job, assets=assets | more, at=("art", 150 * PX_MM, 150 * PX_MM), twin=whole)


def nested_layer():
    line = box("line", 56, 26, role="line", line="through")
    edge = replace(SCHOOL_DEFAULTS["bleed"], line_kind="through")
    form = Form(kind="label", width_mm=60, height_mm=30)
    job = layered(box("ink", 20, 10), line, form=form, edge=edge)
    return Planted(job=job, assets={}, twin=layered(box("ink", 20, 10), form=form, edge=edge))


def doubled_layer():
    found = nested_layer()
    (design,) = found.job.designs
    same = replace(design.layers[1], shape=Shape(kind="box", width_mm=60, height_mm=30))
    return replace(found, job=found.job.with_design(replace(design, layers=(design.layers[0], same))))


def tight_notch():
    cover = cover_of(300, square(110) + np.array([150, 150]))
    rows = np.arange(40, 170)
    for row in rows:
        half = max(0, round(4 * (170 - row) / 130))
        cover[row, 150 - half : 150 + half + 1] = 0.0
    job, assets = pictured(cover, edge=SCHOOL_DEFAULTS["bare"])
    whole, more = pictured(cover_of(300, square(110) + np.array([150, 150])), edge=SCHOOL_DEFAULTS["bare"])
    return Planted(job=job, assets=assets | more, at=("art", 150 * PX_MM, 168 * PX_MM), twin=whole)


def swallowed():
    cover = cover_of(300, disc(90, 110, 150), disc(10, 270, 150))
    edge = replace(SCHOOL_DEFAULTS["inside"], offset_mm=1.0)
    job, assets = pictured(cover, edge=edge)
    alone, more = pictured(cover_of(300, disc(90, 110, 150)), edge=edge)
    at = ("art", 270 * PX_MM, 150 * PX_MM)
    return Planted(job=job, assets=assets | more, at=at, is_mended=False, twin=alone)


# -- edge ---------------------------------------------------------------------------------------------


def short_bleed():
    edge = replace(SCHOOL_DEFAULTS["bleed"], bleed_mm=0.2)
    job, assets = pictured(cover_of(240, disc(100, 120, 120)), edge=edge)
    job = replace(job, error=ASTRAY)
    (design,) = job.designs
    enough = job.with_design(replace(design, edge=SCHOOL_DEFAULTS["bleed"]))
    return Planted(job=job, assets=assets, twin=enough)


def close_backing():
    form = Form(kind="sticker sheet", width_mm=100, height_mm=60)
    sticker, assets = pictured(cover_of(240, disc(100, 120, 120)))
    other = replace(sticker.designs[0], key="d2", copies=0)
    lies = Layer(key="s", name="disc", sticker=Sticker(design="d2"), x_mm=10, joining="knock out", gap_mm=0.1)
    job = replace(layered(lies, form=replace(form, rgb=(20, 90, 60))), error=ASTRAY)
    job = replace(job, designs=(*job.designs, other))
    wide = job.with_design(replace(job.designs[0], layers=(replace(lies, gap_mm=1.0),)))
    return Planted(job=job, assets=assets, at=("art", 60 + PX_MM, 30 + PX_MM), twin=wide)


def mirrored_bleed():
    job, assets = pictured(cover_of(240, disc(100, 120, 120)), edge=replace(SCHOOL_DEFAULTS["bleed"], fill="mirror"))
    mirror = replace(SCHOOL_DEFAULTS["bleed"], fill="mirror")
    photo, more = pictured(cover_of(240, square(110) + 120), edge=mirror)  # of a rectangle nothing shows doubled
    return Planted(job=job, assets=assets | more, twin=photo)


def white_on_kraft():
    cover = cover_of(300, disc(120, 150, 150))
    pixels = rgba(cover, (40, 90, 160))
    pixels[130:170, 130:170, :3] = 255
    holder, job = JobHolder(), Job(error=FINE, sheet=SheetSpec(stock=Stock(name="Kraft", rgb=(201, 170, 124))))
    design = replace(design_from(holder, job, png(pixels, dpi=(300, 300)), "art.png"), copies=1, fills=False)
    job = replace(job, designs=(replace(design, width_mm=300 * PX_MM),))
    at = ("art", 150 * PX_MM, 150 * PX_MM)
    return Planted(job=job, assets=dict(holder.assets), at=at, twin=replace(job, sheet=SheetSpec()))


def on_cloth():
    stock = Stock(name="Iron-on", cloth_rgb=(30, 30, 40))
    job, assets = pictured(cover_of(240, disc(100, 120, 120)))
    return Planted(job=replace(job, sheet=SheetSpec(stock=stock)), assets=assets, twin=job)


# -- sheet --------------------------------------------------------------------------------------------


def labels(count=2, **more):
    edge = replace(SCHOOL_DEFAULTS["bleed"], line_kind="through")
    return layered(
        box("ink", 20, 10), form=Form(kind="label", width_mm=40, height_mm=30), count=count, edge=edge, **more
    )


def pinned(job, *places):
    """Pin copies with their art's top left at places; the art begins two pixels before the label."""
    return replace(
        job, pins=tuple(Pin(page=0, copy=PlacedCopy(design="d1", turn_deg=0.0, x_mm=x, y_mm=y)) for x, y in places)
    )


def in_the_marks():
    job = labels()
    return Planted(job=pinned(job, (8.0, 100.0)), assets={}, at=("sheet", 9.4, 115.0), twin=job)


def neighbours_too_close():
    job = labels()
    moved = pinned(job, (60.0, 100.0), (101.0, 100.0))
    return Planted(job=moved, assets={}, at=("sheet", 100.6, 115.0), twin=job)


def cut_twice():
    job = labels()
    return Planted(job=pinned(job, (60.0, 100.0), (60.0, 100.0)), assets={}, at=("sheet", 80.0, 115.0), twin=job)


def too_large():
    job = labels(count=1)
    (design,) = job.designs
    large = replace(design, form=replace(design.form, width_mm=300.0, height_mm=100.0))
    return Planted(job=job.with_design(large), assets={}, is_mended=True, twin=job)


def with_machine(job, **more):
    return replace(job, sheet=replace(job.sheet, machine=Machine(**more)))


def marks_in_the_rim():
    job = labels()
    return Planted(
        job=with_machine(job, marks=MarkSpec(inset_mm=3.0)), assets={}, at=("sheet", 107.95, 139.7), twin=job
    )


def marks_out_of_reach():
    job = labels()
    at = ("sheet", 21.0, 12.5)
    return Planted(job=with_machine(job, width_mm=150.0), assets={}, at=at, is_mended=False, twin=job)


def small_marks():
    job = labels()
    return Planted(job=with_machine(job, marks=MarkSpec(length_mm=6.0, thickness_mm=0.5)), assets={},
                   at=("sheet", 15.0, 12.25), twin=job)  # fmt: skip


def pale_marks():
    job = labels()
    return Planted(job=with_machine(job, marks=MarkSpec(rgb=(235, 235, 235))), assets={}, twin=job)


def on_stock(**more):
    job = labels()
    return Planted(
        job=replace(job, sheet=replace(job.sheet, stock=Stock(**more))), assets={}, is_mended=False, twin=job
    )


def kiss_without_liner():
    job = layered(box("ink", 40, 30))
    card = replace(job, sheet=SheetSpec(stock=Stock(name="Card", has_liner=False)))
    return Planted(job=card, assets={}, is_mended=False, twin=job)


def paper_not_taken():
    job = labels()
    sheet = replace(job.sheet, printer=Printer(name="Small", papers=("a4",)))
    return Planted(job=replace(job, sheet=sheet), assets={}, is_mended=False, twin=job)


def both_kinds(**uses):
    line = box("line", 20, 10, role="line", line="kiss")
    edge = replace(SCHOOL_DEFAULTS["bleed"], line_kind="through")
    job = layered(box("ink", 30, 20), line, form=Form(kind="label", width_mm=60, height_mm=40), edge=edge)
    return Planted(job=with_machine(job, lines=LineUses(**uses)), assets={}, twin=job)


def one_tool():
    return both_kinds(kiss=LineUse(colour=(0, 0, 0), pen=1), through=LineUse(colour=(0, 0, 0), pen=1))


def through_first():
    return both_kinds(kiss=LineUse(colour=(138, 45, 107), pen=4), through=LineUse(colour=(34, 48, 94), pen=1))


def nearly_empty():
    job = labels(count=25)
    (design,) = job.designs
    big = replace(design, form=replace(design.form, width_mm=80.0, height_mm=110.0), copies=5)
    return Planted(job=job.with_design(replace(big, copies=5)), assets={}, twin=labels(count=2))


def perforation_into_a_mark():
    """A perforated stub that a hand moved over the top left mark."""
    shape = Layer(key="tear", shape=Shape(kind="line", width_mm=30, height_mm=0.4), role="line", line="perforate")
    job = labels()
    (design,) = job.designs
    with_line = job.with_design(replace(design, layers=(*design.layers, shape)))
    return Planted(job=pinned(with_line, (14.0, 14.0)), assets={}, at=("sheet", 22.9, 22.9), twin=with_line)


def words(text="Thyme", **more):
    lettering = Lettering(text=text, family="Playfair Display", style="Bold", size_mm=6.0, **more)
    return Layer(key="w", lettering=lettering)


def worded(layer):
    return layered(layer, form=Form(kind="label", width_mm=60, height_mm=30))


def words_too_long():
    return Planted(job=worded(words("Thyme from the garden", room_mm=12.0)), assets={}, is_mended=False,
                   twin=worded(words("Thyme", room_mm=55.0)))  # fmt: skip


def font_that_is_not_there():
    gone = words()
    gone = replace(gone, lettering=replace(gone.lettering, family="Nowhere Sans"))
    return Planted(job=worded(gone), assets={}, is_mended=False, twin=worded(words()))


def code_too_fine():
    code = Layer(key="q", code=Code(kind="QR", text="tea", width_mm=3.0))
    form = Form(kind="label", width_mm=60, height_mm=40)
    wide = replace(code, code=replace(code.code, width_mm=20.0))
    return Planted(job=layered(code, form=form), assets={}, is_mended=False, twin=layered(wide, form=form))


def two_stated_sizes():
    """The header of a JPEG says 72 ppi, its EXIF 240."""
    job, assets = pictured(cover_of(240, disc(100, 120, 120)))
    holder = JobHolder()
    image = Image.fromarray(np.full((240, 240, 3), 90, np.uint8))
    exif = Image.Exif()
    exif[0x011A], exif[0x011B], exif[0x0128] = 240.0, 240.0, 2  # XResolution, YResolution, inches
    out = io.BytesIO()
    image.save(out, "JPEG", dpi=(72, 72), exif=exif)
    design = design_from(holder, Job(), out.getvalue(), "two.jpg")
    design = replace(design, width_mm=20.0, copies=1, fills=False, outline=OutlineRecipe(background="none"))
    made = replace(job, designs=(design,))
    return Planted(job=made, assets=dict(holder.assets) | assets, is_mended=False, twin=job)


def damaged_original():
    job, assets = pictured(cover_of(240, disc(100, 120, 120)))
    (asset,) = job.designs[0].assets
    broken = job.with_design(replace(job.designs[0], asset="0" * 64))
    return Planted(job=broken, assets=assets | {"0" * 64: assets[asset][:60]}, is_mended=False, twin=job)


def printer_that_prints_too_large():
    job = labels()
    large = replace(job, sheet=replace(job.sheet, printer=replace(job.sheet.printer, scale_x_percent=1.5)))
    return Planted(job=large, assets={}, is_mended=False, twin=job)


PLANTED = {
    "room": words_too_long,
    "font": font_that_is_not_there,
    "code": code_too_fine,
    "size": two_stated_sizes,
    "art": damaged_original,
    "printer scale": printer_that_prints_too_large,
    "ppi": soft,
    "ppi blocks": coarse,
    "placeholder": placeholder,
    "blank rows": blank_rows,
    "ground": photograph,
    "cleared": lambda: photograph("flood"),
    "matte": matted,
    "quiet": code_at_the_edge,
    "leaks": open_ring,
    "specks": grainy,
    "cut lines": drawn_cut_lines,
    "layer cut lines": cut_lines_in_a_layer,
    "bays": bay_of_paper,
    "page aslant": page_aslant,
    "shaded paper": shaded_paper,
    "parts": two_parts,
    "gap": see_through,
    "apart": apart,
    "island": island,
    "narrow": thin_strand,
    "narrow gap": thin_gap,
    "nodes": rough,
    "nested": nested,
    "nested layer": nested_layer,
    "double": doubled_layer,
    "tight": tight_notch,
    "inset": swallowed,
    "drift": short_bleed,
    "ring": close_backing,
    "fill": mirrored_bleed,
    "white": white_on_kraft,
    "cloth": on_cloth,
    "keep-out": in_the_marks,
    "keep-out perforation": perforation_into_a_mark,
    "close": neighbours_too_close,
    "twice": cut_twice,
    "layout": too_large,
    "mark rim": marks_in_the_rim,
    "mark reach": marks_out_of_reach,
    "mark size": small_marks,
    "mark contrast": pale_marks,
    "clear film": lambda: on_stock(is_clear=True),
    "gloss": lambda: on_stock(gloss="mirror"),
    "ink": lambda: on_stock(is_printable=False),
    "liner": kiss_without_liner,
    "paper": paper_not_taken,
    "tools": one_tool,
    "order": through_first,
    "empty": nearly_empty,
}
"""By what is found, and, after it, which of several cases it is."""
