"""Cards of the Sheet station: stock, marks, and what is done by hand."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QCheckBox

from honest_edge.core.values.marks import MarkKind, with_mark_kind
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.toolbox import Toolbox, ToolButton
from honest_edge.ui.stations.sheet.card import Card
from honest_edge.ui.stations.sheet.sheet_words import blade_words, mark_words, price_words
from honest_edge.ui.stations.sheet.state import SheetActs, SheetState
from honest_edge.ui.table.tool import Tool
from honest_edge.ui.widgets import dialogs
from honest_edge.ui.widgets.fields import (
    Choice,
    Form,
    button,
    counted,
    label,
    paint_button,
)
from honest_edge.ui.widgets.typed import LengthField

_USED = ToolButton(
    tool=Tool(
        name="used", shape="box", word="Draw it", hint="drag a box over what is cut out of the first sheet already"
    ),
    key="U",
)

_MARKS: tuple[tuple[MarkKind, str], ...] = (
    ("three brackets", "3 brackets"),
    ("four brackets", "4 brackets"),
    ("four discs", "4 discs"),
    ("four squares", "4 squares"),
    ("frame", "a frame"),
)


class MarksCard(Card):
    """What the cutter's reader looks for, and what it costs."""

    def __init__(self, host: Host, state: SheetState) -> None:
        super().__init__(host, "Marks for the cutter’s reader", topic="marks")
        self._state = state
        form = Form(narrow=True)
        self.kind = Choice("Marks", _MARKS)
        self.kind.chosen.connect(self._choose)
        form.add("Marks", self.kind)
        self.length, self.length_row = self._field(form, "Length", "length_mm", "15 to 20 mm reads reliably.")
        self.thickness, self.thickness_row = self._field(form, "Thickness", "thickness_mm")
        self.inset, _ = self._field(form, "From the edge", "inset_mm")
        self.clear, _ = self._field(form, "Clear space", "clear_mm", "Where nothing may be printed or cut.")
        self.colour = button("", self._choose_colour)
        self.colour.setAccessibleName("Colour of the marks")
        form.add("Colour", self.colour, "Press to choose it; readers want it dark and dull.")
        self.inside.addWidget(form)
        self.costs = label("", "soft")
        self.costs.setAccessibleName("What each kind of mark costs")
        self.inside.addWidget(self.costs)

    def _field(self, form: Form, name: str, field: str, tip: str = "") -> tuple[LengthField, object]:
        length_field = LengthField(f"Mark: {name.lower()}")

        def commit(value: float) -> None:
            self._edit(f"marks: {name.lower()}", **{field: value})

        length_field.committed.connect(commit)
        length_field.refused.connect(self.refuse)
        return length_field, form.add(name, length_field, tip)

    def _choose(self, kind: str) -> None:
        sheet = self.workspace.job.sheet
        edited = self.workspace.build(lambda: sheet.with_marks(with_mark_kind(sheet.marks, kind)))  # type: ignore[arg-type]
        if edited is not None:
            self.workspace.edit_job("kind of marks", sheet=edited)

    def _choose_colour(self) -> None:
        chosen = dialogs.ask_colour(self, self.workspace.job.sheet.marks.rgb, "Colour of the marks")
        if chosen is not None:
            self._edit("colour of the marks", rgb=chosen)

    def _edit(self, words: str, **changes: object) -> None:
        sheet = self.workspace.job.sheet
        edited = self.workspace.build(lambda: sheet.with_marks(replace(sheet.marks, **changes)))  # type: ignore[arg-type]
        if edited is not None:
            self.workspace.edit_job(words, sheet=edited)

    def refresh(self) -> None:
        """Show the marks."""
        sheet, unit, limits = self.workspace.job.sheet, self.workspace.unit, self._state.limits
        marks = sheet.marks
        self.kind.show_value(marks.kind)
        for control, value in (
            (self.length, marks.length_mm),
            (self.thickness, marks.thickness_mm),
            (self.inset, marks.inset_mm),
            (self.clear, marks.clear_mm),
        ):
            control.show_length(value, unit)
        self.length_row.setVisible(marks.kind != "frame")  # type: ignore[attr-defined]
        self.thickness_row.setVisible(marks.kind not in ("four discs", "four squares"))  # type: ignore[attr-defined]
        paint_button(self.colour, marks.rgb)
        known = limits is not None and self.workspace.overview.plan is not None
        self.costs.setVisible(known)
        if limits is not None:
            said = mark_words(limits.marks, sheet, is_longer=limits.is_longer)
            if limits.smaller is not None:
                said += f"\n{price_words(limits.smaller, sheet, self.workspace.length)}"
            self.costs.setText(said)


