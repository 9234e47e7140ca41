"""What only holds a place keeps files from being written until it is typed over, or kept on purpose."""

import pytest
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from hands import click, visit
from honest_edge.app.output.prepare_files import prepare
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.forms import PRESETS


@pytest.fixture
def sheet(window, settle):
    window.intake.start_with_form(PRESETS[0])
    settle(window)
    return window, window.stations["art"].layers


def test_nothing_is_written_until_each_is_typed_over_or_kept(sheet, settle, monkeypatch):
    window, panel = sheet
    found = [f for f in window.workspace.overview.findings if f.check == "placeholder"]
    assert [f.message for f in found] == ["“Untitled” only holds a place", "“Shop name” only holds a place"]
    assert window.path_bar.buttons["art"].state == "blocked"
    assert window.path_bar.buttons["files"].state == "blocked"
    with pytest.raises(BlockedError, match="“Untitled” only holds a place"):
        prepare(window.document.job, window.pipeline())
    visit(window, "files")
    files = window.stations["files"].panel
    assert not files.write.isEnabled()
    assert not files.print.isEnabled()
    assert "only holds a place" in files.under.text()
    visit(window, "art")
    panel.take(("l1",))
    panel.fields.text.setFocus()
    panel.fields.text.selectAll()
    QTest.keyClicks(panel.fields.text, "Mint tea")
    QTest.qWait(450)
    settle(window)
    keep = next(made for made in panel.findings.findChildren(QPushButton) if made.text() == "Keep “Shop name”")
    click(keep)
    settle(window)
    assert not [f for f in window.workspace.overview.findings if f.severity == "blocks"]
    visit(window, "files")
    assert files.write.isEnabled()
    assert prepare(window.document.job, window.pipeline())
    window.document.undo_stack.undo()
    settle(window)
    assert not files.write.isEnabled()


def test_a_code_that_was_only_added_holds_a_place_too(window, settle):
    window.intake.start_with_form(PRESETS[1])
    settle(window)
    panel = window.stations["art"].layers
    next(a for a in panel.add.menu().actions() if a.text() == "QR code").trigger()
    settle(window)
    assert "“https://example.org” only holds a place" in panel.findings.words
