"""What was found, each with a way to its place, and a button that mends it."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtWidgets import QFrame, QPushButton, QVBoxLayout, QWidget

from honest_edge.core.values.findings import Finding
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.mender import Mender
from honest_edge.ui.widgets.fields import button, label, restyle, row, set_tone


class FindingList(QFrame):
    """Rows that are made anew whenever what they show changes."""

    def __init__(self, host: Host, *, links: bool = True) -> None:
        """Take the window; ``links`` leads each to its place, for a list that stands elsewhere."""
        super().__init__()
        self._host, self._links = host, links
        self._mender = Mender(host, self)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(12, 10, 12, 10)
        self._column.setSpacing(6)
        self._title = label("Needs a look first", "look")
        self._column.addWidget(self._title)
        self._rows: list[QWidget] = []
        self._shown: tuple[tuple[str, Finding], ...] = ()
        self.fixes: list[QPushButton] = []
        self.setVisible(False)

    @property
    def words(self) -> str:
        """All that it says."""
        return "\n".join(finding.advice for _, finding in self._shown)

    def show_findings(self, findings: Sequence[tuple[str, Finding]]) -> None:
        """List findings, each with its message as it is shown; what is left is not, what is only said comes last."""
        open_ones = [named for named in findings if not named[1].left]
        self.setVisible(bool(open_ones))
        ordered = tuple(sorted(open_ones, key=lambda named: named[1].severity == "note"))
        if ordered == self._shown:
            return
        self._shown = ordered
        is_urgent = any(finding.severity != "note" for _, finding in ordered)
        restyle(self, "card", "look" if is_urgent else "plain")
        set_tone(self._title, "look" if is_urgent else "soft")
        self._title.setText("Needs a look first" if is_urgent else "Good to know")
        for old in self._rows:
            self._column.removeWidget(old)
            old.setParent(None)
            old.deleteLater()
        self.fixes = []
        self._rows = [self._row(words, finding) for words, finding in ordered]
        for listed in self._rows:
            self._column.addWidget(listed)

    def _row(self, words: str, finding: Finding) -> QWidget:
        holder = QWidget()
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 0, 6)
        column.setSpacing(4)
        text = label(f"{words[:1].upper()}{words[1:]}." if self._links else finding.advice)
        text.setToolTip(finding.advice)
        column.addWidget(text)
        ways: list[QWidget] = []
        if self._links or finding.places:
            show = button("Show it", lambda: self._show(finding), link=True)
            show.setAccessibleName(f"Show it: {words}")
            ways.append(show)
        for fix in finding.fixes:
            mend = button(fix.words, partial(self._mender.mend, finding, fix))
            mend.setAccessibleDescription(words)
            self.fixes.append(mend)
            ways.append(mend)
        while ways:  # two beside each other: a column is no wider
            column.addLayout(row(*ways[:2]))
            ways = ways[2:]
        return holder

    def _show(self, finding: Finding) -> None:
        """Go to where a finding is looked at, with its design in hand and its first place in the middle."""
        if finding.subject.design:
            self._host.take(finding.subject.design)
        self._host.go_to(finding.station)
        if finding.places:
            self._host.table.go_to(*finding.places[0].middle_mm)
