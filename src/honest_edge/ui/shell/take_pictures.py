"""Walks the real window through its main views and writes a picture of each."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QEventLoop, QTimer

from honest_edge.app.edits.open_art import demo_project
from honest_edge.core.values.run_events import Ended
from honest_edge.core.values.units import Unit
from honest_edge.ui.shell.main_window import MainWindow
from honest_edge.ui.widgets.tokens import ThemeName

if TYPE_CHECKING:
    from honest_edge.files.project import LoadedProject
    from honest_edge.ui.rooms.practice.room import PracticeRoom
    from honest_edge.ui.rooms.run.room import RunRoom
    from honest_edge.ui.stations.art.layers_panel import LayersPanel
    from honest_edge.ui.stations.edge.panel import EdgePanel
    from honest_edge.ui.stations.proof.station import ProofStation
    from honest_edge.ui.stations.sheet.panel import SheetPanel

_MOST_STEPS = 40
_PATIENCE_MS = 120_000
_LAYERED = {"sheet": "Herb sheet", "wrap": "Tin wrap", "tag": "Price tag", "card": "Pop-up card"}
_MADE_AT_ONCE = ("Bee", "Teapot", "Badge")
_DESIGN_OF = {"art": "Bee", "outline": "Bee", "edge": "Badge", "sheet": "Teapot", "proof": "Bee", "files": "Teapot"}


def take_pictures(window: MainWindow, folder: Path, theme: ThemeName, unit: Unit) -> int:
    """Write one PNG a station and room, from the demo job at 1280 x 800, and return the exit code."""
    folder.mkdir(parents=True, exist_ok=True)
    window.resize(1280, 800)
    window.show()
    demo = demo_project()
    window.document.start(demo.job, demo.assets, None, is_demo=True)
    settle(window)
    names = {design.name: design.key for design in window.document.job.designs}
    mark = ("" if theme == "light" else f"-{theme}") + ("" if unit == "mm" else "-inch")
    for entry in window.stations.entries:
        station = entry.key
        window.take(names[_DESIGN_OF[station]])
        window.go_to(station)
        if station == "proof":
            cast("ProofStation", window.here).walk(1)
        settle(window)
        _grab(window, folder / f"{station}{mark}.png")
    _rehearse(window, folder / f"rehearsal{mark}.png")
    _run(window, folder, mark)
    _workshop(window, folder, mark)
    window.go_to("sheet")
    sheet = cast("SheetPanel", window.here.panel)
    window.workspace.page = 1
    sheet.blade.follows.click()
    settle(window)
    sheet.ensureWidgetVisible(sheet.blade)
    _grab(window, folder / f"sheet-blade{mark}.png")
    sheet.blade.follows.click()
    window.take(names["Teapot"])
    window.go_to("edge")
    settle(window)
    _grab(window, folder / f"edge-border{mark}.png")
    window.take(names["Badge"])
    cast("EdgePanel", window.here.panel).side_by_side.setChecked(True)
    settle(window)
    _grab(window, folder / f"edge-schools{mark}.png")
    for name, design in _LAYERED.items():
        window.take(names[design])
        window.go_to("art")
        settle(window)
        layers = cast("LayersPanel", window.here.panel)
        layers.take(tuple(layer.key for layer in window.document.job.design(names[design]).layers[:1]))
        if name == "card":  # its fold stands below its sizes
            layers.take(())
            settle(window)
            layers.ensureWidgetVisible(layers.form.fields.slider)
        settle(window)
        _grab(window, folder / f"layers-{name}{mark}.png")
    _at_machine(window, demo, folder / f"machine{mark}.png")
    _make_at_once(window, demo, folder / f"make{mark}.png")
    _around(window, folder, mark)
    window.choices.file.forget()
    window.pool.wait()
    return 0


def _make_at_once(window: MainWindow, demo: LoadedProject, path: Path) -> None:
    """Show the make line with a few of the designs; the demo itself is there again then."""
    few = tuple(design for design in demo.job.designs if design.name in _MADE_AT_ONCE)
    window.document.start(replace(demo.job, designs=few, layout=(), pins=()), demo.assets, None, is_demo=True)
    settle(window)
    window.make.open()
    settle(window)
    _grab(window, path)
    window.document.start(demo.job, demo.assets, None, is_demo=True)
    settle(window)


def _around(window: MainWindow, folder: Path, mark: str) -> None:
    """Show what stands round the job: the start page with a recent job, a practice story, the handbook."""
    with tempfile.TemporaryDirectory() as kept:
        window.document.save(Path(kept) / "Summer tins.hedge")
        window.overviews.compute()
        settle(window)
        window.document.start(window.jobs.fresh_job(), {}, None)
        settle(window)
        _grab(window, folder / f"start{mark}.png")
    window.go_to("practice")
    room = cast("PracticeRoom", window.workshop["practice"])
    room.begin("in a hurry", seed=1)
    settle(window)
    for act in (room.bench.print, room.bench.cut):
        act.click()
        settle(window)
    _grab(window, folder / f"practice{mark}.png")
    room.stop()
    window.helper.show("edge")
    settle(window)
    path = folder / f"handbook{mark}.png"
    window.helper.handbook.grab().save(str(path))
    print(path)
    window.helper.handbook.close()


def _workshop(window: MainWindow, folder: Path, mark: str) -> None:
    """Visit every room beside the path, and every part of it."""
    for room in (entry for entry in window.workshop.entries if entry.has_button and not entry.is_on_path):
        for part in ("", *room.parts):
            window.go_to(f"{room.key}:{part}" if part else room.key)
            settle(window)
            name = f"{room.key}-{part.replace(' ', '-')}" if part else room.key
            _grab(window, folder / f"{name}{mark}.png")


def _run(window: MainWindow, folder: Path, mark: str) -> None:
    """Lead a run on the practice bench: its schedule while ink dries, and a sheet that is looked at."""
    window.go_to("run")
    settle(window)
    room = cast("RunRoom", window.workshop["run"])
    room.before.carriers.setValue(2)
    room.before.begin.click()
    settle(window)
    for key, sheet, name in (("dry", 1, "run-schedule"), ("inspect", 2, "run")):
        _lead(window, room, key, sheet)
        _grab(window, folder / f"{name}{mark}.png")
    _give_up(window, room)


def _lead(window: MainWindow, room: RunRoom, key: str, sheet: int) -> None:
    """Go on to a step of a run."""
    for _ in range(_MOST_STEPS):
        step = room.keeper.step()
        if (step.key, step.sheet) == (key, sheet):
            break
        if step.key in ("measure", "inspect"):
            room.view.ways[0].click()
        room.view.primary.click()
        settle(window)
    settle(window)


def _give_up(window: MainWindow, room: RunRoom) -> None:
    room.keeper.do(lambda conductor: conductor.happens(Ended(reason="given up")))
    room.keeper.leave()
    settle(window)


def _at_machine(window: MainWindow, demo: LoadedProject, path: Path) -> None:
    """Show the pointer of the practice cutter over the first mark; the demo itself is there again then."""
    machine = demo.job.sheet.machine
    spoken_to = replace(machine, direct=replace(machine.direct, language="gcode"))
    job = replace(demo.job, sheet=replace(demo.job.sheet, machine=spoken_to))
    window.document.start(job, demo.assets, None, is_demo=True)
    settle(window)
    window.go_to("run")
    settle(window)
    room = cast("RunRoom", window.workshop["run"])
    room.before.begin.click()
    settle(window)
    _lead(window, room, "read", 1)
    room.view.primary.click()
    at = room.keeper.machine
    _wait(lambda: bool(at.name))
    if room.keeper.conductor is not None:
        corner = at.around(room.keeper.conductor, 1).marks[0].min(axis=0).tolist()
        at.go((at.at_mm[0] + corner[0], at.at_mm[1] - corner[1]))
        _wait(lambda: not at.is_moving)
    at.set_step(0.1)
    settle(window)
    _grab(window, path)
    _give_up(window, room)
    window.document.start(demo.job, demo.assets, None, is_demo=True)
    settle(window)


def _rehearse(window: MainWindow, path: Path) -> None:
    """Show the first rehearsed sheet on which something is spoiled, else the first."""
    window.go_to("proof")
    proof = cast("ProofStation", window.here)
    proof.rehearse()
    settle(window)
    rehearsal = proof.state.rehearsal
    if rehearsal is not None:
        proof.rehearsing.show_sheet(next((sheet.number for sheet in rehearsal.sheets if sheet.spoiled), 0))
    _grab(window, path)
    proof.rehearsing.end()


def settle(window: MainWindow) -> None:
    """Let the event loop run until nothing is computed any more."""
    _wait(lambda: not window.busy)


def _wait(holds: Callable[[], bool]) -> None:
    """Let the event loop run until something holds."""
    loop = QEventLoop()
    poll = QTimer()
    poll.setInterval(20)
    poll.timeout.connect(lambda: loop.quit() if holds() else None)
    poll.start()
    QTimer.singleShot(_PATIENCE_MS, loop.quit)
    loop.exec()


def _grab(window: MainWindow, path: Path) -> None:
    for _ in range(5):  # a layout inside a scrolled panel asks for the next one only when it is laid out itself
        settle(window)
    window.grab().save(str(path))
    print(path)
