"""Taking the steady part out: in our cut files, or in the machine's own correction."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6.QtWidgets import QDialog, QVBoxLayout

from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import button, card, label, row
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.words import shift_words

if TYPE_CHECKING:
    from honest_edge.app.bench.view import BenchView


class CorrectionDialog(QDialog):
    """Offers both ways, and the way back."""

    def __init__(self, host: Host, view: BenchView, keep: Callable[[Any, str], object]) -> None:
        """Take the window, the bench, and what keeps a record and says that it did."""
        super().__init__(host.table.window())
        from honest_edge.app.bench.view import taken_out, to_type

        self._view, self._keep, self._length = view, keep, host.workspace.length
        self.setWindowTitle("Take the steady part out")
        column = QVBoxLayout(self)
        column.setContentsMargins(px(18), px(16), px(18), px(16))
        column.setSpacing(px(12))
        column.addWidget(label("Where should it be taken out?", "heading"))
        moved, typed = taken_out(view), to_type(view)
        files, inside = card(topic="bench")
        inside.addWidget(label("In the cut files that Honest Edge writes"))
        by = shift_words(moved.shift_x_mm, moved.shift_y_mm, self._length)
        inside.addWidget(
            label(
                f"Lines move {by} against the marks, and turn and stretch by the opposite of what was measured. "
                "The ticket says so. Nothing is typed into the machine.",
                "soft",
            )
        )
        self.move_files = button("Move the cut files", self._move, filled=True)
        self.move_files.setEnabled(moved != view.known.correction)
        self.back = button("Move them no more", self._back)
        self.back.setVisible(not view.known.correction.is_none)
        inside.addLayout(row(self.move_files, self.back))
        column.addWidget(files)
        if typed is not None and view.known.correction.is_none:
            self._build_typed(column, typed.across_mm, typed.down_mm, is_known=typed.is_known)
        column.addStretch(1)
        column.addLayout(row(button("Cancel", self.reject)))
        self.setMinimumWidth(px(460))
        self._moved, self._typed = moved, typed

    def _build_typed(self, column: QVBoxLayout, across_mm: float, down_mm: float, *, is_known: bool) -> None:
        machine, inside = card(topic="bench")
        inside.addWidget(label("In the machine’s own correction"))
        inside.addWidget(label(f"Add {across_mm:+.2f} mm across and {down_mm:+.2f} mm down to what stands there now."))
        words = (
            "Which way its numbers go was learnt from a target."
            if is_known
            else "Which way its numbers go is not known: cut one more target afterwards, and it is learnt, not guessed."
        )
        inside.addWidget(label(words, "soft"))
        self.typed = button("I typed it", self._take_typed)
        inside.addLayout(row(self.typed))
        column.addWidget(machine)

    def _move(self) -> None:
        from honest_edge.core.values.bench_records import cut_moved
        from honest_edge.files.book.records import MOVED

        self._keep(
            (MOVED, cut_moved(self._view.known.bench, self._moved)),
            "Cut files are moved from now on: cut one more target to prove it.",
        )
        self.accept()

    def _back(self) -> None:
        from honest_edge.core.values.bench_records import cut_moved
        from honest_edge.core.values.measured import ErrorParts
        from honest_edge.files.book.records import MOVED

        self._keep((MOVED, cut_moved(self._view.known.bench, ErrorParts())), "Cut files are written as planned again.")
        self.accept()

    def _take_typed(self) -> None:
        from honest_edge.core.values.bench_records import BenchNote
        from honest_edge.files.book.records import CHANGED

        bench, typed = self._view.known.bench, self._typed
        if typed is None:
            return
        note = BenchNote(
            machine=bench.machine, printer=bench.printer, what="typed into the machine",
            typed_x_mm=typed.across_mm, typed_y_mm=typed.down_mm,
        )  # fmt: skip
        self._keep(
            (CHANGED, note), "Noted: what was measured before tells the steady part no more. Cut one more target."
        )
        self.accept()
