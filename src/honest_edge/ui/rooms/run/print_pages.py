"""Pages of printing, measuring, drying and laminating."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from honest_edge.core.run.guide import Step
from honest_edge.core.run.print_check import RULER_MM, PrintReading, expected_mm, tolerance_mm
from honest_edge.core.values import cautions
from honest_edge.core.values.run_events import Laminated, LetDry, Printed, Unmeasured
from honest_edge.ui.rooms.run.keeper import RunKeeper
from honest_edge.ui.rooms.run.page import Drawn, StepPage, Way
from honest_edge.ui.rooms.run.page_maker import PageMaker, happens
from honest_edge.ui.rooms.run.printing import RunPrinting
from honest_edge.ui.rooms.run.words import clock, countdown, listed
from honest_edge.ui.widgets.local import shown_length

if TYPE_CHECKING:
    from honest_edge.app.run.conductor import Conductor


class PrintPages(PageMaker):
    """What is done before a sheet comes near the cutter."""

    def __init__(self, keeper: RunKeeper, printing: RunPrinting) -> None:
        super().__init__(keeper)
        self._printing = printing

    def print_first(self, step: Step) -> StepPage:
        """Print one sheet, and only that."""
        seal, number, known = self.conductor.seal, step.sheet, self.keeper.known
        again = number > 1
        driver = known.driver if known is not None and known.driver else "best quality"
        return StepPage(
            title=f"Print sheet {number}" + (" in its place" if again else ", and only this one"),
            under=(
                f"On {seal.sheet.stock.name}, {seal.sheet.paper_title}, the side that is to be printed. In the dialog: "
                f"100 %, no scaling, never “fit to page”; {driver}."
            ),
            figures=(("scale", "100 %"), ("on the sheet it says", self.conductor.sign(number))),
            primary=self._first_way(step, f"Sheet {number} is printed"),
            ways=self._print_ways(step),
            stop=self.stop(),
            drawn=Drawn(sheet=number),
        )

    def print_rest(self, step: Step) -> StepPage:
        """Print all that are not printed yet."""
        seal, count = self.conductor.seal, len(step.sheets)
        which = f"sheet {step.sheets[0]}" if count == 1 else f"sheets {step.sheets[0]} to {step.sheets[-1]}"
        if seal.sheet.machine.prints_own_marks:
            under = "By the machine’s own program, which adds its marks. Open there what was written at Files."
        else:
            under = "As the first one: same paper, same dialog, 100 %. Each sheet has its number printed at its foot."
        return StepPage(
            title=f"Print {which}",
            under=under,
            figures=(("sheets" if count > 1 else "sheet", str(count)), ("scale", "100 %")),
            asks="printed" if count > 1 else "",
            primary=self._first_way(step, "They are printed" if count > 1 else "It is printed"),
            ways=() if seal.sheet.machine.prints_own_marks else self._print_ways(step),
            stop=self.stop(),
            drawn=Drawn(sheet=step.sheet),
        )

    def _prints_here(self, step: Step) -> bool:
        """Whether the first thing to do is to print: there is a printer, and nothing went to it yet."""
        printing, machine = self._printing, self.conductor.seal.sheet.machine
        is_by_others = self.keeper.is_practice or machine.prints_own_marks
        return not is_by_others and printing.has_printer and not printing.is_sending and not printing.went(step.sheets)

    def _first_way(self, step: Step, printed: str) -> Way:
        if self._prints_here(step):
            return Way(words="Print…", act=partial(self._printing.print, step.sheets))
        return self._printed_way(step, printed)

    def _printed_way(self, step: Step, words: str) -> Way:
        def printed() -> None:
            came_out = self.keeper.draft.came_out
            some = step.sheets if came_out is None else step.sheets[:came_out]
            self.keeper.do(*[happens(Printed(sheet=number)) for number in some])

        if self.keeper.is_practice:
            words = "Let the practice printer print"
        return Way(
            words=words,
            act=printed,
            waits_for="Sheets are on their way to the printer" if self._printing.is_sending else "",
        )

    def _print_ways(self, step: Step) -> tuple[Way, ...]:
        if self.keeper.is_practice:
            return ()
        if self._printing.is_sending:
            return (Way(words="Call printing off", act=self._printing.call_off),)
        first = (
            self._printed_way(step, "I printed it elsewhere" if len(step.sheets) == 1 else "I printed them elsewhere")
            if self._prints_here(step)
            else Way(words="Print…", act=partial(self._printing.print, step.sheets))
        )
        return (
            first,
            Way(words="Save the print file…", act=partial(self._printing.save, step.sheets)),
        )

    def measure(self, step: Step) -> StepPage:
        """Hold a ruler to the first sheet."""
        seal = self.conductor.seal
        across, down = expected_mm(seal.sheet)
        allowed = tolerance_mm(max(across, down), seal.bears_mm)
        inset = seal.sheet.marks.inset_mm
        looked = self.keeper.draft.print_looked
        seen = "" if looked is None else f"{looked.words} The ruler is truer: hold it to the marks as well."
        return StepPage(
            title=f"Hold a ruler to sheet {step.sheet}",
            under=seen
            or (
                f"From the outer side of a mark to that of the next. It may be off by {self.length(allowed)}: more "
                "would show at the edge. A mark stands about "
                f"{self.length(inset)} from the paper’s edge; that only says that it lies roughly right."
            ),
            figures=(
                ("across", self.length(across)),
                ("down", self.length(down)),
                ("printed ruler", self.length(RULER_MM)),
            ),
            asks="ruler",
            primary=Way(words="That is what the ruler says", act=partial(self._take_reading, step.sheet)),
            ways=self._practice_reading(step.sheet),
            stop=self.stop(),
            drawn=Drawn(sheet=step.sheet, kind="ruler"),
        )

    def _practice_reading(self, sheet: int) -> tuple[Way, ...]:
        shop = self.keeper.shop
        if shop is None:
            look = partial(self.keeper.looker.ask_print, self.conductor, sheet)
            return (
                Way(words="Look at a picture of it…", act=look),
                Way(words="I have no ruler", act=lambda: self.keeper.do(happens(Unmeasured(sheet=sheet)))),
            )

        def read() -> None:
            measured = shop.reading(sheet)
            self.keeper.turn(readings=[measured.across_mm, measured.down_mm, measured.ruler_mm])

        return (Way(words="Read the practice ruler", act=read),)

    def _take_reading(self, sheet: int) -> None:
        across, down, ruler = self.keeper.draft.readings
        keeper, said = self.keeper, self.keeper.host.say
        check = None

        def measure(conductor: Conductor) -> None:
            nonlocal check
            check = conductor.measure(sheet, PrintReading(across_mm=across, down_mm=down, ruler_mm=ruler))

        kept = keeper.draft.readings
        if not keeper.do(measure) or check is None:
            return
        scale = f"{100 * check.scale:.1f} %"
        match check.verdict:
            case "true":
                pass  # the list shows what was read
            case "fitted":
                said(
                    f"{scale}: the dialog fitted it to the page. The sheet is lost: print another one at 100 %, with "
                    "“fit to page” off.",
                    tone="danger",
                )
            case "scaled":
                said(f"It was printed at {scale}. The sheet is lost: print another one at 100 %.", tone="danger")
            case "stretched":
                said(
                    f"It is {scale} of its size one way and not the other: the paper slipped in the printer, or its "
                    "own scale is off (Bench, printed ruler). Print another one.",
                    tone="danger",
                )
            case "in inches":
                keeper.turn(readings=kept)
                said("That was read in inches: type millimetres, or a number with “in” behind it.", tone="look")
            case _:
                keeper.turn(readings=kept)
                said(
                    f"{listed([shown_length(r, 'mm') for r in kept if r is not None])} cannot be this print: hold the "
                    "ruler to the marks again.",
                    tone="look",
                )

    def dry(self, step: Step) -> StepPage:
        """Wait until ink is dry."""
        now = self.conductor.clock()
        at = clock(now.after(step.wait_s))
        keeper = self.keeper
        wet = f"It is dry at {at}" if step.wait_s > 0 else ""
        skip = Way(words="Let the time pass", act=lambda: keeper.skip_wait(self._wait_s()))
        return StepPage(
            title=f"Let sheet {step.sheet} dry",
            under="Ink that is wet smears under the rollers, and the blade drags it. Nothing is to be done till then.",
            figures=(("left", countdown(step.wait_s)), ("dry at", at)),
            primary=skip if keeper.is_practice else Way(words=f"Dry at {at}", act=keeper.changed.emit, waits_for=wet),
            ways=(Way(words="I touched it: it is dry", act=lambda: keeper.do(happens(LetDry(sheet=step.sheet)))),),
            stop=self.stop(),
            drawn=Drawn(sheet=step.sheet),
            caution=cautions.AIR,
        )

    def _wait_s(self) -> float:
        return self.conductor.step().wait_s

    def laminate(self, step: Step) -> StepPage:
        """Lay laminate on."""
        known = self.keeper.known
        what = known.laminate if known is not None and known.laminate else "the laminate"
        return StepPage(
            title=f"Laminate sheet {step.sheet}",
            under=(
                f"Lay {what} on from one edge and press the air out. It makes the sheet thicker, so the cut may take "
                "two passes, and shinier: dull the marks with matt tape if the reader misses them."
            ),
            primary=Way(words="It is laminated", act=lambda: self.keeper.do(happens(Laminated(sheet=step.sheet)))),
            stop=self.stop(),
            drawn=Drawn(sheet=step.sheet),
            caution=cautions.AIR,
        )
