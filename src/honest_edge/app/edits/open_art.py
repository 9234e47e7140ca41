"""Jobs made from files: the width a new design starts with, and the demo job."""

from __future__ import annotations

from collections.abc import Mapping
from importlib import resources
from pathlib import PurePath

from honest_edge.app.edits.job_holder import JobHolder, new_design
from honest_edge.app.edits.same_again import with_other_picture
from honest_edge.app.results.progress import IsCancelled, never
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import Picture
from honest_edge.core.values.names import readable
from honest_edge.core.values.specs import LARGEST_WIDTH_MM, SMALLEST_WIDTH_MM
from honest_edge.files.project import LoadedProject, parse_project
from honest_edge.files.read_art import read_art


def starting_width_mm(artwork: Artwork) -> float:
    """Return the width the file states (or that 300 ppi gives), held within what a design may have."""
    return min(max(artwork.stated_width_mm, SMALLEST_WIDTH_MM), LARGEST_WIDTH_MM)


def design_of(holder: JobHolder, job: Job, data: bytes, file_name: str, artwork: Artwork) -> Design:
    """Return a design for a picture that was decoded, and keep the original."""
    return new_design(job, holder.add_asset(data), readable(PurePath(file_name).name), starting_width_mm(artwork))


def design_from(holder: JobHolder, job: Job, data: bytes, file_name: str, *, cancelled: IsCancelled = never) -> Design:
    """Return a design for a picture's bytes and keep the original.

    Raises:
        ArtError: it cannot be read.
        Cancelled: ``cancelled`` said so.
    """
    return design_of(holder, job, data, file_name, decoded(data, file_name, cancelled=cancelled))


LOOK_PX = 800
"""The longer side of a first look: about as many pixels as the table has."""


def decoded(data: bytes, file_name: str, *, look_px: int = 0, cancelled: IsCancelled = never) -> Artwork:
    """Return the picture in a file's bytes.

    Args:
        data: the file's bytes.
        file_name: the file's name.
        look_px: about how long its longer side is for a first look; 0 takes all of it.
        cancelled: asked while it is decoded.

    Raises:
        ArtError: it cannot be read.
        Cancelled: ``cancelled`` said so.
    """
    return read_art(data, readable(PurePath(file_name).name), look_px=look_px, cancelled=cancelled)


def picture_from(holder: JobHolder, data: bytes, file_name: str, *, cancelled: IsCancelled = never) -> Picture:
    """Return a picture's bytes as what a layer holds, and keep the original.

    Raises:
        ArtError: it cannot be read.
        Cancelled: ``cancelled`` said so.
    """
    name = readable(PurePath(file_name).name)
    artwork = read_art(data, name, cancelled=cancelled)
    return Picture(asset=holder.add_asset(data), file_name=name, width_mm=starting_width_mm(artwork))


def with_other_pictures(
    job: Job, assets: Mapping[str, bytes], pictures: Mapping[str, tuple[str, bytes]]
) -> tuple[Job, dict[str, bytes]]:
    """Return a job with other pictures in some of its designs, and its originals with theirs.

    Args:
        job: the job.
        assets: its originals.
        pictures: file names and bytes by the key of the design.

    Raises:
        ArtError: one cannot be read.
    """
    holder = JobHolder()
    holder.assets.update(assets)
    for key, (name, data) in pictures.items():
        job = with_other_picture(job, key, picture_from(holder, data, name))
    return job, holder.assets


def demo_project() -> LoadedProject:
    """Return the demo job, Quillwort Tea Garden, and its pictures."""
    data = resources.files("honest_edge.app").joinpath("demo.hedge").read_bytes()
    return parse_project(data, "demo.hedge")
