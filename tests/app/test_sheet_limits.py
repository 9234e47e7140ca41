"""What is said of the marks agrees with the sheet that lies beside it."""

from types import SimpleNamespace

from honest_edge.app.edits import sheet_edits
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.stock import Stock
from honest_edge.ui.stations.sheet.sheet_words import mark_words, price_words


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
    monkeypatch.setattr(sheet_edits, "copies_with", lambda *_a, **_k: 13)
    found = sheet_edits.sheet_limits(overview, "d1", cancelled=lambda: False)
    assert found.marks == {kind: 12, "frame": 10}
    assert mark_words(found.marks, SheetSpec(), is_longer=found.is_longer).splitlines() == [
        f"{kind}: 12 to a fresh sheet",
        "frame: at least 10 to a fresh sheet",
    ]
    monkeypatch.setattr(sheet_edits, "mark_costs", lambda *_a, **_k: {kind: 12, "frame": 10})
    found = sheet_edits.sheet_limits(overview, "d1", cancelled=lambda: False)
    assert mark_words(found.marks, SheetSpec(), is_longer=found.is_longer).splitlines()[1].endswith("2 fewer")


def test_smaller_marks_have_a_price_that_is_said_to_be_assumed(monkeypatch):
    monkeypatch.setattr(sheet_edits, "copies_with", lambda *_a, **_k: 14)
    sheet = SheetSpec(stock=Stock(gloss="glossy"))
    price = sheet_edits._smaller_marks(None, sheet, 12, cancelled=lambda: False)
    said = price_words(price, sheet, lambda mm, digits: f"{mm:.{digits}f} mm")
    assert said.startswith(
        "6.0 mm × 0.5 mm marks: 2 more stickers; error of the reading 0.12 mm to 0.15 mm on glossy stock"
    )
    assert said.endswith("(assumed, not measured)")
    discs = sheet.with_marks(MarkSpec(kind="four discs", length_mm=6.0))
    assert sheet_edits._smaller_marks(None, discs, 12, cancelled=lambda: False) is None
