"""Outline: Where does the sticker end?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from honest_edge.ui.shared.contract import StationEntry

if TYPE_CHECKING:
    from honest_edge.ui.shared.host import Host
    from honest_edge.ui.stations.outline.station import OutlineStation


def _create(host: Host) -> OutlineStation:
    from honest_edge.ui.stations.outline.station import OutlineStation

    return OutlineStation(host, ENTRY.question)


ENTRY = StationEntry(
    key="outline",
    title="Outline",
    question="Where does the sticker end?",
    brief="where does it end?",
    create=_create,
    guide="Here you say where the sticker ends; most people keep the line that was found, and look round it once.",
)
