"""Art: finished size, sharpness, what the file said about itself."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QSignalBlocker, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QLineEdit, QVBoxLayout

from honest_edge.core.proof.register import ASLANT, CUT_LINES, CUT_OUT, SHADED, of_checks
from honest_edge.core.values.comparison import COMPARISONS, Comparison, typed_comparison
from honest_edge.core.values.specs import CRISP_PPI
from honest_edge.ui.shared.copies import CopiesRows
from honest_edge.ui.shared.finding_list import FindingList
from honest_edge.ui.shared.fold import Fold
from honest_edge.ui.shared.name_field import NameField
from honest_edge.ui.shared.panel import Panel
from honest_edge.ui.stations.art.corners_card import CornersCard
from honest_edge.ui.stations.art.pages_card import PagesCard
from honest_edge.ui.stations.art.size_fields import SizeFields
from honest_edge.ui.widgets.fields import (
    Choice,
    Form,
    button,
    card,
    label,
    set_tone,
)
from honest_edge.ui.widgets.typed import Count

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.core.imaging.upright import Corners
    from honest_edge.core.values.artwork import Artwork
    from honest_edge.core.values.job import Design

_TYPED = "typed"
_PAPERS = (("kept", "as it is"), ("white", "white"), ("strong", "white, drawing stronger"))


class ArtPanel(Panel):
    """Is it the right size, and sharp?"""

    topic = "art"
    habit = "size"

    split_wanted = pyqtSignal()
    """Each drawing of the picture is to be a design by itself."""
    layers_wanted = pyqtSignal()
    """The picture is to be the first of several layers."""
    apart_wanted = pyqtSignal()
    """Each layer of the file is to be a layer."""
    each_wanted = pyqtSignal(int)
    """Each page of the file, of so many, is to be a design."""

    def build(self) -> None:
        """Add the cards."""
        self.comparison: Comparison | None = None
        """What the art is held against on the table."""
        form = Form()
        self.name = NameField(self.workspace)
        form.add("Name", self.name)
        self.sizes = SizeFields(self.host, form)
        self.copies = CopiesRows(self.workspace, form)
        self.page = Count("Page", 1, 10_000)
        self.page.committed.connect(lambda page: self._set_source("page", page=page))
        self.page_row = form.add("Page", self.page, "Which page of the file")
        self.paper = Choice("Paper of the drawing", _PAPERS)
        self.paper.chosen.connect(lambda paper: self._set_source("paper of the drawing", paper=paper))
        self.paper_row = form.add("Its paper", self.paper, "Shade and grain of the paper can be taken away")
        self.column.addWidget(form)
        self.white = button("Make the paper white", lambda: self._set_source("white paper", paper="white"), filled=True)
        self.white.setToolTip("The light on the paper is divided out; what is drawn on it stays")
        self.column.addWidget(self.white)
        self.corners = CornersCard(self.host, self._set_corners)
        self.column.addWidget(self.corners)
        self.sharp = label("", "fine")
        self.column.addWidget(self.sharp)
        self.cut_out = button(CUT_OUT, self._cut_out, filled=True)
        self.cut_out.setToolTip("Without its ground: a loop round it, and some strokes, say what it is")
        self.column.addWidget(self.cut_out)
        self._build_file()
        self._build_comparison()
        self.to_layers = button("Add words, shapes or pictures", self.layers_wanted.emit)
        self.to_layers.setToolTip("Makes this picture the first of several layers")
        self.column.addWidget(self.to_layers)
        self._build_statements()

    def _build_file(self) -> None:
        """Add what the file brings: pages, lines that mean a cut, layers, several drawings."""
        self.pages = PagesCard(self.host, lambda page: self._set_source("page", page=page), self.each_wanted.emit)
        self.column.addWidget(self.pages)
        self.cut_lines = FindingList(self.host, links=False)
        self.column.addWidget(self.cut_lines)
        self.layers_card, layers_inside = card(topic="layers")
        layers_inside.addWidget(label("Layers of the file", "heading"))
        self.layers = QVBoxLayout()
        layers_inside.addLayout(self.layers)
        self.layer_ticks: list[QCheckBox] = []
        self.take_apart = button("Make each a layer of its own", self.apart_wanted.emit)
        self.take_apart.setToolTip("Each can then be given a colour, filled, moved or cut from other stock")
        layers_inside.addWidget(self.take_apart)
        self.column.addWidget(self.layers_card)
        self.split_card, inside = card(topic="art")
        self.split_words = label()
        inside.addWidget(self.split_words)
        self.split = button("Split", self.split_wanted.emit)
        inside.addWidget(self.split)
        self.column.addWidget(self.split_card)

    def _build_statements(self) -> None:
        """Add what the file says of itself, and what it does not."""
        self.stated_card = Fold(self.host, "What the file says", topic="sharpness", begins_open=True)
        self.file_name, self.pixels, self.stated, self.notes = (
            label(),
            label("", "soft"),
            label("", "soft"),
            label("", "soft"),
        )
        for line in (self.file_name, self.pixels, self.stated, self.notes):
            self.stated_card.inside.addWidget(line)
        self.column.addWidget(self.stated_card)
        self.sand, inside = card("sand", topic="sharpness")
        inside.addWidget(label("Assumed, not stated", "look"))
        inside.addWidget(
            label("The file names no size, so 300 ppi was taken. Hold a ruler to where it will go and type the width.")
        )
        self.column.addWidget(self.sand)

    def _build_comparison(self) -> None:
        fold = Fold(self.host, "Compare its size with", topic="art")
        options = (("", "nothing"), *((c.name, c.name) for c in COMPARISONS), (_TYPED, "typed size"))
        self.compare = Choice("Compare its size with", options)
        self.compare.chosen.connect(self._compare)
        self.compare_size = QLineEdit()
        self.compare_size.setAccessibleName("Size to compare with")
        self.compare_size.setPlaceholderText("63 mm, or 2 x 3 in")
        self.compare_size.editingFinished.connect(lambda: self._compare(_TYPED))
        self.compare_size.hide()
        self.ruler = QCheckBox("Lay a ruler on the table")
        self.ruler.setToolTip("Drag it where you need it")
        self.ruler.toggled.connect(lambda _on: self.host.redraw())
        for widget in (self.compare, self.compare_size, self.ruler):
            fold.inside.addWidget(widget)
        self.column.addWidget(fold)

    def _compare(self, name: str) -> None:
        self.compare_size.setVisible(name == _TYPED)
        known = {c.name: c for c in COMPARISONS}
        if name != _TYPED:
            self.comparison = known.get(name)
        elif self.compare_size.text().strip():
            typed = self.workspace.build(lambda: typed_comparison(self.compare_size.text(), self.workspace.unit))
            if typed is None:
                return
            self.comparison = typed
        self.host.redraw()

    def _set_source(self, words: str, **changes: Any) -> None:
        design = self.workspace.design
        if design is not None:
            source = self.workspace.build(lambda: replace(design.source, **changes))
            if source is not None:
                self.workspace.edit_design(words, source=source)

    def _show_file(self, design: Design, art: Artwork) -> None:
        """Show what of the file is used: its page and its layers."""
        self.page_row.setVisible(art.page_count > 1)
        self.page.setMaximum(max(1, art.page_count))
        self.page.show_value(design.source.page)
        self.pages.show_pages(design, art.page_count)
        self.layers_card.setVisible(bool(art.layers))
        if [tick.text() for tick in self.layer_ticks] != list(reversed(art.layers)):
            for old in self.layer_ticks:
                self.layers.removeWidget(old)
                old.setParent(None)
                old.deleteLater()
            self.layer_ticks = [self._layer(index, name) for index, name in reversed(list(enumerate(art.layers)))]
        for index, tick in enumerate(reversed(self.layer_ticks)):
            with QSignalBlocker(tick):
                tick.setChecked(index not in design.source.hidden_layers)

    def _layer(self, index: int, name: str) -> QCheckBox:
        tick = QCheckBox(name)
        tick.clicked.connect(lambda on: self._show_layer(index, on))
        self.layers.addWidget(tick)
        return tick

    def _cut_out(self) -> None:
        design = self.workspace.design
        if design is not None:
            self.workspace.edit_outline("cut out the subject", replace(design.outline, background="subject"))
            self.host.go_to("outline")

    def _show_layer(self, index: int, on: bool) -> None:
        design = self.workspace.design
        if design is not None:
            hidden = {*design.source.hidden_layers, index} - ({index} if on else set())
            self._set_source("layers", hidden_layers=tuple(sorted(hidden)))

    def _set_corners(self, corners: Corners | None) -> None:
        from honest_edge.app.edits.page_upright import as_photographed, with_corners

        design, result = self.workspace.design, self.workspace.result
        if design is None or result is None:
            return
        widths_mm = self.corners.widths_mm
        if corners is None:
            self.workspace.replace_design(as_photographed(design, widths_mm.get(design.key)), "page as photographed")
            return
        edited = self.workspace.build(lambda: with_corners(design, result.artwork, corners))
        if edited is not None:
            widths_mm[design.key] = design.width_mm
            self.workspace.replace_design(edited, "page upright")

    def _show_corners(self, design: Design | None, result: DesignResult | None, *, may_be: bool) -> None:
        said = of_checks(result.findings, ASLANT) if result is not None else ()
        fix = said[0].fix if said else None
        is_photograph = result is not None and result.subject.looks_like == "photograph"
        self.cut_out.setVisible(is_photograph and fix is None)  # a page is set upright first
        corners = fix.source.corners if fix and fix.source else None
        is_known = result is not None and design is not None and result.design.source == design.source
        self.corners.show_page(design, corners, may_be=may_be, is_known=is_known)

    def _show_split(self, result: DesignResult) -> None:
        drawings = len(result.cut.area.geoms)
        self.split_card.setVisible(drawings > 1)
        self.split_words.setText(f"This picture holds {drawings} separate drawings at the present offset.")
        self.split.setText(f"Split into {drawings} designs")

    def refresh(self) -> None:
        """Show the design in hand."""
        design, result = self.workspace.design, self.workspace.result
        self.setEnabled(design is not None)
        self.sand.setVisible(False)
        self.stated_card.setVisible(result is not None)
        self.to_layers.setEnabled(result is not None)
        for widget in (self.page_row, self.pages, self.layers_card, self.split_card):
            widget.setVisible(False)
        is_shaded = result is not None and any(of_checks(result.findings, SHADED))
        paper = "kept" if design is None else design.source.paper
        self.white.setVisible(is_shaded and paper == "kept")
        self.paper_row.setVisible(is_shaded or paper != "kept")
        self.paper.show_value(paper)
        cut_lines = of_checks(result.findings, CUT_LINES) if result is not None else ()
        self.cut_lines.show_findings([(finding.message, finding) for finding in cut_lines])
        is_photograph = result is not None and result.subject.looks_like == "photograph"
        self._show_corners(design, result, may_be=is_photograph or is_shaded)
        if design is not None:
            self.name.show_design(design)
            self.copies.show_design(design)
        self.sizes.show(result)
        if result is None or design is None:
            self.show_missing()
            self.sharp.setText("")
            return
        self._show_size(result)
        self._show_sharpness(result)
        self._show_file(design, result.artwork)
        self._show_split(result)
        self._show_statements(design, result.artwork)

    def _show_size(self, result: DesignResult) -> None:
        self.answer.setText(f"{result.ppi:.0f} ppi")
        self.under.setText(f"cut at {self.workspace.size(result.cut_size_mm)}")

    def _show_sharpness(self, result: DesignResult) -> None:
        if result.artwork.stays_crisp:
            set_tone(self.sharp, "fine")
            self.sharp.setText("A drawing: it stays crisp at every size.")
            return
        crisp = result.ppi >= CRISP_PPI - 0.5
        set_tone(self.sharp, "fine" if crisp else "look")
        crisp_to = self.workspace.length(result.art_size_mm[0] * result.ppi / CRISP_PPI)
        word = "Crisp" if crisp else "Will look soft"
        self.sharp.setText(f"{word}: up to {crisp_to} of art it stays at {CRISP_PPI:.0f} ppi or more.")

    def _show_statements(self, design: Design, art: Artwork) -> None:
        """Show what the file says of itself."""
        self.file_name.setText(design.file_name)
        drawn = "drawn as " if art.is_vector else ""
        self.pixels.setText(f"{drawn}{art.width_px} × {art.height_px} px")
        is_assumed = art.size_source == "assumed"
        if is_assumed:
            wide = self.workspace.length(art.stated_width_mm)
            self.stated.setText(f"no size stated; {wide} wide at 300 ppi")
        else:
            said = [f"{source}: {self._meaning(art, ppi)}" for source, ppi in art.statements]
            taken = f"\nThey differ; {art.size_source} was taken." if art.has_conflict else ""
            self.stated.setText("\n".join(said) + taken)
        set_tone(self.stated, "look" if art.has_conflict else "soft")
        self.notes.setText("\n".join(art.notes))
        self.notes.setVisible(bool(art.notes))
        self.sand.setVisible(is_assumed and abs(design.width_mm - art.stated_width_mm) < 1e-6)

    def _meaning(self, art: Artwork, ppi: float) -> str:
        width = f"{self.workspace.length(art.width_px / ppi * 25.4)} wide"
        return width if art.is_vector else f"{ppi:.0f} ppi, so {width}"
