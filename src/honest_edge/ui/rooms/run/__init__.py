"""Run: What do I do now?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from honest_edge.ui.shared.room import RoomEntry

if TYPE_CHECKING:
    from honest_edge.ui.rooms.run.room import RunRoom
    from honest_edge.ui.shared.host import Host


def _create(host: Host) -> RunRoom:
    from honest_edge.ui.rooms.run.room import RunRoom

    return RunRoom(host, ENTRY.question)


def _load() -> None:
    from honest_edge.app.run import conductor, practice, run_facts, sealing, telling  # noqa: F401
    from honest_edge.ui.rooms.run import room  # noqa: F401


ENTRY = RoomEntry(
    key="run",
    title="Run",
    question="What do I do now?",
    brief="what now?",
    sign=(),
    create=_create,
    load=_load,
    is_on_path=True,
)
