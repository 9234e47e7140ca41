"""What a station sees of the rest of the window."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Protocol

if TYPE_CHECKING:
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.core.values.findings import Finding
    from honest_edge.core.values.job import Job
    from honest_edge.files.prefs import Prefs
    from honest_edge.files.profiles import ProfileFolder
    from honest_edge.ui.shared.habit_keeper import HabitKeeper
    from honest_edge.ui.shared.tasks import LatestOnly, WriteQueue
    from honest_edge.ui.shared.workspace import Workspace
    from honest_edge.ui.table.light_table import LightTable
    from honest_edge.ui.widgets.tokens import Tokens

MessageAction = tuple[str, Callable[[], object]]
"""A way on from a message: what its button says, and what it does."""


class Host(Protocol):
    """What a station sees of the window that it stands in."""

    @property
    def workspace(self) -> Workspace:
        """The job, what is known of it, and what is in hand."""

    @property
    def table(self) -> LightTable:
        """Where stations draw."""

    @property
    def tokens(self) -> Tokens:
        """The theme's colours."""

    @property
    def prefs(self) -> Prefs:
        """The user's choices."""

    @property
    def profiles(self) -> ProfileFolder:
        """The user's machines, printers and stocks."""

    @property
    def habits(self) -> HabitKeeper:
        """What the user does again and again."""

    def set_prefs(self, prefs: Prefs) -> None:
        """Take and remember choices."""

    def say(self, text: str, *, tone: str = "", actions: Sequence[MessageAction] = ()) -> None:
        """Show one calm line, with at most two ways on."""

    def unsay(self) -> None:
        """Hide what was said: what it was about is over."""

    def go_to(self, station: str) -> None:
        """Visit a station, or a room of the workshop."""

    def take(self, key: str) -> None:
        """Take a design in hand."""

    def refresh(self) -> None:
        """Show the station in hand anew: its panel, and on the table what of it changed."""

    def redraw(self, *, refit: bool = False) -> None:
        """Draw the station in hand anew, though nothing that it named changed; ``refit`` shows all of it."""

    def new_task(self) -> LatestOnly:
        """Return a kind of work off the interface's thread; the window waits for it and calls it off at its end."""

    def pipeline(self) -> Pipeline:
        """Return what computes results; loaded when it is first asked for, so ask from a task."""

    def make_again(self, job: Job, assets: dict[str, bytes]) -> None:
        """Open a job that was made before, as one that is not saved yet."""

    def practise(self, job: Job, assets: dict[str, bytes]) -> bool:
        """Open a practice job, of which nothing is kept; return whether the job in hand could be left."""

    def end_practice(self) -> None:
        """Close a practice job, if one is open."""

    def show_help(self, topic: str) -> None:
        """Show a page of the handbook."""

    @property
    def writes(self) -> WriteQueue:
        """What is kept, one thing after the other."""

    def desk(self) -> Callable[[], BookDesk]:
        """Bind the Book of the job in hand, in the window's thread; what is returned opens it, in a task."""

    def bench_changed(self) -> None:
        """Tell that the Book knows something else of a bench."""

    def show_known(self, findings: tuple[Finding, ...]) -> None:
        """Show what the bench and the Book say against the job."""

    def preview_shown(self) -> None:
        """Tell that a first look stands on the table."""
