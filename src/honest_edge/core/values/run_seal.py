"""What of a run is sealed when its first sheet is printed: from then on it cannot change unnoticed."""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.core.values.applied import AppliedDesign
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.log_event import is_key
from honest_edge.core.values.run_times import LONGEST_DRYING_S
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.units import check_range

SEAL_VERSION = 1
CODE_LETTERS = "0123456789ABCDEFGHJKMNPQRSTVWXYZ"
"""Digits and letters that are not mistaken for each other: no I, L, O and U."""

_CODE_LENGTH = 8
_NUMBERS_OF_CUBIC = 8
_FARTHEST_MM = 10_000.0


@dataclass(frozen=True, slots=True, kw_only=True)
class SealedLine:
    """One line of a copy on its sheet.

    Attributes:
        kind: what it does.
        cubics: control points of its Béziers one after the other, x and y, millimetres on the sheet.
        straight: "1" for each segment that is a line between its ends, else "0".
        closed: whether it ends where it starts.
    """

    kind: LineKind
    cubics: tuple[float, ...]
    straight: str
    closed: bool = True

    def __post_init__(self) -> None:
        count = len(self.straight)
        if not count or set(self.straight) - set("01") or len(self.cubics) != _NUMBERS_OF_CUBIC * count:
            raise UsageError(f"A sealed line of {count} segments has {len(self.cubics)} numbers, not eight each")
        if not all(abs(number) <= _FARTHEST_MM for number in self.cubics):
            raise UsageError("A sealed line leads out of every sheet")


@dataclass(frozen=True, slots=True, kw_only=True)
class SealedCopy:
    """One copy on a sheet: which design it is, how it lies, and what is cut for it."""

    design: int
    turn_deg: float
    x_mm: float
    y_mm: float
    lines: tuple[SealedLine, ...]

    def __post_init__(self) -> None:
        if self.design < 0 or not all(abs(number) <= _FARTHEST_MM for number in (self.turn_deg, self.x_mm, self.y_mm)):
            raise UsageError("A sealed copy lies on no sheet, or is of no design")


@dataclass(frozen=True, slots=True, kw_only=True)
class SealedPass:
    """One cut file of a sheet.

    Attributes:
        suffix: what it adds to the file's name.
        kinds: of line that it holds.
        seconds: that it takes at least.
    """

    suffix: str
    kinds: tuple[LineKind, ...]
    seconds: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SealedPage:
    """One sheet of the layout.

    Attributes:
        print_page: which page of the print file it is, from 0; None where nothing is printed.
        copies: on it.
        passes: in which it is cut, one after the other.
        proof_order: its copies, the one farthest from the marks first.
        corners_mm: boxes that are free anyway, each large enough for a ladder of test squares: left, top, right,
            bottom.
    """

    print_page: int | None
    copies: tuple[SealedCopy, ...]
    passes: tuple[SealedPass, ...]
    proof_order: tuple[int, ...] = ()
    corners_mm: tuple[tuple[float, float, float, float], ...] = ()

    def __post_init__(self) -> None:
        if not all(0 <= copy < len(self.copies) for copy in self.proof_order):
            raise UsageError("A sealed sheet has a proof that is none of its stickers")
        if (self.print_page or 0) < 0:
            raise UsageError("A sealed sheet is on no page of its print")


