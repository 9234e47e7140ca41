"""Art, for a design of layers: the stack, the layer in hand, and the whole."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QPoint, QPointF, QSignalBlocker
from PyQt6.QtWidgets import (
    QCheckBox,
    QPushButton,
)

from honest_edge.core.proof import register
from honest_edge.core.proof.register import of_checks
from honest_edge.core.values.job import Design
from honest_edge.core.values.layers import Backing, Layer, Sticker
from honest_edge.ui.shared.copies import CopiesRows
from honest_edge.ui.shared.finding_list import FindingList
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.name_field import NameField
from honest_edge.ui.shared.panel import Panel
from honest_edge.ui.stations.art.arranging import Arranging, Change
from honest_edge.ui.stations.art.form_cards import FormCards
from honest_edge.ui.stations.art.layer_fields import LayerFields
from honest_edge.ui.stations.art.layer_list import LayerList
from honest_edge.ui.stations.art.layer_menus import adding_button, arranging_button
from honest_edge.ui.stations.art.size_fields import SizeFields
from honest_edge.ui.stations.art.state import LayersState
from honest_edge.ui.widgets import dialogs
from honest_edge.ui.widgets.fields import (
    Button,
    Choice,
    Form,
    button,
    card,
    greyed,
    label,
    paint_button,
    row,
    set_tone,
)
from honest_edge.ui.widgets.typed import LengthField

if TYPE_CHECKING:
    from honest_edge.core.values.layers import Picture


_SAID_HERE = (
    register.PPI,
    register.FONT,
    register.WORDS_FIT,
    register.SHRUNK,
    register.FIELD,
    register.BLANK_ROWS,
    register.CODE,
    register.LAYER_GROUND,
    register.SEE_THROUGH,
    register.QUIET,
    register.OFF_THE_FORM,
    register.RING,
    register.CLASH,
    register.CLEAR,
    register.PLACEHOLDER,
)
_BACKINGS = (
    ("", "none"),
    ("offset", "their own outline"),
    ("box", "box"),
    ("rounded box", "rounded box"),
    ("disc", "disc"),
)
_SHAPE_RGB = (216, 226, 214)


class LayersPanel(Panel):
    """The same question as Art, answered for a stack."""

    topic = "layers"

    def __init__(
        self,
        host: Host,
        question: str,
        state: LayersState,
        read_picture: Callable[[Path, Callable[[Picture], None]], None],
    ) -> None:
        """Take what is known of layers, and what reads a picture's file for whoever takes it."""
        self.state, self._read_picture = state, read_picture
        self.arranging = Arranging(host.workspace, state)
        super().__init__(host, question)

    def build(self) -> None:
        """Add the cards."""
        form = Form()
        self.name = NameField(self.workspace)
        form.add("Name", self.name)
        self.sizes = SizeFields(self.host, form)
        self.copies = CopiesRows(self.workspace, form)
        self.remarks = label("", "look")
        self.column.addWidget(self.remarks)
        self.findings = FindingList(self.host, links=False)
        self.column.addWidget(self.findings)
        self.order = label("", "soft")
        self.column.addWidget(self.order)
        self.column.addWidget(form)
        self.form = FormCards(self.host, self.state)  # its sizes are asked for first
        self.column.addWidget(self.form)
        self._build_list()
        self._build_fields()
        self._build_whole()

    def _build_list(self) -> None:
        frame, inside = card(topic="layers")
        inside.addWidget(label("Layers, top first", "heading"))
        self.list = LayerList()
        self.list.chosen.connect(self._on_chosen)
        self.list.hidden.connect(self._hide)
        inside.addWidget(self.list)
        self.up = self._key_button("Up", "Ctrl+]", "One up in the stack", lambda: self.arranging.restack(1))
        self.down = self._key_button("Down", "Ctrl+[", "One down in the stack", lambda: self.arranging.restack(-1))
        self.copy = self._key_button("Copy", "", "Duplicate what is in hand (Ctrl+D)", self.duplicate)
        self.remove = button("Remove", self.remove_taken)
        self.remove.setToolTip("Remove what is in hand (Del on the table or the list)")
        self.remove.setProperty("tool", True)
        self.add, self.stickers_menu = adding_button(self, self, self.workspace)
        self.arrange = arranging_button(self, self.arranging, duplicate=self.duplicate)
        if (menu := self.arrange.menu()) is not None:
            self.list.menu_wanted.connect(menu.popup)
        inside.addLayout(row(self.add, self.arrange))
        inside.addLayout(row(self.up, self.down, self.copy, self.remove))
        self.column.addWidget(frame)

    def _build_fields(self) -> None:
        self.fields_card, inside = card(topic="layers")
        self.fields_title = label("", "heading")
        inside.addWidget(self.fields_title)
        self.fields = LayerFields(self.host, self.state, self.edit_taken, self._read_picture)
        inside.addWidget(self.fields)
        self.column.addWidget(self.fields_card)

    def _build_whole(self) -> None:
        self.whole_card, inside = card(topic="layers")
        frame = self.whole_card
        inside.addWidget(label("The whole", "heading"))
        self.flat = QCheckBox("Flatten: one cut round everything")
        self.flat.clicked.connect(self._flatten)
        inside.addWidget(self.flat)
        self.pieces = label("", "soft")
        inside.addWidget(self.pieces)
        form = Form(narrow=True)
        self.backing = Choice("Backing behind them", _BACKINGS)
        self.backing.chosen.connect(self._choose_backing)
        form.add("Backing", self.backing, "A plain ground, so that no gap shows through")
        self.reach = LengthField("Reach of the backing")
        self.reach.committed.connect(lambda value: self._set_backing(grow_mm=value))
        self.reach.refused.connect(self.refuse)
        self.reach_row = form.add("Reaches out", self.reach)
        self.backing_colour = Button()
        self.backing_colour.setAccessibleName("Backing’s colour")
        self.backing_colour.clicked.connect(self._choose_backing_colour)
        self.backing_row = form.add("Its colour", self.backing_colour)
        inside.addWidget(form)
        self.column.addWidget(frame)

    def _key_button(self, name: str, key: str, tip: str, act: Callable[[], object]) -> QPushButton:
        key_button = button(name, act)
        key_button.setShortcut(key)
        key_button.setToolTip(f"{tip} ({key})" if key else tip)
        key_button.setProperty("tool", True)
        return key_button

    def show_arranging(self, place: QPoint) -> None:
        """Show what can be done with the layers in hand, at a place of the screen."""
        menu = self.arrange.menu()
        if menu is not None:
            menu.popup(place)

    # -- what is in hand -----------------------------------------------------------------------------

    @property
    def taken(self) -> tuple[str, ...]:
        """Keys of the layers in hand."""
        return self.state.taken

    def take(self, keys: tuple[str, ...]) -> None:
        """Take layers in hand."""
        self.state.take(keys)
        self.refresh()

    def _on_chosen(self, keys: tuple[str, ...]) -> None:
        if set(keys) != set(self.taken):
            self.take(keys)

    # -- editing -------------------------------------------------------------------------------------

    def edit_taken(self, words: str, change: Change, merge: int = -1) -> None:
        """Change the layer whose fields are shown."""
        self.arranging.change(words, self.taken[:1], change, merge=merge)

    def move_taken(self, keys: tuple[str, ...], across_mm: float, down_mm: float, *, merge: int = -1) -> None:
        """Move layers, or the picture inside the one in hand."""
        if self.state.is_placing and len(keys) == 1:
            self.arranging.move_fill(keys[0], across_mm, down_mm, merge=merge)
            return
        self.arranging.move(keys, across_mm, down_mm, merge=merge)

    def scale(self, keys: tuple[str, ...], factor: float, middle: QPointF) -> None:
        """Make layers larger or smaller, several as one; where that is impossible they are shown as they were."""
        if len(keys) > 1:
            is_done = self.arranging.scale_together(keys, factor, (middle.x(), middle.y()))
        elif self.state.is_placing:
            is_done = self.arranging.scale_fill(keys[0], factor)
        else:
            is_done = self.arranging.scale(keys[0], factor)
        if not is_done:
            self.host.redraw()

    def remove_taken(self) -> None:
        """Remove the layers in hand."""
        self.arranging.remove()

    def add_layer(self, place: tuple[float, float] | None = None, **content: Any) -> None:
        """Lay something new on top, at a place or in the middle of what is there."""
        from honest_edge.app.edits.layer_edits import place_for_layer
        from honest_edge.core.layers.arrange import free_key

        design, view = self.workspace.design, self.state.layer_view
        if design is None:
            return
        key, (x_mm, y_mm) = free_key(design.layers), (0.0, 0.0)
        if view is not None and view.stack is not None:
            left, top, right, bottom = (float(edge) for edge in view.stack.area.bounds)
            x_mm, y_mm = round((left + right) / 2, 2), round((top + bottom) / 2, 2)
        layer = Layer(key=key, x_mm=x_mm, y_mm=y_mm, **content)
        if place is None and view is not None:
            place = place_for_layer(design, layer, view.boxes, self.workspace.job.kept_clear_mm)
        if place is not None:
            layer = replace(layer, x_mm=round(place[0], 2), y_mm=round(place[1], 2))
        if layer.shape is not None:
            layer = replace(layer, paint=replace(layer.paint, rgb=_SHAPE_RGB))
        if self.arranging.edit(f"add {layer.title}", lambda design: (*design.layers, layer)):
            self.take((key,))
            self.type_over()

    def type_over(self) -> None:
        """Let what is typed now replace the words in hand, where these are words."""
        design = self.workspace.design
        if design is not None and len(self.taken) == 1 and design.layer(self.taken[0]).lettering is not None:
            self.fields.text.setFocus()
            self.fields.text.selectAll()

    def add_sticker(self, key: str) -> None:
        """Lay another design on this one; what lies below stays clear of it by the drift that is expected."""
        from honest_edge.app.edits.layer_edits import place_for_sticker, ring_mm

        design, view, other = self.workspace.design, self.state.layer_view, self.workspace.fresh.get(key)
        gap_mm, place = ring_mm(self.workspace.job), None
        if design is not None and view is not None and other is not None:
            left, top, right, bottom = (float(edge) for edge in other.cut.area.bounds)
            place = place_for_sticker(design, (right - left, bottom - top), view.boxes, gap_mm)
        name = self.workspace.job.design(key).name
        self.add_layer(place, sticker=Sticker(design=key), name=name, joining="knock out", gap_mm=gap_mm)

    def add_picture(self) -> None:
        """Ask for a picture and lay it on top."""
        path = dialogs.ask_picture(self, self.workspace.place.art)
        if path is not None:
            self._read_picture(path, lambda found: self.add_layer(picture=found))

    def duplicate(self) -> bool:
        """Copy the layers in hand and take the copies in hand; return whether there are any."""
        copies = self.arranging.duplicate()
        if copies:
            self.take(copies)
        return bool(copies)

    def _hide(self, key: str, hidden: bool) -> None:
        self.arranging.change("hide" if hidden else "show", (key,), lambda layer: replace(layer, is_hidden=hidden))

    def _flatten(self, on: bool) -> None:
        self.workspace.edit_design("flatten" if on else "cut apart", is_flattened=on)

    def _choose_backing(self, shape: str) -> None:
        design = self.workspace.design
        if design is not None:
            present = design.backing or Backing()
            backing = replace(present, shape=shape) if shape else None  # type: ignore[arg-type]
            self.workspace.edit_design("backing", backing=backing)

    def _set_backing(self, **changes: Any) -> None:
        design = self.workspace.design
        if design is None or design.backing is None:
            return
        present = design.backing
        backing = self.workspace.build(lambda: replace(present, **changes))
        if backing is not None:
            self.workspace.edit_design("backing", backing=backing)

    def _choose_backing_colour(self) -> None:
        design = self.workspace.design
        if design is not None and design.backing is not None:
            chosen = dialogs.ask_colour(self, design.backing.rgb)
            if chosen is not None:
                self._set_backing(rgb=chosen)

    # -- showing -------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the design in hand."""
        design, result, view = self.workspace.design, self.workspace.result, self.state.layer_view
        self.setEnabled(design is not None)
        if design is None:
            self.show_missing()
            return
        self.name.show_design(design)
        self.copies.show_design(design)
        self.list.show_layers(design, self.taken)
        self._show_taken(design)
        self._show_whole(design)
        self.form.show_design(design)
        self.whole_card.setVisible(design.form is None)
        if result is None or result.composed is None:
            self.show_missing()
            return
        for size_row in self.sizes.rows:
            size_row.setVisible(design.form is None)  # a form has sizes of its own
        self.sizes.show(result)
        if not self.show_missing():
            soft = result.composed is not None and result.composed.lowest_ppi is not None
            self.answer.setText(f"{result.ppi:.0f} ppi" if soft else "Crisp")
            words = "softest picture; cut at" if soft else "drawn forms only; cut at"
            self.under.setText(f"{words} {self.workspace.size(result.cut_size_mm)}")
        self.findings.show_findings([(f.message, f) for f in of_checks(result.findings, *_SAID_HERE)])
        self.remarks.setText(view.error if view is not None and view.error else "")
        self.remarks.setVisible(bool(self.remarks.text()))
        self.order.setText(self._order_words())
        self.order.setVisible(bool(self.order.text()))

    def _order_words(self) -> str:
        from honest_edge.app.results.stock_pieces import assembly_order

        design = self.workspace.design
        if design is None or not any(layer.is_piece for layer in design.layers):
            return ""
        named = [f"{number} {name}" for number, (_, name) in enumerate(assembly_order(design), 1)]
        return "Glue back to front: " + ", ".join(named) + "."

    def _show_taken(self, design: Design) -> None:
        taken, view = self.taken, self.state.layer_view
        for control in (self.up, self.down, self.copy, self.remove, self.arrange):
            greyed(control, "" if taken else "Take a layer in hand first, on the table or in the list")
        self.fields_card.setVisible(len(taken) == 1)
        if len(taken) == 1:
            layer = design.layer(taken[0])
            self.fields_title.setText(layer.title if len(layer.title) < 34 else f"{layer.title[:33]}…")
            self.fields.show_layer(layer, view.errors.get(layer.key, "") if view is not None else "")

    def _show_whole(self, design: Design) -> None:
        view = self.state.layer_view
        with QSignalBlocker(self.flat):
            self.flat.setChecked(design.is_flattened)
        self.pieces.setText(view.summary if view is not None else "")
        set_tone(self.pieces, "danger" if view is not None and view.error else "soft")
        backing = design.backing
        self.backing.show_value(backing.shape if backing is not None else "")
        self.reach_row.setVisible(backing is not None)
        self.backing_row.setVisible(backing is not None)
        if backing is not None:
            self.reach.show_length(backing.grow_mm, self.workspace.unit)
            paint_button(self.backing_colour, backing.rgb)
