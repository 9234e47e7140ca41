"""The simulated bench: the same for the same seed, and every part of it shows where it should."""

from dataclasses import replace

import numpy as np
import pytest

from honest_edge.core.measure.diagnosis import causes_of
from honest_edge.core.measure.mark_reading import mark_sd_mm, marks_middles
from honest_edge.core.measure.sheet_error import fitted_error
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.measured import ErrorParts, MeasuredPlace, MeasuredSheet
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.simulator.camera import CutTarget, photograph, scan
from honest_edge.simulator.devices import CutsSheets, PrintsSheets, ReadsMarks, TakesPictures
from honest_edge.simulator.nature import BenchNature, CutterNature, LightNature, PrinterNature
from honest_edge.simulator.practice_bench import PracticeBench

SHEET = SheetSpec(paper="a4")
POINTS = np.array([(x, y) for y in (-110, -40, 40, 110) for x in (-80, 0, 80)], float)
NONE = ErrorParts()
TRUE = CutterNature(steady=NONE, spread=NONE, repeat_mm=0.0)
EXACT_PRINT = PrinterNature(
    scale_x_percent=0.0, scale_y_percent=0.0, skew_deg=0.0, feed_shift_mm=0.0, feed_turn_deg=0.0
)  # fmt: skip


def bench(nature=None, seed=1, sheet=SHEET):
    return PracticeBench(nature or BenchNature(), seed, size_mm=sheet.size_mm, marks_mm=marks_middles(sheet))


def measured(moved):
    places = tuple(
        MeasuredPlace(x_mm=x, y_mm=y, dx_mm=dx, dy_mm=dy)
        for (x, y), (dx, dy) in zip(POINTS.tolist(), moved.tolist(), strict=True)
    )
    error, unsure, repeat_mm, freedom = fitted_error(places)
    return MeasuredSheet(
        picture="",
        by="scan",
        error=error,
        unsure=unsure,
        repeat_mm=repeat_mm,
        degrees_of_freedom=freedom,
        places=places,
    )


def test_the_same_seed_gives_the_same_sheets():
    one, other, third = (bench(seed=seed) for seed in (4, 4, 5))
    first = one.sheet(POINTS)
    assert np.array_equal(first, other.sheet(POINTS))
    assert not np.array_equal(first, third.sheet(POINTS))


def test_a_bench_without_error_cuts_where_it_prints():
    """But for the reader's own noise, which the marks' factor spreads."""
    exact = bench(BenchNature(printer=EXACT_PRINT, cutter=TRUE))
    moved = np.array([exact.sheet(POINTS) for _ in range(300)])
    assert np.abs(moved.mean(0)).max() < 0.02
    sd = mark_sd_mm(18.0, 1.0, 0.04)
    centre = np.argmin(np.hypot(*(POINTS - marks_middles(SHEET).mean(0)).T))
    assert 0.6 * sd < moved[:, centre].std() < 1.2 * sd


def test_a_print_that_is_scaled_skewed_and_fed_askew_is_followed_by_the_marks():
    wild = PrinterNature(scale_x_percent=1.5, scale_y_percent=-1.0, skew_deg=0.3, feed_shift_mm=3.0, feed_turn_deg=1.0)
    moved = np.array([bench(BenchNature(printer=wild, cutter=TRUE), seed).sheet(POINTS) for seed in range(60)])
    assert np.abs(moved.mean(0)).max() < 0.03


def test_a_slip_along_the_feed_shows_as_longer_and_as_shift():
    slips = replace(TRUE, slip_percent=0.2)
    moved = np.mean([bench(BenchNature(printer=EXACT_PRINT, cutter=slips), s).sheet(POINTS) for s in range(40)], axis=0)
    error = measured(moved).error
    assert error.scale_y_percent == pytest.approx(0.2, abs=0.03)
    assert error.shift_y_mm == pytest.approx(0.002 * 297 / 2, abs=0.03)
    assert abs(error.scale_x_percent) < 0.03


