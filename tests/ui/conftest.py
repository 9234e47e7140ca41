import pytest
from PyQt6.QtWidgets import QApplication

from honest_edge.app.pipeline import Pipeline
from honest_edge.ui import theme
from honest_edge.ui.prefs import PrefsFile
from honest_edge.ui.window import MainWindow
from pictures import disc_png


@pytest.fixture
def make_window(qtbot, tmp_path):
    """Make real windows that share one settings folder; each is closed and its threads are waited for."""
    windows = []

    def make():
        application = QApplication.instance()
        file = PrefsFile(tmp_path / "settings" / "settings.json")
        theme.load_fonts()
        theme.apply(application, file.read().theme)
        window = MainWindow(file, tmp_path / "state" / "recovery.hedge")
        qtbot.addWidget(window, before_close_func=lambda w: setattr(w.actions_, "may_leave", lambda: True))
        windows.append(window)
        window.resize(1280, 800)
        window.show()
        qtbot.waitExposed(window)
        return window

    yield make
    for window in windows:
        window.background.cancel()
        window.actions_.stop()
        assert window.pool.wait(20)


@pytest.fixture
def window(make_window):
    return make_window()


@pytest.fixture
def settle(qtbot):
    def wait(window):
        def idle():
            assert not window.busy
            actions = window.actions_
            assert not any(task.busy for task in (actions.adding, actions.reading, actions.output))

        qtbot.waitUntil(idle, timeout=60_000)

    return wait


@pytest.fixture
def disc_file(tmp_path):
    path = tmp_path / "disc.png"
    path.write_bytes(disc_png(ppi=300))
    return path


@pytest.fixture
def with_disc(window, settle, disc_file):
    """A window with one disc of 240 px at 300 ppi, its radius 100 px."""
    window.actions_.take_files([disc_file])
    settle(window)
    return window


@pytest.fixture(scope="session")
def shared_pipeline():
    """What was computed of the demo once is not computed again by the next window."""
    assets = {}
    return assets, Pipeline(assets)


@pytest.fixture
def with_demo(window, settle, shared_pipeline):
    assets, pipeline = shared_pipeline
    window.document.holder.assets = assets
    window.background._pipeline = pipeline
    window.actions_.open_demo()
    settle(window)
    return window
