"""Where the fonts that ship lie: those of the window, and some for lettering."""

from pathlib import Path

FONT_FOLDER = Path(__file__).with_name("fonts")
WINDOW_FONTS = "Atkinson*.ttf"
