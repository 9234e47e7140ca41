"""Edge: How should the edge come out?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from honest_edge.ui.shared.contract import StationEntry

if TYPE_CHECKING:
    from honest_edge.ui.shared.host import Host
    from honest_edge.ui.stations.edge.station import EdgeStation


def _create(host: Host) -> EdgeStation:
    from honest_edge.ui.stations.edge.station import EdgeStation

    return EdgeStation(host, ENTRY.question)


ENTRY = StationEntry(
    key="edge",
    title="Edge",
    question="How should the edge come out?",
    brief="border, bleed, inside?",
    create=_create,
    guide="Here you choose what the cut leaves: paper round the art, or colour to the very edge; most "
    "people take the school that is advised.",
)
