"""The child process that decodes and draws all art: what breaks, grinds or attacks here reaches nothing else.

It answers one request after another on its standard streams: a length, a header in JSON and a body each. What it may
do at all is in ``confinement``.
"""

from __future__ import annotations

import hashlib
import io
import logging
import struct
import sys
import warnings
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any, BinaryIO, Literal

import msgspec
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from honest_edge.core.values.errors import ArtError
from honest_edge.files.confinement import allow, confine
from honest_edge.files.font_folder import FONT_FOLDER, WINDOW_FONTS

ADDRESS_BYTES = 3_000_000_000
MEMORY_BYTES, MEMORY_BYTES_OF = 950_000_000, {"psd": 2_400_000_000}  # layers are put together in floating point
CPU_SECONDS = 10
POINTS_PER_INCH = 72.0
_FONT_FOLDERS = ("/usr/share/fonts", "/usr/local/share/fonts", "~/.fonts", "~/.local/share/fonts")


@dataclass(frozen=True, slots=True, kw_only=True)
class Request:
    """What to draw.

    Attributes:
        kind: the file's format.
        name: what messages call it.
        page: of a PDF, from 1.
        hidden_layers: layers that are left out, from 0 at the bottom.
        only_layers: layers that alone are drawn; empty for all.
        width_mm: finished width of what is vector; None takes the stated one.
        ppi: resolution at that width.
        least_px, most_px: bounds of the longer side.
        look_px: of a plain picture, about how long its longer side is for a first look; 0 takes all of it.
    """

    kind: Literal["svg", "pdf", "psd", "picture"]
    name: str
    page: int = 1
    hidden_layers: tuple[int, ...] = ()
    only_layers: tuple[int, ...] = ()
    width_mm: float | None = None
    ppi: float = 600.0
    least_px: int = 1200
    most_px: int = 5000
    look_px: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """What was drawn; its pixels follow as straight RGBA. ``error`` stands alone."""

    error: str = ""
    width_px: int = 0
    height_px: int = 0
    stated_ppi: float = 300.0
    source: str = "assumed"
    notes: tuple[str, ...] = ()
    page_count: int = 1
    layers: tuple[str, ...] = ()
    cutting: tuple[tuple[int, str], ...] = ()
    lossy: bool = False
    statements: tuple[tuple[str, float], ...] = ()
    look_of_px: int = 0
    inner_px: float = 0.0


Drawn = tuple[Answer, NDArray[np.uint8]]


def main(parent: int) -> None:
    """Answer until the parent process hangs up."""
    confine(font_places(), memory_bytes=ADDRESS_BYTES, parent=parent)
    source, sink = sys.stdin.buffer, sys.stdout.buffer
    sys.stdout = sys.stderr  # nothing a library prints may mix with the answers
    while (header := receive(source)) is not None:
        body = receive(source)
        if body is None:
            return
        request = msgspec.json.decode(header, type=Request)
        allow(cpu_seconds=CPU_SECONDS, memory_bytes=MEMORY_BYTES_OF.get(request.kind, MEMORY_BYTES))
        answer, pixels = _answered(request, body)
        send(sink, msgspec.json.encode(answer))
        send(sink, np.ascontiguousarray(pixels).data.cast("B") if pixels.size else b"")
        del pixels, body  # a large picture must not lie here until the next one comes


def send(sink: BinaryIO, data: bytes | memoryview) -> None:
    """Write one block."""
    sink.write(struct.pack(">Q", len(data)))
    sink.write(data)
    sink.flush()


def receive(source: BinaryIO) -> bytes | None:
    """Read one block; None at the end."""
    head = source.read(8)
    if len(head) < 8:
        return None
    (size,) = struct.unpack(">Q", head)
    data = source.read(size)
    return data if len(data) == size else None


def _answered(request: Request, data: bytes) -> Drawn:
    draw = {"svg": _svg, "pdf": _pdf, "psd": _psd, "picture": _picture}[request.kind]
    nothing = np.zeros((0, 0, 4), np.uint8)
    try:
        return draw(data, request)
    except ArtError as error:
        return Answer(error=str(error)), nothing
    except MemoryError:
        return Answer(error=f"{request.name} takes more memory than there is: make it smaller"), nothing
    except Exception as error:  # whatever a format's library raises on a damaged file
        reason = (str(error).splitlines() or [type(error).__name__])[0][:100]
        return Answer(error=f"{request.name} is damaged or cut short ({reason}): export it again"), nothing


