"""Practice: What would you have done?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from honest_edge.ui.shared.room import RoomEntry

if TYPE_CHECKING:
    from honest_edge.ui.rooms.practice.room import PracticeRoom
    from honest_edge.ui.shared.host import Host


def _create(host: Host) -> PracticeRoom:
    from honest_edge.ui.rooms.practice.room import PracticeRoom

    return PracticeRoom(host, ENTRY.question)


def _load() -> None:
    from honest_edge.app.practice import day, stories  # noqa: F401
    from honest_edge.ui.rooms.practice import room  # noqa: F401


ENTRY = RoomEntry(
    key="practice",
    title="Practice",
    question="What would you have done?",
    brief="without paper",
    sign=(),
    create=_create,
    load=_load,
    has_button=False,
)
