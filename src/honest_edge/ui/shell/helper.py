"""Help: the handbook at the page of what is in hand, and the list of everything that can be done."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSpinBox,
    QComboBox,
    QLineEdit,
    QMenu,
    QSlider,
    QWidget,
)

from honest_edge.ui.shared.fold import Fold
from honest_edge.ui.shell.finder_dialog import Findable, FinderDialog
from honest_edge.ui.widgets.help_mark import topic_of

if TYPE_CHECKING:
    from honest_edge.ui.shared.contract import StationEntry
    from honest_edge.ui.shared.host import Host
    from honest_edge.ui.shared.room import RoomEntry
    from honest_edge.ui.shell.handbook_window import HandbookWindow
    from honest_edge.ui.shell.station_shelf import StationShelf
    from honest_edge.ui.shell.workshop import Workshop

_PREFERENCES = "colours theme light dark units millimetres inches fractions paper folders guidance settings"


class Helper(QObject):
    """Opens the handbook and the finder; either is made when it is first wanted."""

    def __init__(
        self, host: Host, parent: QWidget, stations: StationShelf, workshop: Workshop, station: Callable[[], str]
    ) -> None:
        """Take the window's parts, and what tells the key of the station in hand."""
        super().__init__(parent)
        self._host, self._parent, self._station = host, parent, station
        self._stations, self._workshop = stations, workshop
        self._book: HandbookWindow | None = None
        self.finder: FinderDialog | None = None

    @property
    def handbook(self) -> HandbookWindow:
        """The handbook's window."""
        if self._book is None:
            from honest_edge.ui.shell.handbook_window import HandbookWindow

            self._book = HandbookWindow(self._host, self._parent)
        return self._book

    def show_here(self) -> None:
        """Show the page of the card in which the focus is, else of the place that is visited."""
        self.show(topic_of(self._parent.focusWidget()) or self._here)

    @property
    def _here(self) -> str:
        return self._workshop.here or (self._station() if self._workshop.is_on_path else "start")

    def show(self, topic: str) -> None:
        """Show a page."""
        self.handbook.show_topic(topic)

    def look_changed(self) -> None:
        """The theme or the unit is another one."""
        if self._book is not None:
            self._book.look_changed()

    # -- finding -------------------------------------------------------------------------------------

    def find(self) -> None:
        """Show everything that can be done."""
        things = (*self._actions(), *self._of_places(), *self._of_job(), *self._settings(), *self._pages())
        self.finder = FinderDialog(things, self._parent)
        self.finder.finished.connect(self.finder.deleteLater)
        self.finder.open()

    def _actions(self) -> Iterator[Findable]:
        for action in self._parent.actions():
            menu = action.menu()
            if isinstance(menu, QMenu) or not action.text():
                continue
            yield _of_action(action)

    def _of_places(self) -> Iterator[Findable]:
        rooms = sorted(
            (entry for entry in self._workshop.entries if entry.has_button), key=lambda entry: not entry.is_on_path
        )
        for number, (key, title, question, parts) in enumerate(_places(self._stations.entries, rooms), 1):
            go = partial(self._host.go_to, key)
            yield Findable(name=title, kind="place", key=f"Ctrl+{number}", more=question, act=go)
            for part in parts:
                yield Findable(name=f"{title}: {part}", kind="place", act=partial(self._host.go_to, f"{key}:{part}"))

    def _of_job(self) -> Iterator[Findable]:
        workspace = self._host.workspace
        for design in workspace.job.designs:
            yield Findable(name=design.name, kind="design", act=partial(self._host.take, design.key))
        for finding in workspace.overview.every_finding:
            words = workspace.overview.named(finding)
            yield Findable(
                name=words, kind="finding", more=finding.check, act=partial(self._host.go_to, finding.station)
            )

    def _settings(self) -> Iterator[Findable]:
        """Every control of the stations that has a name."""
        for entry in self._stations.entries:
            panel = self._stations[entry.key].panel
            for control in panel.findChildren(QWidget):
                name = _name_of(control)
                if name:
                    act = partial(self._go_to_control, entry.key, control)
                    yield Findable(name=name, kind=f"at {entry.title}", more="setting", act=act)

    def _go_to_control(self, station: str, control: QWidget) -> None:
        self._host.go_to(station)
        above = control.parentWidget()
        while above is not None:
            if isinstance(above, Fold):
                above.open()
            above = above.parentWidget()
        self._stations[station].panel.ensureWidgetVisible(control)
        control.setFocus(Qt.FocusReason.ShortcutFocusReason)

    def _pages(self) -> Iterator[Findable]:
        from honest_edge.app.handbook.pages_of import TOPICS, page

        for topic in TOPICS:
            yield Findable(name=page(topic).title, kind="handbook", act=partial(self.show, topic))


def _places(
    stations: tuple[StationEntry, ...], rooms: Sequence[RoomEntry]
) -> Iterator[tuple[str, str, str, tuple[str, ...]]]:
    """Yield key, name, question and parts of every place, in the order of the bar."""
    for entry in stations:
        yield entry.key, entry.title, entry.question, ()
    for room in rooms:
        yield room.key, room.title, room.question, room.parts


def _of_action(action: QAction) -> Findable:
    key = action.shortcut().toString(QKeySequence.SequenceFormat.NativeText)
    name = action.text().replace("&", "").strip()
    why_not = "" if action.isEnabled() else f"{name}: there is nothing for it now"
    more = _PREFERENCES if name.startswith("Preferences") else ""
    return Findable(name=name, kind="action", key=key, more=more, act=action.trigger, why_not=why_not)


def _name_of(control: QWidget) -> str:
    """Return what a control that can be set is called; empty for what is none."""
    if isinstance(control, Fold):
        return ""
    if isinstance(control, QAbstractButton):
        return control.text() if control.isCheckable() or control.property("choice") else ""
    is_field = isinstance(control, QLineEdit | QComboBox | QAbstractSpinBox | QSlider)
    return control.accessibleName() if is_field else ""
