from dataclasses import replace
from functools import partial

import pytest
from PyQt6 import sip
from PyQt6.QtCore import QCoreApplication, QEvent
from PyQt6.QtWidgets import QApplication

from hands import PATIENCE_S
from honest_edge.app.edits import sheet_edits
from honest_edge.app.edits.open_art import demo_project
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.run.clocks import RunClock
from honest_edge.files.prefs import Prefs, PrefsFile
from honest_edge.ui.shell.main_window import MainWindow
from honest_edge.ui.shell.pipeline_keeper import PipelineKeeper
from honest_edge.ui.widgets import theme
from honest_edge.ui.widgets.local import show_lengths_in
from leader import Clock
from memory import let_go_if_grown
from pictures import disc_png


@pytest.fixture
def clock(monkeypatch):
    """The clock of a run, which stands still until it is told to go on."""
    made = Clock()
    monkeypatch.setattr("honest_edge.app.run.clocks.present", made)
    monkeypatch.setattr(RunClock.__init__, "__defaults__", (made, 0.0))
    return made


@pytest.fixture
def qtbot(qtbot):
    """Waits as long as a busy machine may need."""
    for name in ("waitUntil", "waitSignal", "waitActive"):
        setattr(qtbot, name, partial(getattr(qtbot, name), timeout=PATIENCE_S * 1000))
    return qtbot


MOST_CACHED_BYTES, MOST_ORIGINALS_BYTES = 200_000_000, 50_000_000

BEGIN_FOLDED = (
    "Marks for the cutter’s reader",
    "The blade",
    "By hand, and used sheets",
    "The curve",
    "Compare its size with",
    "More of this layer",
)
"""Cards that tests find open; that they begin folded has a test of its own."""


class Originals(dict):
    """The originals of one window, which lets go of them; the pipeline of a file of tests keeps them all."""

    def __init__(self, pool):
        super().__init__()
        self._pool = pool

    def __setitem__(self, key, value):
        self._pool[key] = value
        super().__setitem__(key, value)

    def update(self, more):
        self._pool.update(more)
        super().update(more)


@pytest.fixture(scope="session")
def shared_pipeline():
    """What was computed once is not computed again by the next window, nor let go of with a window's large job."""
    assets = {}
    pipeline = Pipeline(assets, most_cached_bytes=MOST_CACHED_BYTES)
    pipeline._cache.end_turn = lambda: None
    return assets, pipeline


@pytest.fixture(autouse=True)
def _in_millimetres():
    yield
    show_lengths_in("mm")  # which all windows share


@pytest.fixture(autouse=True)
def _own_book(tmp_path, monkeypatch):
    monkeypatch.setenv("HONEST_EDGE_BOOK", str(tmp_path / "book" / "book.sqlite"))


@pytest.fixture(autouse=True)
def _limits_unsought(request, monkeypatch):
    """What limits a sheet takes many fits, at every visit of Sheet: it is sought where a test asks for it by name."""
    if "limits_sought" not in request.fixturenames:
        monkeypatch.setattr(sheet_edits, "sheet_limits", lambda *_arguments, **_more: None)


@pytest.fixture
def limits_sought():
    """Let Sheet seek what limits it, as it does for a user."""


@pytest.fixture
def make_window(qtbot, tmp_path, shared_pipeline):
    """Make real windows that share one settings folder; each is closed and its threads are waited for."""
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
    let_go_if_grown()  # of the test before: a window and its stations hold each other, and all that was computed
    windows = []
    assets, pipeline = shared_pipeline
    if sum(map(len, assets.values())) > MOST_ORIGINALS_BYTES:
        assets.clear()  # those of windows that are gone

    def make(bench_asked="yes", first_drop="stations", **options):
        application = QApplication.instance()
        file = PrefsFile(tmp_path / "settings" / "settings.json")
        if not (tmp_path / "settings").exists():
            file.write(Prefs(turned_cards="|".join(BEGIN_FOLDED), bench_asked=bench_asked, first_drop=first_drop))
        theme.load_fonts()
        theme.apply(application, file.read().theme)
        window = MainWindow(file, tmp_path / "state" / "recovery", **options)
        qtbot.addWidget(window, before_close_func=lambda w: setattr(w.jobs, "may_leave", lambda: True))
        windows.append(window)
        window.document.holder.assets = Originals(assets)
        window.pipelines = PipelineKeeper(assets, pipeline)
        window.resize(1280, 800)
        window.show()
        qtbot.waitExposed(window)
        window.activateWindow()
        qtbot.waitUntil(window.isActiveWindow)  # keys are heard by the active window alone
        return window

    yield make
    for window in windows:
        if not sip.isdeleted(window):  # it was closed, which waits with the events of all windows running
            window.stop()
            window.workshop.close()
        assert window.pool.wait(PATIENCE_S)
        assert window.writes.wait(PATIENCE_S)


@pytest.fixture
def window(make_window):
    return make_window()


@pytest.fixture
def settle(qtbot):
    def wait(window):
        qtbot.waitUntil(lambda: not window.busy)
        if QApplication.activeWindow() is None and window.isVisible():
            window.activateWindow()  # one of the test before went, and took the keys along
            qtbot.waitUntil(window.isActiveWindow)

    return wait


@pytest.fixture
def disc_file(tmp_path):
    path = tmp_path / "disc.png"
    path.write_bytes(disc_png(ppi=300))
    return path


@pytest.fixture
def with_disc(window, settle, disc_file):
    """A window with one disc of 240 px at 300 ppi, its radius 100 px."""
    window.take_files([disc_file])
    settle(window)
    return window


@pytest.fixture
def with_some_of_the_demo(window, settle):
    """Open the demo with a few of its designs: what one of them asks for is then computed without all others."""

    def opened(*names, copies=None, is_demo=False):
        demo = demo_project()
        designs = tuple(design for design in demo.job.designs if design.name in names)
        assert len(designs) == len(names)
        if copies is not None:
            designs = tuple(replace(design, copies=copies) for design in designs)
        window.document.start(
            replace(demo.job, designs=designs, layout=(), pins=()), demo.assets, None, is_demo=is_demo
        )
        settle(window)
        return window

    return opened


@pytest.fixture
def with_demo(window, settle):
    window.jobs.open_demo()
    settle(window)
    return window
