"""The sign of a sheet, read off a photograph or a scan."""

from __future__ import annotations

from pathlib import Path

import zxingcpp

from honest_edge.core.values.errors import FileError, UsageError
from honest_edge.core.values.run_seal import parse_sign
from honest_edge.files.read_scan import read_scan


def sign_in(path: Path) -> tuple[str, int]:
    """Return code and number of the sheet that a picture shows.

    Raises:
        ArtError: it is no picture.
        FileError: no sign is seen in it.
    """
    for barcode in zxingcpp.read_barcodes(read_scan(path).grey):
        try:
            return parse_sign(barcode.text)
        except UsageError:
            continue  # another code lay beside it
    raise FileError(f"No sign of a sheet is seen in {path.name}: take it closer and in focus, or type what it says")
