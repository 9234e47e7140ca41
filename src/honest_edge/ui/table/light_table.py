"""The light table: pan, zoom, rulers, caliper, before and after."""

from __future__ import annotations

import math

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QNativeGestureEvent,
    QPainter,
    QPen,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QGraphicsScene, QGraphicsView, QWidget

from honest_edge.core.values.units import MM_PER_INCH, Unit
from honest_edge.ui.table.ruler import Measured, Ruler, ruler_px
from honest_edge.ui.table.tool import Tool
from honest_edge.ui.widgets.local import local, shown_length
from honest_edge.ui.widgets.theme import figures, px, words
from honest_edge.ui.widgets.tokens import Tokens

MOST_ZOOM, LEAST_ZOOM = 64.0, 0.05
_STILL_PX = 3  # a press that moves less is a click


class LightTable(Measured):
    """Shows the work at any scale; the scene's unit is the millimetre."""

    view_changed = pyqtSignal()
    clicked = pyqtSignal(float, float)
    stroke_drawn = pyqtSignal(object, list)
    """A tool, and the places in millimetres."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.unit: Unit = "mm"
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # x grows to the right in every language
        self._scene = QGraphicsScene(self)
        self._scene.setItemIndexMethod(QGraphicsScene.ItemIndexMethod.NoIndex)
        self.setScene(self._scene)
        self.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        self.setDragMode(QGraphicsView.DragMode.ScrollHandDrag)
        self.setTransformationAnchor(QGraphicsView.ViewportAnchor.AnchorUnderMouse)
        self.setResizeAnchor(QGraphicsView.ViewportAnchor.AnchorViewCenter)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setViewportUpdateMode(QGraphicsView.ViewportUpdateMode.FullViewportUpdate)
        self.setFrameShape(QGraphicsView.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Light table")
        self.setViewportMargins(ruler_px(), ruler_px(), 0, 0)
        self._across, self._down = Ruler(self, upright=False), Ruler(self, upright=True)
        self._corner = QWidget(self)
        self._content = QRectF(0, 0, 100, 100)
        self._fitted, self._air = True, 0.12
        self.caliper = False
        self._caliper_ends: tuple[QPointF, QPointF] | None = None
        self.tool: Tool | None = None
        self._brush_mm = 1.0
        self._stroke: list[QPointF] = []
        self._pressed: QPointF | None = None
        self.caption = ""
        self.set_tokens(tokens)

    # -- what is shown -------------------------------------------------------------------------------

    def drawing(self) -> QGraphicsScene:
        """Return the scene to draw into."""
        return self._scene

    def set_tokens(self, tokens: Tokens) -> None:
        """Change the theme."""
        self.tokens = tokens
        self.setBackgroundBrush(QColor(tokens.table))
        self._corner.setStyleSheet(f"background: {tokens.table}")
        self._refresh_rulers()

    def set_unit(self, unit: Unit) -> None:
        """Change the unit of rulers and caliper."""
        self.unit = unit
        self._refresh_rulers()

    def set_content(self, content: QRectF, caption: str, *, refit: bool, air: float = 0.12) -> None:
        """Say what the scene's content is; ``refit`` or a view never moved by hand shows it whole."""
        self._content, self.caption, self._air = content, local(caption), air
        wide = max(content.width(), content.height(), 1.0) * 4
        self._scene.setSceneRect(content.adjusted(-wide, -wide, wide, wide))
        if refit or self._fitted:
            self.show_all()
        self.viewport().update()  # type: ignore[union-attr]

    @property
    def hint(self) -> str:
        """What the hand can do on the table now."""
        if self.caliper:
            return local("Caliper: drag from one place to another    M: put it away")
        if self.tool is not None:
            return local(f"{self.tool.word}: {self.tool.hint}    Esc: lay it down")
        return self.caption

    def show_caption(self, caption: str) -> None:
        """Show words alone."""
        self._scene.clear()
        self.caption = local(caption)
        self.viewport().update()  # type: ignore[union-attr]

    def show_before(self, before: bool) -> None:
        """Show the untouched picture while a key is held."""
        for item in self._scene.items():
            if item.data(0) == "before":
                item.setVisible(before)
            elif item.data(0) == "after":
                item.setVisible(not before)

    # -- scale ---------------------------------------------------------------------------------------

    @property
    def _real_size(self) -> float:
        return self.logicalDpiX() / MM_PER_INCH

    @property
    def zoom(self) -> float:
        """1.0 shows a millimetre as the screen's own millimetre."""
        return self.pixels_per_mm / self._real_size

    def set_zoom(self, zoom: float) -> None:
        """Scale about the middle, or the pointer during a wheel turn."""
        wanted = min(max(zoom, LEAST_ZOOM), MOST_ZOOM) * self._real_size
        factor = wanted / self.pixels_per_mm
        self._fitted = False
        self.scale(factor, factor)
        self._refresh_rulers()

    def zoom_by(self, factor: float) -> None:
        """Scale by a factor."""
        self.set_zoom(self.zoom * factor)

    def show_all(self) -> None:
        """Show the whole content with some air."""
        space = self.viewport().rect()  # type: ignore[union-attr]
        room = 1 - 2 * self._air
        scale = min(
            space.width() * room / max(self._content.width(), 1e-6),
            space.height() * room / max(self._content.height(), 1e-6),
            MOST_ZOOM * self._real_size,
        )
        self.resetTransform()
        self.scale(max(scale, 1e-3), max(scale, 1e-3))
        self.centerOn(self._content.center())
        self._fitted = True
        self._refresh_rulers()

    def go_to(self, x_mm: float, y_mm: float) -> None:
        """Bring a place into the middle, close enough to judge half a millimetre."""
        self.setTransformationAnchor(QGraphicsView.ViewportAnchor.NoAnchor)
        self.set_zoom(max(self.zoom, 6.0))
        self.setTransformationAnchor(QGraphicsView.ViewportAnchor.AnchorUnderMouse)
        self.centerOn(QPointF(x_mm, y_mm))
        self._refresh_rulers()

    def go_to_box(self, left_mm: float, top_mm: float, right_mm: float, bottom_mm: float) -> None:
        """Bring a place into the middle, as large as shows all of it with as much again round it."""
        self.go_to((left_mm + right_mm) / 2, (top_mm + bottom_mm) / 2)
        space = self.viewport().rect()  # type: ignore[union-attr]
        wide, high = max(right_mm - left_mm, 1e-3), max(bottom_mm - top_mm, 1e-3)
        fits = min(space.width() / wide, space.height() / high) / 2 / self._real_size
        if fits < self.zoom:
            self.set_zoom(fits)
            self.centerOn(QPointF((left_mm + right_mm) / 2, (top_mm + bottom_mm) / 2))
            self._refresh_rulers()

    def _refresh_rulers(self) -> None:
        self._across.update()
        self._down.update()
        self.view_changed.emit()

    # -- events --------------------------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        side = ruler_px()
        self._across.setGeometry(side, 0, self.width() - side, side)
        self._down.setGeometry(0, side, side, self.height() - side)
        self._corner.setGeometry(0, 0, side, side)
        if self._fitted:
            self.show_all()

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        super().scrollContentsBy(dx, dy)
        self._refresh_rulers()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            self.zoom_by(1.0015 ** event.angleDelta().y())

    def viewportEvent(self, event: QEvent | None) -> bool:
        if isinstance(event, QNativeGestureEvent) and event.gestureType() == Qt.NativeGestureType.ZoomNativeGesture:
            self.zoom_by(1 + event.value())
            return True
        return super().viewportEvent(event)

    def set_caliper(self, on: bool) -> None:
        """Measure by dragging instead of moving the table."""
        self.caliper, self._caliper_ends = on, None
        self.setDragMode(QGraphicsView.DragMode.NoDrag if on else QGraphicsView.DragMode.ScrollHandDrag)
        self.viewport().setCursor(Qt.CursorShape.CrossCursor if on else Qt.CursorShape.OpenHandCursor)  # type: ignore[union-attr]
        self.viewport().update()  # type: ignore[union-attr]

    @property
    def caliper_mm(self) -> float | None:
        """The distance between the caliper's ends."""
        if self._caliper_ends is None:
            return None
        gap = self._caliper_ends[1] - self._caliper_ends[0]
        return math.hypot(gap.x(), gap.y())

    def set_tool(self, tool: Tool | None, brush_mm: float = 1.0) -> None:
        """Draw on the table instead of moving it, a brush as wide as is told; None moves it again."""
        self.tool, self._brush_mm, self._stroke = tool, brush_mm, []
        self.setDragMode(QGraphicsView.DragMode.NoDrag if tool else QGraphicsView.DragMode.ScrollHandDrag)
        self.viewport().setCursor(Qt.CursorShape.CrossCursor if tool else Qt.CursorShape.OpenHandCursor)  # type: ignore[union-attr]
        self.viewport().update()  # type: ignore[union-attr]

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton and (self.caliper or self.tool):
            at = self.mapToScene(event.position().toPoint())
            if self.caliper:
                self._caliper_ends = (at, at)
            else:
                self._stroke = [at]
            return
        self._fitted = False
        self._pressed = event.position() if event is not None else None
        super().mousePressEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._stroke and self.tool is not None:
            stroke, self._stroke = self._stroke, []
            self.stroke_drawn.emit(self.tool, [(point.x(), point.y()) for point in stroke])
            self.viewport().update()  # type: ignore[union-attr]
            return
        super().mouseReleaseEvent(event)
        if event is not None and self._pressed is not None:
            moved = event.position() - self._pressed
            self._pressed = None
            if math.hypot(moved.x(), moved.y()) <= _STILL_PX and not self.caliper:
                at = self.mapToScene(event.position().toPoint())
                self.clicked.emit(at.x(), at.y())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._stroke and self.tool is not None:
            at = self.mapToScene(event.position().toPoint())
            # a line or a box has two ends, a brush every place between
            self._stroke = [self._stroke[0], at] if self.tool.has_two_ends else [*self._stroke, at]
            self.viewport().update()  # type: ignore[union-attr]
            return
        if event is not None and self.caliper and self._caliper_ends and event.buttons():
            self._caliper_ends = (self._caliper_ends[0], self.mapToScene(event.position().toPoint()))
            self.viewport().update()  # type: ignore[union-attr]
            return
        super().mouseMoveEvent(event)

    def mouseDoubleClickEvent(self, _event: QMouseEvent | None) -> None:
        self.show_all()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Plus: 1.25, Qt.Key.Key_Equal: 1.25, Qt.Key.Key_Minus: 0.8}
        if event is not None and event.key() in steps and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.setTransformationAnchor(QGraphicsView.ViewportAnchor.AnchorViewCenter)
            self.zoom_by(steps[Qt.Key(event.key())])
            self.setTransformationAnchor(QGraphicsView.ViewportAnchor.AnchorUnderMouse)
            return
        arrows = (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down)
        if event is not None and event.key() in arrows:
            event.ignore()  # they belong to the window: the table is moved by hand
            return
        super().keyPressEvent(event)

    def drawForeground(self, painter: QPainter | None, _rect: QRectF) -> None:
        if painter is None:
            return
        painter.save()
        painter.setLayoutDirection(Qt.LayoutDirection.LeftToRight)
        painter.resetTransform()
        height, width = self.viewport().height(), self.viewport().width()  # type: ignore[union-attr]
        if self.scene() is not None and not self.drawing().items():
            painter.setFont(words(15))
            painter.setPen(QColor(self.tokens.ink))
            painter.drawText(
                QRectF(40, 0, width - 80, height),
                Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                self.caption,
            )
        else:
            painter.setFont(words(12))
            metrics = painter.fontMetrics()
            top, high = height - px(30), px(22)
            caption = metrics.elidedText(self.hint, Qt.TextElideMode.ElideRight, width - px(120))
            self._draw_note(painter, QRectF(8, top, metrics.horizontalAdvance(caption) + 16, high), caption)
            painter.setFont(figures(12))
            self._draw_note(painter, QRectF(width - px(74) - 8, top, px(74), high), f"{self.zoom * 100:.0f} %")
        if len(self._stroke) > 1 and self.tool is not None:
            self._draw_stroke(painter, [QPointF(self.mapFromScene(point)) for point in self._stroke], self.tool)
        if self._caliper_ends is not None:
            self._draw_caliper(painter, *(QPointF(self.mapFromScene(end)) for end in self._caliper_ends))
        painter.restore()

    def _draw_note(self, painter: QPainter, box: QRectF, text: str) -> None:
        """Words on a ground of their own, so that they can be read over any art."""
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(self.tokens.table))
        painter.drawRoundedRect(box, 6, 6)
        painter.setPen(QColor(self.tokens.soft))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _draw_stroke(self, painter: QPainter, points: list[QPointF], tool: Tool) -> None:
        colour = QColor(getattr(self.tokens, tool.tone))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if tool.shape in ("box", "oval", "loop"):
            painter.setPen(QPen(colour, 2, Qt.PenStyle.DashLine))
            box = QRectF(points[0], points[-1]).normalized()
            match tool.shape:
                case "box":
                    painter.drawRect(box)
                case "oval":
                    painter.drawEllipse(box)
                case _:
                    painter.drawPolygon(QPolygonF(points))
            return
        width = 3.0
        if tool.shape == "brush":
            colour.setAlpha(120)
            width = max(1.0, self._brush_mm * self.pixels_per_mm)
        pen = QPen(colour, width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin)
        painter.setPen(pen)
        painter.drawPolyline(QPolygonF(points))

    def _draw_caliper(self, painter: QPainter, start: QPointF, end: QPointF) -> None:
        painter.setPen(QPen(QColor(self.tokens.accent), 2))
        painter.drawLine(start, end)
        gap = end - start
        length = math.hypot(gap.x(), gap.y())
        if length > 0:
            jaw = QPointF(-gap.y(), gap.x()) / length * 7
            painter.drawLine(start - jaw, start + jaw)
            painter.drawLine(end - jaw, end + jaw)
        text = shown_length(self.caliper_mm or 0.0, self.unit, digits=2 if self.unit == "mm" else 3)
        painter.setFont(figures(13))
        box = QRectF(0, 0, painter.fontMetrics().horizontalAdvance(text) + 16, px(22))
        box.moveCenter((start + end) / 2 - QPointF(0, px(20)))
        painter.setBrush(QColor(self.tokens.panel))
        painter.drawRoundedRect(box, 6, 6)
        painter.setPen(QColor(self.tokens.ink))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
