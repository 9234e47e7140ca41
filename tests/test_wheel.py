"""The wheel: built, installed where nothing of the sources is in reach, started."""

import os
import subprocess
import sys
import sysconfig
import venv
import zipfile
from pathlib import Path

import pytest

from hands import PATIENCE_S

pytestmark = pytest.mark.slow

SVG = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="20mm" height="10mm" viewBox="0 0 20 10">'
    '<rect x="1" y="1" width="18" height="8" fill="#2F6B3A"/>'
    '<text x="4" y="7" font-size="4" font-family="Atkinson Hyperlegible Next" fill="#fff">leaf</text></svg>'
)
LOOK = """
import os
os.environ["QT_QPA_PLATFORM"] = "offscreen"
from PyQt6.QtGui import QFontDatabase, QIcon
from PyQt6.QtWidgets import QApplication
import honest_edge
from honest_edge.app.edits.open_art import demo_project
from honest_edge.files.desktop import packaging_folder
from honest_edge.files.typefaces import font_library
from honest_edge.ui.widgets import theme
application = QApplication([])
theme.load_fonts()
print(honest_edge.__file__)
print(demo_project().job.title)
print(theme.WORDS in QFontDatabase.families())
print(font_library().find("Fredoka SemiBold", "Regular").instead or "found")
print((packaging_folder() / "honest-edge.desktop").is_file())
"""


@pytest.fixture(scope="module")
def built(tmp_path_factory):
    root = Path(__file__).parents[1]
    out = tmp_path_factory.mktemp("dist")
    done = subprocess.run(
        [sys.executable, "-m", "build", "--no-isolation", "--outdir", out, root],
        capture_output=True,
        text=True,
        check=False,
        env={k: v for k, v in os.environ.items() if k != "PYTHONPATH"},
    )
    assert done.returncode == 0, done.stdout + done.stderr
    return out


@pytest.fixture(scope="module")
def installed(built, tmp_path_factory):
    """An environment with the wheel; what it depends on is lent by that of the checks."""
    place = tmp_path_factory.mktemp("fresh")
    venv.create(place / "env", with_pip=False, symlinks=True)
    python = place / "env" / "bin" / "python"
    (wheel,) = built.glob("*.whl")
    subprocess.run(
        [sys.executable, "-m", "pip", "--python", python, "install", "--quiet", "--no-deps", "--no-index", wheel],
        check=True,
        capture_output=True,
    )
    lent = next((place / "env" / "lib").glob("python*")) / "site-packages" / "lent.pth"
    lent.write_text(sysconfig.get_path("purelib") + "\n")
    return place / "env" / "bin", place


def ran(installed, *command, **more):
    folder, place = installed
    environment = {"PATH": f"{folder}:/usr/bin:/bin", "HOME": str(place), "QT_QPA_PLATFORM": "offscreen"}
    return subprocess.run(
        [folder / command[0], *command[1:]],
        env={**environment, **more},
        cwd=place,
        capture_output=True,
        text=True,
        check=False,
        timeout=PATIENCE_S,
    )


def test_wheel_and_sdist_hold_what_they_should(built):
    (wheel,) = built.glob("*.whl")
    names = zipfile.ZipFile(wheel).namelist()
    for needed in ("app/demo.hedge", "packaging/honest-edge.desktop", "ui/widgets/icons/tick-dark.svg"):
        assert f"honest_edge/{needed}" in names
    assert any(name.endswith("share/man/man1/honest-edge.1") for name in names)
    assert not any("tests/" in name or "benchmarks/" in name for name in names)
    assert len(list(built.glob("*.tar.gz"))) == 1


def test_the_installed_application_finds_demo_fonts_and_packaging(installed):
    done = ran(installed, "python", "-c", LOOK)
    assert done.returncode == 0, done.stderr
    where, title, has_fonts, lettering, has_packaging = done.stdout.splitlines()
    assert where.startswith(str(installed[1]))
    assert (title, has_fonts, lettering, has_packaging) == ("Summer tins", "True", "found", "True")


def test_the_entry_point_draws_an_svg_in_its_child_process(installed):
    (installed[1] / "leaf.svg").write_text(SVG)
    done = ran(installed, "honest-edge", "outline", "leaf.svg", "--width", "20mm", "--svg", "outline.svg")
    assert done.returncode == 0, done.stderr
    assert "in a picture of 20.0 mm × 10.0 mm" in done.stdout
    assert "Not installed here" not in done.stdout
    assert (installed[1] / "outline.svg").exists()


def test_the_entry_point_says_its_version_and_opens_the_demo(installed):
    from honest_edge import __version__

    assert ran(installed, "honest-edge", "--version").stdout == f"honest-edge {__version__}\n"
    script = (
        "import sys\n"
        "from PyQt6.QtCore import QTimer\n"
        "from honest_edge.ui.shell import first_frame\n"
        "fill = first_frame.Frame.fill\n"
        "def then(self, make, after):\n"
        "    def done(window):\n"
        "        after(window)\n"
        "        print(window.windowTitle(), not self.windowIcon().isNull())\n"
        "        window.jobs.may_leave = lambda: True\n"
        "        QTimer.singleShot(0, window.close_whole)\n"
        "    fill(self, make, done)\n"
        "first_frame.Frame.fill = then\n"
        "from honest_edge.__main__ import main\n"
        "sys.argv = ['honest-edge', '--demo']\n"
        "sys.exit(main())\n"
    )
    done = ran(installed, "python", "-c", script)
    assert done.returncode == 0, done.stderr
    assert done.stdout == "Summer tins – Honest Edge True\n"
