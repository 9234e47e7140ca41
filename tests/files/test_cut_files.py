"""Every kind of cut file, read back by a library that did not write it, against the geometry it was written from."""

import ctypes
import io
import itertools
import re
from dataclasses import replace

import dxfgrabber
import numpy as np
import pikepdf
import pypdfium2
import pypdfium2.raw as pdfium
import pytest
import shapely
import svgelements
from ezdxf.addons.hpgl2 import api as hpgl2
from gcodeparser import parse_gcode_lines
from scipy.interpolate import BSpline

from honest_edge.core.geometry.fitting import fit_ring
from honest_edge.core.geometry.paths import CurveRing, affine
from honest_edge.core.sheet.blade import polyline
from honest_edge.core.sheet.line_distance import greatest_distance_mm
from honest_edge.core.values.errors import FileError
from honest_edge.core.values.machine import DirectUse, LineUse, Machine
from honest_edge.files.cut_files import cut_files, cut_names
from honest_edge.files.read_cut import read_cut
from honest_edge.files.sheet_page import SheetPage

WIDTH, HEIGHT = 215.9, 279.4
ALL = Machine(formats=("svg", "dxf", "dxf-spline", "dxf-r12", "plt", "gcode", "pdf"))


def blob(x, y, size):
    """A smooth outline with bays."""
    angles = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    radii = size * (1 + 0.25 * np.cos(5 * angles) + 0.1 * np.sin(3 * angles))
    return fit_ring(
        np.column_stack([x + radii * np.cos(angles), y + radii * np.sin(angles)]), tolerance_mm=0.02, pixel_mm=0.1
    )


def boxed(x, y, side):
    corners = np.array([(x, y), (x + side, y), (x + side, y + side), (x, y + side), (x, y)], float)
    return CurveRing(polyline(corners).cubics, np.ones(4, bool))


CREASE = polyline(np.array([(20.0, 200.0), (90.0, 205.0)]))
PAGE = SheetPage(
    width_mm=WIDTH,
    height_mm=HEIGHT,
    arts=(),
    cuts={"kiss": (blob(60, 60, 30), boxed(120, 40, 50)), "crease": (CREASE,), "through": (boxed(12, 12, 190),)},
    marks=(boxed(5, 5, 6),),
)


@pytest.fixture(scope="module")
def written():
    return dict(next(cut_files([PAGE], ALL)))


def lines_in_svg(data):
    document = svgelements.SVG.parse(io.BytesIO(data), ppi=25.4)
    assert (float(document.width), float(document.height)) == pytest.approx((WIDTH, HEIGHT))
    for group in document:
        for shape in group:
            path = svgelements.Path(shape)
            yield group.id, np.array([(p.x, p.y) for p in (path.point(t) for t in np.linspace(0, 1, 3001))])


def bulged(vertices, closed):
    """Return points along vertices whose bulge is the tangent of a quarter of the arc's angle (DXF reference)."""
    points = list(vertices) + ([vertices[0]] if closed else [])
    made = []
    for (x1, y1, bulge), (x2, y2, _) in itertools.pairwise(points):
        one, two = complex(x1, y1), complex(x2, y2)
        if abs(bulge) < 1e-12:
            made += list(np.linspace(one, two, 20))
            continue
        angle = 4 * np.arctan(bulge)
        centre = (one + two) / 2 + (two - one) / 2 * 1j / np.tan(angle / 2)
        made += list(centre + (one - centre) * np.exp(1j * np.linspace(0, angle, 20)))
    return np.array([(p.real, HEIGHT - p.imag) for p in made])


def lines_in_dxf(data):
    drawing = dxfgrabber.read(io.StringIO(data.decode()))
    assert drawing.header["$EXTMIN"][:2] == pytest.approx((0, 0))
    assert drawing.header["$EXTMAX"][:2] == pytest.approx((WIDTH, HEIGHT))
    for entity in drawing.entities:
        if entity.dxftype == "SPLINE":
            curve = BSpline(np.array(entity.knots), np.array(entity.control_points)[:, :2], 3)
            points = curve(np.linspace(0, entity.knots[-1], 3001))
            yield entity.layer, np.column_stack([points[:, 0], HEIGHT - points[:, 1]])
        elif entity.dxftype == "LWPOLYLINE":
            vertices = [(*p[:2], b) for p, b in zip(entity.points, entity.bulge, strict=True)]
            yield entity.layer, bulged(vertices, entity.is_closed)
        else:
            vertices = [(*v.location[:2], v.bulge) for v in entity.vertices]
            yield entity.layer, bulged(vertices, entity.is_closed)


def lines_in_plot(data):
    player = hpgl2.record_plotter_output(b"\x1b%1B" + data, hpgl2.MergeControl.NONE)  # as a printer would be told
    lines = []
    for _, _, line in player.recordings():  # one for each PD
        points = np.array([(v.x / 40, HEIGHT - v.y / 40) for v in line.vertices()])
        goes_on = lines and np.array_equal(lines[-1][-1], points[0])
        lines[-1:] = [np.vstack([lines[-1], points[1:]])] if goes_on else [*lines[-1:], points]
    yield from ((None, points) for points in lines)


