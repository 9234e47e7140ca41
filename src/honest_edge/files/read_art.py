"""Pictures from files, with every trap of the formats met before pixels reach the core."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np

from honest_edge.core.values.artwork import Artwork, SizeSource
from honest_edge.core.values.errors import ArtError
from honest_edge.core.values.names import readable
from honest_edge.core.values.specs import ArtSource
from honest_edge.files.file_kinds import PICTURE_SUFFIXES, VECTOR_KINDS, drawn_kind

_WHOLE = ArtSource()


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
    look_px: int = 0,
    cancelled: Callable[[], bool] = lambda: False,
) -> Artwork:
    """Return the picture in ``data``.

    Args:
        data: the file's bytes.
        name: what messages call it.
        source: which page, layers and region, and what becomes of the paper.
        width_mm: finished width, which decides how finely a drawing is drawn; None takes the stated one.
        look_px: of a plain picture, about how long its longer side is for a first look; 0 takes all of it.
        cancelled: asked while a drawing is drawn.

    Raises:
        ArtError: no picture of a known kind, damaged, or outside the stated size limits.
        Cancelled: ``cancelled`` said so.
    """
    if not data:
        raise ArtError(f"{name} is empty: export the picture again")
    kind = drawn_kind(data)
    if source.corners is not None:
        look_px = 0  # what is warped has a size of its own, known of the whole alone
    whole = _drawn(data, kind or "picture", name, source, width_mm, look_px, cancelled)
    if source.cut_layers:
        from honest_edge.core.imaging.cut_lines import cut_along

        lines = _drawn(data, kind or "picture", name, source, width_mm, look_px, cancelled, source.cut_layers)
        whole = replace(whole, pixels=cut_along(whole.pixels, lines.pixels[..., 3]))
    if source.corners is not None:
        from honest_edge.core.imaging.upright import set_upright

        whole = replace(whole, pixels=set_upright(whole.pixels, source.corners))
    if source.paper != "kept":
        from honest_edge.core.imaging.paper import whitened

        whole = replace(whole, pixels=whitened(whole.pixels, source.paper))
    return whole if source.region is None else _cropped(whole, source.region)


def _drawn(
    data: bytes,
    kind: str,
    name: str,
    source: ArtSource,
    width_mm: float | None,
    look_px: int,
    cancelled: Callable[[], bool],
    only_layers: tuple[int, ...] = (),
) -> Artwork:
    from honest_edge.files.drawing_child import Request
    from honest_edge.files.drawing_parent import RENDERER  # its children start with the first picture

    if width_mm is not None and source.region is not None:
        width_mm /= source.region[2] - source.region[0]
    request = Request(
        kind=kind,  # type: ignore[arg-type]
        name=readable(name),  # a name that is no UTF-8 cannot be told to the child
        page=source.page,
        hidden_layers=() if only_layers else tuple(sorted({*source.hidden_layers, *source.cut_layers})),
        only_layers=only_layers,
        width_mm=width_mm,
        look_px=look_px,
    )
    answer, pixels = RENDERER.draw(data, request, cancelled=cancelled)
    stated: SizeSource = answer.source  # type: ignore[assignment]
    drawn: tuple[tuple[SizeSource, float], ...] = () if stated == "assumed" else ((stated, answer.stated_ppi),)
    return Artwork(
        pixels=pixels,
        stated_ppi=answer.stated_ppi,
        size_source=stated,
        lossy=answer.lossy,
        notes=answer.notes,
        statements=answer.statements if kind == "picture" else drawn,  # type: ignore[arg-type]
        is_vector=kind in VECTOR_KINDS,
        page_count=answer.page_count,
        layers=answer.layers,
        cutting=answer.cutting,
        look_of_px=answer.look_of_px,
        inner_px=answer.inner_px,
    )


def _cropped(whole: Artwork, region: tuple[float, float, float, float]) -> Artwork:
    height, width = whole.pixels.shape[:2]
    left, right = round(region[0] * width), max(round(region[2] * width), round(region[0] * width) + 1)
    top, bottom = round(region[1] * height), max(round(region[3] * height), round(region[1] * height) + 1)
    pixels = np.ascontiguousarray(whole.pixels[top:bottom, left:right])
    return replace(whole, pixels=pixels, inner_px=whole.inner_px * (right - left) / width)
