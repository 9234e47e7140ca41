"""What lies on the shelf: machines, printers, stocks and carriers, and where the job's copies of them differ."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, fields

from honest_edge.core.values.book_records import Carrier
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.workshop.carriers import CarrierUse
from honest_edge.files.profiles import SHIPPED, Kind, Profile

Thing = Profile | Carrier


@dataclass(frozen=True, slots=True, kw_only=True)
class ShelfRow:
    """One thing.

    Attributes:
        kind: "machine", "printer", "stock" or "carrier".
        thing: as it lies on the shelf.
        is_own: whether it is the user's own, not one that ships.
        copy: the job's copy of the same name; None where the job has none.
        differs: the values in which the copy differs.
        use: how a carrier was used; None for all else.
    """

    kind: str
    thing: Thing
    is_own: bool
    copy: Profile | None
    differs: tuple[str, ...]
    use: CarrierUse | None = None


def shelf_rows(
    profiles: Mapping[Kind, Sequence[Profile]], carriers: Iterable[CarrierUse], sheet: SheetSpec, words: str = ""
) -> list[ShelfRow]:
    """Return what lies on the shelf, machines first.

    Args:
        profiles: every profile by kind.
        carriers: how each was used.
        sheet: of the job in hand, with its copies.
        words: what must stand in a name or kind.
    """
    copies: dict[Kind, Profile] = {"machine": sheet.machine, "printer": sheet.printer, "stock": sheet.stock}
    rows = [_row(kind, profile, copies[kind]) for kind, of_kind in profiles.items() for profile in of_kind]
    rows += [
        ShelfRow(kind="carrier", thing=use.carrier, is_own=True, copy=None, differs=(), use=use) for use in carriers
    ]
    wanted = words.casefold().split()
    return [row for row in rows if all(word in f"{row.thing.name} {row.kind}".casefold() for word in wanted)]


def _row(kind: Kind, profile: Profile, copy: Profile) -> ShelfRow:
    is_copied = copy.name == profile.name
    return ShelfRow(
        kind=kind,
        thing=profile,
        is_own=profile not in SHIPPED[kind],
        copy=copy if is_copied else None,
        differs=differing(profile, copy) if is_copied else (),
    )


def differing(one: Profile, other: Profile) -> tuple[str, ...]:
    """Return the names of the values in which two profiles of a kind differ."""
    return tuple(field.name for field in fields(one) if getattr(one, field.name) != getattr(other, field.name))
