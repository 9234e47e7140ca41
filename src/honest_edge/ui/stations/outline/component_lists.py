"""The lists of the Outline station: gaps, parts, holes and the steps made by hand."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QFrame, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from honest_edge.core.values.specs import Correction
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import button, counted, label
from honest_edge.ui.widgets.help_mark import HelpMark

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.core.imaging.leaks import Leak
    from honest_edge.core.outline.outline import Component

_MOST_SHOWN = 40
_DUST_MM2 = 0.1  # left out and smaller than this: not worth a row
_STEP_WORDS = {
    "dam": "Gap closed by a line",
    "open": "Gap left open",
    "keep": "Kept by brush",
    "clear": "Cleared by brush",
    "around": "Loop round the subject",
    "drop": "Part left out",
    "retain": "Part kept",
    "cut": "Hole cut out",
    "fill": "Hole filled",
}


class _List(QFrame):
    """A card with a heading and rows that are made anew whenever what they show changes."""

    def __init__(self, host: Host) -> None:
        super().__init__()
        self.host, self.workspace = host, host.workspace
        self.setProperty("card", "plain")
        HelpMark(self, "outline")
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(12, 10, 12, 10)
        self._layout.setSpacing(4)
        self.heading = label("", "heading")
        self._layout.addWidget(self.heading)
        self.rows: list[QWidget] = []
        self._shown: object = None

    def _fill(self, key: object, rows: list[QWidget]) -> None:
        self._shown = key
        for old in self.rows:
            self._layout.removeWidget(old)
            old.setParent(None)
            old.deleteLater()
        self.rows = rows
        for row in rows:
            self._layout.addWidget(row)


def _line(*widgets: QWidget) -> QWidget:
    holder = QWidget()
    layout = QHBoxLayout(holder)
    layout.setContentsMargins(0, 0, 0, 0)
    layout.setSpacing(6)
    for index, widget in enumerate(widgets):
        layout.addWidget(widget, 1 if index == 0 else 0)
    return holder


class GapList(_List):
    """Every gap of the outline with its width and what can be done about it."""

    def show_leaks(self, result: DesignResult) -> None:
        """List the gaps of a result."""
        leaks = result.subject.leaks
        self.setVisible(bool(leaks))
        key = (id(result.subject), self.workspace.unit, result.width_mm)
        if self._shown == key:
            return
        waiting = sum(not leak.dammed for leak in leaks)
        self.heading.setText(
            f"{counted(len(leaks), 'gap')} in the outline" + (f", {waiting} to look at" if waiting else "")
        )
        from honest_edge.core.imaging.leaks import told

        listed = told(leaks)
        rows = [self._row(leak, result.width_mm) for leak in listed]
        if len(leaks) > len(listed):
            rows.append(label(f"{len(leaks) - len(listed)} more, marked on the table.", "soft"))
        self._fill(key, rows)

    def _row(self, leak: Leak, width_mm: float) -> QWidget:
        width = self.workspace.length(leak.width * width_mm, 2)
        x, y = leak.middle
        show = button(
            f"{width}, {'closed' if leak.dammed else 'open'}",
            lambda: self.host.table.go_to(x * width_mm, y * width_mm),
            link=True,
        )
        show.setToolTip("Show it on the table")
        leave = button("Open" if leak.dammed else "Leave", lambda: self._edit(leak, dam=False))
        leave.setToolTip(
            "Let the background through here" if leak.dammed else "This is no gap: leave it and list it no more"
        )
        if leak.dammed:
            return _line(show, leave)
        dam = button("Close", lambda: self._edit(leak, dam=True))
        dam.setToolTip("Close the gap with a line")
        return _line(show, dam, leave)

    def _edit(self, leak: Leak, *, dam: bool) -> None:
        from honest_edge.app.edits.outline_edits import dammed_leak, opened_leak

        design = self.workspace.design
        if design is not None:
            act = dammed_leak if dam else opened_leak
            self.workspace.edit_outline("close a gap" if dam else "leave a gap", act(design.outline, leak))


class ComponentList(_List):
    """Parts or holes by size, each with a tick that keeps it."""

    def __init__(self, host: Host, noun: str) -> None:
        super().__init__(host)
        self._noun = noun

    def show_components(self, components: Sequence[Component]) -> None:
        """List parts, or holes."""
        self.setVisible(len(components) > (1 if self._noun == "part" else 0))
        key = (id(components), self.workspace.unit)
        if self._shown == key:
            return
        kept = sum(component.kept for component in components)
        self.heading.setText(
            f"{counted(len(components), self._noun)}, {kept} {'kept' if self._noun == 'part' else 'cut out'}"
        )
        listed = [one for one in components if one.fate != "too small" or one.polygon.area >= _DUST_MM2][:_MOST_SHOWN]
        rows: list[QWidget] = [self._row(component) for component in listed]
        if len(components) > len(listed):
            rows.append(
                label(f"{len(components) - len(listed)} smaller still; click one on the table to turn it.", "soft")
            )
        self._fill(key, rows)

    def _row(self, component: Component) -> QWidget:
        wide, high = component.size_mm
        size = f"{self.workspace.length(wide)} × {self.workspace.length(high)}"
        left_out = ", too small" if self._noun == "part" else ", filled"
        tick = QCheckBox(size + {"kept": "", "too small": left_out, "by hand": ", by hand"}[component.fate])
        tick.setChecked(component.kept)
        tick.setAccessibleName(f"{self._noun} of {size}")
        tick.clicked.connect(lambda _checked: self._turn(component, tick))
        return tick

    def _turn(self, component: Component, tick: QCheckBox) -> None:
        from honest_edge.app.edits.outline_edits import Picked, turned_round

        design, result = self.workspace.design, self.workspace.result
        if design is None or result is None:
            return
        if (
            self._noun == "part"
            and component.kept
            and sum(r.isChecked() for r in self.rows if isinstance(r, QCheckBox)) == 0
        ):
            tick.setChecked(True)
            self.host.say("This is the only part: a sticker needs at least one", tone="danger")
            return
        picked = Picked(kind="part" if self._noun == "part" else "hole", component=component)
        words = {("part", True): "leave out a part", ("part", False): "keep a part", ("hole", True): "fill a hole"}
        self.workspace.edit_outline(
            words.get((self._noun, component.kept), "cut out a hole"),
            turned_round(design.outline, picked, result.width_mm),
        )


class StepList(_List):
    """The corrections by hand, each of which can be taken back by itself."""

    def refresh(self) -> None:
        """List the steps of the design in hand."""
        design = self.workspace.design
        steps: tuple[Correction, ...] = design.outline.corrections if design else ()
        self.setVisible(bool(steps))
        if self._shown == steps:
            return
        self.heading.setText(f"{counted(len(steps), 'step')} by hand")
        self._fill(steps, [self._row(index, step) for index, step in enumerate(steps)][-_MOST_SHOWN:])

    def _row(self, index: int, step: Correction) -> QWidget:
        name = QLabel(_STEP_WORDS[step.kind])
        name.setTextFormat(Qt.TextFormat.PlainText)
        back = button("Take back", lambda: self._take_back(index))
        back.setAccessibleName(f"Take back step {index + 1}, {_STEP_WORDS[step.kind]}")
        return _line(name, back)

    def _take_back(self, index: int) -> None:
        from honest_edge.app.edits.outline_edits import without_step

        design = self.workspace.design
        if design is not None:
            self.workspace.edit_outline("take back a step", without_step(design.outline, index))
