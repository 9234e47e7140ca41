"""What to do about each cause, in the order of what costs least, and what would tell two of them apart."""

from __future__ import annotations

from collections.abc import Sequence

from honest_edge.core.measure.diagnosis import SURE, Cause, Likely

TITLES: dict[Cause, str] = {
    "fine": "Nothing steady is wrong",
    "shift": "All of it is shifted",
    "rotation": "The sheet lies turned",
    "scale": "Print and cut have different sizes",
    "slip": "The sheet slips along the feed",
    "misread": "One mark was read wrong",
    "random": "It differs from sticker to sticker",
}
"""The causes in words."""

_REMEDIES: dict[Cause, tuple[str, ...]] = {
    "fine": ("Let bleed and border cover what is left: they can be set for the measured error",),
    "shift": (
        "Reset the carriage: switch the cutter off, move nothing by hand, switch it on, read the marks again",
        "If a second sheet shows the same, take the steady part out: here, or in the machine’s own correction",
    ),
    "rotation": (
        "Square the loading: lay the sheet along the carrier’s line, press it on, check that the carrier runs straight",
        "If it stays the same on a second sheet, take the steady part out",
    ),
    "scale": (
        "Print at 100 %, with no fitting to the page; set the same paper size in the printer’s dialog as here",
        "Lay a ruler against the printed one: if that is long or short, put it into the printer’s profile",
    ),
    "slip": (
        "Press the sheet onto the carrier all over; clean rollers and carrier, or take one that holds better",
        "Cut slower, and support a long sheet so that its weight does not pull",
    ),
    "misread": (
        "Read the marks again and watch the reader find every one; stop at once if one is missed",
        "Put matt tape over shiny marks, shade the reader from bright light, print marks darker",
        "Keep everything else out of the marks’ clear space",
    ),
    "random": (
        "Fit a new blade, and brush paper dust out of its holder",
        "Cut slower, and press the sheet onto the carrier all over",
    ),
}  # fmt: skip

_AGAIN = "load the same sheet again and read the marks anew: a misread mark will not repeat"
_APART: dict[frozenset[Cause], str] = {
    frozenset(("shift", "slip")): "cut a sticker at each end of the sheet: a slip shows only where it goes in last",
    frozenset(("shift", "misread")): _AGAIN,
    frozenset(("rotation", "misread")): _AGAIN,
    frozenset(("scale", "slip")): "lay a ruler against the printed one: a scaled print is off there, a slip is not",
    frozenset(("rotation", "scale")): "look at a corner: a turn moves it sideways, a scale straight out or in",
    frozenset(("fine", "random")): "cut ten stickers slowly with a new blade: what stays is not the blade",
    frozenset(("misread", "random")): "cut a second sheet: a misread mark spoils one, chance some of both",
}  # fmt: skip
_ANOTHER = "measure one more target: what is the same on both sheets is steady, the rest is not"


def remedies_of(causes: Sequence[Likely]) -> list[str]:
    """Return what to do, for the likeliest cause; where that is not sure, for the two likeliest."""
    named = causes[:1] if causes[0].probability >= SURE else causes[:2]
    return list(dict.fromkeys(words for likely in named for words in _REMEDIES[likely.cause]))


def telling_apart(causes: Sequence[Likely]) -> str:
    """Return the single test that would tell the two likeliest causes apart; empty where the first is sure."""
    if causes[0].probability >= SURE or len(causes) < 2:
        return ""
    return _APART.get(frozenset((causes[0].cause, causes[1].cause)), _ANOTHER)
