import pytest
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.units import format_length, parse_length


@pytest.mark.parametrize(
    ("text", "expected_mm"),
    [
        ("60 mm", 60.0),
        ("60mm", 60.0),
        ("3/16 in", 25.4 * 3 / 16),
        ("1 1/2in", 38.1),
        ("0.05in", 1.27),
        (".5 in", 12.7),
        ("1,2 mm", 1.2),
        ("2 cm", 20.0),
        ('2"', 50.8),
        ("72 pt", 25.4),
        ("-1 mm", -1.0),
        ("1 inch", 25.4),
    ],
)
def test_lengths_are_read_in_any_unit(text, expected_mm):
    assert parse_length(text) == pytest.approx(expected_mm)


def test_a_css_pixel_is_a_96th_of_an_inch():
    # CSS Values and Units 3, 6.2: 1in = 2.54cm = 96px
    assert parse_length("96 px", ppi=96) == pytest.approx(25.4)


def test_pixels_have_the_size_of_the_picture():
    assert parse_length("15 px", ppi=300) == pytest.approx(1.27)


@pytest.mark.parametrize("text", ["", "mm", "sixty mm", "1/0 in", "60 furlong", "60", "1 2 mm", "15 px", "1..2 mm"])
def test_what_is_no_length_is_refused_in_one_line(text):
    with pytest.raises(UsageError) as caught:
        parse_length(text)
    assert "\n" not in str(caught.value)


def test_a_bare_number_takes_the_default_unit():
    assert parse_length("2", default_unit="in") == pytest.approx(50.8)


@given(st.floats(0.01, 5000), st.sampled_from(["mm", "in"]))
def test_what_is_shown_reads_back(length_mm, unit):
    shown = format_length(length_mm, unit, digits=6)
    assert parse_length(shown) == pytest.approx(length_mm, abs=1e-4)


def test_nothing_is_minus_nothing():
    assert format_length(-0.001, "mm") == "0.0 mm"
