"""How far a bench strays at a place of the sheet."""

import pytest

from honest_edge.core.values.misregistration import (
    Misregistration,
    Scatter,
    SheetPlace,
    assumed_misregistration,
    strays_mm,
)


def test_an_average_error_counts_whole_and_at_its_place():
    shifted = Misregistration(shift_x_mm=Scatter(bias=0.3), shift_y_mm=Scatter(bias=-0.4))
    assert strays_mm(shifted) == pytest.approx(0.5)
    turned = Misregistration(rotation_deg=Scatter(bias=1.0))
    assert strays_mm(turned) == 0
    assert strays_mm(turned, SheetPlace(x_mm=100.0)) == pytest.approx(1.7453, abs=1e-3)  # 100 mm times a degree
    grown = Misregistration(scale_y_percent=Scatter(bias=0.5))
    assert strays_mm(grown, SheetPlace(x_mm=80.0, y_mm=-100.0)) == pytest.approx(0.5)


def test_what_is_assumed_to_stay_within_a_distance_strays_as_far():
    assert strays_mm(assumed_misregistration(0.5)) == pytest.approx(0.5)


def test_scatter_of_turn_adds_with_the_distance_from_the_marks_middle():
    turning = Misregistration(rotation_deg=Scatter(spread=0.1))
    near, far = (strays_mm(turning, SheetPlace(x_mm=x)) for x in (50.0, 100.0))
    assert far == pytest.approx(2 * near)
