"""Proof in the real window: walking through what was found, mending it, leaving it, and the rehearsal."""

from dataclasses import replace

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QInputDialog

from hands import click, visit
from honest_edge.core.proof import register
from honest_edge.core.values.findings import Fix, Subject
from honest_edge.ui.stations.proof import rehearsing, trying
from honest_edge.ui.stations.proof.drawing import NumberMark
from pictures import coverage, disc, png, rgba, star
from planted import labels, pinned


def soft_stars(ppi=200):
    cover = coverage(star(110, 70) + 150, 300, 300)
    return png(rgba(cover), dpi=(ppi, ppi))


@pytest.fixture
def proof(window, settle, tmp_path):
    """Two soft pictures, one of which falls apart, at the Proof station."""
    (tmp_path / "star.png").write_bytes(soft_stars())
    two = coverage(disc(40, 60, 60), 340, 120) + coverage(disc(30, 240, 60), 340, 120)
    (tmp_path / "two.png").write_bytes(png(rgba(two), dpi=(200, 200)))
    window.take_files([tmp_path / "star.png", tmp_path / "two.png"])
    settle(window)
    visit(window, "proof")
    settle(window)
    return window, window.stations["proof"]


def numbers(window):
    return sorted(item.number for item in window.table.drawing().items() if isinstance(item, NumberMark))


def button(station, text):
    return next(made for made in station.panel.list.buttons if made.text() == text)


def checks(window):
    return [finding.check for finding in window.workspace.overview.findings]


def test_every_finding_stands_in_the_list_and_on_the_table_with_one_number(proof):
    window, station = proof
    rows = station.panel.view.rows
    assert [row.finding.check for row in rows if row.finding.severity == "look"] == ["ppi", "ppi", "parts", "setting"]
    assert station.panel.answer.text() == "4 to look at"
    assert numbers(window) == [1, 2, 3]  # the fourth is about the Book, and has no place
    assert window.path_bar.buttons["proof"].state == "look"


def test_the_keyboard_walks_from_finding_to_finding_and_goes_where_it_is_mended(proof, settle):
    window, station = proof
    QTest.keyClick(window, Qt.Key.Key_F8)
    assert station.state.selected[0] == "ppi"
    for _ in range(2):
        QTest.keyClick(window, Qt.Key.Key_F8)
    assert station.state.selected[0] == "parts"
    finding = station.panel.view.rows[2].finding
    assert window.workspace.design.key == finding.subject.design
    middle = window.table.mapToScene(window.table.viewport().rect().center())
    place = next(item for item in window.table.drawing().items() if isinstance(item, NumberMark) and item.number == 3)
    assert (middle.x(), middle.y()) == pytest.approx((place.pos().x(), place.pos().y()), abs=6)
    QTest.keyClick(window, Qt.Key.Key_F8, Qt.KeyboardModifier.ShiftModifier)
    assert station.state.selected[0] == "ppi"
    QTest.keyClick(window, Qt.Key.Key_F8)
    window.table.setFocus()
    QTest.keyClick(window.table, Qt.Key.Key_Return)
    assert window.station == finding.station == "outline"
    settle(window)


def test_a_fix_is_offered_once_it_was_tried_and_is_one_step_of_undo(proof, settle):
    window, station = proof
    before, steps = window.document.job, window.document.undo_stack.count()
    fix = next(f.fix for f in window.workspace.overview.findings if f.check == "parts")
    made = button(station, fix.words)
    assert made.isEnabled()  # it was tried by now
    click(made)
    settle(window)
    assert "parts" not in checks(window)
    assert window.document.undo_stack.count() == steps + 1
    window.document.undo_stack.undo()
    assert window.document.job == before
    settle(window)


def test_all_of_one_kind_are_mended_as_one_step(proof, settle):
    window, station = proof
    steps = window.document.undo_stack.count()
    click(button(station, "Mend all 2"))
    settle(window)
    assert "ppi" not in checks(window)
    assert window.document.undo_stack.count() == steps + 1


def test_a_fix_that_makes_something_worse_asks_first(proof, settle, monkeypatch):
    window, station = proof
    finding = next(f for f in window.workspace.overview.findings if f.check == "parts")
    design = window.document.job.design(finding.subject.design)
    # joined by a border so wide that it fits on no sheet
    fix = Fix(words="Use a huge border", design=design.key, edge=replace(design.edge, offset_mm=50.0), width_mm=400.0)
    job = window.document.job
    station.mend(finding, fix)
    settle(window)
    assert window.document.job == job
    assert "Use a huge border: but then" in window.bar.message.text()
    click(
        next(
            made
            for made in window.bar.findChildren(type(button(station, "Mend all 2")))
            if made.text() == "Use it anyway"
        )
    )
    settle(window)
    assert window.document.job != job


