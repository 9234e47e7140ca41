"""The stations' columns of cards, each made when it is first visited."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from functools import cached_property
from typing import TYPE_CHECKING, TypeVar, cast

from honest_edge.app.overview import STATIONS, Station

if TYPE_CHECKING:
    from honest_edge.ui.desk import Desk
    from honest_edge.ui.stations.art import ArtPanel
    from honest_edge.ui.stations.edge import EdgePanel
    from honest_edge.ui.stations.files import FilesPanel
    from honest_edge.ui.stations.layers import LayersPanel
    from honest_edge.ui.stations.outline import OutlinePanel
    from honest_edge.ui.stations.panel import Panel
    from honest_edge.ui.stations.sheet import SheetPanel

P = TypeVar("P", bound="Panel")


class Panels(Mapping[Station, "Panel"]):
    """All columns by station."""

    def __init__(self, desk: Desk, place: Callable[[Panel], object]) -> None:
        self._desk, self._place = desk, place

    def __getitem__(self, station: Station) -> Panel:
        design = self._desk.design
        is_layered = station == "art" and design is not None and design.is_layered
        return self.layers if is_layered else cast("Panel", getattr(self, station))

    def __iter__(self) -> Iterator[Station]:
        return iter(STATIONS)

    def __len__(self) -> int:
        return len(STATIONS)

    def _made(self, panel: P) -> P:
        self._place(panel)
        return panel

    @cached_property
    def art(self) -> ArtPanel:
        """Size and sharpness."""
        from honest_edge.ui.stations.art import ArtPanel

        return self._made(ArtPanel(self._desk))

    @cached_property
    def layers(self) -> LayersPanel:
        """The stack of a layered design, in place of Art."""
        from honest_edge.ui.stations.layers import LayersPanel

        return self._made(LayersPanel(self._desk))

    @cached_property
    def outline(self) -> OutlinePanel:
        """Background, parts and holes."""
        from honest_edge.ui.stations.outline import OutlinePanel

        return self._made(OutlinePanel(self._desk))

    @cached_property
    def edge(self) -> EdgePanel:
        """School, offset and bleed."""
        from honest_edge.ui.stations.edge import EdgePanel

        return self._made(EdgePanel(self._desk))

    @cached_property
    def sheet(self) -> SheetPanel:
        """Paper, marks and layout."""
        from honest_edge.ui.stations.sheet import SheetPanel

        return self._made(SheetPanel(self._desk))

    @cached_property
    def files(self) -> FilesPanel:
        """What is written."""
        from honest_edge.ui.stations.files import FilesPanel

        return self._made(FilesPanel(self._desk))
