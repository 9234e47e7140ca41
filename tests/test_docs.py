"""What the documents say is what is there."""

import re
import sys
from pathlib import Path

from honest_edge import __main__, __version__, cli
from honest_edge.files.plan_record import plan_schema
from honest_edge.files.project import project_schema
from honest_edge.files.proof_record import proof_schema, rehearsal_schema
from honest_edge.files.report import report_schema

sys.path.insert(0, str(Path(__file__).parents[1] / "tools"))

import draw_architecture
import write_man


def test_published_schemas_are_those_of_the_code(root):
    assert (root / "docs" / "job.schema.json").read_bytes() == project_schema()
    assert (root / "docs" / "report.schema.json").read_bytes() == report_schema()
    assert (root / "docs" / "check.schema.json").read_bytes() == proof_schema()
    assert (root / "docs" / "rehearsal.schema.json").read_bytes() == rehearsal_schema()
    assert (root / "docs" / "plan.schema.json").read_bytes() == plan_schema()


def test_every_link_of_the_readme_leads_somewhere(root):
    text = (root / "README.md").read_text()
    links = re.findall(r"\]\(([^)#]+)\)", text)
    assert len(links) >= 8
    assert [link for link in links if not (root / link).exists()] == []


def test_every_screenshot_is_shown(root):
    text = (root / "README.md").read_text()
    shots = sorted(path.name for path in (root / "docs" / "screenshots").iterdir())
    assert [name for name in shots if name not in text] == []


def test_every_link_of_the_documents_leads_somewhere(root):
    for place in (*(root / "docs").glob("*.md"), root / "CONTRIBUTING.md", root / "packaging" / "README.md"):
        for link in re.findall(r"\]\(([^)#:]+)\)", place.read_text()):
            assert (place.parent / link).exists(), (place.name, link)


def test_every_file_that_the_documents_name_is_there(root):
    """A path in backticks is a file or folder of the sources, of the tests, or of the project's root."""
    starts = [root, root / "src/honest_edge", root / "src/honest_edge/core"]
    for place in (root / "docs" / "architecture.md", root / "docs" / "how-it-computes.md"):
        named = re.findall(r"`((?:[a-z_]+/)+[a-z_0-9]*(?:\.py)?/?)`", place.read_text())
        assert len(named) > 5
        missing = [name for name in named if not any((start / name).exists() for start in starts)]
        assert missing == [], place.name


def test_the_picture_of_the_rooms_is_drawn_from_the_imports(root):
    picture = (root / "docs" / "architecture.svg").read_text("utf-8")
    assert picture == draw_architecture.drawn(draw_architecture.rooms())


def test_the_manual_page_is_written_from_the_parsers(root):
    assert (root / "packaging" / "honest-edge.1").read_text("utf-8") == write_man.man_page()


def test_the_glossary_explains_what_it_names_once(root):
    words = re.findall(r"^\| ([^|]+) \|", (root / "docs" / "glossary.md").read_text(), re.M)
    assert len(words) > 25
    assert len(set(words)) == len(words)


def test_the_version_stands_in_one_place(root):
    assert 'dynamic = ["version"]' in (root / "pyproject.toml").read_text()
    assert f'"honest-edge {__version__}"' in (root / "packaging" / "honest-edge.1").read_text()


def test_every_option_of_the_examples_exists(root):
    text = (root / "README.md").read_text()
    examples = re.findall(r"honest-edge ((?:outline|prepare) .*)", text)
    assert len(examples) == 2
    for example in examples:
        assert cli.parser().parse_args(example.split()).command in __main__.COMMANDS


def test_every_command_is_known_to_the_starter():
    choices = cli.parser()._subparsers._group_actions[0].choices
    assert tuple(choices) == __main__.COMMANDS


def test_continuous_integration_runs_what_the_readme_says(root):
    lines = (root / ".ci" / "run").read_text().splitlines()
    assert "./check" in lines
    assert "    ./check --long" in lines
    assert "\n./check " in (root / "README.md").read_text()
