"""Writes tests/slow.txt: what ./check --quick leaves out, by what each test cost when it was watched.

``tools/mutants.py --lines FOLDER`` keeps what tests cost in that folder; tests of the window are left out by theirs.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

MOST_S = 0.1
LIST = Path(__file__).resolve().parent.parent / "tests" / "slow.txt"


def slow_tests(costs_s: dict[str, float]) -> list[str]:
    """Return the functions of which any test costs too much; those of tests/ui are not listed one by one."""
    return sorted(
        {
            test.partition("[")[0]
            for test, seconds in costs_s.items()
            if seconds > MOST_S and not test.startswith("tests/ui/")
        }
    )


def main() -> None:
    """Write the list anew."""
    costs_s: dict[str, float] = {}
    for path in Path(sys.argv[1]).glob("costs-*.json"):
        costs_s |= json.loads(path.read_text())
    LIST.write_text("\n".join(slow_tests(costs_s)) + "\n")


if __name__ == "__main__":
    main()
