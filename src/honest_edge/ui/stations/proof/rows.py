"""The list of what was found: a number, a sentence and one button each; more of the one in hand."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QContextMenuEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QMenu, QPushButton, QVBoxLayout, QWidget

from honest_edge.core.values.findings import Severity
from honest_edge.ui.shared.host import Host
from honest_edge.ui.stations.proof.state import ProofActs, ProofState, tried_key
from honest_edge.ui.widgets.fields import button, label, restyle, row
from honest_edge.ui.widgets.local import local
from honest_edge.ui.widgets.painting import painter_on
from honest_edge.ui.widgets.theme import px, words
from honest_edge.ui.widgets.tokens import Tokens

if TYPE_CHECKING:
    from honest_edge.app.views.proof_view import FindingGroup, FindingKind, ListedFinding
    from honest_edge.core.values.findings import Fix

_BADGE_PX = 22

_Way = tuple[str, Callable[[], object], bool]
"""What a button says and does, and whether it is a link."""


def severity_colour(tokens: Tokens, severity: Severity, *, is_left: bool = False) -> str:
    """Return the colour that a finding's number has."""
    if is_left or severity == "note":
        return tokens.soft
    return tokens.danger if severity == "blocks" else tokens.look


class NumberBadge(QWidget):
    """A finding's number, as it stands on the table."""

    def __init__(self, number: int, colour: str, ground: str) -> None:
        super().__init__()
        self._text, self._colour, self._ground = str(number), QColor(colour), QColor(ground)
        self.setFixedSize(self.sizeHint())

    def sizeHint(self) -> QSize:
        return QSize(px(_BADGE_PX + 5 * max(0, len(self._text) - 2)), px(_BADGE_PX))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = painter_on(self)
        paint_badge(painter, QRectF(self.rect()), self._text, self._colour, self._ground)


