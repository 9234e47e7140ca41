"""Before the first sheet: what Proof still says, how many sheets and why, how long; and runs that were left."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QLineEdit, QProgressBar, QScrollArea, QVBoxLayout, QWidget

from honest_edge.core.values.run_times import LONGEST_DRYING_S
from honest_edge.ui.rooms.run.keeper import Wish
from honest_edge.ui.rooms.run.page import Way
from honest_edge.ui.rooms.run.step_view import BigButton
from honest_edge.ui.rooms.run.words import minutes
from honest_edge.ui.widgets.fields import (
    Choice,
    Form,
    button,
    card,
    counted,
    greyed,
    label,
)
from honest_edge.ui.widgets.layouts import scroll_downward
from honest_edge.ui.widgets.local import Label
from honest_edge.ui.widgets.theme import px, tabular
from honest_edge.ui.widgets.typed import Count

if TYPE_CHECKING:
    from honest_edge.app.run.before import BeforeRun
    from honest_edge.core.run.orders import RunOrder
    from honest_edge.files.runs.journal import LeftRun

_SIDE_PX, _MOST_LEFT, _MOST_CARRIERS = 320, 4, 9
_ENOUGH = 0.9
_RECKONED = "What it takes is still being reckoned"


class BeforeView(QWidget):
    """Says what a run will take, and begins it."""

    begun = pyqtSignal(object)
    taken_up = pyqtSignal(object)
    sign_typed = pyqtSignal(str)
    called_off = pyqtSignal()

    def __init__(self, question: str, go_to: Callable[[str], object]) -> None:
        super().__init__()
        self.setObjectName("runStep")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._question, self._go_to = question, go_to
        self._before: BeforeRun | None = None
        self._is_demo = False
        column = QVBoxLayout(self)
        column.setContentsMargins(px(28), px(20), px(28), px(16))
        column.setSpacing(px(6))
        self.title = Label(question)
        self.title.setWordWrap(True)
        self.title.setObjectName("stepTitle")
        self.under = label("")
        self.under.setObjectName("stepUnder")
        column.addWidget(self.title)
        column.addWidget(self.under)
        across = QHBoxLayout()
        across.setSpacing(px(28))
        across.addWidget(self._facts(), 1)
        across.addWidget(self._side())
        column.addLayout(across, 1)

    # -- building ---------------------------------------------------------------------------------------

    def _facts(self) -> QWidget:
        scroll = QScrollArea()
        scroll_downward(scroll)
        body = QWidget()
        body.setObjectName("runFacts")
        column = QVBoxLayout(body)
        column.setContentsMargins(0, px(10), px(6), 0)
        column.setSpacing(px(10))
        self.figures = QHBoxLayout()
        self.figures.setSpacing(px(28))
        self._numbers: list[tuple[QLabel, QLabel]] = []
        for _ in range(3):
            caption, number = label("", "soft"), Label("–")
            number.setFont(tabular(40))
            number.setProperty("figure", "large")
            stack = QVBoxLayout()
            stack.setSpacing(0)
            stack.addWidget(caption)
            stack.addWidget(number)
            self.figures.addLayout(stack)
            self._numbers.append((caption, number))
        self.figures.addStretch(1)
        column.addLayout(self.figures)
        self.why = label("")
        self.orders = label("", "figures")
        self.said = label("")
        self.to_proof = button("Look at Proof", lambda: self._go_to("proof"), link=True)
        for widget in (self.why, self.orders, self.said, self.to_proof):
            column.addWidget(widget)
        self.left, inside = card(topic="run")
        inside.addWidget(label("Runs that were left", "heading"))
        self._left = QVBoxLayout()
        inside.addLayout(self._left)
        self.unread = label("", "danger")
        self.elsewhere = label("", "soft")
        inside.addWidget(self.elsewhere)
        inside.addWidget(self.unread)
        column.addWidget(self.left)
        facts_card, inside = card(topic="run")
        inside.addWidget(label("A sheet turned up?", "heading"))
        inside.addWidget(label("Type what is printed at its foot, or drop a photograph of it here.", "soft"))
        self.sign = QLineEdit()
        self.sign.setAccessibleName("Sign of a sheet")
        self.sign.setPlaceholderText("7Q4KXN2D-3")
        self.sign.setMaxLength(40)
        self.sign.returnPressed.connect(lambda: self.sign_typed.emit(self.sign.text()))
        inside.addWidget(self.sign)
        self.sign_words = label("")
        inside.addWidget(self.sign_words)
        column.addWidget(facts_card)
        column.addStretch(1)
        scroll.setWidget(body)
        return scroll

    def _side(self) -> QWidget:
        side = QWidget()
        side.setFixedWidth(px(_SIDE_PX))
        column = QVBoxLayout(side)
        column.setContentsMargins(0, px(10), 0, 0)
        column.setSpacing(px(8))
        form = Form(control_px=180)
        self.carriers = Count("Carriers", 1, _MOST_CARRIERS)
        self.carriers.committed.connect(lambda _count: self._show_orders())
        form.add("Carriers", self.carriers, "Mats that hold a sheet in the cutter; a second one saves the most time")
        self.order = Choice("Order of work", (("1", "sheet by sheet"),))
        form.add("Order of work", self.order, "What is quickest stands first")
        self.drying = Count("Minutes to dry", 0, round(LONGEST_DRYING_S / 60))
        self.drying.committed.connect(lambda _count: self._show_orders())
        form.add("Minutes to dry", self.drying, "20 is usual for inkjet on sticker paper; the Book keeps it by stock")
        column.addWidget(form)
        self.laminated = QCheckBox("Sheets are laminated")
        self.practice = QCheckBox("On the practice bench: nothing is printed")
        for box in (self.laminated, self.practice):
            column.addWidget(box)
        column.addStretch(1)
        self.progress, self.progress_words = QProgressBar(), label("", "soft")
        self.progress.setTextVisible(False)
        self.cancel = button("Cancel", self.called_off.emit)
        for widget in (self.progress, self.progress_words, self.cancel):
            column.addWidget(widget)
            widget.hide()
        self.begin = BigButton(filled=True)
        column.addWidget(self.begin)
        self.begin.show_way(Way(words="Seal and begin", act=self._begin, waits_for=_RECKONED))
        self.hint = label("Space", "soft")
        self.hint.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        column.addWidget(self.hint)
        self.plain = button("First on plain paper", lambda: self._begin(is_trial=True), link=True)
        self.plain.setToolTip(
            "One sheet on cheap paper, cut and measured by a picture: what to expect of the good stock follows"
        )
        column.addWidget(self.plain, 0, Qt.AlignmentFlag.AlignHCenter)
        return side

    # -- showing ------------------------------------------------------------------------------------------

    def show_before(self, before: BeforeRun | None, *, is_demo: bool, stock: str) -> None:
        """Show what is known; None while it is reckoned."""
        is_first = self._before is None or is_demo != self._is_demo
        self._before, self._is_demo = before, is_demo
        if before is None:
            self.under.setText("Reckoning what it takes …")
            greyed(self.begin, _RECKONED)
            return
        if is_first:
            self.carriers.show_value(max(1, min(_MOST_CARRIERS, len(before.known.carriers))))
            self.drying.show_value(round(before.times.dry_s / 60))
            self.laminated.setChecked(bool(before.known.laminate))
        self.practice.setEnabled(not is_demo)
        self.practice.setToolTip(
            "The demo is always run on the practice bench: save it as your own job to print it" if is_demo else ""
        )
        if is_demo:
            self.practice.setChecked(True)
        can_begin = not before.why_not
        for way in (self.begin, self.plain):
            greyed(way, f"The run cannot begin: {before.why_not}" if before.why_not else "")
        self.title.setText("Before the first sheet" if can_begin else "Not yet")
        self.under.setText(
            "Sealing fixes what is printed and where it is cut: a change of the job after that cannot spoil the run."
            if can_begin
            else f"The run cannot begin: {before.why_not}."
        )
        self._show_numbers(before, stock)
        self.said.setText("\n".join(f"Proof says: {one}" for one in before.said))
        self.to_proof.setVisible(bool(before.said))
        self._show_left(before)
        self._show_orders()

    def _show_numbers(self, before: BeforeRun, stock: str) -> None:
        for (caption, _), name in zip(self._numbers, ("sheets", "all in all", "of your hands"), strict=True):
            caption.setText(name)
        self._numbers[0][1].setText(str(before.sheets) if before.sheets else "–")
        self.why.setText(_why(before, stock))

    def _show_orders(self) -> None:
        """Show the orders of work with so many carriers, the best first, and what each takes."""
        before = self._before
        if before is None:
            return
        dried = replace(before, times=replace(before.times, dry_s=60.0 * self.drying.value()))
        orders = dried.orders(self.carriers.value())
        self._numbers[1][1].setText(minutes(60 * orders[0].minutes) if orders else "–")
        self._numbers[2][1].setText(minutes(60 * orders[0].hands_on_minutes) if orders else "–")
        kept = self.order.currentData()
        self.order.blockSignals(True)
        self.order.clear()
        for order in orders:
            self.order.addItem(order.name, str(order.block))
        self.order.setCurrentIndex(max(0, self.order.findData(kept)) if kept and self.order.count() > 1 else 0)
        self.order.blockSignals(False)
        own = "your own times" if before.known.own else "assumed times"
        lines = [
            f"{order.name}: {minutes(60 * order.minutes)}, {minutes(60 * order.hands_on_minutes)} of hands, "
            f"{counted(order.setting_changes, 'change')} of setting"
            for order in orders
        ]
        why = [_why_first(orders)] if len(orders) > 1 else []
        self.orders.setText("\n".join([*lines, *why, f"({own}; 30 % off is usual at first)"] if lines else []))

    def _show_left(self, before: BeforeRun) -> None:
        while self._left.count():
            item = self._left.takeAt(0)
            if item is not None and (gone := item.widget()) is not None:
                gone.deleteLater()
        open_ones = [run for run in before.left if not run.has_ended]
        for run in open_ones[:_MOST_LEFT]:
            run_button = button(_left_words(run), partial(self.taken_up.emit, run))
            run_button.setEnabled(not run.is_taken)
            run_button.setToolTip(
                "Another window has it in hand" if run.is_taken else "Goes on exactly where it was left"
            )
            self._left.addWidget(run_button)
        self.unread.setText("\n".join(before.unread))
        self.unread.setVisible(bool(before.unread))
        self.elsewhere.setText("\n".join(before.elsewhere))
        self.elsewhere.setVisible(bool(before.elsewhere))
        self.left.setVisible(bool(open_ones or before.unread or before.elsewhere))

    def show_progress(self, share: float | None, text: str) -> None:
        """Show how far sealing is; None hides it."""
        for widget in (self.progress, self.progress_words, self.cancel):
            widget.setVisible(share is not None)
        self.begin.setVisible(share is None)
        self.plain.setVisible(share is None)
        self.hint.setVisible(share is None)
        self.progress.setRange(0, 1000)
        self.progress.setValue(round(1000 * (share or 0)))
        self.progress_words.setText(text)

    def _begin(self, *, is_trial: bool = False) -> None:
        before = self._before
        if before is None or before.why_not:
            return
        self.begun.emit(
            Wish(
                is_practice=self.practice.isChecked(),
                is_laminated=self.laminated.isChecked(),
                carriers=self.carriers.value(),
                block=int(self.order.currentData() or 1),
                drying_s=60.0 * self.drying.value(),
                assurance=before.assurance,
                is_trial=is_trial,
            )
        )

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space begins, unless the keys are on something else that takes it."""
        if event is not None and event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self.begin.click()
        else:
            super().keyPressEvent(event)


