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
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from honest_edge.ui.widgets.help_mark import HelpMark
from honest_edge.ui.widgets.local import Label, Told, explain, from_the_left, local
from honest_edge.ui.widgets.painting import painter_on
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.unwheeled import DropDown


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
    text_label = Label(text)
    text_label.setWordWrap(True)
    text_label.setTextFormat(Qt.TextFormat.PlainText)
    text_label.setProperty("tone", tone)
    return text_label


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
    made_button = Button(text)
    made_button.setProperty("filled", filled)
    made_button.setProperty("link", link)
    made_button.clicked.connect(lambda _checked: act())
    return made_button


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
    """Shortens long names in the middle, numbers in them as they are; the whole stands in the tooltip."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("", parent)
        self._whole = ""
        self.setMinimumWidth(40)

    def set_full_text(self, text: str) -> None:
        """Show ``text`` as far as it fits."""
        self._whole = text
        QLabel.setToolTip(self, text)
        self._elide()

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)  # type: ignore[arg-type]
        self._elide()

    def _elide(self) -> None:
        metrics = QFontMetrics(self.font())
        shown = metrics.elidedText(self._whole, Qt.TextElideMode.ElideMiddle, max(self.width(), 40))
        QLabel.setText(self, shown)


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
