"""Draws the application's icon and that of its files: a leaf as a sticker, its border, and the cut that goes round.

Writes the SVG and the usual sizes as PNG into packaging/icons. Every colour is one of the window's own.
"""

from __future__ import annotations

from pathlib import Path

import resvg_py

ICONS = Path(__file__).parents[1] / "packaging" / "icons" / "hicolor"
SIZES = (16, 22, 24, 32, 48, 64, 128, 256)
APP, FILE = "honest-edge", "application-vnd.honest-edge.job+zip"

GROUND, PAPER, LEAF, VEIN, CUT = "#22305E", "#FBF9F4", "#2F6B3A", "#8FCB97", "#E79ACB"
_LEAF = "M34 94 C24 58 44 30 94 34 C98 84 70 104 34 94 Z"
_SMALL = 32
"""Up to this size lines are drawn bolder and the vein is left out, or they would vanish."""


def sticker(*, bold: bool) -> str:
    """Return the leaf with its border and its cut."""
    border, line = (15, 7) if bold else (16, 3.4)
    vein = "" if bold else f'<path d="M38 90 L84 44" stroke="{VEIN}" stroke-width="3.4" stroke-linecap="round"/>'
    around = 'stroke-linejoin="round" fill="none"'
    return (
        f'<path d="{_LEAF}" stroke="{CUT}" stroke-width="{border + 2 * line}" {around}/>'
        f'<path d="{_LEAF}" stroke="{PAPER}" stroke-width="{border}" {around}/>'
        f'<path d="{_LEAF}" fill="{LEAF}"/>{vein}'
    )


def app_icon(*, bold: bool) -> str:
    """Return the application's icon: the sticker on a tile."""
    return _svg(f'<rect x="6" y="6" width="116" height="116" rx="26" fill="{GROUND}"/>{sticker(bold=bold)}')


def file_icon(*, bold: bool) -> str:
    """Return the icon of a job: the sticker on a sheet with a bracket in its corner."""
    sheet = f'<rect x="20" y="4" width="88" height="120" rx="6" fill="{PAPER}" stroke="#5C5F68" stroke-width="3"/>'
    mark = f'<path d="M32 34 L32 16 L50 16" stroke="{GROUND}" stroke-width="5" fill="none"/>'
    return _svg(f'{sheet}{mark}<g transform="translate(14 22) scale(0.78)">{sticker(bold=bold)}</g>')


def _svg(inside: str) -> str:
    return f'<svg xmlns="http://www.w3.org/2000/svg" width="128" height="128" viewBox="0 0 128 128">{inside}</svg>\n'


def main() -> None:
    """Write every file."""
    for kind, name, draw in (("apps", APP, app_icon), ("mimetypes", FILE, file_icon)):
        _write(ICONS / "scalable" / kind / f"{name}.svg", draw(bold=False).encode())
        for size in SIZES:
            drawn = resvg_py.svg_to_bytes(svg_string=draw(bold=size <= _SMALL), width=size, height=size)
            _write(ICONS / f"{size}x{size}" / kind / f"{name}.png", bytes(drawn))


def _write(place: Path, content: bytes) -> None:
    place.parent.mkdir(parents=True, exist_ok=True)
    place.write_bytes(content)


if __name__ == "__main__":
    main()
