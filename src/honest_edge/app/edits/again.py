"""A job that was cut, to be cut again with another number of pieces."""

from __future__ import annotations

from dataclasses import replace

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import MOST_COPIES


def with_pieces(job: Job, before: int, wanted: int) -> Job:
    """Return a job with as many pieces as are wanted, each design in the share that it had.

    Args:
        job: as it was cut.
        before: pieces that were cut then.
        wanted: pieces that are to be cut now.

    Raises:
        UsageError: ``wanted`` is no number of pieces.
    """
    if not 1 <= wanted <= MOST_COPIES * max(1, len(job.designs)):
        raise UsageError(f"{wanted} pieces cannot be cut: type 1 to {MOST_COPIES} for each design")
    if wanted == before or not before:
        return job
    alone = len(job.designs) == 1
    designs = []
    for design in job.designs:
        rows = 1 if design.table is None else max(1, len(design.table.kept))
        copies = round(wanted / rows) if alone else round(design.copies * wanted / before)
        if design.copies or alone:
            copies = min(max(1, copies), MOST_COPIES)
            designs.append(replace(design, copies=copies, spares=0, fills=design.fills and not alone))
        else:
            designs.append(design)
    return replace(job, designs=tuple(designs), layout=(), pins=())
