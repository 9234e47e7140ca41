"""The log: rotating, without the user's folders, and with what a crash left behind."""

import logging
import subprocess
import sys

import pytest

from hands import PATIENCE_S
from honest_edge.files import log
from honest_edge.files.log import CRASH_NAME, LOG_NAME, LOGGER, start_log, stop_log, without_folders


@pytest.fixture
def folder(tmp_path):
    yield tmp_path / "state" / "log"
    stop_log()


@pytest.mark.parametrize(
    ("text", "left"),
    [
        ('File "/home/ada/art/secret/bee.png", line 3', 'File "bee.png", line 3'),
        ("cannot open /home/ada/a b.png: no", "cannot open a b.png: no"),
        ("~/jobs/tins.hedge is gone", "tins.hedge is gone"),
        ("C:/Users/ada/x.png", "x.png"),
        ("3/16 in, 1/2", "3/16 in, 1/2"),
        ("half/whole and 50 mm / 2", "half/whole and 50 mm / 2"),
        ("no path at all", "no path at all"),
    ],
)
def test_paths_are_cut_down_to_file_names(text, left):
    assert without_folders(text) == left


def test_a_fault_stands_in_the_log_with_its_traceback_and_no_folder(folder):
    start_log(folder)
    try:
        (folder / "deep" / "bee.png").read_bytes()
    except OSError:
        LOGGER.exception("while opening")
    stop_log()
    text = (folder / LOG_NAME).read_text()
    assert "ERROR" in text
    assert "Traceback (most recent call last)" in text
    assert "FileNotFoundError" in text
    assert "bee.png" in text
    assert str(folder) not in text


def test_it_rotates(folder, monkeypatch):
    monkeypatch.setattr(log, "_MOST_BYTES", 2_000)
    start_log(folder)
    for number in range(400):
        LOGGER.info("line %d of many", number)
    stop_log()
    files = sorted(path.name for path in folder.glob(f"{LOG_NAME}*"))
    assert files == [LOG_NAME, *(f"{LOG_NAME}.{n}" for n in (1, 2, 3))]
    assert all(path.stat().st_size <= 2_000 for path in folder.glob(f"{LOG_NAME}*"))


def test_debug_says_more_and_says_it_on_standard_error_too(folder, capsys):
    start_log(folder, debug=True)
    LOGGER.debug("a small thing")
    assert LOGGER.isEnabledFor(logging.DEBUG)
    stop_log()
    assert "a small thing" in (folder / LOG_NAME).read_text()
    assert "a small thing" in capsys.readouterr().err


def test_without_a_folder_the_session_goes_on(tmp_path):
    (tmp_path / "taken").write_bytes(b"")
    try:
        assert start_log(tmp_path / "taken" / "log") == ""
    finally:
        stop_log()


def test_what_a_crash_leaves_is_found_by_the_next_session(folder):
    script = (
        "import faulthandler, pathlib\n"
        "from honest_edge.files.log import start_log\n"
        f"start_log(pathlib.Path({str(folder)!r}))\n"
        "faulthandler._sigsegv()"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, check=False, timeout=PATIENCE_S)
    assert done.returncode < 0
    assert (folder / CRASH_NAME).stat().st_size > 0
    left = start_log(folder)
    assert "Segmentation fault" in left
    assert "an earlier session crashed" in (folder / LOG_NAME).read_text()
    stop_log()
    assert start_log(folder) == ""
