"""Paths and numbers as a PDF writes them (ISO 32000-2 §8.5.2)."""

from __future__ import annotations

from honest_edge.core.geometry.paths import CurveRing


class _Operators:
    """Collects path operators."""

    def __init__(self) -> None:
        self.parts: list[str] = []

    def move_to(self, x_mm: float, y_mm: float) -> None:
        """Start a ring."""
        self.parts.append(f"{number(x_mm)} {number(y_mm)} m")

    def line_to(self, x_mm: float, y_mm: float) -> None:
        """Straight to a point."""
        self.parts.append(f"{number(x_mm)} {number(y_mm)} l")

    def curve_to(self, x1_mm: float, y1_mm: float, x2_mm: float, y2_mm: float, x_mm: float, y_mm: float) -> None:
        """Cubic Bézier to a point."""
        self.parts.append(" ".join(number(v) for v in (x1_mm, y1_mm, x2_mm, y2_mm, x_mm, y_mm)) + " c")

    def close(self) -> None:
        """End the ring where it started."""
        self.parts.append("h")


def path_operators(ring: CurveRing) -> str:
    """Return the operators that draw a ring, before what fills or strokes it."""
    sink = _Operators()
    ring.draw(sink)
    return " ".join(sink.parts)


def number(value: float) -> str:
    """Six decimals: well under a tenth of a micrometre wherever a matrix scales it up."""
    return f"{round(value, 6) + 0.0:.6f}".rstrip("0").rstrip(".")
