"""Two sizes, either of which can be typed: the sticker as cut, and the art inside it."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import WantedSize
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import Form, side_by_side
from honest_edge.ui.widgets.typed import LengthField

if TYPE_CHECKING:
    from honest_edge.app.edits.sizes import Measured
    from honest_edge.app.results.design_result import DesignResult


_CUT_TIP = (
    "The sticker as cut, width and height: type either in any unit, 60 mm or 2 3/8 in. Proportions stay, and what was "
    "typed last is kept whatever else changes."
)
_ART_TIP = "The art inside the cut, without what is empty round it, width and height: type either, 700 px too."


class SizeFields:
    """The rows of a form; what is typed into one makes all of the design larger or smaller, and those taken with it."""

    def __init__(self, host: Host, form: Form) -> None:
        self._host = host
        self.cut = self._pair("Sticker as cut", "cut")
        self.art = self._pair("Art inside", "art")
        self.rows = [
            form.add_below("Cut size, width × height", side_by_side(*self.cut), _CUT_TIP),
            form.add_below("Art size, width × height", side_by_side(*self.art), _ART_TIP),
        ]

    def _pair(self, name: str, measured: Measured) -> tuple[LengthField, LengthField]:
        pair = []
        for side, words in enumerate(("width", "height")):
            field = LengthField(f"{name}, {words}")
            field.committed.connect(partial(self._take, field, measured, side))
            field.refused.connect(lambda text: self._host.say(text, tone="danger"))
            pair.append(field)
        return pair[0], pair[1]

    def _take(self, field: LengthField, measured: Measured, side: int, typed_mm: float) -> None:
        from honest_edge.app.edits.sizes import factor_for
        from honest_edge.app.edits.together import resized

        workspace = self._host.workspace
        known = [(design, workspace.fresh.get(design.key)) for design in workspace.together]

        def grown() -> Job:
            job = workspace.job
            for design, result in known:
                if result is not None:
                    wanted = WantedSize(of=measured, side=1 if side else 0, length_mm=typed_mm)
                    factor = factor_for(result, typed_mm, measured, wanted.side)
                    job = job.with_design(replace(resized(design, factor), wanted=wanted))
            return job

        job = workspace.build(grown)
        if job is None:
            field.mark_wrong()
            return
        workspace.document.edit(job, "size" if len(known) == 1 else f"size of {len(known)} designs")

    def show(self, result: DesignResult | None) -> None:
        """Show the sizes of a result; without one nothing can be typed."""
        for fields in (self.cut, self.art):
            for field in fields:
                field.setEnabled(result is not None)
        if result is None:
            return
        unit = self._host.workspace.unit
        wanted = result.design.wanted
        for row, measured in zip(self.rows, ("cut", "art"), strict=True):
            is_kept = wanted is not None and wanted.of == measured
            row.note(self._host.workspace.together_words or ("kept" if is_kept else ""))
        for fields, sizes in ((self.cut, result.cut_size_mm), (self.art, result.art_size_mm)):
            for field, size_mm in zip(fields, sizes, strict=True):
                field.show_length(size_mm, unit, result.ppi)
