"""From pictures and readings to sheets, and what is said of them."""

from __future__ import annotations

from dataclasses import replace

import pytest

from honest_edge.app.bench.measuring import looked_at, measured_pictures, measured_readings, said_of
from honest_edge.app.bench.practice import practised
from honest_edge.app.bench.straightened import straightened
from honest_edge.core.measure.combs import comb_places
from honest_edge.core.measure.readings import Reading
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.measured import ErrorParts
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.simulator.nature import BenchNature, PrinterNature

A5 = SheetSpec(paper="a5")


@pytest.fixture(scope="module")
def scans():
    return practised(A5, "TESTKEY2", 1)


@pytest.fixture(scope="module")
def looks(scans):
    return [looked_at(scan) for scan in scans]


def test_pictures_of_one_sheet_are_one_sheet_whatever_their_order(looks):
    one, other = measured_pictures(looks, 0.5), measured_pictures(looks[::-1], 0.5)
    assert len(one.sheets) == len(other.sheets) == 1
    assert one.sheets[0].error.values == pytest.approx(other.sheets[0].error.values)
    assert one.sheets[0].by == "scan"
    assert one.sheets[0].sheet == "TESTKEY2-1"
    assert not any("shadow" in words for words in one.warnings)


def test_a_target_printed_at_97_percent_is_said_to_be(scans):
    """A scan tells it by its own resolution: the tags lie three percent nearer than they should."""
    small = [looked_at(replace(scan, ppi=scan.ppi / 0.97)) for scan in scans]
    assert any("printed at 97 % of its size" in words for words in measured_pictures(small, 0.5).warnings)
    photograph = [looked_at(replace(scan, ppi=None)) for scan in scans]
    found = measured_pictures(photograph, 0.5)
    assert found.sheets[0].by == "photograph"
    assert not any("of its size" in words for words in found.warnings)


def test_sheets_that_contradict_each_other_are_said_to(looks):
    (sheet,) = measured_pictures(looks, 0.5).sheets
    far = replace(sheet, error=replace(sheet.error, shift_x_mm=sheet.error.shift_x_mm + 0.9))
    assert any("apart from each other" in words for words in said_of([sheet, far], 0.5))
    assert not any("apart from each other" in words for words in said_of([sheet, sheet], 0.5))


def test_what_the_cut_was_moved_by_is_read_from_the_code():
    moved = ErrorParts(shift_x_mm=-0.2, shift_y_mm=0.1)
    looks = [looked_at(scan) for scan in practised(A5, "TESTKEY3", 1, correction=moved)]
    plain = [looked_at(scan) for scan in practised(A5, "TESTKEY3", 1)]
    one, other = (measured_pictures(found, 0.5).sheets[0] for found in (looks, plain))
    assert one.correction.values == pytest.approx(moved.values)
    assert one.of_the_bench.shift_x_mm == pytest.approx(other.error.shift_x_mm, abs=0.01)


def test_a_picture_without_a_target_is_said_beside_those_with_one(looks, scans):
    blank = replace(scans[0], name="blank.png", grey=scans[0].grey * 0 + 240)
    found = measured_pictures([*looks, looked_at(blank)], 0.5)
    assert len(found.sheets) == 1
    assert "blank.png shows no target" in found.warnings[0]
    assert straightened(looked_at(blank)) is None


def test_a_straightened_picture_is_as_large_as_the_paper(looks):
    made = straightened(looks[1])
    assert (made.width_mm, made.height_mm) == (148.0, 210.0)
    assert len(made.levels) == made.width_px * made.height_px


def test_the_practice_bench_cuts_nothing_where_it_misses_a_mark():
    with pytest.raises(BlockedError, match="missed a mark and cut nothing"):
        practised(A5, "TESTKEY4", 1, nature=BenchNature(printer=PrinterNature(rim_mm=40.0)))
    framed = A5.with_marks(MarkSpec(kind="frame"))
    assert looked_at(practised(framed, "TESTKEY5", 1)[0]).found is not None


def test_readings_name_the_place_to_read_again():
    points = comb_places(SheetSpec(paper="a4"), 9).from_middle
    readings = [Reading(place=n, across=2.0, down=-1.0) for n in range(1, 10)]
    readings[4] = Reading(place=5, across=2.0, down=7.0)
    found = measured_readings({"first": tuple(readings)}, points, 0.5, key="ABC")
    assert "first: place 5: down does not fit the rest: read it again" in found.warnings
    assert found.sheets[0].sheet == "ABC-first"
