"""The rooms: the last station of the path, and the workshop. One line makes a room: the entry in its folder."""

from __future__ import annotations

from honest_edge.ui.rooms import bench, book, practice, run
from honest_edge.ui.shared.room import RoomEntry

ROOMS: tuple[RoomEntry, ...] = (run.ENTRY, bench.ENTRY, book.ENTRY, practice.ENTRY)
