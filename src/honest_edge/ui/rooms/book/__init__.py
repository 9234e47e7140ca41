"""Book: What worked before?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from honest_edge.ui.shared.room import RoomEntry

if TYPE_CHECKING:
    from honest_edge.ui.rooms.book.room import BookRoom
    from honest_edge.ui.shared.host import Host


def _create(host: Host) -> BookRoom:
    from honest_edge.ui.rooms.book.room import BookRoom

    return BookRoom(host, ENTRY.question)


def _load() -> None:
    from honest_edge.ui.rooms.book import room  # noqa: F401
    from honest_edge.ui.rooms.book.sections import load_all

    load_all()


ENTRY = RoomEntry(
    key="book",
    title="Book",
    question="What worked before?",
    brief="what worked?",
    sign=tuple(((0.0, -4.0), (side * 7.0, -6.0), (side * 7.0, 4.5), (0.0, 6.5)) for side in (-1, 1)),
    create=_create,
    load=_load,
    parts=("test cuts", "blades", "stock", "library", "shelf"),
)
