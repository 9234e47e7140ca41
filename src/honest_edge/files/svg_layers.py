"""The layers of an SVG: its outermost groups, and the lines in it that mean a cut.

How an element is painted follows the cascade of SVG 2, sections 6.4 and 13, as far as drawing programs use it:
attributes of presentation, rules for a class, an id or a kind of element, and an element's own style, inherited.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from lxml import etree
from PIL import ImageColor

from honest_edge.files.cutting_words import HAIRLINE_MM, Meaning, meaning_of_names, pure_colour
from honest_edge.files.svg_pictures import scale_of

MOST_LAYERS = 100
_DRAWN = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon", "text", "image", "use"}
_DEFINED = {"defs", "symbol", "clipPath", "mask", "marker", "pattern"}
_LINES = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
_INHERITED = ("fill", "stroke", "stroke-width")
_RULE = re.compile(r"([^{}]+)\{([^{}]*)\}")
_NUMBER = re.compile(r"^\s*([\d.]+(?:e-?\d+)?)\s*(px|mm|cm|in|pt|pc|q)?\s*$", re.IGNORECASE)
_PX = {"": 1.0, "px": 1.0, "mm": 96 / 25.4, "cm": 960 / 25.4, "in": 96.0, "pt": 96 / 72, "pc": 16.0, "q": 24 / 25.4}

Styles = dict[str, dict[str, str]]
"""What the rules of a drawing say, by ".class", "#id" or kind of element."""


@dataclass(frozen=True, slots=True)
class FileLayer:
    """What of a drawing is shown or left out together.

    Attributes:
        name: what the file or its lines call it.
        elements: what is in it.
        means: what its lines ask for, where all of it is lines that mean a cut.
    """

    name: str
    elements: tuple[etree._Element, ...]
    means: Meaning = ""


def file_layers(root: etree._Element, unit_mm: float) -> list[FileLayer]:
    """Return the layers of a drawing, the lowest first: its groups, then lines among other things that mean a cut.

    Args:
        root: the drawing.
        unit_mm: how long one unit of it is.
    """
    styles = _styles(root)
    asked = {element: _meaning(element, styles, unit_mm) for element in _drawn_in(root)}
    layers: list[FileLayer] = []
    for name, elements in _groups(root):
        drawn = [one for element in elements for one in _all(element) if one in asked]
        means = asked[drawn[0]][0] if all(asked[one][0] for one in drawn) else ""
        if means and _kind(elements[0]) in _DRAWN:
            continue  # loose lines are called by what they are
        layers.append(FileLayer(name, elements, means))
        if means:
            asked |= dict.fromkeys(drawn, ("", ""))
    lines: dict[tuple[Meaning, str], list[etree._Element]] = {}
    for element, (means, colour) in asked.items():
        if means:
            lines.setdefault((means, colour), []).append(element)
    for (means, colour), alike in lines.items():
        word = f"{colour} line" if colour else f"line to {means}"
        layers.append(FileLayer(f"{len(alike)} {word}{'s'[: len(alike) > 1]}", tuple(alike), means))
    return layers


def hide(root: etree._Element, layers: Sequence[FileLayer], hidden: Sequence[int], only: Sequence[int]) -> None:
    """Leave layers out of a drawing; with ``only`` leave out all but those."""
    for index, layer in enumerate(layers):
        if index in hidden:
            for element in layer.elements:
                _vanish(element)
    if only:
        kept = {drawn for index in only if index < len(layers) for one in layers[index].elements for drawn in _all(one)}
        for element in _drawn_in(root):
            if element not in kept:
                _vanish(element)


def _vanish(element: etree._Element) -> None:
    element.attrib["display"] = "none"
    if "style" in element.attrib:
        element.attrib["style"] = f"{element.get('style', '')!s};display:none"


def _all(element: etree._Element) -> Iterator[etree._Element]:
    return element.iter(etree.Element)


def _kind(element: etree._Element) -> str:
    return etree.QName(element).localname


def _drawn_in(root: etree._Element) -> Iterator[etree._Element]:
    """Return what is drawn where it stands, in order: not what is only defined to be used elsewhere."""
    for element in root:
        if not isinstance(element.tag, str) or _kind(element) in _DEFINED:
            continue
        if _kind(element) in _DRAWN:
            yield element
        else:
            yield from _drawn_in(element)


def _groups(root: etree._Element) -> list[tuple[str, tuple[etree._Element, ...]]]:
    """Return the outermost groups with their names, and what lies loose between them; nothing where there is but one.

    A lone group or view round all of it is passed.
    """
    while True:
        drawn = [one for one in root if isinstance(one.tag, str) and _kind(one) not in _DEFINED and _is_drawn(one)]
        if len(drawn) != 1 or _kind(drawn[0]) in _DRAWN:
            break
        root = drawn[0]
    named_groups: list[tuple[str, tuple[etree._Element, ...]]] = []
    for is_group, run in itertools.groupby(drawn, key=lambda one: _kind(one) not in _DRAWN):
        if is_group:
            named_groups += [(_name_of(group, len(named_groups) + at), (group,)) for at, group in enumerate(run)]
        else:
            loose = tuple(run)
            named_groups.append((f"{len(loose)} loose {'shapes' if len(loose) > 1 else 'shape'}", loose))
    groups = sum(_kind(elements[0]) not in _DRAWN for _, elements in named_groups)
    return named_groups if groups >= 1 and 2 <= len(named_groups) <= MOST_LAYERS else []


def _is_drawn(element: etree._Element) -> bool:
    return _kind(element) in _DRAWN or next(_drawn_in(element), None) is not None


def _name_of(group: etree._Element, index: int) -> str:
    """Return what a group is called: a label of whatever program, its title, its id, or its number."""
    for key, value in group.attrib.items():
        if etree.QName(key).localname in ("label", "data-name") and str(value).strip():
            return str(value).strip()[:60]
    titles = [str(one.text) for one in group if isinstance(one.tag, str) and _kind(one) == "title" and one.text]
    name = titles[0] if titles else str(group.get("id") or "")
    return name.strip()[:60] or f"Group {index + 1}"


def _meaning(element: etree._Element, styles: Styles, unit_mm: float) -> tuple[Meaning, str]:
    """Return what a line asks for, and the name of its colour where that is pure."""
    if _kind(element) not in _LINES:
        return "", ""
    painted = _painted(element, styles)
    stroke = painted.get("stroke", "none")
    if painted.get("fill", "black") not in ("none", "transparent") or stroke in ("none", "transparent"):
        return "", ""
    try:
        colour = pure_colour(ImageColor.getrgb(stroke)[:3])
    except ValueError:
        colour = ""
    names = [str(value) for one in (*_above(element), element) for key, value in one.attrib.items() if _names(str(key))]
    named = meaning_of_names(names)
    if named:
        return named, colour
    width = _NUMBER.match(painted.get("stroke-width", "1"))
    width_mm = float(width[1]) * _PX[(width[2] or "").lower()] * scale_of(element) * unit_mm if width else 1.0
    return ("cut", colour) if colour and width_mm <= HAIRLINE_MM else ("", "")


def _names(key: str) -> bool:
    return etree.QName(key).localname in ("id", "label", "data-name", "class")


def _above(element: etree._Element) -> list[etree._Element]:
    return list(element.iterancestors())[::-1]


def _painted(element: etree._Element, styles: Styles) -> dict[str, str]:
    """Return how an element is filled and stroked."""
    paint: dict[str, str] = {}
    for one in (*_above(element), element):
        own = {name: str(one.get(name)) for name in _INHERITED if one.get(name) is not None}
        keys = [_kind(one), *(f".{name}" for name in str(one.get("class") or "").split()), f"#{one.get('id')}"]
        for key in keys:
            own |= styles.get(key, {})
        own |= _declared(str(one.get("style") or ""))
        paint |= {name: value for name, value in own.items() if value != "inherit"}
    return paint


def _styles(root: etree._Element) -> Styles:
    styles: Styles = {}
    for element in root.iter("{http://www.w3.org/2000/svg}style"):
        for selectors, body in _RULE.findall(element.text or ""):
            for selector in selectors.split(","):
                styles.setdefault(selector.strip(), {}).update(_declared(body))
    return styles


def _declared(text: str) -> dict[str, str]:
    pairs = (part.split(":", 1) for part in text.split(";") if ":" in part)
    return {name.strip().lower(): value.strip().lower() for name, value in pairs if name.strip().lower() in _INHERITED}
