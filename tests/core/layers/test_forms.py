"""Forms against closed forms, published sizes, and the pop-up folded in space."""

from __future__ import annotations

import math
from fractions import Fraction
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.geometry.lines import perforated
from honest_edge.core.layers.forms import flat_size_mm, folded_part, form_shape
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.forms import PRESETS, Form, usual_sizes

FORMS = {preset.name: preset.form for preset in PRESETS}


@pytest.mark.parametrize("preset", PRESETS, ids=lambda preset: preset.name)
def test_every_preset_is_one_valid_piece_round_its_middle(preset):
    shape = form_shape(preset.form)
    (piece,) = shape.area.geoms
    assert piece.is_valid
    left, top, right, bottom = piece.bounds
    assert (left + right, top + bottom) == pytest.approx((0, 0), abs=1e-6)
    for line in shape.lines:
        assert piece.buffer(1e-6).covers(shapely.LineString(line.curve.flattened(0.01)))


def test_published_sizes():
    card = form_shape(FORMS["Gift card, ID-1"]).area
    assert np.ptp(np.reshape(card.bounds, (2, 2)), axis=0) == pytest.approx((85.60, 53.98))  # ISO/IEC 7810:2019, ID-1
    a6 = flat_size_mm(FORMS["Folded card, A6"])
    assert sorted(a6) == [148, 210]  # ISO 216: two A6 are one A5
    assert FORMS["Folded card, A6"].width_mm < 114  # ISO 269: a C6 envelope is 114 x 162 mm
    assert FORMS["Folded card, A6"].height_mm < 162
    folded = FORMS["Folded card"]  # an A7 envelope is 5 1/4 x 7 1/4 in; common practice, no published source
    assert folded.width_mm < 5.25 * 25.4
    assert folded.height_mm < 7.25 * 25.4
    assert flat_size_mm(folded) == pytest.approx((254, 177.8))


@given(st.floats(20, 200), st.floats(0, 30), st.floats(10, 120))
def test_a_wrap_label_is_as_long_as_the_jar_is_round(diameter, overlap, height):
    area = form_shape(Form(kind="wrap label", jar_mm=diameter, height_mm=height, overlap_mm=overlap)).area
    assert area.area == pytest.approx((math.pi * diameter + overlap) * height, rel=1e-6)


@given(st.floats(30, 150), st.floats(0.75, 0.97), st.floats(20, 90), st.booleans())
def test_a_cone_unrolls_to_its_own_surface(larger, share, slope, widens):
    smaller = share * larger
    if larger - smaller > 1.5 * slope:
        return
    upper, lower = (smaller, larger) if widens else (larger, smaller)
    form = Form(kind="wrap label", jar_mm=upper, lower_jar_mm=lower, height_mm=slope, overlap_mm=0)
    area = form_shape(form).area
    # the mantle of a truncated cone: pi (R + r) s (Bronshtein et al., Handbook of Mathematics, 3.3.5)
    assert area.area == pytest.approx(math.pi * (larger + smaller) / 2 * slope, rel=1e-4)


def test_the_longer_arc_lies_at_the_wider_end():
    def lengths(upper, lower):
        area = form_shape(Form(kind="wrap label", jar_mm=upper, lower_jar_mm=lower, height_mm=50, overlap_mm=0)).area
        left, top, right, bottom = area.bounds
        strips = (shapely.box(left, top, right, top + 12), shapely.box(left, bottom - 12, right, bottom))
        return [shapely.intersection(area, strip).area for strip in strips]

    wide_above, wide_below = lengths(80, 70), lengths(70, 80)
    assert wide_above == pytest.approx(wide_below[::-1], rel=1e-6)
    form = Form(kind="wrap label", jar_mm=80, lower_jar_mm=70, height_mm=50, overlap_mm=0)
    points = shapely.get_coordinates(form_shape(form).area)
    ends = points[np.abs(points[:, 0]).argmax()]
    assert ends[1] < 0  # a cone that narrows downward reaches farthest out at its upper corners


def test_a_lid_label_stays_inside_its_rim():
    area = form_shape(Form(kind="lid label", jar_mm=70, margin_mm=4)).area
    assert area.area == pytest.approx(math.pi * 31**2, rel=1e-4)
    with pytest.raises(BlockedError, match="leaves nothing of a lid"):
        form_shape(Form(kind="lid label", jar_mm=20, margin_mm=9))


def test_planner_boxes_are_kiss_cut_with_even_gaps():
    shape = form_shape(Form(kind="planner boxes", width_mm=30, height_mm=20, columns=3, rows=2, gap_mm=4))
    assert [line.kind for line in shape.lines] == ["kiss"] * 6
    boxes = [shapely.Polygon(line.curve.flattened(0.01)) for line in shape.lines]
    nearest = [min(a.distance(b) for b in boxes if b is not a) for a in boxes]
    assert nearest == pytest.approx([4] * 6)
    assert min(box.distance(shape.area.boundary) for box in boxes) == pytest.approx(4)


@given(st.floats(5, 60), st.floats(5, 60), st.floats(1, 179))
def test_the_pop_up_strip_keeps_its_lengths_at_every_opening(height, depth, opening):
    form = Form(kind="pop-up card", fold="top", width_mm=150, height_mm=125, part_height_mm=height, depth_mm=depth)
    behind, leaves, bend, meets, _ = folded_part(form, opening)
    # paper neither stretches nor shears: every length of the flat strip is still there in space
    assert np.hypot(*(bend - leaves)) == pytest.approx(depth)
    assert np.hypot(*(bend - meets)) == pytest.approx(height)
    assert np.hypot(*leaves) == pytest.approx(height)
    assert np.hypot(*meets) == pytest.approx(depth)
    assert np.hypot(*behind) == pytest.approx(125)


