"""Fields that something is typed into: lengths, numbers, counts; what arrives meanwhile never takes its place."""

from __future__ import annotations

from PyQt6.QtCore import QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtWidgets import QLineEdit, QWidget

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.units import MM_PER_INCH, Unit, area_number, parse_length, short_length
from honest_edge.ui.widgets.fields import restyle
from honest_edge.ui.widgets.local import local, shown_unit
from honest_edge.ui.widgets.unwheeled import WholeNumber


def is_being_typed(field: QLineEdit) -> bool:
    """Whether somebody types into a field right now: what is shown meanwhile must not take its place."""
    return field.isModified() and field.hasFocus()


class LengthField(QLineEdit):
    """A length typed in any unit and shown in the user's; a wrong one is refused in words."""

    committed = pyqtSignal(float)
    refused = pyqtSignal(str)

    def __init__(self, name: str, *, digits_mm: int = 2, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(name)
        self._name, self._digits_mm = name, digits_mm
        self._length_mm, self._ppi, self._is_known = 0.0, 300.0, True
        self._unit: Unit = "mm"
        self.editingFinished.connect(self._commit)
        self.textEdited.connect(lambda _text: self._mark(False))

    def show_length(self, length_mm: float, unit: Unit, ppi: float = 300.0) -> None:
        """Show a length without telling anyone."""
        self._length_mm, self._unit, self._ppi, self._is_known = length_mm, unit, ppi, True
        self._show()

    def tell_anew(self) -> None:
        """Show the same length in another unit."""
        self._unit = shown_unit()
        self._show()

    def show_nothing(self, unit: Unit) -> None:
        """Show that no length is known yet; it may stay so."""
        self._length_mm, self._unit, self._is_known = 0.0, unit, False
        self._show()

    def _show(self) -> None:
        if is_being_typed(self):
            return  # what is typed is newer than what was computed
        with QSignalBlocker(self):
            self.setText(self._formatted())
        self.setCursorPosition(0)  # of a length that is too long its beginning is read
        self._mark(False)

    @property
    def length_mm(self) -> float | None:
        """The length that is shown; None where none is known."""
        return self._length_mm if self._is_known else None

    def _formatted(self) -> str:
        if not self._is_known:
            return ""
        return local(short_length(self._length_mm, self._unit, digits_mm=self._digits_mm))

    def _commit(self) -> None:
        self.setModified(False)
        if self.text() == self._formatted():
            self._mark(False)
            return
        try:
            length_mm = parse_length(self.text(), default_unit=self._unit, ppi=self._ppi)
        except HonestEdgeError as error:
            self.refuse(str(error))
            return
        self.committed.emit(length_mm)

    def refuse(self, message: str) -> None:
        """Mark the typed text as wrong and say why; the last good value stays in force."""
        self.mark_wrong()
        self.setModified(True)  # it stays to be mended
        self.refused.emit(f"{self._name}: {message}")

    def mark_wrong(self) -> None:
        """Show that the typed length is not the one in force."""
        self._mark(True)

    def keyPressEvent(self, event: object) -> None:
        if getattr(event, "key", lambda: 0)() == Qt.Key.Key_Escape and self._is_known:
            self.setModified(False)
            self.show_length(self._length_mm, self._unit, self._ppi)
            return
        super().keyPressEvent(event)  # type: ignore[arg-type]

    def _mark(self, wrong: bool) -> None:
        restyle(self, "wrong", wrong)


class NumberField(QLineEdit):
    """A number without a length's unit, told once typing ends; None where empty has a meaning of its own."""

    committed = pyqtSignal(object)
    refused = pyqtSignal(str)

    def __init__(self, name: str, *, allow_empty: bool = False, is_area: bool = False) -> None:
        """Make a field; of an ``is_area`` the number is mm², typed and shown in the square of the unit shown."""
        super().__init__()
        self.setAccessibleName(name)
        self._name, self._allow_empty, self._is_area = name, allow_empty, is_area
        self._value: float | None = None
        self.editingFinished.connect(self._commit)

    def show_number(self, value: float | None) -> None:
        """Show without telling anyone."""
        self._value = value
        if is_being_typed(self):
            return
        with QSignalBlocker(self):
            self.setText(self._formatted())
        restyle(self, "wrong", False)

    def _commit(self) -> None:
        self.setModified(False)
        if self.text().strip() == self._formatted():
            restyle(self, "wrong", False)
            return
        text = self.text().strip().replace(",", ".")
        if not text and self._allow_empty:
            self.committed.emit(None)
            return
        try:
            value = float(text)
        except ValueError:
            restyle(self, "wrong", True)
            self.refused.emit(f"{self._name}: “{text}” is no number")
            return
        self.committed.emit(value * self._unit_mm2)

    @property
    def _unit_mm2(self) -> float:
        return MM_PER_INCH**2 if self._is_area and shown_unit() != "mm" else 1.0

    @property
    def number(self) -> float | None:
        """What it holds, as it was shown or typed last; None where that is nothing."""
        return self._value

    def _formatted(self) -> str:
        if self._value is None:
            return ""
        return local(area_number(self._value, shown_unit()) if self._is_area else f"{self._value:g}")


class Count(WholeNumber):
    """A whole number, told once typing ends."""

    committed = pyqtSignal(int)

    def __init__(self, name: str, lowest: int, highest: int) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setRange(lowest, highest)
        self.setKeyboardTracking(False)
        self._is_typed = False
        line = self.lineEdit()
        assert line is not None
        line.textEdited.connect(lambda _text: self._note_typing())
        self.valueChanged.connect(self._commit)
        self.editingFinished.connect(self._leave)

    def show_value(self, value: int) -> None:
        """Show without telling anyone; what is being typed stays, and counts once it is finished."""
        if self._is_typed and self.hasFocus():
            return
        with QSignalBlocker(self):
            self.setValue(value)

    def _note_typing(self) -> None:
        self._is_typed = True

    def _commit(self, value: int) -> None:
        self._is_typed = False
        self.committed.emit(value)

    def _leave(self) -> None:
        """Take what was typed, too, where it is the number that stood there: it is meant all the same."""
        if self._is_typed:
            self._commit(self.value())
