"""Small drawings of what can be made, in 100 x 60 units: the art, and round it the line that is cut."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen

from honest_edge.ui.widgets.tokens import PAPER_TOKENS, Tokens

_LEAF, _FLOWER = "#7FA58A", "#D9A441"


def _paper(painter: QPainter, path: QPainterPath, tokens: Tokens) -> None:
    painter.setPen(QPen(QColor(tokens.soft), 0.6))
    painter.setBrush(QColor("#FFFFFF"))
    painter.drawPath(path)


def _cut(painter: QPainter, path: QPainterPath, colour: str, width: float = 1.4) -> None:
    painter.setPen(QPen(QColor(colour), width))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)


def _sprig(painter: QPainter, x: float, y: float, size: float) -> None:
    """Two leaves and a bud, ``size`` units high, standing on a place."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(_LEAF))
    for side in (-1, 1):
        leaf = QPainterPath(QPointF(x, y))
        leaf.quadTo(x + side * size * 0.7, y - size * 0.1, x + side * size * 0.6, y - size * 0.65)
        leaf.quadTo(x + side * size * 0.05, y - size * 0.5, x, y)
        painter.drawPath(leaf)
    painter.setBrush(QColor(_FLOWER))
    painter.drawEllipse(QPointF(x, y - size * 0.8), size * 0.22, size * 0.22)


def _round(x: float, y: float, radius: float) -> QPainterPath:
    path = QPainterPath()
    path.addEllipse(QPointF(x, y), radius, radius)
    return path


def _box(x: float, y: float, width: float, height: float, radius: float) -> QPainterPath:
    path = QPainterPath()
    path.addRoundedRect(QRectF(x, y, width, height), radius, radius)
    return path


def draw_sticker(painter: QPainter, tokens: Tokens) -> None:
    """One sticker with its border."""
    around = QPainterPath(QPointF(50, 56))
    around.cubicTo(QPointF(14, 52), QPointF(18, 8), QPointF(50, 5))
    around.cubicTo(QPointF(82, 8), QPointF(86, 52), QPointF(50, 56))
    _paper(painter, around, tokens)
    _sprig(painter, 50, 48, 34)
    _cut(painter, around, PAPER_TOKENS.kiss)


def draw_sheet(painter: QPainter, tokens: Tokens) -> None:
    """A sheet with six stickers, each kiss-cut, the rim cut through."""
    rim = _box(29, 3, 42, 54, 4)
    _paper(painter, rim, tokens)
    for row in range(3):
        for column in range(2):
            x, y = 40 + 20 * column, 14 + 16 * row
            _sprig(painter, x, y + 4.5, 8)
            _cut(painter, _round(x, y, 6.4), PAPER_TOKENS.kiss, 1.0)
    _cut(painter, rim, PAPER_TOKENS.through)


def draw_jar(painter: QPainter, tokens: Tokens) -> None:
    """A jar with a round label."""
    painter.setPen(QPen(QColor(tokens.soft), 1.4))
    painter.setBrush(QColor(tokens.tint))
    painter.drawPath(_box(26, 12, 48, 46, 8))
    painter.setBrush(QColor(tokens.sand))
    painter.drawPath(_box(31, 3, 38, 9, 3))
    _paper(painter, _round(50, 36, 16), tokens)
    _sprig(painter, 50, 44, 17)
    _cut(painter, _round(50, 36, 16), PAPER_TOKENS.through)


def draw_tags(painter: QPainter, tokens: Tokens) -> None:
    """Three tags, each with a line of its own."""
    for number in range(3):
        x, y = 18 + 9.0 * number, 6 + 10.0 * number
        path = QPainterPath(QPointF(x + 8, y))
        for corner in ((x + 46, y), (x + 46, y + 24), (x + 8, y + 24), (x, y + 12)):
            path.lineTo(*corner)
        path.closeSubpath()
        _paper(painter, path, tokens)
        painter.setPen(QPen(QColor(_LEAF), 2))
        painter.drawLine(QPointF(x + 16, y + 15), QPointF(x + 28 + 6 * (number == 1), y + 15))
        painter.setPen(QPen(QColor(tokens.soft), 1))
        painter.drawLine(QPointF(x + 16, y + 19), QPointF(x + 36, y + 19))
        _cut(painter, path, PAPER_TOKENS.through, 1.1)
        _cut(painter, _round(x + 8, y + 12, 2.2), PAPER_TOKENS.through, 1.1)


def draw_card(painter: QPainter, tokens: Tokens) -> None:
    """A folded card, standing a little open."""
    back = QPainterPath(QPointF(50, 6))
    for corner in ((80, 12), (80, 58), (50, 52)):
        back.lineTo(*corner)
    back.closeSubpath()
    front = QPainterPath(QPointF(50, 6))
    for corner in ((20, 10), (20, 56), (50, 52)):
        front.lineTo(*corner)
    front.closeSubpath()
    _paper(painter, back, tokens)
    _paper(painter, front, tokens)
    _sprig(painter, 35, 42, 18)
    _cut(painter, front, PAPER_TOKENS.through, 1.1)
    _cut(painter, back, PAPER_TOKENS.through, 1.1)
    painter.setPen(QPen(QColor(PAPER_TOKENS.crease), 1.4, Qt.PenStyle.DashDotLine))
    painter.drawLine(QPointF(50, 6), QPointF(50, 52))


def draw_demo(painter: QPainter, tokens: Tokens) -> None:
    """A sheet of the demo: marks in three corners, stickers between."""
    sheet = _box(18, 4, 64, 52, 1)
    _paper(painter, sheet, tokens)
    painter.setPen(QPen(QColor(PAPER_TOKENS.ink), 1.4))
    for x, y, right, down in ((23, 9, 1, 1), (77, 9, -1, 1), (23, 51, 1, -1)):
        painter.drawLine(QPointF(x, y), QPointF(x + 6 * right, y))
        painter.drawLine(QPointF(x, y), QPointF(x, y + 6 * down))
    for x, y in ((38, 20), (60, 22), (36, 42), (60, 42)):
        _sprig(painter, x, y + 6, 10)
        _cut(painter, _round(x, y, 8.5), PAPER_TOKENS.kiss, 1.1)


def draw_practice(painter: QPainter, tokens: Tokens) -> None:
    """A sheet on which some cuts went astray."""
    sheet = _box(18, 4, 64, 52, 1)
    _paper(painter, sheet, tokens)
    for number, (x, y) in enumerate(((33, 18), (53, 18), (71, 18), (33, 40), (53, 40), (71, 40))):
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(_LEAF))
        painter.drawEllipse(QPointF(x, y), 7.5, 7.5)
        off = QPointF(0, 0) if number < 3 else QPointF(2.4, 1.6)
        _cut(
            painter,
            _round(x + off.x(), y + off.y(), 7.5),
            PAPER_TOKENS.danger if number >= 3 else PAPER_TOKENS.kiss,
            1.3,
        )
