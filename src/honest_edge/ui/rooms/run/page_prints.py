"""Sheets as they were printed, drawn from the sealed print file away from the window's thread."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QImage

from honest_edge.ui.shared.host import Host

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.app.run.conductor import Conductor

_PPI = 110.0
_Key = tuple[str, int]


class PagePrints(QObject):
    """Keeps the pictures of one run's pages."""

    def __init__(self, host: Host, made: Callable[[], object]) -> None:
        """Take what is told when a picture is there."""
        super().__init__()
        self._made = made
        self._task = host.new_task()
        self._task.done.connect(lambda found: self._on_made(*cast("tuple[_Key, QImage]", found)))
        self._task.failed.connect(lambda words: host.say(words, tone="danger"))
        self._pictures: dict[_Key, QImage] = {}
        self._wanted: _Key | None = None

    def of(self, conductor: Conductor, page: int) -> QImage | None:
        """Return a page; where it is not there yet it is made, and told a moment later."""
        key = conductor.seal.run, page
        if key in self._pictures:
            return self._pictures[key]
        if self._wanted == key:
            return None
        self._wanted = key

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[_Key, QImage]:
            from honest_edge.files.print_png import page_pixels

            data = conductor.page_bytes(page)
            if data is None:
                return key, QImage()
            pixels = page_pixels(*data, _PPI)
            height, width = pixels.shape[:2]
            return key, QImage(pixels.tobytes(), width, height, 4 * width, QImage.Format.Format_RGB32).copy()

        self._task.submit(work)
        return None

    def _on_made(self, key: _Key, picture: QImage) -> None:
        self._pictures = {kept: one for kept, one in self._pictures.items() if kept[0] == key[0]}
        if not picture.isNull():
            self._pictures[key] = picture
        self._made()
