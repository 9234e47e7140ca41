"""Settings in words, as they stand on a card and are typed: "force 84, 40 mm/s, 2 passes"."""

from __future__ import annotations

import re

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.recipe import CutSetting
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.units import MM_PER_INCH

_NUMBER = r"(\d+(?:[.,]\d+)?)"
_PARTS: tuple[tuple[str, re.Pattern[str]], ...] = (
    ("slow_mm_s", re.compile(rf"(?:at narrow places|narrow)\s+{_NUMBER}(?:\s*(?:mm|in)/s)?", re.IGNORECASE)),
    ("force", re.compile(rf"force\s+{_NUMBER}", re.IGNORECASE)),
    ("depth", re.compile(rf"(?:depth|blade)\s+{_NUMBER}", re.IGNORECASE)),
    ("speed_mm_s", re.compile(rf"(?:speed\s+)?{_NUMBER}\s*(?:mm|in)/s|speed\s+{_NUMBER}", re.IGNORECASE)),
    ("passes", re.compile(r"(\d+)\s+pass(?:es)?|(\d+)\s+times", re.IGNORECASE)),
)


def setting_words(setting: CutSetting) -> str:
    """Return what is set, as it is read out and typed; "" where nothing is."""
    passes = setting.passes
    parts = (
        f"“{setting.named}”" if setting.named else "",
        "" if setting.force is None else f"force {setting.force:g}",
        "" if setting.depth is None else f"depth {setting.depth:g}",
        "" if setting.speed_mm_s is None else f"{setting.speed_mm_s:g} mm/s",
        "" if setting.slow_mm_s is None else f"at narrow places {setting.slow_mm_s:g} mm/s",
        "" if passes is None else f"{passes} {'pass' if passes == 1 else 'passes'}",
    )
    return ", ".join(part for part in parts if part)


def setting_of(text: str) -> CutSetting:
    """Return what a text sets: numbers by their words, and what is left over as the name of a kept setting.

    Raises:
        UsageError: a value is impossible, or is told twice.
    """
    values: dict[str, float | int | str] = {}
    names: list[str] = []
    for part in filter(None, (part.strip() for part in re.split(r"[,;](?!\d)", text))):
        for name, pattern in _PARTS:
            match = pattern.fullmatch(part)
            if match is not None:
                if name in values:
                    raise UsageError(f"“{text.strip()[:60]}” says twice what one thing is set to")
                number = float(next(group for group in match.groups() if group is not None).replace(",", "."))
                number *= MM_PER_INCH if part.lower().endswith("in/s") else 1
                values[name] = int(number) if name == "passes" else number
                break
        else:
            names.append(part.strip("“”\"' "))
    return CutSetting(named=", ".join(name for name in names if name), **values)  # type: ignore[arg-type]


def settings_of(text: str, kinds: tuple[LineKind, ...]) -> dict[LineKind, CutSetting]:
    """Return what a run was set to, by kind of line, from the words that the Book keeps of it.

    Args:
        text: one part a pass, "kiss: force 84; kiss, through: kiss force 84, through force 140".
        kinds: every kind of line.

    Raises:
        UsageError: as for ``setting_of``.
    """
    settings: dict[LineKind, CutSetting] = {}
    for part in text.split(";"):
        name, colon, words = part.partition(":")
        passed = [kind for kind in kinds if kind in name] if colon else []
        if len(passed) == 1:
            settings[passed[0]] = setting_of(words)
            continue
        for kind in passed:  # several kinds in one pass: each with its own words
            own = re.search(rf"\b{kind}\b(.*?)(?=\b(?:{'|'.join(kinds)})\b|$)", words)
            if own is not None and own.group(1).strip(" ,"):
                settings[kind] = setting_of(own.group(1).strip(" ,"))
    return {kind: setting for kind, setting in settings.items() if not setting.says_nothing}
