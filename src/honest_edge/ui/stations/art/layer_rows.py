"""The rows of a layer's fields: where each value stands, what it is called, when it applies."""

from __future__ import annotations

from honest_edge.core.values.layers import Layer
from honest_edge.ui.shared.backgrounds import BACKGROUNDS
from honest_edge.ui.stations.art.field_table import Field

_SIZED = (("capitals", "capitals"), ("width", "the line"))
_ALIGNED = (("left", "left"), ("centre", "centred"), ("right", "right"))
_ROLES = (("printed", "printed"), ("stock", "coloured stock"), ("line", "cut or fold line"), ("guide", "guide only"))
_LINES = (("kiss", "kiss cut"), ("through", "through cut"), ("crease", "crease"), ("perforate", "perforation"))
_JOININGS = (
    ("over", "covers it"),
    ("knock out", "clears a gap"),
    ("subtract", "cuts out"),
    ("intersect", "keeps inside"),
)
_CODES = (("QR", "QR"), ("Code 128", "Code 128"), ("EAN-13", "EAN-13"))


def _is_bare_line(layer: Layer) -> bool:
    return layer.role == "line" and _of(layer, "line")


def _of(layer: Layer, *kinds: str) -> bool:
    return layer.shape is not None and layer.shape.kind in kinds


