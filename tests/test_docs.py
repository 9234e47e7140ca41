"""What the documents say is what is there."""

import re

from honest_edge import __main__, cli
from honest_edge.files.project import project_schema
from honest_edge.files.report import report_schema


def test_published_schemas_are_those_of_the_code(root):
    assert (root / "docs" / "job.schema.json").read_bytes() == project_schema()
    assert (root / "docs" / "report.schema.json").read_bytes() == report_schema()


def test_every_link_of_the_readme_leads_somewhere(root):
    text = (root / "README.md").read_text()
    links = re.findall(r"\]\(([^)#]+)\)", text)
    assert len(links) >= 8
    assert [link for link in links if not (root / link).exists()] == []


def test_every_screenshot_is_shown(root):
    text = (root / "README.md").read_text()
    shots = sorted(path.name for path in (root / "docs" / "screenshots").iterdir())
    assert [name for name in shots if name not in text] == []


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
    assert "exec ./check" in (root / ".ci" / "run").read_text()
    assert "\n./check " in (root / "README.md").read_text()
