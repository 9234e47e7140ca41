"""Cut lines and outlines as SVG in millimetres (SVG 1.1; one user unit is one millimetre)."""

from __future__ import annotations

from collections.abc import Sequence

from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.specs import Colour, LineKind
from honest_edge.files.sheet_page import SheetPage

# Kinds differ in dash and width as well as colour, so that they survive grey printing.
_STROKE = {
    "kiss": 'stroke-width="0.2"',
    "crease": 'stroke-width="0.25" stroke-dasharray="3 1 0.5 1"',
    "perforate": 'stroke-width="0.3"',
    "through": 'stroke-width="0.35"',
}


class _PathText:
    """Collects path commands, absolute, in millimetres with four decimals (0.1 um)."""

    def __init__(self) -> None:
        self.parts: list[str] = []

    def move_to(self, x_mm: float, y_mm: float) -> None:
        self.parts.append(f"M{_number(x_mm)} {_number(y_mm)}")

    def line_to(self, x_mm: float, y_mm: float) -> None:
        self.parts.append(f"L{_number(x_mm)} {_number(y_mm)}")

    def curve_to(self, x1_mm: float, y1_mm: float, x2_mm: float, y2_mm: float, x_mm: float, y_mm: float) -> None:
        self.parts.append("C" + " ".join(_number(v) for v in (x1_mm, y1_mm, x2_mm, y2_mm, x_mm, y_mm)))

    def close(self) -> None:
        self.parts.append("Z")


def _number(value: float) -> str:
    return f"{round(value, 4) + 0.0:.4f}".rstrip("0").rstrip(".")


def path_data(ring: CurveRing) -> str:
    """Return the ``d`` attribute of one ring."""
    sink = _PathText()
    ring.draw(sink)
    return "".join(sink.parts)


def cut_svg(page: SheetPage, machine: Machine) -> bytes:
    """Return the cut file of one sheet: a group for each kind of line, kiss first and through last, and ``marks``."""
    groups = [_group(kind, rings, machine) for kind, rings in page.cuts.items()]
    return _document(
        page.width_mm,
        page.height_mm,
        "".join(groups) + f'<g id="marks" fill="{_hex(page.marks_rgb)}">\n{_paths(page.marks)}</g>\n',
    )


def pass_svg(rings: Sequence[CurveRing], kind: LineKind, machine: Machine, width_mm: float, height_mm: float) -> bytes:
    """Return one kind of line as a picture of a stated size; an unseen box keeps that size for whoever trims."""
    frame = f'<rect width="{_number(width_mm)}" height="{_number(height_mm)}" fill="none" stroke="none"/>\n'
    return _document(width_mm, height_mm, frame + _group(kind, rings, machine))


def _group(kind: LineKind, rings: Sequence[CurveRing], machine: Machine) -> str:
    stroke = f'stroke="{_hex(machine.lines[kind].colour)}" {_STROKE[kind]}'
    return f'<g id="{kind}" fill="none" {stroke}>\n{_paths(rings)}</g>\n'


def _hex(rgb: Colour) -> str:
    return "#{:02x}{:02x}{:02x}".format(*rgb)


def outline_svg(rings: Sequence[CurveRing], width_mm: float, height_mm: float) -> bytes:
    """Return an outline in the art's own frame: size of the art, origin at its top left."""
    return _document(
        width_mm, height_mm, f'<g id="outline" fill="none" stroke="#22305e" stroke-width="0.2">\n{_paths(rings)}</g>\n'
    )


def rehearsed_svg(
    size_mm: tuple[float, float],
    art: Sequence[CurveRing],
    cuts: Sequence[CurveRing],
    spots: Sequence[tuple[float, float]],
) -> bytes:
    """Return a rehearsed sheet: dotted where cuts were meant over the print, full where they went, spoiled ringed."""
    rings = "".join(f'<circle cx="{_number(x)}" cy="{_number(y)}" r="3"/>\n' for x, y in spots)
    return _document(
        *size_mm,
        '<g id="meant" fill="none" stroke="#5c5f68" stroke-width="0.15" stroke-dasharray="0.6 0.6">\n'
        f"{_paths(art)}</g>\n"
        f'<g id="cut" fill="none" stroke="#22305e" stroke-width="0.2">\n{_paths(cuts)}</g>\n'
        f'<g id="spoiled" fill="none" stroke="#b8321a" stroke-width="0.4">\n{rings}</g>\n',
    )


def _paths(rings: Sequence[CurveRing]) -> str:
    return "".join(f'<path d="{path_data(ring)}"/>\n' for ring in rings)


def _document(width_mm: float, height_mm: float, content: str) -> bytes:
    width, height = _number(width_mm), _number(height_mm)
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="0 0 {width} {height}">\n{content}</svg>\n'
    ).encode()
