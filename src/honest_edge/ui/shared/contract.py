"""What a station is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QRectF
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGraphicsScene, QWidget

from honest_edge.ui.shared.host import Host

if TYPE_CHECKING:
    from honest_edge.core.values.job import Design
    from honest_edge.ui.shared.panel import Panel
    from honest_edge.ui.shared.workspace import Workspace
    from honest_edge.ui.table.tool import Tool


@dataclass(frozen=True, slots=True, kw_only=True)
class Shown:
    """What a station drew.

    Attributes:
        content: what "show all" shows, in the scene's millimetres.
        caption: a line below it: which keys and gestures there are.
        air: share of the table left free on every side.
    """

    content: QRectF
    caption: str
    air: float = 0.12


@dataclass(frozen=True, slots=True, kw_only=True)
class Command:
    """An entry of the window's menu that a station answers.

    Attributes:
        name: what the menu says.
        key: its key; empty for none.
        act: what is called with the station, which is made first if need be.
    """

    name: str
    key: str = ""
    act: Callable[[Station], object]


@dataclass(frozen=True, slots=True, kw_only=True)
class StationEntry:
    """One line of the registry: what is known of a station before it is made.

    Attributes:
        key: names it, and matches the ``station`` of checks.
        title: its name.
        question: what it asks.
        brief: the question in two or three words, for its button.
        create: makes it when it is first needed; imports it there, so that a window stands early.
        commands: what it adds to the menu.
        takes: endings of files that are dropped for it.
        needs: modules that it imports only when it first needs them.
        guide: what is decided there and what most people do, for who has not done it before.
        usual_words: what the button says that does it.
    """

    key: str
    title: str
    question: str
    brief: str
    create: Callable[[Host], Station]
    commands: tuple[Command, ...] = ()
    takes: tuple[str, ...] = ()
    needs: tuple[str, ...] = ()
    guide: str = ""
    usual_words: str = "Do the usual, go on"

    def load(self) -> None:
        """Import what it is made of, away from the window's thread, so that its first visit need not."""
        for module in (f"{self.create.__module__}.station", *self.needs):
            import_module(module)


class Station(QObject):
    """One station of the path. It owns its panel, gestures, state and background work.

    Only ``panel`` and ``draw`` are needed; all else does nothing unless a station answers it.
    """

    def __init__(self, host: Host) -> None:
        super().__init__()
        self.host = host
        self.is_shown = False
        """Whether it is the one that is visited."""

    @property
    def workspace(self) -> Workspace:
        """The job, what is known of it, and what is in hand."""
        return self.host.workspace

    # -- what it shows -------------------------------------------------------------------------------

    @property
    def panel(self) -> Panel:
        """The column of cards for the design in hand; made when it is first asked for."""
        raise NotImplementedError

    def strip(self) -> QWidget | None:
        """Return what stands below the table; None leaves the table that room."""
        return None

    def drawn_from(self) -> tuple[object, ...]:
        """Return what the drawing depends on: it is drawn anew only where that changed."""
        return ()

    def draw(self, scene: QGraphicsScene) -> Shown | None:
        """Draw into a scene, which may hold an older drawing; None where there is nothing to show yet."""
        raise NotImplementedError

    def why_empty(self) -> str:
        """Return what stands on the table where there is nothing to show."""
        return self.workspace.error or "Tracing …"

    # -- what it is told -----------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the present job and what is known of it in the panel, and in the strip where there is one."""
        self.panel.refresh()

    def left(self) -> None:
        """Another station is visited."""

    def subject_changed(self) -> None:
        """The job or the design in hand is another one: let go of what is about the older.

        Told to every station that was made, also to those that are not shown.
        """

    def look_closer(self) -> None:
        """It is visited, or results came while it is: compute what only it needs."""

    def show_at_once(self) -> bool:
        """Show what can be shown of a changed job before it is computed; return whether that was anything."""
        return False

    def look_changed(self) -> None:
        """The theme or the unit is another one."""

    def design_made(self, design: Design) -> None:
        """A design was made from nothing and is in hand, ready to be worked on."""

    def do_usual(self) -> bool:
        """Do what most people do here by an action of its own; False where the window is to do it."""
        return False

    # -- gestures ------------------------------------------------------------------------------------

    def key_pressed(self, event: QKeyEvent) -> None:
        """A key was pressed that no control took."""

    def duplicate_in_hand(self) -> bool:
        """Make what is in hand here once more; return whether that was anything less than the design."""
        return False

    def part_for_picture(self, x_mm: float, y_mm: float) -> tuple[str, float] | None:
        """Return the layer whose place a picture dropped here takes, and its width in mm; None where there is none."""
        return None

    def table_clicked(self, x_mm: float, y_mm: float) -> None:
        """The table was clicked with no tool in hand."""

    def stroke_drawn(self, tool: Tool, points_mm: list[tuple[float, float]]) -> None:
        """Something was drawn on the table with a tool of this station."""

    def lay_tool_down(self) -> None:
        """Go back to the bare hand."""

    def take_file(self, path: Path) -> None:
        """A file of a kind that it takes was dropped on the window."""
