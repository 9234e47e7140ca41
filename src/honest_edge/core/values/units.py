"""Lengths as people type and read them; millimetres everywhere else."""

from __future__ import annotations

import math
import re
from typing import Literal

from honest_edge.core.values.errors import UsageError

Unit = Literal["mm", "in", "in fraction"]
"""Millimetres; inches with decimals; inches as fractions where they are exact, else with decimals."""

MM_PER_INCH = 25.4
"""Exact since the international yard and pound agreement of 1959."""

_FINEST_FRACTION = 32
_SMALL_IN = 0.05
_EXACT_IN = 1e-4  # a length so near a fraction is that fraction

_MM_PER_UNIT = {
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    "in": MM_PER_INCH,
    '"': MM_PER_INCH,
    "″": MM_PER_INCH,
    "pt": MM_PER_INCH / 72,
}
_LENGTH = re.compile(
    r"""^\s*(?P<sign>-)?\s*
        (?: (?:(?P<whole>\d+)\s+)? (?P<top>\d+)\s*/\s*(?P<bottom>\d+)   # 1 3/16
          | (?P<number>\d*[.,]?\d+ | \d+[.,]) )                        # 1.2 or 1,2
        \s*(?P<unit>[a-zA-Z"″]*)\s*$""",
    re.VERBOSE,
)


def parse_length(text: str, *, default_unit: Unit | None = None, ppi: float | None = None) -> float:
    """Return the length that ``text`` states, in millimetres.

    Args:
        text: "60 mm", "3/16 in", "1 1/2in", "0.05in", "1,2 mm", "15 px" ...
        default_unit: taken when the text names none; without it a bare number is refused.
        ppi: pixels per inch, which gives "px" a size.

    Raises:
        UsageError: the text is no length, names an unknown unit, or counts pixels without a ppi.
    """
    match = _LENGTH.match(text)
    if match is None:
        raise UsageError(f"“{text.strip()}” is no length: write a number and a unit, such as 60 mm or 3/16 in")
    unit = match["unit"].lower() or (None if default_unit is None else base_unit(default_unit))
    if unit is None:
        raise UsageError(f"“{text.strip()}” has no unit: write {text.strip()}mm or {text.strip()}in")
    if unit in {"inch", "inches"}:
        unit = "in"
    value = _number(match) * (-1.0 if match["sign"] else 1.0)
    if unit == "px":
        if ppi is None:
            raise UsageError(f"“{text.strip()}” counts pixels, which have no size here: use mm or in")
        return value * MM_PER_INCH / ppi
    if unit not in _MM_PER_UNIT:
        raise UsageError(f"“{match['unit']}” is no unit known here: use mm, cm, in, pt or px")
    return value * _MM_PER_UNIT[unit]


def _number(match: re.Match[str]) -> float:
    if match["top"] is None:
        return float(match["number"].replace(",", "."))
    if int(match["bottom"]) == 0:
        raise UsageError(f"“{match[0].strip()}” divides by zero")
    return int(match["whole"] or 0) + int(match["top"]) / int(match["bottom"])


def format_length(length_mm: float, unit: Unit, *, digits: int | None = None) -> str:
    """Return ``length_mm`` in ``unit`` with its unit; rounding happens here and nowhere else."""
    value = length_mm if unit == "mm" else length_mm / MM_PER_INCH
    if unit == "in fraction":
        fraction = _fraction(value)
        if fraction is not None:
            return f"{fraction} in"
    places = digits if digits is not None else (1 if unit == "mm" else _inch_places(value))
    rounded = round(value, places)
    return f"{rounded + 0.0:.{places}f} {base_unit(unit)}"


_METRIC = re.compile(
    r"(?<![\w.])(?<!\w-)(?P<numbers>\d+(?:\.\d+)?(?:(?: ?[×x–] ?| to | and | by | or )\d+(?:\.\d+)?)*)"
    r"[ \u00a0]?(?P<unit>[mc]m)(?P<square>²?)(?![\w²])"
)
_NUMBER = re.compile(r"\d+(?:\.\d+)?")
_UNIT_ALONE = re.compile(r"(?<=, )mm(²?)$")
_MM_OF = {"mm": 1.0, "cm": 10.0}


def in_unit(text: str, unit: Unit) -> str:
    """Return a text with the millimetres and centimetres in it, and their squares, in another unit."""
    if unit == "mm" or "m" not in text:
        return text
    text = _UNIT_ALONE.sub(rf"{base_unit(unit)}\1", text)

    def converted(found: re.Match[str]) -> str:
        mm, is_square = _MM_OF[found["unit"]], bool(found["square"])

        def one(number: re.Match[str]) -> str:
            if is_square:
                return area_number(float(number[0]) * mm * mm, unit)
            return short_length(float(number[0]) * mm, unit).rsplit(" ", 1)[0]

        return f"{_NUMBER.sub(one, found['numbers'])} {base_unit(unit)}{found['square']}"

    return _METRIC.sub(converted, text)


def area_number(area_mm2: float, unit: Unit) -> str:
    """Return an area's number in a unit's square, three figures of it where it is small."""
    return f"{area_mm2:g}" if unit == "mm" else f"{area_mm2 / MM_PER_INCH**2:.3g}"


def short_length(length_mm: float, unit: Unit, *, digits_mm: int = 2) -> str:
    """Return a length as it is typed: without zeros at its end."""
    text = format_length(length_mm, unit, digits=digits_mm if unit == "mm" else None)
    number, name = text.rsplit(" ", 1)
    return f"{number.rstrip('0').rstrip('.') if '.' in number else number} {name}"


def _inch_places(inches: float) -> int:
    """Two decimals, as a hand measures; three for what is so small that two would say little."""
    return 2 if abs(inches) >= _SMALL_IN or inches == 0 else 3


def base_unit(unit: Unit) -> Literal["mm", "in"]:
    """Return the unit in which a length is counted, however it is written."""
    return "mm" if unit == "mm" else "in"


def _fraction(inches: float) -> str | None:
    """Return inches as people read them off a ruler, "1 3/16"; None where no fraction is exact."""
    parts = round(inches * _FINEST_FRACTION)
    if parts <= 0 or abs(inches - parts / _FINEST_FRACTION) > _EXACT_IN:
        return None
    whole, rest = divmod(parts, _FINEST_FRACTION)
    if not rest:
        return str(whole)
    shared = math.gcd(rest, _FINEST_FRACTION)
    part = f"{rest // shared}/{_FINEST_FRACTION // shared}"
    return f"{whole} {part}" if whole else part


def check_range(name: str, value: float, lowest: float, highest: float, unit: str = "mm") -> None:
    """Refuse a number outside its range.

    Raises:
        UsageError: with the number found and the range needed.
    """
    if not (math.isfinite(value) and lowest <= value <= highest):
        raise UsageError(f"{name} must be {lowest:g} to {highest:g} {unit}".rstrip() + f", not {value:g}")


def duration(seconds: float) -> str:
    """Return a time as people say it: to 5 s below two minutes, to minutes below two hours."""
    if seconds < 120:
        return f"{max(5, 5 * round(seconds / 5))} s"
    minutes = round(seconds / 60)
    return f"{minutes} min" if minutes < 120 else f"{minutes // 60} h {minutes % 60} min"