FIELDS = (
    Field(path="lettering.size_mm", name="Size", when=lambda a: a.lettering is not None),
    Field(
        path="lettering.sized_by",
        is_seldom=True,
        name="Measured over",
        kind="choice",
        options=_SIZED,
        when=lambda a: a.lettering is not None,
    ),
    Field(
        path="lettering.align",
        name="Lines",
        kind="choice",
        options=_ALIGNED,
        when=lambda a: a.lettering is not None and "\n" in a.lettering.text,
    ),
    Field(
        path="lettering.spacing",
        is_seldom=True,
        name="Letter spacing, em",
        kind="number",
        when=lambda a: a.lettering is not None,
    ),
    Field(
        path="lettering.line_spacing",
        is_seldom=True,
        name="Line spacing, em",
        kind="number",
        when=lambda a: a.lettering is not None and "\n" in a.lettering.text,
    ),
    Field(
        path="lettering.arc_mm",
        name="Arc radius",
        tip="0 is straight; negative runs under the circle",
        when=lambda a: a.lettering is not None,
    ),
    Field(
        path="lettering.fatten_mm",
        is_seldom=True,
        name="Thicken thin strokes",
        tip="Strokes under 1.5 mm grow by so much",
        when=lambda a: a.lettering is not None,
    ),
    Field(
        path="lettering.room_mm",
        is_seldom=True,
        name="Room for a line",
        kind="room",
        tip="Longer lines are marked; 0 sets no bound",
        when=lambda a: a.lettering is not None,
    ),
    Field(
        path="lettering.least_mm",
        is_seldom=True,
        name="Smallest letters",
        tip="Words of a table that are too long for their room are set smaller, down to this; 0 never",
        when=lambda a: a.lettering is not None and "{" in a.lettering.text,
    ),
    Field(
        path="lettering.fill_counters",
        is_seldom=True,
        name="Fill the holes in letters",
        kind="tick",
        when=lambda a: a.lettering is not None,
    ),
    Field(
        path="paint.gradient.turn_deg",
        name="Gradient turned, degrees",
        kind="number",
        tip="Clockwise; 0 runs from left to right",
        when=lambda a: a.paint.gradient is not None and a.paint.gradient.kind == "linear",
    ),
    Field(
        path="paint.place.zoom",
        name="Picture inside, times",
        kind="number",
        tip="How many times as large as just covers the form",
        when=lambda a: bool(a.paint.asset) and a.paint.repeat_mm == 0,
    ),
    Field(path="paint.place.x_mm", is_seldom=True, name="… moved across", when=lambda a: bool(a.paint.asset)),
    Field(path="paint.place.y_mm", is_seldom=True, name="… moved down", when=lambda a: bool(a.paint.asset)),
    Field(
        path="paint.place.turn_deg",
        is_seldom=True,
        name="… turned, degrees",
        kind="number",
        tip="Clockwise",
        when=lambda a: bool(a.paint.asset),
    ),
    Field(path="picture.width_mm", name="Width", when=lambda a: a.picture is not None),
    Field(
        path="picture.outline.background",
        name="Background",
        kind="choice",
        tip="Automatic takes transparency, else what the border shares; a photograph keeps its rectangle",
        options=BACKGROUNDS,
        when=lambda a: a.picture is not None,
    ),
    Field(
        path="picture.outline.tolerance",
        is_seldom=True,
        name="Tolerance, levels",
        kind="number or none",
        tip="How far a colour may lie from the background’s; empty measures the picture’s own noise",
        when=lambda a: a.picture is not None and a.picture.outline.background not in ("alpha", "none"),
    ),
    Field(
        path="shape.diameter_mm",
        name="Diameter",
        tip="Makes it round; 0 where it is not",
        when=lambda a: _of(a, "oval"),
    ),
    Field(path="shape.width_mm", name="Width", when=lambda a: a.shape is not None),
    Field(path="shape.height_mm", name="Height", when=lambda a: a.shape is not None and not _is_bare_line(a)),
    Field(path="shape.radius_mm", name="Corner radius", when=lambda a: _of(a, "box", "tag")),
    Field(path="shape.points", name="Points", kind="count", least=3, when=lambda a: _of(a, "polygon", "star")),
    Field(
        path="shape.depth",
        is_seldom=True,
        name="Depth of notches",
        kind="number",
        tip="0.02 to 0.95",
        when=lambda a: _of(a, "star", "banner"),
    ),
    Field(
        path="shape.stroke_mm",
        is_seldom=True,
        name="Line along its edge",
        tip="As wide as that, inside the form; 0 fills it",
        when=lambda a: a.shape is not None and not _of(a, "line"),
    ),
    Field(path="shape.eyelet_mm", name="Eyelet", tip="0 for none", when=lambda a: _of(a, "tag")),
    Field(path="code.kind", name="Kind", kind="choice", options=_CODES, when=lambda a: a.code is not None),
    Field(path="code.width_mm", name="Width", tip="With its quiet zone", when=lambda a: a.code is not None),
    Field(path="code.height_mm", name="Height of bars", when=lambda a: a.code is not None and a.code.kind != "QR"),
    Field(
        path="grown.grow_mm",
        name="Grown by",
        tip="Farther out than the layer that it follows; negative for farther in",
        when=lambda a: a.grown is not None,
    ),
    Field(path="x_mm", name="Across", tip="Of its middle; of a grown copy, how far it is shifted"),
    Field(path="y_mm", name="Down", tip="Of its middle; of a grown copy, how far it is shifted"),
    Field(path="turn_deg", name="Turn, degrees", kind="number", tip="Clockwise", when=lambda a: a.grown is None),
    Field(path="is_flipped", name="Flipped, left to right", kind="tick", when=lambda a: a.grown is None),
    Field(
        path="opacity_percent",
        is_seldom=True,
        name="Opacity, %",
        kind="number",
        tip="100 is solid; less lets what lies below through. The cut stays where it is",
        when=lambda a: a.role == "printed",
    ),
    Field(path="role", is_seldom=True, name="Used as", kind="choice", options=_ROLES),
    Field(
        path="is_inlaid",
        name="Inlaid: what lies above is cut out of it",
        kind="tick",
        tip="If not, it lies under what is above",
        when=lambda a: a.role == "stock",
    ),
    Field(
        path="tuck_mm",
        name="Tucked under by",
        tip="How far an inlaid piece still reaches under what lies above",
        when=lambda a: a.role == "stock" and a.is_inlaid,
    ),
    Field(path="line", name="Along it", kind="choice", options=_LINES, when=lambda a: a.role == "line"),
    Field(path="cut_mm", name="Cuts", when=lambda a: a.role == "line" and a.line == "perforate"),
    Field(path="tie_mm", name="Ties between", when=lambda a: a.role == "line" and a.line == "perforate"),
    Field(
        path="joining",
        is_seldom=True,
        name="What lies below",
        kind="choice",
        tip="Covers it; clears a gap all round itself; cuts its own shape out; or keeps only what lies inside it",
        options=_JOININGS,
        when=lambda a: a.role == "printed",
    ),
    Field(
        path="gap_mm",
        is_seldom=True,
        name="Gap",
        when=lambda a: a.role == "printed" and a.joining in ("knock out", "subtract"),
    ),
)
