"""Draws the demo job's pictures and packs them into the demo project.

Run from the project's root after ./check has made the environment:
    PYTHONPATH=src .venv/bin/python demo/draw.py
All art, names and shops here are made up. Fonts: Kaushan Script and Playfair Display (src/honest_edge/files/fonts/OFL.txt).
"""

from __future__ import annotations

import io
import math
import tempfile
from dataclasses import replace
from pathlib import Path

import resvg_py
from made import with_made_designs
from PIL import Image, ImageFilter

from honest_edge.app.bench.bench_history import bench_history
from honest_edge.app.book.demo_bench import BENCH
from honest_edge.app.book.demo_book import demo_events
from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.core.values.job import BenchCopy, Job
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import EdgeRecipe, OutlineRecipe, with_school
from honest_edge.files.book.store import Book
from honest_edge.files.project import save_project

HERE = Path(__file__).parent
ART = HERE / "art"
FONTS = HERE.parent / "src" / "honest_edge" / "files" / "fonts"
PROJECT = HERE.parent / "src" / "honest_edge" / "app" / "demo.hedge"

TEAL, TEAL_DARK, CREAM, OCHRE = "#2f6f63", "#22524a", "#f7edd6", "#d9a441"
CLAY, PLUM, LILAC, LEAF, INK = "#c4683b", "#5d3260", "#9a7fc0", "#5f8a4e", "#2b2a33"
SERIF, SCRIPT = "Playfair Display", "Kaushan Script"


def render(body: str, width: int, height: int, scale: float) -> Image.Image:
    svg = (
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
        f'viewBox="0 0 {width} {height}" width="{width}" height="{height}">{body}</svg>'
    )
    data = resvg_py.svg_to_bytes(
        svg_string=svg,
        width=round(width * scale),
        height=round(height * scale),
        dpi=96,
        font_files=[str(FONTS / name) for name in ("KaushanScript.ttf", "PlayfairDisplay-700.ttf")],
        skip_system_fonts=True,
    )
    return Image.open(io.BytesIO(bytes(data))).convert("RGBA")


def leaf(x: float, y: float, length: float, angle: float, fill: str) -> str:
    half = length * 0.22
    path = f"M0 0C{length * 0.3} {-half} {length * 0.75} {-half} {length} 0C{length * 0.75} {half} {length * 0.3} {half} 0 0Z"
    vein = f'<path d="M{length * 0.08} 0L{length * 0.86} 0" stroke="#ffffff" stroke-opacity=".35" stroke-width="{length * 0.03}"/>'
    return f'<g transform="translate({x} {y}) rotate({angle})"><path d="{path}" fill="{fill}"/>{vein}</g>'


def blossom(x: float, y: float, radius: float, petals: int, fill: str, heart: str) -> str:
    parts = []
    for index in range(petals):
        angle = 360 / petals * index
        parts.append(
            f'<ellipse cx="{radius * 0.62}" cy="0" rx="{radius * 0.46}" ry="{radius * 0.27}" fill="{fill}" '
            f'transform="rotate({angle})"/>'
        )
    parts.append(f'<circle r="{radius * 0.27}" fill="{heart}"/>')
    dots = [(math.cos(a) * radius * 0.13, math.sin(a) * radius * 0.13) for a in (0.4, 1.9, 3.3, 4.9)]
    parts += [f'<circle cx="{dx}" cy="{dy}" r="{radius * 0.035}" fill="#fff" fill-opacity=".6"/>' for dx, dy in dots]
    return f'<g transform="translate({x} {y})">{"".join(parts)}</g>'


