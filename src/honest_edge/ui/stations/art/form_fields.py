"""The sizes of a design's form, what follows from them, and a pop-up's fold as a small picture."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Any

from PyQt6.QtCore import QPointF, QSize
from PyQt6.QtGui import QColor, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.forms import LABEL_KINDS, usual_sizes
from honest_edge.core.values.forms import Form as DesignForm
from honest_edge.ui.shared.host import Host
from honest_edge.ui.stations.art.field_table import Field, FieldTable, with_value
from honest_edge.ui.widgets import dialogs
from honest_edge.ui.widgets.fields import Button, Form, button, label, paint_button, row
from honest_edge.ui.widgets.flow import Flow
from honest_edge.ui.widgets.painting import Painted, painter_on
from honest_edge.ui.widgets.unwheeled import Slider

_FOLD_AT = (("left", "at the left"), ("top", "at the top"))
_LABELS = (
    ("oval label", "flat and round"),
    ("label", "flat, with corners"),
    ("wrap label", "round a jar"),
    ("lid label", "on a lid"),
)
_FOLD_KINDS = (("crease", "creased"), ("perforate", "perforated"))


def _is(*kinds: str) -> Callable[[DesignForm], bool]:
    return lambda form: form.kind in kinds


def _folds(form: DesignForm) -> bool:
    return form.kind in ("folded card", "pop-up card", "sleeve")


FIELDS = (
    Field(path="kind", name="It lies", kind="choice", options=_LABELS, when=_is(*LABEL_KINDS)),
    Field(path="jar_mm", name="Diameter measured", when=_is("wrap label", "lid label")),
    Field(
        path="around_mm",
        name="… or a tape round it",
        tip="What a tape says that is laid round: the diameter follows from it",
        when=_is("wrap label", "lid label"),
    ),
    Field(path="lower_jar_mm", name="… below, if conical", tip="0 for the same", when=_is("wrap label")),
    Field(path="diameter_mm", name="Diameter", tip="Makes it round; 0 where it is not", when=_is("oval label")),
    Field(path="width_mm", name="Width", when=lambda f: f.kind not in ("wrap label", "lid label")),
    Field(path="height_mm", name="Height", when=lambda f: f.kind != "lid label"),
    Field(
        path="depth_mm", name="Depth", tip="Of the box, or how far a part stands out", when=_is("sleeve", "pop-up card")
    ),
    Field(path="overlap_mm", name="Overlap", when=_is("wrap label")),
    Field(path="margin_mm", name="Inside the rim by", when=_is("lid label")),
    Field(
        path="radius_mm",
        name="Corner radius",
        when=lambda f: (
            f.kind in ("sticker sheet", "label", "wrap label", "tag", "planner boxes", "folded card", "pop-up card")
        ),
    ),
    Field(path="hole_mm", name="Hang hole", tip="0 for none", when=_is("sticker sheet", "tag")),
    Field(path="columns", name="Columns", kind="count", when=_is("planner boxes")),
    Field(path="rows", name="Rows", kind="count", when=_is("planner boxes")),
    Field(path="gap_mm", name="Gap between", when=_is("planner boxes")),
    Field(path="flap_mm", name="Glue flap", when=_is("sleeve")),
    Field(path="fold", name="Fold", kind="choice", options=_FOLD_AT, when=_is("folded card", "pop-up card")),
    Field(path="part_width_mm", name="Part’s width", when=_is("pop-up card")),
    Field(path="part_height_mm", name="Part’s height", when=_is("pop-up card")),
    Field(path="fold_kind", name="Folds are", kind="choice", options=_FOLD_KINDS, when=_folds),
    Field(path="cut_mm", name="Cuts", when=lambda f: _folds(f) and f.fold_kind == "perforate"),
    Field(path="tie_mm", name="Ties between", when=lambda f: _folds(f) and f.fold_kind == "perforate"),
)


class FoldPicture(Painted):
    """A pop-up card from the side, as far open as the slider says."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("The fold from the side")
        self.setFixedHeight(110)
        self._form: DesignForm | None = None
        self.opening_deg = 90

    def show_form(self, form: DesignForm) -> None:
        """Draw another form."""
        self._form = form
        self.update()

    def open_to(self, degrees: int) -> None:
        """Open or shut it."""
        self.opening_deg = degrees
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(240, 110)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        if self._form is None:
            return
        from honest_edge.core.layers.forms import folded_part

        points = folded_part(self._form, self.opening_deg)
        panel = float(abs(points[-1, 0]))
        scale = min((self.width() - 16) / (2 * panel), (self.height() - 16) / panel)
        origin = QPointF(self.width() / 2, self.height() - 8)
        behind, leaves, bend, meets, before = (
            QPointF(origin.x() + x * scale, origin.y() - y * scale) for x, y in points.tolist()
        )
        painter = painter_on(self)
        ink = self.palette().color(self.foregroundRole())
        painter.setPen(QPen(ink, 2))
        painter.drawPolyline(QPolygonF([behind, origin, before]))
        painter.setPen(QPen(QColor("#B06A00"), 2))
        painter.drawPolyline(QPolygonF([leaves, bend, meets]))


