"""Things that have a form: sheets of stickers, labels, tags, cards, sleeves, each by its sizes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.specs import (
    LARGEST_WIDTH_MM,
    SMALLEST_WIDTH_MM,
    Colour,
    LineKind,
    check_colour,
    check_width,
)
from honest_edge.core.values.units import check_range

FormKind = Literal[
    "sticker sheet",
    "label",
    "oval label",
    "wrap label",
    "lid label",
    "tag",
    "planner boxes",
    "folded card",
    "pop-up card",
    "sleeve",
]
FoldAt = Literal["left", "top"]
LABEL_KINDS: tuple[FormKind, ...] = ("label", "oval label", "wrap label", "lid label")


@dataclass(frozen=True, slots=True, kw_only=True)
class Form:
    """A form by its sizes; each kind uses those that it needs.

    Attributes:
        kind: which.
        width_mm, height_mm: of the whole as cut; of a card as folded; of a planner's one box; of a sleeve's front.
        radius_mm: of the corners.
        hole_mm: diameter of a tag's eyelet or a sheet's hang hole; 0 for none.
        jar_mm: measured diameter of the jar or tin, or of its lid.
        lower_jar_mm: diameter where the label ends below, for conical ones; 0 for the same.
        overlap_mm: how far the ends of a wrap label lie over each other.
        margin_mm: how much smaller than its lid a lid label is, all round.
        columns, rows: of a planner's boxes.
        gap_mm: between a planner's boxes.
        fold: where a card is folded.
        fold_kind: how folds are made.
        cut_mm, tie_mm: lengths of a perforation's cuts and of what stays between them.
        depth_mm: of a sleeve; how far a pop-up part stands from the fold.
        flap_mm: where a sleeve is glued.
        part_width_mm, part_height_mm: of a pop-up part.
        rgb: the ground, sRGB.
    """

    kind: FormKind
    width_mm: float = 60.0
    height_mm: float = 40.0
    radius_mm: float = 0.0
    hole_mm: float = 0.0
    jar_mm: float = 70.0
    lower_jar_mm: float = 0.0
    overlap_mm: float = 6.0
    margin_mm: float = 3.0
    columns: int = 3
    rows: int = 4
    gap_mm: float = 3.0
    fold: FoldAt = "left"
    fold_kind: LineKind = "crease"
    cut_mm: float = 3.0
    tie_mm: float = 1.0
    depth_mm: float = 25.0
    flap_mm: float = 12.0
    part_width_mm: float = 40.0
    part_height_mm: float = 35.0
    rgb: Colour = (255, 255, 255)

    def __post_init__(self) -> None:
        check_width(self.width_mm)
        check_range("height of the form", self.height_mm, 2, 2000)
        check_range("corner radius", self.radius_mm, 0, 1000)
        check_range("hole", self.hole_mm, 0, 100)
        check_range("jar’s diameter", self.jar_mm, 10, 1000)
        if self.lower_jar_mm:
            check_range("jar’s lower diameter", self.lower_jar_mm, 10, 1000)
        check_range("overlap", self.overlap_mm, 0, 200)
        check_range("margin", self.margin_mm, 0, 100)
        check_range("columns", self.columns, 1, 60, "")
        check_range("rows", self.rows, 1, 60, "")
        check_range("gap between boxes", self.gap_mm, 0, 100)
        check_range("cuts of the perforation", self.cut_mm, 0.3, 50)
        check_range("ties of the perforation", self.tie_mm, 0.1, 50)
        check_range("depth", self.depth_mm, 2, 1000)
        check_range("glue flap", self.flap_mm, 0, 200)
        check_range("width of the part", self.part_width_mm, 2, 1000)
        check_range("height of the part", self.part_height_mm, 2, 1000)
        check_colour("ground", self.rgb)
        if self.fold_kind not in ("crease", "perforate"):
            raise UsageError(f"A fold is creased or perforated, not {self.fold_kind}")

    @property
    def diameter_mm(self) -> float:
        """Diameter of what is round; 0 for what is not."""
        return self.width_mm if self.width_mm == self.height_mm else 0.0

    @property
    def around_mm(self) -> float:
        """What a tape says that is laid round the jar or lid."""
        return math.pi * self.jar_mm

    def with_around(self, around_mm: float) -> Form:
        """Return the form for a jar or lid by what a tape says.

        Raises:
            UsageError: no jar has that.
        """
        return replace(self, jar_mm=around_mm / math.pi)

    def with_diameter(self, diameter_mm: float) -> Form:
        """Return the form round.

        Raises:
            UsageError: no sticker has that diameter.
        """
        check_range("diameter", diameter_mm, SMALLEST_WIDTH_MM, LARGEST_WIDTH_MM)
        return replace(self, width_mm=diameter_mm, height_mm=diameter_mm)


def form_title(form: Form) -> str:
    """Return a form's name in words."""
    if form.kind == "oval label" and form.diameter_mm:
        return "Round label"
    return form.kind[:1].upper() + form.kind[1:]


