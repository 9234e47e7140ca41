"""What can be switched on in a rehearsal: mistakes and mishaps, what they look like and what tells of them in time.

How large each is, is an assumption: common practice, no published source.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

FaultKey = Literal["fitted", "missed", "slip", "dull", "wet", "wrong side", "turned"]

SLIP_MM = 0.8
DULL_REPEATS = 3.0
"""A blade that is quite dull lands so many times as far from where the sheet's error takes it."""

TRACK_MM = 8.0
"""Width of the track of a roller that touches wet ink; two of them run a quarter of the sheet from its middle."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Fault:
    """One of them, in words.

    Attributes:
        key: names it.
        name: what it is called.
        looks: what it looks like on the sheet.
        noticed: what would have told of it before a sheet was lost.
    """

    key: FaultKey
    name: str
    looks: str
    noticed: str


FAULTS: tuple[Fault, ...] = (
    Fault(
        key="fitted",
        name="Print fitted to the page",
        looks="everything is printed smaller; the cut keeps its size and strays more and more toward the edges",
        noticed="the printed ruler is shorter than 50 mm: measure it on the first sheet, before it is cut",
    ),
    Fault(
        key="missed",
        name="A mark is missed",
        looks="the reader stops and nothing is cut; the sheet is still good",
        noticed="watch the reader find every mark; dull a shiny mark with matt tape, and shade it from light",
    ),
    Fault(
        key="slip",
        name="The sheet slips half way",
        looks=f"what is cut after the slip lies {SLIP_MM:g} mm off along the feed, what was cut before is good",
        noticed="press the sheet down to its edges; a carrier that has lost its tack lets it go",
    ),
    Fault(
        key="dull",
        name="The blade is dull",
        looks="no pattern: every sticker is off by another way, corners tear and dust lies along the cut",
        noticed="paper dust on the first cut; look at the metres that the blade has cut in the Book",
    ),
    Fault(
        key="wet",
        name="The ink is still wet",
        looks="two tracks of the rollers are smeared across the sheet",
        noticed="wait until the ink is dry, about 20 minutes on sticker paper, and touch a mark first",
    ),
    Fault(
        key="wrong side",
        name="Printed on the wrong side",
        looks="the art stands on the liner, and what peels off is bare",
        noticed="print a first sheet alone, and peel up a corner",
    ),
    Fault(
        key="turned",
        name="Loaded turned by half",
        looks="three brackets look otherwise when turned, so the reader stops; four marks do not: all is cut elsewhere",
        noticed="draw an arrow on the carrier, and load the edge first that the ticket shows",
    ),
)


def fault(key: str) -> Fault:
    """Return a fault by its key.

    Raises:
        KeyError: there is none.
    """
    return {one.key: one for one in FAULTS}[key]  # type: ignore[index]
