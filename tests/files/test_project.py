import hashlib
import io
import json
import zipfile
from dataclasses import replace
from pathlib import Path

import pytest
from jsonschema import Draft202012Validator

from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import demo_project, design_from
from honest_edge.core.values.errors import FileError
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import EdgeRecipe
from honest_edge.files.job_versions import MIGRATIONS, VERSION, migrated
from honest_edge.files.project import (
    load_project,
    parse_project,
    project_bytes,
    project_schema,
    save_project,
)
from honest_edge.files.project_writer import ProjectWriter
from pictures import disc_png


@pytest.fixture
def job_and_assets():
    holder, job = JobHolder(), Job(title="Tëa ☕")
    design = design_from(holder, job, disc_png(), "disc.png")
    design = replace(design, width_mm=33.3, edge=EdgeRecipe(school="inside", offset_mm=0.7))
    return with_designs(job, [design]), holder.assets


def test_a_job_comes_back_as_it_was(job_and_assets, tmp_path):
    save_project(tmp_path / "a.hedge", *job_and_assets)
    found = load_project(tmp_path / "a.hedge")
    assert (found.job, found.assets, found.notes) == (*job_and_assets, ())


def test_the_original_bytes_are_kept_untouched(job_and_assets):
    data = project_bytes(*job_and_assets)
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.namelist()[0] == "mimetype"
        (name,) = [n for n in archive.namelist() if n.startswith("assets/")]
        assert archive.read(name) == disc_png()
        Draft202012Validator(json.loads(project_schema())).validate(json.loads(archive.read("job.json")))


def test_equal_jobs_give_equal_files(job_and_assets):
    assert project_bytes(*job_and_assets) == project_bytes(*job_and_assets)


def rebuilt(data, change):
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        entries = {new_name: content for name in old.namelist() for new_name, content in change(name, old.read(name))}
        for name, content in entries.items():
            new.writestr(name, content)
    return out.getvalue()


def with_text(old, new):
    return lambda name, data: [(name, data.replace(old, new) if name == "job.json" else data)]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda n, d: [(n, d[:-3] + b"xxx" if n.startswith("assets/") else d)], "is damaged"),
        (lambda n, d: [] if n.startswith("assets/") else [(n, d)], "no whole Honest Edge project"),
        (lambda n, d: [] if n == "job.json" else [(n, d)], "no whole Honest Edge project"),
        (lambda n, d: [(n, b"something")] if n == "mimetype" else [(n, d)], "no Honest Edge project"),
        (lambda n, d: [(n, d), ("../outside.txt", b"x")], "entries that no project has"),
        (with_text(b'"version": %d' % VERSION, b'"version": 99'), "newer Honest Edge"),
        (with_text(b"33.3", b"-33.3"), "finished width must be"),
        (with_text(b'"inside"', b'"sideways"'), "cannot be used"),
    ],
)
def test_a_damaged_project_is_refused_in_one_line(job_and_assets, change, words):
    damaged = rebuilt(project_bytes(*job_and_assets), change)
    with pytest.raises(FileError, match=words) as caught:
        parse_project(damaged, "a.hedge")
    assert "\n" not in str(caught.value)


@pytest.mark.parametrize("keep", [0, 10, 500])
def test_a_project_cut_short_is_refused(job_and_assets, keep):
    with pytest.raises(FileError):
        parse_project(project_bytes(*job_and_assets)[:keep], "a.hedge")


def test_a_project_with_two_designs_of_one_key_is_refused(job_and_assets):
    job, assets = job_and_assets
    data = project_bytes(job, assets)

    def doubled(name, content):
        if name != "job.json":
            return [(name, content)]
        value = json.loads(content)
        value["job"]["designs"] *= 2
        return [(name, json.dumps(value).encode())]

    with pytest.raises(FileError, match="share one key"):
        parse_project(rebuilt(data, doubled), "a.hedge")


def test_the_demo_holds_the_art_that_its_scripts_drew(root):
    assets = demo_project().assets
    drawn = {path.read_bytes() for path in (root / "demo" / "art").iterdir()}
    assert set(assets.values()) == drawn


PROJECTS = Path(__file__).with_name("projects")


@pytest.mark.parametrize("version", range(1, VERSION + 1))
def test_a_real_file_of_every_version_opens_as_it_was_meant(version):
    """Each was written by the code of its time, with the same settings as far as that knew them."""
    found = load_project(PROJECTS / f"version-{version}.hedge")
    job, disc = found.job, found.job.designs[0]
    assert found.notes == ()
    assert job.title == f"Version {version}"
    assert [design.name for design in job.designs] == (["Disc"] if version < 3 else ["Disc", "Box"])
    assert hashlib.sha256(found.assets[disc.asset]).hexdigest() == disc.asset
    assert (disc.width_mm, disc.copies, disc.file_name) == (12.5, 9, "disc.png")
    assert (disc.outline.tolerance, disc.outline.speck_mm2, disc.outline.hole_mm2) == (24.0, 2.5, 3.0)
    assert (disc.edge.school, disc.edge.offset_mm, disc.edge.bleed_mm) == ("bleed", 0.4, 1.1)
    assert (disc.edge.corners, disc.edge.line_kind, job.drift_mm) == ("mitre", "through", 0.35)
    assert (job.sheet.paper, job.sheet.rim_mm, job.sheet.gap_mm) == ("a4", 6.0, 3.5)
    assert job.sheet.arrangement == "tight"  # as copies lay before rows were a choice
    marks = job.sheet.marks
    assert (marks.length_mm, marks.thickness_mm, marks.inset_mm, marks.clear_mm) == (15.0, 0.8, 14.0, 2.0)
    if version == 1:  # what came later was not asked for: the cut stays as it was
        assert (disc.outline.dam_px, disc.edge.ease_mm, disc.edge.hole_mm2) == (0, 0, 0)
    else:
        assert (disc.outline.dam_px, disc.edge.ease_mm, disc.edge.hole_mm2) == (4, 0.5, 20)
    if version >= 2:
        assert disc.outline.corrections[0].kind == "keep"
    if version >= 4:
        assert (job.sheet.machine.name, job.sheet.machine.overcut_mm) == ("Old one", 0.4)
    assert job.sheet.stock.price == (None if version < 5 else 0)  # 0 said before that none was typed