class FormFields(QWidget):
    """Shows a form and edits it."""

    def __init__(self, host: Host, edit: Callable[[str, DesignForm], bool]) -> None:
        """Take the host, and what puts another form in the place of the present one."""
        super().__init__()
        self._workspace, self._edit = host.workspace, edit
        self._form: DesignForm | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.usual = Flow()
        self._usual: list[QWidget] = []
        column.addLayout(self.usual)
        rows = Form(narrow=True)
        self.table = FieldTable(host, rows, FIELDS, self._set)
        self.ground = Button()
        self.ground.setAccessibleName("Ground")
        self.ground.clicked.connect(self._choose_ground)
        rows.add("Ground", self.ground)
        column.addWidget(rows)
        self.facts = label("", "soft")
        self.problem = label("", "danger")
        column.addWidget(self.facts)
        column.addWidget(self.problem)
        self.fold = FoldPicture()
        self.slider = Slider()
        self.slider.setAccessibleName("How far it is open, degrees")
        self.slider.setRange(1, 179)
        self.slider.setValue(self.fold.opening_deg)
        self.slider.valueChanged.connect(self.fold.open_to)
        column.addWidget(self.fold)
        self._opening = label("shut … open", "soft")
        column.addLayout(row(self._opening, self.slider))

    def show_form(self, form: DesignForm) -> None:
        """Show a form and what follows from it."""
        from honest_edge.core.layers.forms import form_shape

        if self._form is None or self._form.kind != form.kind:
            self._offer_usual(form)
        self._form = form
        self.table.show(form)
        paint_button(self.ground, form.rgb)
        try:
            facts, problem = form_shape(form).facts, ""
        except HonestEdgeError as error:
            facts, problem = (), str(error)
        self.facts.setText(". ".join(f"{fact[:1].upper()}{fact[1:]}" for fact in facts))
        self.facts.setVisible(bool(facts))
        self.problem.setText(problem)
        self.problem.setVisible(bool(problem))
        is_pop_up = form.kind == "pop-up card"
        for widget in (self.fold, self.slider, self._opening):
            widget.setVisible(is_pop_up)
        self.fold.show_form(form)

    def _offer_usual(self, form: DesignForm) -> None:
        """Offer the sizes that are usual for a kind of form, each as a button."""
        for old in self._usual:
            self.usual.removeWidget(old)
            old.hide()
            old.deleteLater()
        self._usual = []
        for name, sizes in usual_sizes(form.kind):
            size_button = button(name, partial(self._take_sizes, name, sizes))
            size_button.setProperty("tool", True)
            size_button.setAccessibleName(f"Size {name}")
            self.usual.addWidget(size_button)
            self._usual.append(size_button)

    def _take_sizes(self, name: str, sizes: dict[str, float]) -> None:
        if self._form is not None:
            self._edit(f"size {name}", replace(self._form, **sizes))  # type: ignore[arg-type]

    def _set(self, path: str, value: Any, words: str) -> None:
        form = self._form
        if form is not None:
            edited = self._workspace.build(lambda: with_value(form, path, value))
            if edited is not None:
                self._edit(words, edited)

    def _choose_ground(self) -> None:
        if self._form is not None:
            chosen = dialogs.ask_colour(self, self._form.rgb)
            if chosen is not None:
                self._set("rgb", chosen, "ground")
