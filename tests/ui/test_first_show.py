"""Nothing but the window itself is shown as a window while it and its places are built."""

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QApplication, QMenu, QWidget


class Watcher(QObject):
    def __init__(self):
        super().__init__()
        self.seen = []

    def eventFilter(self, watched, event):
        if event.type() == QEvent.Type.Show and isinstance(watched, QWidget) and watched.isWindow():
            self.seen.append(watched)
        return False


def test_no_part_flashes_up_by_itself(make_window, settle):
    watcher = Watcher()
    application = QApplication.instance()
    application.installEventFilter(watcher)
    try:
        window = make_window()
        for entry in (*window.stations.entries, *window.workshop.entries):
            window.go_to(entry.key)
            settle(window)
            for part in getattr(entry, "parts", ()):
                window.go_to(f"{entry.key}:{part}")
                settle(window)
        window.start.show()
        window.workshop["practice"].begin_free(1, 1)
        settle(window)
    finally:
        application.removeEventFilter(watcher)
    assert [one for one in watcher.seen if one is not window and not isinstance(one, QMenu)] == []
