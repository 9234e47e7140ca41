"""A ledger: rows of a table that can be sorted by any column."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Generic, TypeVar, cast

from PyQt6.QtCore import (
    QAbstractTableModel,
    QDateTime,
    QItemSelectionModel,
    QLocale,
    QModelIndex,
    QSize,
    QSortFilterProxyModel,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QColor, QFont, QPixmap
from PyQt6.QtWidgets import QHeaderView, QTableView

from honest_edge.ui.widgets.local import from_the_left, local
from honest_edge.ui.widgets.theme import px, tabular
from honest_edge.ui.widgets.tokens import Tokens

Row = TypeVar("Row")
Cell = tuple[str, Any]
"""What stands there, and what it is sorted by."""

SORTED_BY = Qt.ItemDataRole.UserRole
_ICON_PX = 46
_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter


@dataclass(frozen=True, slots=True)
class Column(Generic[Row]):
    """One column.

    Attributes:
        heading: above it.
        cell: how a row fills it.
        is_figure: whether it holds figures, which stand at the right.
        needs_a_look: whether a row's cell is to be noticed.
        picture: a picture file's bytes that stand before it.
    """

    heading: str
    cell: Callable[[Row], Cell]
    is_figure: bool = False
    needs_a_look: Callable[[Row], bool] | None = None
    picture: Callable[[Row], bytes] | None = None


def text_cell(text: str) -> Cell:
    """Return a cell of words, sorted without regard to capitals."""
    return local(text), text.casefold()


def day_cell(at_ms: int) -> Cell:
    """Return a cell of a day, sorted by the time in UTC milliseconds."""
    return QLocale().toString(QDateTime.fromMSecsSinceEpoch(at_ms), "d MMM yyyy"), at_ms


def when_cell(at_ms: int) -> Cell:
    """Return a cell of a time in UTC milliseconds."""
    return QLocale().toString(QDateTime.fromMSecsSinceEpoch(at_ms), "d MMM yyyy  HH:mm"), at_ms


def number_cell(number: float | None, form: str = "g", unit: str = "") -> Cell:
    """Return a cell of a number; what is not known is a dash and sorted before all."""
    return ("–", float("-inf")) if number is None else (local(f"{number:{form}}{unit}"), number)


def share_cell(share: float | None) -> Cell:
    """Return a cell of a share."""
    return number_cell(None if share is None else 100 * share, ".0f", " %")


class LedgerModel(QAbstractTableModel, Generic[Row]):
    """Shows rows as they are told."""

    def __init__(self, columns: Sequence[Column[Row]], tip: Callable[[Row], str], tokens: Callable[[], Tokens]) -> None:
        """Take the columns, what a row says under the pointer, and what gives the theme's colours."""
        super().__init__()
        self.columns, self._tip, self._tokens = tuple(columns), tip, tokens
        self._rows: tuple[Row, ...] = ()
        self._icons: dict[int, QPixmap] = {}

    def show_rows(self, rows: Sequence[Row]) -> None:
        """Show other rows."""
        self.beginResetModel()
        self._rows, self._icons = tuple(rows), {}
        self.endResetModel()

    def row_at(self, number: int) -> Row:
        """Return a row."""
        return self._rows[number]

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self._rows)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.columns)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return what a cell shows."""
        column, row = self.columns[index.column()], self._rows[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return from_the_left(column.cell(row)[0])
        if role == Qt.ItemDataRole.ToolTipRole:
            return self._tip(row)
        if role == Qt.ItemDataRole.DecorationRole and column.picture is not None:
            return self._icon(index.row(), column.picture(row))
        if role == SORTED_BY:
            return column.cell(row)[1]
        if role == Qt.ItemDataRole.TextAlignmentRole and column.is_figure:
            return _RIGHT
        if role == Qt.ItemDataRole.FontRole and column.is_figure:
            return tabular(13, QFont.Weight.Normal)
        if role == Qt.ItemDataRole.ForegroundRole and column.needs_a_look is not None and column.needs_a_look(row):
            return QColor(self._tokens().look)
        return None

    def _icon(self, row: int, picture: bytes) -> QPixmap:
        """Return a row's picture, read once."""
        if row not in self._icons:
            pixmap = QPixmap()
            pixmap.loadFromData(picture)
            side, mode = px(_ICON_PX), Qt.TransformationMode.SmoothTransformation
            small = pixmap.scaled(side, side, Qt.AspectRatioMode.KeepAspectRatio, mode)
            self._icons[row] = small
        return self._icons[row]

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation != Qt.Orientation.Horizontal:
            return None
        if role == Qt.ItemDataRole.DisplayRole:
            return self.columns[section].heading
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _RIGHT if self.columns[section].is_figure else _LEFT
        return None


class Ledger(QTableView, Generic[Row]):
    """A table of rows, one of which can be picked; sorted by the first column until another is clicked."""

    picked_changed = pyqtSignal()

    def __init__(self, name: str, model: LedgerModel[Row], *, newest_first: bool = True, row_px: int = 30) -> None:
        super().__init__()
        self.rows = model
        self._sorted = QSortFilterProxyModel()
        self._sorted.setSourceModel(model)
        self._sorted.setSortRole(SORTED_BY)
        self.setAccessibleName(name)
        self.setModel(self._sorted)
        self.setSortingEnabled(True)
        self.sortByColumn(0, Qt.SortOrder.DescendingOrder if newest_first else Qt.SortOrder.AscendingOrder)
        self.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QTableView.SelectionMode.SingleSelection)
        self.setShowGrid(False)
        self.setWordWrap(False)
        self.setTabKeyNavigation(False)
        cast(QItemSelectionModel, self.selectionModel()).selectionChanged.connect(lambda *_: self.picked_changed.emit())
        down = cast(QHeaderView, self.verticalHeader())
        down.hide()
        down.setDefaultSectionSize(px(row_px))
        self.setIconSize(QSize(px(_ICON_PX), px(_ICON_PX)))
        across = cast(QHeaderView, self.horizontalHeader())
        across.setHighlightSections(False)
        across.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        across.setSectionResizeMode(len(model.columns) - 1, QHeaderView.ResizeMode.Stretch)

    @property
    def picked(self) -> Row | None:
        """The row that is picked."""
        rows = cast(QItemSelectionModel, self.selectionModel()).selectedRows()
        return self.rows.row_at(self._sorted.mapToSource(rows[0]).row()) if rows else None

    def pick(self, row: int) -> None:
        """Pick a row of those that are shown.

        Qt's ``selectRow`` finds none where columns run from right to left and are not laid out yet.
        """
        self.setCurrentIndex(self._sorted.index(row, 0))

    def shown(self, heading: str) -> list[str]:
        """Return a column's cells as they stand there."""
        number = [column.heading for column in self.rows.columns].index(heading)
        return [str(self._sorted.index(row, number).data()) for row in range(self._sorted.rowCount())]
