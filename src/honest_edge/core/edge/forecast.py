"""What share of stickers comes out clean, and what would make it more.

A sticker is clean when nowhere along its cut the blade lands farther from the ink than white can be seen, and
nowhere cuts deeper into detail than that. The error's few parameters are normally distributed. In the space of
their standard deviations two axes move the sticker as a whole; in their plane every direction is followed outward
until the sticker is no longer clean, and the distances that are still clean are weighed by the chi distribution,
or, where the error rests on few measured sheets, by its counterpart for Student's t (Fisher's F in disguise)
(directional integration; O. Ditlevsen and P. Bjerager, Structural Safety 3, 1986). Along the other axes, which only
turn and stretch it a little, each direction takes a value of its own from an evenly filling sequence.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy  # loads its parts when they are used: while other designs are computed already

from honest_edge.core.edge.model import EdgeModel
from honest_edge.core.geometry.distance import DistanceField
from honest_edge.core.geometry.error_map import linear_part, moves
from honest_edge.core.geometry.paths import Floats, cos_sin
from honest_edge.core.values.lazy import lazy_property
from honest_edge.core.values.misregistration import UNITS, WITHIN_SHARE, Misregistration, SheetPlace

RESOLUTION_MM = 0.01
"""Distances are known this well: the fit's and the sampling's own error."""

_BEYOND = 1e-5  # the share of errors that is not followed
_BEYOND_T = 1e-3  # Student's t reaches too far to be followed farther
_HARDLY_ANY = math.exp(-(4.6**2) / 2)  # what reaches past 4.6 spreads
_PLENTY = 50.0  # mm: the excess of what goes hopelessly wrong; minus this, of what can never go wrong


@dataclass(frozen=True, slots=True, kw_only=True)
class Fineness:
    """How many directions are followed, and in how many steps."""

    directions: int
    steps: int


FINE = Fineness(directions=160, steps=20)
LIVE = Fineness(directions=48, steps=14)
"""Within three points of the fine forecast, in a fifth of its time or less."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Drift:
    """One displacement of the cut against the print, in the art's frame: p moves by shift + matrix (p - middle)."""

    shift_mm: tuple[float, float]
    matrix: tuple[tuple[float, float], tuple[float, float]]

    def affine(self, middle: Floats) -> Floats:
        """Return the (2, 3) matrix that moves places of the cut."""
        matrix = np.array(self.matrix)
        shift = np.array(self.shift_mm) - matrix @ middle
        return np.column_stack([np.eye(2) + matrix, shift])


