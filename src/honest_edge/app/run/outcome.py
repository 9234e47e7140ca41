"""What came out of a run so far, and whether what is left suffices."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from honest_edge.app.run.order_lines import OrderTally, order_tally
from honest_edge.app.run.pointers import pointed_to
from honest_edge.core.measure.diagnosis import Likely
from honest_edge.core.run.state import RunState, SheetState, page_of
from honest_edge.core.run.yield_share import Prior, Seen, Wanting, YieldShare, chance_of_enough, learnt
from honest_edge.core.values.run_events import BadSticker
from honest_edge.core.values.run_seal import SealedRun

ASKED = 0.9
"""Below this chance another sheet is advised."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DesignTally:
    """One design: how many good ones are wanted, how many there are."""

    name: str
    wanted: int
    good: int

    @property
    def lacking(self) -> int:
        """How many are wanting yet."""
        return max(0, self.wanted - self.good)


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetTally:
    """One inspected sheet: how many of its stickers are good, of how many, and what was bad."""

    number: int
    good: int
    count: int
    bad: tuple[BadSticker, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Tally:
    """What came out so far.

    Attributes:
        designs: what is wanted and there of each.
        sheets: that were inspected.
        bad: stickers that were bad.
        spoiled: sheets that were lost.
        chance: that the sheets that are left give enough.
        share: that comes out good, and where it lies 19 times of 20; by what was expected and what was inspected.
        causes: that bad stickers point to, the likeliest first.
        one_more: the page of the layout that would help the most if it were printed once more; None where none is
            asked for.
        order: whose lines are there, and whose are wanting.
    """

    designs: tuple[DesignTally, ...]
    sheets: tuple[SheetTally, ...]
    bad: int
    spoiled: int
    chance: float
    share: float
    share_range: tuple[float, float]
    one_more: int | None
    causes: tuple[Likely, ...] = ()
    order: tuple[OrderTally, ...] = ()

    @property
    def good(self) -> int:
        """How many are good, spare ones too."""
        return sum(design.good for design in self.designs)

    @property
    def wanted(self) -> int:
        """How many are wanted in all."""
        return sum(design.wanted for design in self.designs)

    @property
    def lacking(self) -> int:
        """How many are wanting yet."""
        return sum(design.lacking for design in self.designs)


def tally_of(
    seal: SealedRun, state: RunState, prior: Prior, forecasts: Mapping[str, float], history: Sequence[Seen]
) -> Tally:
    """Return what came out so far.

    Args:
        seal: of the run.
        state: how it stands.
        prior: what is expected of all stickers together.
        forecasts: what is expected of each design, by name.
        history: what earlier inspections of these designs found.
    """
    good = _good(seal, state)
    designs = tuple(
        DesignTally(name=design.name, wanted=design.wanted, good=good[number])
        for number, design in enumerate(seal.designs)
    )
    known = learnt(prior, [*history, *_seen(seal, state, forecasts)])
    pages = [sheet.page for sheet in state.live]
    wanting = _Wanting(seal=seal, designs=designs, known=known, forecasts=forecasts)
    chance = wanting.chance(pages)
    tallies = tuple(
        SheetTally(
            number=sheet.number,
            good=len(_cut_copies(seal, sheet)) - len(sheet.bad),
            count=len(_cut_copies(seal, sheet)),
            bad=sheet.bad,
        )
        for sheet in state.sheets
        if sheet.bad is not None
    )
    return Tally(
        designs=designs,
        sheets=tallies,
        bad=sum(len(sheet.bad) for sheet in tallies),
        spoiled=sum(bool(sheet.spoiled) for sheet in state.sheets),
        chance=chance,
        share=known.share,
        share_range=known.interval,
        causes=pointed_to(seal, state),
        order=order_tally(seal, good),
        one_more=None if chance >= ASKED else wanting.most_helpful(pages),
    )


def _cut_copies(seal: SealedRun, sheet: SheetState) -> list[int]:
    return [copy for copy in range(len(page_of(seal, sheet).copies)) if copy not in sheet.skipped]


def good_of(seal: SealedRun, sheet: SheetState) -> Counter[int]:
    """Return how many of each design came out good on an inspected sheet."""
    bad = {one.copy for one in sheet.bad or ()}
    copies = page_of(seal, sheet).copies
    return Counter(copies[copy].design for copy in _cut_copies(seal, sheet) if copy not in bad)


def bad_of(seal: SealedRun, sheet: SheetState) -> dict[int, list[BadSticker]]:
    """Return what was bad of each design on an inspected sheet."""
    bad: dict[int, list[BadSticker]] = {}
    for one in sheet.bad or ():
        bad.setdefault(page_of(seal, sheet).copies[one.copy].design, []).append(one)
    return bad


def _good(seal: SealedRun, state: RunState) -> Counter[int]:
    good: Counter[int] = Counter()
    for sheet in state.sheets:
        if sheet.bad is not None:
            good += good_of(seal, sheet)
    return good


def _seen(seal: SealedRun, state: RunState, forecasts: Mapping[str, float]) -> list[Seen]:
    """Return what was seen of each design on each inspected sheet; those of one name come out alike."""
    seen = []
    for sheet in state.sheets:
        if sheet.bad is None:
            continue
        good, whole = Counter[str](), Counter[str]()
        bad = {one.copy for one in sheet.bad}
        for copy in _cut_copies(seal, sheet):
            name = seal.designs[page_of(seal, sheet).copies[copy].design].name
            whole[name] += 1
            good[name] += copy not in bad
        seen += [Seen(forecast=forecasts[name], good=good[name], count=count) for name, count in whole.items()]
    return seen


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class _Wanting:
    seal: SealedRun
    designs: Sequence[DesignTally]
    known: YieldShare
    forecasts: Mapping[str, float]

    def chance(self, pages: Sequence[int]) -> float:
        """Return the chance that sheets of these pages give what is wanting."""
        wanting = [
            Wanting(
                forecast=self.forecasts[design.name],
                lacking=design.lacking,
                left=tuple(sorted(self._on(number, page) for page in pages)),
            )
            for number, design in enumerate(self.designs)
            if design.lacking
        ]
        return chance_of_enough(self.known, wanting)

    def _on(self, design: int, page: int) -> int:
        return sum(copy.design == design for copy in self.seal.pages[page].copies)

    def most_helpful(self, pages: Sequence[int]) -> int | None:
        """Return the page that helps the most if it is printed once more; of equals that with most that is wanting."""
        ranked = [
            (
                self.chance([*pages, page]),
                sum(min(design.lacking, self._on(number, page)) for number, design in enumerate(self.designs)),
                -page,
            )
            for page in range(len(self.seal.pages))
        ]
        return -max(ranked)[2] if ranked else None
