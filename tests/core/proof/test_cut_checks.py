"""Lines that cross themselves, that are not closed, that turn back: found where they are."""

import numpy as np
import pytest
import shapely

from honest_edge.core.edge.contour import CutLines
from honest_edge.core.geometry.lines import CutPath, polyline
from honest_edge.core.proof.cut_checks import crossings, cut_findings, hairpins
from honest_edge.core.values.job import Design
from honest_edge.core.values.machine import Machine

DESIGN = Design(key="d1", name="Art", asset="a" * 64, file_name="art.png")
MACHINE = Machine()
BOX = [(0, 0), (20, 0), (20, 20), (0, 20)]


def cut_of(ring, *lines, kind="kiss"):
    curve = polyline(np.array(ring, float), closed=True)
    area = shapely.make_valid(shapely.Polygon(ring))
    parts = [part for part in shapely.get_parts(area) if part.geom_type == "Polygon"]
    return CutLines(area=shapely.MultiPolygon(parts), curves=(curve,), line_kind=kind, lines=lines)


def found(cut, machine=MACHINE):
    findings = cut_findings(DESIGN, cut, cut.area, 20.0, machine)
    return {finding.check: finding for finding in findings}


def test_a_figure_of_eight_crosses_itself_in_its_middle():
    eight = [(0, 0), (20, 20), (20, 0), (0, 20)]
    finding = found(cut_of(eight))["crossing"]
    assert finding.severity == "blocks"
    assert finding.places[0].middle_mm == pytest.approx((10, 10))
    assert finding.fix.outline.smoothness_mm < 0.05
    assert "crossing" not in found(cut_of(BOX))
    assert crossings(polyline(np.array(eight, float), closed=True)) == [(10.0, 10.0)]


def test_a_line_whose_ends_were_meant_to_meet_is_open_and_a_slit_is_not():
    nearly = polyline(np.array([(0, 0), (15, 0), (15, 15), (0, 15), (0, 0.8)], float), closed=False)
    slit = polyline(np.array([(0, 0), (15, 0)], float), closed=False)
    finding = found(cut_of(BOX, CutPath(kind="through", curve=nearly)))["open"]
    assert finding.measured.value == pytest.approx(0.8)
    assert finding.places[0].middle_mm == pytest.approx((0, 0.4))
    assert "open" not in found(cut_of(BOX, CutPath(kind="through", curve=slit)))
    assert "open" not in found(cut_of(BOX, CutPath(kind="crease", curve=nearly)))


def test_a_slot_turns_back_at_its_end_and_a_corner_does_not():
    slot = [(0, 0), (9.9, 0), (9.9, 12), (10.1, 12), (10.1, 0), (20, 0), (20, 20), (0, 20)]
    finding = found(cut_of(slot))["tight"]
    assert finding.places[0].middle_mm == pytest.approx((10, 12), abs=0.2)
    assert "tight" not in found(cut_of(BOX))
    assert "tight" not in found(cut_of(slot), Machine(blade_offset_mm=0.0))  # nothing trails
    assert not hairpins(np.array(BOX, float), 0.5)


def test_a_circle_is_tight_only_where_it_is_smaller_than_the_tip_follows():
    angle = np.linspace(0, 2 * np.pi, 90, endpoint=False)
    ring = np.stack([np.cos(angle), np.sin(angle)], 1)
    assert not hairpins(2.0 * ring, 0.5)  # 0.5 mm of a circle of 2 mm turn by 14 degrees
    assert hairpins(0.15 * ring, 0.5)  # of one of 0.15 mm by 191


def test_a_ring_is_a_frame_only_where_it_is_narrow_all_round():
    disc = shapely.Point(0, 0).buffer(15)
    wide, narrow = (
        CutLines(
            area=shapely.MultiPolygon([disc.difference(shapely.Point(0, 0).buffer(inner))]), curves=(), line_kind="kiss"
        )
        for inner in (8.0, 13.5)
    )
    assert "nested" not in found(wide)
    assert found(narrow)["nested"].severity == "blocks"
