"""The application in the desktop's menu: entry, icons and file type, put in and taken out again."""

import os
import shutil
import subprocess
import sys
import xml.etree.ElementTree as ET
from configparser import ConfigParser
from pathlib import Path

import pytest
from PIL import Image

from hands import PATIENCE_S
from honest_edge.files import desktop
from honest_edge.files.desktop import packaging_folder
from honest_edge.files.project import MIMETYPE

MIME = "{http://www.freedesktop.org/standards/shared-mime-info}"
SIZES = (16, 22, 24, 32, 48, 64, 128, 256)


def entry_of(path):
    parser = ConfigParser(interpolation=None)
    parser.optionxform = str
    parser.read(path)
    return parser["Desktop Entry"]


def started(tmp_path, *arguments):
    return subprocess.run(
        [sys.executable, "-m", "honest_edge", *arguments],
        env={**os.environ, "HOME": str(tmp_path), "XDG_DATA_HOME": str(tmp_path / "data")},
        capture_output=True,
        text=True,
        check=False,
        timeout=PATIENCE_S,
    )


def test_it_is_put_into_the_menu_and_taken_out_again(tmp_path):
    done = started(tmp_path, "--add-to-desktop")
    assert done.returncode == 0, done.stderr
    data = tmp_path / "data"
    entry = entry_of(data / "applications" / "honest-edge.desktop")
    assert entry["Icon"] == "honest-edge"
    assert MIMETYPE.decode() in entry["MimeType"].split(";")
    command, files = entry["Exec"].rsplit(" ", 1)
    assert files == "%F"
    assert Path(command.strip('"')) == Path(__file__).parents[1] / "honest-edge"
    assert (data / "icons/hicolor/scalable/apps/honest-edge.svg").exists()
    assert (data / "mime/packages/honest-edge.xml").exists()
    done = started(tmp_path, "--remove-from-desktop")
    assert "out of your desktop’s menu" in done.stdout
    ours = [path for path in data.rglob("*") if path.is_file() and "honest" in path.name]
    assert ours == []
    assert "was not in" in started(tmp_path, "--remove-from-desktop").stdout


def test_what_cannot_be_written_is_one_line(tmp_path):
    (tmp_path / "data").write_bytes(b"a file, not a folder")
    done = started(tmp_path, "--add-to-desktop")
    assert done.returncode == 2
    assert done.stderr.count("\n") == 1
    assert "Traceback" not in done.stderr


@pytest.mark.parametrize(
    ("path", "quoted"),
    [("/opt/a b/x", '"/opt/a b/x"'), ('/o"p$t/`x', '"/o\\"p\\$t/\\`x"'), ("/100%/x", '"/100%%/x"')],
)
def test_a_command_is_quoted_as_the_specification_asks(path, quoted):
    """Desktop Entry Specification 1.4, "The Exec key": quotes, and a backslash before \" ` $ and \\; %% for %."""
    assert desktop._quoted(path) == quoted


def test_the_file_type_is_that_of_the_project_file():
    (kind,) = ET.parse(packaging_folder() / "honest-edge.xml").getroot().findall(f"{MIME}mime-type")
    assert kind.get("type") == MIMETYPE.decode()
    assert kind.find(f"{MIME}glob").get("pattern") == "*.hedge"
    values = [match.get("value") for match in kind.iter(f"{MIME}match")]
    assert values[-1] == MIMETYPE.decode()  # stored first, so it stands at byte 38 (ZIP, APPNOTE 4.3.7)


@pytest.mark.parametrize("kind", ["apps/honest-edge", "mimetypes/application-vnd.honest-edge.job+zip"])
def test_icons_have_every_usual_size(kind):
    icons = packaging_folder() / "icons" / "hicolor"
    for size in SIZES:
        with Image.open(icons / f"{size}x{size}" / f"{kind}.png") as picture:
            assert picture.size == (size, size)
            assert picture.convert("RGBA").getpixel((size // 2, size // 2))[3] == 255
    assert (icons / "scalable" / f"{kind}.svg").exists()


@pytest.mark.parametrize(
    ("tool", "arguments", "file"),
    [
        ("desktop-file-validate", [], "honest-edge.desktop"),
        ("appstreamcli", ["validate", "--no-net"], "honest-edge.metainfo.xml"),
    ],
)
def test_entry_and_metadata_are_what_their_own_tools_call_valid(tool, arguments, file):
    if shutil.which(tool) is None:
        pytest.skip(f"{tool} is not on this machine")
    done = subprocess.run([tool, *arguments, packaging_folder() / file], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr


def test_metadata_names_the_entry_and_this_version(root):
    from honest_edge import __version__

    component = ET.parse(packaging_folder() / "honest-edge.metainfo.xml").getroot()
    assert component.findtext("launchable") == "honest-edge.desktop"
    assert next(component.iter("release")).get("version") == __version__
