"""The fields of the layer in hand."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QSignalBlocker, QTimer
from PyQt6.QtWidgets import QCheckBox, QLineEdit, QPlainTextEdit, QSizePolicy, QVBoxLayout, QWidget

from honest_edge.core.values.layers import Gradient, Layer, Picture
from honest_edge.core.values.specs import Colour
from honest_edge.core.values.stock import Stock
from honest_edge.ui.shared.fold import Fold
from honest_edge.ui.shared.host import Host
from honest_edge.ui.stations.art.arranging import Arranging
from honest_edge.ui.stations.art.edge_distances import EdgeDistances
from honest_edge.ui.stations.art.field_table import FieldTable, value_at, with_value
from honest_edge.ui.stations.art.gradient_row import GradientRow
from honest_edge.ui.stations.art.layer_rows import FIELDS
from honest_edge.ui.stations.art.state import LayersState
from honest_edge.ui.widgets import dialogs
from honest_edge.ui.widgets.fields import (
    Button,
    Choice,
    Form,
    label,
    paint_button,
    row,
)
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import LengthField

_TYPING_MS = 350
_FILLS = (
    ("plain", "colour"),
    ("linear", "gradient"),
    ("radial", "round gradient"),
    ("picture", "picture"),
    ("pattern", "pattern"),
)


class LayerFields(QWidget):
    """Shows one layer and edits it."""

    def __init__(
        self,
        host: Host,
        state: LayersState,
        edit: Callable[[str, Callable[[Layer], Layer], int], None],
        read_picture: Callable[[Path, Callable[[Picture], None]], None],
    ) -> None:
        """Take what makes a change to the layers in hand, and what reads a picture's file for whoever takes it."""
        super().__init__()
        self._host, self.workspace, self._state = host, host.workspace, state
        self._edit, self._read_picture = edit, read_picture
        self._layer: Layer | None = None
        self._gesture = -1
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.text = QPlainTextEdit()
        self.text.setAccessibleName("Words")
        self.text.setFixedHeight(px(64))
        self.text.setTabChangesFocus(True)
        self.text.textChanged.connect(self._on_typing)
        self._typing = QTimer(self)
        self._typing.setSingleShot(True)
        self._typing.setInterval(_TYPING_MS)
        self._typing.timeout.connect(self._take_text)
        self.code_text = QLineEdit()
        self.code_text.setAccessibleName("What the code says")
        self.code_text.editingFinished.connect(lambda: self._set("code.text", self.code_text.text(), "code"))
        self.substitute = label("", "look")
        self.problem = label("", "danger")
        for widget in (self.text, self.code_text, self.substitute, self.problem):
            column.addWidget(widget)
        self._build_font(column)
        form = Form(narrow=True)
        self._build_paint(form)
        seldom = Form(narrow=True)
        self._table = FieldTable(host, form, FIELDS, self._set, seldom)
        self.controls = self._table.controls
        self.distances = EdgeDistances(host, state, seldom, Arranging(host.workspace, state))
        column.addWidget(form)
        self.more = Fold(host, "More of this layer", topic="layers", is_card=False)
        self.more.inside.addWidget(seldom)
        column.addWidget(self.more)

    def _build_font(self, column: QVBoxLayout) -> None:
        self.family = Choice("Font", ())
        self.family.chosen.connect(self._choose_family)
        self.style_choice = Choice("Style", ())
        self.style_choice.chosen.connect(lambda name: self._set("lettering.style", name, "style"))
        for choice, stretch in ((self.family, 3), (self.style_choice, 2)):
            policy = QSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            policy.setHorizontalStretch(stretch)
            choice.setSizePolicy(policy)  # long names of fonts must not widen the column
        self.family.setToolTip("Font")
        self.style_choice.setToolTip("Style of the font")
        column.addLayout(row(self.family, self.style_choice))

    def _build_paint(self, form: Form) -> None:
        self.colour = Button()
        self.colour.setAccessibleName("Colour")
        self.colour.clicked.connect(self._choose_colour)
        self.fill = Choice("Filled with", _FILLS)
        self.fill.chosen.connect(self._choose_fill)
        self.repeat = LengthField("Pattern repeats every")
        self.repeat.committed.connect(lambda value: self._set("paint.repeat_mm", value, "repeat"))
        self.repeat.refused.connect(lambda text: self._host.say(text, tone="danger"))
        self._colour_row = form.add("Colour", self.colour)
        self._fill_row = form.add("Filled with", self.fill)
        self.gradient = GradientRow(self._take_colours)
        form.add_wide(self.gradient)
        self.stock = Button()
        self.stock.setAccessibleName("Stock it is cut from")
        self.stock.clicked.connect(self._choose_stock)
        self._stock_row = form.add("Stock", self.stock, "Each stock gets sheets of its own")
        self._repeat_row = form.add("Repeats every", self.repeat)
        self.placing = QCheckBox("Move the picture inside it")
        self.placing.setToolTip(
            "A drag on the table then moves the picture, the grip sizes it; all of it shows faintly"
        )
        self.placing.clicked.connect(self._place)
        form.add_wide(self.placing)

    # -- showing -------------------------------------------------------------------------------------

    def show_layer(self, layer: Layer, error: str) -> None:
        """Show a layer, and why it cannot be drawn."""
        if self._layer is None or self._layer.key != layer.key:
            self._take_text()  # what was typed into the layer before
            self._gesture = self.workspace.new_gesture()
        self._layer = layer
        self._show_words(layer)
        self._show_paint(layer)
        self.problem.setText(error)
        self.problem.setVisible(bool(error))
        self._table.show(layer)
        self.distances.show_layer(layer)

    def _show_words(self, layer: Layer) -> None:
        words = layer.lettering
        self.text.setVisible(words is not None)
        self.code_text.setVisible(layer.code is not None)
        for choice in (self.family, self.style_choice):
            choice.setVisible(words is not None)
        self.substitute.hide()
        if layer.code is not None and not self.code_text.hasFocus():
            self.code_text.setText(layer.code.text)
        if words is None:
            return
        if not self._typing.isActive() and self.text.toPlainText() != words.text:
            with QSignalBlocker(self.text):
                self.text.setPlainText(words.text)
        fonts = self._state.fonts
        missing = bool(fonts) and words.style not in fonts.get(words.family, ())
        self.substitute.setVisible(missing)
        self.substitute.setText(f"{words.family} {words.style} is not on this machine; another font stands in for it.")
        _fill(self.family, list(fonts), words.family)
        _fill(self.style_choice, list(fonts.get(words.family, ())), words.style)

    def _show_paint(self, layer: Layer) -> None:
        is_piece = layer.role == "stock"
        plain = layer.picture is None and layer.sticker is None and layer.role not in ("stock", "line")
        self._stock_row.setVisible(is_piece)
        paint_button(self.stock, layer.stock.rgb)
        gradient = layer.paint.gradient if plain and layer.code is None else None
        self._colour_row.setVisible(plain and gradient is None)
        self.gradient.setVisible(gradient is not None)
        if gradient is not None:
            self.gradient.show_colours(gradient.colours)
        self._fill_row.setVisible(plain and layer.code is None)
        self._repeat_row.setVisible(plain and bool(layer.paint.asset) and layer.paint.repeat_mm > 0)
        paint_button(self.colour, layer.paint.rgb)
        self.placing.setVisible(plain and bool(layer.paint.asset))
        with QSignalBlocker(self.placing):
            self.placing.setChecked(self._state.is_placing)
        kind = "plain" if not layer.paint.asset else "pattern" if layer.paint.repeat_mm else "picture"
        kind = kind if gradient is None else gradient.kind
        self.fill.show_value(kind)
        self.fill.setToolTip(layer.paint.file_name)
        self.repeat.show_length(layer.paint.repeat_mm, self.workspace.unit)

    def _take_colours(self, colours: tuple[Colour, ...]) -> None:
        self._set("paint.gradient.colours", colours, "colours of the gradient")

    def _place(self, on: bool) -> None:
        self._state.is_placing = on
        self._host.redraw()

    # -- editing -------------------------------------------------------------------------------------

    def _set(self, path: str, value: Any, words: str, *, merge: int = -1) -> None:
        if self._layer is not None and value_at(self._layer, path) != value:
            self._edit(words, lambda layer: with_value(layer, path, value), merge)

    def _on_typing(self) -> None:
        self._typing.start()

    def _take_text(self) -> None:
        self._typing.stop()
        layer = self._layer
        if layer is None or layer.lettering is None or layer.lettering.text == self.text.toPlainText():
            return
        self._set("lettering.text", self.text.toPlainText(), "words", merge=self._gesture)

    def _choose_family(self, family: str) -> None:
        styles = self._state.fonts.get(family, ("Regular",))
        layer = self._layer
        if layer is None or layer.lettering is None:
            return
        style = layer.lettering.style if layer.lettering.style in styles else styles[0]

        def change(changed: Layer) -> Layer:
            words = changed.lettering
            return changed if words is None else replace(changed, lettering=replace(words, family=family, style=style))

        self._edit("font", change, -1)

    def _choose_colour(self) -> None:
        if self._layer is not None:
            chosen = dialogs.ask_colour(self, self._layer.paint.rgb)
            if chosen is not None:
                self._set("paint.rgb", chosen, "colour")

    def _choose_stock(self) -> None:
        if self._layer is not None:
            chosen = dialogs.ask_colour(self, self._layer.stock.rgb, "Colour of the stock")
            if chosen is not None:
                self._set("stock", Stock(rgb=chosen), "stock")

    def _choose_fill(self, kind: str) -> None:
        layer = self._layer
        if layer is None:
            return
        paint = layer.paint
        if kind == "plain":
            paint = replace(paint, asset="", file_name="", repeat_mm=0.0, gradient=None)
        elif kind in ("linear", "radial"):
            present = paint.gradient or Gradient(colours=(paint.rgb, (255, 255, 255)))
            paint = replace(
                paint,
                asset="",
                file_name="",
                repeat_mm=0.0,
                gradient=replace(present, kind="linear" if kind == "linear" else "radial"),
            )
        else:
            paint = replace(paint, gradient=None)
            paint = replace(paint, repeat_mm=(paint.repeat_mm or 10.0) if kind == "pattern" else 0.0)
            if not paint.asset:
                self.fill.show_value("plain")
                path = dialogs.ask_picture(self, self.workspace.place.art)
                if path is not None:
                    self._read_picture(path, lambda found: self._fill_with(found, paint.repeat_mm))
                return
        self._set("paint", paint, "filling")

    def _fill_with(self, picture: Picture, repeat_mm: float) -> None:
        layer = self._layer
        if layer is not None:
            paint = replace(layer.paint, asset=picture.asset, file_name=picture.file_name, repeat_mm=repeat_mm)
            self._set("paint", paint, "filling")


def _fill(choice: Choice, names: list[str], present: str) -> None:
    """List names, and the present one even where it is not among them."""
    wanted = names if present in names else [present, *names]
    if [choice.itemText(row) for row in range(choice.count())] != wanted:
        with QSignalBlocker(choice):
            choice.clear()
            for name in wanted:
                choice.addItem(name, name)
    choice.show_value(present)
