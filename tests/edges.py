"""A picture taken all the way to its edge, and edges made of exact geometry."""

from dataclasses import dataclass

import numpy as np
import shapely

from honest_edge.core.edge.art_edge import art_edge_of
from honest_edge.core.edge.bleed import carry_colour, printed_area
from honest_edge.core.edge.contour import contour
from honest_edge.core.edge.forecast import forecast
from honest_edge.core.edge.model import EdgeModel, edge_model
from honest_edge.core.edge.profile import profile
from honest_edge.core.geometry.distance import distance_field
from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.imaging.background import clear_background
from honest_edge.core.outline.outline import outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.lazy import lazy_property
from honest_edge.core.values.misregistration import MARKS_MIDDLE
from honest_edge.core.values.specs import OutlineRecipe
from honest_edge.core.values.stock import Stock

PIXEL_MM = 25.4 / 300
REACH_MM, STEP_MM = 4.0, 0.1


@dataclass(frozen=True)
class MadeEdge:
    """Everything about one picture's edge at 300 ppi."""

    pixels: np.ndarray
    recipe: object
    background: str
    stock: Stock

    @lazy_property
    def subject(self):
        art = Artwork(pixels=self.pixels, stated_ppi=300, size_source="assumed")
        return clear_background(art, OutlineRecipe(background=self.background))

    @property
    def width_mm(self):
        return self.pixels.shape[1] * PIXEL_MM

    @lazy_property
    def outline(self):
        traced = trace_pixels(self.subject.coverage)
        return outline_of(traced, width_px=self.pixels.shape[1], width_mm=self.width_mm, recipe=OutlineRecipe())

    @lazy_property
    def cut(self):
        return contour(self.outline, self.recipe)

    @lazy_property
    def art(self):
        return carry_colour(self.subject, self.outline, self.cut, self.recipe)

    @lazy_property
    def art_edge(self):
        return art_edge_of(self.subject, self.outline, self.stock)

    @lazy_property
    def model(self):
        return edge_model(
            self.outline,
            self.cut,
            printed_area(self.art, self.outline, 0.5),
            self.art_edge,
            self.recipe,
            width_mm=self.width_mm,
            largest_mm=3.0,
        )

    @lazy_property
    def profile(self):
        return profile(self.cut, self.art, self.model, self.art_edge)

    def forecast(self, error, place=MARKS_MIDDLE, visible_mm=0.1):
        return forecast(self.model, error, place, visible_mm=visible_mm)


def made(pixels, recipe, *, background="auto", stock=Stock()):  # noqa: B008 - a frozen value
    return MadeEdge(pixels, recipe, background, stock)


def exact_model(cut, ink=None, detail=None, points=None):
    """Return the model of a cut polygon, the ink and the detail as polygons, without any picture."""
    left, top, right, bottom = cut.bounds
    box = (left - REACH_MM, top - REACH_MM, right + REACH_MM, bottom + REACH_MM)

    def field(area):
        return distance_field(as_multipolygon(area), box, reach_mm=REACH_MM, step_mm=STEP_MM)

    def places(area):
        return shapely.get_coordinates(shapely.segmentize(area.boundary, 0.25))

    return EdgeModel(
        cut_points=(places(cut) if points is None else points) if ink is not None else np.empty((0, 2)),
        ink=field(cut if ink is None else ink),
        detail_points=np.empty((0, 2)) if detail is None else places(detail),
        cut=field(cut),
        middle=np.array([(left + right) / 2, (top + bottom) / 2]),
        detail=shapely.MultiPolygon() if detail is None else as_multipolygon(detail),
        is_inked=ink is not None,
        border_mm=0.0,
    )
