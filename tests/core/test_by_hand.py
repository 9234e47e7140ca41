"""Small sums of several rooms, each reckoned by hand: faults put in by chance passed all other tests here."""

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
import zxingcpp
from scipy import stats

from honest_edge.core.edge.profile import EdgeProfile
from honest_edge.core.layers.codes import code_area
from honest_edge.core.layers.forms import form_shape
from honest_edge.core.measure.bench_error import PartBelief, interval, mean_give_or_take
from honest_edge.core.proof.mark_checks import rim_finding
from honest_edge.core.values.forms import Form, form_title
from honest_edge.core.values.job import Job
from honest_edge.core.values.layers import Code
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.misregistration import MARKS_MIDDLE, Misregistration, Scatter
from honest_edge.core.values.printer import Printer
from honest_edge.core.values.run_events import Moment
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.workshop.ladder_sheet import ladder_sheet
from honest_edge.files.prefs import Prefs


def test_a_code_lies_where_its_quiet_zone_says():
    """ISO/IEC 18004, 9.1: four modules of quiet zone all round a QR code."""
    area = code_area(Code(kind="QR", text="QUILLWORT", width_mm=29.0, height_mm=29.0))
    left, top, right, bottom = area.dark.bounds
    quiet = 4 * area.module_mm
    assert (left, top, right, bottom) == pytest.approx(
        (-14.5 + quiet, -14.5 + quiet, 14.5 - quiet, 14.5 - quiet), abs=1e-6
    )
    px = 10
    picture = np.full((29 * px, 29 * px), 255, np.uint8)
    ys, xs = np.mgrid[0 : 29 * px, 0 : 29 * px]
    inside = shapely.contains_xy(area.dark, (xs.ravel() + 0.5) / px - 14.5, (ys.ravel() + 0.5) / px - 14.5)
    picture.ravel()[inside] = 0
    assert zxingcpp.read_barcodes(picture)[0].text == "QUILLWORT"


def test_a_hang_hole_has_its_own_diameter_five_millimetres_below_the_edge():
    area = form_shape(Form(kind="sticker sheet", width_mm=100, height_mm=150, hole_mm=6)).area
    (hole,) = area.geoms[0].interiors
    left, top, right, bottom = hole.bounds
    assert (right - left, bottom - top) == pytest.approx((6, 6), abs=0.02)
    assert (left + right) / 2 == pytest.approx(0, abs=1e-6)
    assert top == pytest.approx(-75 + 5, abs=0.01)


def test_a_label_is_round_where_it_has_one_diameter():
    assert form_title(Form(kind="oval label", width_mm=50, height_mm=50)) == "Round label"
    assert form_title(Form(kind="oval label", width_mm=50, height_mm=40)) == "Oval label"
    assert form_title(Form(kind="label", width_mm=50, height_mm=50)) == "Label"


def test_the_steady_part_and_the_next_sheet_are_within_student_s_t():
    """NIST/SEMATECH e-Handbook, 1.3.5.2: mean +- t(1 - alpha/2, n - 1) s / sqrt(n)."""
    part = PartBelief(mean=0.2, mean_unsure=0.03, spread=0.07, degrees_of_freedom=5.0)
    t = stats.t.ppf(0.975, 5)
    assert t == pytest.approx(2.571, abs=0.001)
    assert mean_give_or_take(part) == pytest.approx(0.03 * t)
    assert interval(part) == pytest.approx((0.2 - 0.07 * t, 0.2 + 0.07 * t))


def test_marks_in_the_rim_are_shown_all_round_the_paper():
    sheet = SheetSpec(printer=Printer(rim_mm=14.0)).with_marks(MarkSpec(inset_mm=8.0))
    found = rim_finding(sheet)
    width, height = sheet.size_mm
    (place,) = found.places
    assert place.geometry.area == pytest.approx(width * height - (width - 28) * (height - 28))
    assert rim_finding(replace(sheet, printer=Printer(rim_mm=8.0))) is None


@pytest.mark.parametrize(
    ("unit", "inches", "shown"), [("in", "fraction", "in fraction"), ("in", "decimal", "in"), ("mm", "fraction", "mm")]
)
def test_fractions_are_shown_where_inches_and_fractions_are_chosen(unit, inches, shown):
    assert Prefs(unit=unit, inches=inches).shown_unit == shown


def test_numbers_of_a_ladder_are_strokes_of_digits_side_by_side():
    """A digit is 1.5 by 2.6 mm, the next one 0.8 mm beside it; 8 has seven strokes and 1 has two."""
    (sheet,) = [ladder_sheet((81.0,))]
    strokes = np.array(sheet.numbers)
    assert len(strokes) == 7 + 2
    low, high = strokes.min((0, 1)), strokes.max((0, 1))
    assert high - low == pytest.approx((1.5 + 0.8 + 1.5, 2.6))
    eight = strokes[:7].reshape(-1, 2)
    assert np.ptp(eight, axis=0) == pytest.approx((1.5, 2.6))
    assert sheet.squares[0][:, 1].min() - high[1] == pytest.approx(1.2)
    assert np.ptp(sheet.squares[0], axis=0) == pytest.approx((9, 9))
    half = ladder_sheet((81.5,))
    assert len(half.numbers) == 7 + 2 + 1 + 5, "a point is a stroke, and 5 has five"


def profile(weak_at):
    """A straight cut of 100 mm, with ink that ends at it where it is weak and far beyond it elsewhere."""
    along = np.arange(0, 100, 0.1)
    count = len(along)
    weak = np.zeros(count, bool)
    for start, end in weak_at:
        weak |= (along > start - 0.05) & (along < end + 0.05)
    return EdgeProfile(
        along_mm=along,
        points_mm=np.column_stack([along, np.zeros(count)]),
        normals=np.tile((0.0, 1.0), (count, 1)),
        outward_mm=np.where(weak, 0.0, 3.0),
        detail_mm=np.full(count, 4.0),
        shows_white=np.ones(count, bool),
        length_mm=100.0,
        middle_mm=np.array([50.0, 0.0]),
        art=None,
        is_kiss=np.zeros(count, bool),
    )


def test_weak_places_begin_and_end_where_they_are_weak():
    error = Misregistration(shift_x_mm=Scatter(spread=0.2), shift_y_mm=Scatter(spread=0.2))
    places = profile([(10, 12), (13.5, 15), (40, 41)]).weak_places(error, MARKS_MIDDLE, Job().visible_mm)
    found = sorted((one.start_mm, one.end_mm) for one in places)
    assert [pytest.approx(one, abs=1e-6) for one in ((10, 15), (40, 41))] == found, "what is 2 mm apart is one"
    # one side alone: P(N(0, 0.2) > 0.1)
    assert places[0].chance == pytest.approx(1 - stats.norm.cdf(0.5), abs=1e-3)


def test_skipped_waits_lie_ahead_and_nothing_else_does():
    from honest_edge.app.run.clocks import RunClock

    clock = RunClock(real=lambda: Moment(wall_ms=1_000))
    assert clock() == Moment(wall_ms=1_000)
    clock.skip(2.5)
    assert clock().wall_ms == 3_500
    clock.skip(-4)
    assert clock().wall_ms == 3_500
    assert math.isclose(clock.ahead_s, 2.5)
