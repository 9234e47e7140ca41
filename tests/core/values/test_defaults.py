"""What is left out of a job, a profile or a run is as it is by default: so no default ever changes, nor what ships.

``defaults.txt`` is how each value of ``core/values`` was when it was first written down. A new field is a new line; a
line that changes or goes would make files of before mean something else. Renew it with ``python -m
tests.core.values.test_defaults`` and read the difference.
"""

from __future__ import annotations

import importlib
import pkgutil
from dataclasses import MISSING, fields, is_dataclass
from pathlib import Path

from honest_edge.core import values
from honest_edge.core.values.job import Job
from honest_edge.core.values.machine import MACHINES
from honest_edge.core.values.printer import PRINTERS
from honest_edge.core.values.stock import STOCKS

KEPT = Path(__file__).with_name("defaults.txt")


def shown(value):
    """Return a value in words, without what is by default: a field that comes later changes no line."""
    if isinstance(value, tuple):
        return f"({', '.join(map(shown, value))})"
    if not is_dataclass(value) or isinstance(value, type):
        return repr(value)
    parts = []
    for field in fields(value):
        default = field.default if field.default_factory is MISSING else field.default_factory()
        if (held := getattr(value, field.name)) != default:
            parts.append(f"{field.name}={shown(held)}")
    return f"{type(value).__name__}({', '.join(parts)})"


def told():
    """Yield every default of every value, and what ships, a line each."""
    for found in sorted(pkgutil.iter_modules(values.__path__), key=lambda one: one.name):
        module = importlib.import_module(f"{values.__name__}.{found.name}")
        for name, kind in sorted(vars(module).items()):
            if isinstance(kind, type) and is_dataclass(kind) and kind.__module__ == module.__name__:
                for field in fields(kind):
                    default = field.default if field.default is not MISSING else field.default_factory
                    if default is not MISSING:
                        held = default() if field.default is MISSING else default
                        yield f"{name}.{field.name} = {shown(held)}"
    for ships in (*MACHINES, *PRINTERS, *STOCKS):
        yield shown(ships)


def test_no_default_and_nothing_that_ships_changes():
    kept, now = KEPT.read_text("utf-8").splitlines(), list(told())
    assert [line for line in kept if line not in now] == [], "files of before would mean something else"
    assert [line for line in now if line not in kept] == [], "new: add it to defaults.txt"
    assert Job() == Job()


if __name__ == "__main__":
    KEPT.write_text("\n".join(told()) + "\n", "utf-8")
