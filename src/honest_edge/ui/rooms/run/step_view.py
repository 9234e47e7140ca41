"""One step, large enough to be read from the cutter: title, drawing, numbers, one button."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from honest_edge.ui.rooms.run.asking import Asking
from honest_edge.ui.rooms.run.keeper import RunKeeper
from honest_edge.ui.rooms.run.page import StepPage, Way
from honest_edge.ui.rooms.run.sheet_drawing import SheetDrawing, SheetPicture
from honest_edge.ui.shared.folder_links import FolderLinks
from honest_edge.ui.widgets.fields import greyed, label, restyle
from honest_edge.ui.widgets.layouts import column_of, scrolled
from honest_edge.ui.widgets.local import Label
from honest_edge.ui.widgets.theme import eased_px, px, tabular
from honest_edge.ui.widgets.tokens import Tokens

_SIDE_PX, _LOW_PX = 284, 560
_SMALL_FIGURES = 9  # letters from which a number is written smaller


_ARROWS = (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down)


class BigButton(QPushButton):
    """A button with the key that presses it below."""

    def __init__(self, *, filled: bool) -> None:
        super().__init__()
        self.setProperty("filled", filled)
        self.setProperty("big", True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMinimumHeight(eased_px(56 if filled else 34))
        self._act: Callable[[], object] = lambda: None
        self.clicked.connect(lambda _checked: self._act())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows are not for walking from button to button here: a page may move something by them."""
        if event is not None and event.key() in _ARROWS:
            event.ignore()
        else:
            super().keyPressEvent(event)

    def show_way(self, way: Way | None) -> None:
        """Show a way on; hidden where there is none."""
        self.setVisible(way is not None)
        if way is not None:
            self.setText(way.words.replace("&", "&&"))
            greyed(self, way.waits_for)
            self._act = way.act


