"""What needs a look, shown where it is wrong and mended by a button; faults of ours, said calmly."""

from dataclasses import replace

import pytest
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QPushButton

from hands import click, visit
from honest_edge.app.edits.fixes import fixed_job
from honest_edge.core.proof.register import CHECKS
from honest_edge.core.values.findings import Fix
from honest_edge.core.values.stock import Stock
from honest_edge.ui.shell.faults import FaultReporter
from pictures import coverage, disc, png, rgba


@pytest.fixture
def two_discs(window, settle, tmp_path):
    """Two discs 10 mm apart in one soft picture: the cut falls into two, and the print is below 300 ppi."""
    cover = coverage(disc(40, 60, 60), 340, 120) + coverage(disc(30, 240, 60), 340, 120)
    (tmp_path / "two.png").write_bytes(png(rgba(cover), dpi=(150, 150)))
    window.take_files([tmp_path / "two.png"])
    settle(window)
    visit(window, "files")
    return window, window.stations["files"].panel.findings


def checks(window):
    return [finding.check for finding in window.workspace.overview.findings]


def button(findings, text):
    return next(made for made in findings.findChildren(QPushButton) if made.text() == text)


def test_each_fix_mends_what_it_is_offered_for_in_one_step_of_undo(two_discs, settle):
    window, findings = two_discs
    assert checks(window) == ["ppi", "parts"]
    before, steps = window.document.job, window.document.undo_stack.count()
    fix = next(f.fix for f in window.workspace.overview.findings if f.check == "parts")
    click(button(findings, fix.words))
    settle(window)
    assert "parts" not in checks(window)
    assert len(window.workspace.result.cut.area.geoms) == 1
    assert window.document.undo_stack.count() == steps + 1
    window.document.undo_stack.undo()
    assert window.document.job == before
    settle(window)
    fix = next(f.fix for f in window.workspace.overview.findings if f.check == "ppi")
    click(button(findings, fix.words))
    settle(window)
    assert "ppi" not in checks(window)
    assert window.workspace.result.ppi >= 300


def test_show_it_goes_to_the_station_and_the_place(two_discs, settle):
    window, findings = two_discs
    (finding,) = [f for f in window.workspace.overview.findings if f.check == "parts"]
    links = [made for made in findings.findChildren(QPushButton) if made.text() == "Show it"]
    click(next(link for link in links if "pieces" in link.accessibleName()))
    assert window.station == "outline"
    x, y = finding.places[0].middle_mm
    middle = window.table.mapToScene(window.table.viewport().rect().center())
    assert (middle.x(), middle.y()) == pytest.approx((x, y), abs=0.5)
    # the smaller disc: its middle lies 240 px from the left at 150 ppi
    assert (x, y) == pytest.approx((240 / 150 * 25.4, 60 / 150 * 25.4), abs=0.3)


def test_findings_of_the_sheet_stand_there_too_and_the_list_goes_when_all_is_mended(with_disc, settle):
    window = with_disc
    visit(window, "files")
    findings = window.stations["files"].panel.findings
    of_the_bench = findings.words  # no setting is known, nothing was measured
    assert "contrast" not in of_the_bench
    window.workspace.edit_sheet("stock", stock=Stock(rgb=(60, 60, 60)))
    settle(window)
    (finding,) = [f for f in window.workspace.overview.findings if f.check == "mark contrast"]
    assert (finding.subject.kind, finding.severity, finding.fix) == ("sheet", "look", None)
    assert finding.advice in findings.words
    window.document.undo_stack.undo()
    settle(window)
    assert findings.words == of_the_bench


def test_a_blocked_design_blocks_by_a_finding(with_disc, settle):
    window = with_disc
    (design,) = window.document.job.designs
    edge = replace(design.edge, school="inside", offset_mm=40.0)
    window.document.edit(window.document.job.with_design(replace(design, edge=edge)), "too far inside")
    settle(window)
    (finding,) = window.workspace.overview.findings
    assert (finding.check, finding.severity, finding.subject.design) == ("art", "blocks", design.key)
    assert "leaves nothing to cut" in finding.message
    assert window.path_bar.buttons["edge"].state == "blocked"


def test_every_check_has_a_name_of_its_own_and_a_station_of_the_path(window):
    assert len({check.name for check in CHECKS}) == len(CHECKS) >= 55
    assert {check.station for check in CHECKS} <= set(window.path_bar.buttons)


def test_a_fix_changes_what_it_names_and_nothing_else(with_disc):
    job = with_disc.document.job
    (design,) = job.designs
    changed = fixed_job(job, Fix(words="Narrower", design=design.key, width_mm=12.0))
    assert changed == job.with_design(replace(design, width_mm=12.0))
    with pytest.raises(KeyError):
        fixed_job(job, Fix(words="Gone", design="d99", width_mm=12.0))


# -- faults of ours ------------------------------------------------------------------------------------


def copied(window):
    click(window.bar._actions[0])
    return QApplication.clipboard().text()


def test_a_fault_of_background_work_is_said_and_its_details_can_be_copied(window, settle):
    task = window.new_task()

    def faulty(*, report, cancelled):
        return {}["/home/ada/bee.png"]

    task.submit(faulty)
    settle(window)
    assert "Something went wrong that should not" in window.bar.message.text()
    assert window.bar._actions[0].text() == "Copy details"
    details = copied(window)
    assert "KeyError" in details
    assert "in faulty" in details
    assert "/home/ada" not in details


def test_a_fault_in_a_slot_is_said_and_its_details_can_be_copied(window, qtbot, monkeypatch, capsys):
    faults = FaultReporter()
    faults.happened.connect(window.show_fault)
    with qtbot.captureExceptions():  # which takes over the hook for the time of the test
        monkeypatch.setattr("sys.excepthook", faults._on_fault)
        QTimer.singleShot(0, lambda: 1 / 0)
        qtbot.waitUntil(lambda: "should not" in window.bar.message.text())
    assert "ZeroDivisionError" in copied(window)
    assert "ZeroDivisionError" in capsys.readouterr().err


def test_an_ordinary_refusal_offers_no_details(window, settle, tmp_path):
    (tmp_path / "broken.png").write_bytes(b"not a picture")
    window.take_files([tmp_path / "broken.png"])
    settle(window)
    assert "is no picture" in window.bar.message.text()
    assert window.bar._actions == []


def test_a_fix_of_an_older_job_is_not_made_over_the_present_one(two_discs, settle):
    window, findings = two_discs
    fix = next(f.fix for f in window.workspace.overview.findings if f.check == "ppi")
    press = button(findings, fix.words)
    window.document.edit(replace(window.document.job, title="Changed meanwhile"), "title")
    changed = window.document.job
    press.click()  # at once, before the findings of the present job are there
    assert window.document.job == changed
    assert "press again in a moment" in window.bar.message.text()
    settle(window)
