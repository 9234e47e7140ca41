"""Another job is opened, or begun: nothing of the one before stays behind."""

from __future__ import annotations

from typing import Any


def leave_nothing(window: Any) -> None:
    """Take away what the main window shows of the job before, let go of its run, and begin where one begins."""
    window.bar.hide()
    window.tray.clear()
    window.path_bar.show_overview(window.workspace.overview)
    if window.table.tool is not None:
        window.here.lay_tool_down()
    window.workshop.other_job()
    if window.workshop.is_on_path:
        window.go_to(window.stations.first)
