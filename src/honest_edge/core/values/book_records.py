"""What the Book holds beside runs: looks at test squares, settings found, blades, sheets that came and went, prices."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.log_event import MOST_TEXT, is_key
from honest_edge.core.values.recipe import CutSetting
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.units import check_range

SettingName = Literal["force", "depth", "speed", "passes", "named"]
BladeEvent = Literal["fitted", "dull", "changed early"]
Tack = Literal["light", "standard", "strong"]
MoveKind = Literal["bought", "used", "spoiled", "counted"]
_MOST_SHEETS = 100_000
_MOST_PRICE = 1e6


@dataclass(frozen=True, slots=True, kw_only=True)
class CutSubject:
    """What a setting is for.

    Attributes:
        stock, machine, blade: their names; a blade may have none.
        line: the kind of line.
        name: what is set: force, depth, speed, how many passes, or which of the settings that the machine keeps.
    """

    stock: str
    machine: str
    blade: str = ""
    line: LineKind = "kiss"
    name: SettingName = "force"

    def __post_init__(self) -> None:
        _check_texts(self.stock, self.machine, self.blade)
        if not self.stock or not self.machine:
            raise UsageError("Name the stock and the machine that a setting is for")

    @property
    def subject(self) -> CutSubject:
        """What it is for, and nothing else of it."""
        return CutSubject(stock=self.stock, machine=self.machine, blade=self.blade, line=self.line, name=self.name)


@dataclass(frozen=True, slots=True, kw_only=True)
class LadderLook(CutSubject):
    """What one ladder of test squares showed.

    Attributes:
        session: names the looks that belong together.
        settings: of the squares, from the lightest cut to the deepest, with spaces between.
        first_clean, first_marked: as of ``core.workshop.ladder.Look``.
        lowest, highest, step: what the machine can be set to.
        similar_low, similar_high: the window of similar stock that the search began from; None where from nothing.
        blade_m: metres that the blade had cut; None where that is not known.
        names: of the settings that the machine keeps, a line each, of which the numbers count; empty for numbers.
        beside: what else the machine was set to, in words.
    """

    session: str
    settings: str
    first_clean: int
    first_marked: int
    lowest: float
    highest: float
    step: float
    similar_low: float | None = None
    similar_high: float | None = None
    blade_m: float | None = None
    names: str = ""
    beside: str = ""

    def __post_init__(self) -> None:
        CutSubject.__post_init__(self)
        _check_texts(self.names, self.beside)
        if not is_key(self.session):
            raise UsageError("A look at a ladder names the session that it belongs to")
        try:
            count = len(self.squares)
        except ValueError:
            raise UsageError(f"“{self.settings[:40]}” are no settings of a ladder: they are numbers") from None
        if not 0 <= self.first_clean <= self.first_marked <= count:
            raise UsageError(
                "A look at a ladder contradicts itself: of so many squares first some are torn, then clean, then marked"
            )

    @property
    def squares(self) -> tuple[float, ...]:
        """The settings of the squares."""
        return tuple(float(text) for text in self.settings.split())


@dataclass(frozen=True, slots=True, kw_only=True)
class SettingFound(CutSubject):
    """What test cuts came to.

    Attributes:
        session: whose looks it was found from.
        best: the setting; where none is safe, the best there is.
        low, high: the likely window; None where no setting is safe.
        chance: of a clean cut at ``best``.
        looks: how many ladders it took.
        names, beside: as of ``LadderLook``.
    """

    session: str
    best: float
    low: float | None = None
    high: float | None = None
    chance: float
    looks: int
    names: str = ""
    beside: str = ""

    def __post_init__(self) -> None:
        CutSubject.__post_init__(self)
        _check_texts(self.names, self.beside)
        check_range("setting", self.best, 1e-6, 1e6, "")
        check_range("chance of a clean cut", self.chance, 0, 1, "")
        if (self.low is None) != (self.high is None):
            raise UsageError("A window of settings has two ends")

    @property
    def is_safe(self) -> bool:
        """Whether it can be trusted."""
        return self.low is not None

    @property
    def best_name(self) -> str:
        """The setting as it is called: by its name where the machine keeps it, else as a number."""
        return value_name(self.best, self.names)


def value_name(value: float, names: str) -> str:
    """Return what one setting is called: its name where names are kept, else the number."""
    every = names.split("\n") if names else []
    place = round(value) - 1
    return every[place] if 0 <= place < len(every) else f"{value:g}"


@dataclass(frozen=True, slots=True, kw_only=True)
class CutRecipe:
    """A recipe card: what one kind of line is cut with on a stock, on a machine, under a laminate.

    Attributes:
        stock, machine, line, laminate: what it is for; the laminate is empty for none.
        blade: its name; empty where any does.
        force, depth, named, speed_mm_s, slow_mm_s, passes: as of ``recipe.CutSetting``.
        origin: typed, taken over from a run, or found by test cuts.
        remark: anything else.
        is_gone: whether the card was taken out again.
    """

    stock: str
    machine: str
    line: LineKind = "kiss"
    laminate: str = ""
    blade: str = ""
    force: float | None = None
    depth: float | None = None
    named: str = ""
    speed_mm_s: float | None = None
    slow_mm_s: float | None = None
    passes: int | None = None
    origin: Literal["typed", "run", "test cuts"] = "typed"
    remark: str = ""
    is_gone: bool = False

    def __post_init__(self) -> None:
        _check_texts(self.stock, self.machine, self.laminate, self.blade, self.remark)
        if not self.stock or not self.machine:
            raise UsageError("Name the stock and the machine that a recipe is for")
        if self.setting.says_nothing and not self.is_gone:
            raise UsageError("A recipe says what is set: a force, a depth, the name of a setting, a speed or passes")

    @property
    def setting(self) -> CutSetting:
        """What is set."""
        return CutSetting(
            force=self.force, depth=self.depth, named=self.named, speed_mm_s=self.speed_mm_s, slow_mm_s=self.slow_mm_s,
            passes=self.passes,
        )  # fmt: skip

    @property
    def subject(self) -> tuple[str, str, str, str]:
        """What it is for: the newest card of one subject counts."""
        return self.stock, self.machine, self.line, self.laminate


@dataclass(frozen=True, slots=True, kw_only=True)
class BladeNote:
    """What happened to a blade.

    Attributes:
        blade: its name.
        what: fitted new, found dull, or changed before it was dull.
        metres: that it cut before it was kept here, or since; counted beside those of the runs.
    """

    blade: str
    what: BladeEvent
    metres: float = 0.0

    def __post_init__(self) -> None:
        _check_texts(self.blade)
        if not self.blade:
            raise UsageError("Name the blade")
        check_range("metres that a blade cut", self.metres, 0, 1e6, "m")


@dataclass(frozen=True, slots=True, kw_only=True)
class StockMove:
    """Sheets that came, went or were counted.

    Attributes:
        stock: its name.
        what: "counted" says how many there are; the others how many came or went.
        sheets: how many.
        price: of one sheet that was bought; None where it is not known, which is not 0.
        lot: what stands on the pack.
    """

    stock: str
    what: MoveKind
    sheets: int
    price: float | None = None
    lot: str = ""

    def __post_init__(self) -> None:
        _check_texts(self.stock, self.lot)
        if not self.stock:
            raise UsageError("Name the stock")
        if not (0 if self.what == "counted" else 1) <= self.sheets <= _MOST_SHEETS:
            raise UsageError(f"{self.sheets} sheets cannot be {self.what}: type 1 to {_MOST_SHEETS}")
        if self.price is not None and not 0 <= self.price <= _MOST_PRICE:
            raise UsageError(f"A sheet costs 0 to {_MOST_PRICE:g}; {self.price:g} was given")


@dataclass(frozen=True, slots=True, kw_only=True)
class StockFacts:
    """What the user knows of a stock beside its profile; None and "" where nothing was typed.

    Attributes:
        stock: its name.
        hardness: how much faster than paper it wears a blade; None counts as 1.
        drying_min: how long ink has to dry on it.
        laminate: what is laid over it.
        remark: anything else.
        driver: how the printer's driver is set for it.
    """

    stock: str
    hardness: float | None = None
    drying_min: float | None = None
    laminate: str = ""
    remark: str = ""
    driver: str = ""

    def __post_init__(self) -> None:
        _check_texts(self.stock, self.laminate, self.remark, self.driver)
        if not self.stock:
            raise UsageError("Name the stock")
        if self.hardness is not None:
            check_range("hardness", self.hardness, 0.1, 100, "")
        if self.drying_min is not None:
            check_range("drying time", self.drying_min, 0, 100_000, "min")


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptWork:
    """A design or a whole sheet that is kept to be used again.

    Attributes:
        name: what it is called.
        what: a design is laid into other jobs; a template makes a new job from other art and words.
        job: names it among the jobs that are kept beside the Book.
        size: its size in words.
        words: what else it is found by.
        is_gone: whether it was taken out of the library again.
    """

    name: str
    what: Literal["design", "template"]
    job: str
    size: str = ""
    words: str = ""
    is_gone: bool = False

    def __post_init__(self) -> None:
        _check_texts(self.name, self.size, self.words)
        if not self.name.strip():
            raise UsageError("Give it a name, by which it is found again")
        if not is_key(self.job):
            raise UsageError("What is kept names its job")


@dataclass(frozen=True, slots=True, kw_only=True)
class Carrier:
    """A mat that carries a sheet through the machine; one of the same name takes the place of an older note of it.

    Attributes:
        name: what the user calls it.
        width_mm, length_mm: what it carries.
        tack: how strongly it holds.
        remark: anything else.
    """

    name: str
    width_mm: float = 300.0
    length_mm: float = 300.0
    tack: Tack = "standard"
    remark: str = ""

    def __post_init__(self) -> None:
        _check_texts(self.name, self.remark)
        if not self.name.strip():
            raise UsageError("Name the carrier")
        check_range("width of the carrier", self.width_mm, 20, 5000)
        check_range("length of the carrier", self.length_mm, 20, 50_000)


@dataclass(frozen=True, slots=True, kw_only=True)
class CarrierCare:
    """A carrier was new, or was cleaned: from then on it holds as it should."""

    carrier: str
    what: Literal["new", "cleaned"]

    def __post_init__(self) -> None:
        _check_texts(self.carrier)
        if not self.carrier.strip():
            raise UsageError("Name the carrier")


@dataclass(frozen=True, slots=True, kw_only=True)
class Rates:
    """What things cost, in the user's own money; None where it was never typed, which is not 0.

    Attributes:
        ink: of 100 cm² really inked.
        laminate: of a sheet of it.
        blade: of a blade.
        blade_m: metres that a blade is reckoned to cut.
        hour: of an hour of hands at work.
        margin_percent: added to what a piece costs, for a price.
    """

    ink: float | None = None
    laminate: float | None = None
    blade: float | None = None
    blade_m: float | None = None
    hour: float | None = None
    margin_percent: float | None = None

    def __post_init__(self) -> None:
        for name, value in (
            ("ink", self.ink),
            ("laminate", self.laminate),
            ("a blade", self.blade),
            ("an hour", self.hour),
        ):
            if value is not None:
                check_range(f"price of {name}", value, 0, _MOST_PRICE, "")
        if self.blade_m is not None:
            check_range("metres of a blade", self.blade_m, 1, 1e6, "m")
        if self.margin_percent is not None:
            check_range("margin", self.margin_percent, 0, 10_000, "%")


def _check_texts(*texts: str) -> None:
    for text in texts:
        if len(text) > MOST_TEXT:
            raise UsageError(f"“{text[:20]} …” has {len(text)} letters; {MOST_TEXT} are kept")
