"""Shaping and outlines against fontTools' own reading of the same fonts."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from bidi import get_display
from fontTools.pens.areaPen import AreaPen
from fontTools.ttLib import TTFont

from honest_edge.core.layers.lettering import letter, widths_mm
from honest_edge.core.layers.letters import letters_of
from honest_edge.core.layers.stack import layer_matrix, placed
from honest_edge.core.layers.typeface import Typeface
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.layers import Layer, Lettering
from honest_edge.files.font_folder import FONT_FOLDER

FONTS = {path.name: path for path in sorted(FONT_FOLDER.glob("*.ttf"))}
SERIF, SCRIPT, ARABIC = "PlayfairDisplay-700.ttf", "KaushanScript.ttf", "NotoNaskhArabic-600.ttf"


def typeface(name):
    return Typeface(name, FONTS[name].read_bytes())


def kerned_advances(font, text):
    """Advances in ems from the hmtx table and the kern feature's pairs (OpenType GPOS lookup type 2)."""
    names = [font.getBestCmap()[ord(letter)] for letter in text]
    advances = [font["hmtx"][name][0] for name in names]
    gpos = font["GPOS"].table
    lookups = {n for f in gpos.FeatureList.FeatureRecord if f.FeatureTag == "kern" for n in f.Feature.LookupListIndex}
    for number in sorted(lookups):
        for at in range(len(names) - 1):
            advances[at] += pair_kern(gpos.LookupList.Lookup[number], names[at], names[at + 1])
    return [advance / font["head"].unitsPerEm for advance in advances]


def pair_kern(lookup, left, right):
    for table in lookup.SubTable:
        table = getattr(table, "ExtSubTable", table)
        if table.LookupType != 2 or left not in table.Coverage.glyphs:
            continue
        if table.Format == 1:
            pairs = table.PairSet[table.Coverage.glyphs.index(left)].PairValueRecord
            found = [pair.Value1 for pair in pairs if pair.SecondGlyph == right]
            if not found:
                continue
            return getattr(found[0], "XAdvance", 0) or 0
        classes = table.ClassDef1.classDefs.get(left, 0), table.ClassDef2.classDefs.get(right, 0)
        value = table.Class1Record[classes[0]].Class2Record[classes[1]].Value1
        return getattr(value, "XAdvance", 0) or 0
    return 0


@pytest.mark.parametrize("text", ["AVATAR", "Tea", "WAVY", "LTo", "Quillwort"])
def test_letters_stand_where_the_fonts_own_tables_put_them(text):
    font, face = TTFont(FONTS[SERIF]), typeface(SERIF)
    glyphs, width = face.shape(text)
    expected = kerned_advances(font, text)
    assert [g.advance for g in glyphs] == pytest.approx(expected, abs=1e-6)
    assert width == pytest.approx(sum(expected), abs=1e-6)
    assert text != "AVATAR" or sum(expected) < sum(font["hmtx"][font.getBestCmap()[ord(c)]][0] for c in text) / 1000


@pytest.mark.parametrize("name", [SERIF, SCRIPT, "Fredoka-600.ttf"])
def test_glyphs_cover_what_fonttools_says_they_cover(name):
    font, face = TTFont(FONTS[name]), typeface(name)
    glyphs = font.getGlyphSet()
    for char in "BQg8&é":
        pen = AreaPen(glyphs)
        glyphs[font.getBestCmap()[ord(char)]].draw(pen)
        (shaped,), _ = face.shape(char)
        area = face.glyph_area(shaped.glyph).area
        # contours of one glyph may lie over each other, which the pen counts twice
        assert area == pytest.approx(abs(pen.value) / font["head"].unitsPerEm ** 2, rel=0.02), char


@pytest.mark.parametrize("text", ["tea שלום 12 end", "שלום tea", "1 + 2 שלום", "plain"])
def test_mixed_directions_stand_in_the_order_of_the_bidirectional_algorithm(text):
    glyphs, _ = typeface("Fredoka-600.ttf").shape(text)
    seen = "".join(text[glyph.cluster] for glyph in sorted(glyphs, key=lambda g: g.x))
    assert seen == get_display(text)


def test_arabic_letters_join_and_read_from_the_right():
    face = typeface(ARABIC)
    text = "شاي"  # tea
    glyphs, _ = face.shape(text)
    assert [glyph.cluster for glyph in glyphs if glyph.advance > 0] == sorted(
        (glyph.cluster for glyph in glyphs if glyph.advance > 0), reverse=True
    )
    alone = {face.shape(char)[0][0].glyph for char in text}
    assert not {glyph.glyph for glyph in glyphs} <= alone  # initial and final forms, not the isolated ones


def test_capitals_have_the_height_and_lines_the_width_asked_for():
    face = typeface(SERIF)
    high = letter(Lettering(text="HH", family="x", size_mm=12), face)
    top, bottom = high.area.bounds[1], high.area.bounds[3]
    assert bottom - top == pytest.approx(12, abs=0.02)
    words = Lettering(text="Quillwort\nTea", family="x", size_mm=60, sized_by="width")
    assert max(widths_mm(words, face)) == pytest.approx(60)
    left, _, right, _ = letter(words, face).area.bounds
    assert right - left == pytest.approx(60, abs=1.5)  # but for the room at the sides of its first and last letter


