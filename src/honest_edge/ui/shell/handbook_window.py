"""The handbook in a window of its own: pages at the left, a field that searches, the page."""

from __future__ import annotations

import re
from functools import partial
from typing import TYPE_CHECKING, Any

from markdown_it import MarkdownIt
from PyQt6.QtCore import QByteArray, QSize, Qt, QUrl
from PyQt6.QtGui import QImage, QKeySequence, QPainter, QShortcut, QTextDocument
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QTextBrowser, QTreeWidget, QTreeWidgetItem, QVBoxLayout

from honest_edge.app.handbook.pages_of import ORDER, drawing, found, page
from honest_edge.core.values.units import short_length
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import button, row
from honest_edge.ui.widgets.local import from_the_left
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.tokens import Tokens

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QWidget

_TOKEN = re.compile(r"@([a-z_]+)")
_TOPIC = Qt.ItemDataRole.UserRole
_SET = MarkdownIt("commonmark").enable("table")
_TABLE = '<table border="1" style="border-style: solid; border-color: {}; border-collapse: collapse; margin: 8px 0">'


class HandbookPages(QTextBrowser):
    """Shows a page; drawings take the colours of the theme, figures the user's unit."""

    def __init__(self, host: Host) -> None:
        super().__init__()
        self._host = host
        self.topic = ""
        self.setOpenLinks(False)
        self.setAccessibleName("Page of the handbook")
        self.document().setDocumentMargin(px(22))  # type: ignore[union-attr]  # a browser always has one

    def show_page(self, topic: str) -> None:
        """Show the page of a topic.

        Raises:
            KeyError: there is none.
        """
        unit = self._host.workspace.unit
        text = page(topic).filled(lambda length_mm: short_length(length_mm, unit))
        self.topic = topic
        document = self.document()
        if document is not None:
            document.setDefaultStyleSheet(_look(self._host.tokens))
        html = _SET.render(text).replace("<p><img", '<p style="line-height: 100%"><img')
        self.setHtml(html.replace("<table>", _TABLE.format(self._host.tokens.hairline)))
        self.moveCursor(self.textCursor().MoveOperation.Start)

    def loadResource(self, kind: int, name: QUrl) -> Any:
        if kind == QTextDocument.ResourceType.ImageResource.value and name.scheme() == "drawing":
            return drawn(name.path() or name.host(), self._host.tokens, self.devicePixelRatioF())
        return super().loadResource(kind, name)


def _look(tokens: Tokens) -> str:
    """Return how a page is set; Qt knows a part of CSS 2.1."""
    return f"""
    h1 {{ font-size: {px(22)}px; font-weight: 600; margin: 0 0 {px(10)}px 0; }}
    h2 {{ font-size: {px(16)}px; font-weight: 600; margin: {px(18)}px 0 {px(6)}px 0; }}
    p {{ margin: {px(8)}px 0; line-height: 135%; }}
    li {{ margin: {px(4)}px 0; line-height: 135%; }}
    td, th {{ padding: {px(6)}px {px(10)}px; }}
    th {{ color: {tokens.soft}; font-weight: 600; text-align: left; }}
    a {{ color: {tokens.accent}; text-decoration: none; }}
    """


def drawn(name: str, tokens: Tokens, ratio: float) -> QImage:
    """Return a drawing of the handbook in the colours of a theme."""
    svg = _TOKEN.sub(lambda match: getattr(tokens, match[1], match[0]), drawing(name))
    renderer = QSvgRenderer(QByteArray(svg.encode()))
    size = renderer.defaultSize() * px(100) / 100
    image = QImage(QSize(round(size.width() * ratio), round(size.height() * ratio)), QImage.Format.Format_ARGB32)
    image.fill(0)
    painter = QPainter(image)
    renderer.render(painter)
    painter.end()
    image.setDevicePixelRatio(ratio)
    return image


