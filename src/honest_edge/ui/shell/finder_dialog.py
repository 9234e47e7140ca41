"""Everything that can be done, in one list: type a few letters, Return does it; without letters, the list of keys."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QDialog, QLineEdit, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

from honest_edge.ui.widgets.fields import label
from honest_edge.ui.widgets.local import from_the_left
from honest_edge.ui.widgets.theme import px

_MOST_SHOWN = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Findable:
    """One thing that can be found.

    Attributes:
        name: what it is called.
        kind: what it is: an action, a place, a design …
        key: its key; empty for none.
        more: other words by which it is found.
        act: does it, or goes there.
        why_not: why it cannot be done now; empty where it can.
    """

    name: str
    kind: str
    act: Callable[[], object]
    key: str = ""
    more: str = ""
    why_not: str = ""


def ranked(things: Sequence[Findable], words: str) -> list[Findable]:
    """Return what has all the words in it: those that begin a name first, then those in names, then the rest."""
    wanted = words.casefold().split()
    if not wanted:
        return sorted(things, key=lambda thing: not thing.key)  # the sort is stable: with keys first, in their order

    def rank(thing: Findable) -> int | None:
        name, rest = thing.name.casefold(), f"{thing.kind} {thing.key} {thing.more}".casefold()
        if not all(word in name or word in rest for word in wanted):
            return None
        if name.startswith(wanted[0]):
            return 0
        starts = [part for part in name.split() if any(part.startswith(word) for word in wanted)]
        return 1 if starts else 2 if all(word in name for word in wanted) else 3

    matching = [(rank(thing), number) for number, thing in enumerate(things)]
    return [things[number] for place, number in sorted((r, n) for r, n in matching if r is not None)]


class FinderDialog(QDialog):
    """A field and a list; arrows walk the list while the field keeps the letters."""

    def __init__(self, things: Sequence[Findable], parent: QWidget) -> None:
        super().__init__(parent)
        self._things = things
        self.setWindowTitle("Find anything – Honest Edge")
        self.resize(px(640), px(520))
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 14, 14, 12)
        column.setSpacing(8)
        self.field = QLineEdit()
        self.field.setPlaceholderText("What do you want to do, or where is it?")
        self.field.setAccessibleName("Find anything")
        self.field.textChanged.connect(self._show)
        self.field.returnPressed.connect(self._take)
        self.field.installEventFilter(self)
        column.addWidget(self.field)
        self.list = QTreeWidget()
        self.list.setColumnCount(3)
        self.list.setHeaderLabels(["What", "It is", "Key"])
        self.list.setRootIsDecorated(False)
        self.list.setAccessibleName("Found")
        self.list.setColumnWidth(0, px(340))
        self.list.setColumnWidth(1, px(130))
        self.list.itemActivated.connect(lambda _item, _column: self._take())
        column.addWidget(self.list, 1)
        self.under = label("", "soft")
        column.addWidget(self.under)
        self._shown: list[Findable] = []
        self._show("")

    def _show(self, words: str) -> None:
        matching = ranked(self._things, words)
        self._shown = matching if not words.strip() else matching[:_MOST_SHOWN]
        self.list.clear()
        for thing in self._shown:
            item = QTreeWidgetItem([from_the_left(words) for words in (thing.name, thing.kind, thing.key)])
            item.setToolTip(0, thing.why_not or thing.name)
            if thing.why_not:
                item.setFlags(Qt.ItemFlag.NoItemFlags)
            self.list.addTopLevelItem(item)
        first = next((n for n, thing in enumerate(self._shown) if not thing.why_not), None)
        if first is not None:
            self.list.setCurrentItem(self.list.topLevelItem(first))
        self.under.setText(
            "Return does it, or goes there." if self._shown else "Nothing is called so. The handbook is at F1."
        )

    def _take(self) -> None:
        row = self.list.indexOfTopLevelItem(self.list.currentItem())
        if 0 <= row < len(self._shown) and not self._shown[row].why_not:
            self.accept()
            self._shown[row].act()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if (
            watched is self.field
            and isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.KeyPress
            and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)
        ):
            self.list.keyPressEvent(event)
            return True
        return False