def lines_in_gcode(data):
    at, line = {"X": 0.0, "Y": 0.0}, []
    for step in parse_gcode_lines(data.decode(), include_comments=False):
        if "Z" in step.params:
            if line:
                yield None, np.array(line)
            line = [(at["X"], HEIGHT - at["Y"])] if step.params["Z"] < 0 else []
        elif step.command[0] == "G" and {"X", "Y"} & set(step.params):
            at |= {axis: value for axis, value in step.params.items() if axis in at}
            if line:
                line.append((at["X"], HEIGHT - at["Y"]))


def lines_in_pdf(data):
    with pypdfium2.PdfDocument(data) as pdf:
        page = pdf[0]
        assert (page.get_width() / 72 * 25.4, page.get_height() / 72 * 25.4) == pytest.approx((WIDTH, HEIGHT), abs=1e-4)
        for thing in page.get_objects():
            matrix = np.array(thing.get_matrix().get()).reshape(3, 2)
            steps, points = [], []
            for index in range(pdfium.FPDFPath_CountSegments(thing.raw)):
                segment = pdfium.FPDFPath_GetPathSegment(thing.raw, index)
                x, y = ctypes.c_float(), ctypes.c_float()
                pdfium.FPDFPathSegment_GetPoint(segment, x, y)
                steps.append(pdfium.FPDFPathSegment_GetType(segment))
                points.append((x.value, y.value))
            placed = np.column_stack([points, np.ones(len(points))]) @ matrix
            yield None, _flat(steps, placed / 72 * 25.4 * (1, -1) + (0, HEIGHT))


def _flat(steps, points):
    made, index = [points[0]], 1
    while index < len(points):
        if steps[index] == pdfium.FPDF_SEGMENT_BEZIERTO:
            a, (b, c, d) = made[-1], points[index : index + 3]
            t = np.linspace(0, 1, 100)[:, None]
            made += list((1 - t) ** 3 * a + 3 * t * (1 - t) ** 2 * b + 3 * t**2 * (1 - t) * c + t**3 * d)
            index += 3
        else:
            made.append(points[index])
            index += 1
    return np.array([*made, points[0]]) if len(points) > 2 else np.array(made)


READERS = {
    "cut-1.svg": (lines_in_svg, 0.0015),
    "cut-1.dxf": (lines_in_dxf, 0.0055),
    "cut-1-splines.dxf": (lines_in_dxf, 0.001),
    "cut-1-r12.dxf": (lines_in_dxf, 0.0055),
    "cut-1.plt": (lines_in_plot, 0.03),
    "cut-1.gcode": (lines_in_gcode, 0.011),
    "cut-1.pdf": (lines_in_pdf, 0.002),
}
"""Greatest deviation in mm: what was measured of each format, with what reading back in steps adds."""


@pytest.mark.slow
@pytest.mark.parametrize("name", READERS)
def test_every_format_holds_the_same_lines_at_the_same_place(written, name):
    read, bound = READERS[name]
    found = [shapely.LineString(points) for _, points in read(written[name])]
    wanted = [_line(ring) for rings in PAGE.cuts.values() for ring in rings]
    is_spoken = name.endswith((".plt", ".gcode"))  # which moves nothing but blades
    marks = [] if is_spoken else [_line(ring) for ring in PAGE.marks]
    assert len(found) == len(wanted) + len(marks)
    for line in [*wanted, *marks]:
        nearest = min(found, key=lambda one: np.abs(np.subtract(one.bounds, line.bounds)).max())
        assert apart(nearest, line) < bound


def apart(one, other):
    """The Hausdorff distance, read at places 0.02 mm apart on either line."""
    ways = []
    for points_of, line in ((one, other), (other, one)):
        shapely.prepare(line)
        points = shapely.points(shapely.get_coordinates(shapely.segmentize(points_of, 0.02)))
        ways.append(shapely.distance(points, line).max())
    return max(ways)


def _line(ring):
    points = ring.flattened(0.0002)
    return shapely.LineString(np.vstack([points, points[:1]]) if ring.closed else points)


@pytest.mark.parametrize("name", READERS)
def test_every_format_is_read_again_by_the_application(written, name, tmp_path):
    (tmp_path / name).write_bytes(written[name])
    found = read_cut(tmp_path / name, HEIGHT)
    rings = [ring for rings in PAGE.cuts.values() for ring in rings]
    assert len(found.lines) == len(rings)
    assert greatest_distance_mm(found.lines, rings) < 0.035
    moved = [ring.placed(affine(x_mm=0.3)) for ring in rings]
    assert greatest_distance_mm(found.lines, moved) == pytest.approx(0.3, abs=0.04)


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.png", b"", "is no cut file"),
        ("a.svg", b"<svg", "is damaged, or of another program"),
        ("a.svg", b'<svg xmlns="http://www.w3.org/2000/svg"/>', "holds no lines to cut"),
        ("a.dxf", b"0\nEOF\n", "a.dxf"),
        ("a.plt", b"\xff\xff", "is damaged"),
        ("a.gcode", b"\xff", "is damaged"),
        ("a.gcode", b"G21\nG0 Z3\nG0 X9 Y9\n", "holds no lines to cut"),
        ("a.pdf", b"%PDF-1.7", "is damaged"),
        ("gone.svg", None, "does not exist"),
    ],
)
def test_what_is_no_cut_file_is_said(tmp_path, name, data, words):
    if data is not None:
        (tmp_path / name).write_bytes(data)
    with pytest.raises(FileError, match=re.escape(words)):
        read_cut(tmp_path / name, HEIGHT)