def test_what_is_left_says_why_and_can_be_taken_up_again(proof, settle, monkeypatch):
    window, station = proof
    station.walk(1)
    monkeypatch.setattr(QInputDialog, "exec", lambda dialog: dialog.setTextValue("seen from afar") or 1)
    click(button(station, "Leave it…"))
    settle(window)
    (left,) = [row for row in station.panel.view.rows if row.finding.left]
    assert left.finding.left == "seen from afar"
    assert station.panel.answer.text() == "3 to look at"
    assert window.document.undo_stack.undoText() == "leave it as it is"
    visit(window, "files")
    settle(window)
    assert window.stations["files"].panel.findings.words.count("ppi at") == 1  # of the other one
    visit(window, "proof")
    settle(window)
    click(button(station, "Take it up again"))
    settle(window)
    assert not any(row.finding.left for row in station.panel.view.rows)


def test_a_reason_is_asked_for(proof):
    window, station = proof
    job = window.document.job
    station.leave_for(station.panel.view.rows[0].finding, "  ")
    assert window.document.job == job
    assert "Say in a few words why it is left" in window.bar.message.text()


def test_places_of_the_sheet_are_shown_where_they_are(window, settle):
    window.document.start(pinned(labels(), (60.0, 100.0), (101.0, 100.0)), {}, None)
    settle(window)
    visit(window, "proof")
    settle(window)
    assert station_words(window)[0].startswith("“Label” and “Label” are")
    assert window.path_bar.buttons["files"].state == "blocked"
    mark = next(item for item in window.table.drawing().items() if isinstance(item, NumberMark))
    assert mark.pos().x() == pytest.approx(100.5, abs=2.5)
    QTest.mouseClick(
        window.table.viewport(), Qt.MouseButton.LeftButton, pos=window.table.mapFromScene(mark.pos()) + offset(18, -18)
    )
    assert window.stations["proof"].state.selected[0] == "close"
    click(button(window.stations["proof"], "Lay them out anew"))
    settle(window)
    assert "close" not in checks(window)
    assert window.document.job.pins == ()


def station_words(window):
    return [row.words for row in window.stations["proof"].panel.view.rows]


def offset(x, y):
    from PyQt6.QtCore import QPoint

    return QPoint(x, y)


def many(count):
    """So many findings of one kind, as a job of as many designs would have them."""
    return tuple(
        register.PPI.found(Subject(kind="job"), f"{number} ppi: the print will look soft", "find a larger picture")
        for number in range(count)
    )


def test_three_hundred_findings_stay_a_short_list(window, settle):
    window.document.start(labels(), {}, None)
    settle(window)
    visit(window, "proof")
    station = window.stations["proof"]
    settle(window)
    window.show_known(many(300))
    assert station.panel.answer.text() == "300 to look at"
    assert len(station.panel.list._made) < 12
    click(button(station, "Show 296 more like these"))
    assert len(station.panel.list._made) > 300
    station.walk(-1)
    assert station.state.selected[2].startswith("299 ppi")


def test_one_design_that_fails_is_told_and_the_others_stay(window, settle):
    job = labels()
    (design,) = job.designs
    fails = replace(design, key="d2", name="Lost", layers=(replace(design.layers[0], is_hidden=True),), form=None)
    window.document.start(replace(job, designs=(design, fails)), {}, None)
    settle(window)
    visit(window, "proof")
    settle(window)
    assert station_words(window)[0].startswith("Lost: No layer of this design is printed")
    assert window.stations["proof"].panel.answer.text() == "1 in the way"
    assert "See it at Art" not in [made.text() for made in window.stations["proof"].panel.list.buttons]
    window.stations["proof"].walk(1)
    assert not any(made.text() == "Leave it…" for made in window.stations["proof"].panel.list.buttons)
    assert not window.stations["proof"].panel.rehearse.isEnabled()


def test_a_fix_beyond_the_first_ones_is_tried_when_it_is_taken_in_hand_or_pressed(proof, settle, monkeypatch):
    window, station = proof
    monkeypatch.setattr(trying, "_MOST", 0)
    station.state.tried.clear()
    station.panel.refresh()
    fix = next(f.fix for f in window.workspace.overview.findings if f.check == "parts")
    assert button(station, fix.words).isEnabled()  # it is tried when it is pressed
    for _ in range(3):
        station.walk(1)
    settle(window)
    assert [key[1] for key in station.state.tried].count(fix.words) == 1
    assert not station.state.trying


def test_what_was_tried_on_an_older_job_is_not_used(proof, settle):
    window, station = proof
    finding = next(f for f in window.workspace.overview.findings if f.check == "parts")
    station.state.tried.clear()
    station.mend(finding, finding.fix)
    window.workspace.edit_job("seen less", visible_mm=0.2)
    edited = window.document.job
    settle(window)
    assert window.document.job == edited
    assert "changed meanwhile" in window.bar.message.text()


# -- the rehearsal ------------------------------------------------------------------------------------


@pytest.fixture
def rehearsed(proof, settle):
    window, station = proof
    click(station.panel.rehearse)
    settle(window)
    return window, station, station.state.rehearsal


