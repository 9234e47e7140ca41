"""How the carriers of the Book were used: sheets laid on them, and since they were cleaned."""

from __future__ import annotations

from honest_edge.core.values.book_records import Carrier
from honest_edge.core.workshop.carriers import CarrierUse
from honest_edge.files.book.records import CARE, CARRIER, LOADED
from honest_edge.files.book.store import Book


def carrier_uses(book: Book) -> list[CarrierUse]:
    """Return every carrier that is kept, the one noted last first."""
    by_name: dict[str, Carrier] = {}
    for kept in book.notes(CARRIER, most=-1):
        by_name.setdefault(kept.record.name, kept.record)
    uses = []
    for name, carrier in by_name.items():
        loads = [one.at_ms for one in book.notes(LOADED, about=name, most=-1)]
        cared_ms = next((one.at_ms for one in book.notes(CARE, about=name, most=1)), None)
        since = [at_ms for at_ms in loads if cared_ms is None or at_ms > cared_ms]
        uses.append(CarrierUse(carrier=carrier, loads=len(loads), since_care=len(since), cared_ms=cared_ms))
    return uses
