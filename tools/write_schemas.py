"""Writes the published JSON schemas from the types that define them."""

from pathlib import Path

from honest_edge.files.project import project_schema
from honest_edge.files.report import report_schema

DOCS = Path(__file__).parent.parent / "docs"


def main() -> None:
    """Write both files."""
    (DOCS / "job.schema.json").write_bytes(project_schema())
    (DOCS / "report.schema.json").write_bytes(report_schema())


if __name__ == "__main__":
    main()
