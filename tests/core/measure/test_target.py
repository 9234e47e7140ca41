"""Where a target's parts stand, and that its codes are read by other libraries than ours."""

import io
import json
import subprocess
import sys

import cv2
import numpy as np
import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from hands import PATIENCE_S
from honest_edge.app.bench.targets import target_files
from honest_edge.core.measure.combs import comb_cuts, comb_dark, comb_places
from honest_edge.core.measure.tags import found_tags
from honest_edge.core.measure.target import (
    TAG_IDS,
    TAG_MM,
    TargetLayout,
    layout_in,
    parts_boxes,
    rulers,
    target_layout,
)
from honest_edge.core.sheet.space import space_of
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.machine import MACHINES
from honest_edge.core.values.measured import ErrorParts
from honest_edge.core.values.papers import PAPER_MM
from honest_edge.core.values.sheet import SheetSpec

A4 = SheetSpec(paper="a4")


@pytest.mark.parametrize("machine", MACHINES, ids=lambda machine: machine.name)
@pytest.mark.parametrize("paper", PAPER_MM)
def test_no_two_parts_of_a_target_meet_and_all_lie_where_ink_and_blade_reach(machine, paper):
    sheet = SheetSpec(paper=paper, machine=machine)
    layout = target_layout(sheet, "ABCD2345")
    boxes, room = parts_boxes(layout), space_of(sheet)
    assert len(boxes) == 12 + 4 + 1
    for number, box in enumerate(boxes):
        assert box.within(room.usable) == pytest.approx(box, abs=0.06)  # the code counts tenths
        assert not any(box.overlaps(other) for other in (*boxes[:number], *room.keep_outs))
    for ruler in rulers(layout):
        assert np.hypot(*np.subtract(ruler.end_mm, ruler.start_mm)) == pytest.approx(ruler.length_mm)


@given(
    st.integers(1, 99),
    st.tuples(*[st.floats(-0.9, 0.9)] * 5),
    st.sampled_from([9, 12, 16, 20, 30]),
)
def test_a_code_tells_its_layout_whole(number, correction, places):
    parts = ErrorParts(**dict(zip(ErrorParts.__dataclass_fields__, correction, strict=True)))
    layout = target_layout(A4, "ZYXW9876", number=number, places=places, correction=parts)
    again = layout_in(layout.code)
    assert again == layout
    assert again.cut_moved_by.values == pytest.approx(parts.values, abs=6e-5)
    assert len(layout.places_mm) >= places


@pytest.mark.parametrize(
    "code", ["", "HE1", "https://example.org", "HE1-abc-1-2-3-4-5-6-7-8-9-1", "HE2-ABCDEFGH" + "-1" * 10]
)
def test_another_code_is_no_layout(code):
    assert layout_in(code) is None


@pytest.mark.parametrize("places", [8, 31])
def test_a_number_of_places_that_no_target_has_is_refused(places):
    with pytest.raises(UsageError, match="9 to 30 places"):
        target_layout(A4, "ABCDEFGH", places=places)


def test_a_target_that_does_not_fit_says_so():
    with pytest.raises(BlockedError, match="does not fit A5"):
        target_layout(SheetSpec(paper="a5"), "ABCDEFGH", places=30)


def rendered(data, scale=300 / 72):
    return np.asarray(pypdfium2.PdfDocument(io.BytesIO(data))[0].render(scale=scale).to_pil().convert("L"))


@pytest.fixture(scope="module")
def page():
    files = target_files(A4, "QWERTY22")
    return rendered(files["print.pdf"]), target_layout(A4, "QWERTY22")


def centres_by_another_library(grey, folder):
    """Where pupil-apriltags sees tags; in a process of its own: its C library has torn down the test run with it."""
    np.save(folder / "grey.npy", grey)
    script = (
        "import json, os, sys, numpy\n"
        "from pupil_apriltags import Detector\n"
        "reader = Detector(families='tag36h11')\n"
        "found = reader.detect(numpy.load(sys.argv[1]))\n"
        "print(json.dumps({tag.tag_id: tag.center.tolist() for tag in found}), flush=True)\n"
        "os._exit(0)\n"
    )
    command = [sys.executable, "-c", script, str(folder / "grey.npy")]
    done = subprocess.run(command, capture_output=True, text=True, check=True, timeout=PATIENCE_S)
    return {int(number): np.array(centre) for number, centre in json.loads(done.stdout).items()}


def test_another_library_reads_the_tags_where_they_stand(page, tmp_path):
    """pupil-apriltags, the reference C library of the family's authors, on the page as pdfium renders it."""
    grey, layout = page
    found = centres_by_another_library(grey, tmp_path)
    assert set(found) == set(TAG_IDS)
    for number, middle in zip(TAG_IDS, layout.tags_mm, strict=True):
        assert found[number] / (300 / 25.4) == pytest.approx(middle, abs=0.06)
    # the distance of fiducials on the rendered page
    across = np.linalg.norm(found[1] - found[0]) / (300 / 25.4)
    assert across == pytest.approx(np.linalg.norm(layout.tags_mm[1] - layout.tags_mm[0]), abs=0.04)


def test_we_find_the_corners_of_tags_where_they_stand(page):
    grey, layout = page
    found = dict(found_tags(grey))
    for number, middle in zip(TAG_IDS, layout.tags_mm, strict=True):
        corners = (found[number] + 0.5) / (300 / 25.4)
        assert corners[0] == pytest.approx(middle - TAG_MM / 2, abs=0.06)
        assert corners[2] == pytest.approx(middle + TAG_MM / 2, abs=0.06)


def test_another_library_reads_the_code(page):
    """OpenCV's reader; ours is zxing-cpp."""
    grey, layout = page
    x, y = (layout.qr_mm * 300 / 25.4).astype(int)
    around = grey[y - 200 : y + 200, x - 200 : x + 200]
    text, _, _ = cv2.QRCodeDetector().detectAndDecode(around)
    assert text == layout.code


def test_ticks_and_teeth_line_up_as_a_vernier():
    """Ten teeth are as long as nine and a half ticks: each number is worth the difference, a tenth of a millimetre."""
    places = comb_places(A4, 9)
    assert len(places.places_mm) == 9
    tooth = comb_cuts(places)[0].flattened(0.001)
    xs = np.unique(np.round(tooth[:, 0], 4))
    pitch = np.diff(xs[1:-1:2])
    assert np.median(pitch) == pytest.approx(1.9, abs=1e-3)
    assert comb_dark(places).area > 9 * 2 * 150


@pytest.mark.parametrize("places", [4, 10])
def test_too_few_or_too_many_combs_are_refused(places):
    with pytest.raises(UsageError, match="5 to 9 places"):
        comb_places(A4, places)


def test_combs_take_fewer_places_where_there_is_less_room():
    assert len(comb_places(SheetSpec(paper="a5"), 9).places_mm) < 9


def test_layouts_are_values():
    layout = target_layout(A4, "ABCDEFGH")
    assert isinstance(layout, TargetLayout)
    assert layout == target_layout(A4, "ABCDEFGH")