def _raster(width_mm: float, height_mm: float, request: Request) -> tuple[int, int]:
    """Return the pixels to draw a vector file with: fine enough for its finished size, within bounds."""
    wanted = (request.width_mm or width_mm) / 25.4 * request.ppi
    longer = max(1.0, height_mm / width_mm)
    width = min(max(wanted, request.least_px / longer), request.most_px / longer)
    return max(8, round(width)), max(8, round(width * height_mm / width_mm))


_unpacked: list[tuple[bytes, Image.Image]] = []
"""The picture that was looked at last, by its SHA-256: all of it is asked for next."""


def _picture(data: bytes, request: Request) -> Drawn:
    from honest_edge.files.decode_picture import decoded, loaded

    key = hashlib.sha256(data).digest()
    known = [image for other, image in _unpacked if other == key]
    _unpacked.clear()
    if known:
        picture = decoded(known[0], request.name, request.look_px)
    else:
        with loaded(data, request.name) as image:
            picture = decoded(image, request.name, request.look_px)
            if picture.look_of_px:
                _unpacked.append((key, image))
    more = {"lossy": picture.lossy, "statements": picture.statements, "look_of_px": picture.look_of_px}
    return _of(picture.pixels, picture.stated_ppi, picture.source, picture.notes, **more), picture.pixels


# -- SVG ---------------------------------------------------------------------------------------------


def _svg(data: bytes, request: Request) -> Drawn:
    import resvg_py

    from honest_edge.files.svg_gate import gated

    gate = gated(data, request.name, hidden=request.hidden_layers, only=request.only_layers)
    width, height = _raster(gate.width_mm, gate.height_mm, request)
    fonts = sorted(map(str, FONT_FOLDER.glob(WINDOW_FONTS)))
    png = resvg_py.svg_to_bytes(
        svg_string=gate.text,
        width=width,
        height=height,
        dpi=96,
        skip_system_fonts=not (gate.families or _unlettered(gate.words, ours=True)),
        font_files=fonts,
        font_family=_LAST_RESORT,
        serif_family=_LAST_RESORT,
        sans_serif_family=_LAST_RESORT,
        monospace_family=_LAST_RESORT,
        cursive_family=_LAST_RESORT,
        fantasy_family=_LAST_RESORT,
    )
    with Image.open(io.BytesIO(bytes(png))) as image:
        pixels = np.array(image.convert("RGBA"))
    missing = [family for family in gate.families if family.lower() not in _installed()]
    notes = gate.notes
    if missing:
        words = ", ".join(f"“{line[:30]}”" for line in gate.words[:_MOST_WORDS])
        notes = (*notes, f"Not installed here: {', '.join(missing)}. Another typeface was taken for {words}.")
    gone = _unlettered(gate.words, ours=False)
    if gone:
        notes = (*notes, f"No typeface here has “{gone[:20]}”: these letters were left out.")
    ppi = pixels.shape[1] / (gate.width_mm / 25.4)
    source = "SVG units" if gate.has_unit else "SVG pixels of 1/96 in"
    names = tuple(layer.name for layer in gate.layers)
    cutting = tuple((index, layer.means) for index, layer in enumerate(gate.layers) if layer.means)
    return _of(pixels, ppi, source, notes, inner_px=gate.inner_px, layers=names, cutting=cutting), pixels


_DEEPEST = 6  # forms of a page inside each other
_LAST_RESORT, _MOST_WORDS = "Atkinson Hyperlegible Next", 4


def _unlettered(words: tuple[str, ...], *, ours: bool) -> str:
    """Return the letters that no typeface has: none of our own, or none that is installed."""
    letters = dict.fromkeys(letter for line in words for letter in line if not letter.isspace())
    missing = [letter for letter in letters if ord(letter) not in _letters_of(str(FONT_FOLDER))]
    for folder in () if ours else map(str, font_places()):
        if missing:
            missing = [letter for letter in missing if ord(letter) not in _letters_of(folder)]
    return "".join(missing)


@cache
def _letters_of(folder: str) -> frozenset[int]:
    """Return the characters that the typefaces of a folder have."""
    from fontTools.ttLib import TTCollection, TTFont

    characters: set[int] = set()
    for path in Path(folder).rglob("*.[ot]t[fc]"):
        try:
            fonts = TTCollection(path).fonts if path.suffix == ".ttc" else [TTFont(path, lazy=True)]
            for font in fonts:
                characters.update(font.getBestCmap() or ())
        except Exception:  # what is no typeface has no letters
            continue
    return frozenset(characters)


