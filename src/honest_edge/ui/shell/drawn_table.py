"""Draws the station in hand on the table: only where what it draws from changed."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from honest_edge.ui.shared.contract import Station
    from honest_edge.ui.shared.workspace import Workspace
    from honest_edge.ui.table.light_table import LightTable
    from honest_edge.ui.widgets.tokens import Tokens

_NO_ART = "Drop a picture here, or press Ctrl+I. Menu → Open the demo job shows a finished one."


class DrawnTable:
    """Remembers what the drawing on the table was made from."""

    def __init__(self, table: LightTable, workspace: Workspace) -> None:
        self._table, self._workspace = table, workspace
        self._from: tuple[object, ...] = ()

    def forget(self) -> None:
        """Draw anew the next time, though nothing that the station named changed."""
        self._from = self._from[:1]

    def show(self, key: str, station: Station, tokens: Tokens, *, refit: bool) -> None:
        """Draw where anything changed; what is shown for the first time is shown whole."""
        drawn, now = self._from, (key, tokens, self._workspace.unit, *station.drawn_from())
        if now == drawn and not refit:
            return
        self._from = now
        shown = station.draw(self._table.drawing())
        if shown is None:
            self._table.show_caption(station.why_empty() if self._workspace.job.designs else _NO_ART)
            self._from = ()
            return
        self._table.set_content(shown.content, shown.caption, refit=refit or drawn[:1] != (key,), air=shown.air)
