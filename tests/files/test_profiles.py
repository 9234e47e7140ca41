import json
import tomllib
from dataclasses import replace

import pytest

from honest_edge.core.values.errors import FileError, UsageError
from honest_edge.core.values.machine import MACHINES, Machine
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.printer import PRINTERS
from honest_edge.core.values.stock import STOCKS, Stock
from honest_edge.files.profiles import ProfileFolder, kind_of, load_profile, parse_profile, profile_bytes, save_profile

ALL = (*MACHINES, *PRINTERS, *STOCKS)


@pytest.mark.parametrize("suffix", [".toml", ".json"])
@pytest.mark.parametrize("profile", ALL, ids=lambda profile: profile.name)
def test_every_shipped_profile_comes_back_as_it_went(profile, suffix):
    data = profile_bytes(profile, suffix)
    plain = tomllib.loads(data.decode()) if suffix == ".toml" else json.loads(data)  # the standard library's readers
    assert plain["kind"] == kind_of(profile)
    assert parse_profile(data, "p") == profile


def edited(**changes):
    values = json.loads(profile_bytes(Machine(), ".json"))
    for key, value in changes.items():
        here = values
        *way, last = key.split("__")
        for step in way:
            here = here[step]
        if value is None:
            del here[last]
        else:
            here[last] = value
    return json.dumps(values).encode()


def test_a_stock_kept_before_it_could_name_a_cloth_is_read():
    values = json.loads(profile_bytes(STOCKS[0], ".json"))
    del values["is_mirrored"]
    assert parse_profile(json.dumps(values).encode(), "old") == STOCKS[0]


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (edited(width_mm=None), "says nothing of “width_mm”: add it"),
        (edited(marks__inset_mm=None), "says nothing of “marks.inset_mm”"),
        (edited(lines__kiss=None), "says nothing of “lines.kiss”"),
        (edited(colour="red"), "“colour” is unknown: remove it"),
        (edited(lines__kiss__knife=1), "“lines.kiss.knife” is unknown"),
        (edited(width_mm=-3), "width that the machine cuts must be 20 to 5000 mm, not -3"),
        (edited(speed_mm_s="fast"), "Expected `float`, got `str`"),
        (edited(feed_side="north"), "Invalid enum value 'north'"),
        (edited(formats=[]), "reads no format of cut file"),
        (edited(kind="oven"), "it needs a line such as kind"),
        (edited(marks=3), "Expected `object`, got `int`"),
        (b"[1, 2]", "neither TOML nor JSON"),
        (b"\xff\xfe\x00", "neither TOML nor JSON"),
        (b"", "it needs a line such as kind"),
        (b'{"kind": {}}', "it needs a line such as kind"),
    ],
)
def test_what_is_missing_unknown_or_impossible_is_named(data, words):
    with pytest.raises(FileError, match=r"^my\.toml") as caught:
        parse_profile(data, "my.toml")
    assert words in str(caught.value)
    assert "\n" not in str(caught.value)


def test_own_profiles_stand_beside_the_shipped_and_a_bad_one_harms_none(tmp_path):
    folder = ProfileFolder(tmp_path / "profiles")
    assert [one.name for one in folder.all("machine")] == [one.name for one in MACHINES]
    mine = replace(Machine(), name="Mine: 2nd", marks=MarkSpec(inset_mm=9))
    assert load_profile(folder.keep(mine)) == mine
    folder.keep(replace(Machine(), speed_mm_s=33))
    (tmp_path / "profiles" / "broken.toml").write_text("kind = ")
    found = {one.name: one for one in folder.all("machine")}
    assert found["Mine: 2nd"] == mine
    assert found["Desktop cutter"].speed_mm_s == 33  # the user's, in place of the shipped one
    assert len(folder.problems) == 1
    assert "broken.toml" in folder.problems[0]


def test_names_without_latin_letters_do_not_destroy_each_other(tmp_path):
    folder = ProfileFolder(tmp_path)
    names = ["机", "..", "刀", "profile", "Profile"]
    places = {folder.keep(replace(Machine(), name=name)) for name in names}
    assert len(places) == len(names)
    assert {one.name for one in folder.all("machine")} >= set(names)
    again = folder.keep(replace(Machine(), name="刀", speed_mm_s=33))
    assert again in places
    assert {one.name: one.speed_mm_s for one in folder.all("machine")}["刀"] == 33
    with pytest.raises(UsageError, match="needs a name"):
        Machine(name="half \ud83d of a letter")


def test_a_profile_is_exported_by_its_suffix(tmp_path):
    for name in ("a.toml", "a.json"):
        save_profile(tmp_path / name, PRINTERS[1])
        assert load_profile(tmp_path / name) == PRINTERS[1]
    with pytest.raises(FileError, match=r"must end in \.toml or \.json"):
        save_profile(tmp_path / "a.txt", PRINTERS[1])
    with pytest.raises(FileError, match="does not exist"):
        load_profile(tmp_path / "gone.toml")


def test_a_profile_needs_a_name():
    with pytest.raises(UsageError, match="needs a name"):
        Machine(name=" ")


def test_a_price_that_nobody_typed_is_left_out_and_0_in_an_older_profile_said_the_same(tmp_path):
    save_profile(tmp_path / "tea.toml", Stock(name="Tea paper"))
    text = (tmp_path / "tea.toml").read_text()
    assert "price" not in text
    assert load_profile(tmp_path / "tea.toml").price is None
    (tmp_path / "old.toml").write_text(f"{text}price = 0.0\n")
    assert load_profile(tmp_path / "old.toml").price is None
    save_profile(tmp_path / "tea.toml", Stock(name="Tea paper", price=0.4))
    assert load_profile(tmp_path / "tea.toml").price == 0.4
