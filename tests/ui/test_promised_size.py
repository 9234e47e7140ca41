"""A size that was typed holds through whatever else is changed; what cannot hold is said, with a way back."""

from dataclasses import replace

import pytest

from hands import click, type_into
from honest_edge.app.edits.promised_size import SAME_MM
from honest_edge.core.values.specs import School

INCH = 25.4


@pytest.fixture
def at(with_disc, settle):
    """Two inches of cut were typed."""
    window = with_disc
    window.go_to("art")
    settle(window)
    type_into(window.here.panel.sizes.cut[0], "2 in")
    settle(window)
    assert window.workspace.result.cut_size_mm[0] == pytest.approx(2 * INCH, abs=2 * SAME_MM)
    return window


def cut_mm(window):
    return window.workspace.result.cut_size_mm[0]


@pytest.mark.parametrize("school", School.__args__)
def test_the_cut_keeps_its_size_in_every_school_and_that_is_one_step_of_undo(at, settle, school):
    window = at
    before, steps = window.document.job, window.document.undo_stack.index()
    window.go_to("edge")
    settle(window)
    click(window.here.panel.schools[school])
    settle(window)
    assert cut_mm(window) == pytest.approx(2 * INCH, abs=2 * SAME_MM)
    if window.document.job != before:
        assert window.document.undo_stack.index() == steps + 1
        window.document.undo_stack.undo()
        assert window.document.job == before


def test_it_holds_through_offset_corners_easing_and_outline(at, settle):
    window = at
    for changes in ({"offset_mm": 3.3}, {"corners": "mitre"}, {"ease_mm": 2.0}, {"fatten_mm": 0.5}):
        design = window.workspace.design
        window.workspace.edit_design("edge", edge=replace(design.edge, **changes))
        settle(window)
        assert cut_mm(window) == pytest.approx(2 * INCH, abs=2 * SAME_MM), changes
    design = window.workspace.design
    window.workspace.replace_design(replace(design, outline=replace(design.outline, threshold=0.9)), "threshold")
    settle(window)
    assert cut_mm(window) == pytest.approx(2 * INCH, abs=2 * SAME_MM)
    window.go_to("art")
    settle(window)
    assert "kept" in window.here.panel.sizes.rows[0]._caption.text()
    assert "kept" not in window.here.panel.sizes.rows[1]._caption.text()


def test_the_last_size_that_was_typed_counts_and_another_way_of_sizing_ends_it(at, settle):
    window = at
    type_into(window.here.panel.sizes.art[1], "30 mm")
    settle(window)
    design = window.workspace.design
    window.workspace.edit_design("offset", edge=replace(design.edge, offset_mm=4.0))
    settle(window)
    assert window.workspace.result.art_size_mm[1] == pytest.approx(30, abs=2 * SAME_MM)
    assert cut_mm(window) == pytest.approx(30 + 2 * 4.0, abs=0.1)
    design = window.workspace.design
    window.workspace.edit_design("width", width_mm=25.0)
    settle(window)
    assert window.workspace.design.wanted is None
    assert window.workspace.design.width_mm == 25.0


def test_what_cannot_hold_is_said_and_can_be_taken_back(at, settle):
    window = at
    before = window.document.job
    design = window.workspace.design
    window.workspace.edit_design("offset", edge=replace(design.edge, school="border", offset_mm=26.0))
    settle(window)
    assert "cannot stay cut 50.8 mm wide" in window.bar.message.text()
    click(window.bar._actions[0])
    settle(window)
    assert window.document.job == before


def test_it_is_kept_in_the_project_and_typed_for_all_that_are_taken_together(at, settle, tmp_path):
    window = at
    assert window.jobs._save_to(tmp_path / "a.hedge", over=True)
    window.jobs.open_path(tmp_path / "a.hedge")
    settle(window)
    assert window.workspace.design.wanted.length_mm == pytest.approx(2 * INCH)