def _why_first(orders: tuple[RunOrder, ...]) -> str:
    """Return why the first order is the best."""
    first, last = orders[0], orders[-1]
    if first.minutes > last.minutes - 0.5:
        return "All take about as long: the first keeps hands busy the least."
    saved = minutes(60 * (last.minutes - first.minutes))
    changes = last.setting_changes - first.setting_changes
    if changes > 0:
        return f"{first.name.capitalize()} saves {saved}, with {counted(changes, 'change')} of setting fewer."
    return f"{first.name.capitalize()} saves {saved}: the cutter waits less for dry ink and for hands."


def _why(before: BeforeRun, stock: str) -> str:
    if not before.sheets:
        return ""
    parts = [f"{counted(before.sheets, 'sheet')} of {stock}, {before.ink_cm2:.0f} cm² inked."]
    if before.assurance is not None:
        share = f"{100 * before.assurance:.0f} %"
        more = "" if before.assurance >= _ENOUGH else " Proof can set how often each sheet is printed."
        parts.append(f"So many give enough good ones in {share} of runs.{more}")
    if before.forecast is not None:
        parts.append(f"Expected clean: {100 * before.forecast:.0f} %.")
    return " ".join(parts)


def _left_words(run: LeftRun) -> str:
    practice = ", practice" if run.seal.is_practice else ""
    return f"Go on with “{run.seal.title}”, {counted(len(run.seal.sheets), 'sheet')}, {run.seal.code}{practice}"
