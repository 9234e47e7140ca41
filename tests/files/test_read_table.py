"""Tables as people save them, and those that cannot be read."""

from __future__ import annotations

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.values.errors import FileError
from honest_edge.core.values.tables import fields_in, filled
from honest_edge.files.read_table import read_table

CELLS = st.text(st.characters(blacklist_categories=("Cs", "Cc"), blacklist_characters="\ufeff"), max_size=12)


@pytest.mark.parametrize("mark", [",", ";", "\t"])
@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16"])
def test_the_usual_separators_and_encodings(mark, encoding):
    text = f'name{mark}price\r\nCafé “Nº 5”{mark}4.50\r\n\r\n"a {mark} b"{mark}\r\nshort\r\n'
    table = read_table(text.encode(encoding), "teas.csv")
    assert table.columns == ("name", "price")
    assert table.rows == (("Café “Nº 5”", "4.50"), (f"a {mark} b", ""), ("short", ""))


@given(st.lists(st.tuples(CELLS, CELLS, CELLS), min_size=1, max_size=20))
def test_what_the_standard_library_writes_is_read_back(rows):
    out = io.StringIO(newline="")
    csv.writer(out).writerows([("name", "batch", "price"), *rows])
    expected = tuple(tuple(cell.strip() for cell in row) for row in rows if any(row))
    if not expected:
        return
    assert read_table(out.getvalue().encode(), "t.csv").rows == expected


@pytest.mark.parametrize(
    ("data", "words"),
    [
        ("name,price\nCafé,4\n".encode("latin-1"), "Line 2 of teas.csv is no UTF-8 text"),
        (b"name,price\n", "no rows under its first line"),
        (b"", "no rows under its first line"),
        (b'name,price\n"Mint,4\nSage,5\n', "quote that does not close"),
        (b"name,price\nMint,4,more\n", "Row 1 of teas.csv has 3 cells and the table 2 columns"),
        (b"name,name\nMint,4\n", "Two columns of teas.csv have one name"),
        (b"name,,price\nMint,4,5\n", "Column 2 of teas.csv has no name"),
        (b"name\n" + b"Mint\n" * 5000, "has 5000 rows; up to 400 labels"),
        (b"name\n" + b"x" * 501, "over 500 letters"),
        (b"na\0me\nMint\n", "is no text"),
        (b"x" * 6_000_000, "6.0 MB"),
    ],
)
def test_tables_that_cannot_be_used_are_refused_in_one_line(data, words):
    with pytest.raises(FileError, match=words) as caught:
        read_table(data, "teas.csv")
    assert "\n" not in str(caught.value)


def test_fields_are_found_and_filled_and_unknown_ones_stay():
    text = "{name}\n{price} {batch no} {name}"
    assert fields_in(text) == ("name", "price", "batch no")
    assert filled(text, {"name": "Thyme {x}", "price": "4.50"}) == "Thyme {x}\n4.50 {batch no} Thyme {x}"