@dataclass(frozen=True, slots=True, kw_only=True)
class SealedDesign:
    """A design: how many good ones are wanted, and what share of it was expected clean, with its uncertainty."""

    name: str
    wanted: int
    forecast: float
    uncertainty: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SealedOrderLine:
    """A line of an order: how many good ones, of which of the run's designs, for whom, and what else was noted."""

    designs: tuple[int, ...]
    quantity: int
    whom: str = ""
    note: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class SealedRun:
    """All that must match between print and cut.

    Attributes:
        run: names it: 32 hexadecimal digits.
        title: of the job.
        sealed_at: when, ISO 8601 in UTC.
        job_parts: SHA-256 of the parts of the job that must not change, by what each is called.
        sheet: paper, stock, printer, and the machine with its marks.
        pages: the sheets of the layout.
        designs: that lie on them.
        sheets: which page each planned sheet shows; sheets are numbered from 1.
        print_sha256: of the print file, without the sheets' own signs; empty where nothing is printed.
        sign_box_mm: where each sheet's sign is printed: left, top, right, bottom; None where there is no room.
        strip_box_mm: where a strip of patches is printed; None where there is no room.
        mark_names: of the printed marks, in the order in which the reader looks for them.
        mark_middles_mm: where each mark's middle lies on the sheet.
        drying_s: that ink needs.
        is_laminated: whether sheets are laminated before they are cut.
        bears_mm: by how much print and cut may disagree before it shows.
        measured_sheets: on how many sheets the bench was measured.
        is_practice: whether it is run on the simulated bench.
        assurance: share of runs with enough good ones from so many sheets; None where it was not reckoned.
        order: who gets how many of which; the first is served first.
        applied: what is put on a thing once it is cut.
        trial_for: the stock for which one sheet is tried on plain paper; empty for a run that makes what is wanted.
    """

    version: int = SEAL_VERSION
    run: str
    title: str
    sealed_at: str
    job_parts: dict[str, str]
    sheet: SheetSpec
    pages: tuple[SealedPage, ...]
    designs: tuple[SealedDesign, ...]
    sheets: tuple[int, ...]
    print_sha256: str = ""
    sign_box_mm: tuple[float, float, float, float] | None = None
    mark_names: tuple[str, ...] = ()
    mark_middles_mm: tuple[tuple[float, float], ...] = ()
    drying_s: float = 1200.0
    is_laminated: bool = False
    bears_mm: float = 0.3
    measured_sheets: int = 0
    is_practice: bool = False
    assurance: float | None = None
    order: tuple[SealedOrderLine, ...] = ()
    applied: tuple[AppliedDesign, ...] = ()
    trial_for: str = ""
    strip_box_mm: tuple[float, float, float, float] | None = None

    def __post_init__(self) -> None:
        if not is_key(self.run):
            raise UsageError(f"“{self.run[:40]}” names no run")
        if self.version > SEAL_VERSION:
            raise UsageError("This run was sealed by a newer Honest Edge: update this one")
        if any(copy.design >= len(self.designs) for page in self.pages for copy in page.copies):
            raise UsageError("This run has a sticker of a design that it does not have")
        if any(not 0 <= one < len(self.designs) for line in self.order for one in line.designs or (-1,)):
            raise UsageError("This run’s order asks for a design that it does not have")
        if len(self.mark_names) != len(self.mark_middles_mm):
            raise UsageError("This run has marks that lie nowhere")
        check_range("drying", self.drying_s, 0, LONGEST_DRYING_S, "s")
        if any(not 0 <= page < len(self.pages) for page in self.sheets):
            raise UsageError("This run has a sheet that its layout does not have")

    @property
    def code(self) -> str:
        """Its first 40 bits in eight letters that can be read aloud: what stands on its sheets."""
        return code_of(self.run)


def code_of(run: str) -> str:
    """Return the code of a run."""
    number = int(run[:10], 16)
    return "".join(CODE_LETTERS[number >> 5 * place & 31] for place in reversed(range(_CODE_LENGTH)))


def sheet_sign(run: str, sheet: int) -> str:
    """Return what a printed sheet carries: the run's code and the sheet's number."""
    return f"{code_of(run)}-{sheet}"


def parse_sign(text: str) -> tuple[str, int]:
    """Return code and number of a sign as it was typed or read off a photograph; letters that look alike are forgiven.

    Raises:
        UsageError: it is no sign.
    """
    plain = text.strip().upper().replace(" ", "-").translate(str.maketrans("ILOU", "110V"))
    code, _, number = plain.rpartition("-")
    if len(code) != _CODE_LENGTH or set(code) - set(CODE_LETTERS) or not number.isdecimal() or int(number) < 1:
        raise UsageError(f"“{text.strip()[:40]}” is no sign of a sheet: it has eight letters, a dash and a number")
    return code, int(number)
