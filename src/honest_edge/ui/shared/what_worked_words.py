"""What is known of cutting a stock, in a few sentences."""

from __future__ import annotations

from typing import TYPE_CHECKING

from honest_edge.core.values.book_records import value_name
from honest_edge.ui.widgets.fields import counted

if TYPE_CHECKING:
    from honest_edge.app.book.found import WhatWorked
    from honest_edge.core.values.book_records import SettingFound
    from honest_edge.files.book.store import Kept

_DAY_MS = 86_400_000
_LONG_DAYS = ((730, 365, "year"), (60, 30, "month"), (14, 7, "week"), (2, 1, "day"))
"""From so many days on, days in a unit, and its name."""


def what_worked_words(known: WhatWorked, stock: str, now_ms: int) -> str:
    """Return what is known of cutting a stock: the setting, what came out last, and whether there is enough of it."""
    return "\n".join(
        line
        for line in (setting_known(known.setting, stock, now_ms), _run(known, now_ms), _on_hand(known), _driver(known))
        if line
    )


def setting_words(known: WhatWorked) -> str:
    """Return the setting that is known, as it is typed with a run; "" where none is safe."""
    record = None if known.setting is None else known.setting.record
    return f"{record.name} {record.best_name}" if record is not None and record.is_safe else ""


def setting_known(setting: Kept[SettingFound] | None, stock: str, now_ms: int) -> str:
    """Return which setting cuts a stock, or that none is known."""
    if setting is None:
        return f"{stock}: no setting is known on this machine."
    record, when = setting.record, ago(now_ms - setting.at_ms)
    if not record.is_safe:
        return f"{stock}: no safe setting was found {when}; try a fresh blade, or cut slower."
    blade = f", {record.blade}" if record.blade else ""
    low, high = (value_name(end or 0.0, record.names) for end in (record.low, record.high))
    return f"{stock}: {record.name} {record.best_name} (window {low} to {high}{blade}, {when})."


def _run(known: WhatWorked, now_ms: int) -> str:
    if known.run is None:
        return ""
    run = known.run.run
    why = f": {run.reason}" if run.reason else ""
    return f"Last run, {ago(now_ms - known.run.at_ms)}: {run.good} of {run.good + run.bad} came out good{why}."


def _on_hand(known: WhatWorked) -> str:
    if known.on_hand is None or not known.wanted:
        return ""
    here = f"{counted(max(0, known.on_hand), 'sheet')} on hand"
    return f"{here}: enough." if known.on_hand >= known.wanted else f"{here}, {known.wanted} are needed: buy more."


def _driver(known: WhatWorked) -> str:
    return f"Set the driver to: {known.driver}." if known.driver else ""


def ago(past_ms: int) -> str:
    """Return how long ago something was, in the largest unit of which there are two."""
    days = past_ms // _DAY_MS
    for least, length, name in _LONG_DAYS:
        if days >= least:
            return f"{counted(days // length, name)} ago"
    return "yesterday" if days == 1 else "within a day"
