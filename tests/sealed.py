"""Sealed runs for tests, made of nothing but values."""

from dataclasses import replace

from honest_edge.core.run.state import begun
from honest_edge.core.values.run_events import EVENT_KINDS, Moment
from honest_edge.core.values.run_seal import SealedCopy, SealedDesign, SealedLine, SealedPage, SealedPass, SealedRun
from honest_edge.core.values.sheet import SheetSpec

NOW = Moment(wall_ms=1_790_000_000_000, up_ms=5_000_000, boot="one")
KISS = SealedPass(suffix="-kiss", kinds=("kiss",), seconds=90.0)
THROUGH = SealedPass(suffix="", kinds=("through",), seconds=60.0)
BOTH = SealedPass(suffix="", kinds=("kiss", "through"), seconds=100.0)


def copy(number, kinds=("kiss",)):
    x, y = 40.0 + 40 * (number % 3), 50.0 + 40 * (number // 3)
    corners = [(x, y), (x + 30, y), (x + 30, y + 30), (x, y + 30)]
    cubics = [
        value
        for (ax, ay), (bx, by) in zip(corners, corners[1:] + corners[:1], strict=True)
        for share in (0, 1 / 3, 2 / 3, 1)
        for value in (round(ax + share * (bx - ax), 6), round(ay + share * (by - ay), 6))
    ]
    lines = tuple(SealedLine(kind=kind, cubics=tuple(cubics), straight="1111") for kind in kinds)
    return SealedCopy(design=0, turn_deg=0.0, x_mm=x, y_mm=y, lines=lines)


def page(copies=12, passes=(BOTH,), *, is_printed=True, number=0):
    kinds = tuple(kind for one in passes for kind in one.kinds)
    return SealedPage(
        print_page=number if is_printed else None,
        copies=tuple(copy(n, kinds) for n in range(copies)),
        passes=tuple(passes),
        proof_order=tuple(reversed(range(copies))),
    )


def seal(sheets=2, pages=None, **changes):
    pages = pages or (page(),)
    made = SealedRun(
        run="0f" * 16,
        title="Mint",
        sealed_at="2026-09-21T14:13:20Z",
        job_parts={"the paper": "a", "“Mint”": "b"},
        sheet=SheetSpec(),
        pages=pages,
        designs=(SealedDesign(name="Mint", wanted=20, forecast=0.95, uncertainty=0.03),),
        sheets=tuple(n % len(pages) for n in range(sheets)),
        print_sha256="c" * 64,
        mark_names=("top left", "top right", "bottom left"),
        mark_middles_mm=((21.0, 21.0), (194.0, 21.0), (21.0, 258.0)),
    )
    return replace(made, **changes)


def event(what, sheet=0, at=NOW, **changes):
    return EVENT_KINDS[what](at=at, **({"sheet": sheet} if sheet else {}), **changes)


__all__ = ["BOTH", "KISS", "NOW", "THROUGH", "begun", "copy", "event", "page", "seal"]
