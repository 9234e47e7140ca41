"""Reading ``target.json``: where the places of a target stand."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import msgspec
import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.values.errors import FileError
from honest_edge.files.read_input import read_input
from honest_edge.files.read_json import parsed

_MOST_BYTES = 2_000_000


class _Place(msgspec.Struct):
    x_mm: float
    y_mm: float


class _Target(msgspec.Struct):
    kind: str
    key: str
    machine: str
    printer: str
    places: list[_Place]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class TargetRecord:
    """What is needed of a target to read it.

    Attributes:
        key: of its sheets.
        machine, printer: that it was made for.
        places_mm: (n, 2) from the marks' middle.
    """

    key: str
    machine: str
    printer: str
    places_mm: Floats


def read_target(path: Path) -> TargetRecord:
    """Return a target for the eye.

    Raises:
        FileError: it is no such file, or a target for a picture.
    """
    data = read_input(path, _MOST_BYTES)
    try:
        target = parsed(data, _Target)
    except FileError as error:
        raise FileError(f"{path.name} is no target.json of a bench target: {error}") from None
    if target.kind != "eye":
        raise FileError(f"{path.name} is a target for a picture: scan it, or make one with “bench target --for eye”")
    places = np.array([(place.x_mm, place.y_mm) for place in target.places]).reshape(-1, 2)
    return TargetRecord(key=target.key, machine=target.machine, printer=target.printer, places_mm=places)
