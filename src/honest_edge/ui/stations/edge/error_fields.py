"""How print and cut disagree on this bench: measured, one assumed distance, or every part of the error typed."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtWidgets import QFrame, QVBoxLayout

from honest_edge.core.values.job import BenchCopy
from honest_edge.core.values.misregistration import Misregistration, Scatter
from honest_edge.ui.shared.fold import Fold
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.what_worked_words import ago
from honest_edge.ui.widgets.fields import (
    Form,
    button,
    counted,
    label,
    restyle,
    row,
    set_tone,
)
from honest_edge.ui.widgets.help_mark import HelpMark
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import LengthField, NumberField
from honest_edge.ui.widgets.words import shift_words


class ErrorFields(QFrame):
    """Stands on sand while nothing of it was measured, on white with what it rests on where it was."""

    def __init__(self, host: Host) -> None:
        super().__init__()
        self._host, self.workspace = host, host.workspace
        self.setProperty("card", "sand")
        HelpMark(self, "measuring")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(12, 10, 12, 10)
        inside.setSpacing(6)
        self.title = label("", "look")
        inside.addWidget(self.title)
        self.drift = self._length("Print and cut agree within", self._set_drift)
        self.asked = label("Print and cut agree within")
        inside.addLayout(row(self.asked, self.drift))
        self.words = label("", "soft")
        inside.addWidget(self.words)
        self.measure = button("Measure my bench", lambda: host.go_to("bench"))
        inside.addWidget(self.measure)
        form = Form(narrow=True)
        self.visible = self._length("Seen from", lambda mm: self.workspace.edit_job("visible width", visible_mm=mm))
        self.bias_x = self._length("Mean shift, right", lambda mm: self._shift("shift_x_mm", bias=mm))
        self.bias_y = self._length("Mean shift, down", lambda mm: self._shift("shift_y_mm", bias=mm))
        self.spread_x = self._length("Spread, across", lambda mm: self._shift("shift_x_mm", spread=mm))
        self.spread_y = self._length("Spread, down", lambda mm: self._shift("shift_y_mm", spread=mm))
        self.rotation = self._number("Rotation spread, °", lambda v: self._shift("rotation_deg", spread=v))
        self.scale_x = self._number("Scale spread, across, %", lambda v: self._shift("scale_x_percent", spread=v))
        self.scale_y = self._number("Scale spread, down, %", lambda v: self._shift("scale_y_percent", spread=v))
        self.repeat = self._length("Sticker to sticker", lambda mm: self._change(repeat_mm=mm))
        for name, field, tip in (
            ("Seen from", self.visible, "Narrower white and shallower losses are not seen."),
            ("Mean shift, right", self.bias_x, "Where the cut lands on average."),
            ("Mean shift, down", self.bias_y, "Where the cut lands on average."),
            ("Spread, across", self.spread_x, "One standard deviation."),
            ("Spread, down", self.spread_y, "One standard deviation."),
            ("Rotation, °", self.rotation, "One standard deviation of the turn about the marks’ middle."),
            ("Scale across, %", self.scale_x, "One standard deviation."),
            ("Scale down, %", self.scale_y, "One standard deviation."),
            ("Sticker to sticker", self.repeat, "One standard deviation of what differs on one sheet."),
        ):
            form.add(name, field, tip)
        self.forget = button("Take back what was typed", lambda: self._edit(None))
        form.add_wide(self.forget)
        self.more = Fold(host, "More of the error", topic="measuring", is_card=False)
        self.more.inside.addWidget(form)
        inside.addWidget(self.more)

    def _words(self, bench: BenchCopy | None) -> str:
        """Return what the error rests on."""
        if bench is None:
            is_one = self.workspace.job.error is None
            return (
                f"19 times of 20, {'everywhere on the sheet' if is_one else 'no more: the parts below hold instead'}."
            )
        length, error = self.workspace.length, bench.error
        shift = f"{shift_words(error.shift_x_mm.bias, error.shift_y_mm.bias, length)} on average"
        moved = "" if bench.correction.is_none else "; cut files are moved for it"
        few = " One sheet tells nothing about how much sheets differ." if bench.sheets == 1 else ""
        return f"{bench.machine} with {bench.printer}: {shift}{moved}.{few}"

    def _length(self, name: str, act: Callable[..., object]) -> LengthField:
        field = LengthField(name, digits_mm=3)
        field.setFixedWidth(px(96))
        field.committed.connect(act)
        field.refused.connect(lambda text: self._host.say(text, tone="danger"))
        return field

    def _number(self, name: str, act: Callable[..., object]) -> NumberField:
        field = NumberField(name)
        field.committed.connect(act)
        field.refused.connect(lambda text: self._host.say(text, tone="danger"))
        return field

    @property
    def _now(self) -> Misregistration:
        return self.workspace.job.misregistration

    def _set_drift(self, drift_mm: float) -> None:
        self.workspace.edit_job("assumed error", drift_mm=drift_mm, error=None)

    def _shift(self, part: str, **changes: float) -> None:
        scatter: Scatter = getattr(self._now, part)
        self._change(**{part: replace(scatter, **changes)})

    def _change(self, **changes: Any) -> None:
        error = self.workspace.build(lambda: replace(self._now, **changes))
        if error is not None:
            self._edit(error)

    def _edit(self, error: Misregistration | None) -> None:
        self.workspace.edit_job("error of the bench", error=error)

    def refresh(self) -> None:
        """Show the job's error."""
        job, unit, error = self.workspace.job, self.workspace.unit, self._now
        bench = job.measured_bench
        restyle(self, "card", "sand" if bench is None else "plain")
        for widget in (self.asked, self.drift):
            widget.setVisible(bench is None)
        self.drift.setEnabled(job.error is None)
        self.drift.show_length(job.drift_mm, unit)
        set_tone(self.title, "look" if bench is None else "fine")
        self.title.setText("Assumed, not measured" if bench is None else _measured_words(bench))
        self.words.setText(self._words(bench))
        self.measure.setText("Measure my bench" if bench is None else "Show my bench")
        self.forget.setVisible(job.error is not None)
        for field, length_mm in (
            (self.visible, job.visible_mm),
            (self.bias_x, error.shift_x_mm.bias),
            (self.bias_y, error.shift_y_mm.bias),
            (self.spread_x, error.shift_x_mm.spread),
            (self.spread_y, error.shift_y_mm.spread),
            (self.repeat, error.repeat_mm),
        ):
            field.show_length(length_mm, unit)
        self.rotation.show_number(error.rotation_deg.spread)
        self.scale_x.show_number(error.scale_x_percent.spread)
        self.scale_y.show_number(error.scale_y_percent.spread)


def _measured_words(bench: BenchCopy) -> str:
    """Return how well the bench is known."""
    when = "" if bench.newest_ms is None else f", {ago(time.time_ns() // 1_000_000 - bench.newest_ms)}"
    return f"Measured, {counted(bench.sheets, 'sheet')}{when}"
