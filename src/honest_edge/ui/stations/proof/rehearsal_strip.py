"""The rehearsal below the table: the share beside the forecast, sheets to run through, and what may go wrong."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QScrollArea, QVBoxLayout, QWidget

from honest_edge.simulator.faults import FAULTS, FaultKey, fault
from honest_edge.ui.stations.proof.mini_sheets import MiniSheets
from honest_edge.ui.stations.proof.state import Rehearsed
from honest_edge.ui.widgets.fields import button, counted, label, row
from honest_edge.ui.widgets.local import Label
from honest_edge.ui.widgets.theme import eased_px, px, tabular
from honest_edge.ui.widgets.tokens import Tokens
from honest_edge.ui.widgets.unwheeled import Slider

if TYPE_CHECKING:
    from collections.abc import Callable

    from honest_edge.core.values.job import Job

_HEIGHT_PX = 200
_TOLD_PX = 42  # two lines
_LEFT_PX = 232


class RehearsalStrip(QScrollArea):
    """Shows a rehearsal as far as it has come."""

    sheet_chosen = pyqtSignal(int)
    faults_chosen = pyqtSignal(object)

    def __init__(
        self, tokens: Tokens, *, typical: Callable[[], object], worst: Callable[[], object], end: Callable[[], object]
    ) -> None:
        """Take the colours, and what the buttons do."""
        super().__init__()
        self.setMinimumHeight(eased_px(_HEIGHT_PX))
        self.setObjectName("strip")
        self.setWidgetResizable(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        body = QWidget()
        body.setObjectName("stripBody")
        self.setWidget(body)
        across = QHBoxLayout(body)
        across.setContentsMargins(14, 8, 14, 8)
        across.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(2)
        self.share = Label("–")
        self.share.setObjectName("answer")
        self.share.setFont(tabular(28))
        left.addWidget(self.share)
        self.came_out = label("", "soft")
        self.forecast = label("", "soft")
        self.rests = label("", "look")
        for words in (self.came_out, self.forecast, self.rests):
            words.setFixedWidth(eased_px(_LEFT_PX))
            left.addWidget(words)
        left.addStretch(1)
        across.addLayout(left)
        middle = QVBoxLayout()
        middle.setSpacing(4)
        self.sheets = MiniSheets(tokens)
        self.sheets.chosen.connect(self.sheet_chosen)
        middle.addWidget(self.sheets)
        self.slider = Slider()
        self.slider.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # as the sheets above it
        self.slider.setAccessibleName("Rehearsed sheet")
        self.slider.valueChanged.connect(lambda number: self.sheet_chosen.emit(number - 1))
        middle.addWidget(self.slider)
        self.typical = button("Typical", typical)
        self.worst = button("Worst of 20", worst)
        self.wrong = button("What if …", lambda: None)
        self.wrong.setMenu(self._menu())
        self.end = button("Places", end)
        self.typical.setToolTip("Show a sheet like most")
        self.wrong.setToolTip("Let something go wrong: what it looks like, and what tells of it in time")
        self.end.setToolTip("Back to the places of what was found (Esc)")
        middle.addLayout(row(self.typical, self.worst, self.wrong, self.end))
        self.told = label("", "look")
        self.told.setFixedHeight(px(_TOLD_PX))
        self.told.setAlignment(Qt.AlignmentFlag.AlignTop)
        middle.addWidget(self.told)
        middle.addStretch(1)
        across.addLayout(middle, 1)

    def _menu(self) -> QMenu:
        menu = QMenu(self)
        menu.setToolTipsVisible(True)
        self.actions_of: dict[FaultKey, QAction] = {}
        for one in FAULTS:
            action = QAction(one.name, self)
            action.setCheckable(True)
            action.setToolTip(f"{one.looks}\nIn time: {one.noticed}")
            action.triggered.connect(lambda _on: self.faults_chosen.emit(self._chosen()))
            menu.addAction(action)
            self.actions_of[one.key] = action
        return menu

    def _chosen(self) -> frozenset[FaultKey]:
        return frozenset(key for key, action in self.actions_of.items() if action.isChecked())

    def set_tokens(self, tokens: Tokens) -> None:
        """Change the theme."""
        self.sheets.tokens = tokens
        self.sheets.update()

    def show_rehearsed(self, rehearsed: Rehearsed, faults: frozenset[FaultKey], most: int) -> None:
        """Show a rehearsal, or more of one."""
        from honest_edge.app.rehearsal.shares import clean_share  # loaded by now: there is a rehearsal

        self.sheets.show_rehearsed(rehearsed)
        count = len(rehearsed.sheets)
        self.slider.blockSignals(True)
        self.slider.setRange(1, max(1, count))
        self.slider.setValue(rehearsed.shown + 1)
        self.slider.blockSignals(False)
        for view in (self.typical, self.worst):
            view.setEnabled(count > 1)
        for key, action in self.actions_of.items():
            action.setChecked(key in faults)
        names = " and ".join(fault(key).name.lower() for key in sorted(faults))
        self.told.setText(
            "".join(map(_told, faults)) if len(faults) < 2 else f"{names}: each is told on hover.".capitalize()
        )
        self.told.setToolTip("\n".join(_told(key) for key in sorted(faults)))
        self.rests.setText(_rests_on(rehearsed.overview.job))
        if count == 0:
            self.share.setText("–")
            self.came_out.setText("Printing, reading and cutting …")
            return
        share, unsure = clean_share(rehearsed.sheets)
        self.share.setText(f"{100 * share:.1f} % clean")
        going = "" if rehearsed.is_whole else f" of {most}"
        self.came_out.setText(f"came out on {count}{going} sheets, give or take {100 * unsure:.1f}")
        expected = rehearsed.expected
        if expected is not None:
            off = " if nothing goes wrong" if faults else ""
            self.forecast.setText(
                f"The forecast says {100 * expected.share:.1f} %{off}, give or take {100 * expected.uncertainty:.1f}."
            )


def _rests_on(job: Job) -> str:
    """Return what is known of the bench that was rehearsed on."""
    bench = job.measured_bench
    if bench is not None:
        return f"The bench is simulated, as it was measured on {counted(bench.sheets, 'sheet')}."
    return f"The bench is simulated, its error {'typed' if job.error is not None else 'assumed, not measured'}."


def _told(key: FaultKey) -> str:
    one = fault(key)
    return f"{one.looks[:1].upper()}{one.looks[1:]}. In time: {one.noticed}."