def tin_lid() -> Image.Image:
    """A round tin label, 70 mm, with lettering round a ring."""
    sprigs = "".join(
        leaf(
            350 + side * 8,
            380 - step * 34,
            58,
            (-35 if side > 0 else 215) - side * step * 4,
            LEAF if step % 2 else TEAL,
        )
        for step in range(4)
        for side in (-1, 1)
    )
    body = f"""
    <defs><path id="top" d="M105 350A245 245 0 0 1 595 350"/><path id="low" d="M67 350A283 283 0 0 0 633 350"/></defs>
    <circle cx="350" cy="350" r="350" fill="{TEAL}"/>
    <circle cx="350" cy="350" r="322" fill="none" stroke="{OCHRE}" stroke-width="5"/>
    <circle cx="350" cy="350" r="204" fill="{CREAM}"/>
    <circle cx="350" cy="350" r="190" fill="none" stroke="{OCHRE}" stroke-width="4" stroke-dasharray="2 12" stroke-linecap="round"/>
    <g font-family="{SERIF}" font-weight="700" fill="{CREAM}" font-size="50" letter-spacing="7" text-anchor="middle">
      <text><textPath xlink:href="#top" startOffset="50%">QUILLWORT</textPath></text>
      <text font-size="42"><textPath xlink:href="#low" startOffset="50%">TEA GARDEN</textPath></text></g>
    {blossom(86, 350, 30, 6, CREAM, OCHRE)}{blossom(614, 350, 30, 6, CREAM, OCHRE)}
    <path d="M350 400C352 340 348 290 350 222" stroke="{LEAF}" stroke-width="7" fill="none"/>{sprigs}
    {blossom(350, 222, 46, 8, "#ffffff", OCHRE)}
    <text x="350" y="460" font-family="{SCRIPT}" font-size="74" fill="{CLAY}" text-anchor="middle">Morning</text>
    <text x="350" y="508" font-family="{SERIF}" font-weight="700" font-size="22" letter-spacing="3" fill="{TEAL_DARK}"
      text-anchor="middle">BLEND No. 4</text>"""
    return render(body, 700, 700, 827 / 700)


def lavender() -> Image.Image:
    """A sprig with stems thinner than a blade likes, and soft edges."""
    parts = []
    for base, top, lean in ((190, 120, -46), (220, 60, 4), (246, 132, 52)):
        end_x = base + lean
        parts.append(
            f'<path d="M{222 + (base - 220) * 0.2} 690C{base} 560 {base} 420 {end_x} {top}" fill="none" '
            f'stroke="{LEAF}" stroke-width="7" stroke-linecap="round"/>'
        )
        for step in range(9):
            y = top + 8 + step * 28
            x = end_x + (base - end_x) * (step / 12)
            size = 13 + 10 * math.sin(math.pi * (step + 1.5) / 11)
            tone = (LILAC, "#7f62ab", "#b39ad4")[step % 3]
            for side in (-1, 1):
                parts.append(
                    f'<ellipse cx="{x + side * size * 0.72}" cy="{y}" rx="{size * 0.62}" ry="{size * 0.95}" '
                    f'fill="{tone}" transform="rotate({side * 28} {x + side * size * 0.72} {y})"/>'
                )
            parts.append(f'<ellipse cx="{x}" cy="{y - 10}" rx="{size * 0.5}" ry="{size * 0.8}" fill="#8a6cb6"/>')
    parts += [leaf(216, 560, 120, -128, LEAF), leaf(226, 590, 128, -48, LEAF), leaf(220, 520, 88, -40, "#7ba366")]
    parts.append(
        f'<path d="M190 612Q222 628 256 610L252 634Q222 648 194 636Z" fill="{CLAY}"/>'
        f'<path d="M196 622C150 600 140 652 196 632M250 620C300 596 306 650 250 632" fill="none" stroke="{CLAY}" '
        f'stroke-width="9" stroke-linecap="round"/>'
    )
    picture = render("".join(parts), 440, 720, 1.0)
    return picture.convert("RGBa").filter(ImageFilter.GaussianBlur(1.3)).convert("RGBA")