class HandbookWindow(QDialog):
    """Stays beside the work; links and the list walk, Alt+Left goes back."""

    def __init__(self, host: Host, parent: QWidget) -> None:
        super().__init__(parent)
        self._host = host
        self.setWindowTitle("Handbook – Honest Edge")
        self.setModal(False)
        self.resize(px(880), px(660))
        self._before: list[str] = []
        across = QHBoxLayout(self)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(0)
        left = QVBoxLayout()
        left.setContentsMargins(12, 12, 12, 12)
        left.setSpacing(8)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search the handbook")
        self.search.setAccessibleName("Search the handbook")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._on_search)
        self.search.returnPressed.connect(self._take_first)
        self.list = QTreeWidget()
        self.list.setHeaderHidden(True)
        self.list.setAccessibleName("Pages")
        self.list.setIndentation(px(14))
        self.list.currentItemChanged.connect(lambda item, _before: self._on_item(item))
        left.addWidget(self.search)
        left.addWidget(self.list, 1)
        self.back = button("Back", self.go_back)
        self.back.setToolTip("The page before (Alt+Left)")
        close = button("Close", self.close)
        for one in (self.back, close):
            one.setAutoDefault(False)  # Return in the field takes what was found
        left.addLayout(row(self.back, close))
        across.addLayout(left, 2)
        self.pages = HandbookPages(host)
        self.pages.anchorClicked.connect(self._follow)
        across.addWidget(self.pages, 5)
        for key, act in (("Alt+Left", self.go_back), ("Ctrl+F", self.search.setFocus)):
            QShortcut(QKeySequence(key), self).activated.connect(partial(act))
        self._fill()

    def show_topic(self, topic: str) -> None:
        """Show the page of a topic, and come to the front.

        Raises:
            KeyError: there is none.
        """
        self._turn_to(topic)
        self.show()
        self.raise_()
        self.activateWindow()

    def look_changed(self) -> None:
        """Show the page in the theme and the unit that are chosen now."""
        if self.pages.topic:
            self.pages.show_page(self.pages.topic)

    def go_back(self) -> None:
        """Show the page before."""
        if self._before:
            self._turn_to(self._before.pop(), is_back=True)

    def _turn_to(self, topic: str, *, is_back: bool = False) -> None:
        if self.pages.topic not in ("", topic) and not is_back:
            self._before.append(self.pages.topic)
        self.pages.show_page(topic)
        self.back.setEnabled(bool(self._before))
        self.back.setToolTip("The page before (Alt+Left)" if self._before else "No page was looked at before this one")
        self._mark(topic)

    def _follow(self, url: QUrl) -> None:
        self._turn_to(url.path() or url.host())

    # -- the list ------------------------------------------------------------------------------------

    def _fill(self) -> None:
        self.list.clear()
        for name, topics in ORDER:
            group = QTreeWidgetItem([name])
            group.setFlags(Qt.ItemFlag.ItemIsEnabled)
            self.list.addTopLevelItem(group)
            for topic in topics:
                group.addChild(self._item(topic))
        self.list.expandAll()
        self._mark(self.pages.topic)

    @staticmethod
    def _item(topic: str) -> QTreeWidgetItem:
        item = QTreeWidgetItem([from_the_left(page(topic).title)])
        item.setData(0, _TOPIC, topic)
        item.setToolTip(0, page(topic).title)
        return item

    def _mark(self, topic: str) -> None:
        self.list.blockSignals(True)
        for group in range(self.list.topLevelItemCount()):
            above = self.list.topLevelItem(group)
            for item in [above, *(above.child(n) for n in range(above.childCount()))] if above is not None else []:
                if item is not None and item.data(0, _TOPIC) == topic:
                    self.list.setCurrentItem(item)
        self.list.blockSignals(False)

    def _on_item(self, item: QTreeWidgetItem | None) -> None:
        topic = None if item is None else item.data(0, _TOPIC)
        if topic:
            self._turn_to(topic)

    def _on_search(self, words: str) -> None:
        if not words.strip():
            self._fill()
            return
        pages = found(words)
        self.list.blockSignals(True)
        self.list.clear()
        self.list.addTopLevelItems([self._item(one.topic) for one in pages])
        if not pages:
            nothing = QTreeWidgetItem(["No page has all these words"])
            nothing.setFlags(Qt.ItemFlag.NoItemFlags)
            self.list.addTopLevelItem(nothing)
        self.list.blockSignals(False)

    def _take_first(self) -> None:
        first = self.list.topLevelItem(0)
        if first is not None and first.data(0, _TOPIC):
            self._turn_to(first.data(0, _TOPIC))
