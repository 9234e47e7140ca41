"""Reading a scan or a photograph that is measured: grey levels and the resolution that it states.

Like all art it is unpacked by the confined child process: whose picture it is, is not known.
"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np

from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.values.errors import ArtError
from honest_edge.files.file_kinds import drawn_kind
from honest_edge.files.read_art import read_art
from honest_edge.files.read_input import read_picture

READ_KINDS = "PNG, JPEG, WebP, TIFF or BMP"
_RAW = frozenset((".dng", ".cr2", ".cr3", ".nef", ".arw", ".orf", ".rw2", ".raf", ".pef"))
_HEIF = (b"heic", b"heix", b"hevc", b"mif1", b"msf1", b"avif")


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Scan:
    """A picture that is measured.

    Attributes:
        name: of its file.
        grey: (h, w) levels.
        ppi: that the file states; None where it states none.
        rgb: (h, w, 3) the same in colour, red first; None where it was not asked for.
    """

    name: str
    grey: Bytes
    ppi: float | None
    rgb: Bytes | None = None


def read_scan(path: Path, *, in_colour: bool = False) -> Scan:
    """Return the picture in a file, in colour as well where that is asked for.

    Raises:
        ArtError: no picture of a kind that is measured, damaged, or outside the limits of size.
    """
    if path.suffix.lower() in _RAW:
        raise ArtError(f"{path.name} is a camera’s raw file: save it as {READ_KINDS} first")
    return scan_in(read_picture(path), path.name, in_colour=in_colour)


def scan_in(data: bytes, name: str, *, in_colour: bool = False) -> Scan:
    """Return the picture in a file's bytes; raises as ``read_scan``."""
    if data[4:8] == b"ftyp" and data[8:12] in _HEIF:
        raise ArtError(f"{name} is a HEIC or AVIF photograph, which is not read: save it as {READ_KINDS} first")
    if drawn_kind(data) is not None:
        raise ArtError(f"{name} is a drawing or has layers, and no scan: save it as {READ_KINDS} first")
    artwork = read_art(data, name)
    ppi = None if artwork.size_source == "assumed" else artwork.stated_ppi
    grey = np.asarray(cv2.cvtColor(artwork.pixels, cv2.COLOR_RGBA2GRAY), np.uint8)
    rgb = np.ascontiguousarray(artwork.pixels[..., :3]) if in_colour else None
    return Scan(name=name, grey=grey, ppi=ppi, rgb=rgb)
