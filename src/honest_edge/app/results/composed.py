"""A layered design put together."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import shapely

from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.layers.flatten import Flattened
from honest_edge.core.layers.stack import Content, Stack, placed
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.findings import Finding
from honest_edge.core.values.units import MM_PER_INCH


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Composed:
    """A layered design put together.

    Attributes:
        contents: what each layer holds, in its own frame, by key; hidden ones too.
        errors: why a layer holds nothing, by key.
        stack: the printed layers together, in the frame in which they are placed.
        flat: the one picture and its contour.
        findings: what needs a look in single layers.
        lowest_ppi: of the softest picture; None without pictures.
    """

    contents: Mapping[str, Content]
    errors: Mapping[str, str]
    stack: Stack
    flat: Flattened
    findings: tuple[Finding, ...]
    lowest_ppi: float | None

    @property
    def artwork(self) -> Artwork:
        """The flattened picture."""
        return Artwork(
            pixels=self.flat.pixels,
            stated_ppi=MM_PER_INCH / self.flat.pixel_mm,
            size_source="layers",
            is_vector=self.lowest_ppi is None,
        )

    @property
    def quiet_zones(self) -> list[shapely.MultiPolygon]:
        """The grounds of all codes, in the frame of the flattened picture."""
        corner = np.array([self.flat.left_mm, self.flat.top_mm])
        areas = []
        for entry in self.stack.entries:
            if entry.layer is not None and entry.layer.code is not None and entry.content.ground is not None:
                area = placed(entry.content.ground, entry.matrix)
                areas.append(as_multipolygon(shapely.transform(area, lambda points: points - corner)))
        return areas
