"""From the core's values to Qt's: outlines, pictures and the picture of a cut sticker."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QBuffer, QByteArray, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from honest_edge.core.values.specs import LineKind
from honest_edge.ui.widgets.tokens import Tokens

if TYPE_CHECKING:
    import numpy as np
    import shapely
    from numpy.typing import NDArray

    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.core.geometry.paths import CurveRing, Floats


class PathSink:
    """Draws an outline into a QPainterPath."""

    def __init__(self) -> None:
        self.path = QPainterPath()
        self.path.setFillRule(Qt.FillRule.OddEvenFill)

    def move_to(self, x_mm: float, y_mm: float) -> None:
        """Begin a ring."""
        self.path.moveTo(x_mm, y_mm)

    def line_to(self, x_mm: float, y_mm: float) -> None:
        """Go on in a straight line."""
        self.path.lineTo(x_mm, y_mm)

    def curve_to(self, x1_mm: float, y1_mm: float, x2_mm: float, y2_mm: float, x_mm: float, y_mm: float) -> None:
        """Go on along a cubic Bézier curve."""
        self.path.cubicTo(x1_mm, y1_mm, x2_mm, y2_mm, x_mm, y_mm)

    def close(self) -> None:
        """End the ring where it began."""
        self.path.closeSubpath()


def painter_path(curves: Iterable[CurveRing]) -> QPainterPath:
    """Return all rings as one path, holes left open."""
    sink = PathSink()
    for curve in curves:
        curve.draw(sink)
    return sink.path


def area_path(area: shapely.MultiPolygon) -> QPainterPath:
    """Return polygons as one path, holes left open."""
    from honest_edge.core.geometry.paths import rings_of  # loaded by now: there is an area

    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for ring in rings_of(area):
        path.addPolygon(QPolygonF([QPointF(x, y) for x, y in ring.tolist()]))
        path.closeSubpath()
    return path


def nodes_of(curves: Iterable[CurveRing]) -> list[QPointF]:
    """Return the nodes of all rings."""
    return [QPointF(x, y) for curve in curves for x, y in curve.cubics[:, 0].tolist()]


def qimage(pixels: NDArray[np.uint8]) -> QImage:
    """Return a copy of (h, w, 4) straight RGBA pixels."""
    height, width = pixels.shape[:2]
    return QImage(pixels.tobytes(), width, height, 4 * width, QImage.Format.Format_RGBA8888).copy()


def png_of(image: QImage) -> bytes:
    """Return a picture as the bytes of a PNG file."""
    held = QByteArray()
    buffer = QBuffer(held)
    buffer.open(QBuffer.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return held.data()


def transform(matrix: Floats) -> QTransform:
    """Return a (2, 3) affine matrix as Qt's."""
    (a, c, e), (b, d, f) = matrix.tolist()
    return QTransform(a, b, c, d, e, f)


def line_pen(kind: LineKind, tokens: Tokens) -> QPen:
    """Return the pen of a line kind: width and dash as well as colour tell them apart."""
    colour, width, style = {
        "kiss": (tokens.kiss, 1.4, Qt.PenStyle.SolidLine),
        "crease": (tokens.crease, 1.6, Qt.PenStyle.DashDotLine),
        "perforate": (tokens.perforation, 2.0, Qt.PenStyle.SolidLine),  # its cuts stand apart by themselves
        "through": (tokens.through, 2.4, Qt.PenStyle.SolidLine),
    }[kind]
    pen = QPen(QColor(colour), width, style)
    pen.setCosmetic(True)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    return pen


def small_picture(pixels: NDArray[np.uint8], side_px: int) -> QImage:
    """Return a picture scaled down to fit a square."""
    step = max(1, max(pixels.shape[:2]) // (4 * side_px))  # far finer than it is shown, far coarser than it may be
    coarse = qimage(pixels[::step, ::step].copy())
    mode = Qt.TransformationMode.SmoothTransformation
    return coarse.scaled(side_px, side_px, Qt.AspectRatioMode.KeepAspectRatio, mode)


def sticker_picture(result: DesignResult, side_px: int) -> QImage:
    """Return the design as it will look when cut and peeled, on nothing."""
    left, top, right, bottom = result.cut.area.bounds
    scale = side_px / max(right - left, bottom - top)
    picture = QImage(side_px, side_px, QImage.Format.Format_ARGB32_Premultiplied)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
    painter.translate((side_px - (right - left) * scale) / 2, (side_px - (bottom - top) * scale) / 2)
    painter.scale(scale, scale)
    painter.translate(-left, -top)
    cut = painter_path(result.cut.curves)
    painter.fillPath(cut, QColor("white"))
    painter.setClipPath(cut)
    art = result.art
    # scaled down first: Qt's smooth transform looks at four pixels only
    image = qimage(art.pixels)
    width_px = max(1, round(image.width() * art.pixel_mm * scale))
    height_px = max(1, round(image.height() * art.pixel_mm * scale))
    small = image.scaled(
        width_px, height_px, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation
    )
    height, width = art.pixels.shape[:2]
    painter.drawImage(QRectF(art.left_mm, art.top_mm, width * art.pixel_mm, height * art.pixel_mm), small)
    painter.setClipping(False)
    edge = QPen(QColor(0, 0, 0, 60), 1)
    edge.setCosmetic(True)
    painter.strokePath(cut, edge)
    painter.end()
    return picture


def geometry_path(geometry: shapely.Geometry) -> QPainterPath | None:
    """Return a line or an area as a path; None for a point."""
    import shapely  # loaded by now: there is a geometry

    path, parts = QPainterPath(), shapely.get_parts(geometry)
    for part in shapely.get_parts(parts) if len(parts) else ():
        for ring in _rings(part):
            if len(ring) > 1:
                path.addPolygon(QPolygonF([QPointF(x, y) for x, y in ring]))
    return None if path.isEmpty() else path


def _rings(part: shapely.Geometry) -> list[list[list[float]]]:
    import shapely

    if shapely.get_type_id(part) == 3:
        return [shapely.get_coordinates(ring).tolist() for ring in shapely.get_rings(part)]
    return [shapely.get_coordinates(part).tolist()]
