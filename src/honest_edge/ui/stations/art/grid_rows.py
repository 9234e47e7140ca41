"""How many stickers lie on a sheet, how large, and in how many columns: three fields in one line."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from honest_edge.ui.shared.host import Host
from honest_edge.ui.stations.art.state import LayersState
from honest_edge.ui.widgets.fields import label, row
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import Count, LengthField

if TYPE_CHECKING:
    from honest_edge.core.values.job import Design

_MOST_STICKERS, _MOST_COLUMNS = 400, 60
_SAME_MM = 0.6


class GridRows(QWidget):
    """Lays the stickers of the sheet in hand anew when one of the numbers is typed."""

    def __init__(self, host: Host, state: LayersState) -> None:
        super().__init__()
        self._host, self._state = host, state
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.hint = label("Drop pictures here: they are scaled to fit, with their rings, and spread evenly.", "soft")
        column.addWidget(self.hint)
        self.count, self.columns = Count("Stickers", 1, _MOST_STICKERS), Count("Columns", 1, _MOST_COLUMNS)
        self.side = LengthField("Each at most")
        for field in (self.count, self.columns):
            field.setFixedWidth(px(50))
        self.side.setFixedWidth(px(84))
        self.rows = label("")
        self.rows.setWordWrap(False)
        self.count.committed.connect(lambda count: self._lay(count=count))
        self.columns.committed.connect(lambda columns: self._lay(columns=columns))
        self.side.committed.connect(self._lay_of_size)
        self.side.refused.connect(lambda words: host.say(words, tone="danger"))
        self._line = QWidget()
        line = row(self.count, label("in"), self.columns, self.rows, self.side)
        line.setSpacing(5)
        line.setContentsMargins(0, 0, 0, 0)
        self._line.setLayout(line)
        self.side.setToolTip("How large each may be: type it, and as many are laid as have room")
        column.addWidget(self._line)

    def show_design(self, design: Design) -> None:
        """Show what lies on a sheet."""
        is_sheet = design.form is not None and design.form.kind == "sticker sheet"
        self.setVisible(is_sheet)
        if not is_sheet:
            return
        stickers = [one for one in design.layers if one.sticker is not None and not one.is_hidden]
        self._line.setVisible(bool(stickers))
        if not stickers:
            return
        self.count.show_value(len(stickers))
        first = min(one.y_mm for one in stickers)
        columns = sum(abs(one.y_mm - first) < _SAME_MM for one in stickers)
        self.columns.show_value(columns)
        self.rows.setText(f"× {-(-len(stickers) // columns)}")
        fresh = self._host.workspace.fresh
        sizes = [max(fresh[key].cut_size_mm) for key in design.stickers if key in fresh]
        if sizes:
            self.side.show_length(max(sizes), self._host.workspace.unit)

    def _lay(self, *, count: int = 0, columns: int = 0) -> None:
        from honest_edge.app.edits.sheet_of_stickers import laid_in_grid

        workspace, view = self._host.workspace, self._state.layer_view
        design = workspace.design
        if design is None or view is None:
            return
        results = {key: workspace.fresh[key] for key in design.stickers if key in workspace.fresh}
        laid = workspace.build(
            lambda: laid_in_grid(
                workspace.job,
                design.key,
                results,
                view.boxes,
                count=count or self.count.value(),
                columns=columns,
            )
        )
        if laid is not None:
            workspace.document.edit(laid.job, "lay the stickers in a grid")
        else:
            self.show_design(design)

    def _lay_of_size(self, side_mm: float) -> None:
        from honest_edge.app.edits.sheet_of_stickers import count_of_size

        workspace, view = self._host.workspace, self._state.layer_view
        design = workspace.design
        if design is None or view is None:
            return
        counted = workspace.build(lambda: count_of_size(workspace.job, design.key, view.boxes, side_mm))
        if counted is None:
            self.side.mark_wrong()
            return
        self._lay(count=counted[0], columns=counted[1])
