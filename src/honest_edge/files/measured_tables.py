"""Measurements and readings as CSV files (RFC 4180).

Measurements have the columns ``sheet,x_mm,y_mm,dx_mm,dy_mm``, readings ``sheet,place,across,down``.
"""

import csv
import io
import math
from collections.abc import Mapping, Sequence

from honest_edge.core.measure.readings import Reading, typed_number
from honest_edge.core.measure.sheet_error import fitted_error
from honest_edge.core.values.errors import FileError, UsageError
from honest_edge.core.values.measured import MeasuredPlace, MeasuredSheet
from honest_edge.files.read_table import read_table

_MEASURED = ("sheet", "x_mm", "y_mm", "dx_mm", "dy_mm")
_READINGS = ("sheet", "place", "across", "down")


def measured_csv(sheets: Sequence[MeasuredSheet]) -> bytes:
    """Return the places that count of all sheets, one a row."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(_MEASURED)
    for sheet in sheets:
        for place in sheet.used:
            numbers = (place.x_mm, place.y_mm, place.dx_mm, place.dy_mm)
            writer.writerow((sheet.picture, *(f"{number:.4f}" for number in numbers)))
    return out.getvalue().encode()


def read_measured(data: bytes, name: str) -> tuple[MeasuredSheet, ...]:
    """Return the sheets in a table of measurements.

    Raises:
        FileError: it is no such table; says which row.
        BlockedError: a sheet has too few places.
    """
    sheets: dict[str, list[MeasuredPlace]] = {}
    for line, row in enumerate(_rows(data, name, _MEASURED), 2):
        try:
            x, y, dx, dy = (float(row[column].replace(",", ".")) for column in _MEASURED[1:])
        except ValueError:
            raise FileError(f"Line {line} of {name} holds something that is no number of millimetres") from None
        if (
            not all(math.isfinite(v) for v in (x, y, dx, dy))
            or max(abs(x), abs(y)) > 5000
            or max(abs(dx), abs(dy)) > 50
        ):
            raise FileError(f"Line {line} of {name} has a place that no sheet has: numbers are in millimetres")
        sheets.setdefault(row["sheet"], []).append(MeasuredPlace(x_mm=x, y_mm=y, dx_mm=dx, dy_mm=dy))
    return tuple(_sheet(title, places) for title, places in sheets.items())


def _sheet(title: str, places: Sequence[MeasuredPlace]) -> MeasuredSheet:
    error, unsure, repeat_mm, freedom = fitted_error(places)
    return MeasuredSheet(
        picture=title, by="scan", error=error, unsure=unsure, repeat_mm=repeat_mm, degrees_of_freedom=freedom,
        places=tuple(places),
    )  # fmt: skip


def read_readings(data: bytes, name: str) -> dict[str, tuple[Reading, ...]]:
    """Return the readings of every sheet in a table.

    Raises:
        FileError: it is no such table; says which row.
    """
    sheets: dict[str, list[Reading]] = {}
    for line, row in enumerate(_rows(data, name, _READINGS), 2):
        try:
            place = int(row["place"])
            reading = Reading(place=place, across=typed_number(row["across"]), down=typed_number(row["down"]))
        except UsageError as error:
            raise FileError(f"Line {line} of {name}: {error}") from None
        except ValueError:
            raise FileError(f"Line {line} of {name}: “{row['place'][:20]}” is no number of a place") from None
        sheets.setdefault(row["sheet"], []).append(reading)
    return {title: tuple(readings) for title, readings in sheets.items()}


def _rows(data: bytes, name: str, wanted: Sequence[str]) -> list[Mapping[str, str]]:
    table = read_table(data, name)
    lacking = [column for column in wanted if column not in table.columns]
    if lacking:
        raise FileError(f"{name} lacks the column {lacking[0]}: its first line must be {','.join(wanted)}")
    return [dict(zip(table.columns, row, strict=True)) for row in table.rows]
