"""Writes the published JSON schemas from the types that define them."""

from pathlib import Path

from honest_edge.files.plan_record import plan_schema
from honest_edge.files.project import project_schema
from honest_edge.files.proof_record import proof_schema, rehearsal_schema
from honest_edge.files.report import report_schema

DOCS = Path(__file__).parent.parent / "docs"


def main() -> None:
    """Write all of them."""
    (DOCS / "job.schema.json").write_bytes(project_schema())
    (DOCS / "report.schema.json").write_bytes(report_schema())
    (DOCS / "check.schema.json").write_bytes(proof_schema())
    (DOCS / "rehearsal.schema.json").write_bytes(rehearsal_schema())
    (DOCS / "plan.schema.json").write_bytes(plan_schema())


if __name__ == "__main__":
    main()
