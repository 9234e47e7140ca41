"""Sends a cut to a machine, stroke by stroke, and knows at every moment what was surely cut and what perhaps.

With a language that answers, as many bytes are under way as the controller's buffer holds, and each "ok" frees those of
the oldest line: character counting, as open controllers ask for it. Who is silent is asked how it is: a long line, an
open lid and a button that was pressed are waited for. Where nothing answers the way itself holds back, or the sender
does, by how long the machine needs.
"""

from __future__ import annotations

import re
from collections import deque
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.sheet.strokes import Stroke, commanded
from honest_edge.core.values.errors import DeviceError, UsageError
from honest_edge.core.values.machine import Machine
from honest_edge.files.languages.language import Language
from honest_edge.files.pace import Pace
from honest_edge.files.ways import Way

_BUFFER_BYTES = 120  # controllers of this kind hold 128; one line that is only half there holds up the rest
_SILENT_S = 20.0
_STANDS_S, _LONGER = 0.3, 1.2  # of pacing: lifting and lowering, and what speeding up and slowing down take
_GREETING_S, _SLICE_S, _ASKED_S = 0.3, 0.1, 1.0
_IDLE_ASKED = 5  # so often a machine says that it is idle, before an answer is taken for lost
_WRONG = re.compile(r"(error|alarm)\b", re.IGNORECASE)
_STATE = re.compile(r"<(\w+)")
WAITS = {"hold": "its own button was pressed", "door": "its lid is open"}
"""What a machine waits for, by what it says of itself."""


def _nobody(_done: int) -> None:
    """Tell nobody how far it is."""


def _silently(_why: str) -> None:
    """Tell nobody what is waited for."""


class CutStoppedError(DeviceError):
    """Cutting ended before its end.

    Attributes:
        sure: how many strokes were surely cut.
        perhaps: how many more were perhaps begun.
    """

    def __init__(self, message: str, sure: int, perhaps: int) -> None:
        super().__init__(message)
        self.sure, self.perhaps = sure, perhaps


@dataclass(slots=True)
class _Sent:
    """A line under way: how many bytes it is, and the stroke that ends with it; -1 where none does."""

    size: int
    ends: int


