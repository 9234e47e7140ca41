"""Honest Edge turns artwork into print-then-cut stickers and says what the cut edge will look like."""

__version__ = "0.1.0"
