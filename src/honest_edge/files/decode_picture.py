"""Plain pictures decoded, with every trap of the formats met; runs in the confined child process."""

from __future__ import annotations

import io
import math
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import ExifTags, Image, ImageCms, ImageOps, UnidentifiedImageError

from honest_edge.core.values.artwork import SizeSource
from honest_edge.core.values.errors import ArtError
from honest_edge.files.file_kinds import PICTURE_SUFFIXES

FORMATS = ("PNG", "JPEG", "WEBP", "TIFF", "BMP")
MOST_PIXELS = 80_000_000
LEAST_SIDE_PX = 8
ASSUMED_PPI = 300.0

_BAND_PX = 256
_AVERAGED = ("RGB", "RGBA", "L", "LA")
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


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Decoded:
    """A picture as it was decoded.

    Attributes:
        pixels: (h, w, 4) uint8 straight sRGB and alpha.
        stated_ppi, source: its resolution, and what stated it.
        statements: all that stated one.
        lossy: whether its format loses colours.
        notes: what was changed on the way, each one sentence.
        look_of_px: width before pixels were averaged to fewer; 0 where they were not.
    """

    pixels: NDArray[np.uint8]
    stated_ppi: float
    source: SizeSource
    statements: tuple[tuple[SizeSource, float], ...]
    lossy: bool
    notes: tuple[str, ...]
    look_of_px: int = 0


def decode_picture(data: bytes, name: str) -> Decoded:
    """Return the picture in a file's bytes.

    Raises:
        ArtError: no picture of a known kind, damaged, or outside the limits of size.
    """
    with loaded(data, name) as image:
        return decoded(image, name)


@contextmanager
def loaded(data: bytes, name: str) -> Iterator[Image.Image]:
    """Give the picture in a file's bytes, unpacked, and say what is wrong with it.

    Raises:
        ArtError: no picture of a known kind, damaged, or outside the limits of size.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # Pillow warns of odd metadata that we judge ourselves
            image = Image.open(io.BytesIO(data), formats=FORMATS)
            _check_size(image, name)
            image.load()
            yield image
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


def decoded(image: Image.Image, name: str, look_px: int = 0) -> Decoded:
    """Return an unpacked picture in our colours, upright.

    Args:
        image: the picture.
        name: its file's.
        look_px: about how long its longer side may be, for a first look; 0 takes all of it.
    """
    notes: list[str] = []
    kind = image.format or ""
    suffix = Path(name).suffix.lower()
    if suffix in PICTURE_SUFFIXES and suffix not in _SUFFIXES_OF.get(kind, {suffix}):
        notes.append(f"The file is a {kind} in spite of its name.")
    if getattr(image, "n_frames", 1) > 1:
        notes.append(f"Only the first of its {image.n_frames} pictures is used.")  # type: ignore[attr-defined]
    ppi, source, statements = _stated_ppi(image, kind, notes)
    factor = math.ceil(max(image.size) / look_px) if look_px and image.mode in _AVERAGED else 1
    is_on_its_side = image.getexif().get(ExifTags.Base.Orientation, 1) >= 5
    width = image.height if is_on_its_side else image.width
    upright = ImageOps.exif_transpose(image.reduce(factor) if factor > 1 else image) or image
    pixels = _rgba(upright, notes)
    return Decoded(
        pixels=pixels,
        stated_ppi=ppi,
        source=source,
        statements=statements,
        lossy=kind in {"JPEG", "MPO", "WEBP"},
        notes=tuple(notes),
        look_of_px=width if factor > 1 else 0,
    )


def _stated_ppi(
    image: Image.Image, kind: str, notes: list[str]
) -> tuple[float, SizeSource, tuple[tuple[SizeSource, float], ...]]:
    """Return the resolution along the upright picture's width, where it was stated, and all statements."""
    header, exif = _header_ppi(image, kind), _exif_ppi(image)
    statements: list[tuple[SizeSource, float]] = [] if header is None else [(header[2], header[0])]
    stated = header
    if exif:
        statements.append(("EXIF", exif[0]))
        if header is None or (header[2] == "JFIF" and round(header[0]) == 72):
            # writers fill in 72 when they know nothing; it hides the camera's or editor's own figure
            stated = (*exif, "EXIF")
    if stated is None:
        return ASSUMED_PPI, "assumed", ()
    across, down, source = stated
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
    believed = _believable(stated, "EXIF")
    return believed and (believed[0], believed[1])


def _rgba(image: Image.Image, notes: list[str]) -> NDArray[np.uint8]:
    if image.mode in {"I;16", "I;16B", "I;16L", "I", "F"}:
        return _from_deep_grey(image, notes)
    if image.mode == "CMYK":
        notes.append("CMYK colours were converted to sRGB for the screen and the print.")
    image = _to_srgb(image, notes)
    return _pixels_of(image)


def _pixels_of(image: Image.Image) -> NDArray[np.uint8]:
    """Return a picture as RGBA, band by band: Pillow would hold the whole of it three times meanwhile."""
    pixels = np.empty((image.height, image.width, 4), np.uint8)
    for top in range(0, image.height, _BAND_PX):
        band = image.crop((0, top, image.width, min(top + _BAND_PX, image.height)))
        pixels[top : top + _BAND_PX] = np.asarray(band.convert("RGBA"))
    return pixels


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