def test_a_dull_blade_shows_as_repeat():
    sharp, dull = (
        np.mean(
            [measured(bench(BenchNature(cutter=CutterNature(dull=d)), s).sheet(POINTS)).repeat_mm for s in range(20)]
        )
        for d in (0.0, 1.0)
    )
    assert dull == pytest.approx(3 * sharp, rel=0.25)


def test_a_steady_shift_is_diagnosed_from_three_sheets():
    shifted = CutterNature(steady=ErrorParts(shift_x_mm=0.35, shift_y_mm=-0.2))
    made = bench(BenchNature(cutter=shifted), 3)
    assert causes_of([measured(made.sheet(POINTS)) for _ in range(3)])[0].cause == "shift"


def test_marks_on_a_mirror_or_tiny_ones_are_missed_and_nothing_is_cut():
    blind = bench(BenchNature(light=LightNature(shine="mirror"))).with_marks(6.0, 0.5)
    assert [blind.sheet(POINTS) for _ in range(20)].count(None) >= 18
    printed = blind.print_sheet()
    read = blind.read_marks(printed)
    assert read.missed
    with pytest.raises(ValueError, match="nothing is cut"):
        blind.cut(printed, read, POINTS)


def test_ink_in_the_clear_space_pulls_the_reading():
    def pulled(mm):
        nature = BenchNature(printer=EXACT_PRINT, cutter=TRUE, light=LightNature(clutter_mm=mm))
        return np.mean([bench(nature, seed).sheet(POINTS) for seed in range(60)])

    free, near = pulled(2.0), pulled(0.7)
    assert abs(free) < 0.01
    assert near > 0.03


def test_a_similarity_reader_and_four_marks_work_too():
    four = SHEET.with_marks(MarkSpec(kind="four brackets"))
    nature = BenchNature(cutter=TRUE, printer=EXACT_PRINT)
    nature = replace(nature, reader=replace(nature.reader, map="similarity"))
    moved = np.array([bench(nature, seed, four).sheet(POINTS) for seed in range(40)])
    assert np.abs(moved.mean(0)).max() < 0.03


def test_marks_in_the_printer_s_rim_are_not_printed_and_so_missed():
    wide = BenchNature(printer=replace(EXACT_PRINT, rim_mm=14.0))
    assert bench(wide).read_marks(bench(wide).print_sheet()).missed == (0, 1, 2)


def test_a_towed_tip_cuts_a_corner_short_and_comes_back_to_the_line():
    """The tractrix: after a right angle the tip nears the new line as exp(-way / offset)."""
    along = np.column_stack([np.linspace(0, 5, 2001), np.zeros(2001)])
    up = np.column_stack([np.full(2001, 5.0), np.linspace(0, 5, 2001)])
    tip = bench().way_of_the_tip(np.concatenate([along, up[1:]]))
    assert tip[1000] == pytest.approx((2.5 - 0.25, 0.0))
    off = np.linalg.norm(tip - (5.0, 0.0), axis=1).min()
    assert 0.05 < off < 0.25
    assert 5.0 - tip[-1][0] < 1e-6
    later = tip[2001 + 200]  # half a millimetre on
    assert 5.0 - later[0] == pytest.approx(0.25 / np.cosh(0.5 / 0.25), rel=0.02)


def test_one_object_stands_for_printer_reader_and_cutter():
    made = bench()
    printer: PrintsSheets = made
    reader: ReadsMarks = made
    cutter: CutsSheets = made
    printed = printer.print_sheet()
    assert printed.number == 1
    assert cutter.cut(printed, reader.read_marks(printed), POINTS).shape == POINTS.shape


@pytest.mark.parametrize("takes", [scan, photograph])
def test_a_scanner_and_a_phone_answer_alike(takes):
    device: TakesPictures = takes
    empty = CutTarget(size_mm=(60.0, 80.0), dark=(), printed_mm=np.empty((0, 2)), cut_mm=np.empty((0, 2)))
    one, other = (device(empty, 100.0 if takes is scan else 0.5, 3) for _ in range(2))
    assert one.dtype == np.uint8
    assert np.array_equal(one, other)
