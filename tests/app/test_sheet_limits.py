"""What is said of the marks agrees with the sheet that lies beside it."""

from types import SimpleNamespace

from honest_edge.app.edits import sheet_edits
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.ui.stations.sheet.sheet_words import mark_words


def test_a_sheet_that_a_longer_look_filled_is_no_less_than_what_a_fresh_one_takes(monkeypatch):
    kind = SheetSpec().marks.kind
    page = tuple(SimpleNamespace(design=0) for _ in range(12))
    plan = SimpleNamespace(pages=(page,), count=lambda _index: 12)
    overview = SimpleNamespace(job=SimpleNamespace(sheet=SheetSpec()))
    monkeypatch.setattr(sheet_edits, "_planned", lambda _overview: plan)
    monkeypatch.setattr(sheet_edits, "footprints", lambda _overview: [SimpleNamespace(key="d1")])
    monkeypatch.setattr(sheet_edits, "pins_of", lambda _overview: ())
    monkeypatch.setattr(sheet_edits, "limits", lambda *_a, **_k: None)
    monkeypatch.setattr(sheet_edits, "mark_costs", lambda *_a, **_k: {kind: 11, "frame": 10})
    found = sheet_edits.sheet_limits(overview, "d1", cancelled=lambda: False)
    assert found.marks == {kind: 12, "frame": 10}
    assert mark_words(found.marks, SheetSpec(), is_longer=found.is_longer).splitlines() == [
        f"{kind}: 12 to a fresh sheet",
        "frame: at least 10 to a fresh sheet",
    ]
    monkeypatch.setattr(sheet_edits, "mark_costs", lambda *_a, **_k: {kind: 12, "frame": 10})
    found = sheet_edits.sheet_limits(overview, "d1", cancelled=lambda: False)
    assert mark_words(found.marks, SheetSpec(), is_longer=found.is_longer).splitlines()[1].endswith("2 fewer")
