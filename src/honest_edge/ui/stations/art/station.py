"""Art: a picture at its finished size, or a design of layers that is put together on the table."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGraphicsScene

from honest_edge.core.values.job import Design
from honest_edge.ui.shared.contract import Shown, Station
from honest_edge.ui.shared.file_parts import make_each_layer_a_layer, make_each_page_a_design
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.panel import Panel
from honest_edge.ui.stations.art.art_panel import ArtPanel
from honest_edge.ui.stations.art.state import LayersState

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.app.views.layer_view import LayerView
    from honest_edge.core.imaging.upright import Corners
    from honest_edge.core.values.layers import Picture
    from honest_edge.ui.stations.art.corners_on_table import CornersOnTable
    from honest_edge.ui.stations.art.layer_items import LayerHands
    from honest_edge.ui.stations.art.layers_on_table import LayersOnTable
    from honest_edge.ui.stations.art.layers_panel import LayersPanel

_HINT = "hold B: before / after    M: caliper    0: show all"
_LAYERS_HINT = "drag to move    Shift+click: more    arrows: 0.5 mm    {before}0: show all"
_THICKENED = "B: before thickening    "


class ArtStation(Station):
    """Shows one of two panels: for a picture, or for layers; draws layers as soon as they are put together."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__(host)
        self._question = question
        self.state = LayersState(host.workspace)
        self.state.taken_changed.connect(self._on_taken)
        self._drawn: LayersOnTable | None = None
        self._corners: CornersOnTable | None = None
        self._gesture = -1
        self._laying, self._fonting, self._reading = host.new_task(), host.new_task(), host.new_task()
        self._laying.done.connect(lambda view: self._on_laid(cast("LayerView", view)))
        self._fonting.done.connect(lambda fonts: self._on_fonts(cast("dict[str, tuple[str, ...]]", fonts)))
        self._reading.done.connect(lambda found: found[1](found[0]))
        for task in (self._laying, self._reading):
            task.failed.connect(lambda text: host.say(text, tone="danger"))

    @property
    def panel(self) -> Panel:
        """The cards of a picture, or of layers."""
        return self.layers if self._is_layered else self.picture

    @cached_property
    def picture(self) -> ArtPanel:
        """Size and sharpness of one picture."""
        panel = ArtPanel(self.host, self._question)
        panel.split_wanted.connect(self._split)
        panel.layers_wanted.connect(self._to_layers)
        panel.apart_wanted.connect(self._apart)
        panel.each_wanted.connect(self._each_page)
        return panel

    @cached_property
    def layers(self) -> LayersPanel:
        """The stack of a layered design."""
        from honest_edge.ui.stations.art.layers_panel import LayersPanel

        return LayersPanel(self.host, self._question, self.state, self._read_picture)

    @property
    def _is_layered(self) -> bool:
        design = self.workspace.design
        return design is not None and design.is_layered

    # -- drawing -------------------------------------------------------------------------------------

    def drawn_from(self) -> tuple[object, ...]:
        workspace, design = self.workspace, self.workspace.design
        layers = design.layers if design is not None and design.is_layered else None
        view = self.state.layer_view if layers is not None else None
        return workspace.result, workspace.sketch, workspace.job.sheet.stock, layers, view

    def draw(self, scene: QGraphicsScene) -> Shown | None:
        self._drawn = None
        result = self.workspace.result
        if self._is_layered:
            shown = self._draw_layers(scene)
            if shown is not None:
                return shown
        if result is None:
            return self._draw_sketch(scene)
        from honest_edge.ui.stations.art.drawing import draw_art  # loaded with the first drawing

        if self.picture.corners.at_hand is not None:
            return self._draw_corners(scene, result)
        content = draw_art(
            scene,
            result,
            self.host.tokens,
            self.workspace.unit,
            compare=self.picture.comparison,
            ruler=self.picture.ruler.isChecked(),
        )
        return Shown(content=content, caption=_HINT)

    def _draw_corners(self, scene: QGraphicsScene, result: DesignResult) -> Shown:
        """Draw the photograph with the corners of its page, to be dragged."""
        from honest_edge.ui.drawings.picture_item import PictureItem
        from honest_edge.ui.stations.art.corners_on_table import CornersOnTable

        scene.clear()
        width_mm, card = result.design.width_mm, self.picture.corners
        picture = PictureItem(result.artwork.pixels, 0, 0, width_mm / result.artwork.width_px)
        picture.setData(0, "always")
        scene.addItem(picture)
        assert card.at_hand is not None  # who asks has looked

        def moved(corners: Corners) -> None:
            card.at_hand = corners

        self._corners = CornersOnTable(card.at_hand, (width_mm, result.height_mm), moved)
        self._corners.draw(scene)
        return Shown(content=picture.boundingRect(), caption="drag the rings to the corners of the page")

    def _draw_sketch(self, scene: QGraphicsScene) -> Shown | None:
        """Draw a picture as it was decoded, before anything of it is known."""
        sketch, design = self.workspace.sketch, self.workspace.design
        if sketch is None or design is None:
            return None
        from honest_edge.ui.drawings.picture_item import PictureItem

        scene.clear()
        picture = PictureItem(sketch.pixels, 0, 0, design.width_mm / sketch.width_px)
        scene.addItem(picture)
        return Shown(content=picture.boundingRect(), caption="Tracing …")

    def _draw_layers(self, scene: QGraphicsScene) -> Shown | None:
        from honest_edge.ui.stations.art.layers_on_table import LayersOnTable

        design, view = self.workspace.design, self.state.layer_view
        if design is None or view is None:
            return None
        self._drawn = LayersOnTable(self._hands)
        stock = self.workspace.job.sheet.stock
        content = self._drawn.draw(
            scene, design.layers, view, self.state.taken, stock, self.host.tokens, is_placing=self.state.is_placing
        )
        is_thickened = any(a.lettering is not None and a.lettering.fatten_mm and not a.is_hidden for a in design.layers)
        hint = _LAYERS_HINT.format(before=_THICKENED if is_thickened else "")
        caption = hint if design.form is not None else f"{view.summary}    {hint}"
        return Shown(content=content, caption=caption)

    @cached_property
    def _hands(self) -> LayerHands:
        from honest_edge.ui.stations.art.layer_items import LayerHands

        hands, panel = LayerHands(self), self.layers
        hands.picked.connect(panel.take)
        hands.moved.connect(panel.move_taken)
        hands.scaled.connect(panel.scale)
        hands.menu_wanted.connect(panel.show_arranging)
        return hands

    def left(self) -> None:
        self._drawn = None  # the scene is for something else now

    def _on_taken(self, keys: tuple[str, ...]) -> None:
        if self._drawn is not None:
            self._drawn.choose(keys)

    # -- putting layers together ---------------------------------------------------------------------

    def subject_changed(self) -> None:
        """Ask for the layers in hand, where what is known of them is not of now."""
        design, view, job = self.workspace.design, self.state.layer_view, self.workspace.job
        if design is None or not design.is_layered:
            return
        if view is None or view.design != design or design.stickers:

            def work(*, report: ReportProgress, cancelled: IsCancelled) -> LayerView:
                from honest_edge.app.views.layer_view import layer_view

                pipeline = self.host.pipeline()
                stickers = pipeline.stickers(design, job, cancelled=cancelled)
                return layer_view(design, pipeline.layers, stickers, job.kept_clear_mm)

            self._laying.submit(work)
        if not self.state.fonts:
            self._list_fonts()

    def _list_fonts(self) -> None:
        def work(*, report: ReportProgress, cancelled: IsCancelled) -> dict[str, tuple[str, ...]]:
            from honest_edge.files.typefaces import font_library

            return font_library().families()

        self._fonting.submit(work)

    def _on_laid(self, view: LayerView) -> None:
        self.state.view = view
        self._layers_known()

    def _on_fonts(self, fonts: dict[str, tuple[str, ...]]) -> None:
        self.state.fonts = fonts
        self._layers_known()

    def _layers_known(self) -> None:
        if self.is_shown:
            self.host.refresh()
        self.host.preview_shown()

    # -- edits ---------------------------------------------------------------------------------------

    def design_made(self, design: Design) -> None:
        self.layers.take(tuple(layer.key for layer in design.layers[:1]))
        self.layers.type_over()

    def _split(self) -> None:
        """Make a design of each drawing in the picture."""
        result, workspace = self.workspace.result, self.workspace
        if result is None or result.design != workspace.design:
            return
        from honest_edge.app.edits.split_design import split

        job = workspace.build(lambda: split(workspace.job, result))
        if job is not None:
            count = len(job.designs) - len(workspace.job.designs) + 1
            workspace.document.edit(job, f"split into {count} designs")
            undo = workspace.document.undo_stack.undo
            self.host.say(f"{result.design.name} is {count} designs now.", actions=[("Undo", undo)])

    def _to_layers(self) -> None:
        """Make the picture the first of several layers."""
        from honest_edge.app.edits.layer_edits import turned_layered

        design, result = self.workspace.design, self.workspace.result
        if design is not None and result is not None:
            layered = turned_layered(design, result.height_mm)
            if self.workspace.replace_design(layered, "make layers"):
                self.state.take((layered.layers[0].key,))

    def _apart(self) -> None:
        """Make a layer of each layer of the file."""
        design, result = self.workspace.design, self.workspace.result
        if design is not None and result is not None:
            layered = make_each_layer_a_layer(self.workspace, design, result.artwork)
            if layered is not None:
                self.state.take((layered.layers[-1].key,))

    def _each_page(self, pages: int) -> None:
        """Make a design of each page of the file."""
        if self.workspace.design is not None:
            make_each_page_a_design(self.workspace, self.workspace.design, pages)

    def _read_picture(self, path: Path, take: Callable[[Picture], None]) -> None:
        """Read a picture for a layer away from the interface."""
        holder = self.workspace.document.holder

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[Picture, Callable[[Picture], None]]:
            from honest_edge.app.edits.open_art import picture_from
            from honest_edge.files.read_input import read_picture

            return picture_from(holder, read_picture(path), path.name, cancelled=cancelled), take

        self._reading.submit(work)

    def part_for_picture(self, x_mm: float, y_mm: float) -> tuple[str, float] | None:
        return None if self._drawn is None or not self._is_layered else self._drawn.part_for_picture(x_mm, y_mm)

    # -- keys ----------------------------------------------------------------------------------------

    def duplicate_in_hand(self) -> bool:
        return self._is_layered and bool(self.state.taken) and self.layers.duplicate()

    def key_pressed(self, event: QKeyEvent) -> None:
        """Move the layers in hand by an arrow key, remove them by Delete; a key held down is one step of undo."""
        if not self._is_layered:
            return
        from honest_edge.ui.stations.art.layer_items import nudge_of

        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.layers.remove_taken()
            return
        way = nudge_of(event.key(), event.modifiers())
        if way is not None and self.state.taken:
            if not event.isAutoRepeat():
                self._gesture = self.workspace.new_gesture()
            self.layers.move_taken(self.state.taken, *way, merge=self._gesture)
