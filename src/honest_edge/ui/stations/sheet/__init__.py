"""Sheet: How do they fit?"""

from __future__ import annotations

from operator import methodcaller
from typing import TYPE_CHECKING

from honest_edge.ui.shared.contract import Command, StationEntry

if TYPE_CHECKING:
    from honest_edge.ui.shared.host import Host
    from honest_edge.ui.stations.sheet.station import SheetStation


def _create(host: Host) -> SheetStation:
    from honest_edge.ui.stations.sheet.station import SheetStation

    return SheetStation(host, ENTRY.question)


ENTRY = StationEntry(
    key="sheet",
    title="Sheet",
    question="How do they fit?",
    brief="how do they fit?",
    create=_create,
    commands=(Command(name="Hold a cut file against the sheet…", act=methodcaller("choose_cut_file")),),
    takes=(".dxf", ".plt", ".gcode"),  # what holds cuts and never art; an SVG or a PDF may be either
    guide="Here the copies are laid on paper; most people fill one sheet.",
)
