"""A recipe card, field by field."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import QLineEdit, QWidget

from honest_edge.core.values.book_records import CutRecipe
from honest_edge.core.values.errors import UsageError
from honest_edge.ui.shared.note_dialog import AmountField, NoteDialog
from honest_edge.ui.shared.trial_words import LINES
from honest_edge.ui.widgets.fields import Choice
from honest_edge.ui.widgets.unwheeled import DropDown

_NUMBERS = (
    ("force", "Force", "In the machine’s own numbers"),
    ("depth", "Depth", "In the machine’s own numbers"),
    ("speed_mm_s", "Speed, mm/s", "Empty as the machine’s profile has it"),
    ("slow_mm_s", "At narrow places, mm/s", "Empty as all other lines"),
    ("passes", "Passes", "How often the blade goes over a line; empty for once"),
)


def recipe_dialog(
    parent: QWidget | None,
    present: CutRecipe,
    stocks: Sequence[str],
    machines: Sequence[str],
    keep: Callable[[CutRecipe], object],
) -> NoteDialog:
    """Return a dialog that shows a card and keeps what is made of it."""
    stock, machine = _names("Stock", stocks, present.stock), _names("Machine", machines, present.machine)
    line = Choice("Kind of line", LINES)
    line.show_value(present.line)
    texts = {name: QLineEdit(getattr(present, name)) for name in ("laminate", "blade", "named", "remark")}
    for name, words in (("laminate", "Laminate"), ("blade", "Blade"), ("named", "Kept in the machine as"),
                        ("remark", "Remark")):  # fmt: skip
        texts[name].setAccessibleName(words)
    texts["laminate"].setPlaceholderText("none")
    texts["blade"].setPlaceholderText("any")
    numbers = {name: AmountField(words, getattr(present, name)) for name, words, _ in _NUMBERS}

    def make() -> CutRecipe:
        typed = {name: field.amount for name, field in numbers.items()}
        passes = typed.pop("passes")
        if passes is not None and passes != round(passes):
            raise UsageError(f"A line is gone over a whole number of times, not {passes:g}")
        return CutRecipe(
            stock=stock.currentText().strip(),
            machine=machine.currentText().strip(),
            line=line.currentData(),
            laminate=texts["laminate"].text().strip(),
            blade=texts["blade"].text().strip(),
            named=texts["named"].text().strip(),
            remark=texts["remark"].text().strip(),
            passes=None if passes is None else round(passes),
            force=typed["force"],
            depth=typed["depth"],
            speed_mm_s=typed["speed_mm_s"],
            slow_mm_s=typed["slow_mm_s"],
        )

    rows = (
        ("Stock", stock, ""),
        ("Machine", machine, ""),
        ("Kind of line", line, ""),
        ("Laminate", texts["laminate"], "What is laid over the print before it is cut"),
        ("Blade", texts["blade"], ""),
        ("Kept in the machine as", texts["named"], "The name of a setting that the machine keeps"),
        *((words, numbers[name], tip) for name, words, tip in _NUMBERS),
        ("Remark", texts["remark"], ""),
    )
    return NoteDialog(parent, "A recipe card", rows, make, keep)


def _names(name: str, names: Sequence[str], here: str) -> DropDown:
    box = DropDown()
    box.setEditable(True)
    box.setAccessibleName(name)
    box.addItems(names if here in names else [here, *names])
    box.setCurrentText(here)
    return box
