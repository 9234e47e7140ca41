"""How an event of a run lies in its journal: plain values with its tag; those of the first versions are read as well.

Until version 1 of the seal every event was one bag of words and numbers. Such lines stay as they were written, since
the hash of a line is that of its bytes; here they become the records of today.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import msgspec

from honest_edge.core.values.errors import FileError
from honest_edge.core.values.run_events import EVENT_KINDS, RunEvent
from honest_edge.files.read_json import converted, parsed

_TAG = "what"
Values = dict[str, Any]


def plain_event(event: RunEvent) -> Values:
    """Return an event as plain values."""
    return {_TAG: event.what, **msgspec.to_builtins(event)}


def parse_event(data: bytes) -> RunEvent:
    """Return the event in a line's bytes.

    Raises:
        FileError: half a sentence that says why it is none.
    """
    plain = parsed(data, dict[str, Any])
    tag = plain.get(_TAG)
    if not isinstance(tag, str) or tag not in EVENT_KINDS:
        raise FileError(f"“{str(tag)[:40]}” happens in runs of a newer Honest Edge: update this one")
    if "numbers" in plain:
        plain = _unbagged(tag, plain)
    return converted({name: value for name, value in plain.items() if name != _TAG}, EVENT_KINDS[tag])


def _unbagged(tag: str, bag: Values) -> Values:
    """Return an event of the first versions as one of today."""
    own = _FROM_BAG.get(tag)
    try:
        unbagged = {"at": bag["at"], **(own(bag) if own is not None else {})}
    except (KeyError, IndexError, TypeError) as error:
        raise FileError(f"an event “{tag}” lacks {error}") from None
    return {**unbagged, "sheet": bag["sheet"]} if bag.get("sheet") else unbagged


def _value(bag: Values, place: int) -> Any:
    return bag["values"][place] if place < len(bag["values"]) else None


def _judged(bag: Values) -> Values:
    is_good = bag["kind"] == "good"  # words were a side where it was bad, else a note
    return {
        "verdict": bag["kind"],
        "side": "" if is_good else bag["words"],
        "note": bag["words"] if is_good else "",
        "wide_mm": _value(bag, 0),
    }


_FROM_BAG: dict[str, Callable[[Values], Values]] = {
    "ordered": lambda bag: {"block": bag["numbers"][0], "carriers": bag["numbers"][1]},
    "set": lambda bag: {"kinds": bag["kind"], "setting": bag["words"]},
    "added": lambda bag: {"pages": bag["numbers"]},
    "blade": lambda bag: {"blade": bag["words"]},
    "ended": lambda bag: {"reason": bag["kind"]},
    "measured": lambda bag: {
        "verdict": bag["kind"],
        "across_mm": _value(bag, 0),
        "down_mm": _value(bag, 1),
        "ruler_mm": _value(bag, 2),
    },
    "laid": lambda bag: {"carrier": bag["numbers"][0]},
    "missed": lambda bag: {"marks": bag["numbers"]},
    "proof begun": lambda bag: {"copy": bag["numbers"][0]},
    "proof judged": _judged,
    "cut stopped": lambda bag: {"came": bag["kind"]},
    "inspected": lambda bag: {"bad": bag["bad"]},
    "spoiled": lambda bag: {"why": bag["words"]},
    "skipped": lambda bag: {"copies": bag["numbers"]},
    "again": lambda bag: {"copies": bag["numbers"]},
}
"""What each kind of event of a bag becomes; a kind that is not named had nothing in it."""
