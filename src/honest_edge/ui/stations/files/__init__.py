"""Files: Ready to write?"""

from __future__ import annotations

from operator import methodcaller
from typing import TYPE_CHECKING

from honest_edge.ui.shared.contract import Command, StationEntry

if TYPE_CHECKING:
    from honest_edge.ui.shared.host import Host
    from honest_edge.ui.stations.files.station import FilesStation


def _create(host: Host) -> FilesStation:
    from honest_edge.ui.stations.files.station import FilesStation

    return FilesStation(host, ENTRY.question)


ENTRY = StationEntry(
    key="files",
    title="Files",
    question="Ready to write?",
    brief="ready to write?",
    create=_create,
    needs=("honest_edge.app.output.prepare_files",),
    commands=(
        Command(name="Write files…", key="Ctrl+E", act=methodcaller("write")),
        Command(name="Print…", key="Ctrl+P", act=methodcaller("print")),
        Command(name="I cut this…", act=methodcaller("keep_outcome")),
    ),
    guide="Here the files are written; most people keep a folder for each job, and print at 100 %.",
    usual_words="Write the files…",
)
