"""Narrow places and what a recipe makes of them; turns and times are reckoned by hand."""

from dataclasses import replace

import numpy as np
import pytest

from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.sheet.blade import polyline
from honest_edge.core.sheet.costs import cut_seconds, narrow_lines
from honest_edge.core.sheet.narrow_lines import has_narrow_place
from honest_edge.core.sheet.strokes import strokes
from honest_edge.core.values.machine import DirectUse, Machine
from honest_edge.core.values.recipe import CutSetting, LineSettings
from honest_edge.files.languages import LANGUAGES
from honest_edge.files.languages.language import whole_file


def closed(*points):
    return np.array([*points, points[0]], float)


def circle(radius):
    angles = np.linspace(0, 2 * np.pi, 200)
    return radius * np.column_stack([np.cos(angles), np.sin(angles)])


def ring(points):
    return CurveRing(polyline(points).cubics, np.ones(len(points) - 1, bool))


@pytest.mark.parametrize(
    ("points", "is_narrow"),
    [
        (closed((0, 0), (20, 0), (20, 20), (0, 20)), False),  # a square corner turns by 90 degrees alone
        (closed((0, 0), (20, 0), (20, 2), (0, 2)), True),  # two of them within 2 mm: 180
        (closed((0, 0), (2, 0), (2, 30), (0, 30)), True),  # the same at the start
        (closed((0, 0), (20, 0), (20, 3.5), (0, 3.5)), False),  # farther apart than 3 mm
        (circle(1.0), True),  # 3 mm of it turn by 172 degrees
        (circle(1.3), False),  # by 132
        (np.array([(0, 0), (20, 0), (0.0, 1.0)]), True),  # a hairpin
        (np.array([(0, 0), (20.0, 0)]), False),
    ],
)
def test_a_line_that_turns_back_within_three_millimetres_has_a_narrow_place(points, is_narrow):
    assert has_narrow_place(points) is is_narrow
    assert has_narrow_place(points[::-1]) is is_narrow


SQUARE, SLIT = ring(closed((0, 0), (20, 0), (20, 20), (0, 20))), ring(closed((0, 0), (20, 0), (20, 2), (0, 2)))


def test_slower_at_narrow_places_costs_their_length_at_both_speeds():
    machine = Machine(speed_mm_s=40.0, travel_mm_s=1e4).set_to(
        LineSettings(kiss=CutSetting(speed_mm_s=20.0, slow_mm_s=5.0, passes=2), through=CutSetting(passes=3))
    )
    cuts = {"kiss": (SQUARE, SLIT), "through": (SQUARE,)}
    made = strokes(cuts, machine)
    assert [(one.kind, one.speed_mm_s) for one in made] == [("kiss", 20), ("kiss", 5)] * 2 + [("through", 40)] * 3
    # two passes of 80 mm at 20 and 44 mm at 5, three of 80 mm at the machine's 40
    assert cut_seconds(cuts, machine, (0.0, 0.0)) == pytest.approx(2 * (80 / 20 + 44 / 5) + 3 * 80 / 40, abs=0.02)
    said = narrow_lines(cuts, machine)
    assert (said.narrow, said.lines, said.more_s) == (1, 3, pytest.approx(2 * 44 * (1 / 5 - 1 / 20)))
    usual = narrow_lines({"kiss": (SLIT,)}, Machine(speed_mm_s=40.0))
    assert usual.more_s == pytest.approx(44 * (1 / 20 - 1 / 40))  # half speed where no recipe says another


def test_speed_and_force_are_written_where_the_machine_takes_them():
    """VS is in cm/s (7475A manual), F in mm/min (NIST RS274/NGC)."""
    settings = LineSettings(kiss=CutSetting(speed_mm_s=20.0, force=84.0))
    machine = Machine(speed_mm_s=40.0, direct=DirectUse(says_speed=True, force=60.0)).set_to(settings)
    made = strokes({"kiss": (SQUARE,), "through": (SQUARE,)}, machine)
    told = whole_file(LANGUAGES["hpgl"], made, machine).decode().split()
    assert told[:5] == ["IN;", "PA;", "PU;", "VS4;", "FS60;"]
    kinds = [number for number, line in enumerate(told) if line.startswith("SP")]
    assert told[kinds[0] + 1 : kinds[0] + 3] == ["VS2;", "FS84;"]
    assert told[kinds[1] + 1 : kinds[1] + 3] == ["VS4;", "FS60;"]  # what was told last would stay
    by_hand = replace(machine, direct=DirectUse())
    assert not {line[:2] for line in whole_file(LANGUAGES["hpgl"], made, by_hand).decode().split()} & {"VS", "FS"}
    feeds = [line for line in whole_file(LANGUAGES["gcode"], made, machine).decode().split() if line[0] == "F"]
    assert feeds == ["F300", "F1200", "F300", "F2400"]
    plain = strokes({"kiss": (SQUARE,)}, Machine(direct=DirectUse(says_speed=True, force=60.0)))
    assert (plain[0].speed_mm_s, plain[0].force) == (None, None)
