"""Pictures from files, with every trap of the formats met before pixels reach the core."""

from __future__ import annotations

import io
import warnings
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import ExifTags, Image, ImageCms, ImageOps, UnidentifiedImageError

from honest_edge.core.values.artwork import Artwork, SizeSource
from honest_edge.core.values.errors import ArtError
from honest_edge.core.values.specs import ArtSource
from honest_edge.files.file_kinds import PICTURE_SUFFIXES, VECTOR_KINDS, DrawnKind, drawn_kind

FORMATS = ("PNG", "JPEG", "WEBP", "TIFF", "BMP")
MOST_PIXELS = 120_000_000
LEAST_SIDE_PX = 8
ASSUMED_PPI = 300.0

_WHOLE = ArtSource()
_BELIEVABLE_PPI = (10.0, 10_000.0)
_SUFFIXES_OF = {
    "PNG": {".png"},
    "JPEG": {".jpg", ".jpeg"},
    "MPO": {".jpg", ".jpeg"},
    "WEBP": {".webp"},
    "TIFF": {".tif", ".tiff"},
    "BMP": {".bmp"},
}

# Our own limit is checked against the header before any pixel is decoded.
Image.MAX_IMAGE_PIXELS = None


def pictures_in(folder: Path) -> list[Path]:
    """Return the pictures that lie in a folder, by name; those in folders inside it are left alone."""
    try:
        return sorted(path for path in folder.iterdir() if path.suffix.lower() in PICTURE_SUFFIXES and path.is_file())
    except OSError:
        return []


