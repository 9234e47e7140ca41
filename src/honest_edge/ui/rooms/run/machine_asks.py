"""What pages at a machine ask for: where it is, which way the pointer goes, how a pen's drawing came out."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtPrintSupport import QPrinterInfo
from PyQt6.QtWidgets import QComboBox, QGridLayout, QWidget

from honest_edge.core.values.machine import CORNERS, POINTS
from honest_edge.ui.rooms.run.machine_views import STEPS_MM
from honest_edge.ui.widgets.fields import Choice, Form, button
from honest_edge.ui.widgets.local import shown_length
from honest_edge.ui.widgets.typed import LengthField

if TYPE_CHECKING:
    from honest_edge.ui.rooms.run.keeper import RunKeeper

Asked = tuple[QWidget, Callable[[], None]]
_ARROWS = (("▲", "up", 0, 1, 0, 1), ("◀", "left", -1, 0, 1, 0), ("▶", "right", 1, 0, 1, 2), ("▼", "down", 0, -1, 2, 1))


def way(keeper: RunKeeper) -> Asked:
    """Ask where the machine is: one that the system shows, or typed."""
    from honest_edge.files.ways import found_ways

    form = Form(control_px=200)
    field = QComboBox()
    field.setEditable(True)
    field.setAccessibleName("Where the machine is")
    field.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
    queues = [(f"queue:{name}", "a queue of the system") for name in QPrinterInfo.availablePrinterNames()]
    for address, said in (*found_ways(), *queues):
        field.addItem(f"{said} – {address}", address)
    line = field.lineEdit()
    assert line is not None  # it is editable
    line.setPlaceholderText("serial:/dev/ttyUSB0?baud=115200")
    line.setText(keeper.draft.way or keeper.host.prefs.cut_to)

    def take(text: str) -> None:
        at = field.findText(text)
        keeper.draft.way = text.strip() if at < 0 else field.itemData(at)
        keeper.changed.emit()

    field.editTextChanged.connect(take)
    ways = "tcp://HOST:PORT, serial:PATH?baud=9600, queue:NAME, or a device such as /dev/usb/lp0"
    form.add_below("Where it is", field, ways)
    return form, lambda: None


def jog(keeper: RunKeeper) -> Asked:
    """Show the arrows that move the pointer, and how far a press moves it."""
    widget = QWidget()
    grid = QGridLayout(widget)
    grid.setContentsMargins(0, 0, 0, 0)
    for sign, name, across, upward, row, column in _ARROWS:
        arrow = button(sign, partial(keeper.machine.jog, across, upward))
        arrow.setAccessibleName(f"Move {name}")
        arrow.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # the keys stay where the arrow keys are heard
        grid.addWidget(arrow, row, column)
    steps = Choice("Step", [(str(step), "") for step in STEPS_MM])
    steps.chosen.connect(lambda chosen: keeper.machine.set_step(float(str(chosen))))
    steps.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    grid.addWidget(steps, 1, 1)

    def fill() -> None:
        unit = keeper.host.workspace.unit
        for at, step in enumerate(STEPS_MM):
            steps.setItemText(at, shown_length(step, unit, digits=3 if unit == "mm" else 4).rstrip())
        steps.show_value(str(keeper.machine.step_mm))

    fill()
    return widget, fill


def pen(keeper: RunKeeper) -> Asked:
    """Ask how a pen's drawing came out."""
    form = Form(control_px=140)
    corner = Choice("The angle lies at the", [(one, one) for one in CORNERS])
    points = Choice("The arrow points", [(one, one) for one in POINTS])
    corner.setCurrentIndex(-1)
    points.setCurrentIndex(-1)
    corner.chosen.connect(lambda value: keeper.turn(corner=value))
    points.chosen.connect(lambda value: keeper.turn(points=value))
    form.add("The angle lies", corner)
    form.add("The arrow points", points)
    for number, (name, tip) in enumerate(
        (("Arm along the arrow", "The arm of the cross that lies as the arrow does"), ("The other arm", ""))
    ):
        field = LengthField(name)
        field.show_nothing(keeper.host.workspace.unit)

        def take(length_mm: float, number: int = number, field: LengthField = field) -> None:
            keeper.draft.arms[number] = length_mm
            field.show_length(length_mm, keeper.host.workspace.unit)
            keeper.changed.emit()

        field.committed.connect(take)
        field.refused.connect(lambda words: keeper.host.say(words, tone="danger"))
        form.add(name, field, tip)
    return form, lambda: None
