"""Every page of a file becomes a design."""

from __future__ import annotations

from dataclasses import replace

from honest_edge.app.edits.job_holder import free_name
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import MOST_DESIGNS, Design, Job


def with_each_page(job: Job, design: Design, pages: int) -> Job:
    """Return the job with a design for each page of a file that has none yet, beside that which has one, in order.

    Raises:
        BlockedError: there would be more designs than a job holds.
    """
    there = {one.source.page for one in job.designs if one.asset == design.asset}
    if len(job.designs) + pages - len(there) > MOST_DESIGNS:
        raise BlockedError(f"A job holds {MOST_DESIGNS} designs, and the file has {pages} pages: choose single pages")
    grown = job
    for page in range(1, pages + 1):
        if page not in there:
            source = replace(design.source, page=page)
            name = free_name(grown, f"{design.name}, page {page}")
            page_design = replace(design, key=grown.free_key(), name=name, source=source)
            grown = replace(grown, designs=(*grown.designs, page_design))
    at = [one.key for one in job.designs].index(design.key) + 1
    new = grown.designs[len(job.designs) :]
    return replace(job, designs=(*job.designs[:at], *new, *job.designs[at:]))
