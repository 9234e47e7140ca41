"""A loop round a subject from an SVG: its first path, in pixels of the picture."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.svgLib.path import parse_path
from lxml import etree

from honest_edge.core.values.errors import FileError
from honest_edge.files.read_input import read_input

_MOST_BYTES, _STEPS = 2_000_000, 12
_SVG = "{http://www.w3.org/2000/svg}path"


def read_loop(path: Path) -> list[tuple[float, float]]:
    """Return the places of the first path of an SVG, curves as short lines; its transforms are not followed.

    Raises:
        FileError: it cannot be read, or has no path.
    """
    data = read_input(path, _MOST_BYTES)
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False)
    pen = DecomposingRecordingPen({})
    try:
        path_node = next(etree.fromstring(data, parser).iter(_SVG), None)
        if path_node is not None:
            parse_path(path_node.get("d", ""), pen)
    except Exception as error:  # damaged files fail in every library's own way
        raise FileError(f"{path.name} is no SVG that can be read ({type(error).__name__})") from None
    points: list[tuple[float, float]] = []
    for command, places in pen.value:
        if command in ("moveTo", "lineTo"):
            points.append(places[0])
        elif command in ("curveTo", "qCurveTo"):
            points += _flattened(np.array([points[-1], *places], float))
        elif points:
            break  # one loop is enough
    if len(points) < 3:
        raise FileError(f"{path.name} holds no path to take as a loop: draw one closed path in pixels of the picture")
    return points


def _flattened(places: np.ndarray) -> list[tuple[float, float]]:
    """Return places on a Bezier curve of any degree (de Casteljau)."""
    flat = []
    for share in np.linspace(0, 1, _STEPS + 1)[1:]:
        left = places
        while len(left) > 1:
            left = (1 - share) * left[:-1] + share * left[1:]
        flat.append((float(left[0, 0]), float(left[0, 1])))
    return flat