@dataclass(frozen=True, kw_only=True, eq=False)
class Forecast:
    """What will come out.

    Attributes:
        white_mm, art_mm: (k, j) by how much white, or lost detail, exceeds what is not seen, for every direction
            and distance; negative is clean.
        kiss_mm: the same of what the kiss cuts of stickers on a sheet take along; None without such.
        radii: (j,) the distances, in standard deviations.
        dimension: of the space that the directions fill: 0 where nothing varies, else 1 or 2.
        starts, steps: (k, 5) for every direction the error at distance 0, and what a unit of distance adds: shift x and
            y in mm, rotation in radians, scale x and y.
        degrees_of_freedom: as of ``Misregistration``.
        is_sampled: whether further axes were sampled.
        place: where on the sheet.
        visible_mm: what is not seen.
        is_inked: whether ink reaches the cut.
    """

    white_mm: Floats
    art_mm: Floats
    kiss_mm: Floats | None
    radii: Floats
    dimension: int
    starts: Floats
    steps: Floats
    degrees_of_freedom: float | None
    is_sampled: bool
    place: SheetPlace
    visible_mm: float
    is_inked: bool

    @lazy_property
    def share_clean(self) -> float:
        """Share of stickers without visible white and without lost detail."""
        return self.share_with()

    @property
    def share_without_white(self) -> float:
        """Share without visible white, whatever is lost of the art."""
        return self._share(self.white_mm)

    @property
    def share_without_loss(self) -> float:
        """Share without lost detail, whatever white shows."""
        return self._share(self.art_mm)

    @property
    def uncertainty(self) -> float:
        """Half the width of the range that the share lies in: from the resolution and from the directions."""
        worst = self._worst
        known = (self._share(worst - RESOLUTION_MM) - self._share(worst + RESOLUTION_MM)) / 2
        if not self.is_sampled:
            return known
        halves = [self._share(worst[start::2]) for start in (0, 1)]
        return math.hypot(known, (halves[0] - halves[1]) / 2)

    def share_with(self, *, bleed_mm: float = 0.0, outward_mm: float = 0.0) -> float:
        """Return the share with so much more bleed and a cut so much farther out (negative: inward), ink as it is."""
        return self._share(self._with_kiss(np.maximum(self.white_mm - bleed_mm + outward_mm, self.art_mm - outward_mm)))

    @property
    def share_rim_clean(self) -> float:
        """Share whose own rim is clean, whatever becomes of stickers that lie on it."""
        return self._share(np.maximum(self.white_mm, self.art_mm))

    @property
    def share_kiss_clean(self) -> float:
        """Share of sheets of which every sticker's kiss cut stays clean, whatever becomes of the sheet's own rim."""
        return 1.0 if self.kiss_mm is None else self._share(self.kiss_mm)

    def ring_needed_mm(self, ring_mm: float, share: float) -> float:
        """Return how wide the rings have to be, which are so wide, for a share of sheets whose kiss cuts are clean.

        A ring that is wider by a distance keeps the sheet's colour off by as much more.
        """
        return ring_mm if self.kiss_mm is None else ring_mm + max(0.0, self._quantile(self.kiss_mm, share))

    @property
    def _worst(self) -> Floats:
        return self._with_kiss(np.maximum(self.white_mm, self.art_mm))

    def _with_kiss(self, excess: Floats) -> Floats:
        return excess if self.kiss_mm is None else np.maximum(excess, self.kiss_mm)

    def share_without_loss_at(self, outward_mm: float) -> float:
        """Return ``share_without_loss`` with the cut so much farther out."""
        return self._share(self.art_mm - outward_mm)

    @lazy_property
    def narrowest_border_mm(self) -> float | None:
        """The width that the narrowest place of the border keeps in 19 of 20 stickers; None without one."""
        if self.is_inked or float(self.art_mm.max()) <= -_PLENTY:
            return None
        return -self._quantile(self.art_mm, 0.95) - self.visible_mm

    def likely_worst(self, of: int = 20) -> Drift:
        """Return the displacement of the likely worst of so many stickers."""
        worst = self._worst
        limit = self._quantile(worst, 1 - 1 / of)
        late = np.where(worst >= limit - 1e-9, self.radii[None], np.inf)
        direction, step = np.unravel_index(int(late.argmin()), late.shape)
        return _drift(self.starts[direction] + self.radii[step] * self.steps[direction], self.place)

    def _quantile(self, excess: Floats, share: float) -> float:
        low, high = float(excess.min()), float(excess.max())
        for _ in range(30):
            middle = (low + high) / 2
            low, high = (middle, high) if self._share(excess - middle) < share else (low, middle)
        return high

    def _share(self, excess: Floats) -> float:
        """Return the share of errors whose excess is not above zero, read linearly between the steps."""
        if self.dimension == 0:
            return float(excess[0, 0] <= 0)
        is_clean, within = excess <= 0, self._within(self.radii)
        mass = (is_clean[:, :-1] & is_clean[:, 1:]) @ np.diff(within) + is_clean[:, -1] * (1 - within[-1])
        # between a clean step and one that is not, the clean part ends, or begins, where the excess passes zero
        way, step = np.nonzero(is_clean[:, :-1] != is_clean[:, 1:])
        before, after = excess[way, step], excess[way, step + 1]
        start, end = self.radii[step], self.radii[step + 1]
        crossing = self._within(start + (end - start) * np.clip(before / (before - after), 0.0, 1.0))
        part = np.where(before <= 0, crossing - within[step], within[step + 1] - crossing)
        return float(np.clip((mass.sum() + part.sum()) / len(excess), 0.0, 1.0))

    def _within(self, radius: Floats) -> Floats:
        """The chi distribution, or Student's: the share of errors nearer than ``radius`` in one dimension or two."""
        n = self.degrees_of_freedom
        if n is not None:
            square = np.square(radius)
            return np.asarray(scipy.special.betainc(self.dimension / 2, n / 2, square / (square + n)))
        if self.dimension == 1:
            return np.asarray(scipy.special.erf(radius / math.sqrt(2)))
        return np.asarray(-np.expm1(-np.square(radius) / 2))


