"""What ``plan`` writes: sheets, assurance and orders of work as JSON, with a published schema."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

import msgspec

from honest_edge.core.run.foreseen import Act
from honest_edge.core.run.orders import RunOrder
from honest_edge.files.report import schema_of

What = Literal["print", "dry", "lay", "put in", "change", "kiss", "through", "take out", "peel"]
_WHAT: dict[str, What] = {
    "print": "print", "dry": "dry", "load": "lay", "read": "put in", "set": "change", "take out": "take out",
    "inspect": "peel",
}  # fmt: skip


class ActRecord(msgspec.Struct, frozen=True, kw_only=True):
    """One act; sheets are counted from 1, seconds from the first print."""

    what: What
    sheet: int
    start_s: float
    end_s: float
    lane: Literal["printer", "drying", "you", "cutter"]


class OrderRecord(msgspec.Struct, frozen=True, kw_only=True):
    """One order of work."""

    name: str
    minutes: float
    hands_on_minutes: float
    setting_changes: int
    acts: tuple[ActRecord, ...]


class PlanRecord(msgspec.Struct, frozen=True, kw_only=True):
    """A plan; the best order is the first."""

    sheets: int
    assurance: float
    orders: tuple[OrderRecord, ...]


def plan_record(sheets: int, assurance: float, orders: Iterable[RunOrder]) -> PlanRecord:
    """Return a plan as it is written."""
    return PlanRecord(sheets=sheets, assurance=assurance, orders=tuple(map(_order, orders)))


def _order(order: RunOrder) -> OrderRecord:
    return OrderRecord(
        name=order.name,
        minutes=order.minutes,
        hands_on_minutes=order.hands_on_minutes,
        setting_changes=order.setting_changes,
        acts=tuple(map(_act, order.acts)),
    )


def _act(act: Act) -> ActRecord:
    what: What = ("kiss", "through")[act.cut_pass] if act.what == "pass" else _WHAT[act.what]
    lane = "printer" if act.what == "print" else act.lane
    return ActRecord(what=what, sheet=act.sheet, start_s=act.start_s, end_s=act.end_s, lane=lane)


def as_json(record: PlanRecord) -> bytes:
    """Return a plan as the file that is written."""
    return msgspec.json.format(msgspec.json.encode(record), indent=2) + b"\n"


def plan_schema() -> bytes:
    """Return the schema of what ``plan`` writes."""
    return schema_of(PlanRecord)
