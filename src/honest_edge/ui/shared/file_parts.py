"""A file that holds several pages or layers: each becomes a design, or a layer, as one step of undo."""

from __future__ import annotations

from typing import TYPE_CHECKING

from honest_edge.core.values.job import Design
from honest_edge.ui.shared.workspace import Workspace

if TYPE_CHECKING:
    from honest_edge.core.values.artwork import Artwork


def make_each_page_a_design(workspace: Workspace, design: Design, pages: int) -> None:
    """Add a design for each page of a design's file that has none yet."""
    from honest_edge.app.edits.pages import with_each_page

    job = workspace.build(lambda: with_each_page(workspace.job, design, pages))
    if job is not None:
        workspace.document.edit(job, f"a design of each of {pages} pages")


def make_each_layer_a_layer(workspace: Workspace, design: Design, artwork: Artwork) -> Design | None:
    """Put a stack of a file's layers in a design's place; return it, or None where that was not possible."""
    from honest_edge.app.edits.layer_edits import taken_apart

    height_mm = design.width_mm * artwork.height_px / artwork.width_px
    layered = workspace.build(lambda: taken_apart(design, height_mm, artwork.layers, dict(artwork.cutting)))
    return (
        layered if layered is not None and workspace.replace_design(layered, f"{len(layered.layers)} layers") else None
    )
