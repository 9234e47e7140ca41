"""Proof: what was found, and how many sheets to print."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QTimer

from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.panel import Panel
from honest_edge.ui.stations.proof.rows import ProofList
from honest_edge.ui.stations.proof.state import PrintAdviceShown, ProofActs, ProofState, finding_key
from honest_edge.ui.widgets.fields import button, card, counted, end_margins, label
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.words import whole_percent

if TYPE_CHECKING:
    from honest_edge.app.views.proof_view import ListedFinding, ProofView

_LAID_OUT_MS = 20  # after which rows that were made anew have their places


class ProofPanel(Panel):
    """What would go wrong?"""

    topic = "proof"

    def __init__(self, host: Host, question: str, state: ProofState, acts: ProofActs) -> None:
        self._state, self._acts = state, acts
        self.view: ProofView | None = None
        self._wanted = 0
        self._prints_of: int | None = None
        """Which of the opened jobs the number of prints is shown of."""
        super().__init__(host, question)
        self._laid_out = QTimer(self)
        self._laid_out.setSingleShot(True)
        self._laid_out.setInterval(_LAID_OUT_MS)
        self._laid_out.timeout.connect(self._show_wanted)

    def build(self) -> None:
        """Add the cards."""
        self.rehearse = button("Rehearse on the simulated bench", self._acts.rehearse, filled=True)
        self.rehearse.setToolTip("Print, read and cut this job 200 times before paper is spent (Ctrl+R)")
        self.column.addWidget(self.rehearse)
        self.prints, inside = card(topic="proof")
        self.now = label("")
        self.now.setContentsMargins(*end_margins(0, 0, px(16)))  # up to the mark
        inside.addWidget(self.now)
        self.needed = [button("", lambda: None) for _ in range(2)]
        for one in self.needed:
            inside.addWidget(one)
        self.prints.setToolTip("What goes wrong is shared by a sheet: spare stickers on the same sheet hardly help")
        self.column.addWidget(self.prints)
        self.list = ProofList(self.host, self._state, self._acts)
        self.column.addWidget(self.list)

    def refresh(self) -> None:
        """Show what was found of the job."""
        overview = self.workspace.overview
        self.rehearse.setEnabled(overview.plan is not None)
        if not self.workspace.job.designs:
            self.answer.setText("–")
            self.under.setText("Add a picture to begin: drop it on the window or press Ctrl+I.")
            self.list.hide()
            self.prints.hide()
            return
        from honest_edge.app.views.proof_view import proof_view

        self.view = proof_view(overview)
        self.list.show()
        self.answer.setText(self.view.answer)
        self.under.setText(self.view.under)
        self.list.show_groups(self.view.groups, self._is_selected)
        self._show_prints()

    def _is_selected(self, listed: ListedFinding) -> bool:
        return self._state.selected == finding_key(listed.finding)

    def bring_up(self, listed: ListedFinding) -> None:
        """Scroll to a finding, once it is laid out."""
        self._wanted = listed.number
        self._laid_out.start()

    def _show_wanted(self) -> None:
        row, body = self.list.row(self._wanted), self.widget()
        if row is not None and body is not None:
            body.resize(body.width(), body.sizeHint().height())  # now, not when the layout comes to it
            self.ensureWidgetVisible(row, 0, 40)

    def _show_prints(self) -> None:
        advice, opened = self._state.advice, self.workspace.document.opened
        is_old = advice is None and self._prints_of == opened
        self.prints.setEnabled(not is_old)
        if is_old:
            return  # it stands greyed until it is reckoned anew, so that nothing moves
        self._prints_of = None if advice is None else opened
        self.prints.setVisible(advice is not None)
        for needed_row in self.needed:
            needed_row.hide()
        if isinstance(advice, str):
            self.now.setText(advice)
        if not isinstance(advice, PrintAdviceShown):
            return
        sheets, share = advice.now
        self.now.setText(
            f"With {counted(sheets, 'sheet')} there are enough good ones in {whole_percent(share)} of runs."
        )
        shown = []
        for needed_row, (assurance, needed) in zip(self.needed, advice.needed, strict=False):
            if isinstance(needed, str):
                self.now.setText(needed)
                continue
            if needed.sheets == sheets or needed.sheets in shown:
                continue
            shown.append(needed.sheets)
            needed_row.setText(f"Print {counted(needed.sheets, 'sheet')}: {whole_percent(needed.assurance)} sure")
            needed_row.setToolTip(f"The fewest for {whole_percent(assurance)}")
            needed_row.clicked.disconnect()
            needed_row.clicked.connect(lambda _on, prints=needed: self._acts.print_so_often(prints))
            needed_row.show()
