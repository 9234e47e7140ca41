"""What is decided seldom begins folded; opened once it stays so, in the next session too."""

from hands import click, visit
from honest_edge.files.prefs import Prefs, PrefsFile


def test_cards_that_are_seldom_needed_begin_folded_and_stay_as_they_were_left(make_window, tmp_path, settle):
    PrefsFile(tmp_path / "settings" / "settings.json").write(Prefs())
    window = make_window()
    visit(window, "sheet")
    panel = window.stations["sheet"].panel
    assert panel.paper.isVisible()
    assert panel.profiles.body.isVisible()
    for card in (panel.marks, panel.blade, panel.by_hand):
        assert not card.body.isVisible()
    click(panel.marks.heading)
    click(panel.profiles.heading)
    assert panel.marks.kind.isVisible()
    assert not panel.profiles.body.isVisible()
    visit(window, "outline")
    assert not window.stations["outline"].panel.smoothness.isVisible()
    visit(window, "edge")
    edge = window.stations["edge"].panel
    assert edge.offset.isVisible()
    assert not edge.corners.isVisible()
    assert not edge.error.rotation.isVisible()
    visit(window, "art")
    assert not window.stations["art"].panel.compare.isVisible()
    window.intake.start_with_words()
    settle(window)
    layers = window.stations["art"].layers
    layers.take(("l1",))
    assert layers.fields.controls["lettering.size_mm"].isVisible()
    assert not layers.fields.controls["lettering.spacing"].isVisible()
    other = make_window()
    visit(other, "sheet")
    panel = other.stations["sheet"].panel
    assert panel.marks.kind.isVisible()
    assert not panel.profiles.body.isVisible()
    assert not panel.blade.body.isVisible()
