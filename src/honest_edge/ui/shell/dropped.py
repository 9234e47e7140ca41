"""What becomes of files that are dropped on the window or named at its start."""

from __future__ import annotations

from pathlib import Path

from honest_edge.files.file_kinds import PROJECT_SUFFIX
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shell.art_intake import ArtIntake
from honest_edge.ui.shell.job_files import JobFiles
from honest_edge.ui.shell.onto_sheet import OntoSheet
from honest_edge.ui.shell.station_shelf import StationShelf
from honest_edge.ui.shell.table_intake import TABLE_SUFFIXES, TableIntake


class Dropped:
    """Tells jobs, files for a station and pictures apart."""

    def __init__(self, host: Host, jobs: JobFiles, stations: StationShelf, intake: ArtIntake) -> None:
        self._jobs, self._stations, self._intake = jobs, stations, intake
        intake.takes = self.take
        self._onto_sheet = OntoSheet(host, intake.files_in)
        self._tables = TableIntake(host, intake.show_design)

    def take(self, paths: list[Path]) -> None:
        """Open a job, give a file to the station that takes its kind, make labels of a table, or add pictures."""
        alone = paths[0] if len(paths) == 1 else None
        station = None if alone is None else self._stations.taking(alone.suffix)
        if alone is not None and alone.suffix == PROJECT_SUFFIX:
            self._jobs.open_dropped(alone)
        elif alone is not None and station is not None:
            self._stations[station].take_file(alone)
        elif alone is not None and alone.suffix.lower() in TABLE_SUFFIXES:
            self._tables.take(alone)
        elif self._onto_sheet.is_wanted:
            self._onto_sheet.take(paths)
        else:
            self._intake.take_pictures(paths)
