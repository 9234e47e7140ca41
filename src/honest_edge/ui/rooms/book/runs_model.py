"""Runs as rows of a table that can be sorted by any column."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QAbstractTableModel, QDateTime, QLocale, QModelIndex, Qt
from PyQt6.QtGui import QColor, QFont

from honest_edge.ui.widgets.theme import Tokens, tabular

if TYPE_CHECKING:
    from honest_edge.files.book.store import KeptRun

_CLEARLY = 0.05
"""By less, a run of a few dozen pieces falls short by chance."""

Cell = tuple[str, Any]
"""What stands there, and what it is sorted by."""

_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter


def _when(kept: KeptRun) -> Cell:
    moment = QDateTime.fromMSecsSinceEpoch(kept.at_ms)
    return QLocale().toString(moment, "d MMM yyyy  HH:mm"), kept.at_ms


def _came_out(kept: KeptRun) -> Cell:
    words, share = _share(kept.run.share_good)
    return (f"▼ {words}" if fell_short(kept) else words), share


def fell_short(kept: KeptRun) -> bool:
    """Whether clearly fewer pieces came out good than were expected clean."""
    return kept.run.forecast is not None and kept.run.share_good < kept.run.forecast - _CLEARLY


def _share(share: float | None) -> Cell:
    return ("–", -1.0) if share is None else (f"{100 * share:.0f} %", share)


def _money(amount: float | None) -> Cell:
    return ("–", -1.0) if amount is None else (f"{amount:.2f}", amount)


COLUMNS: tuple[tuple[str, bool, Callable[[KeptRun], Cell]], ...] = (
    ("When", False, _when),
    ("Job", False, lambda kept: (kept.run.title, kept.run.title.casefold())),
    ("Stock", False, lambda kept: (kept.run.stock, kept.run.stock.casefold())),
    ("Sheets", True, lambda kept: (str(kept.run.sheets), kept.run.sheets)),
    ("Good", True, lambda kept: (str(kept.run.good), kept.run.good)),
    ("Bad", True, lambda kept: (str(kept.run.bad), kept.run.bad)),
    ("Came out", True, _came_out),
    ("Expected", True, lambda kept: _share(kept.run.forecast)),
    ("Stock each", True, lambda kept: _money(kept.run.stock_cost_each)),
    ("Why", False, lambda kept: (kept.run.reason, kept.run.reason.casefold())),
)
"""Heading, whether it holds figures, and how a run fills it."""


def _all_of(kept: KeptRun) -> str:
    """Return what of a run a narrow row has no room for."""
    run = kept.run
    lines = (run.title, f"{run.stock}, on {run.machine}, printed by {run.printer}", run.reason)
    return "\n".join(line for line in lines if line)


SORTED_BY = Qt.ItemDataRole.UserRole


class RunsModel(QAbstractTableModel):
    """Shows runs as they are told."""

    def __init__(self, tokens: Callable[[], Tokens]) -> None:
        """Take what gives the theme's colours."""
        super().__init__()
        self._tokens = tokens
        self._runs: tuple[KeptRun, ...] = ()

    def show_runs(self, runs: Sequence[KeptRun]) -> None:
        """Show other runs."""
        self.beginResetModel()
        self._runs = tuple(runs)
        self.endResetModel()

    def run_at(self, row: int) -> KeptRun:
        """Return the run of a row."""
        return self._runs[row]

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self._runs)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(COLUMNS)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return what a cell shows."""
        _, is_figure, cell = COLUMNS[index.column()]
        if role == Qt.ItemDataRole.DisplayRole:
            return cell(self._runs[index.row()])[0]
        if role == Qt.ItemDataRole.ToolTipRole:
            return _all_of(self._runs[index.row()])
        if role == SORTED_BY:
            return cell(self._runs[index.row()])[1]
        if role == Qt.ItemDataRole.TextAlignmentRole and is_figure:
            return _RIGHT
        if role == Qt.ItemDataRole.FontRole and is_figure:
            return tabular(13, QFont.Weight.Normal)
        if role == Qt.ItemDataRole.ForegroundRole and cell is _came_out and fell_short(self._runs[index.row()]):
            return QColor(self._tokens().look)
        return None

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation != Qt.Orientation.Horizontal:
            return None
        if role == Qt.ItemDataRole.DisplayRole:
            return COLUMNS[section][0]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _RIGHT if COLUMNS[section][1] else Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        return None
