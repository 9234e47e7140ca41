"""The parts of the Book, as their buttons stand; each is loaded and made when it is first turned to."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import import_module
from typing import TYPE_CHECKING, cast

if TYPE_CHECKING:
    from honest_edge.ui.rooms.book.section import Section


@dataclass(frozen=True, slots=True)
class SectionEntry:
    """One part: what names it, what stands on its button, its module here and the class in it."""

    key: str
    title: str
    module: str
    name: str

    def load(self) -> type[Section]:
        """Return its class."""
        return cast("type[Section]", getattr(import_module(f"{__package__}.{self.module}"), self.name))


SECTIONS: tuple[SectionEntry, ...] = (
    SectionEntry("runs", "Runs", "runs", "RunsSection"),
    SectionEntry("recipes", "Recipes", "recipes", "RecipesSection"),
    SectionEntry("test cuts", "Test cuts", "test_cuts", "TestCutsSection"),
    SectionEntry("blades", "Blades", "blades", "BladesSection"),
    SectionEntry("stock", "Stock", "stock", "StockSection"),
    SectionEntry("library", "Library", "library", "LibrarySection"),
    SectionEntry("shelf", "Shelf", "shelf", "ShelfSection"),
)


def load_all() -> None:
    """Load every part, so that none is waited for later; from a thread."""
    for entry in SECTIONS:
        entry.load()
