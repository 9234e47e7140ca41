"""The usual tasks through the real window: how many actions, how many dialogs, how many seconds.

An action is a drop, a click, a key with its modifiers, a choice from a list, or a value typed with Return. A dialog of
the system counts as an action as well; the folder for written files is chosen once, as the application remembers it.
Bound: five actions, eight for a sheet of stickers that is written on. With ``--keys`` everything is done by keys alone:
Ctrl+I and its dialog in place of a drop, Tab to whatever is pressed; one action more is allowed, how many times Tab was
pressed is told, and what needs a hand on the table is left out. Files are written at the end of a task and counted;
seconds are those of the machine that computes, nobody thinks or moves a hand.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).parents[1] / "tests"))

import cv2
import numpy as np
import skimage.data
from PyQt6.QtCore import QEventLoop, Qt, QTimer
from PyQt6.QtGui import QKeySequence
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QCheckBox, QFileDialog, QWidget

from hands import click, draw_on_table, drop, type_into
from honest_edge.files.prefs import Prefs, PrefsFile
from honest_edge.ui.shell.main_window import MainWindow
from honest_edge.ui.widgets import theme
from pictures import disc_png

MOST, MOST_OF_SIX = 5, 8
"""Actions of a task, and of those with a sheet of stickers to be written on."""
_MOST_TABS = 250
_PRESSED_MS = 300
"""A button that is pressed by its key is shown pressed for a tenth of a second first; a busy machine takes longer."""


class Person:
    """Works in the window, and counts."""

    def __init__(self, window: MainWindow, folder: Path) -> None:
        self.window, self.folder = window, folder
        self.actions = self.dialogs = 0
        self.answers: list[tuple[Path, ...]] = []
        self.tabs = 0

    def settle(self) -> None:
        loop, poll = QEventLoop(), QTimer()
        poll.setInterval(10)
        poll.timeout.connect(lambda: None if self.window.busy else loop.quit())
        poll.start()
        loop.exec()

    def _did(self) -> None:
        self.actions += 1
        self.settle()

    def drop(self, *paths: Path) -> None:
        drop(self.window, list(paths))
        self._did()

    def press(self, keys: str, on: QWidget | None = None) -> None:
        self.window.activateWindow()
        QTest.qWaitForWindowActive(self.window)
        combination = QKeySequence(keys)[0]
        QTest.keyClick(on or self.window, combination.key(), combination.keyboardModifiers())
        QTest.qWait(_PRESSED_MS)
        self._did()

    def click(self, widget: QWidget) -> None:
        assert widget.isVisible(), widget
        assert widget.isEnabled(), widget
        widget.click() if isinstance(widget, QCheckBox) else click(widget)  # its label may be narrower than it
        self._did()

    def named(self, words: str) -> QAbstractButton:
        """The button that is seen and begins so."""
        found = [
            one
            for one in self.window.findChildren(QAbstractButton)
            if one.isVisible() and (one.text() or one.accessibleName()).startswith(words)
        ]
        assert found, words
        return found[0]

    def choose(self, choice: QWidget, value: str) -> None:
        choice.show_value(value)
        choice.chosen.emit(value)
        self._did()

    def entry(self, button: QAbstractButton, words: str) -> None:
        """Open a button's menu and take an entry: two actions."""
        self.actions += 1
        menu = button.menu()
        menu.aboutToShow.emit()
        next(action for action in menu.actions() if action.text().startswith(words)).trigger()
        self._did()

    def type(self, field: QWidget, text: str) -> None:
        type_into(field, text)
        self._did()

    def text(self, words: str) -> None:
        """Type over the words of the layer in hand."""
        self.panel.fields.text.setPlainText(words)
        QTest.qWait(_PRESSED_MS * 2)  # words are taken once the hand rests
        self._did()

    def click_layer(self, key: str) -> None:
        """Take a layer from the list."""
        self.panel.take((key,))
        self._did()

    def draw(self, *places_mm: tuple[float, float]) -> None:
        draw_on_table(self.window.table, *places_mm)
        self._did()

    def answer(self, *paths: Path) -> None:
        """Say what the next dialog of the system will be told."""
        self.answers.append(paths)

    def asked(self) -> list[str]:
        self.dialogs += 1
        self.actions += 1
        return [str(path) for path in self.answers.pop(0)]

    @property
    def panel(self) -> QWidget:
        return self.window.here.panel

    @property
    def line(self) -> QWidget:
        assert self.window.make.line.isVisible()
        return self.window.make.line

    def write(self) -> None:
        self.press("Ctrl+E")

    def written(self) -> list[str]:
        return sorted(path.name for path in self.folder.iterdir())


