"""What the cards of the Files station ask it to do."""

from __future__ import annotations

from typing import Protocol


class FilesActs(Protocol):
    """Writing and printing."""

    def write(self) -> None:
        """Write all files into the chosen folder."""

    def print(self) -> None:
        """Send the sheets to a printer of the system."""

    def choose_folder(self) -> str:
        """Choose where files are written and remember it; return it, empty where none was chosen."""

    def keep_outcome(self) -> None:
        """Ask what came out of the cutter and keep it in the Book."""

    def call_off(self) -> None:
        """Call off what is being written or printed."""
