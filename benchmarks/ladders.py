"""Test cuts on 250 simulated stocks of each kind: how often the setting found cuts clean, in how many looks.

The stocks are made up: where the edges of a window lie, how wide it is and how much a square differs from the next.
Beside the model, in the same run and on the same stocks, two usual ways of hand: stepping up to the first clean
square, and bisection. Bounds: a setting that is clean in 95 % of squares, where there is one, in at least
93 / 78 / 80 % of the stocks, at most 3 looks, a step in at most 100 ms.
"""

from __future__ import annotations

import statistics
import sys
import time
from dataclasses import dataclass

import numpy as np
from scipy import stats

from honest_edge.core.workshop.ladder import MOST_LOOKS, Belief, Look, SettingRange

STOCKS = 250
REACH = SettingRange(lowest=20, highest=200, step=1)
KINDS = {
    "usual": ((0.35, 0.9), (0.03, 0.07)),
    "narrow": ((0.14, 0.3), (0.02, 0.05)),
    "noisy": ((0.4, 0.9), (0.09, 0.15)),
}
"""How wide the window is and how much squares differ, in octaves: made up."""

LEAST_SHARE = {"usual": 0.93, "narrow": 0.78, "noisy": 0.80}
MOST_STEP_S = 0.1


@dataclass(frozen=True)
class Made:
    """A made-up stock."""

    lower: float
    upper: float
    noise: float

    def clean(self, setting: float) -> float:
        """Return the true share of clean squares at a setting."""
        at = np.log2(setting)
        return float(stats.norm.cdf((at - self.lower) / self.noise) - stats.norm.cdf((at - self.upper) / self.noise))

    def best(self) -> float:
        return self.clean(2 ** ((self.lower + self.upper) / 2))

    def cut(self, setting: float, random: np.random.Generator) -> int:
        """Return 0 torn, 1 clean, 2 liner marked."""
        depth = np.log2(setting) + random.normal(0, self.noise)
        return int(depth > self.lower) + int(depth > self.upper)


def made(kind: str, random: np.random.Generator) -> Made:
    widths, noises = KINDS[kind]
    width, noise = random.uniform(*widths), random.uniform(*noises)
    lower = random.uniform(np.log2(REACH.lowest) + 0.2, np.log2(REACH.highest) - width - 0.2)
    return Made(lower, lower + width, noise)


def by_model(stock: Made, random: np.random.Generator) -> tuple[float | None, int, float]:
    """Return the setting found, the looks and the longest step; None where it says that none is safe."""
    looks: list[Look] = []
    longest = 0.0
    while True:
        began = time.perf_counter()
        belief = Belief(REACH, looks)
        if not belief.needs_another_look:
            window = belief.window
            return (window.best if window.is_safe else None), len(looks), longest
        settings = belief.next_ladder()
        longest = max(longest, time.perf_counter() - began)
        cuts = [stock.cut(setting, random) for setting in settings]
        first_clean = next((n for n, cut in enumerate(cuts) if cut >= 1), len(cuts))
        first_marked = next((n for n, cut in enumerate(cuts) if cut == 2), len(cuts))
        looks.append(Look(settings=settings, first_clean=first_clean, first_marked=first_marked))


def by_steps(stock: Made, random: np.random.Generator) -> float | None:
    """Return the first of eight rising settings whose square lifts clean."""
    return next((s for s in Belief(REACH).next_ladder() if stock.cut(s, random) == 1), None)


def by_bisection(stock: Made, random: np.random.Generator) -> float | None:
    """Return where halving stops: harder where it tears, softer where the liner is marked."""
    low, high = np.log2(REACH.lowest), np.log2(REACH.highest)
    for _ in range(SQUARES_OF_ALL_LOOKS):
        middle = float(2 ** ((low + high) / 2))
        cut = stock.cut(middle, random)
        if cut == 1:
            return middle
        low, high = (np.log2(middle), high) if cut == 0 else (low, np.log2(middle))
    return None


SQUARES_OF_ALL_LOOKS = 8 * MOST_LOOKS


def main() -> bool:
    is_fine = True
    for kind, least in LEAST_SHARE.items():
        random = np.random.default_rng(15)
        stocks = [stock for stock in (made(kind, random) for _ in range(STOCKS * 4)) if stock.best() >= 0.95][:STOCKS]
        found = [by_model(stock, random) for stock in stocks]
        good = [
            setting is not None and stock.clean(setting) >= 0.95
            for stock, (setting, _, _) in zip(stocks, found, strict=True)
        ]
        hands = {
            name: statistics.mean((s := way(stock, random)) is not None and stock.clean(s) >= 0.95 for stock in stocks)
            for name, way in (("stepping up", by_steps), ("bisection", by_bisection))
        }
        looks, longest = statistics.mean(row[1] for row in found), max(row[2] for row in found)
        none = sum(row[0] is None for row in found)
        share = statistics.mean(good)
        print(
            f"{kind} ({len(stocks)} stocks): clean in 95 % {100 * share:.0f} % (bound {100 * least:.0f}), "
            f"{looks:.2f} looks (bound {MOST_LOOKS}), longest step {1000 * longest:.0f} ms "
            f"(bound {1000 * MOST_STEP_S:.0f}), none said safe {none}; "
            + ", ".join(f"{name} {100 * value:.0f} %" for name, value in hands.items())
        )
        is_fine &= share >= least and looks <= MOST_LOOKS and longest <= MOST_STEP_S
    return is_fine


if __name__ == "__main__":
    sys.exit(0 if main() else 1)
