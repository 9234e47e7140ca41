"""Sheet: how many of each, paper, marks, and how the copies fall."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QCheckBox, QPushButton

from honest_edge.core.values.papers import PAPER_TITLE
from honest_edge.core.values.specs import MOST_COPIES
from honest_edge.ui.shared.copies import CopiesRows
from honest_edge.ui.shared.finding_list import FindingList
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.panel import Panel
from honest_edge.ui.shared.toolbox import Toolbox
from honest_edge.ui.stations.sheet.cards import BladeCard, ByHandCard, MarksCard
from honest_edge.ui.stations.sheet.cost_card import CostCard
from honest_edge.ui.stations.sheet.order_card import OrderCard
from honest_edge.ui.stations.sheet.profiles_card import ProfilesCard
from honest_edge.ui.stations.sheet.sheet_words import full_words, limit_words, made_words, usable_words
from honest_edge.ui.stations.sheet.state import SheetActs, SheetState
from honest_edge.ui.stations.sheet.tiling_card import TilingCard
from honest_edge.ui.widgets.fields import (
    Choice,
    Form,
    button,
    card,
    counted,
    greyed,
    label,
    row,
)
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import Count, LengthField


class SheetPanel(Panel):
    """How do they fit?"""

    topic = "sheet"
    habit = "sheet"

    def __init__(self, host: Host, question: str, state: SheetState, acts: SheetActs) -> None:
        self._state, self._acts = state, acts
        super().__init__(host, question)

    def build(self) -> None:
        """Add the cards."""
        self.before: QPushButton = button("‹", lambda: self._acts.turn_page(-1))
        self.after: QPushButton = button("›", lambda: self._acts.turn_page(1))
        self.before.setAccessibleName("Previous sheet")
        self.after.setAccessibleName("Next sheet")
        self.page_words = label("", "heading")
        for turn in (self.before, self.after):
            turn.setFixedWidth(px(36))
        self.column.addLayout(row(self.before, self.page_words, self.after))
        self._build_fit()
        self._build_copies()
        self._build_paper()
        self.order = OrderCard(self.host)
        self.column.addWidget(self.order)
        self.cost = CostCard(self.host)
        self.column.addWidget(self.cost)
        self.profiles = ProfilesCard(self.host)
        self.column.addWidget(self.profiles)
        self.marks = MarksCard(self.host, self._state)
        self.column.addWidget(self.marks)
        self.blade = BladeCard(self.host, self._state, self._acts)
        self.column.addWidget(self.blade)
        self.by_hand = ByHandCard(self.host, self._acts)
        self.toolbox: Toolbox = self.by_hand.toolbox
        self.column.addWidget(self.by_hand)

    def _build_fit(self) -> None:
        self.tiling = TilingCard(self.host)
        self.wait = button("Look for a better layout", self._acts.look_for_better, filled=True)
        self.stop = button("Stop and keep the best", self._acts.stop_looking)
        self.waiting_words = label("", "soft")
        self.limits = label()
        self.warnings = FindingList(self.host, links=False)
        for widget in (self.warnings, self.tiling, self.wait, self.waiting_words, self.stop, self.limits):
            self.column.addWidget(widget)

    def _build_copies(self) -> None:
        frame, inside = card(topic="sheet")
        self.copies_heading = label("", "heading")
        inside.addWidget(self.copies_heading)
        form = Form(narrow=True)
        self.spares = Count("Extra copies", 0, MOST_COPIES)
        self.spares.committed.connect(lambda count: self.workspace.edit_design("extra copies", spares=count))
        self.copies = CopiesRows(self.workspace, form)
        form.add("Extra", self.spares, "Made beside the copies, for those that fail.")
        inside.addWidget(form)
        self.column.addWidget(frame)

    def _build_paper(self) -> None:
        frame, inside = card(topic="sheet")
        inside.addWidget(label("Paper and layout", "heading"))
        form = Form(narrow=True)
        self.paper = Choice("Paper", tuple((paper, title) for paper, title in PAPER_TITLE.items()))
        self.paper.chosen.connect(lambda value: self._edit("paper", paper=value))
        self.own_width, self.own_height = self._own("Width of the paper", 0), self._own("Height of the paper", 1)
        self.landscape = QCheckBox("Landscape")
        self.landscape.clicked.connect(lambda on: self._edit("landscape", is_landscape=on))
        self.gap = self._length("Least gap", "gap_mm")
        self.turning = Choice("Turning", (("none", "as drawn"), ("quarter", "by quarters"), ("free", "any way")))
        self.turning.chosen.connect(lambda value: self._edit("turning", turning=value))
        self.grouping = Choice(
            "Designs", (("mixed", "mixed"), ("together", "one after another"), ("apart", "each on its own sheets"))
        )
        self.grouping.chosen.connect(lambda value: self._edit("designs mixed or not", grouping=value))
        self.arrangement = Choice("Arrangement", (("tidy", "in rows"), ("tight", "tight")))
        self.arrangement.chosen.connect(lambda value: self._edit("arrangement", arrangement=value))
        form.add("Paper", self.paper)
        self.own_rows = (form.add("Width", self.own_width), form.add("Height", self.own_height))
        form.add_wide(self.landscape)
        self.rim = LengthField("Printer’s rim")
        self.rim.committed.connect(self._set_rim)
        self.rim.refused.connect(self.refuse)
        form.add("Printer’s rim", self.rim, "What the printer cannot print at the paper’s edges.")
        form.add("Least gap", self.gap, "Between neighbouring cuts; never less than both bleeds.")
        form.add(
            "Copies lie",
            self.arrangement,
            "In rows: upright and even, where that costs no sheet. Tight: as many as go on, turned as it comes.",
        )
        form.add("Turning", self.turning, "How copies may be turned to fit.")
        form.add(
            "Designs",
            self.grouping,
            "Mixed they need fewer sheets; one after another they are easier to sort; apart, no sheet shows two.",
        )
        inside.addWidget(form)
        self.usable = label("", "soft")
        inside.addWidget(self.usable)
        self.column.addWidget(frame)

    def _length(self, name: str, field: str) -> LengthField:
        length_field = LengthField(name)
        length_field.committed.connect(lambda value: self._edit(name.lower(), **{field: value}))
        length_field.refused.connect(self.refuse)
        return length_field

    def _own(self, name: str, side: int) -> LengthField:
        field = LengthField(name)

        def commit(value: float) -> None:
            size = list(self.workspace.job.sheet.own_mm)
            size[side] = value
            self._edit(name.lower(), own_mm=tuple(size))

        field.committed.connect(commit)
        field.refused.connect(self.refuse)
        return field

    def _set_rim(self, value: float) -> None:
        printer = self.workspace.build(lambda: replace(self.workspace.job.sheet.printer, rim_mm=value, rims_mm=None))
        if printer is not None:
            self._edit("printer’s rim", printer=printer)

    def _edit(self, words: str, **changes: object) -> None:
        self.workspace.edit_sheet(words, **changes)

    # -- showing -------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the sheet."""
        self._show_settings()
        self.order.refresh()
        self.marks.refresh()
        self.profiles.refresh()
        self.blade.refresh()
        self.by_hand.refresh()
        self._show_fit()

    def _show_settings(self) -> None:
        sheet, unit, design = self.workspace.job.sheet, self.workspace.unit, self.workspace.design
        self.paper.show_value(sheet.paper)
        for rows in self.own_rows:
            rows.setVisible(sheet.paper == "own")
        self.own_width.show_length(sheet.own_mm[0], unit)
        self.own_height.show_length(sheet.own_mm[1], unit)
        self.landscape.setChecked(sheet.is_landscape)
        self.gap.show_length(sheet.gap_mm, unit)
        self.rim.show_length(sheet.rim_mm, unit)
        self.arrangement.show_value(sheet.arrangement)
        self.turning.show_value(sheet.turning)
        self.grouping.show_value(sheet.grouping)
        self.copies_heading.setText("" if design is None else f"How many of “{design.name}”")
        self.copies.show_design(design)
        self.spares.setEnabled(design is not None)
        if design is not None:
            self.spares.show_value(design.spares)
        plan = self.workspace.overview.plan
        self.usable.setText("" if plan is None else usable_words(plan, self.workspace.length))

    def _show_fit(self) -> None:
        plan, best_yet = self.workspace.overview.plan, self._state.better_found
        pages = len(plan.pages) if plan else 0
        self.workspace.page = min(max(self.workspace.page, 0), max(pages - 1, 0))
        greyed(self.before, "" if self.workspace.page > 0 else "This is the first sheet")
        greyed(self.after, "" if self.workspace.page < pages - 1 else "This is the last sheet")
        is_waiting = best_yet is not None
        self.wait.setVisible(not is_waiting)
        greyed(self.wait, "" if plan is not None and self.workspace.is_known else "The layout is still being made")
        self.stop.setVisible(is_waiting)
        self.waiting_words.setVisible(is_waiting)
        if best_yet is not None:
            self.waiting_words.setText(f"Looking … {counted(best_yet, 'better layout')} so far; the best is shown.")
        self._show_limits()
        if plan is None:
            self.answer.setText("–")
            self.under.setText(
                "no layout yet" if self.workspace.overview.sheet_findings else self.workspace.overview.why_no_plan
            )
            self.page_words.setText("")
            return
        self.answer.setText(counted(pages, "sheet"))
        better = "; a better layout is being made" if self.workspace.overview.is_provisional else ""
        self.under.setText(made_words(plan, self.workspace.overview.job.sheet) + better)
        self.page_words.setText(full_words(plan, self.workspace.page))

    def _show_limits(self) -> None:
        limits, design, plan = self._state.limits, self.workspace.design, self.workspace.overview.plan
        words: list[str] = []
        if limits is not None and design is not None and plan is not None and limits.key == design.key:
            words = limit_words(limits, design.name, len(plan.pages), self.workspace.length)
        overview = self.workspace.overview
        self.tiling.refresh()
        self.warnings.show_findings([(overview.named(finding), finding) for finding in overview.sheet_findings])
        self.limits.setText("\n".join(words))
        self.limits.setVisible(bool(words))
