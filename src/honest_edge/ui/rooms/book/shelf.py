"""Shelf: machines, printers, stocks and carriers, and the job's copies of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import fields
from typing import TYPE_CHECKING, Any

from PyQt6.QtWidgets import QCheckBox, QDialog, QLineEdit, QVBoxLayout, QWidget

from honest_edge.core.values.book_records import Carrier, CarrierCare
from honest_edge.core.workshop.carriers import TOO_STRONG, TOO_WEAK, CarrierUse
from honest_edge.ui.rooms.book.ledger import Column, day_cell, text_cell
from honest_edge.ui.rooms.book.section import Section
from honest_edge.ui.shared.note_dialog import NoteDialog
from honest_edge.ui.shared.profile_dialog import WORDS, ProfileDialog
from honest_edge.ui.widgets.fields import Choice, button, counted, greyed, label
from honest_edge.ui.widgets.local import shown_length
from honest_edge.ui.widgets.typed import LengthField

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QPushButton

    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.found import Found
    from honest_edge.app.book.shelf_rows import ShelfRow
    from honest_edge.files.profiles import Profile

_KINDS = {"machine": "Machine", "printer": "Printer", "stock": "Stock", "carrier": "Carrier"}
_TACKS = (("light", "light"), ("standard", "standard"), ("strong", "strong"))


def _in_job(row: ShelfRow) -> str:
    if row.copy is None:
        return ""
    return "▼ its copy differs" if row.differs else "yes"


COLUMNS: tuple[Column[Any], ...] = (
    Column("Kind", lambda row: (_KINDS[row.kind], (list(_KINDS).index(row.kind), row.thing.name.casefold()))),
    Column("Name", lambda row: text_cell(row.thing.name)),
    Column("Whose", lambda row: text_cell("yours" if row.is_own else "generic")),
    Column("In this job", lambda row: text_cell(_in_job(row)), needs_a_look=lambda row: bool(row.differs)),
)


class ShelfSection(Section):
    """Shows what lies on the shelf, and brings it and the job's copies together."""

    key, title, noun, search, columns = "shelf", "Shelf", "thing", "Search a name or a kind", COLUMNS
    newest_first, beside_first, is_of_the_book = False, True, False
    filters = (
        *((f"{name.lower()}s", lambda row, kind=kind: row.kind == kind) for kind, name in _KINDS.items()),
        ("of your own", lambda row: row.is_own),
        ("differs in this job", lambda row: bool(row.differs)),
    )
    empty = "Nothing lies on the shelf."

    def look(self, desk: BookDesk, words: str, now_ms: int) -> Found[Any]:
        from honest_edge.app.book.shelf_rows import shelf_rows
        from honest_edge.files.profiles import SHIPPED

        profiles = {kind: self.host.profiles.all(kind) for kind in SHIPPED}
        sheet = self.host.workspace.job.sheet
        return desk.shelf(lambda carriers: shelf_rows(profiles, carriers, sheet, words), words, now_ms)

    def sum_of(self, rows: Sequence[ShelfRow]) -> str:
        differs = [row.thing.name for row in rows if row.differs]
        if differs:
            return f"This job’s copy of {', '.join(differs)} differs: take the shelf’s, or keep the job’s"
        return "A job takes its own copy along, so that it stays as it was"

    def tip(self, row: ShelfRow) -> str:
        return row.thing.name

    def ways_on(self) -> Sequence[QPushButton]:
        self._picked: ShelfRow | None = None
        self.take = button("Take it into this job", self._take, filled=True)
        self.keep = button("Keep the job’s copy", self._keep_copy)
        self.keep.setToolTip("Put the job’s copy on the shelf in its place")
        self.edit = button("Look at it…", lambda: self.act_on(self._picked))
        self.new = button("New carrier…", lambda: self._ask_carrier(None))
        self.clean = button("Cleaned", self._cleaned)
        self.clean.setToolTip("It was cleaned: its loads are counted anew from here")
        return self.take, self.keep, self.edit, self.clean, self.new

    def beside(self) -> QWidget:
        widget = QWidget()
        column = QVBoxLayout(widget)
        column.setContentsMargins(0, 0, 0, 0)
        self.words, self.told = label("", "heading"), label("", "soft")
        column.addWidget(self.words)
        column.addWidget(self.told)
        column.addStretch(1)
        return widget

    def show_picked(self, row: ShelfRow | None) -> None:
        self._picked = row
        is_profile = row is not None and not isinstance(row.thing, Carrier)
        self.take.setEnabled(is_profile and row is not None and (row.copy is None or bool(row.differs)))
        self.keep.setEnabled(row is not None and bool(row.differs))
        self.edit.setEnabled(row is not None)
        greyed(self.clean, "" if row is not None and row.use is not None else "Pick a carrier first")
        self.words.setText("" if row is None else row.thing.name)
        self.told.setText("" if row is None else "\n".join(self._lines(row)))

    def _lines(self, row: ShelfRow) -> list[str]:
        if isinstance(row.thing, Carrier):
            unit = self.host.workspace.unit
            wide, long = (shown_length(value, unit) for value in (row.thing.width_mm, row.thing.length_mm))
            used = () if row.use is None else _use_lines(row.use)
            return [line for line in (f"{wide} × {long}", f"tack: {row.thing.tack}", row.thing.remark, *used) if line]
        if row.differs and row.copy is not None:
            head = ["This job’s copy differs:"]
            return head + [self._difference(row.thing, row.copy, name) for name in row.differs]
        shown = [field.name for field in fields(row.thing) if field.name in WORDS and field.name != "name"]
        return [f"{WORDS[name]}: {self._value(name, getattr(row.thing, name))}" for name in shown]

    def _difference(self, thing: Profile, copy: Profile, name: str) -> str:
        here, there = getattr(copy, name), getattr(thing, name)
        if name not in WORDS:
            return {"marks": "Marks", "lines": "How lines are cut"}.get(name, name)
        return f"{WORDS[name]}: {self._value(name, here)} in the job, {self._value(name, there)} on the shelf"

    def _value(self, name: str, value: object) -> str:
        if value is None:
            return "not known" if name == "price" else "no"
        if isinstance(value, bool):
            return "yes" if value else "no"
        if isinstance(value, tuple):
            parts = [str(part) for part in value]
            return "#{:02x}{:02x}{:02x}".format(*value) if name.endswith("rgb") else ", ".join(parts)
        if isinstance(value, float):
            unit = self.host.workspace.unit
            return (
                shown_length(value, unit, digits=2 if unit == "mm" else None) if name.endswith("_mm") else f"{value:g}"
            )
        return str(value)

    # -- acting --------------------------------------------------------------------------------------

    def _take(self) -> None:
        row = self._picked
        if row is not None and not isinstance(row.thing, Carrier):
            self._use(row.thing)

    def _use(self, profile: Profile) -> None:
        workspace = self.host.workspace
        workspace.edit_job(f"take {profile.name}", sheet=workspace.job.sheet.with_profile(profile))
        self.look_again()

    def _keep_copy(self) -> None:
        row = self._picked
        if row is not None and row.copy is not None:
            copy = row.copy
            self.ask(lambda _desk, _now_ms: self.host.profiles.keep(copy), lambda _path: self.look_again())

    def act_on(self, row: ShelfRow | None) -> None:
        if row is None:
            return
        if isinstance(row.thing, Carrier):
            self._ask_carrier(row.thing)
            return
        dialog = ProfileDialog(self.host.table.window(), row.thing, self.host.profiles, self.host.workspace.unit)
        dialog.accepted.connect(lambda: self._use(dialog.profile))
        dialog.finished.connect(lambda _result: self.look_again())
        self.dialog: QDialog = dialog
        dialog.open()

    def _cleaned(self) -> None:
        if self._picked is None or self._picked.use is None:
            return
        note = CarrierCare(carrier=self._picked.thing.name, what="cleaned")

        def keep(desk: BookDesk, now_ms: int) -> bool:
            from honest_edge.files.book.records import CARE

            return desk.note([(CARE, note)], now_ms)

        self.ask(keep, lambda _made_up: self.look_again())

    def _ask_carrier(self, carrier: Carrier | None) -> None:
        present = carrier or Carrier(name="Carrier")
        name, remark = QLineEdit(present.name), QLineEdit(present.remark)
        tack = Choice("Tack", _TACKS)
        tack.show_value(present.tack)
        sides: dict[str, float] = {}
        lengths = [LengthField("Width"), LengthField("Length")]
        for field, side in zip(lengths, ("width_mm", "length_mm"), strict=True):
            field.show_length(getattr(present, side), self.host.workspace.unit)
            field.committed.connect(lambda value, side=side: sides.update({side: value}))

        def make() -> Carrier:
            size = {"width_mm": present.width_mm, "length_mm": present.length_mm, **sides}
            return Carrier(name=name.text().strip(), tack=tack.currentData(), remark=remark.text().strip(), **size)

        def keep(made: Carrier) -> None:
            def kept(desk: BookDesk, now_ms: int) -> bool:
                from honest_edge.files.book.records import CARE, CARRIER

                is_new = carrier is None and fresh.isChecked()
                care = [(CARE, CarrierCare(carrier=made.name, what="new"))] if is_new else []
                return desk.note([(CARRIER, made), *care], now_ms)

            self.ask(kept, lambda _made_up: self.look_again())

        fresh = QCheckBox("nothing lay on it yet")
        rows = (("Its name", name, ""), ("Width", lengths[0], ""), ("Length", lengths[1], ""), ("Tack", tack, ""),
                ("Remark", remark, ""), *((("It is new", fresh, ""),) if carrier is None else ()))  # fmt: skip
        self.dialog = NoteDialog(self.host.table.window(), "A carrier", rows, make, keep)
        self.dialog.open()


def _use_lines(use: CarrierUse) -> list[str]:
    """Return how a carrier was used, and the signs by which its hold is told."""
    since = ""
    if use.cared_ms is not None:
        since = f", {use.since_care} since it was new or cleaned on {day_cell(use.cared_ms)[0]}"
    loads = f"{counted(use.loads, 'sheet')} laid on it{since}" if use.loads or since else "No load of it is known."
    wash = ["▼ Dust takes its hold: wipe it with a damp cloth and let it dry."] if use.wants_washing else []
    return [
        loads,
        *wash,
        f"It holds too weakly where {'; '.join(TOO_WEAK)}.",
        f"Too strongly where {'; '.join(TOO_STRONG)}.",
    ]
