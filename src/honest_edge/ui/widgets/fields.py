"""The controls that cards are made of."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QPointF, QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetrics, QGuiApplication, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import (
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.units import MM_PER_INCH, Unit, area_number, parse_length, short_length
from honest_edge.ui.widgets.help_mark import HelpMark
from honest_edge.ui.widgets.local import Label, Told, explain, from_the_left, local, shown_unit
from honest_edge.ui.widgets.painting import painter_on
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.unwheeled import DropDown, WholeNumber


class Button(Told, QPushButton):
    """A button whose numbers are written as the locale does."""

    def __init__(self, text: str = "") -> None:
        QPushButton.__init__(self, from_the_left(local(text)))
        self.told = text

    def setText(self, text: str | None) -> None:
        self.told = text or ""
        QPushButton.setText(self, from_the_left(local(self.told)))

    def setToolTip(self, text: str | None) -> None:
        self.tip = text or ""
        QPushButton.setToolTip(self, local(self.tip))


def label(text: str = "", tone: str = "") -> QLabel:
    """Return a wrapping label in one of the theme's tones."""
    made = Label(text)
    made.setWordWrap(True)
    made.setTextFormat(Qt.TextFormat.PlainText)
    made.setProperty("tone", tone)
    return made


def set_tone(widget: QLabel, tone: str) -> None:
    """Change a label's tone."""
    restyle(widget, "tone", tone)


def restyle(widget: QWidget, name: str, value: object) -> None:
    """Set a property and make the style sheet look at it again."""
    if widget.property(name) == value:
        return
    widget.setProperty(name, value)
    style = widget.style()
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)


def greyed(control: QWidget, why: str) -> None:
    """Grey a control and say in its tooltip what it waits for; "" lets it be used, under its own tooltip again."""
    if control.property("ownTip") is None:
        control.setProperty("ownTip", control.toolTip())
    control.setEnabled(not why)
    control.setToolTip(why or control.property("ownTip"))


def button(text: str, act: Callable[[], object], *, filled: bool = False, link: bool = False) -> QPushButton:
    """Return a button that calls ``act``."""
    made = Button(text)
    made.setProperty("filled", filled)
    made.setProperty("link", link)
    made.clicked.connect(lambda _checked: act())
    return made


def paint_button(made: QPushButton, rgb: tuple[int, int, int], words: str = "") -> None:
    """Give a button a colour, and its name in it that can be read."""
    made.setText("#{:02x}{:02x}{:02x}".format(*rgb) + words)
    ink = "#000000" if QColor(*rgb).lightness() > 127 else "#ffffff"
    made.setStyleSheet(f"background: rgb({rgb[0]}, {rgb[1]}, {rgb[2]}); color: {ink}")


def end_margins(start: int, down: int, end: int) -> tuple[int, int, int, int]:
    """Return margins from the left round by what begins and ends a line: Qt does not turn margins round."""
    is_turned = QGuiApplication.layoutDirection() == Qt.LayoutDirection.RightToLeft
    return (end, down, start, down) if is_turned else (start, down, end, down)


def card(kind: str = "plain", *, topic: str) -> tuple[QFrame, QVBoxLayout]:
    """Return an empty card and its layout; the handbook's page of ``topic`` is a click away."""
    frame = QFrame()
    frame.setProperty("card", kind)
    layout = QVBoxLayout(frame)
    end = 12 if kind == "plain" else px(26)  # what is no heading runs to the mark
    layout.setContentsMargins(*end_margins(12, 10, end))
    layout.setSpacing(6)
    HelpMark(frame, topic)
    return frame, layout


class ChoiceCard(Button):
    """One of several ways: its name, and under it what it does."""

    def __init__(self, name: str, detail: str) -> None:
        super().__init__()
        self.setProperty("choice", True)
        self.setCheckable(True)
        self.setAutoExclusive(True)  # told as one of several, whatever group it is put into
        self.setAccessibleName(name)
        self.setAccessibleDescription(detail)
        self.setSizePolicy(QSizePolicy.Policy.Minimum, QSizePolicy.Policy.Minimum)  # as high as its words
        across = QHBoxLayout(self)
        across.setContentsMargins(12, 5, 12, 5)
        lines = QVBoxLayout()
        lines.setSpacing(0)
        self._figure = label("", "figures")
        self._figure.setWordWrap(False)
        for line in (label(name, "heading"), label(detail, "soft")):
            lines.addWidget(line)
        across.addLayout(lines, 1)
        across.addWidget(self._figure)
        for line in self.findChildren(QLabel):
            line.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self._detail = detail

    def show_figure(self, text: str, tone: str) -> None:
        """Show a number at the right; "" shows none."""
        set_tone(self._figure, tone)
        self._figure.setText(text)
        self.setAccessibleDescription(f"{self._detail}, {text}" if text else self._detail)


