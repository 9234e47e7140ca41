"""The written set read back: what was tampered with is found, what was not is whole."""

import io
import json
from dataclasses import replace

import pikepdf
import pytest

from honest_edge.app.output.prepare_files import prepare
from honest_edge.app.output.read_back import read_back, written_before
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.machine import Machine
from honest_edge.files.font_folder import FONT_FOLDER
from honest_edge.files.report import file_records
from honest_edge.files.typefaces import FontLibrary
from planted import labels


@pytest.fixture(scope="module")
def contents():
    job = labels(3)
    job = replace(job, sheet=replace(job.sheet, machine=Machine(formats=("svg", "dxf", "plt", "pdf"))))
    return job, prepare(job, Pipeline({}, FontLibrary((FONT_FOLDER,))))


@pytest.fixture
def written(contents, tmp_path):
    """Write the set; ``write`` puts another file in the place of one, listed as if it had been written so."""
    job, made = contents

    def write(**changed):
        files = {**made, **{name.replace("__", "-").replace("_", "."): data for name, data in changed.items()}}
        report = json.loads(files["report.json"])
        files.pop("report.json")
        report["files"] = [{"name": f.name, "bytes": f.bytes, "sha256": f.sha256} for f in file_records(files)]
        files["report.json"] = json.dumps(report).encode()
        for name, data in files.items():
            (tmp_path / name).write_bytes(data)
        return tmp_path

    return job, made, write


def words(found):
    return [finding.message for finding in found]


def test_a_whole_set_is_silent_in_every_format(written):
    job, _, write = written
    assert read_back(write(), job) == ()
    assert written_before(write(), job) == ()


def test_a_folder_without_a_set_is_no_matter(tmp_path):
    assert read_back(tmp_path) is None
    (tmp_path / "report.json").write_text("{")
    assert "damaged" in read_back(tmp_path)[0].message


def test_missing_and_changed_files(written):
    _, _, write = written
    folder = write()
    (folder / "cut-1.dxf").unlink()
    (folder / "cut-1.svg").write_bytes(b"<svg/>")
    found = words(read_back(folder))
    assert any("cut-1.dxf is missing" in text for text in found)
    assert any("cut-1.svg was changed after it was written" in text for text in found)


def altered(data, change):
    held = io.BytesIO()
    with pikepdf.open(io.BytesIO(data)) as pdf:
        change(pdf)
        pdf.save(held)
    return held.getvalue()


def test_page_boxes_that_do_not_lie_within_each_other(written):
    """ISO 32000-2, 14.11.2: the trim box lies within the bleed box, and that within the media box."""
    _, made, write = written

    def widen(pdf):
        pdf.pages[0].TrimBox = pikepdf.Array([-20, -20, 900, 900])

    (found,) = read_back(write(print_pdf=altered(made["print.pdf"], widen)))
    assert "page boxes of sheet 1" in found.message
    assert (found.check, found.severity, found.fix.visit) == ("files", "blocks", "files")


def test_a_print_of_another_size_than_its_cut(written):
    _, made, write = written

    def scale(pdf):
        box = [float(edge) * 0.97 for edge in pdf.pages[0].MediaBox]
        pdf.pages[0].MediaBox = pikepdf.Array(box)

    found = read_back(write(print_pdf=altered(made["print.pdf"], scale)))
    assert any("sheet 1 of print.pdf is 209.42 mm wide, and its cut file 215.90 mm" in text for text in words(found))


def test_marks_that_are_not_printed(written):
    job, made, write = written

    def blank(pdf):
        pdf.pages[0].Contents = pdf.make_stream(b"")

    (found,) = read_back(write(print_pdf=altered(made["print.pdf"], blank)))
    assert "6 bars of the marks not printed" in found.message
    inset = job.sheet.marks.inset_mm
    left, top, _, _ = found.places[0].bounds_mm
    assert (left, top) == pytest.approx((inset, inset), abs=0.5)


def test_a_line_that_is_there_twice_or_not_at_all(written):
    _, made, write = written
    text = made["cut-1.svg"].decode()
    start = text.index("<path")
    path = text[start : text.index("/>", start) + 2]
    (twice, count) = read_back(write(cut__1_svg=text.replace(path, f"{path}\n{path}", 1).encode()))
    assert "1 line of the cut file of sheet 1 (svg) there twice" in twice.message
    assert "4 lines, and 3 were planned" in count.message
    (gone,) = read_back(write(cut__1_svg=text.replace(path, "", 1).encode()))
    assert "2 lines, and 3 were planned" in gone.message


def test_a_job_that_was_changed_after_its_files_were_written(written):
    job, _, write = written
    folder = write()
    (design,) = job.designs
    moved = job.with_design(replace(design, form=replace(design.form, width_mm=41.0)))
    (found,) = read_back(folder, moved)
    assert (found.check, found.severity) == ("changed", "blocks")
    assert written_before(folder, moved) == (found,)
    free = replace(job, visible_mm=0.2, prints=(2,), title=job.title)
    machine = replace(job.sheet.machine, speed_mm_s=20.0)
    assert read_back(folder, replace(free, sheet=replace(job.sheet, machine=machine))) == ()  # nothing that must match
    assert written_before(folder, replace(moved, title="Another job")) == ()
