"""The make line: every entry is a field, and one honest sentence says what comes of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import TYPE_CHECKING, Protocol

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox, QFrame, QSizePolicy, QVBoxLayout, QWidget

from honest_edge.core.values.papers import PAPER_TITLE
from honest_edge.core.values.specs import MOST_COPIES, SCHOOL_NAMES
from honest_edge.ui.widgets.fields import Choice, ElidedLabel, button, greyed, label, row
from honest_edge.ui.widgets.flow import Flow
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import Count, LengthField

if TYPE_CHECKING:
    from honest_edge.core.values.job import Design, Job
    from honest_edge.ui.shared.workspace import Workspace

WRITE_KEY = "Ctrl+Return"
_MOST_COUNTS = 12
_KINDS = (("kiss", "kiss cut"), ("through", "cut through"))


class MakeActs(Protocol):
    """What the line asks for."""

    def set_width(self, width_mm: float) -> None:
        """Cut every design so wide."""

    def set_copies(self, key: str, copies: int) -> None:
        """Make so many of one design."""

    def set_filling(self, fills: bool) -> None:
        """Fill the sheets, or make a number of each."""

    def set_school(self, school: str) -> None:
        """Give every design an edge of one school."""

    def set_kind(self, kind: str) -> None:
        """Cut every design by one kind of line."""

    def set_paper(self, paper: str) -> None:
        """Print on another paper."""

    def choose_folder(self) -> None:
        """Choose where the files go."""

    def write(self) -> None:
        """Write the files as soon as all is computed."""

    def look_closer(self) -> None:
        """Go to the stations."""

    def look(self) -> None:
        """Go where all that was found is listed."""

    def mend(self) -> None:
        """Do what is offered: mend what blocks, or make of the art what it asks for."""

    def as_usual(self) -> None:
        """Take back what was chosen by a habit."""


class MakeLine(QFrame):
    """Shows the job's usual decisions in one line."""

    def __init__(self, acts: MakeActs, refuse: Callable[[str], object]) -> None:
        super().__init__()
        self._acts = acts
        self.setProperty("card", "guide")
        self.setAccessibleName("Make it")
        self._counts: dict[str, Count] = {}
        self._count_parts: list[QWidget] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 8, 12, 8)
        column.setSpacing(6)
        self._fields = Flow()
        self._build_fields(refuse)
        column.addLayout(self._fields)
        self.words = label()
        self.mend = button("Mend it", acts.mend)
        self.look = button("See it", acts.look, link=True)
        self.look.setToolTip("Go to Proof, where everything that was found is listed")
        self.habit = label("", "soft")
        self.habit.setWordWrap(False)
        self.usual = button("Begin without it", acts.as_usual, link=True)
        self.usual.setToolTip("Take the file’s own size, a white border and a full sheet instead")
        below = row(self.words, self.mend, self.look, self.habit, self.usual)
        below.setStretch(0, 1)
        column.addLayout(below)

    def _build_fields(self, refuse: Callable[[str], object]) -> None:
        acts = self._acts
        self.width_field = LengthField("Cut width")
        self.width_field.setFixedWidth(px(104))
        self.width_field.setToolTip("How wide every design is cut; each has its own size at Art")
        self.width_field.committed.connect(acts.set_width)
        self.width_field.refused.connect(refuse)
        self.fills = QCheckBox("full sheet")
        self.fills.setToolTip("As many copies as the sheet has room for")
        self.fills.clicked.connect(acts.set_filling)
        self.school = Choice("Edge", [(school, name.lower()) for school, name in SCHOOL_NAMES.items()])
        self.school.setToolTip("The edge of every design; each has its own at Edge")
        self.school.chosen.connect(acts.set_school)
        self.kind = Choice("Kind of cut", _KINDS)
        self.kind.chosen.connect(acts.set_kind)
        papers = [(name, title) for name, title in PAPER_TITLE.items() if name != "own"]
        self.paper = Choice("Paper", [*papers, ("own", "own paper")])
        self.paper.chosen.connect(acts.set_paper)
        self.folder = ElidedLabel()
        self.choose = button("Folder…", acts.choose_folder)
        self.write = button("Write", acts.write, filled=True)
        self.write.setToolTip(f"Write the print and cut files as soon as all is computed ({WRITE_KEY})")
        self.closer = button("Look closer", acts.look_closer)
        self.closer.setToolTip("Go through the stations: art, outline, edge, sheet, proof, files")
        self._wide = label("wide  ·")
        parts: tuple[QWidget, ...] = (
            label("cut"), self.width_field, self._wide, self.fills, self.school, self.kind, self.paper,
            label("to"), self.folder, self.choose, self.write, self.closer,
        )  # fmt: skip
        for part in parts:
            if part.sizePolicy().horizontalPolicy() == QSizePolicy.Policy.Expanding:
                part.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
            self._fields.addWidget(part)

    # -- showing -------------------------------------------------------------------------------------

    def show_job(self, workspace: Workspace) -> None:
        """Show what the job says now."""
        design = workspace.design
        if design is None:
            return
        result = workspace.result
        width_mm = design.wanted.length_mm if design.wanted and design.wanted.side == 0 else None
        shown_mm = width_mm if result is None else result.cut_size_mm[0]
        if shown_mm is None:
            self.width_field.show_nothing(workspace.unit)
        else:
            self.width_field.show_length(shown_mm, workspace.unit)
        greyed(self.width_field, "Its form has a size of its own: change it at Art" if design.form else "")
        self._show_counts(workspace.job, workspace)
        with QSignalBlocker(self.fills):
            self.fills.setChecked(all(one.fills for one in _counted(workspace.job)))
        self.school.show_value(design.edge.school)
        self.kind.show_value(design.edge.line_kind)
        self.paper.show_value(workspace.job.sheet.paper)
        folder = workspace.place.folder
        self.folder.setFixedWidth(min(px(150), self.folder.fontMetrics().horizontalAdvance(folder.name) + px(4)))
        self.folder.set_full_text(folder.name)
        self.folder.setToolTip(str(folder))

    def _show_counts(self, job: Job, workspace: Workspace) -> None:
        designs = _counted(job)[:_MOST_COUNTS]
        if list(self._counts) != [one.key for one in designs] or len(designs) > 1:
            self._build_counts(designs)
        for design in designs:
            laid = workspace.laid_of(design.key) if design.fills else None
            self._counts[design.key].show_value(design.copies if laid is None else laid)

    def _build_counts(self, designs: Sequence[Design]) -> None:
        """Make a field for the copies of each design; with its name where there are several."""
        names = [(one.key, one.name) for one in designs]
        if names == getattr(self, "_named", None):
            return
        self._named = names
        for old in self._count_parts:
            self._fields.removeWidget(old)
            old.hide()
            old.deleteLater()
        self._counts, self._count_parts = {}, []
        for key, name in names:
            count = Count(f"Copies of {name}", 0 if len(names) > 1 else 1, MOST_COPIES)
            count.committed.connect(partial(self._acts.set_copies, key))
            self._counts[key] = count
            count.setFixedWidth(px(72))
            words = label(_short(name) if len(names) > 1 else "copies")
            words.setWordWrap(False)
            words.setToolTip(name)
            pair = QWidget()
            beside = row(words, count)
            beside.setContentsMargins(0, 0, 0, 0)
            pair.setLayout(beside)
            self._count_parts.append(pair)
        at = self._fields.indexOf(self._wide) + 1
        items = [self._fields.takeAt(at) for _ in range(self._fields.count() - at)]
        for part in self._count_parts:
            self._fields.addWidget(part)
        for item in items:
            self._fields.addItem(item)

    @property
    def copies(self) -> Count:
        """The field of the first design."""
        return next(iter(self._counts.values()))

    def counts(self) -> dict[str, Count]:
        """The fields for copies, by design."""
        return dict(self._counts)

    def show_glance(self, words: str, *, fix: str = "", is_blocked: bool = False, to_look_at: int = 0) -> None:
        """Show the sentence, and the button of what is offered where anything is."""
        self.words.setText(words)
        self.look.setVisible(to_look_at > 0)
        self.mend.setVisible(bool(fix))
        self.mend.setText(fix or "Mend it")
        self.write.setEnabled(not is_blocked)

    def show_habit(self, words: str) -> None:
        """Say that something was chosen by a habit; nothing where nothing was."""
        self.habit.setText(words)
        self.habit.setVisible(bool(words))
        self.usual.setVisible(bool(words))

    def show_waiting(self, *, waits: bool) -> None:
        """Say that the files are written as soon as all is computed."""
        self.write.setText("Writes in a moment …" if waits else "Write")


def _counted(job: Job) -> list[Design]:
    return [design for design in job.designs if not design.is_cut_only]


def _short(name: str) -> str:
    return name if len(name) <= 14 else f"{name[:13]}…"
