"""What is always so: said in one panel, followed by new art and new jobs, and ended by one press."""

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QMenu

from hands import click, drop, type_into, visit
from honest_edge.ui.stations.proof.rows import FindingRow
from pictures import disc_png


def test_what_is_always_so_is_how_new_art_and_new_jobs_begin(with_disc, settle, tmp_path, make_window):
    window = with_disc
    art = window.stations["art"].panel
    assert not art.habit_line.swap.isEnabled(), "no size was typed yet"
    type_into(art.sizes.cut[0], "30")
    settle(window)
    click(art.habit_line.swap)
    assert art.habit_line.words.text() == "As you have it always."
    visit(window, "edge")
    edge = window.stations["edge"].panel
    type_into(edge.offset, "3")
    settle(window)
    click(edge.habit_line.swap)
    visit(window, "sheet")
    window.workspace.edit_sheet("paper", paper="a4", gap_mm=5.0)
    settle(window)
    click(window.stations["sheet"].panel.habit_line.swap)
    visit(window, "files")
    files = window.stations["files"].panel
    window.workspace.edit_job("png", png_ppi=300.0)
    settle(window)
    click(files.habit_line.swap)
    other = make_window()
    assert (other.workspace.job.sheet.paper, other.workspace.job.sheet.gap_mm) == ("a4", 5.0)
    assert other.workspace.job.png_ppi == 300.0
    path = tmp_path / "Other.png"
    path.write_bytes(disc_png(radius=80.0, ppi=300))
    drop(other, [path])
    settle(other)
    design = other.workspace.design
    assert design.edge.offset_mm == 3.0
    assert abs(other.workspace.result.cut_size_mm[0] - 30) < 0.02
    visit(other, "edge")
    line = other.stations["edge"].panel.habit_line
    assert line.words.text() == "As you have it always."
    type_into(other.stations["edge"].panel.offset, "1")
    settle(other)
    assert line.words.text() == "You have it otherwise always."
    other.document.undo_stack.undo()
    settle(other)
    click(line.swap)
    assert other.habits.known.edge is None
    click(other.bar._actions[0])  # Undo
    assert other.habits.known.edge is not None


def test_the_menu_is_in_groups_and_designs_layers_and_findings_have_menus_of_their_own(window, settle, tmp_path):
    titles = [action.text() for action in window.menu.menu.actions() if action.menu() is not None]
    assert titles == ["Job", "Art", "Make a design", "This design", "Make it", "View"]
    words = [action.text() for action in window.actions()]
    for name in ("Duplicate", "Rename this design…", "Fill the sheet with this design", "Make it in one line"):
        assert name in words, "and so finding knows it"
    path = tmp_path / "Soft.png"
    path.write_bytes(disc_png(ppi=50))
    drop(window, [path])
    settle(window)
    visit(window, "proof")
    settle(window)
    row = next(one for one in window.stations["proof"].panel.findChildren(FindingRow) if "ppi" in one.listed.words)
    entries = [action.text() for action in row.menu().actions()]
    assert "See it at Art" in entries
    assert any(entry.startswith("Make the art") for entry in entries)
    next(action for action in row.menu().actions() if action.text() == "See it at Art").trigger()
    assert window.station == "art"
    window.intake.start_with_words()
    settle(window)
    panel = window.stations["art"].layers
    shown = []
    panel.list.menu_wanted.connect(shown.append)
    item = panel.list.item(0)
    panel.list.clearSelection()
    panel.list.customContextMenuRequested.emit(panel.list.visualItemRect(item).center())
    assert isinstance(shown[0], QPoint)
    assert item.isSelected()
    menu = next(one for one in panel.findChildren(QMenu) if one.isVisible())
    assert "Group" in [action.text() for action in menu.actions()]
    menu.close()
    assert panel.list.contextMenuPolicy() == Qt.ContextMenuPolicy.CustomContextMenu
