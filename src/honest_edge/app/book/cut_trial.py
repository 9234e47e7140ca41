"""One search for the setting of a blade: its looks so far, what they say, and the ladder to cut next."""

from __future__ import annotations

import secrets
from dataclasses import asdict, dataclass, replace

from honest_edge.core.plan.ladder import Belief, Floats, Look, SettingRange, Window
from honest_edge.core.values.book_records import CutSubject, LadderLook, SettingFound


@dataclass(frozen=True, slots=True, kw_only=True)
class CutTrial:
    """What is tried, and what was seen.

    Attributes:
        subject: the stock, machine, blade and kind of line.
        reach: what the machine can be set to.
        similar: the window found before for this or similar stock.
        session: names the looks in the Book.
        looks: so far.
    """

    subject: CutSubject
    reach: SettingRange
    similar: Window | None = None
    session: str
    looks: tuple[LadderLook, ...] = ()

    def read(self, settings: tuple[float, ...], first_clean: int, first_marked: int) -> CutTrial:
        """Return it with one more look.

        Raises:
            UsageError: the reading contradicts itself.
        """
        Look(settings=settings, first_clean=first_clean, first_marked=first_marked)
        look = LadderLook(
            **asdict(self.subject),
            session=self.session,
            settings=" ".join(f"{setting:g}" for setting in settings),
            first_clean=first_clean,
            first_marked=first_marked,
            lowest=self.reach.lowest,
            highest=self.reach.highest,
            step=self.reach.step,
            similar_low=None if self.similar is None else self.similar.low,
            similar_high=None if self.similar is None else self.similar.high,
        )
        return replace(self, looks=(*self.looks, look))


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class TrialState:
    """What a trial says.

    Attributes:
        trial: which.
        window: the likely settings.
        settings, chances: (n,) the curve of a clean cut's chance.
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
        )


def new_trial(subject: CutSubject, reach: SettingRange, similar: SettingFound | None = None) -> CutTrial:
    """Return a trial without looks.

    Args:
        subject: what is tried.
        reach: what the machine can be set to.
        similar: what was found before for this or similar stock; what is not safe tells nothing.
    """
    window = None if similar is None else _window(similar.low, similar.high)
    return CutTrial(subject=subject, reach=reach, similar=window, session=secrets.token_hex(16))


def _window(low: float | None, high: float | None) -> Window | None:
    return None if low is None or high is None else Window(low=low, high=high, best=(low * high) ** 0.5, chance=1.0)


def trial_of(looks: tuple[LadderLook, ...]) -> CutTrial:
    """Return the trial that looks of one session belong to, the oldest first."""
    first = looks[0]
    reach = SettingRange(lowest=first.lowest, highest=first.highest, step=first.step)
    similar = _window(first.similar_low, first.similar_high)
    return CutTrial(subject=first.subject, reach=reach, similar=similar, session=first.session, looks=looks)


def state_of(trial: CutTrial) -> TrialState:
    """Return what a trial says now."""
    looks = [
        Look(settings=look.squares, first_clean=look.first_clean, first_marked=look.first_marked)
        for look in trial.looks
    ]
    belief = Belief(trial.reach, looks, trial.similar)
    return TrialState(
        trial=trial,
        window=belief.window,
        settings=belief.settings,
        chances=belief.chances,
        ladder=belief.next_ladder() if belief.needs_another_look else None,
    )