def test_spacing_lines_and_alignment():
    face = typeface(SERIF)
    tight, loose = (widths_mm(Lettering(text="TEA", family="x", spacing=s), face)[0] for s in (0, 0.2))
    em_mm = 8 / face.capital_height
    assert loose - tight == pytest.approx(2 * 0.2 * em_mm)
    two = Lettering(text="HHHH\nH", family="x", line_spacing=1.5)
    left, centre, right = (
        max(
            letter(Lettering(text=two.text, family="x", line_spacing=1.5, align=a), face).area.geoms,
            key=lambda g: g.bounds[3],
        )
        for a in ("left", "centre", "right")
    )
    assert left.bounds[0] < centre.bounds[0] < right.bounds[0]
    lines = letter(two, face).area
    assert lines.bounds[3] - lines.bounds[1] == pytest.approx(8 + 1.5 * em_mm, abs=0.02)


@pytest.mark.parametrize("radius", [25.0, -25.0])
def test_letters_on_an_arc_stand_on_its_circle(radius):
    face = typeface(SERIF)
    area = letter(Lettering(text="HIHIHIH", family="x", arc_mm=radius, size_mm=5), face).area
    for part in area.geoms:
        distances = [math.hypot(x, y) for x, y in part.exterior.coords]
        foot, top = (min(distances), max(distances)) if radius > 0 else (max(distances), min(distances))
        # the feet of serifs lie on the tangent, up to s^2 / 2r outside the circle
        assert foot == pytest.approx(25, abs=0.35)
        assert abs(top - foot) == pytest.approx(5, abs=0.45)
    assert (area.centroid.y < 0) == (radius > 0)


def test_script_letters_are_welded_counters_filled_and_strokes_fattened():
    face = typeface(SCRIPT)
    plain = letter(Lettering(text="Thyme", family="x", size_mm=10), face)
    closer = letter(Lettering(text="Thyme", family="x", size_mm=10, spacing=-0.15), face)
    assert (len(plain.area.geoms), len(closer.area.geoms)) == (5, 1)
    solid = letter(Lettering(text="Thyme", family="x", size_mm=10, fill_counters=True), face)
    assert sum(len(part.interiors) for part in plain.area.geoms) > 0
    assert sum(len(part.interiors) for part in solid.area.geoms) == 0
    thicker = letter(Lettering(text="Thyme", family="x", size_mm=4, fatten_mm=0.4), face)
    thin = letter(Lettering(text="Thyme", family="x", size_mm=4), face)
    assert thicker.thinnest_is_fattened
    assert thicker.area.buffer(-0.3).area > thin.area.buffer(-0.3).area


def test_what_cannot_be_lettered_is_said():
    face = typeface(SERIF)
    with pytest.raises(BlockedError, match="has no “茶” \\(U\\+8336\\)"):
        letter(Lettering(text="Tea 茶", family="x"), face)
    with pytest.raises(UsageError, match="at least one letter"):
        Lettering(text="  \n ", family="x")
    with pytest.raises(BlockedError, match="whole circle of 3 mm"):
        letter(Lettering(text="much too long for it", family="x", arc_mm=3), face)
    with pytest.raises(BlockedError, match="shows nothing"):
        letter(Lettering(text="\u200b", family="x"), face)  # a space without width


# -- taken apart in letters ------------------------------------------------------------------------

WORDS = Lettering(text="AVATAR To", family="Any", size_mm=12.0)


def together(words, face, **layer):
    """Return what the letters cover together, as layers at their places."""
    parts = []
    for one in letters_of(words, face):
        whole = Layer(key="w", lettering=words, **layer)
        single = Layer(key="a", lettering=one.lettering, x_mm=one.x_mm, y_mm=one.y_mm, turn_deg=one.turn_deg)
        parts.append(placed(placed(letter(one.lettering, face).area, layer_matrix(single)), layer_matrix(whole)))
    return shapely.union_all(parts)


@pytest.mark.parametrize(
    "words",
    [
        WORDS,
        replace(WORDS, text="Thyme\nand Sage", align="left", line_spacing=1.4),
        replace(WORDS, text="office flour", spacing=0.08),
        replace(WORDS, text="Time for tea", sized_by="width", size_mm=70.0, align="right"),
        replace(WORDS, text="Quillwort", arc_mm=40.0),
        replace(WORDS, text="Quillwort\ntea", arc_mm=-50.0, line_spacing=1.1),
    ],
    ids=lambda words: words.text.replace("\n", " "),
)
def test_letters_lie_where_they_lay(
    words,
):
    face = typeface(SERIF)
    whole = letter(words, face).area
    apart = together(words, face)
    assert shapely.area(shapely.symmetric_difference(whole, apart)) < 0.002 * whole.area
    assert len(letters_of(words, face)) <= len("".join(words.text.split()))


def test_a_letter_is_moved_by_itself():
    face = typeface(SERIF)
    letters = letters_of(WORDS, face)
    assert [one.lettering.text for one in letters] == list("AVATARTo")
    gaps = np.diff([one.x_mm for one in letters])
    assert (gaps > 0).all()
    assert {round(one.y_mm, 6) for one in letters} == {0.0}
