"""The strip: the edge unrolled, drawn from the profile."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from honest_edge.core.values.units import MM_PER_INCH, Unit, format_length
from honest_edge.ui.drawing import qimage
from honest_edge.ui.fields import counted
from honest_edge.ui.theme import PAPER_TOKENS, Tokens, figures, words

if TYPE_CHECKING:
    from honest_edge.core.edge.profile import EdgeProfile, Spot

HEIGHT_PX = 172
_LEFT, _TOP, _RIGHT, _BOTTOM = 58, 34, 16, 22
_LEAST_SHOWN_MM = 2.5  # across, on either side


class EdgeStrip(QWidget):
    """Across is distance along the cut, upward is outward; the assumed drift is a band round the cut."""

    place_chosen = pyqtSignal(float, float)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.setObjectName("strip")
        self.setFixedHeight(HEIGHT_PX)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Edge profile")
        self.tokens = tokens
        self._unit: Unit = "mm"
        self._edge: EdgeProfile | None = None
        self._image = QImage()
        self._drift_mm = 0.0
        self._shown_mm = _LEAST_SHOWN_MM
        self.spots: tuple[Spot, ...] = ()
        self.current = -1

    def show_edge(self, edge: EdgeProfile | None, drift_mm: float, unit: Unit) -> None:
        """Show a profile, or nothing."""
        if edge is not self._edge:
            self.current = -1
            self._shown_mm = _LEAST_SHOWN_MM if edge is None else _shown_mm(edge)
            self._image = QImage() if edge is None else _shown(edge, self._shown_mm)
        self._edge, self._drift_mm, self._unit = edge, drift_mm, unit
        self.spots = () if edge is None else edge.spots(drift_mm)
        self.current = min(self.current, len(self.spots) - 1)
        self.setAccessibleDescription(self.sentence())
        self.update()

    def sentence(self) -> str:
        """Return the strip in one sentence."""
        if self._edge is None:
            return ""
        drift = self._length(self._drift_mm)
        if not self.spots:
            return f"stands {drift} of drift everywhere, weakest {self._length(self._edge.narrowest_mm)}"
        share = self._edge.share_at_risk(self._drift_mm)
        if share > 0.95:
            return f"{drift} of drift shows all the way round"
        places = counted(len(self.spots), "place")
        return f"{drift} of drift shows in {places}, {share * 100:.0f} % of the edge"

    def _length(self, length_mm: float) -> str:
        return format_length(length_mm, self._unit, digits=2 if self._unit == "mm" else 3)

    def next_spot(self, step: int) -> None:
        """Go to the next or previous weak place, in order along the cut."""
        if not self.spots:
            return
        order = sorted(range(len(self.spots)), key=lambda index: self.spots[index].along_mm)
        at = order.index(self.current) + step if self.current in order else (0 if step > 0 else -1)
        self.current = order[at % len(order)]
        spot = self.spots[self.current]
        self.place_chosen.emit(spot.x_mm, spot.y_mm)
        self.update()

    # -- geometry ------------------------------------------------------------------------------------

    def _plot(self) -> QRectF:
        return QRectF(_LEFT, _TOP, self.width() - _LEFT - _RIGHT, self.height() - _TOP - _BOTTOM)

    def _x(self, along_mm: float) -> float:
        plot = self._plot()
        length = self._edge.length_mm if self._edge else 1.0
        return plot.left() + along_mm / length * plot.width()

    def _y(self, outward_mm: float) -> float:
        plot = self._plot()
        return plot.center().y() - outward_mm / self._shown_mm * plot.height() / 2

    def _sample_at(self, x: float) -> int | None:
        plot = self._plot()
        if self._edge is None or not plot.left() <= x <= plot.right():
            return None
        along_mm = (x - plot.left()) / plot.width() * self._edge.length_mm
        return min(int(self._edge.along_mm.searchsorted(along_mm)), len(self._edge.along_mm) - 1)

    # -- events --------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._edge is None:
            return
        for index, spot in enumerate(self.spots):
            if self._spot_box(spot).contains(event.position()):
                self.current = index
                self.place_chosen.emit(spot.x_mm, spot.y_mm)
                self.update()
                return
        sample = self._sample_at(event.position().x())
        if sample is not None:
            self.place_chosen.emit(*self._edge.points_mm[sample].tolist())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._edge is None:
            return
        sample = self._sample_at(event.position().x())
        if sample is not None:
            QToolTip.showText(event.globalPosition().toPoint(), self.readout(sample), self)

    def readout(self, sample: int) -> str:
        """Return what lies across the cut at one sample, in words."""
        if self._edge is None:
            return ""
        outward = float(self._edge.outward_mm[sample])
        at = f"at {self._length(float(self._edge.along_mm[sample]))}: "
        if abs(outward) >= self._edge.reach_mm - 1e-6:
            far = f"ink reaches over {self._edge.reach_mm:g} mm past the cut"
            return at + (far if outward > 0 else "no ink near the cut")
        if outward >= 0:
            return at + f"ink reaches {self._length(outward)} past the cut"
        return at + f"ink ends {self._length(-outward)} inside the cut"

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}
        if event is not None and event.key() in steps:
            self.next_spot(steps[Qt.Key(event.key())])
            return
        super().keyPressEvent(event)

    # -- painting ------------------------------------------------------------------------------------

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self.tokens.panel))
        painter.setPen(QColor(self.tokens.hairline))
        painter.drawLine(0, 0, self.width(), 0)
        painter.setPen(QColor(self.tokens.ink))
        painter.setFont(words(14, QFont.Weight.DemiBold))
        painter.drawText(QPointF(16, 22), "Edge, once round")
        if self._edge is None:
            painter.setFont(words(13))
            painter.setPen(QColor(self.tokens.soft))
            painter.drawText(QPointF(150, 22), "no cut yet")
            return
        self._paint_head(painter)
        self._paint_plot(painter)
        if self.hasFocus():
            painter.setPen(QPen(QColor(self.tokens.accent), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def _paint_head(self, painter: QPainter) -> None:
        if self._edge is None:
            return
        painter.setFont(words(13))
        painter.setPen(QColor(self.tokens.danger if self.spots else self.tokens.fine))
        painter.drawText(QPointF(150, 22), self.sentence())
        painter.setPen(QColor(self.tokens.soft))
        text = f"cut {format_length(self._edge.length_mm, self._unit)}"
        painter.drawText(QRectF(0, 8, self.width() - _RIGHT, 20), Qt.AlignmentFlag.AlignRight, text)

    def _paint_plot(self, painter: QPainter) -> None:
        edge = self._edge
        if edge is None:
            return
        plot = self._plot()
        painter.fillRect(plot, QColor("white"))
        painter.drawImage(plot, self._image)
        band = QColor(PAPER_TOKENS.accent)
        band.setAlpha(38)
        drift = min(self._drift_mm, self._shown_mm)
        painter.fillRect(QRectF(QPointF(plot.left(), self._y(drift)), QPointF(plot.right(), self._y(-drift))), band)
        painter.setPen(QPen(QColor(PAPER_TOKENS.accent), 1, Qt.PenStyle.DashLine))
        for level in (drift, -drift):
            painter.drawLine(QPointF(plot.left(), self._y(level)), QPointF(plot.right(), self._y(level)))
        painter.setPen(QPen(QColor(PAPER_TOKENS.through), 2))
        painter.drawLine(QPointF(plot.left(), self._y(0)), QPointF(plot.right(), self._y(0)))
        self._paint_axes(painter, plot)
        for index, spot in enumerate(self.spots):
            painter.setPen(QPen(QColor(PAPER_TOKENS.danger), 3 if index == self.current else 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self._spot_box(spot))

    def _spot_box(self, spot: Spot) -> QRectF:
        plot = self._plot()
        left, right = self._x(spot.start_mm), self._x(spot.end_mm)
        if right - left < 8:
            middle = (left + right) / 2
            left, right = middle - 4, middle + 4
        return QRectF(left, plot.top(), right - left, plot.height())

    def _paint_axes(self, painter: QPainter, plot: QRectF) -> None:
        painter.setFont(figures(11))
        painter.setPen(QColor(self.tokens.soft))
        levels = (2.0, 0.0, -2.0) if self._unit == "mm" else (0.08 * MM_PER_INCH, 0.0, -0.08 * MM_PER_INCH)
        for level in levels:
            value = level if self._unit == "mm" else level / MM_PER_INCH
            text = f"{value:+g}".replace("-", "−") if level else f"0 {self._unit}"
            box = QRectF(0, self._y(level) - 8, _LEFT - 8, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text)
        if self._edge is None:
            return
        unit_mm = 1.0 if self._unit == "mm" else MM_PER_INCH
        length = self._edge.length_mm / unit_mm
        step = next(s for s in (0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1e3, 1e4, 1e5) if length / s <= 12)
        for mark in range(int(length / step) + 1):
            x = self._x(mark * step * unit_mm)
            painter.drawLine(QPointF(x, plot.bottom()), QPointF(x, plot.bottom() + 4))
            text = f"{mark * step:g} {self._unit}"
            if x + 3 + painter.fontMetrics().horizontalAdvance(text) <= self.width():
                painter.drawText(QPointF(x + 3, plot.bottom() + 15), text)


def _shown_mm(edge: EdgeProfile) -> float:
    """Return how far across to show, so that a border's far side is in sight."""
    return min(edge.reach_mm, max(_LEAST_SHOWN_MM, 1.0 - edge.typical_outward_mm))


def _shown(edge: EdgeProfile, shown_mm: float) -> QImage:
    """Return the middle rows of the profile's picture."""
    rows = edge.strip.shape[0]
    half = round(rows / 2 * shown_mm / edge.reach_mm)
    return qimage(edge.strip[rows // 2 - half : rows // 2 + half + 1])
