"""The five questions of the first start; what is passed over stays as usual and is not asked again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, Any, cast

from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QFrame, QVBoxLayout, QWidget

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.own_bench import OWN_MACHINE, OWN_PRINTER, RIM_STEPS, BenchAnswers, own_profiles, rim_read
from honest_edge.core.values.papers import PAPER_TITLE, PaperName
from honest_edge.core.values.stock import STOCKS
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import (
    Choice,
    Form,
    button,
    card,
    counted,
    label,
    row,
    side_by_side,
)
from honest_edge.ui.widgets.help_mark import HelpMark
from honest_edge.ui.widgets.typed import Count, LengthField

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress

_UNITS = (("mm", "millimetres"), ("in", "inches"))
_NOT_SAID = "not said yet"
_MARKS = (
    ("", _NOT_SAID),
    ("three brackets", "three corner brackets"),
    ("four brackets", "four corner brackets"),
    ("four discs", "four discs"),
    ("four squares", "four squares"),
    ("frame", "a frame round the art"),
    ("own program", "its own program prints them"),
    ("by hand", "nothing: I set the blade by hand"),
)


class BenchQuestions(QFrame):
    """Units, paper, rim, cutter, stock: on one card, each with an answer that most people can leave."""

    def __init__(self, host: Host, done: Callable[[], object]) -> None:
        super().__init__()
        self._host, self._done = host, done
        self.setProperty("card", "plain")
        HelpMark(self, "profiles")
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 14)
        column.setSpacing(10)
        column.addWidget(label("Your bench, once", "heading"))
        column.addWidget(label("Leave what you do not know: it can be said later, at Sheet and in the Book.", "soft"))
        self._form = Form(control_px=176)
        self._build_fields()
        column.addWidget(self._form)
        self.rim_help = button("Print a page and read two numbers…", self._show_rim, link=True)
        column.addWidget(self.rim_help)
        column.addWidget(self._build_rim())
        self.problem = label("", "danger")
        self.problem.hide()
        column.addWidget(self.problem)
        self.keep = button("Keep these", self._keep)
        self.skip = button("Not now", self._skip)
        column.addLayout(row(self.skip, self.keep))

    def _build_fields(self) -> None:
        self.unit = Choice("Lengths", _UNITS)
        self.paper = Choice("Paper", tuple((key, title) for key, title in PAPER_TITLE.items() if key != "own"))
        self.rim, self.wide, self.long = (
            LengthField(name) for name in ("Printer cannot print", "Largest area, across", "Largest area, along")
        )
        self.marks = Choice("Cutter looks for", _MARKS)
        self.stock = Choice("Mostly printed on", tuple((stock.name, stock.name) for stock in STOCKS))
        for field, words in ((self.rim, _NOT_SAID), (self.wide, "across"), (self.long, "along")):
            field.setPlaceholderText(words)
        self.unit.chosen.connect(lambda _value: self._take_shown())
        self.paper.chosen.connect(lambda _value: self._take_shown())
        for field in (self.rim, self.wide, self.long):
            field.show_nothing("mm")
            field.refused.connect(self._refuse)
            field.committed.connect(lambda mm, field=field: field.show_length(mm, self._unit))
        self._form.add("1  Lengths in", self.unit)
        self._form.add("2  Paper", self.paper)
        self._form.add("3  Printer’s white rim", self.rim, "What it cannot print at the paper’s edges")
        self._form.add("4  Cutter looks for", self.marks, "The marks that its reader finds; its manual shows them")
        both = side_by_side(self.wide, self.long)
        self._form.add("     and cuts at most", both, "Its largest area with marks, across and along")
        self._form.add("5  Mostly printed on", self.stock)
        self.show_prefs()

    def _build_rim(self) -> QWidget:
        """The way to find the rim: a page, and two readings of it."""
        self._rim, inside = card("sand", topic="printing")
        inside.addWidget(
            label("At the left and at the lower edge, type the smallest number whose line you see.", "soft")
        )
        form = Form(control_px=70)
        self.side, self.foot = (
            Count("Seen at the left edge", 0, RIM_STEPS),
            Count("Seen at the lower edge", 0, RIM_STEPS),
        )
        for count in (self.side, self.foot):
            count.setSpecialValueText("–")
            count.committed.connect(lambda _value: self._read_rim())
        form.add("At the left edge", self.side)
        form.add("At the lower edge", self.foot)
        inside.addWidget(form)
        self.print_page = button("Print the page…", self._print)
        inside.addWidget(self.print_page)
        self._rim.hide()
        return self._rim

    @property
    def _unit(self) -> Any:
        return self.unit.currentData()

    def show_prefs(self) -> None:
        """Show the unit and the paper that are in force."""
        self.unit.show_value(self._host.prefs.unit)
        self.paper.show_value(self._host.prefs.paper)
        self._show_lengths()

    def _take_shown(self) -> None:
        """Put into force what the card shows, whether it is kept or passed over or just left."""
        self._host.set_prefs(replace(self._host.prefs, unit=self._unit, paper=self.paper.currentData()))
        self._show_lengths()
        self._done()

    def _show_lengths(self) -> None:
        for field in (self.rim, self.wide, self.long):
            if field.length_mm is None:
                field.show_nothing(self._unit)
            else:
                field.show_length(field.length_mm, self._unit)

    def _refuse(self, words: str) -> None:
        self.problem.setText(words)
        self.problem.setVisible(bool(words))

    # -- the rim -------------------------------------------------------------------------------------

    def _show_rim(self) -> None:
        self._rim.setVisible(not self._rim.isVisible())

    def _read_rim(self) -> None:
        if self.side.value() and self.foot.value():
            self.rim.show_length(rim_read(self.side.value(), self.foot.value()), self._unit)

    def _print(self) -> None:
        from honest_edge.ui.shared.system_printer import obstacle, printer_for, send

        host = self._host
        sheet = replace(host.workspace.job.sheet, paper=cast(PaperName, self.paper.currentData()), is_landscape=False)
        printer: QPrinter = printer_for(sheet, "Printer’s rim", host.workspace.place.art)
        self.dialog = QPrintDialog(printer, self)

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> str:
            from honest_edge.files.write_rim_page import rim_page

            send(printer, rim_page(*sheet.size_mm), 1, report=report, cancelled=cancelled)
            return printer.outputFileName() or printer.printerName()

        def accepted() -> None:
            refusal = obstacle(printer, sheet, self._unit)
            if refusal is not None:
                self._refuse(refusal)
                return
            self._sending = host.new_task()
            self._sending.done.connect(lambda where: host.say(f"The page went to {where}.", tone="fine"))
            self._sending.failed.connect(self._refuse)
            self._sending.submit(work)

        self.dialog.accepted.connect(accepted)
        self.dialog.open()

    # -- keeping -------------------------------------------------------------------------------------

    def _keep(self) -> None:
        wide_mm, long_mm = self.wide.length_mm, self.long.length_mm
        if (wide_mm is None) != (long_mm is None):
            self._refuse("The largest area needs both sides, across and along, or neither")
            return
        area_mm = None if wide_mm is None or long_mm is None else (wide_mm, long_mm)
        answers = BenchAnswers(rim_mm=self.rim.length_mm, marks=self.marks.currentData() or None, area_mm=area_mm)
        try:
            profiles = own_profiles(answers)
            for profile in profiles:
                self._host.profiles.keep(profile)
        except HonestEdgeError as error:
            self._refuse(str(error))
            return
        names = {profile.name for profile in profiles}
        prefs = self._host.prefs
        stock = self.stock.currentData()
        self._host.set_prefs(
            replace(
                prefs,
                machine=OWN_MACHINE if OWN_MACHINE in names else prefs.machine,
                printer=OWN_PRINTER if OWN_PRINTER in names else prefs.printer,
                stock=stock if stock != STOCKS[0].name else "",
                bench_asked="yes",
            )
        )
        kept = (
            f"{counted(len(names), 'profile')} on the shelf of the Book: {', '.join(sorted(names))}. " if names else ""
        )
        self._host.say(f"{kept}New jobs begin so; the Sheet station changes it for one job.", tone="fine")
        self._done()

    def _skip(self) -> None:
        self._host.set_prefs(replace(self._host.prefs, bench_asked="yes"))
        self._done()
