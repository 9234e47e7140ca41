"""The colours of the window, by what they are for; every colour of it comes from here."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

ThemeName = Literal["light", "dark", "light-high", "dark-high"]
"""The last two have high contrast."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Tokens:
    """One theme.

    Text stands at least 4.5 to 1 on table and panel, what tells something at least 3 to 1 (WCAG 2.2, 1.4.3 and
    1.4.11); with high contrast text has 7 to 1 (1.4.6) and every rim 4.5 to 1.
    """

    table: str
    panel: str
    field: str
    ink: str
    soft: str
    hairline: str
    accent: str
    on_accent: str
    tint: str
    danger: str
    look: str
    fine: str
    sand: str
    through: str
    kiss: str
    crease: str
    perforation: str
    is_dark: bool = False
    is_high: bool = False


LIGHT = Tokens(
    table="#ECE7DC",
    panel="#FBF9F4",
    field="#FFFFFF",
    ink="#23262E",
    soft="#5C5F68",
    hairline="#D9D2C3",
    accent="#2A4FC1",
    on_accent="#FFFFFF",
    tint="#E3E8F8",
    danger="#B8321A",
    look="#8A5A00",
    fine="#2F6B3A",
    sand="#F5E9D6",
    through="#22305E",
    kiss="#8A2D6B",
    crease="#B06A00",
    perforation="#5B6B1E",
)
DARK = Tokens(
    table="#1B1D22",
    panel="#24272E",
    field="#1B1D22",
    ink="#ECE9E2",
    soft="#A9ABB2",
    hairline="#3B3F49",
    accent="#8FA8FF",
    on_accent="#14161B",
    tint="#2D3550",
    danger="#FF8A70",
    look="#E8B45A",
    fine="#8FCB97",
    sand="#3A3223",
    through="#AFC0FF",
    kiss="#E79ACB",
    crease="#F0B25A",
    perforation="#C3D27A",
    is_dark=True,
)
LIGHT_HIGH = Tokens(
    table="#E4E4E4",
    panel="#FFFFFF",
    field="#FFFFFF",
    ink="#000000",
    soft="#2E3138",
    hairline="#5A5D65",
    accent="#0B2A8F",
    on_accent="#FFFFFF",
    tint="#DCE4FF",
    danger="#8F1D0A",
    look="#5E3B00",
    fine="#15491F",
    sand="#F7F0DF",
    through="#14204A",
    kiss="#6A1850",
    crease="#7A4600",
    perforation="#3D4A0E",
    is_high=True,
)
DARK_HIGH = Tokens(
    table="#1A1A1A",
    panel="#000000",
    field="#000000",
    ink="#FFFFFF",
    soft="#D6D8DE",
    hairline="#9A9EA8",
    accent="#A9BEFF",
    on_accent="#000000",
    tint="#1E2A55",
    danger="#FFA08A",
    look="#FFD083",
    fine="#A9E6B2",
    sand="#2A2417",
    through="#C9D5FF",
    kiss="#F5B9DD",
    crease="#FFCC80",
    perforation="#DDEB9A",
    is_dark=True,
    is_high=True,
)
THEMES: dict[ThemeName, Tokens] = {"light": LIGHT, "dark": DARK, "light-high": LIGHT_HIGH, "dark-high": DARK_HIGH}

PAPER_TOKENS = LIGHT
"""Lines on paper keep the light theme's colours: paper stays white in the dark theme."""
