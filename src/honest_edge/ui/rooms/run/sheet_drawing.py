"""The sheet of a step: what was printed, what is cut, and what is pointed at; tapped or walked by keys."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFocusEvent,
    QHelpEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPolygonF,
    QTransform,
)
from PyQt6.QtWidgets import QSizePolicy, QToolTip

from honest_edge.core.values.specs import LineKind
from honest_edge.ui.drawings.cased_line import casing_of
from honest_edge.ui.drawings.paths import line_pen, painter_path
from honest_edge.ui.rooms.run.page import DrawingKind
from honest_edge.ui.rooms.run.pointer_drawing import paint_around, paint_pen
from honest_edge.ui.widgets.painting import Painted, painter_on
from honest_edge.ui.widgets.theme import px, words
from honest_edge.ui.widgets.tokens import PAPER_TOKENS, Tokens

if TYPE_CHECKING:
    from honest_edge.app.run.practice import CutSheet
    from honest_edge.core.geometry.paths import Floats
    from honest_edge.core.values.run_seal import SealedRun
    from honest_edge.ui.rooms.run.machine_views import Around

_PPI = 110.0
_FOUND = "#2F6B3A"
_WHITE = QColor("white")


@dataclass(slots=True)
class SheetPicture:
    """What is drawn.

    Attributes:
        seal: of the run.
        page: of the layout.
        kind: what is pointed at.
        print: the printed page; None for bare stock.
        copy: the proof sticker.
        found: marks that were found.
        bad: stickers that are bad, each with why.
        chosen: stickers that are to be cut alone.
        skipped: stickers that are not cut.
        cut: where the practice bench's cuts went; None for where they were planned.
        done: lines that the machine has cut, in millimetres of the sheet.
        around: what is seen round the practice pointer.
        lengths: what stands at the arrows across and down.
    """

    seal: SealedRun
    page: int
    kind: DrawingKind = "plain"
    print: QImage | None = None
    copy: int | None = None
    found: Collection[int] = ()
    bad: Mapping[int, str] = field(default_factory=dict)
    chosen: Collection[int] = ()
    skipped: Collection[int] = ()
    cut: CutSheet | None = None
    done: Sequence[Floats] = ()
    around: Around | None = None
    lengths: tuple[str, str] = ("", "")


class SheetDrawing(Painted):
    """Paints one sheet as large as there is room."""

    tapped = pyqtSignal(int)
    mark_tapped = pyqtSignal(int)

    def __init__(self, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        self._tokens = tokens
        self.picture: SheetPicture | None = None
        self._paths: list[list[tuple[LineKind, QPainterPath]]] = []
        self._made_of: tuple[str, int] = ("", -1)
        self.at = 0
        """The sticker that the keys stand on."""
        self.setMinimumSize(160, 160)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("The sheet")

    def show_picture(self, picture: SheetPicture | None) -> None:
        """Show another sheet, or nothing."""
        self.picture = picture
        if picture is not None and self._made_of != (picture.seal.run, picture.page):
            from honest_edge.app.run.sealing import ring_of

            self._made_of, self.at = (picture.seal.run, picture.page), 0
            self._paths = [
                [(line.kind, painter_path([ring_of(line)])) for line in copy.lines]
                for copy in picture.seal.pages[picture.page].copies
            ]
        can_be_tapped = picture is not None and picture.kind in ("inspect", "some", "marks")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if can_be_tapped else Qt.FocusPolicy.NoFocus)
        self.setAccessibleDescription("" if picture is None else self._described(picture))
        self.update()

    def _described(self, picture: SheetPicture) -> str:
        """Return what is drawn, in words."""
        if picture.kind == "marks":
            states = [
                f"{n + 1} {name}: {'found' if n in picture.found else 'not found yet'}"
                for n, name in enumerate(picture.seal.mark_names)
            ]
            return "; ".join(states)
        if picture.kind in ("inspect", "some"):
            return "; ".join(self._said(copy) for copy in range(len(self._paths)))
        return f"{len(self._paths)} stickers"

    def _said(self, copy: int) -> str:
        """Return what is known of one sticker, in words."""
        picture = self.picture
        if picture is None:
            return ""
        design = picture.seal.designs[picture.seal.pages[picture.page].copies[copy].design].name
        if copy in picture.skipped:
            return f"{copy + 1} {design}: not cut"
        if picture.kind == "some":
            return f"{copy + 1} {design}: {'to be cut' if copy in picture.chosen else 'left'}"
        return f"{copy + 1} {design}: {picture.bad.get(copy, 'good')}"

    # -- painting ---------------------------------------------------------------------------------------

    def _place(self) -> QTransform:
        """Return where millimetres of the sheet come to lie."""
        assert self.picture is not None
        width, height = self.picture.seal.sheet.size_mm
        air = px(28)
        scale = min((self.width() - 2 * air) / width, (self.height() - 2 * air) / height)
        left, top = (self.width() - scale * width) / 2, (self.height() - scale * height) / 2
        return QTransform.fromTranslate(left, top).scale(scale, scale)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        tokens, picture = self._tokens(), self.picture
        painter = painter_on(self)
        painter.fillRect(self.rect(), QColor(tokens.table))
        if picture is None:
            return
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if picture.kind == "pen":
            paint_pen(painter, self.rect())
            return
        if picture.around is not None:
            paint_around(painter, self.rect(), picture.seal.sheet, picture.around)
            return
        place = self._place()
        width, height = picture.seal.sheet.size_mm
        paper = place.mapRect(QRectF(0, 0, width, height))
        painter.fillRect(paper.translated(px(4), px(5)), QColor(0, 0, 0, 28))
        painter.fillRect(paper, QColor(*picture.seal.sheet.stock.rgb))
        if picture.print is not None:
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Multiply)
            painter.drawImage(paper, picture.print)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
        if picture.kind not in ("plain", "ruler", "load", "marks", "corner"):
            self._paint_copies(painter, place, picture)
        painter.setPen(QPen(QColor(_FOUND), 3.4))
        for line in picture.done:
            painter.drawPolyline(place.map(QPolygonF([QPointF(x, y) for x, y in line.tolist()])))
        match picture.kind:
            case "ruler":
                self._paint_lengths(painter, place, picture)
            case "load":
                self._paint_feed(painter, paper, picture)
            case "corner":
                self._paint_corner(painter, place, picture)
            case "marks":
                self._paint_feed(painter, paper, picture)
                self._paint_marks(painter, place, picture)
        if self.hasFocus():
            painter.setPen(QPen(QColor(tokens.accent), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))

    def _paint_corner(self, painter: QPainter, place: QTransform, picture: SheetPicture) -> None:
        """Frame the free corner that test squares are cut in."""
        left, top, right, bottom = picture.seal.pages[picture.page].corners_mm[picture.copy or 0]
        painter.setPen(QPen(QColor(PAPER_TOKENS.accent), px(3)))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(place.mapRect(QRectF(left, top, right - left, bottom - top)))

    def _paint_copies(self, painter: QPainter, place: QTransform, picture: SheetPicture) -> None:
        for copy, paths in enumerate(self._paths):
            if copy in picture.skipped:
                continue
            moved = place
            if picture.cut is not None and picture.kind == "inspect":
                x, y = picture.cut.moved_mm[copy].tolist()
                moved = QTransform.fromTranslate(x, y) * place
            for kind, path in paths:
                pen = line_pen(kind, PAPER_TOKENS)
                shown = moved.map(path)
                painter.strokePath(shown, casing_of(pen))
                painter.strokePath(shown, pen)
            if picture.kind == "proof" and copy != picture.copy:
                painter.fillPath(self._whole(copy, moved), QColor(255, 255, 255, 150))
            self._paint_state(painter, copy, self._whole(copy, moved).boundingRect(), picture)

    def _whole(self, copy: int, place: QTransform) -> QPainterPath:
        whole = QPainterPath()
        for _, path in self._paths[copy]:
            whole.addPath(path)
        return place.map(whole)

    def _paint_state(self, painter: QPainter, copy: int, box: QRectF, picture: SheetPicture) -> None:
        """Ring the proof; cross what is bad; tick what is chosen; frame what the keys stand on."""
        middle, reach = box.center(), min(box.width(), box.height()) / 3
        if picture.kind == "proof" and copy == picture.copy:
            self._ring(painter, box, PAPER_TOKENS.accent)
        if copy in picture.bad:
            for colour, width in ((_WHITE, 7.0), (QColor(PAPER_TOKENS.danger), 3.4)):
                painter.setPen(QPen(colour, width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
                painter.drawLine(middle + QPointF(-reach, -reach), middle + QPointF(reach, reach))
                painter.drawLine(middle + QPointF(-reach, reach), middle + QPointF(reach, -reach))
        if copy in picture.chosen:
            for colour, width in ((_WHITE, 7.0), (QColor(_FOUND), 3.4)):
                painter.setPen(QPen(colour, width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
                tick = [QPointF(-reach, 0), QPointF(-reach / 4, reach), QPointF(reach, -reach)]
                painter.drawPolyline(QPolygonF([middle + point for point in tick]))
        if copy == self.at and self.hasFocus():
            self._ring(painter, box, PAPER_TOKENS.accent)

    @staticmethod
    def _ring(painter: QPainter, box: QRectF, colour: str) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for shade, width in ((_WHITE, 6.0), (QColor(colour), 3.0)):
            painter.setPen(QPen(shade, width))
            painter.drawRoundedRect(box.adjusted(-6, -6, 6, 6), 8, 8)

    def _paint_feed(self, painter: QPainter, paper: QRectF, picture: SheetPicture) -> None:
        """Mark the edge that goes in first, with its name beside it."""
        tokens = self._tokens()
        side = picture.seal.sheet.machine.feed_side
        ends = {
            "top": (paper.topLeft(), paper.topRight()),
            "bottom": (paper.bottomLeft(), paper.bottomRight()),
            "left": (paper.topLeft(), paper.bottomLeft()),
            "right": (paper.topRight(), paper.bottomRight()),
        }[side]
        painter.setPen(QPen(QColor(tokens.accent), 4))
        painter.drawLine(*ends)
        painter.setFont(words(13))
        painter.setPen(QColor(tokens.ink))
        box = QRectF(paper.left() - px(60), paper.top() - px(26), paper.width() + px(120), px(22))
        if side == "bottom":
            box.moveTop(paper.bottom() + px(4))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, f"{side} edge goes in first")

    def _paint_marks(self, painter: QPainter, place: QTransform, picture: SheetPicture) -> None:
        looking = next((n for n in range(len(picture.seal.mark_names)) if n not in picture.found), None)
        radius = px(15)
        for number, (x, y) in enumerate(picture.seal.mark_middles_mm):
            at = place.map(QPointF(x, y))
            is_found = number in picture.found
            painter.setPen(QPen(QColor(PAPER_TOKENS.accent if number == looking else _FOUND), 2.4))
            if not is_found and number != looking:
                painter.setPen(QPen(QColor(PAPER_TOKENS.soft), 2))
            painter.setBrush(QColor(_FOUND) if is_found else _WHITE)
            painter.drawEllipse(at, radius, radius)
            painter.setPen(_WHITE if is_found else QColor(PAPER_TOKENS.ink))
            painter.setFont(words(16))
            box = QRectF(at.x() - radius, at.y() - radius, 2 * radius, 2 * radius)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(number + 1))

    def _paint_lengths(self, painter: QPainter, place: QTransform, picture: SheetPicture) -> None:
        """Draw what to measure: across above the marks, down beside them."""
        sheet = picture.seal.sheet
        inset, (width, height) = sheet.marks.inset_mm, sheet.size_mm
        colour = QColor(PAPER_TOKENS.accent)
        painter.setFont(words(15))
        for start, end, text, is_across in (
            (QPointF(inset, inset / 2), QPointF(width - inset, inset / 2), picture.lengths[0], True),
            (QPointF(inset / 2, inset), QPointF(inset / 2, height - inset), picture.lengths[1], False),
        ):
            one, two = place.map(start), place.map(end)
            painter.setPen(QPen(colour, 2))
            painter.drawLine(one, two)
            tick = QPointF(0, px(7)) if is_across else QPointF(px(7), 0)
            for at in (one, two):
                painter.drawLine(at - tick, at + tick)
            middle = (one + two) / 2
            painter.save()
            painter.translate(middle)
            if not is_across:
                painter.rotate(-90)
            room = QRectF(-px(60), -px(12), px(120), px(24))
            painter.fillRect(room, QColor(255, 255, 255, 235))
            painter.drawText(room, Qt.AlignmentFlag.AlignCenter, text)
            painter.restore()

    # -- tapping ------------------------------------------------------------------------------------------

    def _copy_at(self, at: QPointF) -> int | None:
        place = self._place()
        hits = [copy for copy in range(len(self._paths)) if self._whole(copy, place).boundingRect().contains(at)]
        inside = [copy for copy in hits if self._whole(copy, place).contains(at)]
        return next(iter(inside or hits), None)

    def _mark_at(self, at: QPointF) -> int | None:
        assert self.picture is not None
        place, near = self._place(), px(24)
        for number, (x, y) in enumerate(self.picture.seal.mark_middles_mm):
            away = place.map(QPointF(x, y)) - at
            if away.x() ** 2 + away.y() ** 2 <= near**2:
                return number
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.picture is None:
            return
        if self.picture.kind == "marks" and (mark := self._mark_at(event.position())) is not None:
            self.mark_tapped.emit(mark)
        elif self.picture.kind in ("inspect", "some") and (copy := self._copy_at(event.position())) is not None:
            self.at = copy
            self.tapped.emit(copy)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows walk from sticker to sticker, Enter taps."""
        if event is None:
            return
        picture = self.picture
        if picture is not None and picture.kind in ("inspect", "some") and self._paths:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self.tapped.emit(self.at)
                return
            ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
            way = ways.get(cast(Qt.Key, event.key()))
            if way is not None:
                self.at = self._next(*way)
                self.setAccessibleDescription(self._said(self.at))
                self.update()
                return
        super().keyPressEvent(event)

    def _next(self, x: int, y: int) -> int:
        """Return the nearest sticker in a direction; the same where there is none."""
        middles = [self._whole(copy, QTransform()).boundingRect().center() for copy in range(len(self._paths))]
        here = middles[self.at]
        best, reach = self.at, float("inf")
        for copy, middle in enumerate(middles):
            along = x * (middle.x() - here.x()) + y * (middle.y() - here.y())
            across = abs(y * (middle.x() - here.x())) + abs(x * (middle.y() - here.y()))
            if along > 1.0 and along + 2 * across < reach:
                best, reach = copy, along + 2 * across
        return best

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.update()

    def event(self, event: QEvent | None) -> bool:
        """Say on hover which sticker lies there."""
        if isinstance(event, QHelpEvent) and self.picture is not None and self.picture.kind in ("inspect", "some"):
            copy = self._copy_at(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), "" if copy is None else self._said(copy), self)
            return True
        return super().event(event)