def font_places() -> list[Path]:
    """Return the folders where typefaces may lie."""
    return [Path(folder).expanduser() for folder in _FONT_FOLDERS]


@cache
def _installed() -> frozenset[str]:
    """Return the names of all typefaces that an SVG is drawn with here, in lower case: the machine's and our own."""
    from PIL import ImageFont

    of_machine = (path for folder in font_places() for path in folder.rglob("*.[ot]t[fc]"))
    names = set()
    for path in (*of_machine, *FONT_FOLDER.glob(WINDOW_FONTS)):
        try:
            names.add(str(ImageFont.truetype(str(path)).getname()[0]).lower())
        except (OSError, ValueError):
            continue
    return frozenset(names)


def _of(pixels: NDArray[np.uint8], ppi: float, source: str, notes: tuple[str, ...], **more: object) -> Answer:
    height, width = pixels.shape[:2]
    return Answer(
        width_px=width,
        height_px=height,
        stated_ppi=ppi,
        source=source,
        notes=notes,
        **more,  # type: ignore[arg-type]
    )


# -- PDF ---------------------------------------------------------------------------------------------


def _pdf(data: bytes, request: Request) -> Drawn:
    import pypdfium2

    try:
        document = pypdfium2.PdfDocument(data)
    except pypdfium2.PdfiumError:
        raise _why_no_pdf(data, request.name) from None
    count = len(document)
    if not 1 <= request.page <= count:
        there = f"{count} pages: take one of 1 to {count}" if count > 1 else "one page: take page 1"
        raise ArtError(f"{request.name} has no page {request.page}, but {there}")
    unit = _user_unit(data, request.page)
    page, layers, cutting = _layered_page(data, document, request, unit)
    width_mm, height_mm = (side * unit / POINTS_PER_INCH * 25.4 for side in page.get_size())
    if not (0.1 <= width_mm <= 5080 and 0.1 <= height_mm <= 5080):
        raise ArtError(
            f"{request.name} has a page of {width_mm:.4g} × {height_mm:.4g} mm; it must be 0.1 to 5080 mm each way"
        )
    width, _ = _raster(width_mm, height_mm, request)
    bitmap = page.render(
        scale=width / page.get_size()[0],
        fill_color=(255, 255, 255, 0),
        rev_byteorder=True,
        maybe_alpha=False,
        force_bitmap_format=pypdfium2.raw.FPDFBitmap_BGRA,
    )
    pixels = np.array(bitmap.to_numpy())
    more = {"page_count": count, "inner_px": _inner_px(page), "layers": layers, "cutting": cutting}
    return _of(pixels, pixels.shape[1] / (width_mm / 25.4), "PDF page", (), **more), pixels


def _layered_page(
    data: bytes, document: Any, request: Request, unit: float
) -> tuple[Any, tuple[str, ...], tuple[tuple[int, str], ...]]:
    """Return a page without the layers that are left out, what it calls all of them, and those that mean a cut."""
    import pypdfium2

    from honest_edge.files import pdf_layers

    names = pdf_layers.optional_content(data)
    hidden, only = set(request.hidden_layers), set(request.only_layers)
    off = [at for at in range(len(names)) if at in hidden or (only and at not in only)]
    if off and not any(at >= len(names) for at in only):
        document = pypdfium2.PdfDocument(pdf_layers.with_layers_off(data, off))
    page = document[request.page - 1]
    lines = pdf_layers.lines_to_cut(page, unit)
    numbers = range(len(names), len(names) + len(lines))
    among = [[at - len(names) for at in numbers if at in some] for some in (hidden, only)]
    if any(among):
        pdf_layers.take_out(page, lines, *among)
    cutting = [*pdf_layers.asked_by_names(names), *((len(names) + at, one.means) for at, one in enumerate(lines))]
    return page, (*names, *(one.name for one in lines)), tuple(cutting)


def _inner_px(page: Any) -> float:
    """Return how many pixels across a page would have as fine as the coarsest picture in it; 0 without pictures."""
    import pypdfium2

    from honest_edge.files.svg_pictures import LEAST_SEEN

    width, height = page.get_size()
    finest = []
    for image in page.get_objects(filter=[pypdfium2.raw.FPDF_PAGEOBJ_IMAGE], max_depth=_DEEPEST):
        left, bottom, right, top = image.get_bounds()
        if (right - left) * (top - bottom) >= LEAST_SEEN * width * height:
            finest.append(image.get_px_size()[0] / (right - left) * width)
    return min(finest, default=0.0)