class NeedsHand(Exception):  # noqa: N818 - no error, but a way that keys do not have
    """It is done with a hand on the table."""


class KeysOnly(Person):
    """Has no pointer."""

    def _reach(self, widget: QWidget) -> None:
        """Go on with Tab until the keys are there."""
        for _ in range(_MOST_TABS):
            here = QApplication.focusWidget()
            if here is widget or (here is not None and widget.isAncestorOf(here)):
                return
            QTest.keyClick(here or self.window, Qt.Key.Key_Tab)
            self.tabs += 1
        raise AssertionError(f"Tab never comes to {widget.accessibleName() or widget}")

    def drop(self, *paths: Path) -> None:
        self.answers.insert(0, paths)
        self.press("Ctrl+I")

    def click(self, widget: QWidget) -> None:
        assert widget.isVisible(), widget
        assert widget.isEnabled(), widget
        self._reach(widget)
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Space)
        self._did()

    def type(self, field: QWidget, text: str) -> None:
        self._reach(field)
        super().type(field, text)

    def choose(self, choice: QWidget, value: str) -> None:
        self._reach(choice)
        row = max(choice.findData(value), choice.findText(value))
        first = choice.itemText(row).split()[0] if row >= 0 else ""
        alike = [at for at in range(choice.count()) if choice.itemText(at)[:1] == first[:1]]
        if alike != [row]:  # it is opened and walked through, which this screen without windows cannot show
            super().choose(choice, value)
            return
        QTest.keyClicks(choice, first)  # a list that is closed goes to what is typed
        assert choice.currentIndex() == row, (value, choice.currentText())
        self._did()

    def click_layer(self, key: str) -> None:
        self._reach(self.panel.list)
        super().click_layer(key)

    def draw(self, *places_mm: tuple[float, float]) -> None:
        raise NeedsHand

    def entry(self, button: QAbstractButton, words: str) -> None:
        self._reach(button)
        super().entry(button, words)


def die_cuts(one: Person, art: Path) -> None:
    one.drop(art / "disc.png")
    one.type(one.line.copies, "12")
    one.choose(one.line.kind, "through")
    one.click(one.line.write)
    assert sum(len(page) for page in one.window.workspace.overview.plan.pages) == 12


def twelve_stickers(one: Person, art: Path) -> None:
    one.drop(art / "disc.png")
    one.type(one.line.width_field, "20 mm")
    one.type(one.line.copies, "12")
    one.click(one.line.write)
    assert sum(len(page) for page in one.window.workspace.overview.plan.pages) == 12


def sheet_of_six(one: Person, art: Path) -> None:
    one.click(one.named("Sheet of stickers"))
    one.text("Meadow")
    one.drop(*[art / f"flower-{number}.png" for number in range(6)])
    one.click_layer("l2")
    one.text("Quillwort Tea Garden")
    one.write()
    sheet = next(design for design in one.window.workspace.job.designs if design.stickers)
    assert len(set(sheet.stickers)) == 6


def sticker_sheet(one: Person, art: Path) -> None:
    one.click(one.named("Sheet of stickers"))
    one.text("Meadow")
    one.drop(*[art / f"flower-{number}.png" for number in range(8)])
    one.click_layer("l2")
    one.text("Quillwort Tea Garden")
    one.click(one.named("Fill the sheet"))
    one.write()
    overview = one.window.workspace.overview
    sheet = next(design for design in overview.job.designs if design.stickers)
    assert len(set(sheet.stickers)) == 8
    assert len(overview.plan.pages[0]) == 2, [len(page) for page in overview.plan.pages]


