"""The stations of the path, in the order of work. One line makes a station: the entry in its folder."""

from __future__ import annotations

from honest_edge.ui.shared.contract import StationEntry
from honest_edge.ui.stations import art, edge, files, outline, proof, sheet

STATIONS: tuple[StationEntry, ...] = (
    art.ENTRY,
    outline.ENTRY,
    edge.ENTRY,
    sheet.ENTRY,
    proof.ENTRY,
    files.ENTRY,
)
