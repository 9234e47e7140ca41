"""What a table's columns are taken for, and the labels that come of it."""

import pytest

from honest_edge.app.edits.table_roles import repeated, roles_of
from honest_edge.app.edits.tabled import pictured_designs, table_words, tabled_design, with_table
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.forms import PRESETS
from honest_edge.core.values.job import Job
from honest_edge.core.values.layers import Picture
from honest_edge.core.values.tables import Table
from honest_edge.files.read_table import read_table

JARS = b"name,qty,price,barcode\nMint,3,$4.50,4006381333931\nThyme,1,$5.00,4006381333931\nSage,0,$5,4006381333931\n"
LABEL = next(preset for preset in PRESETS if preset.name == "Square label")


def test_columns_are_known_by_their_names_and_what_stands_in_them():
    roles = roles_of(read_table(JARS, "jars.csv"))
    assert roles.of == {"name": "words", "qty": "copies", "price": "price", "barcode": "code"}
    other = Table(
        file_name="t.csv", columns=("tea", "count", "art"), rows=(("Mint", "many", "mint.png"), ("Sage", "2", "s.JPG"))
    )
    assert roles_of(other).of == {"tea": "words", "count": "words", "art": "picture"}


def test_a_column_of_copies_is_honoured_row_by_row():
    table = repeated(read_table(JARS, "jars.csv"), "qty")
    assert [row[0] for row in table.rows] == ["Mint", "Mint", "Mint", "Thyme"]
    design = tabled_design(Job(), LABEL, read_table(JARS, "jars.csv"))
    assert design.label_count == 4
    assert "as many of each as “qty” says, 4 in all" in table_words(read_table(JARS, "jars.csv"), (design,))


@pytest.mark.parametrize(("cell", "words"), [("399", "asks for 400 labels|asks for 402"), ("0", "asks for no label")])
def test_more_than_are_made_at_once_or_none_at_all_are_refused(cell, words):
    rows = (("Mint", cell), ("Sage", "3" if cell != "0" else "0"))
    with pytest.raises(UsageError, match=words):
        repeated(Table(file_name="t.csv", columns=("name", "copies"), rows=rows), "copies")


def test_its_words_stand_below_each_other_and_an_ean_becomes_bars():
    design = tabled_design(Job(), LABEL, read_table(JARS, "jars.csv"))
    words = [layer for layer in design.layers if layer.lettering]
    assert [layer.lettering.text for layer in words] == ["{name}", "{price}"]
    assert words[0].y_mm < words[1].y_mm
    (code,) = [layer for layer in design.layers if layer.code]
    assert (code.code.kind, code.code.text) == ("EAN-13", "{barcode}")
    assert code.y_mm > words[1].y_mm
    assert design.form.height_mm / 2 > code.y_mm


def test_a_form_whose_words_ask_for_a_column_keeps_them():
    table = read_table(b"name,batch\nMint,1\n", "t.csv")
    first = tabled_design(Job(), LABEL, table)
    again = with_table(first, read_table(b"name,batch\nSage,2\nThyme,3\n", "u.csv"))
    assert again.layers == first.layers
    assert len(again.table.rows) == 2
    bare = with_table(tabled_design(Job(), LABEL, table), read_table(b"tea\nSage\n", "v.csv"))
    assert [layer.lettering.text for layer in bare.layers] == ["{tea}"]


def test_a_column_of_pictures_makes_a_design_of_each_row():
    table = read_table(b"name,art,copies\nMint,mint.png,2\nSage,gone.png,1\n", "t.csv")
    made = pictured_designs(
        Job(),
        LABEL,
        table,
        lambda cell: Picture(asset="0" * 64, file_name=cell, width_mm=90.0) if cell == "mint.png" else None,
    )
    assert [design.name for design in made] == ["Mint", "Sage"]
    assert [design.copies for design in made] == [2, 1]
    picture, words = made[0].layers
    assert picture.picture.file_name == "mint.png"
    assert picture.picture.width_mm < LABEL.form.width_mm
    assert words.lettering.text == "Mint"
    assert picture.y_mm < words.y_mm
    assert [layer.picture for layer in made[1].layers] == [None]
