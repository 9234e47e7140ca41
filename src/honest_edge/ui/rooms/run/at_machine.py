"""The machine that a run cuts on, where it is spoken to directly: its way, where its pointer is, what it is cutting."""

from __future__ import annotations

import math
import os
import threading
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, cast

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication

from honest_edge.core.sheet.pen_test import bare, pen_drawing
from honest_edge.core.sheet.strokes import home_mm
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.ui.rooms.run.machine_link import MachineLink
from honest_edge.ui.rooms.run.machine_views import SEEN_MM, STEPS_MM, Around, Ready

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.app.run.at_machine import SheetAligned
    from honest_edge.app.run.conductor import Conductor
    from honest_edge.core.geometry.paths import Floats
    from honest_edge.core.run.guide import Step
    from honest_edge.core.values.machine import Machine
    from honest_edge.ui.rooms.run.draft import Draft
    from honest_edge.ui.shared.host import Host

_ROUNDED_MM = 1e-3
_MOST_KEPT = 4  # presses that are kept while it moves
_SHOW_MS = 150  # how often progress is shown
LINES_NAME = "machine-lines.json"


class AtMachine(QObject):
    """Holds the way; nothing moves but by what is pressed here."""

    changed = pyqtSignal()
    cut_ended = pyqtSignal(object)
    """What became of a cut: what the process said last of it."""

    def __init__(self, host: Host, folder: Callable[[], Path]) -> None:
        """Take the window, and where what is cut is written down."""
        super().__init__()
        self._host, self._folder = host, folder
        self._link = MachineLink(host)
        self._link.said.connect(self._take)
        self._link.gone.connect(self._on_gone)
        self._link.switched_on.connect(self._open)
        self._readying = host.new_task()
        self._readying.done.connect(self._on_ready)
        self._readying.failed.connect(self._on_unready)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_SHOW_MS)
        self._soon.timeout.connect(self._show_progress)
        self.forget()

    def forget(self) -> None:
        """Know nothing of a machine."""
        self._known: Machine | None = None
        self.name, self.is_answered, self.is_opening = "", False, False
        self._home_mm = self.at_mm = (0.0, 0.0)
        self.is_moving, self.step_mm = False, STEPS_MM[0]
        self._wanted: tuple[float, float] | None = None
        self.places: dict[int, tuple[float, float]] = {}
        self.aligned: SheetAligned | None = None
        self.ready: Ready | None = None
        self.why_unready = self.waits_for = ""
        self.cutting: Step | None = None
        self.done = self.whole = 0
        self.is_sent = self.is_drawing = self.pen_is_done = self.has_moved = False
        self.is_by_itself = False
        """The user sends the files by the machine's own means."""

    def done_lines(self) -> tuple[Floats, ...]:
        """Return the lines that are cut of the sheet in the machine, where it is being cut."""
        return () if self.cutting is None or self.ready is None else self.ready.lines[: self.done]

    def machine_of(self, conductor: Conductor) -> Machine:
        """Return the machine of a run as it is spoken to now: a run was sealed before it was set up, perhaps."""
        machine = conductor.seal.sheet.machine
        if self._known is None or self._known.name != machine.name:
            shelf = [cast("Machine", one) for one in self._host.profiles.all("machine") if one.name == machine.name]
            spoken_to = [one.direct for one in shelf if one.direct.language]
            self._known = replace(machine, direct=spoken_to[0]) if spoken_to else machine
        if not conductor.seal.is_practice:
            return self._known
        known = bare(self._known)  # the practice cutter's numbers begin at the bottom left
        return replace(known, direct=replace(known.direct, is_tried=True))

    def look_again(self) -> None:
        """The machine's profile may be another one."""
        self._known = None

    def is_wanted(self, conductor: Conductor) -> bool:
        """Whether the sheets of a run are cut from here."""
        return bool(self.machine_of(conductor).direct.language) and not self.is_by_itself

    # -- the way ---------------------------------------------------------------------------------------

    def switch_on(self, conductor: Conductor) -> None:
        """Switch the practice cutter on, a process of its own, and open the way to it; nothing moves."""
        self.is_opening = True
        self._link.switch_on(self.machine_of(conductor))
        self.changed.emit()

    def around(self, conductor: Conductor, sheet: int) -> Around:
        """Return what lies round the pointer on the practice bench; a finer step looks closer."""
        from honest_edge.app.run.practice_cutter import under_pointer

        paper, marks = under_pointer(conductor.seal, sheet, self.machine_of(conductor), self.at_mm)
        return Around(paper=paper, marks=marks, wide_mm=SEEN_MM[STEPS_MM.index(self.step_mm)])

    def open(self, to: str, machine: Machine) -> None:
        """Open a way; nothing moves."""
        self._host.set_prefs(replace(self._host.prefs, cut_to=to))
        self._open(to, machine)

    def _open(self, to: str, machine: Machine) -> None:
        self._leave()
        self.forget()
        self.is_opening, self.at_mm, self._home_mm = True, home_mm(machine), home_mm(machine)
        self._link.open(to, machine)
        self.changed.emit()

    def close(self) -> None:
        """Leave the way: a line that is being cut is finished, then the blade is up. This may be any thread."""
        self._leave()
        self._link.switch_off()
        if threading.current_thread() is threading.main_thread():
            self._watch(False)
        self.forget()

    def _leave(self) -> None:
        self.name, self.is_opening, self.is_moving = "", False, False
        self._link.leave()

    def _take(self, what: dict[str, Any]) -> None:
        if "open" in what:
            self.name, self.is_answered, self.is_opening = what["open"], what["answered"], False
        elif "at" in what:
            self.at_mm, self.is_moving, self.has_moved = (what["at"][0], what["at"][1]), False, True
            if self._wanted is not None and math.dist(self._wanted, self.at_mm) > _ROUNDED_MM:
                self.go(self._wanted)
        elif "waits" in what:
            self.waits_for = what["waits"]
        elif "done" in what:
            self.done = what["done"]
            if not self._soon.isActive():
                self._soon.start()
            return
        elif "failed" in what:
            self.is_opening, self.is_moving, self._wanted = False, False, None
            if what.get("is_gone"):  # the page asks for a way anew
                self._leave()
            self._host.say(what["failed"].rstrip(".") + ".", tone="danger")
        elif self.is_drawing:
            self.is_drawing, self.pen_is_done = False, "cut" in what
            self._watch(False)
            if "stopped" in what:
                self._leave()
        elif "cut" in what and not self.is_answered:
            self.is_sent, self.done = True, self.whole
        else:
            self._end(what)
        self.changed.emit()

    def _show_progress(self) -> None:
        if self._link.is_held:
            self.changed.emit()

    def _on_gone(self) -> None:
        """The process ended by itself: what it wrote down tells how far it came."""
        self._watch(False)
        self._leave()
        self.is_drawing = False
        if (step := self.cutting) is not None:
            sure, perhaps = self.written_down(step)
            self._end({"stopped": "The way to the machine ended", "sure": sure, "perhaps": perhaps})
        self.changed.emit()

    # -- the pen -----------------------------------------------------------------------------------------

    def draw_with_pen(self, conductor: Conductor) -> None:
        """Draw what tells of the machine's axes and scale; its numbers are sent as they are."""
        from honest_edge.files.atomic_write import write_set
        from honest_edge.files.machine_process import written_machine, written_strokes

        machine, folder = self.machine_of(conductor), self._folder()
        try:
            write_set(folder, {LINES_NAME: written_strokes(pen_drawing(machine))}, replace=True)
        except HonestEdgeError as error:
            self._host.say(str(error), tone="danger")
            return
        to = self._host.prefs.cut_to
        self._link.say(do="open", to=to, language=machine.direct.language, machine=written_machine(bare(machine)))
        self.is_drawing, self.pen_is_done = True, False
        self._watch(True)
        self._link.say(do="cut", file=str(folder / LINES_NAME), log=os.devnull, first=0)
        self.changed.emit()

    def keep_axes(self, conductor: Conductor, draft: Draft) -> None:
        """Keep in the machine's profile how it draws."""
        from honest_edge.core.sheet.pen_test import learnt

        machine = self.machine_of(conductor)
        try:
            direct = learnt(machine.direct, draft.corner, draft.points, *(arm or 0.0 for arm in draft.arms))  # type: ignore[arg-type]
            self._host.profiles.keep(replace(machine, direct=direct))
        except HonestEdgeError as error:
            self._host.say(str(error), tone="danger")
            return
        self.open(self._host.prefs.cut_to, self.machine_of(conductor))

    # -- the pointer -------------------------------------------------------------------------------------

    def jog(self, across: int, upward: int) -> None:
        """Move by one step; while it still moves, a few more are kept, and no pile of them."""
        x, y = self._wanted or self.at_mm
        to_mm = x + across * self.step_mm, y + upward * self.step_mm
        if not self.is_moving:
            self.go(to_mm)
        elif math.dist(to_mm, self.at_mm) < (_MOST_KEPT + 0.5) * self.step_mm:
            self._wanted = to_mm

    def go(self, to_mm: tuple[float, float]) -> None:
        """Move slowly to a place, the blade up."""
        if self.name and not self.is_moving and self.cutting is None:
            self.is_moving, self._wanted = True, to_mm
            self._link.say(do="move", to=[round(to_mm[0], 4), round(to_mm[1], 4)])
            self.changed.emit()

    def take_key(self, key: int) -> bool:
        """Move by an arrow key, or take another step by plus and minus; return whether it was one of these."""
        ways = {
            Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1),
        }  # fmt: skip
        if key in ways:
            self.jog(*ways[Qt.Key(key)])
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            self.finer(-1 if key == Qt.Key.Key_Plus else 1)
        else:
            return False
        return True

    def set_step(self, step_mm: float) -> None:
        """Move by so much with each press from now on."""
        self.step_mm = step_mm
        self.changed.emit()

    def finer(self, by: int) -> None:
        """Take a finer step, or a coarser one."""
        at = STEPS_MM.index(self.step_mm) + by
        self.set_step(STEPS_MM[min(max(at, 0), len(STEPS_MM) - 1)])

    def take_mark(self, mark: int, conductor: Conductor, count: int, hand_mm: float) -> None:
        """A mark is where the pointer is; with all of them it is known how the sheet lies."""
        self.places[mark] = self.at_mm
        self._reckon(conductor, count, hand_mm)
        self.changed.emit()

    def take_sheet(self) -> None:
        """How the sheet lies is known to the run: the next one lies otherwise."""
        self.places, self.aligned, self.has_moved, self.step_mm = {}, None, False, STEPS_MM[0]

    def forget_mark(self, mark: int) -> None:
        """A mark is to be found again."""
        self.places.pop(mark, None)
        self.aligned = None
        self.changed.emit()

    def _reckon(self, conductor: Conductor, count: int, hand_mm: float) -> None:
        from honest_edge.app.run.at_machine import sheet_aligned

        self.aligned = None
        if len(self.places) < count:
            return
        self._host.unsay()
        try:
            self.aligned = sheet_aligned(conductor.seal, self.listed(), hand_mm)
        except HonestEdgeError as error:
            self._host.say(f"{error}. Nothing was moved; find the marks anew.", tone="danger")
            self.places = {}

    def listed(self) -> tuple[tuple[int, float, float], ...]:
        """Return what was found, the first mark first."""
        return tuple((mark, *place) for mark, place in sorted(self.places.items()))

    # -- cutting -------------------------------------------------------------------------------------------

    def make_ready(self, conductor: Conductor, step: Step) -> None:
        """Find what a step would cut and write it down for the process; nothing moves."""
        if self.ready is not None and self.ready.step == step:
            return
        if self._readying.busy or self.why_unready:
            return
        folder, machine = self._folder(), self.machine_of(conductor)
        first = conductor.state.sheet(step.sheet).lines_done

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> Ready:
            from honest_edge.app.run.at_machine import strokes_there, will_move
            from honest_edge.files.atomic_write import write_set
            from honest_edge.files.machine_process import written_strokes

            there = strokes_there(conductor, step, machine)
            write_set(folder, {LINES_NAME: written_strokes(there)}, replace=True)
            to_mm, box_mm = will_move(there, min(first, len(there) - 1))
            lines = tuple(one.points for one in conductor.cut_strokes(step)[0])
            return Ready(step=step, lines=lines, to_mm=to_mm, box_mm=box_mm)

        self._readying.submit(work)

    def _on_ready(self, ready: object) -> None:
        self.ready = cast(Ready, ready)
        self.changed.emit()

    def _on_unready(self, words: str) -> None:
        self.why_unready = words
        self._host.say(words, tone="danger")
        self.changed.emit()

    def cut(self, step: Step, first: int) -> None:
        """Cut what a step is about, from a line on."""
        whole = 0 if self.ready is None else len(self.ready.lines)
        self.cutting, self.done, self.whole, self.is_sent, self.waits_for = step, first, whole, False, ""
        self.has_told(step)
        self._link.say(do="cut", file=str(self._folder() / LINES_NAME), log=str(self._log(step)), first=first)
        self._watch(True)
        self.changed.emit()

    def pause(self) -> None:
        """Stop after the line that is being cut, the blade up; nothing of the sheet's place is lost."""
        self._link.say(do="pause")

    def stop(self) -> None:
        """Stop at once."""
        self._link.say(do="stop")

    def _log(self, step: Step) -> Path:
        """Return where the process writes down how far a sheet's proof, or a pass of it, has come."""
        what = "proof" if step.key == "proof" else f"pass-{step.cut_pass + 1}"
        return self._folder() / f"machine-done-{step.sheet}-{what}.log"

    def is_untold(self, step: Step) -> bool:
        """Whether an earlier window's process wrote down of a step what the run does not know."""
        return self._log(step).exists()

    def has_told(self, step: Step) -> None:
        """The run knows how far a step has come."""
        self._log(step).unlink(missing_ok=True)

    def written_down(self, step: Step) -> tuple[int, int]:
        """Return how many lines the process of an earlier window wrote down as done, and how many more as begun."""
        from honest_edge.files.machine_process import lines_done

        try:
            return lines_done(self._log(step).read_bytes())
        except OSError:
            return 0, 0

    def went_wrong(self) -> None:
        """Somebody saw that it went wrong after all was sent; how far it came nobody knows."""
        self.stop()
        self._end({"stopped": "It went wrong", "sure": 0, "perhaps": self.whole})

    def has_stood_still(self) -> None:
        """Somebody saw that the machine has done all that was sent."""
        self._end({"cut": self.whole})

    def _end(self, what: dict[str, Any]) -> None:
        if self.cutting is None:
            return
        self._watch(False)
        step, self.cutting, self.is_sent, self.ready, self.why_unready = self.cutting, None, False, None, ""
        if "cut" in what:  # which ends where the machine's numbers begin
            self.at_mm, self.has_moved = self._home_mm, False
        elif at_mm := what.get("stands_at"):
            self.at_mm = (at_mm[0], at_mm[1])
        if "stopped" in what:
            self._leave()  # a controller that was reset is greeted anew
        self.has_told(step)
        self.cut_ended.emit({**what, "step": step})

    def _watch(self, on: bool) -> None:
        """While it cuts, Escape stops and Space pauses wherever the keys are."""
        if (application := QApplication.instance()) is not None:
            (application.installEventFilter if on else application.removeEventFilter)(self)

    def eventFilter(self, seen: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and not self.is_sent:
            act = {int(Qt.Key.Key_Escape): self.stop, int(Qt.Key.Key_Space): self.pause}.get(event.key())
            if act is not None:
                act()
                return True
        return super().eventFilter(seen, event)
