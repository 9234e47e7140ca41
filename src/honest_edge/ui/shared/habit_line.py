"""One line of a panel: what is set in it can be always so, and says when it was begun by that habit."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QWidget

from honest_edge.app.edits.habits import HabitPart, has_habit, is_as_always, made_a_habit, without_habit
from honest_edge.core.values.habits import Habits
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import button, greyed, label, row

_OF: dict[HabitPart, str] = {
    "size": "Every new picture begins with this size",
    "outline": "Every new picture is told from its ground like this",
    "edge": "Every new picture begins with this edge",
    "sheet": "Every new job begins on a sheet like this, with the machine, printer and stock of these names",
    "files": "Every new job begins with this kind of print file",
}


class HabitLine(QWidget):
    """A button that makes a habit of a panel's part, or ends it."""

    def __init__(self, host: Host, part: HabitPart) -> None:
        super().__init__()
        self._host, self._part = host, part
        self.words = label("", "soft")
        self.swap = button("Always so", self._swap, link=True)
        line = row(self.words, self.swap)
        line.setContentsMargins(0, 0, 0, 0)
        line.setStretch(0, 1)
        self.setLayout(line)

    def refresh(self) -> None:
        """Show whether it is a habit, and whether the job follows it."""
        workspace, habits = self._host.workspace, self._host.habits.known
        job, design = workspace.job, workspace.design
        is_followed = is_as_always(habits, self._part, job, design)
        if is_followed:
            self.words.setText("As you have it always.")
        else:
            self.words.setText("You have it otherwise always." if has_habit(habits, self._part) else "")
        self.swap.setText("No longer" if is_followed else "Always so")
        self.swap.setToolTip("New art and new jobs begin with the usual again" if is_followed else _OF[self._part])
        no_size = self._part == "size" and (design is None or design.wanted is None)
        no_design = self._part in ("edge", "outline") and design is None
        greyed(
            self.swap,
            "Type a size first" if no_size and not is_followed else "There is no art yet" if no_design else "",
        )

    def _swap(self) -> None:
        workspace, keeper, part = self._host.workspace, self._host.habits, self._part
        before = keeper.known
        if is_as_always(before, part, workspace.job, workspace.design):
            keeper.take(without_habit(before, part))
            words = "That is no habit any more."
        else:
            keeper.take(made_a_habit(before, part, workspace.job, workspace.design))
            words = f"{_OF[part]}."
            if part == "sheet":
                self._take_names()
        self.refresh()
        self._host.say(words, actions=[("Undo", lambda: self._back(before))])

    def _take_names(self) -> None:
        sheet = self._host.workspace.job.sheet
        prefs = replace(
            self._host.prefs, machine=sheet.machine.name, printer=sheet.printer.name, stock=sheet.stock.name
        )
        self._host.set_prefs(prefs)

    def _back(self, before: Habits) -> None:
        self._host.habits.take(before)
        self.refresh()
