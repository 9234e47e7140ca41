"""What a ruler says of a print."""

from dataclasses import replace

import pytest

from honest_edge.core.run.print_check import PrintReading, checked, expected_mm, fitted_scale, tolerance_mm
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.sheet import SheetSpec

LETTER = SheetSpec()
BEARS_MM = 0.3


def said(across=None, down=None, ruler=None, sheet=LETTER):
    return checked(PrintReading(across_mm=across, down_mm=down, ruler_mm=ruler), sheet, BEARS_MM)


def test_letter_with_marks_at_12_mm_is_191_9_by_255_4():
    """215.9 x 279.4 mm is Letter (ANSI/ASME Y14.1)."""
    assert expected_mm(LETTER) == pytest.approx((191.9, 255.4))


def test_a_print_that_was_fitted_to_the_page_is_known_by_its_number():
    """5 mm of rim leave 205.9 of 215.9 mm: 191.9 comes out at 183.0."""
    assert 191.9 * fitted_scale(LETTER) == pytest.approx(183.0, abs=0.05)
    assert said(across=183.0).verdict == "fitted"
    assert said(183.0, 243.6, 47.7).verdict == "fitted"


@pytest.mark.parametrize(
    ("reading", "verdict"),
    [
        ((192.0, 255.5, 50.0), "true"),
        ((191.9, None, None), "true"),
        ((None, None, 50.0), "true"),
        ((186.1, 247.7, 48.5), "scaled"),  # 97 %
        ((191.9, 252.0, None), "stretched"),
        ((7.55, 10.05, None), "in inches"),
        ((19.0, None, None), "misread"),
        ((1919.0, None, None), "misread"),
    ],
)
def test_a_reading_is_told_for_what_it_is(reading, verdict):
    assert said(*reading).verdict == verdict


def test_nothing_read_is_nothing_known():
    with pytest.raises(UsageError, match="Nothing was read"):
        said()


def test_what_is_allowed_comes_from_the_half_span_and_what_the_edge_bears():
    """A print larger by s moves its ends by s L / 2 each: L may be off by twice what an edge bears."""
    assert tolerance_mm(255.4, 0.3) == pytest.approx(0.6)
    assert tolerance_mm(255.4, 0.05) == 0.5  # no ruler tells less
    assert tolerance_mm(255.4, 9.0) < 1.0  # nor is a scaled print let pass because a border is wide


def test_a_borderless_printer_cannot_fit_to_the_page():
    no_rim = replace(LETTER, printer=replace(LETTER.printer, rim_mm=0.0))
    assert fitted_scale(no_rim) == 1.0
    assert said(183.0, 243.6, 47.7, sheet=no_rim).verdict == "scaled"
