"""Pages at the cutter: the setting, the carrier, the marks, the proof and every pass."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import TYPE_CHECKING

from honest_edge.core.run.guide import Step, pass_name
from honest_edge.core.values import cautions
from honest_edge.core.values.book_records import value_name
from honest_edge.core.values.run_events import (
    CutBegun,
    CutDone,
    Laid,
    MarksRead,
    Missed,
    ProofBegun,
    ProofCut,
    Set,
    TakenOut,
)
from honest_edge.core.values.specs import LineKind
from honest_edge.core.workshop.carriers import best_carrier, carrier_words, tack_for
from honest_edge.core.workshop.setting_words import setting_words
from honest_edge.ui.rooms.run.corner_page import begin_corner_squares
from honest_edge.ui.rooms.run.hand_pages import by_hand
from honest_edge.ui.rooms.run.page import Drawn, StepPage, Way
from honest_edge.ui.rooms.run.page_maker import PageMaker, happens
from honest_edge.ui.rooms.run.words import countdown, listed, minutes
from honest_edge.ui.rooms.run.wrong_pages import bad_proof
from honest_edge.ui.widgets.fields import counted

if TYPE_CHECKING:
    from honest_edge.app.book.recipe_cards import RecipeCard
    from honest_edge.app.run.conductor import Conductor
    from honest_edge.core.values.recipe import CutSetting
    from honest_edge.core.workshop.carriers import CarrierUse

_TRIES = 3
_NEARLY_SURE = 0.99
_REMEDIES = (
    "Press the sheet flat and feed it again, square to the edge.",
    "Matt tape over a shiny mark, or shade it from lamps and sun; in a dim room give it light. Keep tape off printed "
    "ink that is kept: it lifts it.",
    "Print the sheet again, darker, or with longer and thicker marks.",
)


class CutPages(PageMaker):
    """What is done at the cutter."""

    def _settings(self, kinds: tuple[LineKind, ...]) -> dict[LineKind, CutSetting]:
        """Return what is set for kinds of line: as the job has it, else as the Book's cards of the stock say."""
        seal, known = self.conductor.seal, self.keeper.known
        settings = {kind: seal.sheet.settings[kind] for kind in kinds}
        for kind, card in self._cards().items():
            if kind in settings and settings[kind] is None:
                settings[kind] = card.recipe.setting
        return {kind: one for kind, one in settings.items() if one is not None and known is not None}

    def _cards(self) -> dict[LineKind, RecipeCard]:
        """Return the card of each kind of line, for this stock, machine and laminate."""
        seal, known = self.conductor.seal, self.keeper.known
        if known is None:
            return {}
        from honest_edge.app.book.recipe_cards import chosen  # loaded by now: the Book was read

        laminate = known.laminate if seal.is_laminated else ""
        return dict(chosen(known.recipes, seal.sheet.machine.name, laminate))

    def set_cut(self, step: Step) -> StepPage:
        """Set the machine for a pass."""
        conductor, keeper = self.conductor, self.keeper
        sheet = conductor.state.sheet(step.sheet)
        name = pass_name(conductor.seal, sheet, step.cut_pass)
        kinds = _kinds(conductor, step)
        settings = self._settings(kinds)
        lines = conductor.seal.sheet.cutter.lines
        passes = [f"{kind} {lines[kind].passes} times" for kind in kinds if lines[kind].passes > 1]
        before = dict(conductor.state.settings).get(name, "")
        unknown = [kind for kind in kinds if kind not in settings]
        said = [_card_words(kind, card) for kind, card in self._cards().items() if kind in kinds]
        if unknown:
            said.append(
                f"No setting of this stock is known for {listed(unknown)}: a ladder of test squares finds one and "
                "costs a corner of a sheet."
            )
        if passes:
            said.append(f"Go over it: {listed(passes)}.")
        set_to = {kind: setting_words(one) for kind, one in settings.items()}
        if keeper.draft.setting is None:
            alone = len(kinds) == 1
            keeper.draft.setting = before or ", ".join(
                words if alone else f"{kind} {words}" for kind, words in set_to.items()
            )
        return StepPage(
            title=f"Set the machine for: {name}",
            under=" ".join(said),
            figures=tuple((kind, set_to.get(kind, "not known")) for kind in kinds) if settings else (),
            asks="setting",
            primary=Way(
                words="It is set",
                act=lambda: keeper.do(
                    lambda c: c.happens(Set(kinds=name, setting=(keeper.draft.setting or "").strip()))
                ),
            ),
            ways=self._tests(step, unknown),
            stop=self.stop(),
            drawn=Drawn(sheet=step.sheet),
            caution=cautions.BLADE,
        )

    def _tests(self, step: Step, unknown: Sequence[LineKind]) -> tuple[Way, ...]:
        """Return how a setting that is not known is found: in a free corner of this sheet, or on a used one."""
        if not unknown:
            return ()
        keeper, conductor = self.keeper, self.conductor
        ladder = Way(words="Make a ladder first", act=lambda: keeper.host.go_to("book:test cuts"))
        if not conductor.seal.pages[conductor.state.sheet(step.sheet).page].corners_mm:
            return (ladder,)
        corner = Way(
            words="Test squares in a free corner of this sheet",
            act=partial(begin_corner_squares, keeper, step.sheet, unknown[0]),
        )
        return corner, ladder

    def load(self, step: Step) -> StepPage:
        """Lay a sheet on its carrier."""
        seal, draft = self.conductor.seal, self.keeper.draft
        machine, carrier = seal.sheet.machine, step.carrier or 0
        free_ones = self.free_carriers()
        if draft.carrier is None or draft.carrier not in {use.carrier.name for use in free_ones} | {""}:
            best = best_carrier(free_ones, seal.sheet.stock)
            draft.carrier = "" if best is None else best.carrier.name
        use = next((one for one in free_ones if one.carrier.name == draft.carrier), None)
        title = f"carrier {'ABCDEFGHIJKLMNOPQRST'[carrier]}" if use is None else use.carrier.name
        corner = " The corner without a mark is the bottom right one." if machine.marks.kind == "three brackets" else ""
        tack, why = tack_for(seal.sheet.stock)
        hold = f"A {tack} tack holds this stock, as {why}." if use is None else carrier_words(use, seal.sheet.stock)
        long_mm = seal.sheet.size_mm[1] if use is None else use.carrier.length_mm
        name = draft.carrier
        how = (
            f"Square to its lines, stuck down to every edge, no bare strip under the rollers.{corner}"
            f"{f' {hold}' if hold else ''} Leave {self.length(long_mm)} free behind the machine."
        )
        return StepPage(
            title=f"Lay sheet {step.sheet} on {title}",
            under=how if draft.looked is None else draft.looked.words,
            figures=(("goes in first", f"{machine.feed_side} edge"),),
            asks="carrier" if free_ones else "",
            primary=Way(
                words="It is stuck down",
                act=lambda: self.keeper.do(lambda c: c.happens(Laid(sheet=step.sheet, carrier=carrier, name=name))),
            ),
            ways=self._looks(step.sheet),
            stop=self.stop(),
            drawn=Drawn(sheet=step.sheet, kind="load"),
        )

    def _looks(self, sheet: int) -> tuple[Way, ...]:
        """Return the way to a picture of a sheet that is printed from here."""
        keeper, conductor = self.keeper, self.conductor
        page = conductor.seal.pages[conductor.state.sheet(sheet).page]
        if page.print_page is None or not conductor.seal.print_sha256:
            return ()
        if keeper.is_practice:
            words, act = "Let the practice phone look at it", partial(keeper.looker.take_practice, conductor, sheet)
        else:
            words, act = "Look at a picture of it…", partial(keeper.looker.ask, conductor, sheet)
        return (Way(words=words, act=act),)

    def free_carriers(self) -> list[CarrierUse]:
        """Return the Book's carriers on which nothing lies now."""
        known = self.keeper.known
        lying = {one.carrier_name for one in self.conductor.state.sheets if one.carrier is not None}
        return [] if known is None else [use for use in known.carriers if use.carrier.name not in lying]

    def read(self, step: Step) -> StepPage:
        """Feed it and watch the marks being read."""
        conductor, keeper = self.conductor, self.keeper
        seal, sheet = conductor.seal, conductor.state.sheet(step.sheet)
        if not seal.mark_names or seal.pages[sheet.page].print_page is None:
            what = (
                "Its own program finds the frame" if seal.sheet.machine.prints_own_marks else "Nothing is printed on it"
            )
            return StepPage(
                title=f"Feed sheet {step.sheet}",
                under=f"{what}, so no marks are ticked here. Its {seal.sheet.machine.feed_side} edge goes in.",
                primary=Way(words="It is in place", act=lambda: keeper.do(happens(MarksRead(sheet=step.sheet)))),
                stop=self.stop(),
                drawn=Drawn(sheet=step.sheet, kind="load"),
                caution=cautions.BLADE,
            )
        if not seal.sheet.machine.finds_marks and not keeper.is_practice:
            return by_hand(self, step)
        count = len(seal.mark_names)
        title = f"Watch the reader find each mark of sheet {step.sheet}"
        under = "Tick each one as the light stops on it. If it passes one by, press Stop: nothing has been cut yet."
        if sheet.tries:
            missed = listed([seal.mark_names[n] for n in sheet.missed if n < count]) or "a mark"
            remedy = _REMEDIES[min(sheet.tries, _TRIES) - 1]
            title = f"Missed: {missed}. Nothing is cut; try {min(sheet.tries + 1, _TRIES)} of {_TRIES}"
            under = remedy if sheet.tries < _TRIES else f"Three tries are enough. {_REMEDIES[-1]}"
        if keeper.is_practice:
            primary = Way(words="Let the practice reader look", act=partial(self._practice_read, step.sheet))
        else:
            all_words = {1: "The mark is found", 3: "All three found", 4: "All four found"}.get(count, "All found")
            primary = Way(words=all_words, act=lambda: keeper.do(happens(MarksRead(sheet=step.sheet))))
        return StepPage(
            title=title,
            under=under,
            asks="" if keeper.is_practice else "marks",
            primary=primary,
            stop=Way(words="Stop: a mark was missed", act=partial(self._missed, step.sheet))
            if not keeper.is_practice
            else self.stop(),
            drawn=Drawn(sheet=step.sheet, kind="marks"),
            caution=cautions.BLADE,
        )

    def _practice_read(self, sheet: int) -> None:
        shop = self.keeper.shop
        tries = self.conductor.state.sheet(sheet).tries
        missed = () if shop is None else shop.missed(sheet, tries)
        self.keeper.do(lambda c: c.happens(Missed(sheet=sheet, marks=missed) if missed else MarksRead(sheet=sheet)))

    def _missed(self, sheet: int) -> None:
        """Say that marks were missed, those that are not ticked; after three tries ask what now."""
        marks = range(len(self.conductor.seal.mark_names))
        missed = tuple(n for n in marks if n not in self.keeper.draft.found)
        done = self.keeper.do(lambda c: c.happens(Missed(sheet=sheet, marks=missed)))
        if done and self.conductor.state.sheet(sheet).tries >= _TRIES:
            self.keeper.turn(stage="wrong")

    def proof(self, step: Step) -> StepPage:
        """Cut one sticker first."""
        conductor, keeper = self.conductor, self.keeper
        sheet = conductor.state.sheet(step.sheet)
        if sheet.proof == "bad":
            return bad_proof(self.keeper, step)
        is_under_way = sheet.proof == "under way"

        def cut(c: Conductor) -> None:
            if c.state.sheet(step.sheet).proof != "under way":
                c.happens(ProofBegun(sheet=step.sheet, copy=step.copy or 0))
            c.happens(ProofCut(sheet=step.sheet))

        def begin() -> None:
            keeper.with_files(step, lambda c: c.happens(ProofBegun(sheet=step.sheet, copy=step.copy or 0)))

        name = self.design_name(step)
        ways: tuple[Way, ...] = ()
        if keeper.is_practice:
            primary = Way(words="Cut the proof sticker", act=lambda: keeper.do(cut))
        elif is_under_way:
            primary = Way(words="It is cut", act=lambda: keeper.do(cut))
            ways = () if keeper.written else (Way(words="Write its file again", act=partial(keeper.with_files, step)),)
        else:
            primary = Way(words="Start: I cut it now", act=begin)
        return StepPage(
            title=f"Cut one sticker of sheet {step.sheet} first",
            under=(
                f"{name}, the one farthest from the marks: what is wrong shows there most. Leave the sheet in the "
                f"machine. {self._file_words()}"
            ),
            primary=primary,
            ways=ways,
            stop=self.stop(),
            drawn=Drawn(sheet=step.sheet, kind="proof", copy=step.copy),
            caution=cautions.BLADE,
            has_files=bool(keeper.written),
        )

    def cut(self, step: Step) -> StepPage:
        """Begin a pass."""
        conductor, keeper = self.conductor, self.keeper
        sheet = conductor.state.sheet(step.sheet)
        page = conductor.seal.pages[sheet.page]
        name = pass_name(conductor.seal, sheet, step.cut_pass)
        rest = " the rest of" if sheet.proofs and step.cut_pass == 0 else ""
        if sheet.again:
            rest = f" {counted(len(sheet.again), 'sticker')} again of"

        number = f", pass {step.cut_pass + 1} of {len(page.passes)}" if len(page.passes) > 1 else ""
        return StepPage(
            title=f"Cut{rest} sheet {step.sheet}: {name}{number}",
            under=self._file_words(),
            figures=(("takes at least", minutes(page.passes[step.cut_pass].seconds)),),
            primary=Way(
                words="Start: it cuts now", act=partial(keeper.with_files, step, happens(CutBegun(sheet=step.sheet)))
            ),
            stop=self.stop(),
            drawn=Drawn(sheet=step.sheet, kind="cut"),
            caution=cautions.BLADE,
            has_files=bool(keeper.written),
        )

    def _file_words(self) -> str:
        """Return where what is cut comes from."""
        keeper = self.keeper
        if keeper.is_practice:
            return "The practice cutter cuts what was sealed."
        if self.conductor.seal.sheet.machine.prints_own_marks:
            return "Start the cut in the machine’s own program."
        if not keeper.written:
            return f"Its file is being written into {keeper.run_folder()} …"
        return f"Open {listed(list(keeper.written))} of {keeper.run_folder()} in the machine, and start it there."

    def cutting(self, step: Step) -> StepPage:
        """Wait for the cutter."""
        conductor, keeper = self.conductor, self.keeper
        sheet = conductor.state.sheet(step.sheet)
        is_last = step.cut_pass + 1 == len(conductor.seal.pages[sheet.page].passes)
        files = listed(list(keeper.written))

        def done(c: Conductor) -> None:
            c.happens(CutDone(sheet=step.sheet))
            after = c.step()
            if after.key == "take out" and after.sheet == step.sheet:
                c.happens(TakenOut(sheet=step.sheet))

        def finish() -> None:
            if keeper.is_practice and keeper.clock is not None:
                keeper.clock.skip(step.wait_s)
            keeper.do(done)

        return StepPage(
            title=f"Sheet {step.sheet} is being cut",
            under=(f"From {files}. " if files else "") + "Stay near: what slips or tears shows now.",
            figures=(("left, about", countdown(step.wait_s)),),
            primary=Way(words="It is done" + (", and taken out" if is_last else ""), act=finish),
            stop=Way(words="Stop: it went wrong", act=lambda: keeper.turn(stage="where")),
            drawn=Drawn(sheet=step.sheet, kind="cut"),
            caution=cautions.BLADE,
            has_files=bool(files),
        )

    def take_out(self, step: Step) -> StepPage:
        """Take the sheet out."""
        return StepPage(
            title=f"Take sheet {step.sheet} out of the machine",
            under="Let the rollers free it; do not pull. It stays on its carrier.",
            primary=Way(words="It is out", act=lambda: self.keeper.do(happens(TakenOut(sheet=step.sheet)))),
            stop=self.stop(),
            drawn=Drawn(sheet=step.sheet, kind="load"),
            caution=cautions.BLADE,
        )


def _card_words(kind: LineKind, card: RecipeCard) -> str:
    """Return where a card comes from, and how it came out."""
    tests, recipe = card.tests, card.recipe
    blade = f" with {recipe.blade}" if recipe.blade else ""
    under = f" under {recipe.laminate}" if recipe.laminate else ""
    out = f"; {card.good} of {card.good + card.bad} came out good since" if card.good + card.bad else ""
    if tests is None or recipe.origin != "test cuts":
        return f"{kind.capitalize()}{under}: the Book’s card{blade}{out}."
    low, high = (value_name(end or 0.0, tests.names) for end in (tests.low, tests.high))
    return (
        f"{kind.capitalize()}{under}: test cuts{blade} came to {tests.best_name}, likely window {low} to {high}, "
        f"clean in {'over 99' if tests.chance > _NEARLY_SURE else f'{100 * tests.chance:.0f}'} % of cuts{out}."
    )


def _kinds(conductor: Conductor, step: Step) -> tuple[LineKind, ...]:
    return conductor.seal.pages[conductor.state.sheet(step.sheet).page].passes[step.cut_pass].kinds