def jar_labels(one: Person, art: Path) -> None:
    one.drop(art / "gradient.png")
    one.type(one.line.width_field, "50 mm")
    one.choose(one.line.school, "bleed")
    one.click(one.line.write)
    assert one.window.workspace.job.designs[0].edge.bleed_mm > 1


def table_labels(one: Person, art: Path) -> None:
    one.drop(art / "jars.csv")
    one.write()
    assert sum(len(page) for page in one.window.workspace.overview.plan.pages) == 12


def cat_photograph(one: Person, art: Path) -> None:
    one.drop(art / "cat.png")
    one.type(one.line.width_field, "38 mm")
    one.click(one.line.mend)
    one.click(one.line.write)
    result = one.window.workspace.result
    assert result.design.outline.background == "subject"
    assert result.outline.area.area < 0.95 * result.width_mm * result.height_mm


def pencil_scan(one: Person, art: Path) -> None:
    one.drop(art / "pencil.png")
    one.click(one.line.mend)
    one.click(one.line.write)
    assert one.window.workspace.job.designs[0].source.paper == "white"


def nine_in_one(one: Person, art: Path) -> None:
    one.drop(art / "nine.png")
    one.click(one.line.closer)
    one.click(one.named("Split into"))
    one.write()
    assert len(one.window.workspace.job.designs) == 9


def order_of_five(one: Person, art: Path) -> None:
    one.drop(*[art / f"flower-{number}.png" for number in range(3)])
    one.drop(art / "order.csv")
    one.write()
    assert len(one.window.workspace.job.order) == 5
    assert "packing-list.csv" in one.written() or list(one.folder.rglob("packing-list.csv"))


def last_month(one: Person, art: Path) -> None:
    one.click(one.named("Kitchen jars"))
    one.press("Ctrl+Shift+I")
    one.write()
    (design,) = one.window.workspace.job.designs
    assert design.file_name == "flower-0.png"


def tags(one: Person, art: Path) -> None:
    one.answer(art / "plants.csv")
    one.click(one.named("Tags"))
    one.write()
    assert len(one.window.workspace.overview.plan.pages) >= 1
    assert sum(len(page) for page in one.window.workspace.overview.plan.pages) == 20


def script_word(one: Person, art: Path) -> None:
    one.press("Ctrl+Shift+N")
    one.text("Lavender")
    one.choose(one.panel.fields.family, "Dancing Script")
    one.write()
    assert len(one.window.workspace.result.cut.area.geoms) == 1


def photo_in_letters(one: Person, art: Path) -> None:
    one.press("Ctrl+Shift+N")
    one.text("TEA")
    one.answer(art / "photo.png")
    one.choose(one.panel.fields.fill, "picture")
    one.write()
    assert one.window.workspace.job.designs[0].layers[0].paint.asset


def leaking(one: Person, art: Path) -> None:
    one.drop(art / "leaking.png")
    one.press("Ctrl+2")
    one.press("Ctrl+Return")
    assert not [found for found in one.window.workspace.overview.findings if found.check == "leaks"]


def folded_card(one: Person, art: Path) -> None:
    one.click(one.named("Card"))
    one.answer(art / "gradient.png")
    one.entry(one.panel.add, "Picture")
    one.write()
    assert one.window.workspace.job.designs[0].layers


def used_sheet(one: Person, art: Path) -> None:
    one.drop(art / "disc.png")
    one.press("Ctrl+4")
    one.press("U")
    one.draw((20, 20), (200, 120))
    one.write()
    assert one.window.workspace.job.sheet.used


def other_paper(one: Person, art: Path) -> None:
    one.click(one.named("Kitchen jars"))
    one.press("Ctrl+4")
    one.choose(one.panel.paper, "a5")
    one.write()
    assert one.window.workspace.job.sheet.paper == "a5"


def too_large(one: Person, art: Path) -> None:
    one.drop(art / "poster.png")
    one.click(one.line.mend)
    assert one.window.workspace.overview.plan is not None


