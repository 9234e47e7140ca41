import pytest

from honest_edge.core.values.comparison import COMPARISONS, typed_comparison
from honest_edge.core.values.errors import UsageError


@pytest.mark.parametrize(
    ("text", "unit", "width_mm", "height_mm", "is_round"),
    [
        ("63 mm", "mm", 63, 63, True),
        ("63", "mm", 63, 63, True),
        ("2 x 3 in", "mm", 50.8, 76.2, False),
        ("1 1/2in × 1.9in", "mm", 38.1, 48.26, False),
        ("2 x 3", "in", 50.8, 76.2, False),
    ],
)
def test_discs_and_boxes_are_typed_with_any_unit(text, unit, width_mm, height_mm, is_round):
    typed = typed_comparison(text, unit)
    assert (typed.width_mm, typed.height_mm) == pytest.approx((width_mm, height_mm))
    assert typed.is_round == is_round


@pytest.mark.parametrize("text", ["", "round", "1 x 2 x 3 mm", "0 mm", "9 m"])
def test_what_lies_on_no_table_is_refused(text):
    with pytest.raises(UsageError):
        typed_comparison(text, "mm")


def test_an_a7_envelope_holds_a_folded_card_of_5_by_7_in():
    envelope = next(c for c in COMPARISONS if c.name.startswith("A7"))
    assert (envelope.width_mm, envelope.height_mm) == pytest.approx((7.25 * 25.4, 5.25 * 25.4))
