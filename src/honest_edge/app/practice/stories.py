"""The practice jobs: each a small made-up story of the Quillwort Tea Garden, with something wrong.

How large each mishap is, is common practice, no published source; so is par.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from honest_edge.app.practice import jobs
from honest_edge.app.practice.hands import USUAL_FORCE
from honest_edge.core.proof import register
from honest_edge.core.proof.register import Check
from honest_edge.core.values.job import Job
from honest_edge.core.values.misregistration import Misregistration, Scatter

STEADY = Misregistration(shift_x_mm=Scatter(spread=0.05), shift_y_mm=Scatter(spread=0.05), repeat_mm=0.04)
"""A bench that is well set: nothing that a usual bleed would not bear."""

Made = tuple[Job, dict[str, bytes]]
"""A job and its originals."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Hidden:
    """What the learner is not told.

    Attributes:
        error: how print and cut disagree when everything is done with care.
        askew_deg: how far the sheet turns when it is laid down quickly.
        fits_page: the printer's dialog fits prints to the page unless it is told not to.
        glare: how many times the reader's noise is greater than in good light.
        slips: a sheet that is not pressed down slips half way.
        is_dull: the blade is dull.
        clean_force: the lowest force that cuts through, and the lowest that marks the liner.
        checks: of Proof; a sheet is spoiled as long as one of them finds something in the job.
        spoils: what is seen of that on the sheet.
        old_print: whether sheets lie there that were printed from the job as it was before ``change``.
        misreads: whether every other sheet is read wrong, unless it lies square and its marks are taped.
    """

    error: Misregistration = STEADY
    askew_deg: float = 0.0
    fits_page: bool = False
    glare: float = 1.0
    slips: bool = False
    is_dull: bool = False
    clean_force: tuple[int, int] = (20, 45)
    checks: tuple[Check, ...] = ()
    spoils: str = ""
    old_print: bool = False
    misreads: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Story:
    """One practice job.

    Attributes:
        key: names it.
        title: its name, which gives nothing away.
        tale: what has come so far, and what is wanted.
        make: makes the job as the learner finds it.
        hidden: what is wrong.
        par_sheets, par_min: what somebody needs who knows the trade.
        what: what it was.
        shows: how it shows on paper.
        avoid: how it is avoided.
        topic: the handbook's page about it.
        before: makes the job as it was when it was printed, where that was another one.
    """

    key: str
    title: str
    tale: str
    make: Callable[[], Made]
    hidden: Hidden
    par_sheets: int
    par_min: float
    what: str
    shows: str
    avoid: str
    topic: str
    before: Callable[[], Made] | None = field(default=None)


