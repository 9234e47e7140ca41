"""Which school suits, from the art's own art_edge."""

import numpy as np
import pytest

from edges import made
from honest_edge.core.edge.advice import advise, traits_of
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from honest_edge.core.values.stock import Stock
from pictures import coverage, disc, rgba

SHARES = {"border": 0.97, "bleed": 0.98, "inside": 0.99, "bare": 0.1}


def art(kind):
    pixels = rgba(coverage(disc(140, 170, 170), 340, 340), (180, 60, 40))
    row, column = np.mgrid[:340, :340]
    if kind == "gradient":
        pixels[..., 1] = (column * 0.7).astype(np.uint8)
    elif kind == "pattern":
        pixels[((row // 12 + column // 12) % 2) == 0, :3] = (240, 220, 60)
    elif kind == "unseen":
        pixels[..., :3] = 250
    return pixels


def traits(kind, stock=Stock()):  # noqa: B008 - a frozen value
    edge = made(art(kind), SCHOOL_DEFAULTS["bleed"], stock=stock)
    return traits_of(edge.art_edge, edge.outline)


@pytest.mark.parametrize("kind", ["uniform", "gradient", "pattern", "unseen"])
def test_rims_are_told_apart(kind):
    assert traits(kind).kind == kind


@pytest.mark.parametrize(
    ("kind", "school"), [("uniform", "bleed"), ("gradient", "bleed"), ("pattern", "border"), ("unseen", "bare")]
)
def test_the_advice_follows_the_rim(kind, school):
    shares = {**SHARES, "bare": 1.0} if kind == "unseen" else SHARES
    advice = advise(traits(kind), shares, border_is_white=True, stock_words="white")
    assert advice.school == school
    assert all(reason and not reason.endswith(".") for reason in advice.reasons)


def test_a_border_that_would_not_be_white_is_not_advised():
    advice = advise(traits("pattern"), SHARES, border_is_white=False, stock_words="clear film")
    assert advice.school == "inside"
    assert any("clear film, not white" in reason for reason in advice.reasons)


def test_white_art_on_dark_stock_is_not_unseen():
    assert traits("unseen", Stock(rgb=(40, 40, 40))).kind == "uniform"


def test_a_school_that_comes_out_much_cleaner_wins():
    shares = {**SHARES, "bleed": 0.6}
    assert advise(traits("uniform"), shares, border_is_white=True, stock_words="white").school == "border"
