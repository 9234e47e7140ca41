"""The strip: the edge unrolled, drawn from the profile."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFont,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QToolTip

from honest_edge.core.values.misregistration import Misregistration, SheetPlace
from honest_edge.core.values.stock import Stock
from honest_edge.core.values.units import MM_PER_INCH, Unit, base_unit
from honest_edge.ui.drawings.paths import qimage
from honest_edge.ui.widgets.fields import counted
from honest_edge.ui.widgets.local import local, shown_length
from honest_edge.ui.widgets.painting import Painted, painter_on
from honest_edge.ui.widgets.theme import figures, px, words
from honest_edge.ui.widgets.tokens import PAPER_TOKENS, Tokens
from honest_edge.ui.widgets.words import one_in, percent

if TYPE_CHECKING:
    from honest_edge.core.edge.forecast import Forecast
    from honest_edge.core.edge.profile import EdgeProfile, WeakPlace
    from honest_edge.core.geometry.paths import Floats

HEIGHT_PX = 172
_LEFT, _TOP, _RIGHT, _BOTTOM = 58, 34, 16, 22
_LEAST_SHOWN_MM = 2.5  # across, on either side
_MOST_ZOOM = 60.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Unrolled:
    """What the strip draws: a profile with the error and the forecast that go with it."""

    edge: EdgeProfile
    expected: Forecast
    error: Misregistration
    stock: Stock
    proposed: bool

    @property
    def place(self) -> SheetPlace:
        """Where on the sheet."""
        return self.expected.place


class EdgeStrip(Painted):
    """Across is distance along the cut, upward is outward; what the error sweeps is a band round the cut."""

    place_chosen = pyqtSignal(float, float)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.setObjectName("strip")
        self.setFixedHeight(px(HEIGHT_PX))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Edge profile")
        self.tokens = tokens
        self._unit: Unit = "mm"
        self._what: Unrolled | None = None
        self._image = QImage()
        self._band: tuple[Floats, Floats] | None = None
        self._shown_mm = _LEAST_SHOWN_MM
        self._zoom, self._from_mm = 1.0, 0.0
        self.weak_places: tuple[WeakPlace, ...] = ()
        self.current = -1

    def show_edge(self, what: Unrolled | None, unit: Unit) -> None:
        """Show a profile, or nothing."""
        before = self._what
        if what is None or before is None or what.edge is not before.edge:
            self.current = -1
            if what is None or before is None or what.edge.length_mm != before.edge.length_mm:
                self._zoom, self._from_mm = 1.0, 0.0
            self._shown_mm = _LEAST_SHOWN_MM if what is None else _shown_mm(what.edge)
            self._image = QImage() if what is None else _shown(what.edge, self._shown_mm)
        self._what, self._unit = what, unit
        self.weak_places, self._band = (), None
        if what is not None:
            self.weak_places = what.edge.weak_places(what.error, what.place, what.expected.visible_mm)
            self._band = what.edge.band(what.error, what.place)
        self.current = min(self.current, len(self.weak_places) - 1)
        self.setAccessibleDescription(self.sentence())
        self.update()

    def sentence(self) -> str:
        """Return the strip in one sentence."""
        what = self._what
        if what is None:
            return ""
        share = f"{percent(what.expected.share_clean)} clean"
        if not self.weak_places:
            return f"{share}; no place shows trouble in 1 of 200 stickers"
        worst = self.weak_places[0]
        trouble = {
            "white": f"{what.stock.bare_name} shows",
            "art": "detail is cut",
            "kiss": "a kiss cut leaves its ring",
        }[worst.trouble]
        if worst.end_mm - worst.start_mm > 0.95 * what.edge.length_mm:
            return f"{share}; {trouble} all the way round, {one_in(worst.chance)} at the worst"
        return f"{share}; {counted(len(self.weak_places), 'place')}, the worst {one_in(worst.chance)}: {trouble}"

    def _length(self, length_mm: float) -> str:
        return shown_length(length_mm, self._unit, digits=2 if self._unit == "mm" else 3)

    def next_weak_place(self, step: int) -> None:
        """Go to the next or previous weak place, in order along the cut."""
        if not self.weak_places:
            return
        order = sorted(range(len(self.weak_places)), key=lambda index: self.weak_places[index].along_mm)
        at = order.index(self.current) + step if self.current in order else (0 if step > 0 else -1)
        self.current = order[at % len(order)]
        weak_place = self.weak_places[self.current]
        self._bring_into_sight(weak_place.along_mm)
        self.place_chosen.emit(weak_place.x_mm, weak_place.y_mm)
        self.update()

    # -- geometry ------------------------------------------------------------------------------------

    def _plot(self) -> QRectF:
        return QRectF(
            px(_LEFT), px(_TOP), self.width() - px(_LEFT) - px(_RIGHT), self.height() - px(_TOP) - px(_BOTTOM)
        )

    @property
    def _length_mm(self) -> float:
        return self._what.edge.length_mm if self._what else 1.0

    @property
    def _span_mm(self) -> float:
        return self._length_mm / self._zoom

    def _x(self, along_mm: float) -> float:
        plot = self._plot()
        return plot.left() + (along_mm - self._from_mm) / self._span_mm * plot.width()

    def _y(self, outward_mm: float) -> float:
        plot = self._plot()
        return plot.center().y() - outward_mm / self._shown_mm * plot.height() / 2

    def _along_at(self, x: float) -> float:
        plot = self._plot()
        return self._from_mm + (x - plot.left()) / plot.width() * self._span_mm

    def _sample_at(self, x: float) -> int | None:
        plot = self._plot()
        if self._what is None or not plot.left() <= x <= plot.right():
            return None
        along = self._what.edge.along_mm
        return min(int(along.searchsorted(self._along_at(x))), len(along) - 1)

    def zoom_by(self, factor: float, along_mm: float | None = None) -> None:
        """Show more or less of the length, holding one place where it is."""
        if self._what is None:
            return
        held = self._from_mm + self._span_mm / 2 if along_mm is None else along_mm
        share = (held - self._from_mm) / self._span_mm
        self._zoom = min(max(self._zoom * factor, 1.0), _MOST_ZOOM)
        self._start_at(held - share * self._span_mm)

    def _start_at(self, from_mm: float) -> None:
        self._from_mm = min(max(from_mm, 0.0), self._length_mm - self._span_mm)
        self.update()

    def _bring_into_sight(self, along_mm: float) -> None:
        if not self._from_mm <= along_mm <= self._from_mm + self._span_mm:
            self._start_at(along_mm - self._span_mm / 2)

    # -- events --------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._what is None:
            return
        for index, weak_place in enumerate(self.weak_places):
            if self._weak_place_box(weak_place).contains(event.position()):
                self.current = index
                self.place_chosen.emit(weak_place.x_mm, weak_place.y_mm)
                self.update()
                return
        sample = self._sample_at(event.position().x())
        if sample is not None:
            self.place_chosen.emit(*self._what.edge.points_mm[sample].tolist())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._what is None:
            return
        sample = self._sample_at(event.position().x())
        if sample is not None:
            QToolTip.showText(event.globalPosition().toPoint(), self.readout(sample), self)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None or self._what is None:
            return
        turned = event.angleDelta()
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier or abs(turned.x()) > abs(turned.y()):
            self._start_at(self._from_mm - (turned.x() or turned.y()) / 960 * self._span_mm)
        else:
            self.zoom_by(1.2 ** (turned.y() / 120), self._along_at(event.position().x()))
        event.accept()

    def readout(self, sample: int) -> str:
        """Return what lies across the cut at one sample, in words."""
        if self._what is None:
            return ""
        edge = self._what.edge
        outward, detail = float(edge.outward_mm[sample]), float(edge.detail_mm[sample])
        at = f"at {self._length(float(edge.along_mm[sample]))}: "
        if edge.is_kiss[sample]:
            ways = [f"over {edge.reach_mm:g} mm" if d >= edge.reach_mm - 1e-6 else self._length(d)
                    for d in (outward, detail)]  # fmt: skip
            return f"{at}a sticker’s kiss cut may land {ways[0]} outward, {ways[1]} inward"
        if abs(outward) >= edge.reach_mm - 1e-6:
            far = f"ink reaches over {edge.reach_mm:g} mm past the cut"
            across = far if outward > 0 else "no ink near the cut"
        elif outward >= 0:
            across = f"ink reaches {self._length(outward)} past the cut"
        else:
            across = f"ink ends {self._length(-outward)} inside the cut"
        if outward >= 0 and detail < edge.reach_mm - 1e-6:
            across += f", detail begins {self._length(detail)} inside"
        return at + across

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}
        zooms = {Qt.Key.Key_Plus: 1.5, Qt.Key.Key_Equal: 1.5, Qt.Key.Key_Minus: 1 / 1.5}
        if event is not None and event.key() in steps:
            self.next_weak_place(steps[Qt.Key(event.key())])
            return
        if event is not None and event.key() in zooms and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom_by(zooms[Qt.Key(event.key())])
            return
        super().keyPressEvent(event)

    # -- painting ------------------------------------------------------------------------------------

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = painter_on(self)
        painter.fillRect(self.rect(), QColor(self.tokens.panel))
        painter.setPen(QColor(self.tokens.hairline))
        painter.drawLine(0, 0, self.width(), 0)
        painter.setPen(QColor(self.tokens.ink))
        painter.setFont(words(14, QFont.Weight.DemiBold))
        proposed = self._what is not None and self._what.proposed
        painter.drawText(QPointF(16, px(22)), "As proposed" if proposed else "Edge, once round")
        if self._what is None:
            painter.setFont(words(13))
            painter.setPen(QColor(self.tokens.soft))
            painter.drawText(QPointF(px(150), px(22)), "no cut yet")
            return
        self._paint_head(painter, self._what)
        painter.save()
        painter.setClipRect(self._plot())
        self._paint_plot(painter, self._what)
        painter.restore()
        self._paint_axes(painter, self._plot())
        if self.hasFocus():
            painter.setPen(QPen(QColor(self.tokens.accent), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def _paint_head(self, painter: QPainter, what: Unrolled) -> None:
        painter.setFont(words(13))
        metrics = painter.fontMetrics()
        text = f"cut {shown_length(what.edge.length_mm, self._unit)}"
        if self._zoom > 1:
            text += local(f", {self._zoom:.1f} × closer")
        room = self.width() - px(150) - px(_RIGHT) - metrics.horizontalAdvance(text) - px(12)
        told = metrics.elidedText(local(self.sentence()), Qt.TextElideMode.ElideRight, room)
        painter.setPen(QColor(self.tokens.danger if self.weak_places else self.tokens.fine))
        painter.drawText(QPointF(px(150), px(22)), told)
        painter.setPen(QColor(self.tokens.soft))
        painter.drawText(QRectF(0, px(8), self.width() - px(_RIGHT), px(20)), Qt.AlignmentFlag.AlignRight, text)

    def _paint_plot(self, painter: QPainter, what: Unrolled) -> None:
        plot = self._plot()
        painter.fillRect(plot, QColor(*what.stock.rgb))
        whole = QRectF(self._x(0), plot.top(), plot.width() * self._zoom, plot.height())
        painter.drawImage(whole, self._image)
        self._paint_band(painter, what)
        self._paint_detail(painter, what)
        begins = self._x(what.edge.kiss_from_mm)
        painter.setPen(QPen(QColor(PAPER_TOKENS.through), 2))
        painter.drawLine(QPointF(plot.left(), self._y(0)), QPointF(min(begins, plot.right()), self._y(0)))
        painter.setPen(QPen(QColor(PAPER_TOKENS.kiss), 1.4))
        painter.drawLine(QPointF(max(begins, plot.left()), self._y(0)), QPointF(plot.right(), self._y(0)))
        if what.edge.is_kiss.any():
            self._paint_kiss_rooms(painter, what)
        for index, weak_place in enumerate(self.weak_places):
            painter.setPen(QPen(QColor(PAPER_TOKENS.danger), 3 if index == self.current else 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self._weak_place_box(weak_place))

    def _paint_band(self, painter: QPainter, what: Unrolled) -> None:
        """What 19 of 20 cuts sweep."""
        if self._band is None:
            return
        low, high = (self._line(what, side) for side in self._band)
        fill = QColor(PAPER_TOKENS.accent)
        fill.setAlpha(38)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(fill)
        painter.drawPolygon(QPolygonF([*high, *reversed(low)]))
        painter.setPen(QPen(QColor(PAPER_TOKENS.accent), 1, Qt.PenStyle.DashLine))
        for side in (low, high):
            painter.drawPolyline(QPolygonF(side))

    def _paint_kiss_rooms(self, painter: QPainter, what: Unrolled) -> None:
        """How far a kiss cut may land to either side: a line, with a bead where each sticker begins."""
        painter.setPen(QPen(QColor(PAPER_TOKENS.kiss), 1, Qt.PenStyle.DotLine))
        kiss = what.edge.is_kiss
        along = what.edge.along_mm[kiss]
        step = max(1, int(len(along) / self._zoom / max(1.0, self._plot().width() / 2)))
        for levels in (what.edge.outward_mm[kiss], -what.edge.detail_mm[kiss]):
            kept = levels.clip(-self._shown_mm, self._shown_mm)
            painter.drawPolyline(
                QPolygonF([QPointF(self._x(x), self._y(y)) for x, y in zip(along[::step], kept[::step], strict=True)])
            )

    def _paint_detail(self, painter: QPainter, what: Unrolled) -> None:
        """Where what must not be cut begins: a line of short ticks that points inward."""
        if not what.expected.is_inked:
            return
        painter.setPen(QPen(QColor(PAPER_TOKENS.danger), 1.2))
        edge, last = what.edge, -10.0
        rim = ~edge.is_kiss
        for along, detail in zip(edge.along_mm[rim].tolist(), edge.detail_mm[rim].tolist(), strict=True):
            x = self._x(along)
            if detail < self._shown_mm and x - last >= 5:
                painter.drawLine(QPointF(x, self._y(-detail)), QPointF(x, self._y(-detail) + 4))
                last = x

    def _line(self, what: Unrolled, level_mm: Floats) -> list[QPointF]:
        """Return a line along the strip, with no more points than can be seen."""
        along = what.edge.along_mm
        step = max(1, int(len(along) / self._zoom / max(1.0, self._plot().width() / 3)))
        return [
            QPointF(self._x(x), self._y(min(max(y, -self._shown_mm), self._shown_mm)))
            for x, y in zip(along[::step].tolist(), level_mm[::step].tolist(), strict=True)
        ]

    def _weak_place_box(self, weak_place: WeakPlace) -> QRectF:
        plot = self._plot()
        left, right = self._x(weak_place.start_mm), self._x(weak_place.end_mm)
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
            text = f"{value:+g}".replace("-", "−") if level else f"0 {base_unit(self._unit)}"
            box = QRectF(0, self._y(level) - px(8), px(_LEFT) - 8, px(16))
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, local(text))
        unit_mm = 1.0 if self._unit == "mm" else MM_PER_INCH
        span = self._span_mm / unit_mm
        steps = (0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1e3, 1e4, 1e5)
        widest = painter.fontMetrics().horizontalAdvance(f"{span:.4g} {base_unit(self._unit)}") + px(12)
        step = next(s for s in steps if span / s <= 12 and plot.width() * s / span >= widest)
        first = int(self._from_mm / unit_mm / step)
        for mark in range(first, int((self._from_mm / unit_mm + span) / step) + 1):
            x = self._x(mark * step * unit_mm)
            if x < plot.left() - 0.5:
                continue
            painter.drawLine(QPointF(x, plot.bottom()), QPointF(x, plot.bottom() + 4))
            text = f"{mark * step:g} {base_unit(self._unit)}"
            if x + 3 + painter.fontMetrics().horizontalAdvance(text) <= self.width():
                painter.drawText(QPointF(x + 3, plot.bottom() + px(15)), local(text))


def _shown_mm(edge: EdgeProfile) -> float:
    """Return how far across to show, so that a border's far side is in sight."""
    return min(edge.reach_mm, max(_LEAST_SHOWN_MM, 1.0 - edge.typical_outward_mm))


def _shown(edge: EdgeProfile, shown_mm: float) -> QImage:
    """Return the middle rows of the profile's picture."""
    rows = edge.strip.shape[0]
    half = round(rows / 2 * shown_mm / edge.reach_mm)
    return qimage(edge.strip[rows // 2 - half : rows // 2 + half + 1])
