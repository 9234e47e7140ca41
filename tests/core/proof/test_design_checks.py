"""What of a cut gives a cutter trouble."""

import numpy as np
import pytest
import shapely

from honest_edge.core.edge.contour import CutLines
from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.proof.design_checks import of_nodes
from honest_edge.core.values.job import Design


def disc_of(node_count, radius_mm=10.0):
    """A disc of so many straight pieces."""
    angles = np.arange(node_count) * 2 * np.pi / node_count
    ring = radius_mm * np.column_stack([np.cos(angles), np.sin(angles)])
    step = (np.roll(ring, -1, axis=0) - ring) / 3
    cubics = np.stack([ring, ring + step, ring + 2 * step, ring + 3 * step], axis=1)
    curve = CurveRing(cubics=cubics, straight=np.ones(node_count, bool))
    return CutLines(area=shapely.MultiPolygon([shapely.Polygon(ring)]), curves=(curve,), line_kind="kiss")


@pytest.mark.parametrize(("node_count", "is_found"), [(12, False), (120, False), (130, True), (600, True)])
def test_nodes_closer_than_half_a_millimetre_are_said(node_count, is_found):
    """A disc of 62.8 mm round: 0.5 mm apart are 126 nodes."""
    found = list(of_nodes(Design(key="d1", name="Disc", asset="a" * 64, file_name="disc.png"), disc_of(node_count)))
    assert bool(found) == is_found
    for finding in found:
        assert finding.measured.value == pytest.approx(20 * np.pi / node_count, rel=1e-3)
        assert f"{node_count} nodes" in finding.message
        assert finding.places[0].geometry.length == pytest.approx(20 * np.pi, rel=1e-3)
