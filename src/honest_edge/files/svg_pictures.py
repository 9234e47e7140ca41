"""How fine the pictures inside an SVG are: of their own pixels, at the size at which they are drawn."""

from __future__ import annotations

import base64
import io
import math
import re

import numpy as np
from lxml import etree
from numpy.typing import NDArray
from PIL import Image

LEAST_SEEN = 0.01
"""Of the drawing: smaller pictures do not decide how crisp it looks."""

_STEP = re.compile(r"(matrix|translate|scale|rotate|skewX|skewY)\s*\(([^)]*)\)")
_DATA = re.compile(r"^\s*data:image/[\w.+-]+(?:;[\w=-]+)*;base64,(.*)$", re.DOTALL)
_PX_PER_MM = 96 / 25.4


def inner_px(root: etree._Element, width_mm: float) -> float:
    """Return how many pixels across a drawing would have as fine as the coarsest picture in it; 0 without pictures."""
    box = _numbers(root.get("viewBox") or "")
    wide, high = (box[2], box[3]) if len(box) == 4 else (width_mm * _PX_PER_MM, width_mm * _PX_PER_MM)
    finest = []
    for image in root.iter("{http://www.w3.org/2000/svg}image"):
        pixels, width, height = _pixels(image), _length(image.get("width")), _length(image.get("height"))
        if pixels is None or not width:
            continue
        drawn = width * scale_of(image)
        if drawn > 0 and drawn * drawn * (height or width) / width >= LEAST_SEEN * wide * high:
            finest.append(pixels / drawn * wide)
    return min(finest, default=0.0)


def _pixels(image: etree._Element) -> int | None:
    """Return how many pixels across an embedded picture has."""
    href = next((str(value) for key, value in image.attrib.items() if etree.QName(key).localname == "href"), "")
    match = _DATA.match(href)
    try:
        return None if match is None else int(Image.open(io.BytesIO(base64.b64decode(match[1]))).width)
    except (ValueError, OSError, Image.DecompressionBombError):
        return None  # the renderer leaves it out, too


def scale_of(element: etree._Element) -> float:
    """Return how many times as large as it says an element is drawn, with all that it stands in."""
    return math.sqrt(abs(float(np.linalg.det(_placed(element)))))


def _placed(element: etree._Element) -> NDArray[np.float64]:
    """Return how an element is scaled with all that it stands in, (2, 2) (SVG 2, section 8.5)."""
    matrix = np.eye(2)
    above: etree._Element | None = element
    while above is not None:
        matrix = _scaled(str(above.get("transform") or "")) @ matrix
        above = above.getparent()
    return matrix


def _scaled(text: str) -> NDArray[np.float64]:
    """Return what a transform does to areas; what is moved, turned or slanted is as large as before."""
    matrix = np.eye(2)
    for kind, given in _STEP.findall(text):
        values = _numbers(given)
        if kind == "matrix" and len(values) == 6:
            matrix = matrix @ np.array([[values[0], values[2]], [values[1], values[3]]])
        elif kind == "scale" and values:
            matrix = matrix @ np.diag([values[0], values[-1]])
    return matrix


def _length(text: str | None) -> float | None:
    match = re.match(r"\s*([\d.]+(?:e-?\d+)?)", text or "", re.IGNORECASE)
    return next(iter(_numbers(match[1])), None) if match else None


def _numbers(text: str) -> list[float]:
    """Return the numbers of a list; what is none is left out."""
    numbers = []
    for part in re.split(r"[\s,]+", text.strip()):
        try:
            value = float(part)
        except ValueError:
            continue
        if math.isfinite(value):
            numbers.append(value)
    return numbers
