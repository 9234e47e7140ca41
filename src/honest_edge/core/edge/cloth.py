"""What is ironed on to cloth: the rim and the ground that hide a slip of the cut have the cloth's colour."""

from __future__ import annotations

from dataclasses import replace

from honest_edge.core.values.specs import EdgeRecipe
from honest_edge.core.values.stock import Stock


def on_stock(recipe: EdgeRecipe, stock: Stock) -> EdgeRecipe:
    """Return a recipe with the colour of the stock's cloth; with the nearest colour where the stock names none."""
    if recipe.fill != "cloth":
        return recipe
    if stock.cloth_rgb is None:
        return replace(recipe, fill="nearest")
    return replace(recipe, fill_rgb=stock.cloth_rgb)
