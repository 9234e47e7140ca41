"""What one part of the Book is: a ledger with its sum, what an empty one teaches, and ways on."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QPushButton, QWidget

from honest_edge.ui.rooms.book.ledger import Column
from honest_edge.ui.shared.asker import Asker, Teller
from honest_edge.ui.shared.host import Host

if TYPE_CHECKING:
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.found import Found


class Section(QObject):
    """One part of the Book.

    Attributes:
        key: names it.
        title: on its button.
        noun: what a row is called.
        search: what stands in the empty field of words.
        empty: what is said while nothing is kept.
        columns: of its ledger.
        filters: what can be shown alone: in words, and which rows that is; all are shown at first.
        newest_first: whether its first column falls; else it rises.
        row_px: how high a row is.
        is_of_the_book: whether its rows are made up where the Book is.
        beside_first: whether the first row is picked by itself, for what is beside it.
    """

    key: str
    title: str
    noun: str
    search: str
    empty: str
    columns: Sequence[Column[Any]]
    filters: Sequence[tuple[str, Callable[[Any], bool]]] = ()
    newest_first = True
    beside_first = False
    row_px = 30
    is_of_the_book = True

    def __init__(self, host: Host, look_again: Callable[[], None]) -> None:
        super().__init__()
        self.host, self.look_again = host, look_again
        self.ask, self.read = Teller(host), Asker(host)

    def look(self, desk: BookDesk, words: str, now_ms: int) -> Found[Any]:
        """Look its rows up; asked away from the window's thread."""
        raise NotImplementedError

    def sum_of(self, rows: Sequence[Any]) -> str:
        """Return the line under the number of rows."""
        return ""

    def tip(self, row: Any) -> str:
        """Return what of a row a narrow column has no room for."""
        return ""

    def ways_on(self) -> Sequence[QPushButton]:
        """Return its buttons, made once."""
        return ()

    def beside(self) -> QWidget | None:
        """Return what tells more of the picked row, made once."""
        return None

    def show_picked(self, row: Any | None) -> None:
        """Another row is picked, or none."""

    def act_on(self, row: Any) -> None:
        """A row was double-clicked."""
