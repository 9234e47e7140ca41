"""Of sixty everyday pictures, how many come out as their owner meant, with how many presses.

They are made from open drawings (``corpus.py``) and open photographs (``photographs.py``), none of ours: as files with
transparency, as JPEGs on white, on coloured ground, as ink on shaded paper, as phone pictures of a coloured page,
composed into photographs, as packs of many, as SVG and PDF. Each comes with what is meant: its silhouette with the
holes filled, in how many pieces. Pressed is what the window offers, one at a time: make the paper white, close the
gaps, cut out the subject with one loop and strokes. Right is an overlap of 0.95 in as many pieces as meant; wrong in
silence is wrong in the end with nothing said at Outline, Art or Proof.
"""

from __future__ import annotations

import io
import random
import sys
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace

import cv2
import numpy as np
from corpus import noto, openmoji, render, twemoji
from PIL import Image
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas
from subjects import composites, loop_round, overlap, stroke_at

from honest_edge.app.edits.fixes import fixed_job
from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.edits.outline_edits import looped
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.proof import register
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import Correction

SIDE, INK = 900, 620
MOST_PRESSES, RIGHT, BOUND = 6, 0.95, 54
SAYS = (
    register.GROUND,
    register.SHADED,
    register.LEAKS,
    register.BAYS,
    register.PARTS,
    register.SPECKS,
    register.KEPT_GROUND,
)


@dataclass(frozen=True)
class Everyday:
    kind: str
    name: str
    data: bytes
    meant: np.ndarray  # (h, w) bool, holes filled
    pieces: int


