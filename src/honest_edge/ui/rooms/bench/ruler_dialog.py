"""Reading the ruler that is printed on a target: it alone tells whether the printer prints too large or too small."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QDialog, QVBoxLayout

from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import (
    Form,
    button,
    label,
    row,
)
from honest_edge.ui.widgets.local import shown_length
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import LengthField

if TYPE_CHECKING:
    from honest_edge.core.measure.target import Ruler


_WAYS = ("across", "down")


class RulerDialog(QDialog):
    """Takes what a ruler says beside the two printed lines, and puts the scale into the job's printer."""

    def __init__(self, host: Host, lines: tuple[Ruler, ...]) -> None:
        """Take the window and the printed lines, across and down."""
        super().__init__(host.table.window())
        self._host, self._lines = host, lines
        self.setWindowTitle("The printed ruler")
        column = QVBoxLayout(self)
        column.setContentsMargins(px(18), px(16), px(18), px(16))
        column.setSpacing(px(12))
        column.addWidget(label("How long are the printed lines?", "heading"))
        column.addWidget(
            label("Lay a steel ruler beside each line of a target and read from outer tick to outer tick.", "soft")
        )
        form, unit = Form(control_px=140), host.workspace.unit
        self.fields: list[LengthField] = []
        self._read_mm = [line.length_mm for line in lines]
        for number, (line, way) in enumerate(zip(lines, _WAYS, strict=False)):
            drawn = shown_length(line.length_mm, unit, digits=1 if unit == "mm" else 3)
            field = LengthField(f"The line {way}, drawn as {drawn}", digits_mm=2)
            field.show_length(line.length_mm, unit)
            field.committed.connect(lambda mm, number=number: self._set(number, mm))
            field.refused.connect(lambda words: host.say(words, tone="danger"))
            form.add(f"The line {way}, drawn as {drawn}", field)
            self.fields.append(field)
        column.addWidget(form)
        column.addStretch(1)
        self.take = button("Keep as the printer’s scale", self._take, filled=True)
        column.addLayout(row(button("Cancel", self.reject), self.take))
        self.setMinimumWidth(px(440))

    def _set(self, number: int, read_mm: float) -> None:
        self._read_mm[number] = read_mm
        self.fields[number].show_length(read_mm, self._host.workspace.unit)

    def _take(self) -> None:
        off_percent = [100 * (mm / line.length_mm - 1) for mm, line in zip(self._read_mm, self._lines, strict=True)]
        workspace = self._host.workspace
        now = workspace.job.sheet.printer
        across, down = (*(round(value, 3) for value in off_percent), now.scale_y_percent)[:2]
        printer = workspace.build(lambda: replace(now, scale_x_percent=across, scale_y_percent=down))
        if printer is not None and workspace.edit_sheet("printer’s scale", printer=printer):
            said = " and ".join(f"{value:+.2f} % {way}" for value, way in zip(off_percent, _WAYS, strict=False))
            self._host.say(f"The printer prints {said}: the job’s printer has it now.", tone="fine")
            self.accept()