class BladeCard(Card):
    """What a drag knife needs beside the line, and where it goes."""

    def __init__(self, host: Host, state: SheetState, acts: SheetActs) -> None:
        super().__init__(host, "The blade", topic="blades")
        self._state = state
        form = Form(narrow=True)
        self.overcut = LengthField("Overcut")
        self.overcut.committed.connect(lambda value: self._edit("overcut", overcut_mm=value))
        self.leads = QCheckBox("Lead a drag knife round corners")
        self.leads.setToolTip("Only for a machine that does not do it by itself; never both.")
        self.leads.clicked.connect(lambda on: self._edit("lead the blade", compensates=on))
        self.trail = LengthField("Blade’s tip trails by")
        self.trail.committed.connect(lambda value: self._edit("blade offset", blade_offset_mm=value))
        for control in (self.overcut, self.trail):
            control.refused.connect(self.refuse)
        form.add("Overcut", self.overcut, "Closed cuts run so far past their start, so that nothing hangs on.")
        form.add_wide(self.leads)
        self.trail_row = form.add("Tip trails by", self.trail, "How far the tip lies behind the blade’s axis.")
        self.follows = QCheckBox("Show where it goes")
        self.follows.setToolTip("The axis of the blade as the cut file has it, in order; dashes are lifted moves.")
        self.follows.clicked.connect(acts.follow_blade)
        form.add_wide(self.follows)
        self.inside.addWidget(form)
        self.way = label("", "soft")
        self.inside.addWidget(self.way)

    def _edit(self, words: str, **changes: object) -> None:
        sheet = self.workspace.job.sheet
        edited = self.workspace.build(lambda: replace(sheet, machine=replace(sheet.machine, **changes)))  # type: ignore[arg-type]
        if edited is not None:
            self.workspace.edit_job(words, sheet=edited)

    def refresh(self) -> None:
        """Show the options, and how far the blade goes."""
        machine, unit, way = self.workspace.job.sheet.machine, self.workspace.unit, self._state.blade
        self.overcut.show_length(machine.overcut_mm, unit)
        self.leads.setChecked(machine.compensates)
        self.trail_row.setVisible(machine.compensates)
        self.trail.show_length(machine.blade_offset_mm, unit)
        self.follows.setChecked(self._state.follows_blade)
        is_shown = self._state.follows_blade and way is not None and way.page == self.workspace.page
        self.way.setVisible(is_shown)
        if way is not None and is_shown:
            self.way.setText(blade_words(way, self.workspace.length))


class ByHandCard(Card):
    """Copies placed by hand, and sheets that are partly used."""

    def __init__(self, host: Host, acts: SheetActs) -> None:
        super().__init__(host, "By hand, and used sheets", topic="sheet")
        self.pinned = label("", "soft")
        self.release = button("Let the fit place them again", acts.release_pins)
        self.used = label("", "soft")
        self.toolbox = Toolbox(
            host,
            "Used area of the first sheet",
            (_USED,),
            topic="sheet",
            with_brush=False,
        )
        self.keep = button("Keep this sheet as used", acts.keep_as_used)
        self.keep.setToolTip("After it was printed and cut: the next copies go round what is gone.")
        self.clear = button("Start with a fresh sheet", acts.start_fresh)
        for widget in (self.pinned, self.release, self.used, self.toolbox, self.keep, self.clear):
            self.inside.addWidget(widget)

    def refresh(self) -> None:
        """Show what there is."""
        pins, used = len(self.workspace.job.pins), len(self.workspace.job.sheet.used)
        self.pinned.setText(
            f"{counted(pins, 'copy')} placed by hand".replace("copys", "copies")
            if pins
            else "Drag a copy on the table to place it by hand; the rest fits around."
        )
        self.release.setVisible(pins > 0)
        self.used.setText(f"The first sheet has {counted(used, 'used area')}." if used else "")
        self.used.setVisible(used > 0)
        self.clear.setVisible(used > 0)
        self.keep.setEnabled(self.workspace.overview.plan is not None)