def _why_no_pdf(data: bytes, name: str) -> ArtError:
    """Return what to say of a file that cannot be opened; the renderer itself may repeat what was wrong before."""
    import pikepdf

    try:
        pikepdf.open(io.BytesIO(data)).close()
    except pikepdf.PasswordError:
        return ArtError(f"{name} is locked by a password: export it without one")
    except pikepdf.PdfError:
        pass
    return ArtError(f"{name} is damaged or no PDF: export it again")


def _user_unit(data: bytes, page: int) -> float:
    """Return the size of a page's unit in points, which the renderer does not heed (ISO 32000-2 §14.11)."""
    import pikepdf

    with pikepdf.open(io.BytesIO(data)) as pdf:
        return float(pdf.pages[page - 1].obj.get("/UserUnit", 1))


# -- PSD ---------------------------------------------------------------------------------------------


def _psd(data: bytes, request: Request) -> Drawn:
    from psd_tools import PSDImage

    complaints = _Complaints()
    with warnings.catch_warnings():
        warnings.simplefilter("error")  # a bad channel is a warning there, and a black patch in the print
        logging.getLogger("psd_tools").addHandler(complaints)
        psd = PSDImage.open(io.BytesIO(data))
        if psd.width * psd.height > 60_000_000:
            raise ArtError(
                f"{request.name} has {psd.width} × {psd.height} px, more than 60 million: make it smaller first"
            )
        layers = [layer for layer in psd.descendants() if not layer.is_group()]
        shown = {id(layer) for index, layer in enumerate(layers) if index not in request.hidden_layers}
        apply_icc, said = _psd_profile(psd)
        image: Image.Image | None = (
            psd.composite(
                force=True,
                apply_icc=apply_icc,
                layer_filter=lambda layer: layer.is_visible() and (layer.is_group() or id(layer) in shown),
            )
            if layers
            else psd.topil(apply_icc=apply_icc)
        )
    if image is None or complaints.found:
        raise ArtError(
            f"{request.name} is damaged ({'; '.join(complaints.found)[:90] or 'no picture'}): export it again"
        )
    notes = [f"{psd.depth} bits a channel were reduced to 8."] if psd.depth > 8 else []
    notes += said
    if image.mode not in ("RGB", "RGBA", "L", "LA"):
        notes.append(f"{image.mode} colours were converted to sRGB for the screen and the print.")
    pixels = np.array(image.convert("RGBA"))
    ppi = _psd_ppi(psd)
    names = tuple(layer.name if layer.is_visible() else f"{layer.name} (hidden)" for layer in layers)
    answer = _of(pixels, ppi or 300.0, "PSD header" if ppi else "assumed", tuple(notes), layers=names)
    return answer, pixels


def _psd_profile(psd: object) -> tuple[bool, list[str]]:
    """Return whether the file's colour profile can be applied, and what to say of it."""
    from PIL import ImageCms
    from psd_tools.constants import Resource

    data = psd.image_resources.get_data(Resource.ICC_PROFILE)  # type: ignore[attr-defined]
    if not data:
        return False, []
    try:
        profile = ImageCms.ImageCmsProfile(io.BytesIO(data))
        title = ImageCms.getProfileDescription(profile).strip()
        fits = profile.profile.xcolor_space.strip()[:4] == psd.color_mode.name[:4]  # type: ignore[attr-defined]
    except (ImageCms.PyCMSError, OSError, ValueError):
        fits = False
    if not fits:
        return False, ["Its colour profile is damaged or for other colours, and was left aside."]
    return True, [] if "srgb" in title.lower() else [f"Colours were converted from “{title}” to sRGB."]


def _psd_ppi(psd: object) -> float | None:
    from psd_tools.constants import Resource

    try:
        info = psd.image_resources.get_data(Resource.RESOLUTION_INFO)  # type: ignore[attr-defined]
        ppi = float(info.horizontal) / 65536
    except (AttributeError, TypeError, ValueError):
        return None
    return ppi if 10 <= ppi <= 10_000 else None


class _Complaints(logging.Handler):
    """Collects what a library only mutters."""

    def __init__(self) -> None:
        super().__init__(logging.WARNING)
        self.found: list[str] = []

    def emit(self, record: logging.LogRecord) -> None:
        """Keep a message."""
        self.found.append(record.getMessage())
