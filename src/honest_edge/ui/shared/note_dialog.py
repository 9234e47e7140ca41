"""A few fields to be typed and kept in the Book."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtWidgets import QDialog, QVBoxLayout, QWidget

from honest_edge.core.values.errors import HonestEdgeError, UsageError
from honest_edge.ui.widgets.fields import (
    Form,
    button,
    label,
    row,
)
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import NumberField


class NoteDialog(QDialog):
    """Keeps what was typed when it can be used; says what is wrong with it otherwise."""

    def __init__(
        self,
        parent: QWidget | None,
        title: str,
        fields: Sequence[tuple[str, QWidget, str]],
        make: Callable[[], Any],
        keep: Callable[[Any], object],
        *,
        words: str = "",
    ) -> None:
        """Take the fields with their names and tips, what makes the note of them, and what keeps it.

        ``make`` raises where the fields cannot be used.
        """
        super().__init__(parent)
        self.setWindowTitle(title)
        self._make, self._keep = make, keep
        column = QVBoxLayout(self)
        column.setContentsMargins(px(18), px(16), px(18), px(16))
        column.setSpacing(px(12))
        column.addWidget(label(title, "heading"))
        if words:
            column.addWidget(label(words, "soft"))
        form = Form(control_px=220)
        for name, control, tip in fields:
            form.add(name, control, tip)
        column.addWidget(form)
        self.wrong = label("", "danger")
        self.wrong.hide()
        column.addWidget(self.wrong)
        self.keep = button("Keep in the Book", self._take, filled=True)
        self.keep.setDefault(True)
        column.addLayout(row(button("Cancel", self.reject), self.keep))
        self.setMinimumWidth(px(420))

    def _take(self) -> None:
        if self.result() == QDialog.DialogCode.Accepted:
            return  # a second press, or Enter and a press: it is kept once
        try:
            note = self._make()
        except HonestEdgeError as error:
            self.wrong.setText(str(error))
            self.wrong.show()
            return
        self._keep(note)
        self.accept()


class AmountField(NumberField):
    """A number that may be left empty, which means that it is not known."""

    def __init__(self, name: str, value: float | None = None) -> None:
        super().__init__(name, allow_empty=True)
        self.committed.connect(self.show_number)
        self.setPlaceholderText("not known")
        self.show_number(value)

    @property
    def amount(self) -> float | None:
        """What is typed.

        Raises:
            UsageError: it is no number.
        """
        text = self.text().strip().replace(",", ".")
        try:
            return float(text) if text else None
        except ValueError:
            raise UsageError(f"“{text}” is no number") from None
