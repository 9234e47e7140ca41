"""What a step asks for beside its button: readings, ticks, which side, why a sticker is bad."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QCheckBox, QLineEdit, QVBoxLayout, QWidget

from honest_edge.core.values.log_event import MOST_TEXT
from honest_edge.core.values.run_events import MOST_OFF_MM
from honest_edge.ui.rooms.run.keeper import RunKeeper
from honest_edge.ui.rooms.run.page import Asks
from honest_edge.ui.rooms.run.words import REASONS, SIDES
from honest_edge.ui.widgets.fields import Choice, Form, label
from honest_edge.ui.widgets.typed import Count, LengthField

_READINGS = ("Across", "Down", "Printed ruler")


class Asking(QWidget):
    """Shows what is asked for; made anew where another thing is asked, else only filled."""

    def __init__(self, keeper: RunKeeper) -> None:
        super().__init__()
        self._keeper = keeper
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._asks: tuple[Asks, int] = ("", 0)
        self._inside: QWidget | None = None
        self._fill: Callable[[], None] = lambda: None

    def show_asks(self, asks: Asks, count: int) -> None:
        """Show what is asked for.

        Args:
            asks: what.
            count: how many marks or sheets it is about.
        """
        if self._asks != (asks, count):
            self._asks = asks, count
            if self._inside is not None:
                self._column.removeWidget(self._inside)
                self._inside.hide()
                self._inside.deleteLater()
            builders: dict[str, Callable[[], QWidget]] = {
                "ruler": self._ruler,
                "marks": self._marks,
                "side": self._side,
                "bad": self._bad,
                "setting": self._setting,
                "carrier": self._carrier,
                "squares": self._squares,
                "printed": self._printed,
                "blade": self._blade,
                **{name: partial(self._at_machine, name) for name in ("way", "jog", "pen")},
            }
            self._fill = lambda: None
            self._inside = builders[asks]() if asks in builders else None
            if self._inside is not None:
                self._column.addWidget(self._inside)
        self.setVisible(self._inside is not None)
        self._fill()

    def first(self) -> QWidget | None:
        """Return the field that is typed into first; None where there is none."""
        if self._asks[0] == "ruler":
            return next(iter(self.findChildren(LengthField)), None)
        return next(iter(self.findChildren(QLineEdit)), None) if self._asks[0] in ("blade",) else None

    def _at_machine(self, name: str) -> QWidget:
        from honest_edge.ui.rooms.run import machine_asks  # only who speaks to a machine needs it

        widget, self._fill = getattr(machine_asks, name)(self._keeper)
        return widget  # type: ignore[no-any-return]

    # -- what is asked -----------------------------------------------------------------------------------

    def _ruler(self) -> QWidget:
        form = Form(control_px=140)
        fields = [LengthField(name, digits_mm=1) for name in _READINGS]

        def take(number: int) -> Callable[[float], None]:
            def taken(length_mm: float) -> None:
                self._keeper.draft.readings[number] = length_mm

            return taken

        def refuse(words: str) -> None:
            self._keeper.host.say(words, tone="danger")

        for number, field in enumerate(fields):
            field.committed.connect(take(number))
            field.refused.connect(refuse)
            form.add(_READINGS[number], field, "What the ruler says; a number alone is taken in the unit of the window")

        def fill() -> None:
            unit = self._keeper.host.workspace.unit
            for field, length_mm in zip(fields, self._keeper.draft.readings, strict=True):
                if length_mm is not None and not field.hasFocus():
                    field.show_length(length_mm, unit)
                elif length_mm is None and not field.hasFocus():
                    field.show_nothing(unit)

        self._fill = fill
        return form

    def _marks(self) -> QWidget:
        widget = QWidget()
        column = QVBoxLayout(widget)
        column.setContentsMargins(0, 0, 0, 0)
        conductor = self._keeper.conductor
        names = () if conductor is None else conductor.seal.mark_names
        boxes = []
        for number, name in enumerate(names):
            box = QCheckBox(f"{number + 1}   {name}")
            box.setShortcut(str(number + 1))
            box.setProperty("large", True)
            box.clicked.connect(lambda _checked, number=number: self._tick(number))
            column.addWidget(box)
            boxes.append(box)

        def fill() -> None:
            for number, box in enumerate(boxes):
                box.setChecked(number in self._keeper.draft.found)

        self._fill = fill
        return widget

    def _tick(self, number: int) -> None:
        self._keeper.draft.found ^= {number}
        self._keeper.changed.emit()

    def _side(self) -> QWidget:
        form = Form(control_px=160)
        side = Choice("Side", SIDES[1:])
        wide = LengthField("How wide", digits_mm=1)
        side.setCurrentIndex(-1)
        wide.show_nothing(self._keeper.host.workspace.unit)
        side.chosen.connect(lambda value: self._keeper.turn(side=value))
        wide.committed.connect(lambda length_mm: self._keeper.turn(wide_mm=min(length_mm, MOST_OFF_MM)))
        wide.refused.connect(lambda words: self._keeper.host.say(words, tone="danger"))
        form.add("Side", side)
        form.add("How wide", wide)

        def fill() -> None:
            side.setCurrentIndex(side.findData(self._keeper.draft.side) if self._keeper.draft.side else -1)

        self._fill = fill
        return form

    def _bad(self) -> QWidget:
        form = Form(control_px=186)
        reason, side = Choice("Why", REASONS), Choice("Side", SIDES)

        def take() -> None:
            draft = self._keeper.draft
            draft.reason, draft.side = reason.currentData(), side.currentData()

        for choice in (reason, side):
            choice.chosen.connect(lambda _value: take())
        form.add("It is bad:", reason)
        form.add("Side", side)
        form.add_wide(label("Or walk with the arrows, and press Enter.", "soft"))

        def fill() -> None:
            reason.show_value(self._keeper.draft.reason)
            side.show_value(self._keeper.draft.side)

        self._fill = fill
        return form

    def _setting(self) -> QWidget:
        form = Form(control_px=186)
        field = QLineEdit()
        field.setAccessibleName("The machine is set to")
        field.setMaxLength(MOST_TEXT)
        field.setPlaceholderText("force 84, 1 pass …")

        def take(text: str) -> None:
            self._keeper.draft.setting = text

        field.textEdited.connect(take)
        form.add("Set to", field)

        def fill() -> None:
            if not field.hasFocus():
                field.setText(self._keeper.draft.setting or "")

        self._fill = fill
        return form

    def _carrier(self) -> QWidget:
        form = Form(control_px=220)
        known = self._keeper.known
        uses = () if known is None else known.carriers
        names = [(use.carrier.name, f"{use.carrier.name}, {use.carrier.tack}") for use in uses]
        choice = Choice("Carrier", (*names, ("", "another one")))
        choice.chosen.connect(lambda name: self._keeper.turn(carrier=name))
        form.add("Carrier", choice, "Its loads are counted in the Book")
        self._fill = lambda: choice.show_value(self._keeper.draft.carrier or "")
        return form

    def _squares(self) -> QWidget:
        form = Form(control_px=160)
        corner = self._keeper.draft.squares
        squares = () if corner is None else corner.squares
        every = tuple((str(n), f"force {setting:g}") for n, setting in enumerate(squares))
        none = (str(len(squares)), "none of them")
        clean = Choice("The first that lifts clean", (*every, none))
        marked = Choice("The first whose liner is marked", (*every, none))
        clean.chosen.connect(lambda value: self._keeper.turn(first_clean=int(value)))
        marked.chosen.connect(lambda value: self._keeper.turn(first_marked=int(value)))
        form.add("Lifts clean first", clean)
        form.add("Liner marked first", marked)

        def fill() -> None:
            draft = self._keeper.draft
            for choice, number in ((clean, draft.first_clean), (marked, draft.first_marked)):
                choice.setCurrentIndex(number)

        self._fill = fill
        return form

    def _printed(self) -> QWidget:
        form = Form(control_px=100)
        count = Count("Sheets that came out", 1, max(1, self._asks[1]))
        count.committed.connect(lambda number: setattr(self._keeper.draft, "came_out", number))
        form.add("Sheets that came out", count, "If printing broke off, type how many are there")

        def fill() -> None:
            came_out = self._keeper.draft.came_out
            count.show_value(self._asks[1] if came_out is None else came_out)

        self._fill = fill
        return form

    def _blade(self) -> QWidget:
        form = Form(control_px=186)
        field = QLineEdit()
        field.setAccessibleName("Name of the blade")
        field.setMaxLength(60)
        field.setPlaceholderText("Blade no. 3")

        def take(text: str) -> None:
            self._keeper.draft.blade = text

        field.textEdited.connect(take)
        form.add("Its name", field)
        return form
