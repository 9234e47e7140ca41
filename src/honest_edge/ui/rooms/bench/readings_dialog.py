"""Typing what was read off the combs: two numbers a place, laid out as the places lie on the sheet."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QLineEdit, QVBoxLayout, QWidget

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import Choice, button, label, restyle, row, set_tone
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.words import shift_words

if TYPE_CHECKING:
    from honest_edge.app.bench.measuring import Measured
    from honest_edge.core.measure.combs import CombPlaces

_COUNTS = (("9", "9 places"), ("8", "8 places"), ("6", "6 places"), ("5", "5 places"))


class ReadingsDialog(QDialog):
    """Takes the readings of one sheet; names those that do not fit, then keeps it."""

    def __init__(self, host: Host, assumed_mm: float, keep: Callable[[Measured], object]) -> None:
        """Take the window, what is assumed of the bench, and what keeps a sheet that was read."""
        super().__init__(host.table.window())
        self._host, self._assumed_mm, self._keep = host, assumed_mm, keep
        self.measured: Measured | None = None
        self.setWindowTitle("Readings by eye")
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(px(18), px(16), px(18), px(16))
        self._column.setSpacing(px(10))
        self._column.addWidget(label("What do the combs say?", "heading"))
        self._column.addWidget(
            label(
                "At each place type the number where tick and tooth line up: first across, then down. Halves are "
                "allowed; leave out what you doubt. Enter goes on.",
                "soft",
            )
        )
        self.count = Choice("Places", _COUNTS)
        self.count.chosen.connect(lambda count: self._show_places(int(count)))
        self._column.addWidget(self.count)
        self.grid = QWidget()
        self._column.addWidget(self.grid)
        self.said = label("", "soft")
        self._column.addWidget(self.said)
        self.judge = button("Judge the readings", self.judged)
        self.keep_it = button("Keep this sheet", self._take, filled=True)
        self.keep_it.setEnabled(False)
        self._column.addLayout(row(button("Cancel", self.reject), self.judge, self.keep_it))
        self.fields: list[tuple[QLineEdit, QLineEdit]] = []
        self._show_places(9)

    def _show_places(self, count: int) -> None:
        from honest_edge.core.measure.combs import comb_places

        places = self._host.workspace.build(lambda: comb_places(self._host.workspace.job.sheet, count))
        if places is None:
            self.judge.setEnabled(False)
            return
        self.places: CombPlaces = places
        widget = QWidget()
        grid = QGridLayout(widget)
        grid.setHorizontalSpacing(px(14))
        grid.setVerticalSpacing(px(16))
        columns = sorted({round(x) for x, _ in places.places_mm})
        rows: list[float] = []
        self.fields = []
        for number, (x, y) in enumerate(places.places_mm, 1):
            if number == 1 or x <= places.places_mm[number - 2][0]:
                rows.append(y)
            across, down = self._field(f"Place {number}, across"), self._field(f"Place {number}, down")
            self.fields.append((across, down))
            name = label(str(number))
            name.setObjectName("question")
            at = columns.index(round(x))
            grid.addWidget(name, 2 * len(rows), 3 * at)
            grid.addWidget(across, 2 * len(rows), 3 * at + 1)
            grid.addWidget(down, 2 * len(rows), 3 * at + 2)
        self._column.replaceWidget(self.grid, widget)
        self.grid.deleteLater()
        self.grid = widget
        widget.setMinimumHeight(grid.sizeHint().height())
        self.fields[0][0].setFocus()
        self.adjustSize()

    def _field(self, name: str) -> QLineEdit:
        edit = QLineEdit()
        edit.setAccessibleName(name)
        edit.setFixedWidth(px(58))
        edit.setAlignment(Qt.AlignmentFlag.AlignRight)
        edit.setPlaceholderText("→" if "across" in name else "↓")
        edit.setToolTip(f"{name}: −8 to 8, right and down are positive")
        edit.returnPressed.connect(self._go_on)
        edit.textEdited.connect(lambda _text: self._changed())
        return edit

    def _changed(self) -> None:
        self.measured = None
        self.keep_it.setEnabled(False)

    def _go_on(self) -> None:
        """Enter goes to the next field; in the last one the readings are judged."""
        flat = [field for pair in self.fields for field in pair]
        here = next((n for n, field in enumerate(flat) if field is self.focusWidget()), len(flat) - 1)
        if here + 1 < len(flat):
            flat[here + 1].setFocus()
        else:
            self.judged()

    def judged(self) -> None:
        """Compute the sheet's error, and mark the readings that do not fit the rest."""
        from honest_edge.app.bench.measuring import measured_readings
        from honest_edge.core.measure.readings import Reading, typed_number

        try:
            readings = tuple(
                Reading(place=number, across=typed_number(across.text()), down=typed_number(down.text()))
                for number, (across, down) in enumerate(self.fields, 1)
            )
            self.measured = measured_readings({"read by eye": readings}, self.places.from_middle, self._assumed_mm)
        except HonestEdgeError as error:
            self._say(str(error), "danger")
            return
        sheet = self.measured.sheets[0]
        doubtful = {(p.x_mm, p.y_mm): p.why for p in sheet.places if not p.used}
        for (across, down), (x, y) in zip(self.fields, self.places.from_middle.tolist(), strict=True):
            why = doubtful.get((x, y), "")
            for name, field in (("across", across), ("down", down)):
                restyle(field, "wrong", name in why and "does not fit" in why)
        shift = shift_words(sheet.error.shift_x_mm, sheet.error.shift_y_mm, self._host.workspace.length)
        told = f"The cut lies {shift}, turned {sheet.error.rotation_deg:+.3f}° clockwise."
        self._say("\n".join([told, *self.measured.warnings]), "look" if any(doubtful.values()) else "soft")
        self.keep_it.setEnabled(True)
        self.keep_it.setFocus()

    def _say(self, text: str, tone: str) -> None:
        self.said.setText(text)
        set_tone(self.said, tone)
        self.adjustSize()

    def _take(self) -> None:
        if self.measured is not None:
            self._keep(self.measured)
            self.accept()
