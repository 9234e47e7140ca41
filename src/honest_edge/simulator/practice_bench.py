"""A simulated bench: prints, reads marks and cuts by chance, the same for the same seed. It stands in for hardware."""

from __future__ import annotations

import math

import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.measure.mark_reading import NOISE_OF, mark_sd_mm
from honest_edge.simulator.devices import PrintedSheet, ReadMarks
from honest_edge.simulator.drag_knife import trailed
from honest_edge.simulator.nature import BenchNature

_MISSED_SD_MM, _MISSED_WIDTH_MM = 0.1, 0.015
"""A mark whose place is known worse than this is mostly not found: an assumption."""

_CAPTURED_MM, _PULLED_MM, _FREE_MM = 0.4, 0.07, 2.0
"""Other ink nearer than the first is taken for the mark; between, it pulls by the second; from the third on not."""

_TRIPLED = 2.0  # what a blade that is quite dull adds to the repeat, in repeats


class PracticeBench:
    """Prints, reads and cuts."""

    def __init__(self, nature: BenchNature, seed: int, *, size_mm: tuple[float, float], marks_mm: Floats) -> None:
        """Take the bench.

        Args:
            nature: what it is like.
            seed: of its chances.
            size_mm: of the paper.
            marks_mm: (k, 2) middles of the marks, from their common middle.
        """
        self.nature, self._random, self._size = nature, np.random.default_rng(seed), size_mm
        self._marks, self._half = np.asarray(marks_mm, float), np.array(size_mm) / 2
        self._length_mm, self._thickness_mm, self._reach_mm = 18.0, 1.0, 9.0
        self._count = 0

    def with_marks(self, length_mm: float, thickness_mm: float, *, is_frame: bool = False) -> PracticeBench:
        """Take marks of another size; of a frame the corners are its middles, and nothing lies outside of them."""
        self._length_mm, self._thickness_mm = length_mm, thickness_mm
        self._reach_mm = 0.0 if is_frame else length_mm / 2
        return self

    def way_of_the_tip(self, axis_mm: Floats) -> Floats:
        """Return (n, 2) where the knife's tip goes while its axis goes through (n, 2) places."""
        return trailed(axis_mm, self.nature.cutter.blade_offset_mm)

    def print_sheet(self) -> PrintedSheet:
        """Print one sheet."""
        printer, draw = self.nature.printer, self._random.normal
        self._count += 1
        turn, skew = math.radians(printer.feed_turn_deg * draw()), math.radians(printer.skew_deg)
        stretch = np.array([[1 + printer.scale_x_percent / 100, skew], [0.0, 1 + printer.scale_y_percent / 100]])
        matrix = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]]) @ stretch
        has_band = bool(self._random.random() < printer.bands)
        moved = printer.feed_shift_mm * draw(size=2)
        return PrintedSheet(number=self._count, matrix=np.column_stack([matrix, moved]), has_band=has_band)

    def read_marks(self, printed: PrintedSheet) -> ReadMarks:
        """Look for the marks: each is found where it lies, but for what the reader adds."""
        light, reader = self.nature.light, self.nature.reader
        noise = NOISE_OF[light.shine] * light.glare * (2.0 if printed.has_band else 1.0)
        spread = mark_sd_mm(self._length_mm, self._thickness_mm, noise, reader)
        chance = 0.5 * math.erfc((_MISSED_SD_MM - spread) / _MISSED_WIDTH_MM / math.sqrt(2))
        unprinted = np.min(self._half - np.abs(self._marks), axis=1) - self._reach_mm < self.nature.printer.rim_mm
        missed = tuple(int(n) for n in np.flatnonzero(unprinted | (self._random.random(len(self._marks)) < chance)))
        if missed:
            return ReadMarks(matrix=None, missed=missed)
        marks = printed.at(self._marks) + spread * self._random.normal(size=self._marks.shape)
        marks += _clutter(light.clutter_mm)
        return ReadMarks(matrix=_map(self._marks, marks, reader.map))

    def cut(self, printed: PrintedSheet, read: ReadMarks, planned_mm: Floats) -> Floats:
        """Cut stickers at (n, 2) places; where marks were missed nothing is cut.

        Raises:
            ValueError: a mark was missed.
        """
        if read.matrix is None:
            raise ValueError("a mark was missed: nothing is cut")
        cutter, draw = self.nature.cutter, self._random.normal
        parts = np.array(cutter.steady.values) + np.array(cutter.spread.values) * draw(size=5)
        meant = planned_mm @ read.matrix[:, :2].T + read.matrix[:, 2]
        slip = (cutter.slip_percent + cutter.slip_spread_percent * draw()) / 100
        moved = _swept(parts, meant)
        moved[:, 1] += slip * (meant[:, 1] + self._size[1] / 2)
        moved += cutter.repeat_mm * (1 + _TRIPLED * cutter.dull) * draw(size=meant.shape)
        apart = meant + moved - printed.at(planned_mm)
        return np.asarray(np.linalg.solve(printed.matrix[:, :2], apart.T).T)

    def sheet(self, planned_mm: Floats) -> Floats | None:
        """Print, read and cut one sheet; return the displacements of its stickers, or None where a mark was missed."""
        printed = self.print_sheet()
        read = self.read_marks(printed)
        return None if read.matrix is None else self.cut(printed, read, planned_mm)


def _swept(parts: Floats, places: Floats) -> Floats:
    """Return what shift, rotation and growth do at places; the carriage's own frame, clockwise on paper."""
    shift_x, shift_y, turn_deg, grow_x, grow_y = parts.tolist()
    turn = math.radians(turn_deg)
    x, y = places.T
    cos, sin = math.cos(turn) - 1, math.sin(turn)
    return np.stack([shift_x + cos * x - sin * y + grow_x / 100 * x, shift_y + sin * x + cos * y + grow_y / 100 * y], 1)


def _clutter(distance_mm: float | None) -> float:
    if distance_mm is None or distance_mm >= _FREE_MM:
        return 0.0
    if distance_mm < _CAPTURED_MM:
        return distance_mm
    return _PULLED_MM * (_FREE_MM - distance_mm) / (_FREE_MM - _CAPTURED_MM)


def _map(marks: Floats, found: Floats, kind: str) -> Floats:
    """Return the (2, 3) map through the marks."""
    if kind == "affine":
        solved = np.linalg.lstsq(np.column_stack([marks, np.ones(len(marks))]), found, rcond=None)[0]
        return np.asarray(solved.T)
    middle, there = marks.mean(0), found.mean(0)
    a, b = marks - middle, found - there
    cos, sin = float((a * b).sum()), float((a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]).sum())
    matrix = np.array([[cos, -sin], [sin, cos]]) / float(np.square(a).sum())
    return np.column_stack([matrix, there - matrix @ middle])
