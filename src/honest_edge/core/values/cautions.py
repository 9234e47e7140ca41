"""What can hurt: said where it can, on the page of a run and on the ticket for whoever works without one.

Common practice, no published source; the makers' own words come first.
"""

from __future__ import annotations

from honest_edge.core.values.forms import Form
from honest_edge.core.values.stock import Stock

Caution = tuple[str, str]
"""What it is, and what to do."""

BLADE: Caution = (
    "Keep fingers off the carriage",
    "The blade is sharp and moves without warning. Change it with the power off. The maker’s manual comes first.",
)
DIRECT: Caution = (
    "It moves when you press",
    "Clear the way of the blade and keep your hands away from it. Escape stops it. The maker’s manual comes first.",
)
AIR: Caution = ("Open a window", "Laminate and spray give off vapour. Follow what their maker says.")
PEEL: Caution = ("Weed away from yourself", "Hooks and blades slip. Keep the other hand behind them.")
HEAT: Caution = (
    "Presses and irons burn",
    "Keep to the temperatures of the film’s maker, and let it cool before you peel.",
)
USE: Caution = (
    "Not for food, nor for small children",
    "Printed stickers are not rated for food contact, and small parts are not for children under three.",
)
FOOD: Caution = (
    "On the outside of the jar only",
    "Ink, paper and glue are not rated for food contact: nothing of the label may touch what is eaten.",
)


def while_made(form: Form) -> Caution | None:
    """Return what to be careful of while a form is made; None where there is nothing."""
    return FOOD if form.kind in ("wrap label", "lid label", "oval label") else None


def after_cutting(stock: Stock) -> Caution:
    """Return what to be careful of with what was cut."""
    return HEAT if stock.is_pressed else USE


def of_job(stock: Stock) -> tuple[Caution, ...]:
    """Return all that whoever makes a job should have read."""
    return (BLADE, PEEL, *((HEAT,) if stock.is_pressed else ()), USE)