def filled(mask: np.ndarray) -> np.ndarray:
    lines, _ = cv2.findContours(mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    out = np.zeros(mask.shape, np.uint8)
    cv2.drawContours(out, lines, -1, 1, -1)
    return out > 0


def pieces_of(mask: np.ndarray) -> int:
    sizes = cv2.connectedComponentsWithStats(mask.astype(np.uint8))[2][1:, cv2.CC_STAT_AREA]
    return int((sizes >= 0.002 * mask.sum()).sum())


def file_of(pixels: np.ndarray, kind: str, **how: int) -> bytes:
    out = io.BytesIO()
    Image.fromarray(np.clip(pixels, 0, 255).astype(np.uint8)).save(out, kind, dpi=(300, 300), **how)
    return out.getvalue()


def on_page(ink: np.ndarray, ground: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return a drawing in the middle of a ground (h, w, 3), and where it covers it."""
    top, left = (ground.shape[0] - ink.shape[0]) // 2, (ground.shape[1] - ink.shape[1]) // 2
    share = np.zeros(ground.shape[:2], np.float32)
    share[top : top + ink.shape[0], left : left + ink.shape[1]] = ink[..., 3] / 255
    whole = np.zeros(ground.shape, np.float32)
    whole[top : top + ink.shape[0], left : left + ink.shape[1]] = ink[..., :3]
    return ground * (1 - share[..., None]) + whole * share[..., None], share


def shade(dark: float) -> np.ndarray:
    x, y = np.meshgrid(np.linspace(0, 1, SIDE), np.linspace(0, 1, SIDE))
    return (240 * (1 - dark * x - 0.3 * dark * y))[..., None] * np.array([1.0, 0.985, 0.95])


def drawings(seed: int) -> Iterator[tuple[str, np.ndarray]]:
    """Yield names and pictures of drawings of which there is enough, in one piece or a few."""
    found = [*twemoji().items(), *noto().items()]
    random.Random(seed).shuffle(found)
    for name, svg in found:
        ink = render(svg, INK)
        if 0.2 <= (ink[..., 3] > 127).mean() <= 0.9 and pieces_of(filled(ink[..., 3] > 127)) == 1:
            yield name, ink


def line_drawings(seed: int) -> Iterator[tuple[str, np.ndarray]]:
    """Yield drawings as ink: their lines alone, closed round what they draw."""
    found = list(openmoji().items())
    random.Random(seed).shuffle(found)
    for name, svg in found:
        ink = render(svg, INK)
        lines = np.where(ink[..., :3].max(axis=2) < 70, ink[..., 3], 0)
        whole, outline = filled(ink[..., 3] > 127), filled(lines > 127)
        if whole.mean() >= 0.15 and pieces_of(whole) == 1 and (whole & outline).sum() >= 0.99 * (whole | outline).sum():
            yield name, np.dstack([np.full((*lines.shape, 3), 45, np.uint8), lines])


def pictures() -> Iterator[Everyday]:
    rng = np.random.default_rng(5)
    some, ruled = drawings(3), line_drawings(4)
    white = np.full((SIDE, SIDE, 3), 255, np.float32)
    for _ in range(8):
        name, ink = next(some)
        yield Everyday("transparent", name, file_of(ink, "PNG"), filled(ink[..., 3] > 127), 1)
    for kind, count in (("JPEG on white", 8), ("coloured ground", 6), ("phone, coloured page", 8)):
        for number in range(count):
            name, ink = next(some)
            colours = [(250, 225, 60), (60, 190, 220), (255, 190, 205), (30, 40, 90), (120, 200, 110), (240, 240, 240)]
            ground = {"JPEG on white": white, "coloured ground": np.zeros_like(white) + colours[number % 6]}
            page, share = on_page(ink, ground.get(kind, shade(0.25)))
            if kind.startswith("phone"):
                page = cv2.GaussianBlur(page, (0, 0), 1.0) + rng.normal(0, 3, page.shape)
            as_file = file_of(page, "PNG") if kind == "coloured ground" else file_of(page, "JPEG", quality=80)
            yield Everyday(kind, name, as_file, filled(share > 0.5), 1)
    for _ in range(8):
        name, ink = next(ruled)
        page, share = on_page(ink, shade(0.3))
        page = cv2.GaussianBlur(page, (0, 0), 0.8) + rng.normal(0, 4, page.shape)
        yield Everyday("ink on shaded paper", name, file_of(page, "JPEG", quality=85), filled(share > 0.5), 1)
    for name, rgb, share in composites()[:10]:
        yield Everyday("in a photograph", name, file_of(rgb, "JPEG", quality=90), filled(share > 0.5), 1)
    for _ in range(6):
        page, share = white.copy(), np.zeros((SIDE, SIDE), np.float32)
        name, ink = next(some)
        ink = cv2.resize(ink, (220, 220), interpolation=cv2.INTER_AREA)
        for row in range(3):
            for column in range(3):
                at = np.s_[40 + 290 * row : 260 + 290 * row, 40 + 290 * column : 260 + 290 * column]
                page[at], share[at] = on_page(ink, page[at])
        yield Everyday("nine in one", name, file_of(page, "PNG"), filled(share > 0.5), 9)
    found = random.Random(8).sample(sorted(noto().items()), 60)
    whole = [(name, svg, filled(render(svg, INK)[..., 3] > 127)) for name, svg in found]
    for name, svg, meant in [one for one in whole if pieces_of(one[2]) == 1 and one[2].mean() > 0.2][:4]:
        yield Everyday("SVG", name, svg.encode(), meant, 1)
    for _ in range(2):
        name, ink = next(some)
        page, share = on_page(ink, white)
        out = io.BytesIO()
        canvas = Canvas(out, pagesize=(216, 216))
        canvas.drawImage(ImageReader(io.BytesIO(file_of(page, "JPEG", quality=85))), 0, 0, 216, 216)
        canvas.save()
        yield Everyday("scan in a PDF", name, out.getvalue(), filled(share > 0.5), 1)


def found_mask(result: object, shape: tuple[int, int]) -> np.ndarray:
    """Return the outline as pixels of what is meant."""
    out = np.zeros(shape, np.uint8)
    scale = shape[1] / result.width_mm  # type: ignore[attr-defined]
    for part in result.outline.area.geoms:  # type: ignore[attr-defined]
        cv2.fillPoly(out, [np.rint(np.asarray(part.exterior.coords) * scale).astype(np.int32)], 1)
    return out > 0


def is_right(mask: np.ndarray, one: Everyday, pieces: int) -> bool:
    return overlap(mask * 255, one.meant) >= RIGHT and pieces == one.pieces


def tried(one: Everyday) -> tuple[bool, int, bool]:
    """Return whether it came out right, after how many presses, and whether anything was said."""
    suffix = {"SVG": "svg", "scan in a PDF": "pdf"}.get(one.kind, "jpg" if one.data[:2] == b"\xff\xd8" else "png")
    holder = JobHolder()
    pipeline = Pipeline(holder.assets)
    job = Job()
    job = with_designs(
        job, [replace(design_from(holder, job, one.data, f"{one.name}.{suffix}"), copies=1, fills=False)]
    )
    said, presses = False, 0
    while True:
        design = job.designs[0]
        try:
            result = pipeline.result(design, job)
        except HonestEdgeError:
            return False, presses, True
        asks = design.outline.background == "subject"  # "brush over what is wrong" stands there
        said = asks or any(check.is_of(finding) for check in SAYS for finding in result.findings)
        mask = found_mask(result, one.meant.shape)
        if is_right(mask, one, len(result.outline.area.geoms)):
            return True, presses, said
        offered = {finding.check: finding.fix for finding in result.findings if finding.fix is not None}
        if presses == MOST_PRESSES:
            return False, presses, said
        fix = next((offered[check.name] for check in (register.SHADED, register.LEAKS) if check.name in offered), None)
        if fix is not None and design.outline.background != "subject":
            job = fixed_job(job, fix)
        elif register.GROUND.name in offered and offered[register.GROUND.name].words == register.CUT_OUT:
            job = fixed_job(job, offered[register.GROUND.name])
        elif design.outline.background == "subject":
            job = job.with_design(replace(design, outline=_by_hand(design.outline, mask, one.meant)))
        else:
            return False, presses, said
        presses += 1


def _by_hand(recipe: object, mask: np.ndarray, meant: np.ndarray) -> object:
    """Return the recipe with one loop, or one more stroke through the largest place that is wrong."""
    wide = meant.shape[1]
    if not any(step.kind == "around" for step in recipe.corrections):  # type: ignore[attr-defined]
        line = max(cv2.findContours(loop_round(meant), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)[0], key=len)
        return looped(recipe, [(x / wide, y / wide) for x, y in line[:, 0].tolist()])  # type: ignore[arg-type]
    missing, extra = meant & ~mask, mask & ~meant
    belongs = bool(missing.sum() >= extra.sum())
    stroke = stroke_at(missing if belongs else extra, (meant == belongs).astype(np.uint8))
    rows, columns = np.nonzero(stroke)
    places = tuple((float(x) / wide, float(y) / wide) for x, y in list(zip(columns, rows, strict=True))[::7])
    if not places:
        return recipe
    step = Correction(kind="keep" if belongs else "clear", points=places, brush=8 / wide)
    return replace(recipe, corrections=(*recipe.corrections, step))  # type: ignore[attr-defined,type-var]


def main() -> int:
    made = list(pictures())
    right, presses, silent, counts, wrong = Counter(), [], [], Counter(), []
    for one in made:
        is_good, number, said = tried(one)
        counts[one.kind] += 1
        right[one.kind] += is_good
        if is_good:
            presses.append(number)
        else:
            wrong.append(f"{one.kind}: {one.name}")
            silent += [] if said else [f"{one.kind}: {one.name}"]
    for kind, count in counts.items():
        print(f"{kind}: {right[kind]} of {count}")
    print(f"right: {right.total()} of {len(made)} (bound {BOUND} of 60); presses {Counter(presses)}")
    print(f"wrong: {wrong}")
    print(f"wrong in silence: {len(silent)} (bound 0) {silent}")
    return 0 if right.total() >= BOUND * len(made) / 60 and not silent else 1


if __name__ == "__main__":
    sys.exit(main())