def teapot() -> Image.Image:
    """A teapot with a hole in its handle and white inside."""
    body = f"""
    <path d="M270 250C120 190 40 300 90 420C130 520 250 540 320 500L300 440C240 470 170 450 146 400C112 320 170 262 280 310Z" fill="{TEAL_DARK}"/>
    <path d="M720 330C800 320 800 190 880 170L948 196C880 240 900 420 740 500Z" fill="{TEAL_DARK}"/>
    <ellipse cx="510" cy="410" rx="282" ry="230" fill="{TEAL}"/>
    <path d="M330 580Q510 700 690 580L712 640Q510 722 308 640Z" fill="{TEAL_DARK}"/>
    <path d="M330 236Q510 120 690 236Q510 290 330 236Z" fill="{TEAL_DARK}"/>
    <path d="M352 232Q510 168 668 232" stroke="{OCHRE}" stroke-width="9" fill="none" stroke-linecap="round"/>
    <circle cx="510" cy="132" r="44" fill="{OCHRE}"/><circle cx="496" cy="118" r="12" fill="#fff" fill-opacity=".6"/>
    <ellipse cx="510" cy="420" rx="158" ry="140" fill="#ffffff"/>
    <ellipse cx="510" cy="420" rx="158" ry="140" fill="none" stroke="{OCHRE}" stroke-width="9"/>
    {leaf(430, 470, 92, 205, LEAF)}{leaf(590, 470, 92, -25, LEAF)}{leaf(450, 500, 70, 160, "#7ba366")}{leaf(570, 500, 70, 20, "#7ba366")}
    {blossom(510, 416, 104, 7, CLAY, OCHRE)}
    <path d="M300 330Q276 420 318 520" stroke="#fff" stroke-opacity=".35" stroke-width="20" fill="none" stroke-linecap="round"/>"""
    return render(body, 1000, 740, 1063 / 1000)


def thyme() -> Image.Image:
    """A word in script: letters that should hang together in one piece."""
    body = f"""<text x="420" y="250" font-family="{SCRIPT}" font-size="260" fill="{PLUM}" text-anchor="middle">Thyme</text>
    {leaf(700, 76, 96, -34, LEAF)}{leaf(706, 84, 84, 14, "#7ba366")}"""
    return render(body, 840, 370, 1.0)


def badge() -> Image.Image:
    """A scalloped badge whose rim is a gradient: plain fill would show at its edge. Far larger than needed."""
    points = []
    for step in range(720):
        angle = math.radians(step / 2)
        radius = 452 + 22 * math.cos(angle * 24)
        points.append(f"{500 + radius * math.cos(angle):.2f} {500 + radius * math.sin(angle):.2f}")
    body = f"""
    <defs><linearGradient id="rim" x1="0" y1="0" x2="1" y2="1"><stop offset="0" stop-color="#f0c26a"/>
      <stop offset=".5" stop-color="{CLAY}"/><stop offset="1" stop-color="{PLUM}"/></linearGradient>
      <path id="over" d="M222 500A278 278 0 0 1 778 500"/></defs>
    <path d="M{"L".join(points)}Z" fill="url(#rim)"/>
    <circle cx="500" cy="500" r="376" fill="{CREAM}"/>
    <circle cx="500" cy="500" r="356" fill="none" stroke="{CLAY}" stroke-width="6"/>
    <g font-family="{SERIF}" font-weight="700" fill="{PLUM}" text-anchor="middle" font-size="62" letter-spacing="9">
      <text><textPath xlink:href="#over" startOffset="50%">SMALL BATCH</textPath></text></g>
    {leaf(490, 560, 200, 168, LEAF)}{leaf(510, 560, 200, 12, LEAF)}{leaf(490, 580, 150, 146, "#7ba366")}{leaf(510, 580, 150, 34, "#7ba366")}
    {blossom(500, 500, 104, 8, "#ffffff", OCHRE)}
    <text x="500" y="730" font-family="{SCRIPT}" font-size="92" fill="{CLAY}" text-anchor="middle">dried by hand</text>"""
    return render(body, 1000, 1000, 1.8)