def test_there_is_a_file_of_every_version():
    assert len(MIGRATIONS) == VERSION - 1
    assert {path.name for path in PROJECTS.iterdir()} == {f"version-{n}.hedge" for n in range(1, VERSION + 1)}


def test_migrations_leave_what_they_are_given():
    with zipfile.ZipFile(PROJECTS / "version-1.hedge") as archive:
        text = archive.read("job.json")
    given = json.loads(text)
    assert migrated(given, "a")["version"] == VERSION
    assert given == json.loads(text)


def test_a_price_of_0_was_none_before_and_others_stay():
    stocks = [{"name": "a", "price": 0.0}, {"name": "b", "price": 0.4}, {"name": "c"}]
    old = {"sheet": {"stock": stocks[0]}, "designs": [{"layers": [{"stock": stock} for stock in stocks]}, {}]}
    job = migrated({"version": 4, "job": old}, "a")["job"]
    assert job["sheet"]["stock"] == {"name": "a"}
    assert [layer["stock"] for layer in job["designs"][0]["layers"]] == [{"name": "a"}, stocks[1], stocks[2]]


def test_an_early_file_of_version_2_is_not_eased():
    """Easing came while 2 was written; a file of before says nothing of it, and was cut without."""
    early = {"version": 2, "job": {"designs": [{"edge": {"offset_mm": 1.0}}]}}
    (design,) = migrated(early, "a")["job"]["designs"]
    assert design["edge"] == {"offset_mm": 1.0, "ease_mm": 0.0, "hole_mm2": 0.0}


@pytest.mark.parametrize("version", [0, -1, "2", True, 1.5, None])
def test_a_version_that_nobody_wrote_is_refused(job_and_assets, version):
    old = f'"version": {VERSION}'.encode()
    data = rebuilt(project_bytes(*job_and_assets), with_text(old, f'"version": {json.dumps(version)}'.encode()))
    with pytest.raises(FileError, match="which no Honest Edge wrote"):
        parse_project(data, "a.hedge")


def test_keys_of_a_newer_minor_change_are_said_and_read_past(job_and_assets):
    job, assets = job_and_assets
    change = with_text(b'"copies": 1', b'"copies": 1, "sparkle": {"much": true}')
    found = parse_project(rebuilt(project_bytes(job, assets), change), "a.hedge")
    assert found.job == job
    assert found.notes == (
        "a.hedge holds “designs[0].sparkle”, which this version does not know: saving leaves it out.",
    )
    many = with_text(b'"title"', b'"a1": 1, "a2": 2, "a3": 3, "a4": 4, "a5": 5, "title"')
    (note,) = parse_project(rebuilt(project_bytes(job, assets), many), "a.hedge").notes
    assert "“a1”, “a2”, “a3” and 2 more" in note


RUN = "0f" * 16


def test_runs_are_kept_beside_the_job_and_outlive_what_is_saved_over_it(job_and_assets, tmp_path):
    job, assets = job_and_assets
    path = tmp_path / "job.hedge"
    save_project(path, job, assets, {RUN: b'{"seal":{}}'})
    assert load_project(path).runs == {RUN: b'{"seal":{}}'}
    ProjectWriter().note_run(path, "ab" * 16, b"{}")()
    kept = load_project(path)
    assert kept.job == job
    assert kept.runs == {RUN: b'{"seal":{}}', "ab" * 16: b"{}"}


def test_a_run_of_another_name_is_no_entry_of_a_project(job_and_assets):
    data = rebuilt(project_bytes(*job_and_assets), lambda n, d: [(n, d), ("runs/../../job.json", b"{}")])
    with pytest.raises(FileError, match="entries that no project has"):
        parse_project(data, "job.hedge")


def test_a_project_that_unpacks_to_many_times_its_size_is_refused_unread(job_and_assets, monkeypatch):
    data = rebuilt(project_bytes(*job_and_assets), lambda n, d: [(n, d)])
    runs = {f"{n:032x}": b" " * 10_000_000 for n in range(8)}
    grown = project_bytes(*job_and_assets, runs)
    assert len(grown) < 1_000_000
    assert parse_project(data, "job.hedge").job.title
    with pytest.raises(FileError, match=r"would unpack to 8\d MB, more than the 5\d MB it may"):
        parse_project(grown, "job.hedge")
