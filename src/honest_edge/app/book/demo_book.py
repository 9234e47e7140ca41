"""The made-up Book that the demo job comes with: a season of the Quillwort Tea Garden."""

from __future__ import annotations

from dataclasses import asdict

from honest_edge.core.values.log_event import LogEvent, RunRecord
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.printer import Printer
from honest_edge.files.book.store import RUN

_DAY_MS = 86_400_000
_VINYL, _PAPER, _CARD = "White vinyl, satin", "White paper, matt", "Card, 220 g"
_RUNS: tuple[tuple[int, str, str, int, int, int, str, float], ...] = (
    (3, "Summer tins", _PAPER, 4, 31, 2, "white at the bee's wing", 0.95),
    (9, "Herb sheet", _VINYL, 2, 24, 0, "", 0.98),
    (12, "Price tags", _CARD, 3, 36, 0, "", 0.99),
    (17, "Herb sheet", _VINYL, 3, 30, 6, "third sheet fed askew", 0.97),
    (24, "Mint labels", _PAPER, 2, 40, 0, "", 0.99),
    (31, "Open day badges", _VINYL, 5, 58, 2, "liner cut through, blade too deep", 0.96),
    (38, "Lavender bags", _PAPER, 2, 22, 2, "white at the stem", 0.9),
    (40, "Lavender bags", _PAPER, 2, 24, 0, "", 0.97),
    (52, "Tin lids", _VINYL, 3, 27, 0, "", 0.98),
    (60, "Teapot magnets", _VINYL, 1, 8, 1, "corner lifted", 0.94),
    (66, "Price tags", _CARD, 2, 20, 4, "card torn at the hole", 0.99),
    (73, "Price tags", _CARD, 2, 24, 0, "", 0.99),
    (85, "Rose hip labels", _PAPER, 2, 39, 1, "printed at 97 percent", 0.97),
    (97, "Thyme on kraft", "Kraft paper", 2, 17, 1, "grain showed at the edge", 0.96),
    (110, "Christmas tea", _VINYL, 6, 70, 2, "marks not read, second try", 0.97),
    (118, "Christmas tea", _VINYL, 4, 48, 0, "", 0.98),
    (125, "Gift tags", _CARD, 4, 47, 1, "crease too light", 0.99),
    (141, "Honey jars", _PAPER, 3, 33, 3, "white at the bee's wing", 0.91),
    (148, "Honey jars", _PAPER, 3, 36, 0, "", 0.97),
    (160, "Garden map cards", _CARD, 8, 8, 0, "", 1.0),
)
"""Days ago, title, stock, sheets, good, bad, why, what was expected: all made up."""

_PRICES = {_VINYL: 0.62, _PAPER: 0.31, _CARD: 0.18}
"""Of a sheet; that of the kraft paper was never typed."""


def demo_events(now_ms: int) -> list[LogEvent]:
    """Return the made-up events, the oldest first, as if written by now, in UTC milliseconds."""
    found = []
    for number, (days, title, stock, sheets, good, bad, reason, forecast) in enumerate(_RUNS):
        run = RunRecord(
            title=title,
            stock=stock,
            machine=Machine().name,
            printer=Printer().name,
            sheets=sheets,
            good=good,
            bad=bad,
            reason=reason,
            forecast=forecast,
            sheet_price=_PRICES.get(stock),
        )
        at_ms = now_ms - days * _DAY_MS - number % 4 * 3_700_000
        found.append(LogEvent(key=f"{number + 1:032x}", at_ms=at_ms, kind=RUN, data=asdict(run)))
    return found[::-1]
