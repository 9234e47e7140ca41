"""A station is one folder and one line of the registry: one that nobody knows is visited in the real window."""

import pytest
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtTest import QTest

from hands import draw_on_table, drop, visit
from honest_edge.ui.shared.contract import Command, Shown, Station, StationEntry
from honest_edge.ui.shared.panel import Panel
from honest_edge.ui.stations.registry import STATIONS
from honest_edge.ui.table.tool import Tool

MADE = []


class DummyPanel(Panel):
    def build(self):
        self.refreshed = 0

    def refresh(self):
        self.refreshed += 1
        self.answer.setText(str(len(self.workspace.job.designs)))


class DummyStation(Station):
    def __init__(self, host):
        super().__init__(host)
        MADE.append(self)
        self.heard, self.only_panel = [], DummyPanel(host, "What is this?")
        self.working = host.new_task()
        self.working.done.connect(lambda answer: self.heard.append(answer))

    @property
    def panel(self):
        return self.only_panel

    def drawn_from(self):
        return (self.workspace.result,)

    def draw(self, scene):
        scene.clear()
        scene.addRect(QRectF(0, 0, 40, 30))
        return Shown(content=QRectF(0, 0, 40, 30), caption="a box")

    def look_closer(self):
        self.working.submit(lambda *, report, cancelled: "worked")

    def subject_changed(self):
        self.heard.append("subject")

    def left(self):
        self.heard.append("left")

    def key_pressed(self, event):
        self.heard.append(event.text())

    def stroke_drawn(self, tool, points_mm):
        self.heard.append((tool.name, len(points_mm)))

    def take_file(self, path):
        self.heard.append(path.name)

    def greet(self):
        self.heard.append("greeted")


DUMMY = StationEntry(
    key="dummy",
    title="Dummy",
    question="What is this?",
    brief="what is this?",
    create=DummyStation,
    commands=(Command(name="Greet", key="Ctrl+Alt+G", act=lambda station: station.greet()),),
    takes=(".dummy",),
)


@pytest.fixture
def with_dummy(make_window, disc_file, settle):
    MADE.clear()
    window = make_window(stations=(*STATIONS, DUMMY))
    window.take_files([disc_file])
    settle(window)
    return window


def test_a_station_stands_in_the_path_and_is_made_when_it_is_visited(with_dummy, settle):
    window = with_dummy
    button = window.path_bar.buttons["dummy"]
    assert button.entry.title == "Dummy"
    assert button.isVisible()
    assert MADE == []
    visit(window, "dummy")
    settle(window)
    (station,) = MADE
    assert window.cards.currentWidget() is station.only_panel
    assert station.only_panel.answer.text() == "1"
    assert window.table.caption == "a box"
    assert len(window.table.drawing().items()) == 1
    assert "worked" in station.heard


def test_a_station_takes_keys_strokes_files_and_commands(with_dummy, settle, tmp_path, qtbot):
    window = with_dummy
    visit(window, "dummy")
    (station,) = MADE
    QTest.keyClick(window, Qt.Key.Key_J)
    assert "j" in station.heard
    window.table.set_tool(Tool(name="poke", shape="line", word="Poke", hint="poke it"))
    draw_on_table(window.table, (5, 5), (10, 10), (20, 20))
    assert ("poke", 2) in station.heard
    (tmp_path / "a.dummy").write_bytes(b"")
    drop(window, [tmp_path / "a.dummy"])
    assert "a.dummy" in station.heard
    QTest.keyClick(window, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
    assert "greeted" in station.heard
    assert "Greet" in [action.text() for action in window.actions()]


def test_a_station_that_is_left_leaves_no_trace(with_dummy, settle):
    window = with_dummy
    visit(window, "edge")
    settle(window)
    before = window.stations["edge"].panel.answer.text()
    visit(window, "dummy")
    settle(window)
    visit(window, "edge")
    settle(window)
    (station,) = MADE
    assert station.heard[-1] == "left"
    assert not station.is_shown
    assert window.cards.currentWidget() is window.stations["edge"].panel
    assert window.stations["edge"].panel.answer.text() == before
    assert not any(item.boundingRect() == QRectF(0, 0, 40, 30) for item in window.table.drawing().items())
    QTest.keyClick(window, Qt.Key.Key_J)
    assert "j" not in station.heard
    shown = station.only_panel.refreshed
    window.refresh()
    assert station.only_panel.refreshed == shown


def test_without_the_line_there_is_no_such_station(window):
    assert "dummy" not in window.path_bar.buttons
    assert "Greet" not in [action.text() for action in window.actions()]
    with pytest.raises(KeyError):
        window.stations["dummy"]


def test_every_command_of_the_registry_leads_to_something(window):
    for entry in STATIONS:
        for command in entry.commands:
            name = command.act.__reduce__()[1][0]  # of a methodcaller
            assert callable(getattr(window.stations[entry.key], name)), command.name


def test_every_folder_of_a_station_is_in_the_registry(root):
    folders = {path.name for path in (root / "src/honest_edge/ui/stations").iterdir() if path.is_dir()}
    assert folders - {"__pycache__"} == {entry.key for entry in STATIONS}
