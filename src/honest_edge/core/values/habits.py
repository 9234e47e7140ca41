"""What a user does again and again: what was made last of each kind of art, and what was said to be so always."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import EdgeRecipe, OutlineRecipe, WantedSize, check_copies

ArtKind = Literal["drawing", "cut-out picture", "photograph", "picture"]
"""A drawing of lines and areas; a picture with see-through ground; a photograph; any other picture."""


CutLinesUse = Literal["left out", "cut along"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Made:
    """How a design was made.

    Attributes:
        wanted: the size that was typed; None where the file's was kept.
        copies: how many.
        fills: whether it filled the sheet.
        edge: its edge, without what was done by hand.
        is_set: it was set beforehand, where the next art begins, and nothing was made so since.
    """

    wanted: WantedSize | None = None
    copies: int = 1
    fills: bool = True
    edge: EdgeRecipe = field(default_factory=EdgeRecipe)
    is_set: bool = False

    def __post_init__(self) -> None:
        check_copies(self.copies, least=0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Habits:
    """What new art and new jobs begin with; what is always so goes before what was done last.

    Attributes:
        last: how a design was made last, by kind of art.
        size: of every new design.
        outline: how the art of every new design is told from its ground.
        edge: of every new design.
        sheet: of every new job; its profiles are looked up by their names.
        png_ppi: the print file of every new job; 0 is a PDF, None is not said.
        cut_lines: what became last of lines in a file that mean a cut, by how the file ends.
    """

    last: dict[ArtKind, Made] = field(default_factory=dict)
    size: WantedSize | None = None
    outline: OutlineRecipe | None = None
    edge: EdgeRecipe | None = None
    sheet: SheetSpec | None = None
    png_ppi: float | None = None
    cut_lines: dict[str, CutLinesUse] = field(default_factory=dict)
