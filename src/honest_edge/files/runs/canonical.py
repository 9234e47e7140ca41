"""JSON of which there is one writing only, so that it can be hashed (RFC 8785, as far as it is used here)."""

from __future__ import annotations

import hashlib
import json
import math
from typing import Any

from honest_edge.core.values.errors import UsageError

_MOST_DIGITS = 21  # from here on ECMAScript writes an exponent
_LEAST_PLACES = -7


def canonical(value: Any) -> bytes:
    """Return plain values as canonical JSON: keys in order, no spaces, numbers as ECMAScript writes them.

    Raises:
        UsageError: a number that is none, or a value that JSON does not have.
    """
    return _written(value).encode()


def sha256_of(value: Any) -> str:
    """Return the SHA-256 of a value's canonical JSON, in hexadecimal (FIPS 180-4)."""
    return hashlib.sha256(canonical(value)).hexdigest()


def _written(value: Any) -> str:
    match value:
        case None | bool() | str():
            return json.dumps(value, ensure_ascii=False)
        case int():
            return str(value)
        case float():
            return _number(value)
        case list() | tuple():
            return f"[{','.join(map(_written, value))}]"
        case dict():
            keys = sorted(value, key=lambda key: key.encode("utf-16-be"))
            return f"{{{','.join(f'{_written(key)}:{_written(value[key])}' for key in keys)}}}"
        case _:
            raise UsageError(f"{type(value).__name__} cannot be sealed")


def _number(value: float) -> str:
    """Return a number as ECMAScript does: the fewest digits that mean it, with an exponent only far from one.

    (ECMA-262, Number::toString.) Python finds the same digits and only places them otherwise.
    """
    if not math.isfinite(value):
        raise UsageError(f"{value} is no number that can be sealed")
    if value == 0:
        return "0"
    if value < 0:
        return f"-{_number(-value)}"
    mantissa, _, exponent = f"{value!r}".lower().partition("e")
    whole, _, part = mantissa.partition(".")
    part = "" if part == "0" else part
    point = len(whole) + int(exponent or 0)
    digits = (whole + part).lstrip("0")
    point -= len(whole + part) - len(digits)
    digits = digits.rstrip("0")
    if len(digits) <= point <= _MOST_DIGITS:
        return digits + "0" * (point - len(digits))
    if 0 < point <= _MOST_DIGITS:
        return f"{digits[:point]}.{digits[point:]}"
    if _LEAST_PLACES < point - 1 < 0 or point == 0:
        return f"0.{'0' * -point}{digits}"
    power = point - 1
    rest = f".{digits[1:]}" if len(digits) > 1 else ""
    return f"{digits[0]}{rest}e{'+' if power > 0 else '-'}{abs(power)}"
