"""Rows of fields made from a table: where each value stands, what it is called, when it applies."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox, QWidget

from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import Choice, Form, FormRow
from honest_edge.ui.widgets.typed import Count, LengthField, NumberField


@dataclass(frozen=True, slots=True, kw_only=True)
class Field:
    """One value: where it stands, what it is called, how it is typed.

    Attributes:
        path: such as "shape.width_mm".
        kind: "length", "room" (a length whose 0 means none), "number", "number or none" (empty for none), "count",
            "tick" or "choice".
        when: whether it applies to what is shown.
        is_seldom: whether it is set seldom, and folds away with its like.
    """

    path: str
    name: str
    kind: str = "length"
    tip: str = ""
    options: tuple[tuple[str, str], ...] = ()
    least: int = 1
    when: Callable[[Any], bool] = lambda _value: True
    is_seldom: bool = False


def value_at(whole: Any, path: str) -> Any:
    """Return what stands at a path; None where a part on the way is missing."""
    value = whole
    for name in path.split("."):
        value = getattr(value, name, None)
    return value


def with_value(whole: Any, path: str, value: Any) -> Any:
    """Return a frozen value with another one at a path.

    Raises:
        UsageError: the value is impossible.
    """
    first, _, rest = path.partition(".")
    if not rest and first == "diameter_mm":
        return whole.with_diameter(value)
    if not rest and first == "around_mm":
        return whole.with_around(value)
    if not rest:
        return replace(whole, **{first: value})
    return replace(whole, **{first: with_value(getattr(whole, first), rest, value)})


class FieldTable:
    """The controls of a table of fields, in a form."""

    def __init__(
        self,
        host: Host,
        form: Form,
        fields: Sequence[Field],
        take: Callable[[str, Any, str], None],
        seldom: Form | None = None,
    ) -> None:
        """Take the fields, what is told a path, a value and the words for undo, and the form for the seldom ones."""
        self._host, self._fields, self._take = host, fields, take
        self.controls: dict[str, QWidget] = {}
        self._rows: dict[str, FormRow] = {}
        for field in fields:
            control = self._control(field)
            self.controls[field.path] = control
            place = seldom if field.is_seldom and seldom is not None else form
            if field.kind == "tick":
                place.add_wide(control)
                self._rows[field.path] = FormRow(control, control)
            else:
                self._rows[field.path] = place.add(field.name, control, field.tip)

    def show(self, whole: Any) -> None:
        """Show the values that apply."""
        for field in self._fields:
            there = "." not in field.path or value_at(whole, field.path.rpartition(".")[0]) is not None
            shown = there and field.when(whole)
            self._rows[field.path].setVisible(shown)
            if shown:
                self._show(field, value_at(whole, field.path))

    def _control(self, field: Field) -> QWidget:
        words = field.name[:1].lower() + field.name[1:]
        if field.kind in ("length", "room"):
            control: Any = LengthField(field.name)
            is_room = field.kind == "room"
            control.committed.connect(
                lambda value: self._take(field.path, None if is_room and value == 0 else value, words)
            )
            control.refused.connect(self._refuse)
        elif field.kind in ("number", "number or none"):
            control = NumberField(field.name, allow_empty=field.kind == "number or none")
            control.committed.connect(lambda value: self._take(field.path, value, words))
            control.refused.connect(self._refuse)
        elif field.kind == "count":
            control = Count(field.name, field.least, 60)
            control.committed.connect(lambda value: self._take(field.path, value, words))
        elif field.kind == "tick":
            control = QCheckBox(field.name)
            control.clicked.connect(lambda on: self._take(field.path, on, words))
        else:
            control = Choice(field.name, field.options)
            control.chosen.connect(lambda value: self._take(field.path, value, words))
        return control  # type: ignore[no-any-return]

    def _refuse(self, text: str) -> None:
        self._host.say(text, tone="danger")

    def _show(self, field: Field, value: Any) -> None:
        control: Any = self.controls[field.path]
        if field.kind in ("length", "room"):
            control.show_length(value or 0.0, self._host.workspace.unit)
        elif field.kind in ("number", "number or none"):
            control.show_number(value)
        elif field.kind == "tick":
            with QSignalBlocker(control):
                control.setChecked(value)
        else:
            control.show_value(value)
