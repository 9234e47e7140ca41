"""The rooms of the workshop. One line makes a room: the entry in its folder."""

from __future__ import annotations

from honest_edge.ui.rooms import bench, book
from honest_edge.ui.station.room import RoomEntry

ROOMS: tuple[RoomEntry, ...] = (bench.ENTRY, book.ENTRY)
