"""The cut file of a ladder of test squares: each by a colour, a layer and a pen of its own, to be set one by one."""

from __future__ import annotations

import io
from collections.abc import Callable

from honest_edge.core.values.book_records import SettingName
from honest_edge.core.workshop.ladder_sheet import Floats, LadderSheet
from honest_edge.files.languages.hpgl import UNITS_PER_MM

_COLOURS = ("#1f4e79", "#b33a1c", "#2e7d32", "#7a3b8f", "#a86b00", "#00707a", "#8a1548", "#4a4a4a")
"""Far enough apart for programs that tell tools by colour; which is which is written beside."""


def _svg(sheet: LadderSheet, name: SettingName) -> bytes:
    """SVG 1.1, one unit a millimetre: a group a square, the numbers in the first."""
    groups = []
    for number, (setting, square) in enumerate(zip(sheet.settings, sheet.squares, strict=True)):
        lines = [_path(square, "Z"), *(_path(line) for line in (sheet.numbers if number == 0 else ()))]
        groups.append(
            f'<g id="{_label(number, setting, name)}" fill="none" stroke="{_COLOURS[number % len(_COLOURS)]}" '
            f'stroke-width="0.2">\n{"".join(lines)}</g>\n'
        )
    if sheet.marks:
        printed = "".join(_path(mark, "Z") for mark in sheet.marks)
        groups.append(f'<g id="marks" fill="#000000">\n{printed}</g>\n')
    width, height = f"{sheet.width_mm:g}", f"{sheet.height_mm:g}"
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" viewBox="0 0 {width} {height}">'
        f"\n{''.join(groups)}</svg>\n"
    ).encode()


def _label(number: int, setting: float, name: SettingName) -> str:
    return f"{number + 1}-{name}-{setting:g}"


def _path(points: Floats, end: str = "") -> str:
    kept = points[:-1] if end else points
    return f'<path d="M{"L".join(f"{x:.3f} {y:.3f}" for x, y in kept.tolist())}{end}"/>\n'


def _plt(sheet: LadderSheet, _name: SettingName) -> bytes:
    """Plot text: pens 1 to 8, one a square."""
    commands = ["IN", "PA"]
    for number, square in enumerate(sheet.squares):
        commands.append(f"SP{number + 1}")
        for line in (*(sheet.numbers if number == 0 else ()), square):
            moves = [
                f"{round(x * UNITS_PER_MM)},{round((sheet.height_mm - y) * UNITS_PER_MM)}" for x, y in line.tolist()
            ]
            commands += [f"PU{moves[0]}", f"PD{','.join(moves[1:])}"]
    return (";".join([*commands, "PU0,0", "SP0"]) + ";\n").encode("ascii")


def _dxf(sheet: LadderSheet, name: SettingName) -> bytes:
    """DXF R2000 in millimetres, y upward: a layer a square."""
    import ezdxf  # takes long to load, so only those who write DXF wait for it

    document = ezdxf.new("R2000", units=4)
    space = document.modelspace()
    for number, (setting, square) in enumerate(zip(sheet.settings, sheet.squares, strict=True)):
        layer = _label(number, setting, name)
        document.layers.add(layer, color=number + 1)
        for line, is_closed in (
            (square[:-1], True),
            *((stroke, False) for stroke in (sheet.numbers if number == 0 else ())),
        ):
            points = [(x, sheet.height_mm - y) for x, y in line.tolist()]
            space.add_lwpolyline(points, close=is_closed, dxfattribs={"layer": layer})
    for mark in sheet.marks:
        points = [(x, sheet.height_mm - y) for x, y in mark[:-1].tolist()]
        space.add_lwpolyline(points, close=True, dxfattribs={"layer": "marks"})
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode("ascii", "replace")


LADDER_WRITERS: dict[str, Callable[[LadderSheet, SettingName], bytes]] = {".svg": _svg, ".dxf": _dxf, ".plt": _plt}
"""By how the file ends."""


def told_apart(suffix: str) -> str:
    """Return by what the squares of a file are told apart, in words."""
    if suffix == ".plt":
        return "pens 1 to 8, one a square"
    return "one group, named by its setting, and one colour a square" if suffix == ".svg" else "one layer a square"