class CutSender:
    """One cut on its way."""

    def __init__(
        self,
        way: Way,
        language: Language,
        machine: Machine,
        *,
        silent_s: float | None = None,
        pace: Pace | None = None,
    ) -> None:
        self._way, self._language, self._machine = way, language, machine
        self._silent_s = _SILENT_S if silent_s is None else silent_s
        self._pace = None if language.answers or way.holds_back else pace or Pace()
        self._under_way: deque[_Sent] = deque()
        self._heard = b""
        self.begun = self.done = self._first = 0
        self._is_open = False
        self._idle, self._waits_for = 0, ""
        self._waits: Callable[[str], object] = _silently
        self._is_stopped: Callable[[], bool] = lambda: False

    def open(self) -> None:
        """Hear the machine's greeting and tell it how it will be spoken to; nothing moves but the blade, upward.

        Raises:
            DeviceError: it is gone, silent, or says that something is wrong.
        """
        if not self._is_open:
            self._greet()
            for line in self._language.opening(self._machine):
                self._line(line, -1, _nobody)
                self._drain(_nobody, 0)  # nothing has moved yet: who does not answer now never gets to cut
            self._way.flush()
            self._is_open = True

    def move(self, to: tuple[float, float]) -> None:
        """Move slowly, the blade up, to a place of the machine's area; returns once it is there, where that is told.

        Raises:
            UsageError: it lies outside of the area.
            DeviceError: as for ``open``.
        """
        machine = self._machine
        if not (0 <= to[0] <= machine.width_mm and 0 <= to[1] <= machine.length_mm):
            raise UsageError(
                f"{to[0]:.1f}, {to[1]:.1f} mm lies outside of the {machine.width_mm:g} × {machine.length_mm:g} mm of "
                f"“{machine.name}”: nothing was moved"
            )
        self.open()
        ((x, y),) = commanded(np.array([to]), machine).tolist()
        for line in self._language.travel((x, y), machine):
            self._line(line, -1, _nobody)
        self._let_go(_nobody)

    def send(
        self,
        there: Sequence[Stroke],
        *,
        first: int = 0,
        told: Callable[[int], object] = _nobody,
        begins: Callable[[int], object] = _nobody,
        is_stopped: Callable[[], bool] = lambda: False,
        is_paused: Callable[[], bool] = lambda: False,
        waits: Callable[[str], object] = _silently,
    ) -> int:
        """Send strokes in the machine's frame; return how many are done: all, or as many as when it was to pause.

        Args:
            there: all of a sheet.
            first: the stroke to begin with, from 0.
            told: told how many strokes are done, after each.
            begins: told how many are begun, before anything of the last is sent.
            is_stopped: asked before each line, and ten times a second while an answer is waited for.
            is_paused: asked before each stroke: the blade is up then, and nothing of the sheet's place is lost.
            waits: told what the machine waits for where it says so, one of ``WAITS``; "" once it goes on.

        Raises:
            CutStoppedError: the machine is gone, silent, says that something is wrong, or ``is_stopped`` said so; the
                blade was lifted as far as that can be said to it.
        """
        self.begun = self.done = self._first = first
        self._is_stopped, self._waits = is_stopped, waits
        try:
            self.open()
            if not self._strokes(there, first, (told, begins), is_paused):
                return self.done
            for line in self._language.closing(self._machine):
                self._line(line, -1, told)
            self._let_go(told)
        except BaseException as error:
            self._stop()
            if not isinstance(error, (DeviceError, KeyboardInterrupt)):
                raise
            words = "It was stopped" if isinstance(error, KeyboardInterrupt) else str(error).rstrip(".")
            sure = self.done if self.is_answered else first  # what was only taken may still wait in a buffer
            raise CutStoppedError(words, sure, self.begun - sure) from None
        finally:
            self._is_stopped, self._waits = lambda: False, _silently
        return len(there)

    def _strokes(
        self,
        there: Sequence[Stroke],
        first: int,
        tells: tuple[Callable[[int], object], Callable[[int], object]],
        is_paused: Callable[[], bool],
    ) -> bool:
        """Send strokes; return whether all of them went."""
        pen, at, (told, begins) = 0, None, tells
        for number in range(first, len(there)):
            if is_paused():
                self._let_go(told)
                return False
            one = replace(there[number], points=commanded(there[number].points, self._machine))
            lines = self._language.stroke(one, self._machine, pen)
            share_s = self._seconds(one, at) / max(1, sum(map(len, lines)))
            pen, at, self.begun = one.pen, one.points[-1], number + 1
            begins(self.begun)
            for index, line in enumerate(lines):
                self._line(line, number if index == len(lines) - 1 else -1, told, len(line) * share_s)
            if not self._language.answers or not lines:
                self._end(number, told)
        return True

    def _seconds(self, one: Stroke, at: Floats | None) -> float:
        """Return how long a stroke takes from the end of the one before it, reckoned rather too long."""
        way_mm = 0.0 if at is None else float(np.hypot(*(one.points[0] - at)))
        return _STANDS_S + _LONGER * (way_mm + one.length_mm) / (one.speed_mm_s or self._machine.speed_mm_s)

    @property
    def is_answered(self) -> bool:
        """Whether the machine says what it has done; if not, all that is known is what was sent."""
        return self._language.answers and self._way.hears

    def _greet(self) -> None:
        """Hear what a controller says of itself when a way to it is opened; that is no answer to anything.

        A plug that was pulled in the middle of a line leaves half of one behind: it is forgotten first.
        """
        if self._language.answers and self._way.hears:
            if self._language.hello:
                self._way.write(self._language.hello)
            while self._way.read(_GREETING_S):
                pass

    def _line(self, line: str, ends: int, told: Callable[[int], object], seconds: float = 0.0) -> None:
        data = line.encode("ascii") + self._language.line_end
        has_room = self._pace is None or self._pace.wait(len(data), seconds, self._is_stopped)
        if not has_room or self._is_stopped():
            raise DeviceError("It was stopped")
        if self._language.answers:
            self._drain(told, _BUFFER_BYTES - len(data))
            self._under_way.append(_Sent(len(data), ends))
        self._way.write(data)

    def _drain(self, told: Callable[[int], object], room: int) -> None:
        """Wait until no more than so many bytes are under way."""
        while self._under_way and sum(sent.size for sent in self._under_way) > max(0, room):
            self._hear(told)

    def _let_go(self, told: Callable[[int], object]) -> None:
        """Wait until all that was sent is taken."""
        self._drain(told, 0)
        self._way.flush()

    def _hear(self, told: Callable[[int], object]) -> None:
        if not self._way.hears:
            while self._under_way:
                self._answered(told)
            return
        data = self._answer()
        if not data:
            raise DeviceError(
                f"{self._way.name} has answered nothing for {self._silent_s:.0f} s: is {self._language.title} its "
                "language, and the speed right?"
            )
        *lines, self._heard = (self._heard + data).split(b"\n")
        for line in lines:
            self._take(line.decode("ascii", "replace").strip(), told)

    def _answer(self) -> bytes:
        """Return what the machine says next; empty where it is silent for too long. A stop is not waited with."""
        silent_s = asked_s = 0.0
        while not (data := self._way.read(min(self._silent_s - silent_s, _SLICE_S))):
            if self._is_stopped():
                raise DeviceError("It was stopped")
            silent_s += _SLICE_S
            if silent_s >= self._silent_s:
                return b""
            if self._language.status and silent_s - asked_s >= _ASKED_S:
                self._way.write(self._language.status)
                asked_s = silent_s
        return data

    def _take(self, answer: str, told: Callable[[int], object]) -> None:
        if (state := _STATE.match(answer)) is not None:
            self._is_so(state[1].lower())
        elif answer == "ok":
            self._idle = 0
            self._wait_for("")
            if not self._under_way:
                raise DeviceError(f"{self._way.name} answers more often than it was asked")
            self._answered(told)
        elif _WRONG.match(answer):
            raise DeviceError(f"{self._way.name} says “{answer[:60]}”")
        elif answer and not answer.startswith(("[", "$", "(", ";")) and self.begun > self._first:
            raise DeviceError(f"{self._way.name} answers “{answer[:60]}”, which no controller of this language says")

    def _is_so(self, state: str) -> None:
        """Take what the machine says of itself while it is waited for."""
        if state == "alarm":
            raise DeviceError(f"{self._way.name} says that something is wrong, and moves no more")
        self._idle = self._idle + 1 if state == "idle" else 0
        if self._idle >= _IDLE_ASKED:
            raise DeviceError(f"{self._way.name} is idle, and one of its answers was lost")
        self._wait_for(WAITS.get(state, ""))

    def _wait_for(self, why: str) -> None:
        if why != self._waits_for:
            self._waits_for = why
            self._waits(why)

    def _answered(self, told: Callable[[int], object]) -> None:
        sent = self._under_way.popleft()
        if sent.ends >= 0:
            self._end(sent.ends, told)

    def _end(self, number: int, told: Callable[[int], object]) -> None:
        self.done = number + 1
        told(self.done)

    def _stop(self) -> None:
        """Stop the machine past everything that waits, as far as it can still be reached."""
        self._way.forget()
        if self._pace is not None:
            self._pace.forget()
        try:
            self._way.write(self._language.stop)
        except DeviceError:
            return
