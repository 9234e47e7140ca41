"""The bare window that stands at once; the work is loaded into it right after its first picture."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, QTimer
from PyQt6.QtGui import QCloseEvent, QColor, QGuiApplication, QPainter, QPaintEvent
from PyQt6.QtWidgets import QMainWindow

if TYPE_CHECKING:
    from honest_edge.ui.shell.main_window import MainWindow

GROUND = {"light": "#ECE7DC", "dark": "#1B1D22", "light-high": "#E4E4E4", "dark-high": "#1A1A1A"}
"""The table's colour in each theme (``Tokens.table``), known before the theme is loaded."""


def ground(choice: str) -> str:
    """Return the table's colour that a choice of theme means now.

    The system's palette tells whether it is dark; to ask for its colour scheme or its contrast loads all names of
    ``Qt``, a fifth of the time till here.
    """
    is_dark = QGuiApplication.palette().window().color().lightness() < 128
    return GROUND[("dark" if is_dark else "light") if choice == "system" else choice]


_WANTED = QSize(1280, 800)
_AROUND = QSize(4, 44)  # a title bar and borders, which are not known before the window stands


def opening_size(screen: QSize) -> QSize:
    """Return how large the window opens, so that all of it lies on the screen."""
    return _WANTED.boundedTo(screen - _AROUND)


class Frame(QMainWindow):
    """The top-level window: holds the main window as its only content."""

    def __init__(self, ground: str) -> None:
        super().__init__()
        self.content: MainWindow | None = None
        self._ground = ground
        self._load: Callable[[], None] | None = None
        self.setWindowTitle("Honest Edge")
        screen = QGuiApplication.primaryScreen()
        self.resize(_WANTED if screen is None else opening_size(screen.availableSize()))

    def fill(self, make: Callable[[], MainWindow], then: Callable[[MainWindow], object]) -> None:
        """Load the content once the frame has been painted, then call ``then`` with it."""

        def load() -> None:
            content = make()
            self.content = content
            self.setMinimumSize(content.minimumSize())
            self.setWindowTitle(content.windowTitle())
            content.windowTitleChanged.connect(self.setWindowTitle)
            self.setCentralWidget(content)
            content.start.take_focus()
            then(content)

        self._load = load

    def paintEvent(self, event: QPaintEvent | None) -> None:
        QPainter(self).fillRect(self.rect(), QColor(self._ground))
        if self._load is not None:
            QTimer.singleShot(0, self._load)
            self._load = None

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if self.content is not None and event is not None:
            self.content.closeEvent(event)