def forecast(
    model: EdgeModel, error: Misregistration, place: SheetPlace, *, visible_mm: float, fineness: Fineness = FINE
) -> Forecast:
    """Return the forecast for one sticker.

    Args:
        model: the design's edge.
        error: how print and cut disagree.
        place: where on the sheet the sticker lies.
        visible_mm: narrower white and shallower losses are not seen.
        fineness: how closely to look.
    """
    means, spreads = _parameters(error)
    freedom = error.degrees_of_freedom
    dimension, starts, steps = _directions(spreads, model, place, fineness.directions, freedom)
    starts = starts + means
    radii = np.zeros(1)
    if dimension:
        radii = _radii(dimension, freedom, fineness.steps)
    aims = (place, starts, steps, radii)
    white = _excess(model.cut_points, model.ink, model.middle, *aims, outward=True)
    art = _excess(model.detail_points, model.cut, model.middle, *aims, outward=False)
    kiss = None if model.room is None else _excess(model.kiss_points, model.room, model.middle, *aims, outward=True)
    return Forecast(
        white_mm=white - visible_mm,
        art_mm=art - visible_mm,
        kiss_mm=None if kiss is None else kiss - visible_mm,
        radii=radii,
        dimension=dimension,
        starts=starts,
        steps=steps,
        degrees_of_freedom=freedom,
        is_sampled=int(np.count_nonzero(spreads)) > dimension,
        place=place,
        visible_mm=visible_mm,
        is_inked=model.is_inked,
    )


def _radii(dimension: int, freedom: float | None, steps: int) -> Floats:
    """Return the distances that are followed, in spreads; for Student's t they widen outward as its tail does."""
    beyond = _BEYOND if freedom is None else _BEYOND_T
    even = np.linspace(0, math.sqrt(2 * scipy.special.gammaincinv(dimension / 2, 1 - beyond)), steps + 1)
    return even if freedom is None else np.sqrt(freedom * np.expm1(np.square(even) / freedom))


def drawn_errors(error: Misregistration, random: np.random.Generator, count: int) -> Floats:
    """Return (count, 5) parameters of the error, drawn by chance."""
    means, spreads = _parameters(error)
    normal = random.normal(size=(count, 5))
    if error.degrees_of_freedom is not None:  # all terms of a sheet share what is not known of the spread
        n = error.degrees_of_freedom
        normal *= np.sqrt(n / random.chisquare(n, size=(count, 1)))
    return means + spreads * normal


def excess_of(model: EdgeModel, place: SheetPlace, drawn: Floats, *, every: int = 1) -> Floats:
    """Return (n,) how far white or lost detail reaches at most under each of (n, 5) drawn errors."""
    aims = (place, drawn, np.zeros_like(drawn), np.zeros(1))
    white = _excess(model.cut_points[::every], model.ink, model.middle, *aims, outward=True)
    worst = np.maximum(white, _excess(model.detail_points[::every], model.cut, model.middle, *aims, outward=False))
    if model.room is not None:
        worst = np.maximum(worst, _excess(model.kiss_points[::every], model.room, model.middle, *aims, outward=True))
    return np.asarray(worst[:, 0])


def farthest_mm(error: Misregistration, size_mm: float, place: SheetPlace) -> float:
    """Return a displacement that hardly any error exceeds on a sticker of this size."""
    means, spreads = _parameters(error)
    arm = math.hypot(place.x_mm, place.y_mm) + size_mm / 2
    arms = np.array([1, 1, arm, arm, arm])
    farthest = error.standing_out(_HARDLY_ANY if error.degrees_of_freedom is None else _BEYOND_T)
    return float(np.abs(means) @ arms + farthest * math.sqrt(float(np.square(spreads * arms).sum())))


def place_chances(
    points_mm: Floats, normals: Floats, room_mm: Floats, middle: Floats, error: Misregistration, place: SheetPlace
) -> Floats:
    """Return (n,) chances that the cut at a place moves along its normal by more than the room there."""
    mean, spread = _along_normals(points_mm, normals, middle, error, place)
    late = mean - room_mm
    with np.errstate(divide="ignore", invalid="ignore"):
        n = error.degrees_of_freedom
        chances = scipy.special.ndtr(late / spread) if n is None else scipy.special.stdtr(n, late / spread)
    return np.where(spread > 0, chances, (late > 0).astype(float))


def place_bands(
    points_mm: Floats, normals: Floats, middle: Floats, error: Misregistration, place: SheetPlace
) -> tuple[Floats, Floats]:
    """Return (n,) lowest and highest displacement along the normal within which 19 of 20 errors stay."""
    mean, spread = _along_normals(points_mm, normals, middle, error, place)
    reach = error.standing_out(1 - WITHIN_SHARE)
    return mean - reach * spread, mean + reach * spread


def _along_normals(
    points: Floats, normals: Floats, middle: Floats, error: Misregistration, place: SheetPlace
) -> tuple[Floats, Floats]:
    means, spreads = _parameters(error)
    along = np.einsum("ind,nd->in", _moves(points, middle, place), normals)
    return means @ along, np.sqrt(np.square(spreads) @ np.square(along))


