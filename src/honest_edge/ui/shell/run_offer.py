"""Says at the start that a run was left, which a kill or a power cut may have ended."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from honest_edge.files.book.place import book_path
from honest_edge.ui.shared.host import Host

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress


class RunOffer:
    """Looks for a run that nobody has in hand, away from the window's thread."""

    def __init__(self, host: Host) -> None:
        self._host, self._task = host, host.new_task()
        self._task.done.connect(lambda found: self._on_found(*cast("tuple[str, str]", found)))

    def look(self) -> None:
        """Look where any run is kept at all."""

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[str, str]:
            from honest_edge.files.runs.journal import left_runs, runs_folder

            left = [run for run in left_runs(runs_folder())[0] if not (run.has_ended or run.is_taken)]
            own = (run for run in left if not run.seal.is_practice)
            return next(((run.seal.title, run.folder.name) for run in own), ("", ""))

        if (book_path().parent / "runs").is_dir():
            self._task.submit(work)

    def _on_found(self, title: str, run: str) -> None:
        if run:
            self._host.say(
                f"A run of “{title}” was left in the middle. It goes on exactly there.",
                actions=[("Go on with it", lambda: self._host.go_to(f"run:{run}"))],
            )
