"""What came out so far, whether the rest suffices, and the caution that belongs to the step."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QScrollArea, QVBoxLayout, QWidget

from honest_edge.core.measure.remedies import TITLES
from honest_edge.ui.rooms.run.words import REASONS, SIDES
from honest_edge.ui.widgets.fields import card, label, set_tone
from honest_edge.ui.widgets.local import Label
from honest_edge.ui.widgets.theme import eased_px, px, tabular

if TYPE_CHECKING:
    from honest_edge.app.run.order_lines import OrderTally
    from honest_edge.app.run.outcome import SheetTally, Tally
    from honest_edge.app.run.run_facts import RunFacts

_MOST_SHEETS, _MOST_LINES = 8, 12
_ENOUGH = 0.9
_REASON_WORDS, _SIDE_WORDS = dict(REASONS), dict(SIDES)


class TallyPanel(QScrollArea):
    """The column at the right."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("cards")
        self.setFixedWidth(eased_px(226))
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        body = QWidget()
        body.setObjectName("cardsBody")
        self._column = QVBoxLayout(body)
        self._column.setContentsMargins(px(14), px(18), px(12), px(14))
        self._column.setSpacing(px(8))
        self.heading = label("Good so far", "heading")
        self.good = Label("–")
        self.good.setFont(tabular(40))
        self.good.setProperty("figure", "large")
        self.good.setAccessibleName("Good so far")
        self.chance, self.share = label("", "soft"), label("", "soft")
        self.sheets = label("")
        self.order = label("")
        self.order.setAccessibleName("The order")
        self.track = label("", "soft")
        frame, inside = card("sand", topic="cautions")
        self.caution, self.caution_words = label("", "look"), label("")
        inside.addWidget(self.caution)
        inside.addWidget(self.caution_words)
        self._caution = frame
        for widget in (self.heading, self.good, self.chance, self.share, self.order, self.sheets, self.track, frame):
            self._column.addWidget(widget)
        self._column.addStretch(1)
        self.setWidget(body)

    def show_caution(self, caution: tuple[str, str] | None) -> None:
        """Show what to look out for; nothing where there is nothing."""
        self._caution.setVisible(caution is not None)
        if caution is not None:
            self.caution.setText(caution[0])
            self.caution_words.setText(caution[1])

    def show_tally(self, tally: Tally | None, known: RunFacts | None) -> None:
        """Show what came out, and whose lines of the order are there: what is wanting first."""
        order = () if tally is None else sorted(tally.order, key=lambda one: one.is_done)
        self.order.setText("\n".join(map(order_words, order[:_MOST_LINES])))
        self.order.setVisible(bool(order))
        if tally is None:
            self.good.setText("–")
            for widget in (self.chance, self.share, self.sheets, self.track):
                widget.clear()
            return
        self.good.setText(f"{tally.wanted - tally.lacking} of {tally.wanted}")
        self.chance.setText(_kept_together(chance_words(tally)))
        self.share.setText(_kept_together(share_words(tally)))
        set_tone(self.chance, "soft" if tally.chance >= _ENOUGH or not tally.lacking else "look")
        self.sheets.setText("\n".join(sheet_words(sheet) for sheet in tally.sheets[-_MOST_SHEETS:]))
        self.sheets.setVisible(bool(tally.sheets))
        self.track.setText(_kept_together(track_words(known, tally)))


def _kept_together(text: str) -> str:
    """Return words whose percentages do not lose their sign at the end of a line."""
    return text.replace(" %", "\u00a0%")


def chance_words(tally: Tally) -> str:
    """Return whether what is left suffices."""
    if not tally.lacking:
        return "All that was wanted is there."
    if not tally.chance:
        return "No sheet is left that could give what is wanting"
    return f"With the sheets that are left: enough in {100 * tally.chance:.0f} % of runs"


def share_words(tally: Tally) -> str:
    """Return the share that is reckoned with."""
    low, high = tally.share_range
    return f"Reckoned with {100 * tally.share:.0f} % good, {100 * low:.0f} to {100 * high:.0f} %."


def order_words(one: OrderTally) -> str:
    """Return one line of the order, ticked off where all of it is there."""
    whom = f" for {one.line.whom}" if one.line.whom else ""
    if one.is_done:
        return f"✓ {one.line.quantity} × {one.name}{whom}"
    return f"{one.good} of {one.line.quantity} × {one.name}{whom}"


def sheet_words(sheet: SheetTally) -> str:
    """Return what came out of one sheet."""
    lines = [f"Sheet {sheet.number}: {sheet.good} of {sheet.count}"]
    counted: dict[tuple[str, str], int] = {}
    for one in sheet.bad:
        counted[(one.reason, one.side)] = counted.get((one.reason, one.side), 0) + 1
    for (reason, side), count in counted.items():
        where = f", {_SIDE_WORDS[side]}" if side else ""  # type: ignore[index]
        lines.append(f"    {count} × {_REASON_WORDS[reason]}{where}")  # type: ignore[index]
    return "\n".join(lines)


def track_words(known: RunFacts | None, tally: Tally) -> str:
    """Return how forecasts did over past runs, whether that is reckoned in, and what bad stickers point to."""
    lines = []
    track = None if known is None else known.track
    if track is not None:
        runs = "1 run" if track.runs == 1 else f"{track.runs} runs"
        lines.append(
            f"Forecasts so far: {100 * track.forecast:.0f} %, came out {100 * track.came_out:.0f} % over {runs}."
        )
        if track.is_systematic:
            low, high = track.corrected_range(track.forecast)
            lines.append(
                f"That is more than chance, so it is taken out: {100 * track.forecast:.0f} % counts as "
                f"{100 * low:.0f} to {100 * high:.0f} %."
            )
    if tally.causes:
        likely = tally.causes[0]
        lines.append(
            f"What is bad points to: {TITLES[likely.cause].lower()} ({100 * likely.probability:.0f} %). The Bench "
            "measures it."
        )
    return "\n".join(lines)
