"""What the bench and the Book say against a job."""

from dataclasses import replace

from honest_edge.core.proof.book_checks import JobFacts, bench_findings, book_findings, spares_finding
from honest_edge.core.values.job import BenchCopy, Job
from honest_edge.core.values.misregistration import Misregistration
from honest_edge.core.values.sheet import SheetSpec

GOOD = JobFacts(has_setting=True)


def test_a_bench_that_was_never_measured_is_noted_until_it_is():
    (note,) = bench_findings(Job())
    assert (note.check, note.severity, note.fix.visit) == ("assumed", "note", "bench")
    assert "within 0.5 mm" in note.message
    sheet = SheetSpec()
    copy = BenchCopy(machine=sheet.machine.name, printer=sheet.printer.name, key="k", error=Misregistration())
    assert not list(bench_findings(Job(measured=copy)))
    assert not list(bench_findings(Job(error=Misregistration())))  # typed: the user knows


def test_a_known_setting_a_fresh_blade_and_enough_stock_are_silent():
    assert not list(book_findings(Job(), GOOD, 3))
    assert not list(book_findings(Job(), replace(GOOD, on_hand=3), 3))


def test_what_is_missing_is_said_with_the_room_where_it_is_mended():
    found = {f.check: f for f in book_findings(Job(), JobFacts(on_hand=2), 3)}
    assert found["setting"].fix.visit == "book:test cuts"
    assert "2 sheets" in found["stock"].message
    assert found["stock"].fix.visit == "book:stock"
    (blade,) = book_findings(Job(), replace(GOOD, blade="60 degrees", blade_m=140.0, blade_dull=0.31), 3)
    assert "140 m" in blade.message
    assert "31 %" in blade.message


def test_too_few_sheets_for_the_wanted_number():
    found = spares_finding(0.83, 0.95, 5, 4, (1, 1, 1, 2))
    assert "83 %" in found.message
    assert "1 more sheet" in found.remedy
    assert found.fix.prints == (1, 1, 1, 2)
