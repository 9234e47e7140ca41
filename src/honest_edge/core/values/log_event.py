"""What the Book holds: one thing that happened, in plain values."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from honest_edge.core.values.errors import UsageError

MOST_TEXT = 400
_MOST_PRICE, _MOST_AMOUNT = 1e6, 1e7
_EARLIEST_MS, _LATEST_MS = 946_684_800_000, 4_102_444_800_000
"""2000 and 2100 in UTC milliseconds: what lies outside was written by a clock that was not set."""

Plain = str | int | float | bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class LogEvent:
    """One thing that happened.

    Attributes:
        key: 32 hexadecimal digits, the same wherever the event is copied to.
        at_ms: when, in milliseconds of UTC since 1970.
        kind: what happened, one word, for instance "run".
        data: the rest, by name.
    """

    key: str
    at_ms: int
    kind: str
    data: Mapping[str, Plain]

    def __post_init__(self) -> None:
        if not is_key(self.key):
            raise UsageError(f"“{self.key}” is no key of an event: it has 32 hexadecimal digits")
        if not _EARLIEST_MS <= self.at_ms <= _LATEST_MS:
            raise UsageError(f"An event at {self.at_ms} ms lies outside of 2000 to 2100: set the clock")
        if not self.kind.isidentifier():
            raise UsageError(f"“{self.kind}” is no kind of event: it is one word")
        for name, value in self.data.items():
            _check(name, value)


def is_key(text: str) -> bool:
    """Whether a text is 32 hexadecimal digits."""
    return len(text) == 32 and not set(text) - set("0123456789abcdef")


def _check(name: str, value: Plain) -> None:
    if not isinstance(value, Plain) or not name.isidentifier():
        raise UsageError(f"“{name}” of an event is no plain value with a name")
    if isinstance(value, float) and value != value:
        raise UsageError(f"“{name}” of an event is no number")


@dataclass(frozen=True, slots=True, kw_only=True)
class RunRecord:
    """What was cut at one go, and what came of it.

    Attributes:
        title: of the job.
        stock, machine, printer: their names; empty where they have none.
        sheets: that were used.
        good, bad: pieces.
        reason: why some were bad, in the user's words.
        forecast: share that was expected clean; None where none was made.
        sheet_price: what a sheet of the stock cost then; None where that was not known, which is not 0.
        job: names the job as it was, which is kept beside the Book; empty where it is not.
        blade: its name; empty where it was not said.
        cut_m: metres that it cut, all passes; None where that was not kept.
        ink_cm2: area really inked on all sheets.
        minutes: of hands at work, as typed.
        setting: what the machine was set to, in the user's words.
    """

    title: str
    stock: str = ""
    machine: str = ""
    printer: str = ""
    sheets: int
    good: int
    bad: int
    reason: str = ""
    forecast: float | None = None
    sheet_price: float | None = None
    job: str = ""
    blade: str = ""
    cut_m: float | None = None
    ink_cm2: float | None = None
    minutes: float | None = None
    setting: str = ""

    def __post_init__(self) -> None:
        for name, value, most in (
            ("sheets", self.sheets, 10_000),
            ("good", self.good, 10**6),
            ("bad", self.bad, 10**6),
        ):
            if not 0 <= value <= most:
                raise UsageError(f"A run has 0 to {most} {name}; {value} were given")
        if self.good + self.bad == 0:
            raise UsageError("Nothing was cut: type how many pieces came out good, and how many bad")
        for text in (self.title, self.stock, self.machine, self.printer, self.reason, self.blade, self.setting):
            if len(text) > MOST_TEXT:
                raise UsageError(f"“{text[:20]} …” has {len(text)} letters; {MOST_TEXT} are kept")
        if self.forecast is not None and not 0 <= self.forecast <= 1:
            raise UsageError(f"A share lies between 0 and 1; {self.forecast} does not")
        if self.sheet_price is not None and not 0 <= self.sheet_price <= _MOST_PRICE:
            raise UsageError(f"A sheet costs 0 to {_MOST_PRICE:g}; {self.sheet_price:g} was given")
        for name, amount in (("metres cut", self.cut_m), ("cm² inked", self.ink_cm2), ("minutes", self.minutes)):
            if amount is not None and not 0 <= amount <= _MOST_AMOUNT:
                raise UsageError(f"A run has 0 to {_MOST_AMOUNT:g} {name}; {amount:g} were given")
        if self.job and not is_key(self.job):
            raise UsageError(f"“{self.job[:40]}” names no job that was kept")

    @property
    def share_good(self) -> float:
        """Share of the pieces that came out good."""
        return self.good / (self.good + self.bad)