@given(st.floats(5, 80), st.floats(5, 80))
def test_a_pop_up_is_refused_exactly_when_it_would_look_out_of_the_shut_card(height, depth):
    form = Form(kind="pop-up card", fold="top", width_mm=150, height_mm=100, part_height_mm=height, depth_mm=depth)
    farthest = np.abs(folded_part(form, 0.001)[:, 0])[1:4].max()  # from the fold, all but shut
    if farthest < 99.99:
        lines = form_shape(form).lines
        assert [line.kind for line in lines].count("through") == 2
        creases = {round(float(line.curve.cubics[0, 0, 1]), 4) for line in lines if line.kind == "crease"}
        assert creases == {round(at, 4) for at in (-height, depth - height, depth, 0)}
    elif farthest > 100.01:
        with pytest.raises(BlockedError, match="Lower it, or bring it nearer"):
            form_shape(form)


@pytest.mark.parametrize("fold", ["left", "top"])
def test_folds_lie_on_the_middle_and_can_be_perforated(fold):
    creased = form_shape(Form(kind="folded card", width_mm=100, height_mm=80, fold=fold)).lines
    axis = 0 if fold == "left" else 1
    assert np.abs(creased[0].curve.cubics[..., axis]).max() == 0
    torn = form_shape(Form(kind="folded card", width_mm=100, height_mm=80, fold=fold, fold_kind="perforate")).lines
    assert {line.kind for line in torn} == {"perforate"}
    assert not any(line.curve.closed for line in torn)


def test_a_perforation_cuts_and_ties_as_told_and_ends_in_paper():
    cuts = perforated(np.array([[10.0, 5.0], [10.0, 85.0]]), closed=False, cut_mm=3.0, tie_mm=1.0)
    lengths = [float(np.hypot(*(c.cubics[-1, 3] - c.cubics[0, 0]))) for c in cuts]
    assert lengths == pytest.approx([3.0] * 20)
    ties = [float(b.cubics[0, 0, 1] - a.cubics[-1, 3, 1]) for a, b in pairwise(cuts)]
    assert ties == pytest.approx([1.0] * 19)
    assert cuts[0].cubics[0, 0, 1] == pytest.approx(5.5)


def test_a_sleeve_has_its_walls_and_a_sheet_its_hang_hole():
    sleeve = form_shape(Form(kind="sleeve", width_mm=90, height_mm=60, depth_mm=35, flap_mm=12))
    xs = [float(line.curve.cubics[0, 0, 0]) for line in sleeve.lines]
    assert np.diff([-131, *xs, 131]) == pytest.approx([90, 35, 90, 35, 12])
    sheet = form_shape(Form(kind="sticker sheet", width_mm=100, height_mm=150, radius_mm=5, hole_mm=6)).area
    assert sheet.area == pytest.approx(15_000 - (4 - math.pi) * 25 - math.pi * 9, rel=1e-4)


def test_sizes_that_no_form_has_are_refused_in_words():
    with pytest.raises(UsageError, match="jar’s diameter must be 10 to 1000 mm, not 5"):
        Form(kind="wrap label", jar_mm=5)
    with pytest.raises(BlockedError, match="no jar narrows"):
        form_shape(Form(kind="wrap label", jar_mm=200, lower_jar_mm=50, height_mm=30))
    with pytest.raises(BlockedError, match="does not fit on this sheet"):
        form_shape(Form(kind="sticker sheet", width_mm=30, height_mm=30, hole_mm=25))
    with pytest.raises(BlockedError, match="leaves no card beside it"):
        form_shape(Form(kind="pop-up card", fold="top", width_mm=60, height_mm=100, part_width_mm=58))
    with pytest.raises(UsageError, match="creased or perforated"):
        Form(kind="folded card", fold_kind="kiss")


@pytest.mark.slow
@given(st.floats(4, 60), st.floats(0.5, 8), st.floats(0.3, 4), st.booleans())
def test_a_perforation_follows_any_line_with_even_cuts(radius, cut, tie, closed):
    angle = np.linspace(0, 1.7 * math.pi, 240)
    points = radius * np.stack([np.cos(angle), np.sin(angle)], axis=1)
    line = shapely.LineString(np.vstack([points, points[:1]]) if closed else points)
    if line.length < 2 * (cut + tie):
        return
    cuts = [shapely.LineString(c.flattened(0.01)) for c in perforated(points, closed=closed, cut_mm=cut, tie_mm=tie)]
    assert all(line.buffer(1e-6).covers(part) for part in cuts)
    assert sum(part.length for part in cuts) == pytest.approx(line.length * cut / (cut + tie), rel=1e-6)
    assert max(part.length for part in cuts) - min(part.length for part in cuts) < 1e-6


@pytest.mark.parametrize("kind", PRESETS)
def test_a_usual_size_is_what_it_is_called(kind):
    for name, sizes in usual_sizes(kind):
        if name in ("A5", "A6"):  # ISO 216
            assert (sizes["width_mm"], sizes["height_mm"]) == {"A5": (148, 210), "A6": (105, 148)}[name]
            continue
        unit = 25.4 if name.endswith(" in") else 1.0
        called = [sum(map(Fraction, part.split())) * unit for part in name.rstrip(" inmld").split(" × ")]
        wanted = [float(called[at % len(called)]) for at in range(len(sizes))]  # one number is both sides
        assert list(sizes.values()) == pytest.approx(wanted), name