def bee() -> Image.Image:
    """A bee on white, white wings inside, a gap in each; small and compressed, as found pictures are."""
    body = f"""<rect width="420" height="340" fill="#ffffff"/>
    <g stroke="{INK}" stroke-width="7" stroke-linejoin="round" stroke-linecap="round">
    <path d="M206 140C150 10 60 40 96 100C112 128 160 142 206 146Z" fill="#ffffff"/>
    <path d="M214 140C240 4 350 20 326 88C312 126 262 142 214 146Z" fill="#ffffff"/>
    <path d="M120 118Q150 122 178 132M300 100Q270 116 240 130" fill="none" stroke-width="4"/>
    <path d="M330 208C330 262 266 290 204 286C142 282 88 254 88 208C88 162 144 136 206 136C268 136 330 158 330 208Z" fill="#f0b93a"/>
    <path d="M168 142C150 180 150 236 172 280M222 138C206 180 206 240 226 284M276 150C262 186 264 236 280 266" fill="none" stroke-width="20"/>
    <path d="M330 200L366 212L330 222Z" fill="{INK}"/>
    <circle cx="94" cy="196" r="46" fill="#f7d27a"/>
    <path d="M74 156C60 120 44 112 30 116M98 150C98 116 88 100 72 92" fill="none"/></g>
    <circle cx="28" cy="116" r="9" fill="{INK}"/><circle cx="70" cy="91" r="9" fill="{INK}"/>
    <circle cx="78" cy="190" r="8" fill="{INK}"/><path d="M62 214Q74 226 90 218" fill="none" stroke="{INK}" stroke-width="5" stroke-linecap="round"/>
    <circle cx="108" cy="212" r="9" fill="{CLAY}" fill-opacity=".6"/>
    <path d="M315 84L338 92" stroke="#ffffff" stroke-width="3.4"/><path d="M116 36V62" stroke="#ffffff" stroke-width="9"/>"""
    return render(body, 420, 340, 1.0).convert("RGB")


def draw() -> None:
    ART.mkdir(exist_ok=True)
    at_300 = {"dpi": (300, 300)}
    tin_lid().save(ART / "tin-lid.png", optimize=True, **at_300)
    lavender().save(ART / "lavender.png", optimize=True, **at_300)
    teapot().save(ART / "teapot.png", optimize=True, **at_300)
    thyme().save(ART / "thyme.png", optimize=True, **at_300)
    badge().save(ART / "badge.png", optimize=True)
    bee().save(ART / "bee.jpg", quality=78)


def pack() -> None:
    border = EdgeRecipe()
    holes = OutlineRecipe(hole_mm2=60.0)
    wanted = (
        ("tin-lid.png", "Tin lid", 70.0, 2, with_school(border, "bleed"), OutlineRecipe()),
        ("lavender.png", "Lavender", 34.0, 6, border, OutlineRecipe()),
        ("teapot.png", "Teapot", 78.0, 3, replace(border, offset_mm=2.2), holes),
        ("thyme.png", "Thyme", 66.0, 4, replace(border, offset_mm=3.0), OutlineRecipe()),
        ("badge.png", "Badge", 44.0, 4, replace(with_school(border, "bleed"), bleed_mm=0.4), OutlineRecipe()),
        ("bee.jpg", "Bee", 48.0, 4, replace(border, offset_mm=1.5), OutlineRecipe()),
    )
    holder, job = JobHolder(), Job(title="Summer tins", sheet=SheetSpec(arrangement="tidy"))
    for file_name, name, width_mm, copies, edge, outline in wanted:
        design = design_from(holder, job, (ART / file_name).read_bytes(), file_name)
        design = replace(design, name=name, width_mm=width_mm, copies=copies, fills=False, edge=edge, outline=outline)
        job = with_designs(job, [design])
    save_project(PROJECT, replace(with_made_designs(job), measured=made_up_bench()), holder.assets)


def made_up_bench() -> BenchCopy | None:
    """What the demo's Book says of its bench; without a day, for that moves on with the calendar."""
    now_ms = 1_790_000_000_000
    with tempfile.TemporaryDirectory() as folder, Book(Path(folder) / "book.sqlite") as book:
        book.add(demo_events(now_ms))
        copy = bench_history(book, BENCH, Job().drift_mm, now_ms).copy
    return copy and replace(copy, newest_ms=None)


if __name__ == "__main__":
    draw()
    pack()