_INCH_MM = 25.4


def _inches(wide: float, high: float) -> dict[str, float]:
    return {"width_mm": wide * _INCH_MM, "height_mm": high * _INCH_MM}


_USUAL_SIZES: dict[FormKind, tuple[tuple[str, dict[str, float]], ...]] = {
    # common practice, no published source; A6 is ISO 216
    "sticker sheet": (
        ("4 × 6 in", _inches(4, 6)),
        ("5 × 7 in", _inches(5, 7)),
        ("A6", {"width_mm": 105.0, "height_mm": 148.0}),
        ("A5", {"width_mm": 148.0, "height_mm": 210.0}),
    ),
    "label": (("2 × 2 in", _inches(2, 2)), ("2 × 3 in", _inches(2, 3)), ("4 × 3 in", _inches(4, 3))),
    "oval label": (("1 1/2 in", _inches(1.5, 1.5)), ("2 in", _inches(2, 2)), ("2 1/2 in", _inches(2.5, 2.5))),
    # nominal diameters of preserving lids; common practice, no published source
    "lid label": (("70 mm lid", {"jar_mm": 70.0}), ("86 mm lid", {"jar_mm": 86.0})),
    "tag": (("3 1/2 × 2 in", _inches(3.5, 2)), ("80 × 40 mm", {"width_mm": 80.0, "height_mm": 40.0})),
}


def usual_sizes(kind: FormKind) -> Sequence[tuple[str, dict[str, float]]]:
    """Return the sizes that are usual for a kind of form: their names, and what of the form each sets."""
    return _USUAL_SIZES.get(kind, ())


@dataclass(frozen=True, slots=True, kw_only=True)
class Preset:
    """A form with sizes known from elsewhere."""

    name: str
    form: Form


PRESETS = (
    # practice: 4 x 6 in with corners of 0.2 in; common practice, no published source
    Preset(name="Sticker sheet", form=Form(kind="sticker sheet", width_mm=101.6, height_mm=152.4, radius_mm=5.08)),
    Preset(name="Square label", form=Form(kind="label", width_mm=50, height_mm=50, radius_mm=3)),
    Preset(name="Round label", form=Form(kind="oval label", width_mm=50, height_mm=50)),
    Preset(name="Oval label", form=Form(kind="oval label", width_mm=70, height_mm=45)),
    Preset(name="Wrap label", form=Form(kind="wrap label", jar_mm=70, height_mm=45)),
    Preset(name="Lid label", form=Form(kind="lid label", jar_mm=70)),
    Preset(name="Tag with eyelet", form=Form(kind="tag", width_mm=80, height_mm=40, radius_mm=3, hole_mm=5)),
    # practice: 1.5 x 1.9 in; common practice, no published source
    Preset(
        name="Planner boxes",
        form=Form(kind="planner boxes", width_mm=38.1, height_mm=48.26, radius_mm=2, columns=3, rows=3),
    ),
    Preset(
        name="Planner strips",
        form=Form(kind="planner boxes", width_mm=120, height_mm=12, radius_mm=2, columns=1, rows=10),
    ),
    # ISO/IEC 7810:2019, ID-1: 85.60 x 53.98 mm, corners of 2.88 to 3.48 mm
    Preset(name="Gift card, ID-1", form=Form(kind="label", width_mm=85.6, height_mm=53.98, radius_mm=3.18)),
    # 5 x 7 in folded, for an A7 envelope; common practice, no published source
    Preset(name="Folded card", form=Form(kind="folded card", width_mm=127, height_mm=177.8)),
    # ISO 216: A6; goes into a C6 envelope (ISO 269)
    Preset(name="Folded card, A6", form=Form(kind="folded card", width_mm=105, height_mm=148)),
    Preset(
        name="Pop-up card",
        form=Form(
            kind="pop-up card",
            width_mm=148,
            height_mm=105,
            fold="top",
            depth_mm=30,
            part_width_mm=60,
            part_height_mm=45,
        ),
    ),
    Preset(name="Box sleeve", form=Form(kind="sleeve", width_mm=90, height_mm=60, depth_mm=35)),
)
