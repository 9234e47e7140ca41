"""A rehearsed sheet as a drawing: where its art lies, where its cuts went, and where something was spoiled."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from honest_edge.app.rehearsal.stage import Staged
from honest_edge.app.results.overview import Overview
from honest_edge.core.geometry.paths import CurveRing, Floats
from honest_edge.files.write_svg import rehearsed_svg
from honest_edge.simulator.rehearsal import FATES, Fate, RehearsedSheet


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class DrawnCopy:
    """One copy of a rehearsed sheet, in the sheet's frame.

    Attributes:
        laid: which of the laid designs it is.
        print_matrix: (2, 3) where its art was printed.
        cut_matrix: (2, 3) where its lines were cut; None where nothing was cut.
        fate: what became of it.
        spoiled_mm: where it was spoiled most; None for a clean one, and where all of it is.
        beyond_mm: by how much more than is seen.
    """

    laid: int
    print_matrix: Floats
    cut_matrix: Floats | None
    fate: Fate
    spoiled_mm: tuple[float, float] | None
    beyond_mm: float


def drawn_copies(overview: Overview, staged: Staged, sheet: RehearsedSheet) -> list[DrawnCopy]:
    """Return every copy of a rehearsed sheet, drawn where it came to lie."""
    plan = overview.plan
    assert plan is not None
    middle = np.array([plan.width_mm, plan.height_mm]) / 2
    placements = plan.pages[staged.pages[sheet.page]]
    copies = []
    for number, (placement, copy) in enumerate(zip(placements, staged.stage.pages[sheet.page], strict=True)):
        printed = np.column_stack([placement.matrix[:, :2], placement.matrix[:, 2] - middle]) * sheet.fitted
        printed[:, 2] += middle
        fate = FATES[int(sheet.fates[number])]
        worst = None
        if fate in ("white", "art", "ring"):
            judge = staged.stage.judges[copy.design]
            worst = judge.worst(sheet.error, sheet.repeats_mm[number], copy.matrix)
        at = None if worst is None else tuple((printed[:, :2] @ worst[1] + printed[:, 2]).tolist())
        copies.append(
            DrawnCopy(
                laid=placement.design,
                print_matrix=printed,
                cut_matrix=_cut_matrix(printed, copy.matrix, sheet, number) if sheet.is_cut else None,
                fate=fate,
                spoiled_mm=at,
                beyond_mm=0.0 if worst is None else worst[2],
            )
        )
    return copies


def _cut_matrix(printed: Floats, staged: Floats, sheet: RehearsedSheet, number: int) -> Floats:
    """Return where a copy's lines went: the error moves three corners, and three corners say the map."""
    corners = np.array([(0.0, 0.0), (1.0, 0.0), (0.0, 1.0)])
    on_sheet = corners @ staged[:, :2].T + staged[:, 2]
    moved = sheet.error.moved(on_sheet)[0] + sheet.repeats_mm[number]
    at = corners @ printed[:, :2].T + printed[:, 2] + moved * sheet.fitted
    return np.column_stack([at[1] - at[0], at[2] - at[0], at[0]])


def sheet_svg(overview: Overview, staged: Staged, sheet: RehearsedSheet) -> bytes:
    """Return a rehearsed sheet as SVG: cuts as they went over outlines of the art, spoiled ones ringed."""
    plan = overview.plan
    assert plan is not None
    copies = drawn_copies(overview, staged, sheet)
    art: list[CurveRing] = []
    cuts: list[CurveRing] = []
    for copy in copies:
        curves = overview.laid[copy.laid].cut.curves
        art += [curve.placed(copy.print_matrix) for curve in curves]
        cuts += [] if copy.cut_matrix is None else [curve.placed(copy.cut_matrix) for curve in curves]
    spots = [copy.spoiled_mm for copy in copies if copy.spoiled_mm is not None]
    return rehearsed_svg((plan.width_mm, plan.height_mm), art, cuts, spots)
