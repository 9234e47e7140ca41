"""Papers: their names and standard sizes."""

from __future__ import annotations

from typing import Literal

PaperName = Literal["letter", "legal", "tabloid", "a5", "a4", "a3", "own"]

PAPER_MM: dict[PaperName, tuple[float, float]] = {
    "letter": (215.9, 279.4),  # ANSI/ASME Y14.1, size A: 8.5 x 11 in
    "legal": (215.9, 355.6),  # 8.5 x 14 in, North American office paper; from memory
    "tabloid": (279.4, 431.8),  # ANSI/ASME Y14.1, size B: 11 x 17 in
    "a5": (148.0, 210.0),  # ISO 216
    "a4": (210.0, 297.0),  # ISO 216
    "a3": (297.0, 420.0),  # ISO 216
}
PAPER_TITLE: dict[PaperName, str] = {
    "letter": "Letter",
    "legal": "Legal",
    "tabloid": "Tabloid",
    "a5": "A5",
    "a4": "A4",
    "a3": "A3",
    "own": "your own paper",
}


def is_letter(paper: PaperName) -> bool:
    """Whether who takes a paper has Letter for what goes beside the work; A4 else."""
    return paper in ("letter", "legal", "tabloid")
