"""Says at the start that a practice job was interrupted, which a crash may have ended."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, cast

from honest_edge.ui.shared.host import Host

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.files.practice_mark import LeftPractice


class PracticeOffer:
    """Looks for the mark of a window that is gone, away from this window's thread."""

    def __init__(self, host: Host, folder: Path) -> None:
        self._host, self._folder, self._task = host, folder, host.new_task()
        self._task.done.connect(lambda found: self._on_found(cast("LeftPractice | None", found)))

    def look(self) -> None:
        """Look where any practice job was ever begun."""

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> LeftPractice | None:
            from honest_edge.files.practice_mark import left_practice

            return left_practice(self._folder)

        if self._folder.is_dir():
            self._task.submit(work)

    def _on_found(self, left: LeftPractice | None) -> None:
        if left is not None:
            part = f"free/{left.seed}/{left.level}" if left.story == "free" else left.story
            self._host.say(
                f"The practice job “{left.title}” was interrupted. Practice keeps nothing in between: it begins anew.",
                actions=[("Begin it again", lambda: self._host.go_to(f"practice:{part}"))],
            )
