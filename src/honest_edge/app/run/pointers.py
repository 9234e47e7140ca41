"""What bad stickers point to: their sides and places answer the questions that the Bench asks by eye."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable

import numpy as np

from honest_edge.core.measure.diagnosis import Likely, causes_by_answers
from honest_edge.core.run.state import RunState, page_of
from honest_edge.core.values.run_events import BadSticker, WayOff
from honest_edge.core.values.run_seal import SealedCopy, SealedRun

LEAST_BAD = 3
_MOST = 0.75  # of them, for a pattern
_WIDE_MM = 0.3
_OF_SIDE: dict[WayOff, tuple[float, float]] = {
    "left": (-1.0, 0.0),
    "right": (1.0, 0.0),
    "top": (0.0, -1.0),
    "bottom": (0.0, 1.0),
}


def pointed_to(seal: SealedRun, state: RunState) -> tuple[Likely, ...]:
    """Return the causes that bad stickers with a side point to, the likeliest first; nothing where they are few."""
    pointed = [
        (one, page_of(seal, sheet).copies[one.copy], sheet.number)
        for sheet in state.sheets
        for one in sheet.bad or ()
        if one.side in _OF_SIDE and one.reason in ("white rim", "art cut")
    ]
    if len(pointed) < LEAST_BAD:
        return ()
    width, height = seal.sheet.size_mm
    ways = np.array([_way(one) for one, _, _ in pointed])
    places = np.array([_middle(copy) for _, copy, _ in pointed]) - (width / 2, height / 2)
    away = places / np.maximum(np.hypot(*places.T), 1.0)[:, None]
    outward = (ways * away).sum(1)
    turning = ways[:, 1] * away[:, 0] - ways[:, 0] * away[:, 1]
    common = Counter(tuple(way) for way in ways.tolist()).most_common(1)[0][1] / len(pointed)
    looked = [sheet for sheet in state.sheets if sheet.bad is not None]
    is_same = common >= _MOST  # where all stray one way, their places tell of no turn and no growth
    answers = {
        "same": is_same,
        "outward": not is_same and bool(abs(np.mean(outward)) >= _MOST),
        "turning": not is_same and bool(abs(np.mean(turning)) >= _MOST),
        "down": is_same and bool(np.mean(places[:, 1] > 0) >= _MOST),
        "wide": any((one.wide_mm or 0.0) > _WIDE_MM for one, _, _ in pointed),
    }
    answers["none"] = not any(answers[key] for key in ("same", "outward", "turning", "down"))
    if len(looked) > 1:
        answers["one"] = len({number for _, _, number in pointed}) == 1
    return causes_by_answers(answers)


def _way(one: BadSticker) -> tuple[float, float]:
    """Return which way the cut strayed: to where white shows, away from where art is lost."""
    x, y = _OF_SIDE[one.side]
    return (x, y) if one.reason == "white rim" else (-x, -y)


def _middle(copy: SealedCopy) -> tuple[float, float]:
    xs, ys = _all(line.cubics[::2] for line in copy.lines), _all(line.cubics[1::2] for line in copy.lines)
    return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2


def _all(parts: Iterable[tuple[float, ...]]) -> list[float]:
    return [value for part in parts for value in part]