def paint_badge(painter: QPainter, box: QRectF, text: str, colour: QColor, ground: QColor) -> None:
    """Draw a number on a round ground."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour)
    painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), box.height() / 2 - 1, box.height() / 2 - 1)
    painter.setPen(ground)
    painter.setFont(words(12))
    painter.drawText(box.translated(QPointF(0, -0.5)), Qt.AlignmentFlag.AlignCenter, text)


class FindingRow(QFrame):
    """One finding; a click takes it in hand."""

    def __init__(
        self, host: Host, listed: ListedFinding, state: ProofState, acts: ProofActs, *, is_selected: bool
    ) -> None:
        super().__init__()
        self.listed, self._state, self._acts, self._host = listed, state, acts, host
        finding, tokens = listed.finding, host.tokens
        restyle(self, "card", "look" if is_selected else "plain")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        across = QHBoxLayout(self)
        across.setContentsMargins(8, 8, 8, 8)
        across.setSpacing(8)
        colour = severity_colour(tokens, finding.severity, is_left=bool(finding.left))
        across.addWidget(NumberBadge(listed.number, colour, tokens.panel), 0, Qt.AlignmentFlag.AlignTop)
        self._column = QVBoxLayout()
        self._column.setSpacing(6)
        across.addLayout(self._column, 1)
        self._column.addWidget(label(listed.words))
        if is_selected and finding.remedy:
            self._column.addWidget(label(f"{finding.remedy[:1].upper()}{finding.remedy[1:]}.", "soft"))
        if finding.left:
            self._column.addWidget(label(f"Left: {finding.left}", "soft"))
            self._column.addLayout(row(button("Take it up again", lambda: acts.take_up(finding), link=True)))
        else:
            self._add_ways(is_selected)
        self.setAccessibleName(listed.words)

    def _add_ways(self, is_selected: bool) -> None:
        finding, acts = self.listed.finding, self._acts
        for fix in finding.fixes if is_selected else finding.fixes[:1]:
            self._add_fix(fix)
        if is_selected:
            links: list[QWidget] = []
            if finding.station != "proof":
                links.append(
                    button(f"See it at {finding.station.capitalize()}", lambda: acts.visit(finding), link=True)
                )
            if finding.can_be_left and finding.severity != "note":
                links.append(button("Leave it…", lambda: acts.leave(finding), link=True))
            if links:
                self._column.addLayout(row(*links))

    def _add_fix(self, fix: Fix) -> None:
        finding = self.listed.finding
        fix_button = button(fix.words, partial(self._acts.mend, finding, fix), link=bool(fix.visit))
        fix_button.setAccessibleDescription(self.listed.words)
        trial = self._state.tried.get(tried_key(finding, fix))
        if tried_key(finding, fix) in self._state.trying:
            fix_button.setEnabled(False)
            fix_button.setToolTip("Being tried: it is offered once it is known to mend this")
        if trial is None or trial.can_be_offered:
            self._column.addWidget(fix_button)
        if trial is not None and trial.words:
            self._column.addWidget(label(f"{trial.words[:1].upper()}{trial.words[1:]}.", "soft"))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._acts.select(self.listed)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event is not None:
            self.menu().popup(event.globalPos())

    def menu(self) -> QMenu:
        """Return what can be done with the finding."""
        finding, acts, acts_menu = self.listed.finding, self._acts, QMenu(self)
        ways: list[tuple[str, Callable[[], object]]] = []
        if finding.left:
            ways.append(("Take it up again", lambda: acts.take_up(finding)))
        else:
            for fix in finding.fixes:
                trial = self._state.tried.get(tried_key(finding, fix))
                if trial is None or trial.can_be_offered:
                    ways.append((fix.words, partial(acts.mend, finding, fix)))
            if finding.station != "proof":
                ways.append((f"See it at {finding.station.capitalize()}", lambda: acts.visit(finding)))
            if finding.can_be_left and finding.severity != "note":
                ways.append(("Leave it…", lambda: acts.leave(finding)))
        for name, act in ways:
            action = acts_menu.addAction(local(name))
            if action is not None:
                action.triggered.connect(lambda _on, act=act: act())
        return acts_menu


class ProofList(QFrame):
    """Groups, the worst first; of many alike a few are shown, and the rest when they are asked for."""

    def __init__(self, host: Host, state: ProofState, acts: ProofActs) -> None:
        super().__init__()
        self._host, self._state, self._acts = host, state, acts
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(8)
        self._made: dict[object, QWidget] = {}
        self._rows: dict[int, FindingRow] = {}

    @property
    def buttons(self) -> list[QPushButton]:
        """Every button that stands in it."""
        return [one for holder in self._made.values() for one in holder.findChildren(QPushButton)]

    def row(self, number: int) -> FindingRow | None:
        """Return the row of a finding, where it is shown."""
        return self._rows.get(number)

    def show_groups(self, groups: tuple[FindingGroup, ...], is_selected: Callable[[ListedFinding], bool]) -> None:
        """List findings; what stands there already, and says the same, stays as it is."""
        wanted: list[tuple[object, Callable[[], QWidget]]] = []
        shown: dict[int, object] = {}
        for group in groups:
            title = f"{group.title} ({group.count})"
            wanted.append((title, partial(label, title, "heading")))
            for kind in group.kinds:
                for one in self._shown(kind, is_selected):
                    key = self._key(one, is_selected=is_selected(one))
                    shown[one.number] = key
                    wanted.append((key, partial(self._row, one, is_selected=is_selected(one))))
                more = self._more(kind, is_selected)
                if more:
                    wanted.append(((kind.check, *(text for text, _, _ in more)), partial(self._buttons, more)))
        self._stand(wanted)
        self._rows = {number: cast(FindingRow, self._made[key]) for number, key in shown.items()}

    def _stand(self, wanted: list[tuple[object, Callable[[], QWidget]]]) -> None:
        """Let these stand in the column, in this order."""
        keys = {key for key, _ in wanted}
        for key in [key for key in self._made if key not in keys]:
            old = self._made.pop(key)
            self._column.removeWidget(old)
            old.setParent(None)
            old.deleteLater()
        for place, (key, make) in enumerate(wanted):
            if key not in self._made:
                self._made[key] = make()
            if self._column.indexOf(self._made[key]) != place:
                self._column.insertWidget(place, self._made[key])

    def _key(self, one: ListedFinding, *, is_selected: bool) -> tuple[object, ...]:
        """Return what a row shows: one that shows the same need not be made anew."""
        finding = one.finding
        keys = [tried_key(finding, fix) for fix in finding.fixes]
        tried = tuple((key in self._state.tried, key in self._state.trying) for key in keys)
        theme = self._host.tokens.panel
        return one.number, one.words, finding.severity, finding.remedy, finding.left, is_selected, tried, theme

    def _row(self, one: ListedFinding, *, is_selected: bool) -> FindingRow:
        return FindingRow(self._host, one, self._state, self._acts, is_selected=is_selected)

    def _shown(self, kind: FindingKind, is_selected: Callable[[ListedFinding], bool]) -> list[ListedFinding]:
        if kind.check in self._state.opened:
            return list(kind.rows)
        return [one for one in kind.rows if one in kind.first or is_selected(one)]

    def _more(self, kind: FindingKind, is_selected: Callable[[ListedFinding], bool]) -> list[_Way]:
        rest = len(kind.rows) - len(self._shown(kind, is_selected))
        ways: list[_Way] = []
        if rest:
            ways.append((f"Show {rest} more like these", lambda: self._acts.open_kind(kind.check), True))
        if kind.mendable > 1 and not kind.rows[0].finding.left:
            ways.append((f"Mend all {kind.mendable}", lambda: self._acts.mend_all(kind.check), False))
        return ways

    @staticmethod
    def _buttons(ways: list[_Way]) -> QWidget:
        holder = QWidget()
        inside = row(*(button(text, act, link=is_link) for text, act, is_link in ways))
        inside.setContentsMargins(0, 0, 0, 4)
        holder.setLayout(inside)
        return holder
