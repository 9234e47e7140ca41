"""A machine, a printer or a stock, value by value."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields, replace
from functools import partial
from pathlib import Path
from typing import Any, get_args, get_origin, get_type_hints

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QCheckBox, QDialog, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.machine import DirectUse, LineUse
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.papers import PAPER_TITLE
from honest_edge.core.values.sides import Sides
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.units import Unit
from honest_edge.files.profiles import Profile, ProfileFolder, kind_of, load_profile, save_profile
from honest_edge.ui.widgets import dialogs
from honest_edge.ui.widgets.fields import (
    Choice,
    Form,
    button,
    label,
    paint_button,
    row,
)
from honest_edge.ui.widgets.typed import Count, LengthField, NumberField

WORDS = {
    "name": "Name",
    "width_mm": "Cuts at most, across",
    "length_mm": "Cuts at most, along",
    "feed_side": "Side fed first",
    "feed_margin_mm": "Held by the feed",
    "speed_mm_s": "Cutting speed, mm/s",
    "travel_mm_s": "Travelling speed, mm/s",
    "formats": "Reads",
    "prints_own_marks": "Its own program prints the marks",
    "blade_offset_mm": "Blade’s tip trails by",
    "compensates": "Files lead the tip round corners",
    "overcut_mm": "Cut runs past its start by",
    "finds_marks": "Its reader finds the marks",
    "rim_mm": "Cannot print a rim of",
    "papers": "Takes",
    "scale_x_percent": "Prints too wide by, %",
    "scale_y_percent": "Prints too high by, %",
    "rgb": "Colour",
    "is_clear": "See-through",
    "is_mirrored": "Seen from behind: mirrored",
    "cloth_rgb": "Ironed on to cloth of one colour",
    "cloth_rgb.colour": "Colour of the cloth",
    "gloss": "Surface",
    "thickness_mm": "Thickness",
    "has_liner": "On a liner, so it can be kiss cut",
    "is_printable": "Can be printed",
    "price": "Price of a sheet",
    "rims_mm": "The rim differs by side",
    "margins_mm": "It cannot cut near the edges",
}
_MAY_BE_UNKNOWN = ("price",)
_SIDES = ("rims_mm", "margins_mm")
_DIRECT = {
    "up_mm": "Height of travel, mm",
    "down_mm": "Height of the cut, mm",
    "plunge_mm_s": "Goes down at, mm/s",
    "up_s": "Servo’s word, up",
    "down_s": "Servo’s word, down; laser’s power",
    "settle_s": "Servo takes, s",
    "force": "Force that it sets, 0 for none",
}
_OF_BLADE = {"z": ("up_mm", "down_mm", "plunge_mm_s"), "servo": ("up_s", "down_s", "settle_s"), "laser": ("down_s",)}
_OPTION: dict[str, str] = {
    "svg": "SVG",
    "dxf": "DXF, arcs (R2000)",
    "dxf-spline": "DXF, splines (R2000)",
    "dxf-r12": "DXF R12",
    "plt": "plot text (HP-GL)",
    "gcode": "G-code",
    "pdf": "PDF with processing steps",
    **{str(paper): title for paper, title in PAPER_TITLE.items()},
}


class ProfileDialog(QDialog):
    """Shows a profile and takes what is typed; ``profile`` is the last whole one."""

    def __init__(self, parent: QWidget | None, profile: Profile, folder: ProfileFolder, unit: Unit) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"{kind_of(profile).capitalize()} profile")
        self.resize(460, 620)
        self.profile, self._folder, self._unit = profile, folder, unit
        self.controls: dict[str, QWidget] = {}
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.message = label("", "danger")
        self.message.hide()
        column = QVBoxLayout(self)
        column.addWidget(self._area)
        column.addWidget(self.message)
        self.keep = button("Keep in my profiles", self._keep)
        self.bring = button("Import…", self._import)
        self.give = button("Export…", self._export)
        self.use = button("Use it for this job", self.accept, filled=True)
        column.addLayout(row(self.bring, self.give, self.keep))
        column.addWidget(self.use)
        self._show()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            event.accept()  # it ends typing in a field and presses no button
            return
        super().keyPressEvent(event)

    # -- building ------------------------------------------------------------------------------------

    def _show(self) -> None:
        form = Form()
        self.controls = {}
        hints = get_type_hints(type(self.profile))
        for field in sorted(fields(self.profile), key=lambda field: field.name != "name"):
            value = getattr(self.profile, field.name)
            if isinstance(value, MarkSpec):
                form.add_wide(label("Its marks are set at the Sheet station and travel with it.", "soft"))
            elif isinstance(value, DirectUse):
                self._add_direct(form, value)
            elif field.name == "lines":
                for kind in get_args(LineKind):
                    form.add_wide(label(f"{kind} lines".capitalize(), "heading"))
                    self._add_line(form, kind, value[kind])
            else:
                self._add(form, field.name, hints[field.name], value)
        form.push_up()
        self._area.setWidget(form)
        self._area.setMinimumWidth(form.sizeHint().width() + 40)

    def _show_again(self) -> None:
        """Show what the choice asks for, where one looked."""
        bar = self._area.verticalScrollBar()
        at = 0 if bar is None else bar.value()
        self._show()
        if bar is not None:
            QTimer.singleShot(0, lambda: bar.setValue(at))

    def _add(self, form: Form, name: str, hint: Any, value: Any) -> None:
        words = WORDS[name]
        if isinstance(value, bool):
            self._wide(form, name, self._box(words, value, lambda on: self._set(name, on)))
        elif get_origin(hint) is tuple and get_args(hint)[-1] is Ellipsis:
            form.add_wide(label(words, "heading"))
            for option in get_args(get_args(hint)[0]):
                box = self._box(_OPTION[option], option in value, partial(self._pick, name, option))
                self._wide(form, f"{name}.{option}", box)
        elif name in _SIDES:
            self._add_sides(form, name, value)
        elif name == "cloth_rgb":
            self._wide(form, name, self._box(words, value is not None, self._iron_on))
            if value is not None:
                colour = self._colour(value, lambda rgb: self._set(name, rgb))
                self._row(form, f"{name}.colour", WORDS[f"{name}.colour"], colour)
        elif name == "rgb":
            self._row(form, name, words, self._colour(value, lambda rgb: self._set(name, rgb)))
        elif isinstance(value, str) and get_args(hint):
            choice = Choice(words, tuple((option, option) for option in get_args(hint)))
            choice.show_value(value)
            choice.chosen.connect(lambda chosen: self._set(name, chosen))
            self._row(form, name, words, choice)
        elif isinstance(value, str):
            line = QLineEdit(value)
            line.setAccessibleName(words)
            line.editingFinished.connect(lambda: self._set(name, line.text().strip()))
            form.add_wide(label(words))
            self._wide(form, name, line)
        elif name.endswith("_mm"):
            length = LengthField(words)
            length.show_length(value, self._unit)
            length.committed.connect(lambda found: self._set(name, found))
            length.refused.connect(self._refuse)
            self._row(form, name, words, length)
        else:
            number = NumberField(words, allow_empty=name in _MAY_BE_UNKNOWN)
            number.show_number(value)
            number.committed.connect(lambda found: self._set(name, None if found is None else float(found)))
            number.refused.connect(self._refuse)
            self._row(form, name, words, number)

    def _add_sides(self, form: Form, name: str, value: Sides | None) -> None:
        """Add margins by side, where they differ."""
        words, alike = WORDS[name], Sides.alike(getattr(self.profile, "rim_mm", 0.0))

        def differ(on: bool) -> None:
            self._set(name, alike if on else None)
            self._show()

        self._wide(form, name, self._box(words, value is not None, differ))
        for side in Sides._fields if value is not None else ():
            length = LengthField(f"{words}: {side}")
            length.show_length(getattr(value, side), self._unit)
            length.committed.connect(lambda found, side=side: self._set_side(name, side, found))
            length.refused.connect(self._refuse)
            self._row(form, f"{name}.{side}", side.capitalize(), length)

    def _set_side(self, name: str, side: str, margin_mm: float) -> None:
        self._set(name, getattr(self.profile, name)._replace(**{side: margin_mm}))

    def _add_line(self, form: Form, kind: str, use: LineUse) -> None:
        count = Count(f"{kind}: tool of plot text", 1, 8)
        count.show_value(use.pen)
        count.committed.connect(lambda value: self._set_line(kind, "pen", value))
        self._row(form, f"{kind}.pen", "Tool of plot text", count)
        colour = self._colour(use.colour, lambda rgb: self._set_line(kind, "colour", rgb))
        self._row(form, f"{kind}.colour", "Colour", colour)
        box = self._box("In a cut file of its own", use.alone, lambda on: self._set_line(kind, "alone", on))
        self._wide(form, f"{kind}.alone", box)

    def _add_direct(self, form: Form, use: DirectUse) -> None:
        form.add_wide(label("Spoken to directly", "heading"))
        language = Choice("Its language", (("", "none: it is given files"), ("hpgl", "HP-GL"), ("gcode", "G-code")))
        language.show_value(use.language)
        language.chosen.connect(lambda chosen: self._set_direct("language", chosen))
        self._row(form, "direct.language", "Its language", language)
        if use.language:
            tried = (
                "A pen has drawn with it: its axes are known." if use.is_tried else "Never tried: Run lets a pen draw."
            )
            form.add_wide(label(tried, "soft"))
        told = {use.language, *self.profile.formats}  # type: ignore[union-attr]  # a machine's
        if "gcode" in told:
            ways = (("z", "its third axis"), ("servo", "a servo"), ("laser", "a laser’s power"))
            blade = Choice("The blade is lifted by", ways)
            blade.show_value(use.blade)
            blade.chosen.connect(lambda chosen: self._set_direct("blade", chosen))
            self._row(form, "direct.blade", "Blade lifted by", blade)
            for name in _OF_BLADE[use.blade]:
                self._add_number(form, name, getattr(use, name))
        if told & {"hpgl", "plt"}:
            self._add_number(form, "force", use.force)
            speed = self._box("It sets the speed", use.says_speed, lambda on: self._set_direct("says_speed", on))
            self._wide(form, "direct.says_speed", speed)

    def _add_number(self, form: Form, name: str, value: float) -> None:
        number = NumberField(_DIRECT[name])
        number.show_number(value)
        number.committed.connect(lambda typed: self._set_direct(name, float(typed)))
        number.refused.connect(self._refuse)
        self._row(form, f"direct.{name}", _DIRECT[name], number)

    def _set_direct(self, name: str, value: Any) -> None:
        try:
            direct = replace(self.profile.direct, **{name: value})  # type: ignore[union-attr]  # a machine's
        except HonestEdgeError as error:
            self._refuse(str(error))
            self._show()
            return
        self._change(direct=direct)
        if name in ("language", "blade"):
            QTimer.singleShot(0, self._show_again)  # not while the field that was chosen in still speaks

    def _row(self, form: Form, name: str, words: str, control: QWidget) -> None:
        self.controls[name] = control
        form.add(words, control)

    def _wide(self, form: Form, name: str, control: QWidget) -> None:
        self.controls[name] = control
        form.add_wide(control)

    @staticmethod
    def _box(words: str, on: bool, act: Callable[[bool], object]) -> QCheckBox:
        box = QCheckBox(words)
        box.setChecked(on)
        box.clicked.connect(act)
        return box

    def _colour(self, rgb: tuple[int, int, int], act: Callable[[tuple[int, int, int]], object]) -> QWidget:
        def ask() -> None:
            nonlocal rgb
            chosen = dialogs.ask_colour(self, rgb)
            if chosen is not None:
                rgb = chosen
                act(rgb)
                paint_button(widget, rgb)

        widget = button("", ask)
        paint_button(widget, rgb)
        return widget

    # -- taking what is typed ------------------------------------------------------------------------

    def _set(self, name: str, value: Any) -> None:
        self._change(**{name: value})

    def _iron_on(self, on: bool) -> None:
        self._set("cloth_rgb", (34, 36, 44) if on else None)
        self._show()

    def _pick(self, name: str, option: str, on: bool) -> None:
        chosen = [one for one in getattr(self.profile, name) if one != option]
        self._change(**{name: tuple([*chosen, option] if on else chosen)})
        QTimer.singleShot(0, self._show_again)  # what a format asks for comes and goes with it

    def _set_line(self, kind: str, name: str, value: Any) -> None:
        lines = self.profile.lines  # type: ignore[union-attr]  # only machines have lines
        self._change(lines=lines.with_use(kind, replace(lines[kind], **{name: value})))  # type: ignore[arg-type,index]

    def _change(self, **changes: Any) -> None:
        try:
            changed = replace(self.profile, **changes)
        except HonestEdgeError as error:
            self._refuse(str(error))
            self._show()
            return
        self.profile = changed
        self.message.hide()

    def _refuse(self, text: str) -> None:
        self.message.setText(text)
        self.message.show()

    # -- files ---------------------------------------------------------------------------------------

    def _keep(self) -> None:
        self._try(lambda: self._folder.keep(self.profile), "It is in your profiles now.")

    def _import(self) -> None:
        path = dialogs.ask_profile(self)
        if path is not None:
            self._try(lambda: self._take(load_profile(path)), f"{path.name} was imported.")

    def _take(self, profile: Profile) -> None:
        if kind_of(profile) != kind_of(self.profile):
            raise HonestEdgeError(f"That is the profile of a {kind_of(profile)}, not of a {kind_of(self.profile)}")
        self.profile = profile
        self._show()

    def _export(self) -> None:
        path = dialogs.ask_profile_to_write(self, self.profile.name)
        if path is not None:
            self._try(lambda: save_profile(Path(path), self.profile), f"Written to {path}.")

    def _try(self, act: Callable[[], object], done: str) -> None:
        try:
            act()
        except HonestEdgeError as error:
            self._refuse(str(error))
            return
        self._refuse(done)
