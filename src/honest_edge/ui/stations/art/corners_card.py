"""A page that was photographed aslant is set upright: by the corners that were found, or by hand."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFrame, QVBoxLayout

from honest_edge.core.values.job import Design
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import button, label, restyle

if TYPE_CHECKING:
    from honest_edge.core.imaging.upright import Corners

_FOUND = "A page lies aslant in this photograph."
_BY_HAND = "Drag the four rings on the table to the corners of the page."


class CornersCard(QFrame):
    """Shows what can be done about a page aslant; hidden where there is no photograph of one."""

    def __init__(self, host: Host, take: Callable[[Corners | None], object]) -> None:
        """Take the window, and what takes corners, or None for the picture as it was photographed."""
        super().__init__()
        self._host, self._take = host, take
        self.at_hand: Corners | None = None
        """The corners while they are dragged; None while they are not."""
        self.widths_mm: dict[str, float] = {}
        """How wide photographs were before their pages were set upright, by the keys of their designs."""
        self._found: Corners | None = None
        self._drawn: Corners | None = None
        self._of = ""
        restyle(self, "card", "plain")
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 10, 12, 10)
        self.words = label()
        self.upright = button("Set the page upright", self._set, filled=True)
        self.by_hand = button("Corners by hand…", self._begin)
        self.leave = button("As it was photographed", self._leave)
        for widget in (self.words, self.upright, self.by_hand, self.leave):
            column.addWidget(widget)
        self.setVisible(False)

    def show_page(self, design: Design | None, found: Corners | None, *, may_be: bool, is_known: bool) -> None:
        """Show it for a design.

        Args:
            design: in hand.
            found: the corners that were found.
            may_be: whether it may be a photograph of a page.
            is_known: whether what the table shows is of this design as it is now.
        """
        key = "" if design is None else f"{design.key} {design.asset}"
        corners = None if design is None else design.source.corners
        if key != self._of:
            self._of, self.at_hand, self._drawn = key, None, corners
        if is_known and corners != self._drawn:  # what is shown is another size now: all of it is
            self._drawn = corners
            self._host.redraw(refit=True)
        self._found = found
        is_set = design is not None and design.source.corners is not None
        is_open = self.at_hand is not None
        self.setVisible(design is not None and (found is not None or may_be or is_set or is_open))
        self.words.setText(_BY_HAND if is_open else _FOUND if found is not None else "")
        self.words.setVisible(bool(self.words.text()))
        self.upright.setVisible(is_open or found is not None)
        self.by_hand.setVisible(not is_open)
        self.by_hand.setText("Change its corners…" if is_set else "Corners by hand…")
        self.leave.setVisible(is_open or is_set)
        self.leave.setText("Leave it" if is_open else "As it was photographed")

    def _set(self) -> None:
        corners, self.at_hand = self.at_hand or self._found, None
        self._take(corners)

    def _begin(self) -> None:
        from honest_edge.ui.stations.art.corners_on_table import INSET  # with the first page: it loads drawing

        design = self._host.workspace.design
        before = None if design is None else design.source.corners
        self.at_hand = before or self._found or INSET
        if before is not None:
            self._take(None)  # they are dragged on the photograph itself
        self._host.refresh()
        self._host.redraw(refit=True)

    def _leave(self) -> None:
        if self.at_hand is None:
            self._take(None)
            return
        self.at_hand = None
        self._host.refresh()
        self._host.redraw(refit=True)
