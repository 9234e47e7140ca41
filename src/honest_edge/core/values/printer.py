"""Printers.

Those that ship are generic and made up for this application; their numbers are common practice, no published
source, and are there to be edited.
"""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.names import check_name
from honest_edge.core.values.papers import PaperName
from honest_edge.core.values.sides import Sides, check_sides
from honest_edge.core.values.units import check_range


@dataclass(frozen=True, slots=True, kw_only=True)
class Printer:
    """A printer.

    Attributes:
        name: what the user calls it.
        rim_mm: what it cannot print at the paper's edges.
        rims_mm: the same by side, where the sides differ; it goes before ``rim_mm``.
        papers: which papers it takes.
        scale_x_percent, scale_y_percent: by how much prints come out too large, as far as it was measured.
    """

    name: str = "Home printer"
    rim_mm: float = 5.0
    papers: tuple[PaperName, ...] = ("letter", "legal", "a5", "a4", "own")
    scale_x_percent: float = 0.0
    scale_y_percent: float = 0.0
    rims_mm: Sides | None = None

    def __post_init__(self) -> None:
        check_name("printer", self.name)
        check_range("printer’s rim", self.rim_mm, 0, 60)
        check_sides("printer’s rim", self.rims_mm)
        check_range("printer’s scale error", self.scale_x_percent, -5, 5, "%")
        check_range("printer’s scale error", self.scale_y_percent, -5, 5, "%")
        if not self.papers:
            raise UsageError(f"printer “{self.name}” takes no paper: name one at least")


PRINTERS: tuple[Printer, ...] = (
    Printer(),
    Printer(name="Photo printer without rim", rim_mm=0.0, papers=("letter", "a5", "a4", "own")),
    Printer(name="Office laser printer", rim_mm=4.3, papers=("letter", "legal", "tabloid", "a5", "a4", "a3", "own")),
)