def _parameters(error: Misregistration) -> tuple[Floats, Floats]:
    scatters = (error.shift_x_mm, error.shift_y_mm, error.rotation_deg, error.scale_x_percent, error.scale_y_percent)
    unit = np.array(UNITS)
    spreads = np.array([scatter.spread for scatter in scatters]) * unit
    spreads[:2] = np.hypot(spreads[:2], error.repeat_mm)
    return np.array([scatter.bias for scatter in scatters]) * unit, spreads


def _moves(points: Floats, middle: Floats, place: SheetPlace) -> Floats:
    """Return (5, n, 2): how a unit of each parameter moves each place, in the art's frame."""
    cos, sin = cos_sin(place.turn_deg)
    turn = np.array([[cos, -sin], [sin, cos]])
    on_sheet = (points - middle) @ turn.T + (place.x_mm, place.y_mm)
    return np.asarray(moves(on_sheet) @ turn)  # its transpose turns back


def _excess(
    points: Floats,
    field: DistanceField,
    middle: Floats,
    place: SheetPlace,
    starts: Floats,
    steps: Floats,
    radii: Floats,
    *,
    outward: bool,
) -> Floats:
    """Return (k, j): the greatest distance from an area of any place that moves with the cut, or against it."""
    if len(points) == 0:
        return np.full((len(steps), len(radii)), -_PLENTY)
    moves = _moves(points, middle, place).astype(np.float32) * np.float32(1.0 if outward else -1.0)
    places, paces = points.astype(np.float32), radii.astype(np.float32)
    excess = np.empty((len(steps), len(radii)))
    most = max(1, 600_000 // (len(points) * len(radii)))
    for first in range(0, len(steps), most):
        chosen = slice(first, first + most)
        start = places + np.tensordot(starts[chosen].astype(np.float32), moves, 1)
        way = np.tensordot(steps[chosen].astype(np.float32), moves, 1)
        excess[chosen] = field.greatest_along(start, way, paces)
    # beyond the field's reach nothing is known but that it is far: no change of millimetres mends that
    return np.where(excess >= 0.999 * field.reach_mm, _PLENTY, excess)


def _directions(
    spreads: Floats, model: EdgeModel, place: SheetPlace, count: int, freedom: float | None
) -> tuple[int, Floats, Floats]:
    """Return the dimension that directions fill, where each starts and what a unit of distance adds, (k, 5) each.

    The axes come from the singular vectors of how the varying parameters move the sticker's middle.
    """
    varying = np.flatnonzero(spreads > 0)
    dimension = min(2, len(varying))
    if dimension == 0:
        return 0, np.zeros((1, 5)), np.zeros((1, 5))
    middle = _moves(model.middle[None], model.middle, place)[varying, 0] * spreads[varying, None]
    axes = np.zeros((len(varying), 5))
    axes[:, varying] = np.linalg.svd(middle.T)[2] * spreads[varying]
    rest = len(varying) - dimension
    if dimension == 1:
        return 1, np.zeros((2, 5)), np.array([[1.0], [-1.0]]) @ axes
    angle = (np.arange(count) + 0.5) * (2 * math.pi / count)
    steps = np.stack([np.cos(angle), np.sin(angle)], axis=1) @ axes[:2]
    return 2, _filling(rest, count, freedom) @ axes[2:], steps


def _filling(dimension: int, count: int, freedom: float | None) -> Floats:
    """Return (count, dimension) normal numbers, or Student's, that fill their space evenly, also against the count.

    The generalised golden ratio gives the additive sequence with the least gaps (M. Roberts, 2018).
    """
    root = 1.5
    for _ in range(40):
        root = (1 + root) ** (1 / (dimension + 1))
    even = (0.5 + np.outer(np.arange(1, count + 1), root ** -np.arange(1.0, dimension + 1))) % 1.0
    even = np.clip(even, 1e-9, 1 - 1e-9)
    return np.asarray(scipy.special.ndtri(even) if freedom is None else scipy.special.stdtrit(freedom, even))


def _drift(values: Floats, place: SheetPlace) -> Drift:
    shift, matrix = values[:2], linear_part(values)
    cos, sin = cos_sin(place.turn_deg)
    back = np.array([[cos, sin], [-sin, cos]])
    shift = back @ (shift + matrix @ (place.x_mm, place.y_mm))
    turned = back @ matrix @ back.T
    return Drift(shift_mm=tuple(shift.tolist()), matrix=tuple(map(tuple, turned.tolist())))  # type: ignore[arg-type]
