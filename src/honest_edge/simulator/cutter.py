"""A cutter that stands in for a real one: it takes HP-GL or G-code, moves, answers, fails when told, keeps what it cut.

It is written from the languages' manuals and shares no code with what sends to it.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from honest_edge.core.geometry.paths import Floats

CutterLanguage = Literal["hpgl", "gcode"]
LOST_MM = 0.5
_UNIT_MM = 0.025  # HP-GL's plotter unit
_WORD = re.compile(r"([A-Z])\s*([-+]?(?:\d+\.?\d*|\.\d+))")
_RESET, _HOLD, _STATUS, _ABORT = b"\x18", b"!", b"?", b"\x1b.K"
_BUFFER_BYTES = 128  # what a controller of this kind holds before it has obeyed; more is lost
_ASKED, _STATES = 3, {"paused": "Hold:0", "lid": "Door:1"}
_BLADE_AT_MM = 0.0  # with the third axis at this height or below the blade is in the stock


@dataclass(slots=True)
class Moves:
    """How a machine moves: with one acceleration, standing still where a stroke begins and ends."""

    acceleration_mm_s2: float = 800.0
    travel_mm_s: float = 300.0
    seconds: float = 0.0

    def add(self, length_mm: float, speed_mm_s: float) -> None:
        """Count a way from standstill to standstill."""
        if length_mm > 0:
            speed = min(speed_mm_s, math.sqrt(length_mm * self.acceleration_mm_s2))
            self.seconds += length_mm / speed + speed / self.acceleration_mm_s2


class Unplugged(Exception):  # noqa: N818 - the machine's end, no error of the program
    """The machine is gone."""


@dataclass
class SimulatedCutter:
    """A cutter that is fed bytes and gives back its answers.

    Attributes:
        language: what it takes.
        width_mm, length_mm: its area.
        seat: (2, 3) from where it is told to cut to where it does: its hidden error.
        fault: what goes wrong, if anything; one of ``FAULTS``.
        after: how many strokes that takes.
        held_for: how often it is asked how it is before a hand frees it.
        moves: how it moves, and how long that took.
    """

    language: CutterLanguage
    width_mm: float = 300.0
    length_mm: float = 600.0
    seat: Floats = field(default_factory=lambda: np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]]))
    fault: str = ""
    after: int = 0
    held_for: float = _ASKED
    moves: Moves = field(default_factory=Moves)

    def __post_init__(self) -> None:
        self.strokes: list[Floats] = []
        self._line: list[tuple[float, float]] = []
        self._at = (0.0, 0.0)
        self._is_down = self.is_stopped = False
        self._waiting = b""
        self._modes = {"motion": 0.0, "unit": 1.0, "is_relative": 0.0, "feed": 600.0, "spindle": 0.0}
        self.refused: list[str] = []
        self._asked = 0

    @property
    def cut_mm(self) -> float:
        """Length of all that was cut."""
        return sum(float(np.hypot(*np.diff(one, axis=0).T).sum()) for one in self.strokes)

    @property
    def has_failed(self) -> bool:
        """Whether what is to go wrong has gone wrong."""
        return bool(self.fault) and len(self.strokes) >= self.after

    @property
    def is_held(self) -> bool:
        """Whether it waits for a hand: a button, or a lid."""
        return self.has_failed and self.fault in _STATES and self.language == "gcode" and self._asked < self.held_for

    # -- what it is fed ------------------------------------------------------------------------------

    def feed(self, data: bytes) -> bytes:
        """Take bytes and return what it answers to them.

        Raises:
            Unplugged: it is gone.
        """
        self._waiting += data
        answers = self._at_once()
        if self.language == "gcode" and self.is_held and len(self._waiting) > _BUFFER_BYTES:
            self.refused.append("more than its buffer holds")
            self._waiting = self._waiting[:_BUFFER_BYTES]
        end = b";" if self.language == "hpgl" else b"\n"
        while end in self._waiting and not self.is_held:
            command, _, self._waiting = self._waiting.partition(end)
            if self.has_failed and self.fault == "unplugged":
                raise Unplugged
            if self.is_stopped or (self.has_failed and self.fault == "jam"):
                continue
            text = command.decode("ascii", "replace").strip()
            said = self._hpgl(text) if self.language == "hpgl" else self._gcode(text)
            answers += self._answered(said)
        return answers

    def _at_once(self) -> bytes:
        """Obey what does not wait in the queue."""
        for mark in (_ABORT,) if self.language == "hpgl" else (_HOLD, _RESET):
            if mark in self._waiting:
                self._waiting = self._waiting.rpartition(mark)[2]
                self.is_stopped |= mark != _RESET  # a reset while nothing moves only empties what waits
                self._lift()
        if self.language == "gcode" and _STATUS in self._waiting:
            self._waiting = self._waiting.replace(_STATUS, b"")
            if self.fault == "silent" or (self.has_failed and self.fault == "jam"):
                return b""
            state = _STATES[self.fault] if self.is_held else "Idle"
            self._asked += self.is_held
            return f"<{state}|MPos:{self._at[0]:.3f},{self._at[1]:.3f},0.000>\n".encode()
        return b""

    def _answered(self, said: str) -> bytes:
        if self.has_failed and self.fault == "nonsense":
            said = "\x7f#wobble"
        if self.has_failed and self.fault == "alarm":
            said, self.is_stopped = "ALARM:3", True
            self._lift()
        if self.fault == "silent" or not said:
            return b""
        return f"{said}\n".encode()

    # -- HP-GL ---------------------------------------------------------------------------------------

    def _hpgl(self, text: str) -> str:
        name, rest = text[:2].upper(), text[2:]
        numbers = [float(part) for part in re.findall(r"[-+]?\d+(?:\.\d+)?", rest)]
        if name in ("PU", "PD"):
            self._press(name == "PD")
            self._go(numbers)
        elif name in ("PA", "PR"):
            self._modes["is_relative"] = float(name == "PR")
            self._go(numbers)
        elif name == "IN":
            self._press(False)
            self._modes["is_relative"] = 0.0
        elif name == "OA":
            return f"{self._at[0] / _UNIT_MM:.0f},{self._at[1] / _UNIT_MM:.0f},{int(self._is_down)}"
        elif name == "OS":
            return "16"
        elif name not in ("SP", "VS", "FS", ""):
            self.refused.append(text[:40])
        return ""

    def _go(self, numbers: list[float]) -> None:
        for x, y in zip(numbers[::2], numbers[1::2], strict=False):
            place = x * _UNIT_MM, y * _UNIT_MM
            if self._modes["is_relative"]:
                place = self._at[0] + place[0], self._at[1] + place[1]
            self._move(place, 100.0 if self._is_down else self.moves.travel_mm_s)

    # -- G-code --------------------------------------------------------------------------------------

    def _gcode(self, text: str) -> str:
        bare = re.sub(r"\(.*?\)|;.*", "", text).upper()
        words = [(letter, float(value)) for letter, value in _WORD.findall(bare)]
        if bare.strip() and not words:
            self.refused.append(text[:40])
            return "error:1"
        given = dict(words)
        for code in (value for letter, value in words if letter == "G"):
            if code in (0, 1):
                self._modes["motion"] = code
            elif code in (20, 21):
                self._modes["unit"] = 25.4 if code == 20 else 1.0
            elif code in (90, 91):
                self._modes["is_relative"] = float(code == 91)
            elif code == 4:
                self.moves.seconds += given.get("P", 0.0)
                return "ok"
            elif code not in (17, 94):
                self.refused.append(text[:40])
                return "error:20"
        self._modes["feed"] = given.get("F", self._modes["feed"])
        self._spindle(given, [value for letter, value in words if letter == "M"])
        if "Z" in given:
            self._press(given["Z"] * self._modes["unit"] <= _BLADE_AT_MM)
        if "X" in given or "Y" in given:
            return self._gcode_move(given)
        return "ok"

    def _spindle(self, given: dict[str, float], codes: list[float]) -> None:
        if 5.0 in codes or 2.0 in codes:
            self._press(False)
        elif 3.0 in codes or 4.0 in codes:
            self._press(given.get("S", self._modes["spindle"]) > 0)
        self._modes["spindle"] = given.get("S", self._modes["spindle"])

    def _gcode_move(self, given: dict[str, float]) -> str:
        unit, is_relative = self._modes["unit"], self._modes["is_relative"]
        place = tuple(
            self._at[axis] if name not in given else given[name] * unit + (self._at[axis] if is_relative else 0.0)
            for axis, name in enumerate("XY")
        )
        if not (-0.01 <= place[0] <= self.width_mm + 0.01 and -0.01 <= place[1] <= self.length_mm + 0.01):
            self.is_stopped = True
            self._lift()
            return "ALARM:2"
        is_rapid = self._modes["motion"] == 0
        self._move((place[0], place[1]), self.moves.travel_mm_s if is_rapid else self._modes["feed"] / 60)
        return "ok"

    # -- the blade -----------------------------------------------------------------------------------

    def _press(self, is_down: bool) -> None:
        if is_down and not self._is_down:
            self._line = [self._at]
        elif not is_down:
            self._lift()
        self._is_down = is_down

    def _lift(self) -> None:
        if self._is_down and len(self._line) > 1:
            points = np.array(self._line)
            if self.fault == "lost" and self.has_failed:
                points = points + np.array([LOST_MM, 0.0])
            self.strokes.append(points @ self.seat[:, :2].T + self.seat[:, 2])
        self._line, self._is_down = [], False

    def _move(self, place: tuple[float, float], speed_mm_s: float) -> None:
        self.moves.add(math.dist(self._at, place), speed_mm_s)
        self._at = place
        if self._is_down:
            self._line.append(place)

    def drawn(self) -> bytes:
        """Return an SVG of what was cut, y upward, in millimetres."""
        wide, high = self.width_mm, self.length_mm
        lines = "\n".join(
            '<polyline points="' + " ".join(f"{x:.3f},{high - y:.3f}" for x, y in one.tolist()) + '"/>'
            for one in self.strokes
        )
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:g}mm" height="{high:g}mm" '
            f'viewBox="0 0 {wide:g} {high:g}">\n<rect width="{wide:g}" height="{high:g}" fill="#fff"/>\n'
            f'<g fill="none" stroke="#22305e" stroke-width="0.2">\n{lines}\n</g>\n</svg>\n'
        ).encode()
