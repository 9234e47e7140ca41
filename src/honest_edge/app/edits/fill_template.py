"""Reads the art for a template and makes the new job."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from pathlib import Path

from honest_edge.app.edits.job_holder import name_of_file
from honest_edge.app.edits.library import NewArt, filled
from honest_edge.app.edits.open_art import decoded
from honest_edge.core.values.job import Job
from honest_edge.core.values.names import readable
from honest_edge.files.read_input import read_input

_MOST_BYTES = 500_000_000


def fill_template(
    template: Job,
    assets: Mapping[str, bytes],
    title: str,
    chosen: Mapping[str, Path],
    words: Mapping[tuple[str, str], str],
) -> tuple[Job, dict[str, bytes]]:
    """Return the job that a template makes, and its originals.

    Args:
        template: the kept job.
        assets: its originals.
        title: of the new job.
        chosen: pictures by the key of the design that they take the place of.
        words: by the keys of design and layer.

    Raises:
        FileError, ArtError: a picture cannot be read.
        UsageError: something cannot be used.
    """
    olds = {design.key: design for design in template.designs}
    originals, art = dict(assets), {}
    for key, path in chosen.items():
        data, name = read_input(path, _MOST_BYTES), readable(path.name)
        asset = hashlib.sha256(data).hexdigest()
        originals[asset] = data
        old = olds[key]
        art[key] = NewArt(
            asset=asset,
            file_name=name,
            name=name_of_file(name),
            old=decoded(assets[old.asset], old.file_name),
            new=decoded(data, name),
        )
    job = filled(template, title, art, words)
    needed = {asset for design in job.designs for asset in design.assets}
    return job, {asset: data for asset, data in originals.items() if asset in needed}
