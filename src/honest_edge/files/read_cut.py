"""Reading a cut file again, to hold it against a sheet: points in sheet millimetres, y down."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from lxml import etree

from honest_edge.core.geometry.paths import CurveRing, Floats
from honest_edge.core.values.errors import FileError
from honest_edge.core.values.units import MM_PER_INCH
from honest_edge.files.languages.hpgl import UNITS_PER_MM
from honest_edge.files.read_input import read_input

_STEP_MM = 0.01
_MOST_BYTES = 100_000_000
_TOKEN = re.compile(r"[MLCZ]|-?[0-9.]+(?:e-?[0-9]+)?")
_WORD = re.compile(r"([A-Z])(-?[0-9.]+)")
SUFFIXES = (".svg", ".dxf", ".plt", ".gcode", ".pdf")


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class HeldCut:
    """The lines of a cut file.

    Attributes:
        name: of the file.
        lines: (n, 2) points of every line, marks left out; a ring's first point ends it.
    """

    name: str
    lines: tuple[Floats, ...]


def read_cut(path: Path, height_mm: float) -> HeldCut:
    """Return the lines of a cut file that this application wrote.

    Args:
        path: an SVG, DXF, PLT, G-code or PDF.
        height_mm: of the paper, from whose bottom all but SVG count y.

    Raises:
        FileError: it cannot be read, or holds no lines.
    """
    readers = {".svg": _svg, ".dxf": _dxf, ".plt": _plt, ".gcode": _gcode, ".pdf": _pdf}
    reader = readers.get(path.suffix.lower())
    if reader is None:
        raise FileError(f"“{path.name}” is no cut file: open an SVG, DXF, PLT, GCODE or PDF")
    data = read_input(path, _MOST_BYTES)
    try:
        lines = tuple(points for points in reader(data, height_mm) if len(points) > 1)
    except FileError:
        raise
    except Exception as error:  # damaged files fail in every library's own way
        raise FileError(f"{path.name} is damaged, or of another program ({type(error).__name__})") from None
    if not lines:
        raise FileError(f"{path.name} holds no lines to cut")
    return HeldCut(name=path.name, lines=lines)


def _svg(data: bytes, _height_mm: float) -> Iterator[Floats]:
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False)
    root = etree.fromstring(data, parser)
    for path in root.iter("{http://www.w3.org/2000/svg}path"):
        parent = path.getparent()
        if parent is not None and parent.get("id") == "marks":
            continue
        yield _path(path.get("d", ""))


def _path(text: str) -> Floats:
    """Return the points of absolute M, L, C and Z."""
    tokens = iter(_TOKEN.findall(text))
    steps: list[Floats] = []
    here = start = np.zeros(2)
    command = ""
    for token in tokens:
        number: str | None = None
        if token in "MLCZ":
            command = token
        else:
            number = token
        if command == "Z":
            if not np.allclose(here, start):
                steps.append(_straight(here, start))
            continue
        first = number if number is not None else next(tokens)
        point = np.array([float(first), float(next(tokens))])
        if command == "M":
            here = start = point
        elif command == "L":
            steps.append(_straight(here, point))
            here = point
        else:
            rest = [np.array([float(next(tokens)), float(next(tokens))]) for _ in range(2)]
            steps.append(np.array([here, point, *rest]))
            here = rest[-1]
    return _chain(steps)


def _straight(one: Floats, two: Floats) -> Floats:
    return np.array([one + (two - one) * share for share in (0, 1 / 3, 2 / 3, 1)])


def _chain(steps: list[Floats]) -> Floats:
    if not steps:
        return np.zeros((0, 2))
    cubics = np.array(steps)
    return CurveRing(cubics, np.zeros(len(cubics), bool), closed=False).flattened(_STEP_MM)


def _dxf(data: bytes, height_mm: float) -> Iterator[Floats]:
    import ezdxf
    import ezdxf.path

    document = ezdxf.read(io.StringIO(data.decode("utf-8", "replace")))
    for entity in document.modelspace().query("LWPOLYLINE POLYLINE SPLINE"):
        if entity.dxf.layer == "marks":
            continue
        flat = ezdxf.path.make_path(entity).flattening(_STEP_MM)
        yield np.array([(point.x, height_mm - point.y) for point in flat])


def _plt(data: bytes, height_mm: float) -> Iterator[Floats]:
    at, line = np.zeros((1, 2)), list[Floats]()
    for command in data.decode("ascii", "strict").split(";"):
        name, numbers = command.strip()[:2], command.strip()[2:]
        if name == "PU" and line:
            yield np.vstack(line)
            line = []
        if name not in ("PU", "PD") or not numbers:
            continue
        read = np.array([float(value) for value in numbers.split(",")]).reshape(-1, 2)
        points = read / UNITS_PER_MM * (1, -1) + (0, height_mm)
        if name == "PD":
            line = [*(line or [at]), points]
        at = points[-1:]
    if line:
        yield np.vstack(line)


def _gcode(data: bytes, height_mm: float) -> Iterator[Floats]:
    """The blade is up as it is lifted first: by its height, its spindle word, or no power."""
    at, line, lifted, is_down = {"X": 0.0, "Y": 0.0}, list[tuple[float, float]](), None, False
    for text in data.decode("ascii", "strict").splitlines():
        words = {letter: float(value) for letter, value in _WORD.findall(text)}
        state = "off" if words.get("M") == 5 else words.get("Z", words.get("S"))
        if state is not None:
            lifted = state if lifted is None else lifted
            if is_down := state != lifted:
                line = [(at["X"], height_mm - at["Y"])]
            elif line:
                yield np.array(line)
                line = []
        if {"X", "Y"} & set(words):
            at |= {axis: value for axis, value in words.items() if axis in at}
            if is_down:
                line.append((at["X"], height_mm - at["Y"]))


def _pdf(data: bytes, height_mm: float) -> Iterator[Floats]:
    import pikepdf

    with pikepdf.open(io.BytesIO(data)) as pdf:
        page = pdf.pages[0]
        here = start = np.zeros(2)
        steps: list[Floats] = []
        for instruction in pikepdf.parse_content_stream(page, operators="m l c h S"):
            values = np.array([float(str(value)) for value in instruction.operands])
            match str(instruction.operator):
                case "m":
                    here, steps = values, []
                    start = here
                case "l":
                    steps.append(_straight(here, values))
                    here = values
                case "c":
                    steps.append(np.array([here, *values.reshape(3, 2)]))
                    here = values[4:]
                case "h":
                    if not np.allclose(here, start):
                        steps.append(_straight(here, start))
                case "S":
                    yield _chain(steps)
    if abs(float(page.mediabox[3]) / 72 * MM_PER_INCH - height_mm) > 0.1:
        raise FileError("The PDF’s page is not as high as the paper of this job: open it with the job it belongs to")