class ElidedLabel(Label):
    """Shortens long names in the middle; the whole stands in the tooltip."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("", parent)
        self._whole = ""
        self.setMinimumWidth(40)

    def set_full_text(self, text: str) -> None:
        """Show ``text`` as far as it fits."""
        self._whole = local(text)
        self.setToolTip(text)
        self._elide()

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)  # type: ignore[arg-type]
        self._elide()

    def _elide(self) -> None:
        metrics = QFontMetrics(self.font())
        self.setText(metrics.elidedText(self._whole, Qt.TextElideMode.ElideMiddle, max(self.width(), 40)))


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


class Choice(DropDown):
    """One of a few named values."""

    chosen = pyqtSignal(str)

    def __init__(self, name: str, options: Sequence[tuple[str, str]]) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setAccessibleDescription(name)  # on Linux its name is told by its label, or not at all
        for value, words in options:
            self.addItem(words, value)
        self.activated.connect(lambda index: self.chosen.emit(self.itemData(index)))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = painter_on(self)  # a style sheet that draws the frame drops the arrow
        painter.setPen(QPen(self.palette().color(self.foregroundRole()), 1.4))
        x, y = 14.0 if self.isRightToLeft() else self.width() - 14.0, self.height() / 2
        painter.drawPolyline(QPolygonF([QPointF(x - 4, y - 2), QPointF(x, y + 2), QPointF(x + 4, y - 2)]))

    def show_value(self, value: str) -> None:
        """Select without telling anyone."""
        with QSignalBlocker(self):
            self.setCurrentIndex(self.findData(value))


class Count(WholeNumber):
    """A whole number, told once typing ends."""

    committed = pyqtSignal(int)

    def __init__(self, name: str, lowest: int, highest: int) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setRange(lowest, highest)
        self.setKeyboardTracking(False)
        self._is_typed = False
        self._arrived: int | None = None
        line = self.lineEdit()
        assert line is not None
        line.textEdited.connect(lambda _text: self._note_typing())
        self.valueChanged.connect(self._commit)
        self.editingFinished.connect(self._leave)

    def show_value(self, value: int) -> None:
        """Show without telling anyone; what is being typed stays, and counts once it is finished."""
        if self._is_typed and self.hasFocus():
            self._arrived = value
            return
        with QSignalBlocker(self):
            self.setValue(value)

    def _note_typing(self) -> None:
        self._is_typed = True

    def _commit(self, value: int) -> None:
        self._is_typed, self._arrived = False, None
        self.committed.emit(value)

    def _leave(self) -> None:
        """Take what was typed, too, where it is the number of before and another arrived meanwhile."""
        if self._arrived is not None and self._arrived != self.value():
            self._commit(self.value())
        self._is_typed, self._arrived = False, None


class FormRow:
    """A caption and its control, shown or hidden together."""

    def __init__(self, caption: QWidget, control: QWidget) -> None:
        self._widgets = (caption, control)
        self._caption = caption if isinstance(caption, QLabel) else QLabel()  # a tick is its own caption
        self._name = self._caption.text()

    def note(self, words: str) -> None:
        """Write what a value here would change beside its name; "" writes nothing."""
        self._caption.setText(f"{self._name}, {words}" if words else self._name)

    def setVisible(self, visible: bool) -> None:
        """Show or hide both."""
        for widget in self._widgets:
            widget.setVisible(visible)


class Form(QWidget):
    """Rows of a name and a control, aligned."""

    def __init__(self, *, narrow: bool = False, control_px: int | None = None) -> None:
        super().__init__()
        self._control_px = px(control_px or (112 if narrow else 126))
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(6)
        self._grid.setVerticalSpacing(8)
        self._grid.setColumnStretch(0, 1)

    def add(self, name: str, control: QWidget, tip: str = "", *, control_px: int | None = None) -> FormRow:
        """Add a row and return it; ``control_px`` for a control that is wider than its neighbours."""
        row = self._grid.rowCount()
        caption = Label(name)
        caption.setBuddy(control)
        if isinstance(control, Choice):
            control.setAccessibleDescription("")  # its caption tells
        caption.setToolTip(tip)
        explain(control, tip)
        control.setFixedWidth(self._control_px if control_px is None else px(control_px))
        self._grid.addWidget(caption, row, 0)
        self._grid.addWidget(control, row, 1, Qt.AlignmentFlag.AlignRight)
        return FormRow(caption, control)

    def add_below(self, name: str, control: QWidget, tip: str = "") -> FormRow:
        """Add a control as wide as the form, its name above it."""
        caption = Label(name)
        caption.setBuddy(control)
        caption.setToolTip(tip)
        explain(control, tip)
        for widget in (caption, control):
            self.add_wide(widget)
        return FormRow(caption, control)

    def push_up(self) -> None:
        """Let what room is left over stay below the last row."""
        self._grid.setRowStretch(self._grid.rowCount(), 1)

    def add_wide(self, control: QWidget) -> None:
        """Add a control without a name, as wide as the form."""
        self._grid.addWidget(control, self._grid.rowCount(), 0, 1, 2)


def counted(number: int, noun: str) -> str:
    """Return a number with its noun in the singular or plural."""
    return f"{number} {noun}" if number == 1 else f"{number} {noun}s"


def side_by_side(first: QWidget, second: QWidget, between: str = "×") -> QWidget:
    """Return two controls of one row as one."""
    holder = QWidget()
    line = QHBoxLayout(holder)
    line.setContentsMargins(0, 0, 0, 0)
    line.setSpacing(4)
    line.addWidget(first, 1)
    line.addWidget(label(between, "soft"))
    line.addWidget(second, 1)
    return holder


def row(*widgets: QWidget) -> QHBoxLayout:
    """Return widgets side by side."""
    layout = QHBoxLayout()
    layout.setSpacing(8)
    for widget in widgets:
        layout.addWidget(widget)
    return layout