@pytest.mark.parametrize("name", ["cut-1.svg", "cut-1.dxf", "cut-1-splines.dxf", "cut-1-r12.dxf"])
def test_kinds_have_layers_of_their_own(written, name):
    layers = [layer for layer, _ in READERS[name][0](written[name])]
    assert layers == ["kiss", "kiss", "crease", "through", "marks"]


def test_units_are_stated_where_the_format_can(written):
    assert dxfgrabber.read(io.StringIO(written["cut-1.dxf"].decode())).header["$INSUNITS"] == 4  # millimetres
    assert b'width="215.9mm"' in written["cut-1.svg"]
    text = written["cut-1.plt"].decode()
    assert text.split()[:4] == ["IN;", "PA;", "PU;", "SP1;"]
    assert written["cut-1.gcode"].startswith(b"G21\n")
    assert "SP2;" in text


def test_processing_steps_say_what_each_layer_is(written):
    # ISO 19593-1, keys from memory
    with pikepdf.open(io.BytesIO(written["cut-1.pdf"])) as pdf:
        steps = {str(g.Name): str(g.GTS_Metadata.GTS_ProcStepsType) for g in pdf.Root.OCProperties.OCGs}
        content = pdf.pages[0].Contents.read_bytes()
    assert steps == {"kiss": "/PartialCutting", "crease": "/Creasing", "through": "/Cutting"}
    assert content.count(b"EMC") == 3
    assert b" f" in content.split(b"EMC")[-1]  # the marks print, outside of every step


def test_a_machine_that_wants_kinds_apart_gets_a_file_for_each():
    machine = replace(ALL, formats=("svg",), lines=ALL.lines.with_use("through", LineUse(colour=(0, 0, 0), alone=True)))
    files = dict(list(cut_files([PAGE] * 3, machine))[2])
    assert list(files) == ["cut-3.svg", "cut-3-through.svg"] == cut_names(3, PAGE.cuts, machine)
    kinds = {name: {layer for layer, _ in lines_in_svg(data)} for name, data in files.items()}
    assert kinds == {"cut-3.svg": {"kiss", "crease", "marks"}, "cut-3-through.svg": {"through", "marks"}}


def test_sheets_that_are_cut_alike_have_files_of_their_own_with_the_same_in_them():
    other = replace(PAGE, cuts=dict(PAGE.cuts), is_printed=False, marks=())
    first, second, third = (dict(files) for files in cut_files([PAGE, PAGE, other], ALL))
    assert list(first.values()) == list(second.values())
    assert {name.replace("cut-1", "cut-2") for name in first} == set(second)
    assert b"<path" in third["cut-3.svg"]
    assert third["cut-3.svg"] != first["cut-1.svg"]  # it has no marks


def test_plot_text_goes_over_a_line_as_often_as_the_machine_has_passes():
    machine = replace(
        ALL, formats=("plt",), lines=ALL.lines.with_use("through", LineUse(colour=(0, 0, 0), pen=4, passes=3))
    )
    (text,) = dict(next(cut_files([PAGE], machine))).values()
    assert text.split(b"SP4;")[1].count(b"PD") == 3


@pytest.mark.parametrize("blade", [DirectUse(blade="servo"), DirectUse(blade="laser", down_s=300)])
def test_g_code_of_a_servo_and_of_a_laser_is_read_again_whatever_its_axes(blade, tmp_path):
    machine = replace(ALL, formats=("gcode",), direct=replace(blade, corner="top right", x_points="left", x_scale=1.1))
    (data,) = dict(next(cut_files([PAGE], machine))).values()
    (tmp_path / "cut-1.gcode").write_bytes(data)
    rings = [ring for rings in PAGE.cuts.values() for ring in rings]
    lines = read_cut(tmp_path / "cut-1.gcode", HEIGHT).lines
    assert len(lines) == len(rings)
    assert greatest_distance_mm(lines, rings) < 0.015


def test_plot_text_sets_speed_and_force_where_the_profile_says_so():
    machine = replace(ALL, formats=("plt",), speed_mm_s=25.0, direct=DirectUse(says_speed=True, force=80))
    (text,) = dict(next(cut_files([PAGE], machine))).values()
    assert text.decode().split()[:6] == ["IN;", "PA;", "PU;", "VS2.5;", "FS80;", "SP1;"]  # VS in cm/s


def test_the_same_sheet_gives_the_same_bytes(written):
    assert dict(next(cut_files([PAGE], ALL))) == written
