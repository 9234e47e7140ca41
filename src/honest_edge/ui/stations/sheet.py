"""Sheet: paper, printer's rim, marks, gap, and how the copies fall."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QPushButton

from honest_edge.core.values.specs import Stock
from honest_edge.ui import asking
from honest_edge.ui.fields import Choice, Form, LengthField, button, card, label, paint_button, row
from honest_edge.ui.stations.naming import copies_field
from honest_edge.ui.stations.panel import Panel

_KRAFT = (201, 170, 124)


class SheetPanel(Panel):
    """How do they fit?"""

    station = "sheet"

    def build(self) -> None:
        """Add the cards."""
        self.before: QPushButton = button("‹", lambda: self._turn(-1))
        self.after: QPushButton = button("›", lambda: self._turn(1))
        self.before.setAccessibleName("Previous sheet")
        self.after.setAccessibleName("Next sheet")
        self.page_words = label("", "heading")
        for turn in (self.before, self.after):
            turn.setFixedWidth(36)
        self.column.addLayout(row(self.before, self.page_words, self.after))
        form = Form()
        self.copies = copies_field(self.desk, "Copies of this design")
        self.paper = Choice("Paper", (("letter", "Letter"), ("a4", "A4")))
        self.paper.chosen.connect(lambda value: self._edit("paper", paper=value))
        self.gap = self._length("Least gap", "gap_mm")
        self.rim = self._length("Printer's rim", "rim_mm")
        form.add("Copies of this design", self.copies)
        form.add("Paper", self.paper)
        self.stock = Choice("Stock", (("white", "white"), ("coloured", "coloured"), ("clear", "clear film")))
        self.stock.chosen.connect(self._choose_stock)
        self.stock_colour = button("", self._choose_colour)
        self.stock_colour.setAccessibleName("Colour of the stock")
        form.add("Stock", self.stock, "What shows where no ink is.")
        self.colour_row = form.add("Its colour", self.stock_colour, "Press to choose it.")
        form.add("Least gap", self.gap, "Between neighbouring cuts; never less than both bleeds.")
        form.add("Printer's rim", self.rim, "What the printer cannot print at the paper's edges.")
        self.column.addWidget(form)
        frame, inside = card()
        inside.addWidget(label("Marks: three corner brackets", "heading"))
        marks = Form()
        self.mark_length = self._mark("Length", "length_mm")
        self.mark_thickness = self._mark("Thickness", "thickness_mm")
        self.mark_inset = self._mark("From the edge", "inset_mm")
        self.mark_clear = self._mark("Clear space", "clear_mm")
        marks.add("Length", self.mark_length, "15 to 20 mm reads reliably.")
        marks.add("Thickness", self.mark_thickness)
        marks.add("From the edge", self.mark_inset)
        marks.add("Clear space", self.mark_clear)
        for control in (self.mark_length, self.mark_thickness, self.mark_inset, self.mark_clear):
            control.setFixedWidth(110)
        inside.addWidget(marks)
        self.column.addWidget(frame)

    def _choose_stock(self, kind: str) -> None:
        made = {"white": Stock(), "coloured": Stock(rgb=_KRAFT), "clear": Stock(is_clear=True)}[kind]
        self._edit("stock", stock=made)

    def _choose_colour(self) -> None:
        chosen = asking.ask_colour(self, self.desk.job.sheet.stock.rgb, "Colour of the stock")
        if chosen is not None:
            self._edit("colour of the stock", stock=Stock(rgb=chosen))

    def _show_stock(self) -> None:
        stock = self.desk.job.sheet.stock
        coloured = not stock.is_clear and stock != Stock()
        self.stock.show_value("clear" if stock.is_clear else "coloured" if coloured else "white")
        self.colour_row.setVisible(coloured)
        paint_button(self.stock_colour, stock.rgb)

    def _length(self, name: str, field: str) -> LengthField:
        made = LengthField(name)
        made.committed.connect(lambda value: self._edit(name.lower(), **{field: value}))
        made.refused.connect(self.desk.said)
        return made

    def _mark(self, name: str, field: str) -> LengthField:
        made = LengthField(f"Mark: {name.lower()}")

        def commit(value: float) -> None:
            marks = self.desk.build(lambda: replace(self.desk.job.sheet.marks, **{field: value}))
            if marks is not None:
                self._edit(f"marks: {name.lower()}", marks=marks)

        made.committed.connect(commit)
        made.refused.connect(self.desk.said)
        return made

    def _edit(self, words: str, **changes: object) -> None:
        sheet = self.desk.build(lambda: replace(self.desk.job.sheet, **changes))  # type: ignore[arg-type]
        if sheet is not None:
            self.desk.edit_job(words, sheet=sheet)

    def _turn(self, step: int) -> None:
        self.desk.page += step
        self.refresh()
        self.desk.redraw_wanted.emit()

    def refresh(self) -> None:
        """Show the sheet."""
        job, plan, unit = self.desk.job, self.desk.seen.plan, self.desk.unit
        sheet = job.sheet
        self.paper.show_value(sheet.paper)
        self._show_stock()
        self.gap.show_length(sheet.gap_mm, unit)
        self.rim.show_length(sheet.rim_mm, unit)
        for control, value in (
            (self.mark_length, sheet.marks.length_mm),
            (self.mark_thickness, sheet.marks.thickness_mm),
            (self.mark_inset, sheet.marks.inset_mm),
            (self.mark_clear, sheet.marks.clear_mm),
        ):
            control.show_length(value, unit)
        design = self.desk.design
        self.copies.setEnabled(design is not None)
        if design is not None:
            self.copies.show_value(design.copies)
        pages = len(plan.pages) if plan else 0
        self.desk.page = min(max(self.desk.page, 0), max(pages - 1, 0))
        self.before.setEnabled(self.desk.page > 0)
        self.after.setEnabled(self.desk.page < pages - 1)
        if plan is None:
            self.answer.setText("–")
            self.under.setText(self.desk.seen.state("sheet")[1])
            self.page_words.setText("")
            return
        self.answer.setText(f"{pages} sheet{'s' if pages != 1 else ''}")
        total = sum(len(page) for page in plan.pages)
        usable = f"{self.desk.length(plan.usable.width)} × {self.desk.length(plan.usable.height)}"
        self.under.setText(f"{total} stickers; {usable} between the marks")
        self.page_words.setText(f"Sheet {self.desk.page + 1} of {pages}: {len(plan.pages[self.desk.page])} stickers")
