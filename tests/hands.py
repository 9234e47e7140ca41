"""What a user's hands do to the window."""

from PyQt6.QtCore import QEvent, QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QMouseEvent, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget

PATIENCE_S = 600
"""How long a check waits for what should take a moment: the machine may be busy with other work."""


def type_into(field, text):
    field.setFocus()
    field.selectAll()
    QTest.keyClick(field, Qt.Key.Key_Delete)
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)


def click(widget):
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton)


def visit(window, station):
    click(window.path_bar.buttons[station])
    assert window.station == station


def drop(window, paths, at=(600, 400)):
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
    event = QDropEvent(
        QPointF(*at),
        Qt.DropAction.CopyAction,
        mime,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
    window.dropEvent(event)


def press_on_table(table, x_mm, y_mm):
    """Click a place of the table."""
    QTest.mouseClick(table.viewport(), Qt.MouseButton.LeftButton, pos=table.mapFromScene(QPointF(x_mm, y_mm)))


def draw_on_table(table, *places_mm):
    """Press at the first place, move over the others and let go at the last."""
    at = [table.mapFromScene(QPointF(x, y)) for x, y in places_mm]
    QTest.mousePress(table.viewport(), Qt.MouseButton.LeftButton, pos=at[0])
    for point in at[1:]:
        table.mouseMoveEvent(
            QMouseEvent(
                QEvent.Type.MouseMove,
                QPointF(point),
                Qt.MouseButton.NoButton,
                Qt.MouseButton.LeftButton,
                Qt.KeyboardModifier.NoModifier,
            )
        )
    QTest.mouseRelease(table.viewport(), Qt.MouseButton.LeftButton, pos=at[-1])


def turn_wheel(widget, notches=-1):
    """Turn the wheel over the middle of a widget, a notch toward oneself; what it does not take its parent is given."""
    where = QPointF(widget.mapToGlobal(widget.rect().center()))
    while widget is not None:
        event = QWheelEvent(
            QPointF(widget.mapFromGlobal(where)),
            where,
            QPoint(),
            QPoint(0, 120 * notches),
            Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        QApplication.sendEvent(widget, event)  # one that no hand made is not passed on by Qt
        widget = None if event.isAccepted() or widget.isWindow() else widget.parentWidget()


def crash(window):
    """Leave a window's copy as a killed process does: written, and its lock free."""
    keeper = window.document.keeper
    keeper.keep()
    keeper.wait()
    keeper._slot.release()
    keeper._slot = None


def come_to_rest(window):
    """Wait until nothing is laid out any more: a scrolled panel follows some events after what holds it."""
    before = None
    for _ in range(50):
        now = [child.geometry() for child in window.findChildren(QWidget) if child.isVisible()]
        if now == before:
            return
        before = now
        QTest.qWait(40)
