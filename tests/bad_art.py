"""Pictures that cannot be used, with what must be said of them."""

import struct
import zlib

import numpy as np

from pictures import disc_png, png, rgba


def huge_png():
    data = bytearray(disc_png())
    data[16:24] = struct.pack(">II", 90_000, 90_000)
    data[29:33] = struct.pack(">I", zlib.crc32(bytes(data[12:29])))
    return bytes(data)


def kinds_of_bad_art(folder):
    """Every bad picture by name, with the exit code and the words that must be said."""
    noise = np.random.default_rng(1).integers(0, 255, (80, 80, 3), dtype=np.uint8)
    one = np.zeros((1, 1, 4), np.uint8)
    files = {
        "text.png": (b"no picture at all" * 20, 2, "no picture that can be read"),
        "truncated.png": (png(noise)[:4000], 2, "damaged or cut short"),
        "empty.png": (b"", 2, "is empty"),
        "clear.png": (png(rgba(np.zeros((40, 40)))), 1, "opaque enough"),
        "pixel.png": (png(one), 2, "only 1 × 1 px"),
        "huge.png": (huge_png(), 2, "more than 80 million"),
        "blank.png": (png(np.full((60, 60, 3), 255, np.uint8)), 1, "looks like background"),
        "missing.png": (None, 2, "does not exist"),
    }
    for name, (data, code, words) in files.items():
        if data is not None:
            (folder / name).write_bytes(data)
        yield name, code, words
    (folder / "folder.png").mkdir()
    yield "folder.png", 2, "is a folder"
