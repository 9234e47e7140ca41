"""JSON of which there is one writing only, so that it can be hashed (RFC 8785)."""

from __future__ import annotations

from typing import Any

import rfc8785

from honest_edge.core.values.errors import UsageError


def canonical(value: Any) -> bytes:
    """Return plain values as canonical JSON: keys in order, no spaces, numbers as ECMAScript writes them.

    Raises:
        UsageError: a number that is none or too large to be meant exactly, or a value that JSON does not have.
    """
    try:
        return rfc8785.dumps(value)
    except rfc8785.CanonicalizationError as error:
        raise UsageError(f"What cannot be written in one way cannot be sealed: {error}") from None
