"""What is printed on.

Those that ship are generic and made up for this application; their numbers are common practice, no published
source, and are there to be edited.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from honest_edge.core.values.names import check_name
from honest_edge.core.values.specs import Colour, check_colour
from honest_edge.core.values.units import check_range

Gloss = Literal["matt", "satin", "glossy", "mirror"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Stock:
    """What is printed on.

    Attributes:
        rgb: its colour, sRGB.
        is_clear: see-through film: what is not inked shows whatever lies behind.
        is_mirrored: it is seen from behind, as film that is ironed on: print and cut are mirrored.
        cloth_rgb: the colour of the cloth that it is ironed on to, sRGB; None for what is not.
        name: what the user calls it.
        gloss: how it shines; mirrors and gloss blind a mark reader.
        thickness_mm: without liner.
        has_liner: whether a liner carries it, so that a kiss cut is possible.
        is_printable: whether ink holds on it.
        price: of one sheet, in the user's own money; None where it was never typed, which is not 0.
    """

    rgb: Colour = (255, 255, 255)
    is_clear: bool = False
    is_mirrored: bool = False
    cloth_rgb: Colour | None = None
    name: str = "White paper, matt"
    gloss: Gloss = "matt"
    thickness_mm: float = 0.1
    has_liner: bool = True
    is_printable: bool = True
    price: float | None = None

    def __post_init__(self) -> None:
        check_name("stock", self.name)
        check_colour("stock colour", self.rgb)
        if self.cloth_rgb is not None:
            check_colour("colour of the cloth", self.cloth_rgb)
        check_range("thickness of the stock", self.thickness_mm, 0.005, 20)
        if self.price is not None:
            check_range("price of a sheet", self.price, 0, 1e6, "")

    @property
    def is_pressed(self) -> bool:
        """Whether it is ironed or pressed on to something."""
        return self.is_mirrored or self.cloth_rgb is not None

    @property
    def bare_name(self) -> str:
        """What shows where no ink is, in words."""
        if self.is_clear:
            return "clear film"
        return "white" if min(self.rgb) >= 245 else "unprinted stock"


PLAIN_PAPER = Stock(name="Plain paper", has_liner=False)
"""What a sheet is tried on before paper that costs is spent."""

STOCKS: tuple[Stock, ...] = (
    Stock(),
    Stock(name="White vinyl, satin", gloss="satin"),
    Stock(name="White paper, glossy", gloss="glossy", thickness_mm=0.08),
    Stock(name="Clear film", is_clear=True, gloss="glossy"),
    Stock(name="Kraft paper", rgb=(201, 170, 124), thickness_mm=0.12),
    Stock(name="Card, 220 g", has_liner=False, thickness_mm=0.28),
    Stock(name="Iron-on film", is_mirrored=True, thickness_mm=0.09),
    Stock(name="Iron-on film, dark cloth", cloth_rgb=(34, 36, 44), thickness_mm=0.12),
    Stock(name="Silver film", rgb=(190, 192, 196), gloss="mirror"),
)
