"""The parts of the Book, as their buttons stand."""

from __future__ import annotations

from honest_edge.ui.rooms.book.blades import BladesSection
from honest_edge.ui.rooms.book.library import LibrarySection
from honest_edge.ui.rooms.book.runs import RunsSection
from honest_edge.ui.rooms.book.section import Section
from honest_edge.ui.rooms.book.shelf import ShelfSection
from honest_edge.ui.rooms.book.stock import StockSection
from honest_edge.ui.rooms.book.test_cuts import TestCutsSection

SECTIONS: tuple[type[Section], ...] = (
    RunsSection,
    TestCutsSection,
    BladesSection,
    StockSection,
    LibrarySection,
    ShelfSection,
)
