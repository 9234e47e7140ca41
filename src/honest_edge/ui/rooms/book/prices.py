"""What things cost: typed once, kept in the Book, never guessed."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QWidget

from honest_edge.core.values.book_records import Rates
from honest_edge.ui.shared.note_dialog import AmountField, NoteDialog

_FIELDS = (
    ("ink", "Ink for 100 cm²", "Divide the price of a set of cartridges by the area that it inked."),
    ("laminate", "A sheet of laminate", "Empty where you laminate nothing."),
    ("blade", "A blade", ""),
    ("blade_m", "Metres that a blade cuts", "As you reckon; the Blades page says what yours really cut."),
    ("hour", "An hour of your hands", ""),
    ("margin_percent", "Margin in percent", "Added to the cost, for a price."),
)


def prices_dialog(parent: QWidget | None, rates: Rates, keep: Callable[[Rates], object]) -> NoteDialog:
    """Return a dialog of all prices; what is left empty is not known and is named where it is missing."""
    fields = {name: AmountField(words, getattr(rates, name)) for name, words, _ in _FIELDS}

    def make() -> Rates:
        return Rates(**{name: field.amount for name, field in fields.items()})

    rows = [(words, fields[name], tip) for name, words, tip in _FIELDS]
    return NoteDialog(
        parent,
        "What things cost",
        rows,
        make,
        keep,
        words="In your own money. The price of a sheet is part of its stock. What stays empty is left out, and named.",
    )
