"""What can go wrong with a simulated cutter; told without loading it."""

from __future__ import annotations

FAULTS: dict[str, str] = {
    "silent": "answers nothing at all",
    "late": "answers half a second late",
    "nonsense": "answers what no controller says",
    "alarm": "says that something is wrong",
    "jam": "stops, and answers nothing any more",
    "paused": "waits, its own button pressed, until it was asked three times how it is",
    "lid": "waits, its lid open, until it was asked three times how it is",
    "lost": "loses steps: all after that lies 0.5 mm beside",
    "unplugged": "is gone",
}
"""What can go wrong after a number of strokes, and what it does then."""