def test_a_rehearsal_runs_through_two_hundred_sheets_beside_the_forecast(rehearsed):
    window, station, found = rehearsed
    strip = station.rehearsing.strip
    assert window.strips.isVisible()
    assert len(found.sheets) == rehearsing.SHEETS == 200
    assert found.is_whole
    good = sum(sheet.good for sheet in found.sheets) / sum(len(sheet.fates) for sheet in found.sheets)
    assert strip.share.text() == f"{100 * good:.1f} % clean"
    assert f"The forecast says {100 * found.expected.share:.1f} %" in strip.forecast.text()
    assert strip.rests.text() == "The bench is simulated, its error assumed, not measured."
    assert (strip.slider.minimum(), strip.slider.maximum()) == (1, 200)
    strip.slider.setValue(7)
    assert found.shown == 6
    assert "rehearsed sheet 7" in window.table.caption
    strip.sheets.setFocus()
    QTest.keyClick(strip.sheets, Qt.Key.Key_Right)
    assert found.shown == 7
    click(strip.worst)
    assert found.sheets[found.shown].good == min(sheet.good for sheet in found.sheets[:20])
    click(strip.typical)
    window.table.setFocus()
    QTest.keyClick(window.table, Qt.Key.Key_Escape)
    assert station.state.rehearsal is None
    assert not window.strips.isVisible()
    assert numbers(window)


def test_what_goes_wrong_is_switched_on_and_told(rehearsed, settle):
    window, station, _ = rehearsed
    strip = station.rehearsing.strip
    strip.actions_of["missed"].trigger()
    settle(window)
    assert strip.share.text() == "0.0 % clean"
    assert "The reader stops and nothing is cut" in strip.told.text()
    assert "if nothing goes wrong" in strip.forecast.text()
    strip.actions_of["slip"].trigger()
    settle(window)
    assert "each is told on hover" in strip.told.text()
    assert "draw" not in strip.told.toolTip()
    for key in ("missed", "slip"):
        strip.actions_of[key].trigger()
    settle(window)
    assert not strip.told.text()


def test_an_edit_ends_the_rehearsal_and_it_can_be_called_off_at_any_moment(proof, settle):
    window, station = proof
    station.rehearse()
    station.rehearsing.end()
    settle(window)
    assert station.state.rehearsal is None
    station.rehearse()
    settle(window)
    window.workspace.edit_job("seen less", visible_mm=0.2)
    assert station.state.rehearsal is None
    settle(window)


def test_so_many_sheets_are_advised_and_one_button_sets_them(window, settle, tmp_path):
    (tmp_path / "star.png").write_bytes(soft_stars(300))
    window.take_files([tmp_path / "star.png"])
    settle(window)
    (design,) = window.document.job.designs
    edge = replace(design.edge, school="bleed", offset_mm=0.0, ease_mm=0.0, bleed_mm=0.35)
    window.document.edit(window.document.job.with_design(replace(design, edge=edge, copies=20)), "bare")
    settle(window)
    visit(window, "proof")
    settle(window)
    station = window.stations["proof"]
    advice = station.state.advice
    assert advice.now[1] < 0.95
    made = next(made for made in station.panel.needed if made.isVisible())
    sheets = next(prints.sheets for _, prints in advice.needed if prints.sheets > advice.now[0])
    assert made.text().startswith(f"Print {sheets} sheets:")
    click(made)
    settle(window)
    assert sum(window.document.job.prints) == sheets
    assert station.state.advice.now[0] == sheets
    visit(window, "files")


def test_without_art_and_without_a_layout_there_is_a_word(window, settle):
    visit(window, "proof")
    station = window.stations["proof"]
    assert "Add a picture to begin" in station.panel.under.text()
    assert not station.panel.rehearse.isEnabled()
    station.walk(1)
    large = labels(count=1)
    (design,) = large.designs
    wide = replace(design, form=replace(design.form, width_mm=300.0))
    window.document.start(large.with_design(wide), {}, None)
    visit(window, "proof")
    settle(window)
    assert station.panel.answer.text() == "1 in the way"
    station.rehearse()
    assert station.state.rehearsal is None
    assert not station.panel.rehearse.isEnabled()


def test_the_demos_book_is_asked_once_proof_is_visited(window, settle):
    job = labels()
    sheet = replace(job.sheet, stock=replace(job.sheet.stock, name="Nobody’s stock"))
    window.document.start(replace(job, sheet=sheet), {}, None, is_demo=True)
    settle(window)
    assert not window.workspace.overview.bench_findings
    visit(window, "proof")
    settle(window)
    assert any(
        "no setting is proven for “Nobody’s stock”" in f.message for f in window.workspace.overview.bench_findings
    )
    assert window.path_bar.buttons["proof"].state == "look"


def test_the_finding_in_hand_is_scrolled_to(window, settle, qtbot):
    window.document.start(labels(), {}, None)
    settle(window)
    visit(window, "proof")
    station = window.stations["proof"]
    settle(window)
    station.state.known = many(40)
    window.show_known(many(40))
    station.open_kind("ppi")
    for _ in range(30):
        station.walk(1)

    def is_seen():
        made = station.panel.list.row(30)
        top = made.mapTo(station.panel.viewport(), made.rect().topLeft()).y()
        return 0 <= top < station.panel.viewport().height() - made.height()

    qtbot.waitUntil(is_seen)