TASKS: tuple[tuple[str, Callable[[Person, Path], None], bool], ...] = (
    ("one picture to twelve stickers", twelve_stickers, True),
    ("12 die-cut stickers", die_cuts, True),
    ("a sheet of six stickers", sheet_of_six, True),
    ("a sheet of eight stickers, two to a page", sticker_sheet, True),
    ("round jar labels with gradient and bleed", jar_labels, True),
    ("20 tags from a table", tags, True),
    ("a script word in one piece", script_word, True),
    ("a photo in letters", photo_in_letters, True),
    ("a leaking outline", leaking, False),
    ("a folded card", folded_card, True),
    ("a partly used sheet", used_sheet, True),
    ("a job reopened on another paper", other_paper, True),
    ("art that is too large", too_large, False),
    ("labels for twelve jars from a table", table_labels, True),
    ("a cat’s photograph", cat_photograph, True),
    ("a pencil drawing, scanned", pencil_scan, True),
    ("nine in one picture", nine_in_one, True),
    ("last month’s job with other art", last_month, True),
    ("an order of five lines", order_of_five, True),
)


def make_art(folder: Path) -> None:
    """Draw what the tasks begin with."""
    folder.mkdir()
    (folder / "disc.png").write_bytes(disc_png(ppi=300))
    for number in range(8):
        side = 800
        y, x = np.mgrid[0:side, 0:side] - side / 2
        radius = (0.34 + 0.08 * np.cos((5 + number % 3) * np.arctan2(y, x))) * side
        cover = np.clip(radius - np.hypot(x, y) + 0.5, 0, 1)
        colour = np.full((side, side, 3), (60 + 20 * number, 120, 200 - 20 * number), np.float64)
        _write(folder / f"flower-{number}.png", np.dstack([colour, 255 * cover]))
    y, x = np.mgrid[0:700, 0:700] - 350
    gradient = np.dstack([200 - 0.2 * (x + y), 120 + 0.1 * x, 80 + 0.1 * y])
    _write(folder / "gradient.png", np.dstack([gradient, 255.0 * (np.hypot(x, y) < 340)]))
    random = np.random.default_rng(3)
    _write(folder / "photo.png", cv2.GaussianBlur(random.uniform(0, 255, (500, 800, 3)), (0, 0), 12))
    leaking = np.full((640, 640, 3), 255.0)
    cv2.circle(leaking, (320, 320), 240, (80, 60, 40), 14, cv2.LINE_AA)
    leaking[310:322, 540:580] = 255
    _write(folder / "leaking.png", leaking)
    poster = np.full((1200, 1600, 3), (70, 120, 90), np.float64)
    cover = np.zeros((1200, 1600))
    cover[20:-20, 20:-20] = 255.0
    _write(folder / "poster.png", np.dstack([poster, cover]), ppi=90)
    cat = skimage.data.chelsea()
    _write(folder / "cat.png", np.dstack([cat[..., ::-1], np.full(cat.shape[:2], 255)]))
    y, x = np.mgrid[0:1200, 0:900]
    paper = 215 + 25 * x / 900 - 12 * y / 1200
    ink = np.zeros((1200, 900), np.uint8)
    cv2.ellipse(ink, (450, 600), (280, 400), 0, 0, 360, 255, 9, cv2.LINE_AA)
    cv2.circle(ink, (380, 500), 40, 255, 7, cv2.LINE_AA)
    pencil = paper * (1 - 0.7 * ink / 255.0) + np.random.default_rng(5).normal(0, 2, paper.shape)
    _write(folder / "pencil.png", np.dstack([pencil] * 3))
    nine = np.zeros((1200, 1200, 4))
    for number in range(9):
        middle = (200 + 400 * (number % 3), 200 + 400 * (number // 3))
        cv2.circle(nine, middle, 140, (40 + 20 * number, 120, 200, 255), -1)
    _write(folder / "nine.png", nine)
    rows = [f"Jam {number},{1 + number % 3}" for number in range(6)]
    (folder / "jars.csv").write_text("\n".join(["name,copies", *rows]), "utf-8")
    ordered = [
        f"flower-{number % 3}.png,{2 + number},{whom}" for number, whom in enumerate(("Ada", "Bo", "Cy", "Di", "Ed"))
    ]
    (folder / "order.csv").write_text("\n".join(["design,quantity,for", *ordered]), "utf-8")
    names = ["name,price", *(f"Plant {number},{number}.50" for number in range(1, 21))]
    (folder / "plants.csv").write_text("\n".join(names), "utf-8")


def _write(path: Path, pixels: np.ndarray, ppi: int = 300) -> None:
    data = cv2.imencode(".png", np.clip(pixels, 0, 255).astype(np.uint8))[1].tobytes()
    per_metre = round(ppi / 0.0254)
    body = b"pHYs" + per_metre.to_bytes(4, "big") * 2 + b"\x01"
    import zlib

    chunk = (9).to_bytes(4, "big") + body + zlib.crc32(body).to_bytes(4, "big")
    path.write_bytes(data[:33] + chunk + data[33:])


def person(root: Path, name: str, *, by_keys: bool) -> Person:
    """Return somebody in front of a window that was just opened."""
    home = root / name
    out = home / "out"
    out.mkdir(parents=True)
    os.environ["HONEST_EDGE_BOOK"] = str(home / "book" / "book.sqlite")
    file = PrefsFile(home / "settings" / "settings.json")
    file.write(replace(Prefs(), unit="mm", theme="light", out_folder=str(out), bench_asked="yes", paper="a4"))
    window = MainWindow(file, home / "state" / "recovery")
    window.resize(1280, 800)
    window.show()
    window.activateWindow()
    QTest.qWaitForWindowActive(window)
    one = (KeysOnly if by_keys else Person)(window, out)
    one.settle()
    return one


def main() -> int:
    application = QApplication([])
    theme.load_fonts()
    theme.apply(application, "light")
    root = Path(tempfile.mkdtemp())
    art = root / "art"
    make_art(art)
    is_good = True
    by_keys = "--keys" in sys.argv
    print(f"{'task':44} actions  bound  dialogs  files  seconds{'  tabs' if by_keys else ''}")
    for name, do, writes in TASKS:
        one = person(root, do.__name__, by_keys=by_keys)
        QFileDialog.getOpenFileName = staticmethod(lambda *_a, one=one, **_k: (one.asked()[0], ""))
        QFileDialog.getOpenFileNames = staticmethod(lambda *_a, one=one, **_k: (one.asked(), ""))
        if do in (other_paper, last_month):
            _kept_job(one, art, root)
            one.answers = [(art / "flower-0.png",)]
        started = time.monotonic()
        failure = ""
        try:
            do(one, art)
        except NeedsHand:
            print(f"{name:44} needs a hand on the table")
            one.window.jobs.may_leave = lambda: True
            one.window.close()
            continue
        except (AssertionError, AttributeError) as error:
            failure = f"   FAILED {error} {one.window.station} {one.window.bar.message.text()}"
        taken = time.monotonic() - started
        files = one.written()
        bound = (MOST_OF_SIX if do in (sheet_of_six, sticker_sheet) else MOST) + by_keys
        good = one.actions <= bound and bool(files) == writes and not failure
        failure = failure or f"   MISSED: {one.window.bar.message.text()}"
        is_good = is_good and good
        print(
            f"{name:44} {one.actions:7} {bound:6} {one.dialogs:8} {len(files):6} {taken:8.1f}"
            + (f" {one.tabs:5}" if by_keys else "")
            + ("" if good else failure)
        )
        one.window.jobs.may_leave = lambda: True
        one.window.close()
    application.processEvents()
    return 0 if is_good else 1


def _kept_job(one: Person, art: Path, root: Path) -> None:
    """Save a job, so that there is one to reopen; what that takes does not count."""
    one.drop(art / "gradient.png")
    document = one.window.document
    document.edit(replace(document.job, title="Kitchen jars"), "title")
    document.save(root / "Kitchen jars.hedge")
    one.settle()
    document.start(one.window.jobs.fresh_job(), {}, None)
    one.settle()
    one.actions = 0


if __name__ == "__main__":
    code = main()
    sys.stdout.flush()
    os._exit(code)