def read_art(
    data: bytes,
    name: str,
    source: ArtSource = _WHOLE,
    *,
    width_mm: float | None = None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Artwork:
    """Return the picture in ``data``.

    Args:
        data: the file's bytes.
        name: what messages call it.
        source: which page, layers and region.
        width_mm: finished width, which decides how finely a drawing is drawn; None takes the stated one.
        cancelled: asked while a drawing is drawn.

    Raises:
        ArtError: no picture of a known kind, damaged, or outside the stated size limits.
        Cancelled: ``cancelled`` said so.
    """
    if not data:
        raise ArtError(f"{name} is empty: export the picture again")
    kind = drawn_kind(data)
    whole = _plain(data, name) if kind is None else _drawn(data, name, kind, source, width_mm, cancelled)
    return whole if source.region is None else _cropped(whole, source.region)


def _drawn(
    data: bytes,
    name: str,
    kind: DrawnKind,
    source: ArtSource,
    width_mm: float | None,
    cancelled: Callable[[], bool],
) -> Artwork:
    from honest_edge.files.drawing_child import Request
    from honest_edge.files.drawing_parent import RENDERER  # the child starts with the first drawing

    if width_mm is not None and source.region is not None:
        width_mm /= source.region[2] - source.region[0]
    request = Request(kind=kind, name=name, page=source.page, hidden_layers=source.hidden_layers, width_mm=width_mm)
    answer, pixels = RENDERER.draw(data, request, cancelled=cancelled)
    stated: SizeSource = answer.source  # type: ignore[assignment]
    return Artwork(
        pixels=pixels,
        stated_ppi=answer.stated_ppi,
        size_source=stated,
        notes=answer.notes,
        statements=() if stated == "assumed" else ((stated, answer.stated_ppi),),
        is_vector=kind in VECTOR_KINDS,
        page_count=answer.page_count,
        layers=answer.layers,
    )


def _cropped(whole: Artwork, region: tuple[float, float, float, float]) -> Artwork:
    height, width = whole.pixels.shape[:2]
    left, right = round(region[0] * width), max(round(region[2] * width), round(region[0] * width) + 1)
    top, bottom = round(region[1] * height), max(round(region[3] * height), round(region[1] * height) + 1)
    return replace(whole, pixels=np.ascontiguousarray(whole.pixels[top:bottom, left:right]))


def _plain(data: bytes, name: str) -> Artwork:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # Pillow warns of odd metadata that we judge ourselves
            with Image.open(io.BytesIO(data), formats=FORMATS) as image:
                _check_size(image, name)
                image.load()
                return _artwork(image, name)
    except UnidentifiedImageError:
        kinds = "PNG, JPEG, WebP, TIFF, BMP, SVG, PDF or PSD"
        raise ArtError(f"{name} is no picture that can be read: use {kinds}") from None
    except ArtError:
        raise
    except (OSError, SyntaxError, ValueError, EOFError, IndexError, TypeError, KeyError, OverflowError) as error:
        raise ArtError(f"{name} is damaged or cut short ({_first_line(error)}): export it again") from None
    except MemoryError:
        raise ArtError(f"{name} does not fit into memory: make it smaller first") from None


def _first_line(error: Exception) -> str:
    return (str(error).splitlines() or [type(error).__name__])[0][:100]


def _check_size(image: Image.Image, name: str) -> None:
    width, height = image.size
    if width * height > MOST_PIXELS:
        raise ArtError(
            f"{name} has {width} × {height} px, more than {MOST_PIXELS // 1_000_000} million: make it smaller first"
        )
    if min(width, height) < LEAST_SIDE_PX:
        raise ArtError(
            f"{name} has only {width} × {height} px; an outline needs at least {LEAST_SIDE_PX} × {LEAST_SIDE_PX}"
        )


def _artwork(image: Image.Image, name: str) -> Artwork:
    notes: list[str] = []
    kind = image.format or ""
    suffix = Path(name).suffix.lower()
    if suffix in PICTURE_SUFFIXES and suffix not in _SUFFIXES_OF.get(kind, {suffix}):
        notes.append(f"The file is a {kind} in spite of its name.")
    if getattr(image, "n_frames", 1) > 1:
        notes.append(f"Only the first of its {image.n_frames} pictures is used.")  # type: ignore[attr-defined]
    ppi, source, statements = _stated_ppi(image, kind, notes)
    upright = ImageOps.exif_transpose(image) or image
    pixels = _rgba(upright, notes)
    return Artwork(
        pixels=pixels,
        stated_ppi=ppi,
        size_source=source,
        lossy=kind in {"JPEG", "MPO", "WEBP"},
        notes=tuple(notes),
        statements=statements,
    )


def _stated_ppi(
    image: Image.Image, kind: str, notes: list[str]
) -> tuple[float, SizeSource, tuple[tuple[SizeSource, float], ...]]:
    """Return the resolution along the upright picture's width, where it was stated, and all statements."""
    header, exif = _header_ppi(image, kind), _exif_ppi(image)
    statements: list[tuple[SizeSource, float]] = [] if header is None else [(header[2], header[0])]
    found = header
    if exif:
        statements.append(("EXIF", exif[0]))
        if header is None or (header[2] == "JFIF" and round(header[0]) == 72):
            # writers fill in 72 when they know nothing; it hides the camera's or editor's own figure
            found = (*exif, "EXIF")
    if found is None:
        return ASSUMED_PPI, "assumed", ()
    across, down, source = found
    if image.getexif().get(ExifTags.Base.Orientation, 1) >= 5:
        across, down = down, across
    if abs(across - down) > 0.01 * across:
        notes.append(f"The file states {across:.0f} × {down:.0f} ppi; pixels are taken as square.")
    return across, source, tuple(statements)


def _header_ppi(image: Image.Image, kind: str) -> tuple[float, float, SizeSource] | None:
    if kind in {"JPEG", "MPO"}:
        density, unit = image.info.get("jfif_density"), image.info.get("jfif_unit")
        per_inch = {1: 1.0, 2: 2.54}.get(unit or 0)
        stated = None if density is None or per_inch is None else tuple(value * per_inch for value in density)
        source: SizeSource = "JFIF"
    else:
        stated = image.info.get("dpi")
        sources: dict[str, SizeSource] = {"PNG": "PNG pHYs", "TIFF": "TIFF"}
        source = sources.get(kind, "file header")
    return _believable(stated, source)


def _believable(stated: object, source: SizeSource) -> tuple[float, float, SizeSource] | None:
    try:
        across, down = (float(value) for value in stated)  # type: ignore[attr-defined]
    except (TypeError, ValueError, ZeroDivisionError):
        return None
    lowest, highest = _BELIEVABLE_PPI
    return (across, down, source) if lowest <= across <= highest and lowest <= down <= highest else None


def _exif_ppi(image: Image.Image) -> tuple[float, float] | None:
    exif = image.getexif()
    per_inch = {2: 1.0, 3: 2.54}.get(exif.get(ExifTags.Base.ResolutionUnit, 2))
    if per_inch is None:
        return None
    try:
        stated = [float(exif[tag]) * per_inch for tag in (ExifTags.Base.XResolution, ExifTags.Base.YResolution)]
    except (KeyError, TypeError, ValueError, ZeroDivisionError):
        return None
    found = _believable(stated, "EXIF")
    return found and (found[0], found[1])


def _rgba(image: Image.Image, notes: list[str]) -> NDArray[np.uint8]:
    if image.mode in {"I;16", "I;16B", "I;16L", "I", "F"}:
        return _from_deep_grey(image, notes)
    if image.mode == "CMYK":
        notes.append("CMYK colours were converted to sRGB for the screen and the print.")
    image = _to_srgb(image, notes)
    return np.array(image.convert("RGBA"), dtype=np.uint8)


def _from_deep_grey(image: Image.Image, notes: list[str]) -> NDArray[np.uint8]:
    """Scale 16-bit grey; Pillow's own conversion clips it to white."""
    values = np.asarray(image).astype(np.float64)
    if image.mode == "F":
        raise ArtError("The picture holds floating-point values: save it with 8 or 16 bits a channel")
    grey = np.rint(np.clip(values, 0, 65535) / 257).astype(np.uint8)
    notes.append("16 bits a channel were reduced to 8.")
    return np.dstack([grey, grey, grey, np.full_like(grey, 255)])


def _to_srgb(image: Image.Image, notes: list[str]) -> Image.Image:
    profile = image.info.get("icc_profile")
    if not profile or image.mode not in {"RGB", "RGBA", "CMYK", "L", "LA"}:
        return image
    alpha = image.getchannel("A") if "A" in image.getbands() else None
    colour = image.convert(image.mode.removesuffix("A")) if alpha else image
    try:
        own = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        title = ImageCms.getProfileDescription(own).strip()
        converted = ImageCms.profileToProfile(colour, own, ImageCms.createProfile("sRGB"), outputMode="RGB")
    except (ImageCms.PyCMSError, OSError, ValueError):
        notes.append("Its colour profile is damaged and was left aside.")
        return image
    if converted is None:
        return image
    if "srgb" not in title.lower():
        notes.append(f"Colours were converted from “{title}” to sRGB.")
    if alpha:
        converted.putalpha(alpha)
    return converted
