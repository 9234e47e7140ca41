"""Finding the force or depth of a blade in few looks at ladders of test squares.

How deep a square is cut is a latent value, the logarithm of the setting plus noise, with two cut points: below the
lower it tears, between them it lifts clean, above the upper the liner is marked. That is an ordered probit
(P. McCullagh, "Regression Models for Ordinal Data", J. R. Statist. Soc. B 42, 1980). Edge, width and noise are unknown;
their posterior is kept on a grid, which needs no tuning and is exact to its spacing.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import special

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.lazy import lazy_property
from honest_edge.core.values.units import check_range

Floats = NDArray[np.float64]

SQUARES = 8
MOST_LOOKS = 3
SAFE = 0.9
"""Below this chance of a clean cut at the best setting there is none that is safe."""

_ENOUGH = 0.985
"""From so good a best chance on, another look gains less than it costs; tried on simulated stocks."""

_LEAST_LOOKS = 2
_LEAST_SETTINGS = 2
_GRID_OCTAVES, _WIDTHS = 0.02, 70
_WIDEST = _WIDTHS * _GRID_OCTAVES
_NOISES = np.geomspace(0.02, 0.3, 9)
_LIKELY_WIDTH, _LIKELY_NOISE = (0.4, 0.8), (0.045, 0.5)
"""In octaves, and within which factor (its logarithm, one standard deviation): common practice, no published source."""

_SIMILAR_SPREAD = 0.2
"""How far edges of similar stock differ, in octaves, one standard deviation: common practice, no published source."""

_OTHERWISE = 0.002
"""How likely any other edges are beside the likeliest: stock that was taken for similar may not be."""

_MARGIN_OCTAVES = 0.7
"""How far beyond the range that the machine has an edge may lie: then all squares look alike."""

_PLACES, _AS_GOOD = 201, 0.002


@dataclass(frozen=True, slots=True, kw_only=True)
class SettingRange:
    """What a machine can be set to.

    Attributes:
        lowest, highest: of what is set, in the machine's own numbers.
        step: between two settings.
        falls: a lower setting cuts deeper, as a lower speed does.
    """

    lowest: float = 20.0
    highest: float = 200.0
    step: float = 1.0
    falls: bool = False

    def __post_init__(self) -> None:
        check_range("lowest setting", self.lowest, 1e-3, 1e6, "")
        check_range("highest setting", self.highest, 1e-3, 1e6, "")
        check_range("step of the setting", self.step, 1e-4, 1e5, "")
        if self.highest < self.lowest + (_LEAST_SETTINGS - 1) * self.step * (1 - 1e-9):
            raise UsageError(
                f"Between {self.lowest:g} and {self.highest:g} there are no {_LEAST_SETTINGS} settings {self.step:g} "
                "apart: type a wider range or a smaller step"
            )

    @property
    def squares(self) -> int:
        """How many squares a ladder has: one a setting, where there are few."""
        return min(SQUARES, int((self.highest - self.lowest) / self.step + 1e-9) + 1)

    def deep(self, settings: Floats | float) -> Floats:
        """Return settings as numbers that rise with the depth of the cut, over the same range; its own inverse."""
        values = np.asarray(settings, float)
        return self.lowest * self.highest / values if self.falls else values

    def settable(self, settings: Floats) -> tuple[float, ...]:
        """Return different settings that the machine has, near those wished for, rising."""
        places = np.rint((np.sort(settings) - self.lowest) / self.step).astype(int)
        last = int((self.highest - self.lowest) / self.step + 1e-9)
        for index in range(1, len(places)):  # apart upwards, then back below the top
            places[index] = max(places[index], places[index - 1] + 1)
        places = np.minimum(places, last - np.arange(len(places))[::-1])
        for index in range(len(places) - 2, -1, -1):
            places[index] = min(places[index], places[index + 1] - 1)
        low = np.maximum(places, np.arange(len(places)))
        return tuple(round(float(self.lowest + place * self.step), 6) for place in low)


@dataclass(frozen=True, slots=True, kw_only=True)
class Look:
    """What a ladder showed.

    Attributes:
        settings: of its squares, as they cut deeper; rising numbers (``SettingRange.deep``).
        first_clean: index of the first square that lifts clean off its surroundings; their number where none does.
        first_marked: index of the first square whose liner is marked; their number where none is.
    """

    settings: tuple[float, ...]
    first_clean: int
    first_marked: int

    def __post_init__(self) -> None:
        count = len(self.settings)
        if not count or any(setting <= 0 for setting in self.settings) or list(self.settings) != sorted(self.settings):
            raise UsageError("The settings of a ladder rise from square to square, and none is 0")
        if not (0 <= self.first_clean <= count and 0 <= self.first_marked <= count):
            raise UsageError(f"The ladder has {count} squares")
        if self.first_marked < self.first_clean:
            raise UsageError(
                "A square whose liner is marked is cut through, so it lifts: the first clean one cannot come after it"
            )


@dataclass(frozen=True, slots=True, kw_only=True)
class Window:
    """Settings that most likely cut clean.

    Attributes:
        low, high: between them the chance of a clean cut is at least ``SAFE``; None where no setting reaches it.
        best: the setting with the best chance.
        chance: of a clean cut there.
    """

    low: float | None
    high: float | None
    best: float
    chance: float

    @property
    def is_safe(self) -> bool:
        """Whether there is a setting that can be trusted."""
        return self.low is not None


class Belief:
    """What is known of one stock, blade and machine: the posterior of its lower edge, width and noise.

    Lower and upper edge lie on one grid in octaves, so that what depends on one of them is looked up in a table.
    """

    def __init__(
        self,
        reach: SettingRange,
        looks: Sequence[Look] = (),
        similar: Window | None = None,
        blunted: Sequence[float] = (),
    ) -> None:
        """Take what is known.

        Args:
            reach: what the machine can be set to.
            looks: what ladders showed.
            similar: the window found for similar stock.
            blunted: by how many octaves the blade of each look cut shallower than a new one; none where not told.
        """
        self.reach, self.looks = reach, tuple(looks)
        self._knows_nothing = not self.looks and similar is None
        self._low, self._high = np.log2(reach.lowest), np.log2(reach.highest)
        self._edges = np.arange(self._low - _MARGIN_OCTAVES, self._high + _MARGIN_OCTAVES + _WIDEST, _GRID_OCTAVES)
        lowers, widths = len(self._edges) - _WIDTHS, np.arange(1, _WIDTHS + 1)
        self._lower = np.arange(lowers)[:, None]
        self._upper = self._lower + widths
        log = _near(np.log(widths * _GRID_OCTAVES), _LIKELY_WIDTH)[:, None] + _near(np.log(_NOISES), _LIKELY_NOISE)
        log = np.broadcast_to(log, (lowers, _WIDTHS, len(_NOISES)))
        if similar is not None:
            log = log + self._as_similar(similar)[:, :, None]
        before = special.logsumexp(log)
        for look, shift in zip(self.looks, blunted or (0.0,) * len(self.looks), strict=True):
            log = log + self._likelihood(look, shift)
        self.log_evidence = float(special.logsumexp(log) - before)
        weight = np.exp(log - special.logsumexp(log))
        self._lower_weight: Floats = weight.sum(axis=1)
        """(edges, noises)"""
        self._upper_weight: Floats = np.zeros((len(self._edges), len(_NOISES)))
        np.add.at(self._upper_weight, self._upper, weight)

    def _as_similar(self, window: Window) -> Floats:
        """Return the logarithm of a prior at the edges of similar stock."""
        if window.low is None or window.high is None:
            return np.zeros(self._upper.shape)
        off = (self._edges - np.log2(window.low)) ** 2, (self._edges - np.log2(window.high)) ** 2
        near = np.exp(-0.5 * (off[0][self._lower] + off[1][self._upper]) / _SIMILAR_SPREAD**2)
        return np.asarray(np.log(near + _OTHERWISE))

    def _likelihood(self, look: Look, shift: float = 0.0) -> Floats:
        """Return the logarithm of the chance that just these squares were the first, for every belief."""
        places = np.log2(look.settings) - shift
        lower, upper = np.zeros((2, len(self._edges), len(_NOISES)))
        for index, at in enumerate(places[: look.first_marked + 1]):  # nobody looks any further
            if index < look.first_clean:
                lower += special.log_ndtr((self._edges[:, None] - at) / _NOISES)
            elif index == look.first_marked:
                upper += special.log_ndtr((at - self._edges[:, None]) / _NOISES)
            elif index > look.first_clean:
                upper += special.log_ndtr((self._edges[:, None] - at) / _NOISES)
        likelihood = lower[self._lower] + upper[self._upper]
        if look.first_clean < min(look.first_marked, len(places)):
            below = special.ndtr((places[look.first_clean] - self._edges[:, None]) / _NOISES)
            likelihood += np.log(np.maximum(below[self._lower] - below[self._upper], 1e-300))
        return np.asarray(likelihood)

    @lazy_property
    def settings(self) -> Floats:
        """(n,) settings over all that the machine has, evenly in octaves."""
        return np.exp2(np.linspace(self._low, self._high, _PLACES))

    @lazy_property
    def chances(self) -> Floats:
        """(n,) chance of a clean cut at each of ``settings``."""
        off = (np.log2(self.settings)[:, None, None] - self._edges[:, None]) / _NOISES
        above = special.ndtr(off)
        torn = ((1 - above[:, : len(self._lower_weight)]) * self._lower_weight).sum(axis=(1, 2))
        marked = (above * self._upper_weight).sum(axis=(1, 2))
        return np.asarray(np.maximum(1 - torn - marked, 0.0))

    @lazy_property
    def window(self) -> Window:
        """The settings that most likely cut clean."""
        peak = int(self.chances.argmax())
        best = np.sqrt(np.prod(self.settings[_run(self.chances >= self.chances[peak] - _AS_GOOD, peak)]))
        safe = None if self.chances[peak] < SAFE else self.settings[_run(self.chances >= SAFE, peak)]
        return Window(
            low=None if safe is None else self._nearest(safe[0]),
            high=None if safe is None else self._nearest(safe[1]),
            best=self._nearest(float(best)),
            chance=float(self.chances[peak]),
        )

    def _nearest(self, depth: float) -> float:
        """Return the setting of the machine that is nearest to a depth, as a depth."""
        setting = float(self.reach.deep(depth))
        steps = round((float(setting) - self.reach.lowest) / self.reach.step)
        return float(self.reach.deep(round(min(self.reach.highest, self.reach.lowest + steps * self.reach.step), 6)))

    @property
    def needs_another_look(self) -> bool:
        """Whether one more ladder is worth its squares."""
        count = len(self.looks)
        return count < MOST_LOOKS and (count < _LEAST_LOOKS or self.window.chance < _ENOUGH)

    def next_ladder(self) -> tuple[float, ...]:
        """Return the settings of the next ladder, from the lightest cut to the deepest.

        At first over all that the machine has, then about the two edges; where the machine has few, all of them.
        """
        count = self.reach.squares
        if self._knows_nothing or count < SQUARES:
            return self._settable(np.exp2(np.linspace(self._low, self._high, count)))
        shares = (np.arange(SQUARES // 2) + 0.5) / (SQUARES // 2)
        weights = self._lower_weight.sum(axis=1), self._upper_weight.sum(axis=1)
        both = [np.interp(shares, np.cumsum(weight), self._edges[: len(weight)]) for weight in weights]
        return self._settable(np.exp2(np.clip(np.concatenate(both), self._low, self._high)))

    def _settable(self, depths: Floats) -> tuple[float, ...]:
        settings = self.reach.settable(self.reach.deep(depths))
        return settings[::-1] if self.reach.falls else settings


def _near(values: Floats, likely: tuple[float, float]) -> Floats:
    """Return the logarithm of a log-normal prior: its middle, and its spread as a factor's logarithm."""
    return np.asarray(-0.5 * ((values - np.log(likely[0])) / likely[1]) ** 2)


def _run(among: NDArray[np.bool_], peak: int) -> list[int]:
    """Return the first and last index of the run of True that holds ``peak``."""
    gaps = np.flatnonzero(~among)
    before, after = gaps[gaps < peak], gaps[gaps > peak]
    return [int(before[-1]) + 1 if len(before) else 0, int(after[0]) - 1 if len(after) else len(among) - 1]
