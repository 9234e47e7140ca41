"""What of an SVG file may reach the renderer, and what size it states.

Nothing is fetched, run or read from disk: no DTD entities, no scripts, no references outside the file.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from lxml import etree

from honest_edge.core.values.errors import ArtError
from honest_edge.files.svg_layers import FileLayer, file_layers, hide
from honest_edge.files.svg_pictures import inner_px

MOST_BYTES = 30_000_000
MOST_ELEMENTS = 200_000
LARGEST_MM = 5080.0  # 200 in, as far as a PDF page reaches too

_MM_PER_UNIT = {
    "mm": 1.0,
    "cm": 10.0,
    "in": 25.4,
    "pt": 25.4 / 72,
    "pc": 25.4 / 6,
    "q": 0.25,
    "px": 25.4 / 96,
    "": 25.4 / 96,
}
_LENGTH = re.compile(r"^\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)\s*([a-zA-Z%]*)\s*$")
_FAMILY = re.compile(r"(font-family\s*:\s*)([^;}\"]+)", re.IGNORECASE)
_SHORT = re.compile(r"((?<![\w-])font\s*:\s*)([^;}]+)", re.IGNORECASE)
_AFTER_SIZE = re.compile(r"[\d.]+\s*(?:[a-z]+|%)(?:\s*/\s*[\w.%]+)?\s+(.+)$", re.IGNORECASE)
_CSS_URL = re.compile(r"url\(\s*['\"]?(?!#)[^)]*\)|@import[^;]*;?", re.IGNORECASE)
_DROPPED = {"script", "foreignObject", "iframe", "audio", "video", "handler"}
_GENERIC = {"serif", "sans-serif", "monospace", "cursive", "fantasy", "system-ui", "inherit", "initial", "unset"}


@dataclass(frozen=True, slots=True, kw_only=True)
class GatedSvg:
    """A drawing that is safe to hand to the renderer.

    Attributes:
        text: the markup that is left.
        width_mm, height_mm: the drawing's size.
        has_unit: whether the file states its size in a unit of length, and not in pixels or not at all.
        families: typefaces that its lettering asks for.
        words: its lettering, a line each.
        inner_px: how many pixels across all of it would have as fine as the coarsest picture in it; 0 without pictures.
        layers: its groups, the lowest first, and lines among other things that mean a cut.
        notes: what was left out, each one sentence.
    """

    text: str
    width_mm: float
    height_mm: float
    has_unit: bool
    families: tuple[str, ...]
    words: tuple[str, ...]
    inner_px: float
    layers: tuple[FileLayer, ...]
    notes: tuple[str, ...]


def gated(data: bytes, name: str, *, hidden: Sequence[int] = (), only: Sequence[int] = ()) -> GatedSvg:
    """Return what of the file may be drawn.

    Args:
        data: the file's bytes.
        name: what messages call it.
        hidden: layers that are left out.
        only: layers that alone are drawn; empty for all.

    Raises:
        ArtError: no SVG, or one that is built to harm.
    """
    if len(data) > MOST_BYTES:
        raise ArtError(
            f"{name} has {len(data) / 1e6:.0f} MB of markup, more than {MOST_BYTES // 1_000_000}: simplify it"
        )
    root = _parsed(data, name)
    notes = _cleaned(root)
    families = _lettered(root)
    width_mm, height_mm, has_unit, said = _size(root, name)
    box = _view_box(root)
    layers = file_layers(root, width_mm / box[0] if box else 25.4 / 96)
    hide(root, layers, hidden, only)
    text = etree.tostring(root, encoding="unicode")
    return GatedSvg(
        text=text,
        width_mm=width_mm,
        height_mm=height_mm,
        has_unit=has_unit,
        families=families,
        words=_words(root),
        inner_px=inner_px(root, width_mm),
        layers=tuple(layers),
        notes=(*notes, *said),
    )


def _parsed(data: bytes, name: str) -> etree._Element:
    # libxml2's own limits (no huge_tree) stop deep nesting and expansion
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, remove_comments=True, remove_pis=True, huge_tree=False
    )
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        message = (str(error).splitlines() or ["no markup"])[0][:100]
        raise ArtError(f"{name} is damaged or no SVG ({message}): export it again") from None
    if etree.QName(root).localname != "svg":
        raise ArtError(f"{name} is XML but no SVG drawing: export it as SVG")
    for count, element in enumerate(root.iter()):
        if isinstance(element, etree._Entity):
            raise ArtError(f"{name} uses entities, which can hide harm: export it as plain SVG")
        if count >= MOST_ELEMENTS:
            raise ArtError(f"{name} has more than {MOST_ELEMENTS} elements: simplify it or export it as PNG")
    return root


def _cleaned(root: etree._Element) -> list[str]:
    scripts = outside = 0
    for element in list(root.iter(etree.Element)):
        if etree.QName(element).localname in _DROPPED and element is not root:
            scripts += 1
            _remove(element)
            continue
        for key in list(element.attrib):
            local, value = etree.QName(key).localname, str(element.attrib[key])
            if local.lower().startswith("on"):
                scripts += 1
                del element.attrib[key]
            elif local == "href" and not value.strip().startswith(("#", "data:image/")):
                outside += etree.QName(element).localname != "a"
                del element.attrib[key]
            elif "url(" in value and _CSS_URL.search(value):
                outside += 1
                element.attrib[key] = _CSS_URL.sub("none", value)
        if etree.QName(element).localname == "style" and element.text and _CSS_URL.search(element.text):
            outside += 1
            element.text = _CSS_URL.sub("", element.text)
    notes = []
    if scripts:
        notes.append("Scripts in the drawing were left out.")
    if outside:
        notes.append(f"{outside} reference{'s' if outside > 1 else ''} to other files were left out: embed them.")
    return notes


def _remove(element: etree._Element) -> None:
    parent = element.getparent()
    if parent is not None:
        parent.remove(element)


def _lettered(root: etree._Element) -> tuple[str, ...]:
    """Give all lettering a last resort, for in a missing typeface, or in none, it would vanish; return their names."""
    if not any(etree.QName(e).localname == "text" for e in root.iter(etree.Element)):
        return ()
    families: dict[str, None] = {}
    if "font-family" not in root.attrib:
        root.attrib["font-family"] = "sans-serif"

    def with_last_short(match: re.Match[str]) -> str:
        named = _AFTER_SIZE.search(match[2])
        if named is None:
            return match[0]  # a word of the system, or inherited
        _note_families(named[1], families)
        return f"{match[1]}{match[2].rstrip()}, sans-serif"

    def with_last(match: re.Match[str]) -> str:
        _note_families(match[2], families)
        return f"{match[1]}{match[2].rstrip()}, sans-serif"

    for element in root.iter(etree.Element):
        if "style" in element.attrib:
            style = _FAMILY.sub(with_last, str(element.attrib["style"]))
            element.attrib["style"] = _SHORT.sub(with_last_short, style)
        if "font-family" in element.attrib:
            family = str(element.attrib["font-family"])
            _note_families(family, families)
            element.attrib["font-family"] = f"{family}, sans-serif"
        if etree.QName(element).localname == "style" and element.text:
            element.text = _SHORT.sub(with_last_short, _FAMILY.sub(with_last, element.text))
    return tuple(families)


def _words(root: etree._Element) -> tuple[str, ...]:
    """Return what is lettered, without empty lines."""
    texts = (element for element in root.iter(etree.Element) if etree.QName(element).localname == "text")
    lines = (" ".join("".join(map(str, text.itertext())).split()) for text in texts)
    return tuple(line for line in lines if line)


def _note_families(value: str, found: dict[str, None]) -> None:
    first = value.split(",")[0].strip().strip("'\"")
    if first and first.lower() not in _GENERIC:
        found[first] = None


def _size(root: etree._Element, name: str) -> tuple[float, float, bool, list[str]]:
    box = _view_box(root)
    width, height = _length(root.get("width")), _length(root.get("height"))
    notes: list[str] = []
    if width is None and height is None:
        if box is None:
            raise ArtError(f"{name} states neither a size nor a viewBox: export it again with one of them")
        return *_checked(box[0] * 25.4 / 96, box[1] * 25.4 / 96, name), False, notes
    ratio = box[1] / box[0] if box else 1.0
    width_mm = width[0] if width else height[0] / ratio if height else 0.0
    height_mm = height[0] if height else width_mm * ratio
    if box and abs(height_mm / max(width_mm, 1e-9) - ratio) > 0.01 * ratio:
        notes.append("Its width and height do not match its viewBox; the drawing keeps its own proportions.")
    has_unit = (width or height or (0, False))[1]
    return *_checked(width_mm, height_mm, name), has_unit, notes


def _checked(width_mm: float, height_mm: float, name: str) -> tuple[float, float]:
    if not (0.1 <= width_mm <= LARGEST_MM and 0.1 <= height_mm <= LARGEST_MM):
        raise ArtError(
            f"{name} states a size of {width_mm:.4g} × {height_mm:.4g} mm; it must be 0.1 to {LARGEST_MM:g} mm each way"
        )
    return width_mm, height_mm


def _view_box(root: etree._Element) -> tuple[float, float] | None:
    try:
        numbers = [float(part) for part in re.split(r"[\s,]+", (root.get("viewBox") or "").strip())]
    except ValueError:
        return None
    if len(numbers) != 4 or not (1e-6 < numbers[2] < 1e9 and 1e-6 < numbers[3] < 1e9):
        return None
    return numbers[2], numbers[3]


def _length(text: str | None) -> tuple[float, bool] | None:
    """Return millimetres (a CSS pixel is 1/96 in, CSS Values and Units 3 §6.2) and whether a unit was named."""
    match = _LENGTH.match(text or "")
    if match is None or match[2].lower() not in _MM_PER_UNIT:
        return None
    unit = match[2].lower()
    value = float(match[1]) * _MM_PER_UNIT[unit]
    return (value, unit not in ("", "px")) if value > 0 else None
