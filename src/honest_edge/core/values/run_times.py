"""How long the acts of a run take, until the user's own times are known."""

from __future__ import annotations

from dataclasses import dataclass, fields

from honest_edge.core.values.units import check_range

LONGEST_DRYING_S = 7 * 86_400.0
"""As long as can be typed before a run."""

PACES = (0.2, 20.0)
"""Slower or quicker than that against what was reckoned is no pace, but another machine, or nobody there to say so."""

_LONGEST_ACT_S = 86_400.0


@dataclass(frozen=True, slots=True, kw_only=True)
class RunTimes:
    """Seconds that each act takes; every one is an assumption until it was measured.

    Attributes:
        print_s: a sheet comes out of the printer.
        dry_s: ink dries; common practice, no published source.
        lay_s: a sheet is laid on a carrier and pressed down.
        put_in_s: the carrier goes in and the marks are read.
        change_s: force, depth or blade is changed for another kind of cut.
        take_out_s: the carrier comes out.
        peel_s: stickers are looked at and taken off.
        cut_pace: how many times as long as it is reckoned a pass takes; no time, but known in the same way.
    """

    print_s: float = 60.0
    dry_s: float = 1200.0
    lay_s: float = 40.0
    put_in_s: float = 45.0
    change_s: float = 20.0
    take_out_s: float = 10.0
    peel_s: float = 60.0
    cut_pace: float = 1.0

    def __post_init__(self) -> None:
        check_range("pace of passes", self.cut_pace, *PACES, "")
        for field in fields(self):
            if field.name == "cut_pace":
                continue
            most_s = LONGEST_DRYING_S if field.name == "dry_s" else _LONGEST_ACT_S
            check_range(field.name.removesuffix("_s").replace("_", " "), getattr(self, field.name), 0, most_s, "s")
