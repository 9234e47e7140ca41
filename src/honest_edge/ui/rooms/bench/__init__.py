"""Bench: How true is my bench?"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from honest_edge.ui.shared.room import RoomEntry

if TYPE_CHECKING:
    from honest_edge.ui.rooms.bench.room import BenchRoom
    from honest_edge.ui.shared.host import Host


def _create(host: Host) -> BenchRoom:
    from honest_edge.ui.rooms.bench.room import BenchRoom

    return BenchRoom(host, ENTRY.question)


def _load() -> None:
    from honest_edge.app.bench import measuring, practice, targets, view  # noqa: F401
    from honest_edge.ui.rooms.bench import room  # noqa: F401


def _ring(radius: float, off: float) -> tuple[tuple[float, float], ...]:
    turns = (2 * math.pi * n / 20 for n in range(20))
    return tuple((off + radius * math.cos(turn), -off + radius * math.sin(turn)) for turn in turns)


ENTRY = RoomEntry(
    key="bench",
    title="Bench",
    question="How true is my bench?",
    brief="how true?",
    sign=(_ring(6.5, 0.0), _ring(3.0, 1.2)),
    create=_create,
    load=_load,
)
