"""What the machine is set to for this job, by kind of line, and the Book's recipe cards of its stock."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFrame

from honest_edge.core.values.recipe import CutSetting, LineSettings
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.units import duration
from honest_edge.core.workshop.setting_words import setting_words
from honest_edge.ui.shared.asker import Teller
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.setting_field import TIP, SettingField
from honest_edge.ui.shared.what_worked_words import ago
from honest_edge.ui.widgets.fields import Form, button, card, counted, label

if TYPE_CHECKING:
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.found import WhatWorked
    from honest_edge.core.sheet.costs import NarrowLines

_TITLES: dict[LineKind, str] = {
    "kiss": "Kiss cut",
    "crease": "Crease",
    "perforate": "Perforation",
    "through": "Through cut",
}


class SettingCard:
    """Takes what is typed into the job, what the Book knows, and gives it to the Book."""

    def __init__(self, host: Host) -> None:
        self._host = host
        self._known: WhatWorked | None = None
        self._narrow: NarrowLines | None = None
        self._now_ms = 0
        self._tell = Teller(host)
        self.frame, inside = card(topic="recipes")
        inside.addWidget(label("What the machine is set to", "heading"))
        form = Form(control_px=150)
        self.fields = {kind: SettingField(title) for kind, title in _TITLES.items()}
        self._rows = {kind: form.add(_TITLES[kind], field, TIP) for kind, field in self.fields.items()}
        for kind, field in self.fields.items():
            field.committed.connect(lambda setting, kind=kind: self._set(kind, setting))
            field.refused.connect(lambda words: self._host.say(words, tone="danger"))
        inside.addWidget(form)
        self.wrong = label("", "danger")
        self.said = label("", "soft")
        self.take = button("Take the Book’s recipe", self._take)
        self.narrow = label("", "soft")
        self.slow = button("Cut them at half speed", self._slow, link=True)
        self.keep = button("Keep as the recipe of this stock", self._keep, link=True)
        for widget in (self.said, self.take, self.narrow, self.slow, self.keep):
            inside.addWidget(widget)

    @property
    def widget(self) -> QFrame:
        """The card."""
        return self.frame

    def show_known(self, known: WhatWorked | None, narrow: NarrowLines | None, now_ms: int) -> None:
        """Show what the Book knows of this stock, and which lines have narrow places."""
        self._known, self._narrow, self._now_ms = known, narrow, now_ms
        self.refresh()

    def refresh(self) -> None:
        """Show the job's own settings, and what could be done about them."""
        overview = self._host.workspace.overview
        plan = overview.plan
        self.frame.setVisible(plan is not None)
        if plan is None:
            return
        there = {path.kind for page in plan.pages for p in page for path in overview.laid[p.design].cut.all_paths}
        settings = self._host.workspace.job.sheet.settings
        for kind, field in self.fields.items():
            field.show_setting(settings[kind])
            self._rows[kind].setVisible(kind in there or settings[kind] is not None)
        offered = self._offered()
        self.said.setText(self._said())
        self.said.setVisible(bool(self.said.text()))
        self.take.setVisible(offered is not None and offered != settings)
        self._show_narrow()
        self.keep.setVisible(settings not in (LineSettings(), offered))

    def _offered(self) -> LineSettings | None:
        """Return what the Book's cards say of this stock on this machine; None where they say nothing."""
        if self._known is None:
            return None
        from honest_edge.app.book.recipe_cards import settings_from  # loaded by now: the Book was read

        machine = self._host.workspace.job.sheet.machine.name
        offered = settings_from(self._known.recipes, machine, self._known.laminate)
        return None if offered == LineSettings() else offered

    def _said(self) -> str:
        """Return what the cards say, how old that is and how it came out."""
        if self._known is None:
            return ""
        from honest_edge.app.book.recipe_cards import chosen

        lines = []
        for kind, one in chosen(self._known.recipes, self._host.workspace.job.sheet.machine.name, self._known.laminate):
            under = f" under {one.recipe.laminate}" if one.recipe.laminate else ""
            out = f", {one.good} of {one.good + one.bad} good since" if one.good + one.bad else ""
            when = ago(self._now_ms - one.at_ms)
            lines.append(f"The Book, {kind}{under}: {setting_words(one.recipe.setting)} ({when}{out}).")
        return "\n".join(lines)

    def _show_narrow(self) -> None:
        narrow = self._narrow
        says = narrow is not None and narrow.narrow > 0
        self.narrow.setVisible(says)
        settings = self._host.workspace.job.sheet.settings
        is_slow = any(one is not None and one.slow_mm_s is not None for one in map(settings.__getitem__, _TITLES))
        self.slow.setVisible(says and not is_slow)
        if narrow is not None and says:
            at = "as they are set" if is_slow else "at half speed"
            has = "has" if narrow.narrow == 1 else "have"
            self.narrow.setText(
                f"{narrow.narrow} of {counted(narrow.lines, 'line')} {has} narrow places, where a fast blade lifts or "
                f"tears: {at} they take {duration(narrow.more_s)} more in all."
            )

    # -- acting ----------------------------------------------------------------------------------------

    def _set(self, kind: LineKind, setting: CutSetting | None) -> None:
        sheet = self._host.workspace.job.sheet
        self._edit(f"what the {kind} cut is set to", sheet.settings.with_setting(kind, setting))

    def _edit(self, what: str, settings: LineSettings) -> None:
        sheet = self._host.workspace.job.sheet
        self._host.workspace.edit_job(what, sheet=replace(sheet, settings=settings))

    def _take(self) -> None:
        offered = self._offered()
        if offered is not None:
            self._edit("the Book’s recipe", offered)

    def _slow(self) -> None:
        """Halve the speed at narrow places, for each kind of line that is cut."""
        sheet = self._host.workspace.job.sheet
        settings = sheet.settings
        for kind, row in self.fields.items():
            if row.isVisible():
                setting = settings[kind] or CutSetting()
                usual = setting.speed_mm_s or sheet.machine.speed_mm_s
                settings = settings.with_setting(kind, replace(setting, slow_mm_s=usual / 2))
        self._edit("half speed at narrow places", settings)

    def _keep(self) -> None:
        """Give what is set to the Book, as the cards of this stock."""
        from honest_edge.core.values.book_records import CutRecipe

        sheet = self._host.workspace.job.sheet
        laminate = "" if self._known is None else self._known.laminate
        recipes = []
        for kind in _TITLES:
            setting = sheet.settings[kind]
            if setting is not None:
                stock, machine = sheet.stock.name, sheet.machine.name
                recipes.append(CutRecipe(stock=stock, machine=machine, line=kind, laminate=laminate, **asdict(setting)))

        def keep(desk: BookDesk, now_ms: int) -> bool:
            from honest_edge.files.book.records import RECIPE

            return desk.note([(RECIPE, recipe) for recipe in recipes], now_ms)

        self._tell(keep, self._kept)

    def _kept(self, _is_made_up: bool) -> None:
        self._host.refresh()
        self._host.say(
            "It is a recipe card in the Book now.",
            tone="fine",
            actions=[("See the recipes", lambda: self._host.go_to("book:recipes"))],
        )
