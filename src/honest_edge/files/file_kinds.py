"""The kinds of file, by their endings and first bytes, known without loading what reads them."""

from typing import Literal

PICTURE_SUFFIXES = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".bmp", ".svg", ".pdf", ".psd")
PROJECT_SUFFIX = ".hedge"

DrawnKind = Literal["svg", "pdf", "psd"]
VECTOR_KINDS: tuple[DrawnKind, ...] = ("svg", "pdf")


def drawn_kind(data: bytes) -> DrawnKind | None:
    """Return the kind of a file that the child process draws; None for plain pictures."""
    if data.startswith(b"8BPS"):
        return "psd"
    if b"%PDF-" in data[:1024]:  # ISO 32000-2 annex I: readers accept it within the first 1024 bytes
        return "pdf"
    head = data[:4096].removeprefix(b"\xef\xbb\xbf").lstrip()
    return "svg" if head.startswith(b"<") and (b"<svg" in head or b":svg" in head) else None
