"""The sign of a state: told by its shape as well as its colour."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from honest_edge.app.results.overview import State
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.tokens import Tokens


def paint_state(painter: QPainter, at: QPointF, state: State, here: bool, tokens: Tokens) -> None:
    """Draw a state: ticked disc, triangle, barred square, ring; a filled disc marks the station one is at."""
    painter.save()
    painter.translate(at)
    painter.scale(px(100) / 100, px(100) / 100)
    _paint(painter, state, tokens, here=here)
    painter.restore()


def paint_taken(painter: QPainter, box: QRectF, tokens: Tokens) -> None:
    """Draw the ground of what is in hand, with a rim where contrast is high."""
    painter.setPen(QPen(QColor(tokens.accent), 1) if tokens.is_high else QPen(Qt.PenStyle.NoPen))
    painter.setBrush(QColor(tokens.tint))
    painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5) if tokens.is_high else box, 8, 8)


def _paint(painter: QPainter, state: State, tokens: Tokens, *, here: bool) -> None:
    painter.setPen(Qt.PenStyle.NoPen)
    if state == "look":
        painter.setBrush(QColor(tokens.look))
        painter.drawPolygon(QPolygonF([QPointF(0, -7), QPointF(7.5, 6), QPointF(-7.5, 6)]))
        painter.setPen(QPen(QColor(tokens.panel), 1.8))
        painter.drawLine(QPointF(0, -2.5), QPointF(0, 1.5))
        painter.drawPoint(QPointF(0, 4))
    elif state == "blocked":
        painter.setBrush(QColor(tokens.danger))
        painter.drawRoundedRect(QRectF(-6.5, -6.5, 13, 13), 2, 2)
        painter.setPen(QPen(QColor(tokens.panel), 2))
        painter.drawLine(QPointF(-3.5, 0), QPointF(3.5, 0))
    elif here:
        painter.setBrush(QColor(tokens.accent))
        painter.drawEllipse(QPointF(), 6.5, 6.5)
    elif state == "done":
        painter.setBrush(QColor(tokens.fine))
        painter.drawEllipse(QPointF(), 6.5, 6.5)
        painter.setPen(QPen(QColor(tokens.panel), 1.8))
        painter.drawPolyline(QPolygonF([QPointF(-3, 0), QPointF(-0.8, 2.4), QPointF(3.2, -2.4)]))
    else:
        painter.setPen(QPen(QColor(tokens.soft), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QPointF(), 5.8, 5.8)
