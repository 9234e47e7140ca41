"""The sign of a state: told by its shape as well as its colour."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from honest_edge.app.results.overview import State
from honest_edge.ui.widgets.tokens import Tokens


def paint_state(painter: QPainter, at: QPointF, state: State, here: bool, tokens: Tokens) -> None:
    """Draw a state: ticked disc, triangle, barred square, ring; a filled disc marks the station one is at."""
    painter.setPen(Qt.PenStyle.NoPen)
    if state == "look":
        painter.setBrush(QColor(tokens.look))
        painter.drawPolygon(QPolygonF([at + QPointF(0, -7), at + QPointF(7.5, 6), at + QPointF(-7.5, 6)]))
        painter.setPen(QPen(QColor(tokens.panel), 1.8))
        painter.drawLine(at + QPointF(0, -2.5), at + QPointF(0, 1.5))
        painter.drawPoint(at + QPointF(0, 4))
    elif state == "blocked":
        painter.setBrush(QColor(tokens.danger))
        painter.drawRoundedRect(QRectF(at.x() - 6.5, at.y() - 6.5, 13, 13), 2, 2)
        painter.setPen(QPen(QColor(tokens.panel), 2))
        painter.drawLine(at + QPointF(-3.5, 0), at + QPointF(3.5, 0))
    elif here:
        painter.setBrush(QColor(tokens.accent))
        painter.drawEllipse(at, 6.5, 6.5)
    elif state == "done":
        painter.setBrush(QColor(tokens.fine))
        painter.drawEllipse(at, 6.5, 6.5)
        painter.setPen(QPen(QColor(tokens.panel), 1.8))
        painter.drawPolyline(QPolygonF([at + QPointF(-3, 0), at + QPointF(-0.8, 2.4), at + QPointF(3.2, -2.4)]))
    else:
        painter.setPen(QPen(QColor(tokens.soft), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(at, 5.8, 5.8)