STORIES: tuple[Story, ...] = (
    Story(
        key="wedding",
        title="Labels for a wedding",
        tale=(
            "Twelve round labels, full bleed, for tomorrow. The printer is the neighbour’s, and its dialog was last "
            "used for holiday pictures."
        ),
        make=jobs.labels,
        hidden=Hidden(fits_page=True),
        par_sheets=0,
        par_min=33,
        what="The dialog fitted the print to the page: everything was printed a few parts in a hundred too small.",
        shows="Cuts are right in the middle and stray outward more and more toward the edges. The ruler is short.",
        avoid="Print at full size, and lay a ruler on the first sheet before it is cut.",
        topic="printing",
    ),
    Story(
        key="more room",
        title="Room for one more row",
        tale=(
            "To get one more row on a sheet, somebody chose a printer without a rim for the job, and moved the marks "
            "out. Printed is on the same old printer as ever, which leaves five millimetres white."
        ),
        make=jobs.marks_at_the_edge,
        hidden=Hidden(),
        par_sheets=0,
        par_min=30,
        what="The marks stood in the rim that the printer leaves white, and were only half printed.",
        shows="The reader looks for a mark, does not find it, and nothing is cut. The print is of no use.",
        avoid=(
            "Choose the printer that you print on, with its true rim: then Proof finds marks that stand in it before "
            "anything is printed."
        ),
        topic="marks",
    ),
    Story(
        key="shiny",
        title="A fine shiny paper",
        tale=(
            "Glossy sticker paper for the shop window’s stickers, and the bench stands in the afternoon sun. "
            "The first sheet is still to be printed."
        ),
        make=jobs.glossy,
        hidden=Hidden(glare=15.0),
        par_sheets=0,
        par_min=32,
        what="Bright light on shiny paper: the reader saw glare where the marks are.",
        shows="Marks are missed, now this one, now that one. The print is good, and stays good.",
        avoid="Put matt tape over the marks and shade them, or take matt stock.",
        topic="marks",
    ),
    Story(
        key="hollow",
        title="The cup with the steam",
        tale=(
            "A drawing of a cup on white paper, scanned and cleaned up. The white of the cup belongs to it. "
            "Eight stickers are wanted."
        ),
        make=jobs.leaking_cup,
        hidden=Hidden(checks=(register.LEAKS,), spoils="the white inside of the cup is cut away"),
        par_sheets=0,
        par_min=32,
        what="The drawn outline has a gap. The background flowed in through it and took the white inside along.",
        shows="Stickers are hollow: where the art is white, there is a hole.",
        avoid="Look round the outline once. Gaps are marked, and one click closes them.",
        topic="background",
    ),
    Story(
        key="frame",
        title="Labels that came from elsewhere",
        tale=(
            "A friend drew the labels, and left a cut line of her own in the file, “so that you have it easier”. "
            "Six are wanted."
        ),
        make=jobs.nested_lines,
        hidden=Hidden(checks=(register.NESTED, register.DOUBLE), spoils="a thin frame falls off round every label"),
        par_sheets=0,
        par_min=32,
        what="There were two cut lines, one inside the other, and the machine cut both.",
        shows="Round every label lies a thin frame, and the label is smaller than it should be.",
        avoid="One line for each label: drop the other. Proof finds two that lie so close.",
        topic="cut-lines",
    ),
    Story(
        key="thin bleed",
        title="As tight as it goes",
        tale=(
            "Badges with colour to the very edge. To save ink, the bleed was set as short as it goes. The bench was "
            "measured last month: it is not the best."
        ),
        make=jobs.short_bleed,
        hidden=Hidden(error=jobs.LOOSE),
        par_sheets=0,
        par_min=32,
        what="The bleed was shorter than this bench’s error.",
        shows="White shows at one side of many stickers, on every sheet at another side.",
        avoid="Look at the share at Edge. It says how much bleed this bench needs.",
        topic="bleed",
    ),
    Story(
        key="in a hurry",
        title="In a hurry",
        tale=(
            "Twelve labels before the shop opens. Yesterday a sheet like this went well; it was laid down with more "
            "care."
        ),
        make=jobs.labels,
        hidden=Hidden(askew_deg=0.9),
        par_sheets=0,
        par_min=34,
        what="The sheet lay askew on the carrier.",
        shows="White on opposite sides left and right of the page, and at its top and bottom; more toward the edges.",
        avoid="Lay the sheet against the carrier’s corner, and look along its edge before you load it.",
        topic="wrong",
    ),
    Story(
        key="old carrier",
        title="The carrier from last year",
        tale="The sticky carrier has seen many sheets. It still holds, more or less. Twenty labels are wanted.",
        make=jobs.tight_labels,
        hidden=Hidden(slips=True),
        par_sheets=0,
        par_min=34,
        what="The sheet slipped when the cut was half done.",
        shows="Everything that was cut before is good, everything after it is off by the same way.",
        avoid="Press the sheet down to its edges, on a carrier that has tack.",
        topic="wrong",
    ),
    Story(
        key="dust",
        title="A little dust",
        tale="The blade has cut a long winter of labels. There is a little paper dust along the last cuts.",
        make=jobs.tight_labels,
        hidden=Hidden(
            is_dull=True,
            error=Misregistration(shift_x_mm=Scatter(spread=0.03), shift_y_mm=Scatter(spread=0.03), repeat_mm=0.13),
        ),
        par_sheets=0,
        par_min=37,
        what="The blade was dull.",
        shows="There is no pattern in it: every sticker is off by another way, and corners are torn.",
        avoid="Change the blade when dust shows; the Book counts its metres. With the power off, and fingers away.",
        topic="blades",
    ),
    Story(
        key="second thoughts",
        title="Second thoughts",
        tale=(
            "The sheets lie printed and dry since yesterday. This morning the labels were made a little wider, because "
            "it looks better. Now cut them."
        ),
        make=jobs.widened,
        before=jobs.labels,
        hidden=Hidden(old_print=True),
        par_sheets=0,
        par_min=33,
        what="The job was changed after it was printed: the cuts belong to other labels than those on the sheet.",
        shows="Nothing fits: cuts run through the labels, each by another way.",
        avoid="Change nothing after the first print, or print anew. A run seals the job, so that this cannot happen.",
        topic="run",
    ),
    Story(
        key="thick film",
        title="A thicker film",
        tale=(
            "White vinyl this time, a thicker one than usual. The cutter still stands at the force that was right for "
            f"paper: {USUAL_FORCE}."
        ),
        make=jobs.on_vinyl,
        hidden=Hidden(clean_force=(38, 48)),
        par_sheets=0,
        par_min=38,
        what="The force was that of another stock: the blade did not come through.",
        shows="Stickers do not lift, or tear where they hang. With too much force the liner is cut and falls apart.",
        avoid="Cut a small square at the sheet’s edge first, and write down what worked.",
        topic="test-cuts",
    ),
    Story(
        key="green sheet",
        title="On a green ground",
        tale="A sheet of stickers on a green backing, knocked out close round each of them so that it looks generous.",
        make=jobs.close_backing,
        hidden=Hidden(checks=(register.RING,), spoils="a green line lies along one side of the stickers"),
        par_sheets=0,
        par_min=32,
        what="The ring of white round each sticker was narrower than the cut strays.",
        shows="A line of the backing’s colour lies on one side of the stickers.",
        avoid="Make the ring wider than the cut strays. Proof says how wide.",
        topic="bleed",
    ),
)


def story(key: str) -> Story:
    """Return a story by its key.

    Raises:
        KeyError: there is none.
    """
    return {one.key: one for one in STORIES}[key]
