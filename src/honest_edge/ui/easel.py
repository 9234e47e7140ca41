"""What each station shows on the light table."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QRectF, pyqtSignal
from PyQt6.QtWidgets import QGraphicsScene

from honest_edge.app.overview import Station
from honest_edge.ui.desk import Desk
from honest_edge.ui.layer_work import LayerWork
from honest_edge.ui.sheet_work import SheetWork
from honest_edge.ui.strip import EdgeStrip
from honest_edge.ui.table import LightTable
from honest_edge.ui.theme import Tokens

if TYPE_CHECKING:
    from honest_edge.app.blade_way import BladeWay
    from honest_edge.app.edge_preview import EdgePreview
    from honest_edge.app.preview import Preview

_KEYS_HINT = "hold B: before / after    M: caliper    ← →: next weak place    0: show all"


class Easel(QObject):
    """Draws only what changed; ``scenes`` is loaded with the first drawing."""

    offset_moved = pyqtSignal(float)
    offset_released = pyqtSignal(float)

    def __init__(
        self, desk: Desk, table: LightTable, strip: EdgeStrip, layers: LayerWork, sheets: SheetWork, parent: QObject
    ) -> None:
        super().__init__(parent)
        self.desk, self.table, self.strip, self.layers, self.sheets = desk, table, strip, layers, sheets
        self._shown: tuple[object, ...] = ()

    def draw(self, station: Station, tokens: Tokens, *, refit: bool = False, force: bool = False) -> None:
        """Draw what a station shows, where anything of it changed; ``refit`` shows all of it."""
        result, seen = self.desk.result, self.desk.seen
        page, design = self.desk.page, self.desk.design
        layered = station == "art" and design is not None and design.is_layered
        state: tuple[object, ...] = (
            station,
            result,
            seen.plan if station in ("sheet", "files") else None,
            page,
            self.desk.held,
            self._blade_shown(station),
            tokens,
            self.desk.unit,
            self.desk.job.bench_error,
            self.desk.job.sheet.stock,
            design.layers if layered and design is not None else None,
            self.desk.layer_view if layered else None,
        )
        if state == self._shown and not refit and not force:
            return
        refit = refit or self._shown[:1] != (station,) or not self._shown[1:2] or self._shown[1] is None
        self._shown = state
        self.layers.forget_drawing()
        scene = self.table.drawing()
        if station in ("sheet", "files"):
            self._draw_sheet(station, page, refit)
            return
        if layered and self.layers.draw(tokens, refit=refit):
            return
        if result is None:
            scene.clear()
            self.table.caption = self._empty_words()
            self.table.viewport().update()  # type: ignore[union-attr]
            return
        from honest_edge.ui import scenes  # its items take as long to load as the window, and none shows before

        if station == "art":
            content = scenes.draw_art(
                scene,
                result,
                tokens,
                self.desk.unit,
                compare=self.desk.compare,
                ruler=self.desk.lay_ruler,
            )
        elif station == "outline":
            content = scenes.draw_outline(
                scene,
                result,
                tokens,
                self.desk.unit,
                show_nodes=self.desk.show_nodes,
                show_deviation=self.desk.show_deviation,
            )
        else:
            content = self._draw_edge(scene, tokens)
        compared = station == "edge" and self.desk.side_by_side
        hint = "each as the likely worst of 20 would come out" if compared else _KEYS_HINT
        self.table.set_content(content, hint, refit=refit, air=0.05 if compared else 0.12)

    def _draw_edge(self, scene: QGraphicsScene, tokens: Tokens) -> QRectF:
        from honest_edge.ui import edge_scene, scenes

        result, judgement, stock = self.desk.shown_edge, self.desk.judgement, self.desk.job.sheet.stock
        if self.desk.side_by_side and judgement is not None:
            return edge_scene.draw_schools(scene, judgement.views, stock, tokens)
        if result is None:
            return QRectF(0, 0, 1, 1)
        content = scenes.draw_edge(scene, result, self.strip.spots, stock, tokens, self.desk.unit)
        if self.desk.proposed is None:
            edge_scene.add_handle(scene, result, self.offset_moved.emit, self.offset_released.emit)
        edge_scene.draw_detail(scene, result, tokens)
        edge_scene.mark_losses(scene, result, tokens)
        return content

    def draw_outline_preview(self, preview: Preview, tokens: Tokens) -> None:
        """Draw a first look at an outline."""
        from honest_edge.ui import scenes

        scenes.draw_preview(self.table.drawing(), preview, tokens)
        self._shown = ("preview", self.desk.result)

    def draw_edge_preview(self, preview: EdgePreview, tokens: Tokens) -> None:
        """Draw a first look at a cut that is being dragged."""
        from honest_edge.ui import edge_scene

        edge_scene.draw_preview(self.table.drawing(), preview, tokens)

    def _draw_sheet(self, station: Station, page: int, refit: bool) -> None:
        seen, scene, can_move = self.desk.seen, self.table.drawing(), station == "sheet"
        if seen.plan is None or not seen.plan.pages:
            scene.clear()
            self.table.caption = seen.state("sheet")[1] if seen.job.designs else self._empty_words()
            self.table.viewport().update()  # type: ignore[union-attr]
            return
        from honest_edge.ui.sheet_scene import draw_blade_way, draw_held, draw_sheet

        page = min(page, len(seen.plan.pages) - 1)
        content = draw_sheet(scene, seen.plan, page, seen.laid, seen.job.sheet, self.sheets.hands if can_move else None)
        held = self.desk.held
        if held is not None and held.page == page:
            draw_held(scene, held)
        way = self._blade_shown(station)
        if way is not None:
            draw_blade_way(scene, way)
        hint = "drag a copy to place it by hand    " if can_move else ""
        caption = f"sheet {page + 1} of {len(seen.plan.pages)}    {hint}M: caliper    0: show all"
        self.table.set_content(content, caption, refit=refit, air=0.05)

    def _blade_shown(self, station: Station) -> BladeWay | None:
        """Return the blade's way where it is wanted and is that of the sheet shown."""
        way = self.desk.blade
        wanted = way is not None and station == "sheet" and self.desk.follows_blade and way.page == self.desk.page
        return way if wanted else None

    def _empty_words(self) -> str:
        if not self.desk.job.designs:
            return "Drop a picture here, or press Ctrl+I. Menu → Open the demo job shows a finished one."
        return self.desk.error or "Tracing …"
