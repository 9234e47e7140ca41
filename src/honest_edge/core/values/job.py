"""A job: everything the user decided, and which originals it is about."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.findings import MOST_LEFT, Leaving
from honest_edge.core.values.forms import Form
from honest_edge.core.values.layers import MOST_LAYERS, PLACEHOLDER_TITLE, Backing, Layer
from honest_edge.core.values.layouts import Layout, Pin
from honest_edge.core.values.measured import ErrorParts
from honest_edge.core.values.misregistration import VISIBLE_MM, Misregistration, assumed_misregistration
from honest_edge.core.values.names import check_key, check_letters
from honest_edge.core.values.orders import MOST_ORDER_LINES, OrderLine
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import (
    MOST_COPIES,
    ArtSource,
    EdgeRecipe,
    OutlineRecipe,
    WantedSize,
    check_copies,
    check_width,
)
from honest_edge.core.values.tables import Table
from honest_edge.core.values.units import check_range

ASSUMED_DRIFT_MM = 0.5
"""How far print and cut may disagree until it is measured; common practice, no published source."""

KEPT_CLEAR_MM = 3.0
"""How far words stay from cuts and holes; common practice, no published source."""

ASSUMED_NARROWEST_MM = 0.8
"""What a swivelling blade still follows until it is tried; common practice, no published source."""

MOST_DESIGNS = 500
MOST_LAID = 200_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Design:
    """One sticker of a job: one picture, or a stack of layers.

    Attributes:
        key: names the design within its job, for good.
        name: what the user calls it.
        asset: SHA-256 of the picture's bytes, in hexadecimal; empty for layers.
        file_name: what the picture was called.
        width_mm: finished width of the picture; that of layers follows from them.
        source: which part of the original is the picture.
        copies: how many are wanted by themselves; 0 for one that only lies on a sheet of stickers.
        spares: how many more are made, for those that fail.
        fills: whether it fills what all others leave of the sheets.
        layers: bottom first.
        backing: a plain ground behind the layers.
        form: what the layers lie on and are cut to, its middle at the origin; None cuts round the layers.
        table: texts for the fields in its words and codes, one label a row; None for none.
        is_flattened: the printed layers are one picture with one cut; if not, each is cut by itself.
        wanted: the size that was typed last, which holds whatever else changes; None where none was.
    """

    key: str
    name: str
    asset: str = ""
    file_name: str = ""
    width_mm: float = 50.0
    source: ArtSource = field(default_factory=ArtSource)
    outline: OutlineRecipe = field(default_factory=OutlineRecipe)
    edge: EdgeRecipe = field(default_factory=EdgeRecipe)
    copies: int = 6
    spares: int = 0
    fills: bool = False
    layers: tuple[Layer, ...] = ()
    backing: Backing | None = None
    form: Form | None = None
    table: Table | None = None
    is_flattened: bool = True
    wanted: WantedSize | None = None

    def __post_init__(self) -> None:
        check_key("design", self.key)
        check_letters("the name", self.name, self.file_name)
        check_width(self.width_mm)
        check_copies(self.copies, least=0)
        check_range("spare copies", self.spares, 0, MOST_COPIES, "")
        check_range("layers of a design", len(self.layers), 0, MOST_LAYERS, "")
        if bool(self.asset) == self.is_layered:
            raise UsageError(f"“{self.name}” must hold one picture, or some layers, or have a form")
        if self.table is not None and self.form is None:
            raise UsageError("A table fills labels that are all cut alike: put the words on a form first")
        if len({layer.key for layer in self.layers}) != len(self.layers):
            raise UsageError(f"Two layers of “{self.name}” share one key")

    @property
    def label_count(self) -> int:
        """How many stickers are wanted, spare ones and all rows of its table together."""
        return (self.copies + self.spares) * (1 if self.table is None else len(self.table.kept))

    @property
    def is_cut_only(self) -> bool:
        """Whether all of it is cut from coloured stock and nothing printed."""
        pieces = any(layer.is_piece for layer in self.layers)
        return pieces and self.form is None and not any(layer.is_printed for layer in self.layers)

    @property
    def is_layered(self) -> bool:
        """Whether it is put together from layers."""
        return bool(self.layers) or self.form is not None

    @property
    def stickers(self) -> tuple[str, ...]:
        """Keys of the designs that lie on it as stickers."""
        return tuple(dict.fromkeys(a.sticker.design for a in self.layers if a.sticker and not a.is_hidden))

    @property
    def assets(self) -> dict[str, str]:
        """The originals it is made of, SHA-256 to file name."""
        own = {self.asset: self.file_name} if self.asset else {}
        return own | {asset: name for layer in self.layers for asset, name in layer.assets}

    def layer(self, key: str) -> Layer:
        """Return the layer with this key.

        Raises:
            KeyError: the design has none.
        """
        for layer in self.layers:
            if layer.key == key:
                return layer
        raise KeyError(key)


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchCopy:
    """What the Book says of a bench, as the job was computed with it.

    Attributes:
        machine, printer: their names; it holds only where the sheet has them.
        key: names what it rests on in the Book.
        error: what the next sheet will show, what cut files are moved by reckoned in.
        correction: what cut files are moved by.
        sheets: that were measured.
        newest_ms: when the newest was, UTC milliseconds.
    """

    machine: str
    printer: str
    key: str
    error: Misregistration
    correction: ErrorParts = ErrorParts()  # noqa: RUF009 it is frozen
    sheets: int = 1
    newest_ms: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """All designs, the sheet and what is assumed of the cutter.

    Attributes:
        title: what the user calls it.
        designs: in the order they were added.
        sheet: what they are laid out on.
        pins: copies placed by hand.
        layout: where all copies lie, as a search found it; no longer used when it does not fit the job any more.
        drift_mm: within what distance print and cut agree 19 times of 20, where no more is known.
        error: how they disagree in full, as it was typed; None takes what was measured, else what ``drift_mm`` says.
        measured: what is known of the bench, from the Book; None where nothing was measured.
        visible_mm: narrower white and shallower losses are not seen.
        png_ppi: the print is a PNG of so many pixels per inch for each sheet; None makes it a PDF.
        kept_clear_mm: how far words stay from cuts and holes.
        narrowest_mm: width of a strand or gap below which the blade does not follow.
        left: what was found and is left as it is, each with a reason.
        prints: how often each sheet of the layout is printed; once where it says nothing.
        order: who wants how many of which design; empty where nothing was ordered.
    """

    title: str = PLACEHOLDER_TITLE
    designs: tuple[Design, ...] = ()
    sheet: SheetSpec = field(default_factory=SheetSpec)
    pins: tuple[Pin, ...] = ()
    layout: Layout = ()
    drift_mm: float = ASSUMED_DRIFT_MM
    error: Misregistration | None = None
    measured: BenchCopy | None = None
    visible_mm: float = VISIBLE_MM
    narrowest_mm: float = ASSUMED_NARROWEST_MM
    kept_clear_mm: float = KEPT_CLEAR_MM
    png_ppi: float | None = None
    left: tuple[Leaving, ...] = ()
    prints: tuple[int, ...] = ()
    order: tuple[OrderLine, ...] = ()

    def __post_init__(self) -> None:
        check_letters("the title", self.title)
        check_range("assumed drift", self.drift_mm, 0.0, 10.0)
        check_range("visible width", self.visible_mm, 0.0, 2.0)
        if self.png_ppi is not None:
            check_range("print", self.png_ppi, 72, 1200, "ppi")
        check_range("distance kept clear", self.kept_clear_mm, 0.0, 20.0)
        check_range("narrowest strand", self.narrowest_mm, 0.0, 10.0)
        check_range("designs of a job", len(self.designs), 0, MOST_DESIGNS, "")
        check_range("copies placed by hand", len(self.pins), 0, MOST_COPIES, "")
        check_range("copies of a kept layout", sum(map(len, self.layout)), 0, MOST_LAID, "")
        check_range("sheets of a kept layout", len(self.layout), 0, MOST_COPIES, "")
        check_range("lines of the order", len(self.order), 0, MOST_ORDER_LINES, "")
        check_range("findings that are left", len(self.left), 0, MOST_LEFT, "")
        check_range("sheets with a number of prints", len(self.prints), 0, MOST_COPIES, "")
        for count in self.prints:
            check_range("prints of a sheet", count, 1, MOST_COPIES, "")
        if any("/" in design.key for design in self.designs):  # which names a piece of a design, or one of its rows
            raise UsageError("A design of this job has a key with a “/” in it")
        if len({design.key for design in self.designs}) != len(self.designs):
            raise UsageError("Two designs of this job share one key")

    @property
    def misregistration(self) -> Misregistration:
        """How print and cut disagree, as far as it is known."""
        if self.error is not None:
            return self.error
        bench = self.measured_bench
        return assumed_misregistration(self.drift_mm) if bench is None else bench.error

    @property
    def measured_bench(self) -> BenchCopy | None:
        """What was measured of the bench that the sheet is made on; None where nothing was, or it was typed instead."""
        bench, sheet = self.measured, self.sheet
        if self.error is not None or bench is None:
            return None
        return bench if (bench.machine, bench.printer) == (sheet.machine.name, sheet.printer.name) else None

    @property
    def cut_moved_by(self) -> ErrorParts:
        """What the cut files are moved by against the marks."""
        bench = self.measured
        is_here = bench is not None and (bench.machine, bench.printer) == (
            self.sheet.machine.name,
            self.sheet.printer.name,
        )
        return bench.correction if bench is not None and is_here else ErrorParts()

    def prints_of(self, page: int) -> int:
        """Return how often a sheet of the layout is printed."""
        return self.prints[page] if page < len(self.prints) else 1

    def design(self, key: str) -> Design:
        """Return the design with this key.

        Raises:
            KeyError: the job has none.
        """
        for design in self.designs:
            if design.key == key:
                return design
        raise KeyError(key)

    def with_design(self, changed: Design) -> Job:
        """Return the job with the design of the same key replaced."""
        return replace(self, designs=tuple(changed if d.key == changed.key else d for d in self.designs))

    def without(self, key: str) -> Job:
        """Return the job without one design."""
        pins = tuple(pin for pin in self.pins if pin.copy.design.split("/")[0] != key)
        order = tuple(line for line in self.order if line.design != key)
        return replace(self, designs=tuple(d for d in self.designs if d.key != key), pins=pins, order=order)

    def free_key(self) -> str:
        """Return a key that no design has."""
        taken = {design.key for design in self.designs}
        number = len(taken) + 1
        while f"d{number}" in taken:
            number += 1
        return f"d{number}"