class StepView(QWidget):
    """Shows a page; Space goes on, Escape stops."""

    def __init__(self, keeper: RunKeeper, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        self.setObjectName("runStep")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._keeper = keeper
        self.page: StepPage | None = None
        self.title = Label()
        self.title.setWordWrap(True)
        self.title.setObjectName("stepTitle")
        self.title.setAccessibleName("Step")
        self.under = label("")
        self.under.setObjectName("stepUnder")
        self.drawing = SheetDrawing(tokens)
        self.drawing.tapped.connect(self._on_tapped)
        self.drawing.mark_tapped.connect(self._on_mark)
        self.figures = QWidget()
        self._figures = QVBoxLayout(self.figures)
        self._figures.setContentsMargins(0, 0, 0, 0)
        self._figures.setSpacing(px(2))
        self.links = FolderLinks(keeper.run_folder)
        self.asking = Asking(keeper)
        self.primary, self.stop = BigButton(filled=True), BigButton(filled=False)
        self.stop.setProperty("stops", True)
        self.space, self.escape = label("Space", "soft"), label("Esc", "soft")
        for hint in (self.space, self.escape):
            hint.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        self.ways = [BigButton(filled=False) for _ in range(8)]
        self._lay_out()

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(px(20), px(18), px(16), px(12))
        column.setSpacing(px(6))
        column.addWidget(self.title)
        column.addWidget(self.under)
        across = QHBoxLayout()
        across.setSpacing(px(14))
        across.addWidget(self.drawing, 1)
        self.side = QWidget()
        self.side.setFixedWidth(eased_px(_SIDE_PX))
        side = QVBoxLayout(self.side)
        side.setContentsMargins(0, px(10), 0, 0)
        side.setSpacing(px(6))
        asked = QWidget()
        asked.setLayout(above := column_of(self.figures, self.links, self.asking))
        above.setSpacing(px(6))
        above.addStretch(1)
        side.addWidget(scrolled(asked), 1)
        side.addWidget(self.primary)
        side.addWidget(self.space)
        for way in self.ways:
            side.addWidget(way)
        side.addWidget(self.stop)
        side.addWidget(self.escape)
        across.addWidget(self.side)
        column.addLayout(across, 1)

    def show_page(self, page: StepPage, picture: SheetPicture | None, count: int) -> None:
        """Show a page.

        Args:
            page: what it says.
            picture: the drawing.
            count: how many marks or sheets are asked about.
        """
        had_keys = self._has_keys()  # a button that is hidden now gives them to whatever comes next
        is_other = self.page is None or (self.page.title, self.page.asks) != (page.title, page.asks)
        self.page = page
        self.title.setText(page.title)
        self.under.setText(page.under)
        self._show_figures(page.figures)
        self.links.setVisible(page.has_files)
        self.asking.show_asks(page.asks, count)
        self.primary.show_way(page.primary)
        shown = (*page.ways, *[None] * (len(self.ways) - len(page.ways)))
        for way_button, way in zip(self.ways, shown, strict=True):
            way_button.show_way(way)
        self.stop.show_way(page.stop)
        is_told_twice = page.stop is not None and page.primary is not None and page.stop.words == page.primary.words
        self.stop.setVisible(page.stop is not None and not is_told_twice)
        restyle(self.stop, "stops", page.stop is not None and page.stop.words.startswith("Stop"))
        self.drawing.show_picture(picture)
        if had_keys and (is_other or page.asks == "jog" or not self._has_keys()):
            self.take_focus()
        elif any(way_button.hasFocus() for way_button in self.ways) and self.primary.isEnabled():
            self.primary.setFocus()  # what a way was pressed for is there: the next press goes on

    def _has_keys(self) -> bool:
        """Whether the keys are anywhere in this view, or nowhere."""
        window = self.window()
        here = None if window is None else window.focusWidget()
        return here is None or self.isAncestorOf(here) or here is self

    def take_focus(self) -> None:
        """Put the keys where the step begins: into the first field, else on the button that goes on."""
        first = self.asking.first()
        is_moved_by_keys = self.page is not None and self.page.asks == "jog"
        if first is None and (is_moved_by_keys or not self.primary.isEnabled()):
            self.setFocus()  # a button that cannot be pressed yet takes no keys
        else:
            (first or self.primary).setFocus()

    def _show_figures(self, figures: tuple[tuple[str, str], ...]) -> None:
        while self._figures.count() > 2 * len(figures):
            item = self._figures.takeAt(self._figures.count() - 1)
            if item is not None and (gone := item.widget()) is not None:
                gone.hide()
                gone.deleteLater()
        for number, (caption, value) in enumerate(figures):
            if self._figures.count() <= 2 * number:
                self._figures.addWidget(label("", "soft"))
                number_label = Label()
                number_label.setFont(tabular(40))
                self._figures.addWidget(number_label)
            for at, text in ((2 * number, caption), (2 * number + 1, value)):
                item = self._figures.itemAt(at)
                widget = None if item is None else item.widget()
                if isinstance(widget, QLabel):
                    widget.setText(text)
        self._arrange()

    def _arrange(self) -> None:
        """Where there is little room, write numbers smaller, leave out what is drawn too, and the names of keys."""
        page, is_low = self.page, self.height() < px(_LOW_PX)
        if page is None:
            return
        self.figures.setVisible(bool(page.figures) and not (page.asks == "ruler" and is_low))
        self.space.setVisible(page.primary is not None and not is_low)
        self.escape.setVisible(not self.stop.isHidden() and not is_low)
        is_long = any(len(value) >= _SMALL_FIGURES for _, value in page.figures)
        for number in range(len(page.figures)):
            item = self._figures.itemAt(2 * number + 1)
            widget = None if item is None else item.widget()
            if widget is not None:
                restyle(widget, "figure", "long" if is_low or is_long else "large")

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._arrange()

    def _on_tapped(self, copy: int) -> None:
        draft = self._keeper.draft
        if self.page is not None and self.page.asks == "some":
            draft.chosen ^= {copy}
        else:
            draft.tap(copy)
        self._keeper.changed.emit()

    def _on_mark(self, mark: int) -> None:
        self._keeper.draft.found ^= {mark}
        self._keeper.changed.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space goes on wherever the keys are, unless they are on another button; Escape stops."""
        if event is None or event.isAutoRepeat():
            return
        if self.page is not None and self.page.asks == "jog" and self._keeper.machine.take_key(event.key()):
            return
        if event.key() == Qt.Key.Key_Space and self.primary.isVisible():
            self.primary.click()
        elif event.key() == Qt.Key.Key_Escape and self.page is not None and self.page.stop is not None:
            self.page.stop.act()
        else:
            super().keyPressEvent(event)
