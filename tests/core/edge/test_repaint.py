"""Art that differs from other art well inside is printed as if its colour had been carried anew, or it is said."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edges import MadeEdge
from honest_edge.core.edge.bleed import carry_colour
from honest_edge.core.edge.repaint import repainted
from honest_edge.core.imaging.background import Subject
from honest_edge.core.values.specs import SCHOOL_DEFAULTS, EdgeRecipe
from honest_edge.core.values.stock import Stock

SIDE = 500
NOISE = np.random.default_rng(5).integers(0, 255, (SIDE, SIDE, 4), dtype=np.uint8)
NOISE[..., 3] = 255
NOISE[:20] = NOISE[-20:] = NOISE[:, :20] = NOISE[:, -20:] = 0
RECIPES = {
    "bleed": SCHOOL_DEFAULTS["bleed"],
    "border": SCHOOL_DEFAULTS["border"],
    "plain": EdgeRecipe(school="bleed", offset_mm=0, bleed_mm=1, fill="plain"),
    "cloth": EdgeRecipe(school="border", offset_mm=1, bleed_mm=1, fill="cloth", fill_rgb=(9, 9, 90)),
}
MADE = {name: MadeEdge(NOISE, recipe, "alpha", Stock()) for name, recipe in RECIPES.items()}


def anew(made, pixels):
    return carry_colour(Subject(pixels=pixels, method="alpha"), made.outline, made.cut, made.recipe)


@pytest.mark.parametrize("name", RECIPES)
@given(box=st.tuples(*[st.integers(20, SIDE - 60)] * 2, *[st.integers(1, 300)] * 2), rgb=st.integers(0, 255))
@settings(max_examples=8)
def test_it_is_what_carrying_anew_gives_or_nothing(name, box, rgb):
    made, (left, top, width, height) = MADE[name], box
    now = NOISE.copy()
    now[top : min(top + height, SIDE - 20), left : min(left + width, SIDE - 20), :3] = rgb
    found = repainted(made.art, NOISE, now, made.outline, made.recipe)
    if found is None:
        assert min(left, top) < 130 or max(left + width, top + height) > SIDE - 130
        return
    whole = anew(made, now)
    assert np.array_equal(found.pixels, whole.pixels)
    assert (found.left_mm, found.top_mm, found.ink_area) == (whole.left_mm, whole.top_mm, made.art.ink_area)


def test_a_change_in_the_middle_is_found():
    made = MADE["bleed"]
    now = NOISE.copy()
    now[200:260, 180:300, :3] = 0
    assert repainted(made.art, NOISE, now, made.outline, made.recipe) is not None
    assert repainted(made.art, NOISE, NOISE.copy(), made.outline, made.recipe) is made.art


def test_what_is_see_through_mirrored_or_of_another_size_is_carried_anew():
    made = MADE["bleed"]
    now = NOISE.copy()
    now[200:260, 180:300, 3] = 120
    assert repainted(made.art, NOISE, now, made.outline, made.recipe) is None
    assert repainted(made.art, NOISE, NOISE[1:], made.outline, made.recipe) is None
    mirrored = EdgeRecipe(school="bleed", bleed_mm=1, offset_mm=0, fill="mirror")
    assert repainted(made.art, NOISE, NOISE.copy(), made.outline, mirrored) is None
