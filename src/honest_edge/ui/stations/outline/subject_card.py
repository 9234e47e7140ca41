"""The subject of a photograph: a loop round it, strokes that say what belongs to it, and how closely it is followed."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QWidget

from honest_edge.core.values.specs import OutlineRecipe
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.toolbox import Toolbox
from honest_edge.ui.stations.outline import tools
from honest_edge.ui.table.tool import Tool
from honest_edge.ui.widgets.layouts import column_of
from honest_edge.ui.widgets.number_slider import NumberSlider
from honest_edge.ui.widgets.theme import px

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult

_FIRST_GUESS = "A first guess: draw a loop round the subject, loosely, then brush over what is wrong."
_TOLD = "Told from what is round it by its colours. Brush over what is wrong: the border is found again."


class SubjectCard(QWidget):
    """Shown where the background of a picture is told by its subject."""

    def __init__(
        self,
        host: Host,
        turned: Callable[[str, float | None, bool], None],
        edited: Callable[[str, OutlineRecipe], None],
    ) -> None:
        """Take the window, what is told of the slider, and what takes another recipe."""
        super().__init__()
        self._workspace, self._edited = host.workspace, edited
        self.toolbox = Toolbox(host, "The subject", tools.OF_SUBJECT, topic="by-hand", columns=3)
        self.closely = NumberSlider(
            "How closely",
            0.3,
            5.0,
            digits=2,
            unit="mm",
            automatic=False,
            tip="What is narrower is no part of the silhouette: hairs go, and gaps between them close.",
        )
        self.closely.moved.connect(lambda value, goes_on: turned("closely_mm", value, goes_on))
        self.closely.refused.connect(lambda words: host.say(words, tone="danger"))
        column = column_of(self.toolbox, self.closely)
        column.setSpacing(px(8))
        self.setLayout(column)

    def words(self, result: DesignResult) -> str:
        """Return how the subject was told; empty where another way was taken."""
        if result.subject.method != "subject":
            return ""
        has_loop = any(step.kind == "around" for step in result.design.outline.corrections)
        return _TOLD if has_loop else _FIRST_GUESS

    def take_loop(self, tool: Tool, points_mm: list[tuple[float, float]], width_mm: float) -> None:
        """Take a loop that was drawn, in place of the one before."""
        from honest_edge.app.edits.outline_edits import looped, oval_in, rounded_box_in

        design = self._workspace.design
        if design is None:
            return
        points = [(x / width_mm, y / width_mm) for x, y in points_mm]
        makers = {tools.OVAL: oval_in, tools.ROUNDED: rounded_box_in}
        places = makers[tool](points[0], points[-1]) if tool in makers else points
        recipe = self._workspace.build(lambda: looped(design.outline, places))
        if recipe is not None:
            self._edited("loop round the subject", recipe)
