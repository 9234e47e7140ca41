"""One search for the setting of a blade: its looks so far, what they say, and the ladder to cut next."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace

import numpy as np

from honest_edge.core.values.book_records import CutSubject, LadderLook, SettingFound
from honest_edge.core.workshop.blade_wear import wear_octaves, worn
from honest_edge.core.workshop.ladder import Belief, Floats, Look, SettingRange, Window

_LATEST = 60
"""Readings enough to tell wear by; older ones were of other blades."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CutTrial:
    """What is tried, and what was seen.

    Attributes:
        subject: the stock, machine, blade and kind of line.
        reach: what the machine can be set to.
        similar: the window found before for this or similar stock.
        session: names the looks in the Book.
        looks: so far.
        names, beside: as of ``LadderLook``.
    """

    subject: CutSubject
    reach: SettingRange
    similar: Window | None = None
    session: str
    looks: tuple[LadderLook, ...] = ()
    names: str = ""
    beside: str = ""

    def read(
        self, settings: tuple[float, ...], first_clean: int, first_marked: int, blade_m: float | None = None
    ) -> CutTrial:
        """Return it with one more look, and the metres that its blade had cut where they are known.

        Raises:
            UsageError: the reading contradicts itself.
        """
        Look(settings=_depths(settings, self.reach), first_clean=first_clean, first_marked=first_marked)
        look = LadderLook(
            **asdict(self.subject),
            session=self.session,
            settings=" ".join(f"{setting:g}" for setting in settings),
            first_clean=first_clean,
            first_marked=first_marked,
            lowest=self.reach.lowest,
            highest=self.reach.highest,
            step=self.reach.step,
            blade_m=blade_m,
            similar_low=None if self.similar is None else self.similar.low,
            similar_high=None if self.similar is None else self.similar.high,
            names=self.names,
            beside=self.beside,
        )
        return replace(self, looks=(*self.looks, look))


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class TrialState:
    """What a trial says.

    Attributes:
        trial: which.
        window: the likely settings, the low one below the high one.
        settings, chances: (n,) the curve of a clean cut's chance, by rising settings.
        ladder: the settings to cut next; None where no more looks are worth their squares.
    """

    trial: CutTrial
    window: Window
    settings: Floats
    chances: Floats
    ladder: tuple[float, ...] | None

    @property
    def found(self) -> SettingFound:
        """What is kept of it."""
        window = self.window
        return SettingFound(
            **asdict(self.trial.subject),
            session=self.trial.session,
            best=window.best,
            low=window.low,
            high=window.high,
            chance=min(1.0, window.chance),
            looks=len(self.trial.looks),
            names=self.trial.names,
            beside=self.trial.beside,
        )


def new_trial(
    subject: CutSubject,
    reach: SettingRange,
    similar: SettingFound | None = None,
    octaves: float = 0.0,
    names: str = "",
    beside: str = "",
) -> CutTrial:
    """Return a trial without looks.

    Args:
        subject: what is tried.
        reach: what the machine can be set to.
        similar: what was found before for this or similar stock; what is not safe tells nothing.
        octaves: by how much the blade cuts shallower since then.
        names: as of ``LadderLook``.
        beside: as of ``LadderLook``.
    """
    window = None if similar is None else _window(similar.low, similar.high)
    window = None if window is None else worn(window, -octaves if reach.falls else octaves)
    session = secrets.token_hex(16)
    return CutTrial(subject=subject, reach=reach, similar=window, session=session, names=names, beside=beside)


def _window(low: float | None, high: float | None) -> Window | None:
    return None if low is None or high is None else Window(low=low, high=high, best=(low * high) ** 0.5, chance=1.0)


def trial_of(looks: tuple[LadderLook, ...]) -> CutTrial:
    """Return the trial that looks of one session belong to, the oldest first."""
    first = looks[0]
    return CutTrial(
        subject=first.subject,
        reach=reach_of(first),
        similar=_window(first.similar_low, first.similar_high),
        session=first.session,
        looks=looks,
        names=first.names,
        beside=first.beside,
    )


def reach_of(look: LadderLook) -> SettingRange:
    """Return what the machine of a look can be set to."""
    return SettingRange(lowest=look.lowest, highest=look.highest, step=look.step, falls=look.name == "speed")


def state_of(trial: CutTrial) -> TrialState:
    """Return what a trial says now."""
    similar = None if trial.similar is None else _turned(trial.similar, trial.reach)
    belief = Belief(trial.reach, [_look(look) for look in trial.looks], similar)
    order = -1 if trial.reach.falls else 1
    return TrialState(
        trial=trial,
        window=_turned(belief.window, trial.reach),
        settings=trial.reach.deep(belief.settings)[::order],
        chances=belief.chances[::order],
        ladder=belief.next_ladder() if belief.needs_another_look else None,
    )


def blunter_since(earlier: Sequence[LadderLook], reach: SettingRange, session: str, blade_m: float | None) -> float:
    """Return by how many octaves a blade cuts shallower than in a session; 0 where the readings do not ask for it.

    Args:
        earlier: all looks at the stock and line on this machine.
        reach: what the machine can be set to.
        session: that the search starts from.
        blade_m: metres that the blade has cut by now.
    """
    told = [(_look(look), look.blade_m) for look in earlier if look.blade_m is not None][-_LATEST:]
    then = [look.blade_m for look in earlier if look.session == session and look.blade_m is not None]
    if blade_m is None or not then:
        return 0.0
    return wear_octaves(reach, told) * (blade_m - then[-1]) / 100


def _look(look: LadderLook) -> Look:
    depths = _depths(look.squares, reach_of(look))
    return Look(settings=depths, first_clean=look.first_clean, first_marked=look.first_marked)


def _depths(settings: tuple[float, ...], reach: SettingRange) -> tuple[float, ...]:
    return tuple(reach.deep(np.array(settings)).tolist())


def _turned(window: Window, reach: SettingRange) -> Window:
    """Return a window of depths as one of settings, or the other way."""
    if not reach.falls:
        return window

    def turned(value: float) -> float:
        return round(float(reach.deep(value)), 6)

    ends = None if window.low is None or window.high is None else (turned(window.high), turned(window.low))
    return replace(
        window,
        low=None if ends is None else ends[0],
        high=None if ends is None else ends[1],
        best=turned(window.best),
    )
