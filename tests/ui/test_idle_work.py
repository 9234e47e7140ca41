"""What the window does once it rests."""

import threading

from hands import PATIENCE_S
from honest_edge.ui.shell import idle_work


def test_a_window_at_rest_gives_memory_back_beside_its_thread(with_disc, qtbot, monkeypatch):
    given = []
    monkeypatch.setattr(idle_work, "give_back_memory", lambda: given.append(threading.current_thread()))
    with_disc.go_to("edge")
    with_disc.settled.emit()
    qtbot.waitUntil(lambda: bool(given), timeout=1000 * PATIENCE_S)
    assert given[0] is not threading.main_thread()


def test_a_window_at_rest_builds_every_panel_once(with_disc, qtbot):
    stations = with_disc.stations
    assert "panel" not in vars(stations["sheet"])
    with_disc.settled.emit()
    qtbot.waitUntil(lambda: not with_disc.rest._pause.isActive() and "panel" in vars(stations["files"]))
    assert all("panel" in vars(stations[key]) for key in ("outline", "edge", "sheet", "files"))
    assert not stations.build_next()
