"""Art: Is it the right size, and sharp?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from honest_edge.ui.shared.contract import StationEntry

if TYPE_CHECKING:
    from honest_edge.ui.shared.host import Host
    from honest_edge.ui.stations.art.station import ArtStation


def _create(host: Host) -> ArtStation:
    from honest_edge.ui.stations.art.station import ArtStation

    return ArtStation(host, ENTRY.question)


ENTRY = StationEntry(
    key="art",
    title="Art",
    question="Is it the right size, and sharp?",
    brief="right size, sharp?",
    create=_create,
    guide="Here you decide how large it is; most people keep the size that the file states, as long as it "
    "prints sharp.",
)
