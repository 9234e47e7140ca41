"""Cuts sent to a simulated cutter that shares no code with the sender, through everything that goes wrong."""

import math
import random
import re
import shutil
import subprocess

import numpy as np
import pytest
from gcodeparser import parse_gcode_lines

from cutters import NearWay, ring, sheet_of_rings, simulated
from honest_edge.core.sheet.strokes import Seat, seated, strokes
from honest_edge.core.values.errors import BlockedError, DeviceError, UsageError
from honest_edge.core.values.machine import DirectUse, LineUse, LineUses, Machine
from honest_edge.files.languages import LANGUAGES
from honest_edge.files.languages.language import whole_file
from honest_edge.files.pace import Pace
from honest_edge.files.send_cut import CutSender, CutStoppedError
from honest_edge.files.ways import open_way
from honest_edge.simulator.cutter_faults import FAULTS

SHEET = sheet_of_rings()
BLADES = {
    "z": DirectUse(),
    "servo": DirectUse(blade="servo", up_s=0, down_s=60),
    "laser": DirectUse(blade="laser", down_s=300),
}


def sent(cutter, language, there=SHEET, machine=None, **options):
    way = NearWay(cutter, hears=options.pop("hears", language == "gcode"))
    sender = CutSender(way, LANGUAGES[language], machine or Machine(), silent_s=0.0)
    sender.send(there, **options)
    return sender


@pytest.mark.parametrize("language", LANGUAGES)
@pytest.mark.parametrize("blade", BLADES)
def test_what_is_cut_is_what_was_meant_in_its_order(language, blade):
    cutter, told = simulated(language), []
    sent(cutter, language, machine=Machine(direct=BLADES[blade]), told=told.append)
    assert len(cutter.strokes) == len(SHEET)
    for cut, meant in zip(cutter.strokes, SHEET, strict=True):
        assert np.abs(cut - meant.points).max() <= 0.03, "every point within 0.03 mm of the plan"
    assert told == list(range(1, len(SHEET) + 1))
    assert cutter.refused == []
    assert not cutter.is_stopped


def test_plot_text_is_absolute_in_units_of_a_fortieth_of_a_millimetre_with_the_pen_of_each_kind():
    text = whole_file(LANGUAGES["hpgl"], SHEET, Machine()).decode()
    commands = [part.strip() for part in text.split(";") if part.strip()]
    assert commands[:3] == ["IN", "PA", "PU"]
    assert commands[-2:] == ["PU0,0", "SP0"]
    assert [part for part in commands if part.startswith("SP")] == ["SP1", "SP4", "SP0"]
    assert f"PU{25 * 40},{20 * 40}" in commands  # by hand: the first ring begins at 20 + 5, 20
    assert not [part for part in commands if not re.fullmatch(r"IN|PA|SP\d|PU(\d+,\d+)?|PD\d+(,\d+)+", part)]
    assert text.isascii()


def test_g_code_is_metric_absolute_and_lifts_before_it_travels():
    lines = whole_file(LANGUAGES["gcode"], SHEET[:1], Machine(speed_mm_s=50)).decode().splitlines()
    assert lines[:4] == ["G21", "G90", "G94", "G0 Z3"]
    assert lines[4:7] == ["G0 X25 Y20", "G1 Z-0.3 F300", lines[6]]
    assert lines[6].endswith("F3000")  # 50 mm/s are 3000 mm a minute
    assert lines[-3:] == ["G0 Z3", "G0 X0 Y0", "M2"]


def test_passes_and_kinds_follow_the_profile():
    from honest_edge.core.geometry.paths import CurveRing

    corners = np.array([(0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0)])
    ends = np.roll(corners, -1, axis=0)
    cubics = np.stack([corners, corners + (ends - corners) / 3, corners + (ends - corners) * 2 / 3, ends], 1)
    square = CurveRing(cubics, np.ones(4, bool))
    uses = LineUses().with_use("kiss", LineUse(colour=(1, 2, 3), pen=2, passes=2))
    made = strokes({"kiss": (square, square), "through": (square,)}, Machine(lines=uses))
    assert [(one.kind, one.pen) for one in made] == [("kiss", 2)] * 4 + [("through", 4)]
    assert made[0].length_mm == pytest.approx(40.0)


def test_a_sheet_is_moved_turned_and_scaled_with_y_upward():
    # by hand: (10, 20) of a sheet 100 high is (10, 80) upward; turned by 90 degrees (-80, 10); times two; moved
    seat = Seat(turn_rad=math.pi / 2, scale=2.0, shift_mm=(200.0, 5.0))
    assert seat.placed(np.array([[10.0, 20.0]]), 100.0)[0] == pytest.approx((40.0, 25.0))


def test_what_leaves_the_machine_is_refused_before_anything_moves():
    with pytest.raises(BlockedError, match=r"15\.0 mm beyond the 50 × 600 mm"):
        seated([ring(60, 20)], Seat(), 100.0, Machine(width_mm=50.0))
    with pytest.raises(BlockedError, match=r"5\.0 mm beyond"):
        seated([ring(0, 20)], Seat(), 100.0, Machine())
    assert len(seated([ring(20, 20)], Seat(), 100.0, Machine())) == 1


def test_g_code_is_read_back_by_a_reader_of_other_people():
    """gcodeparser reads the words; which blade moves follow from them is reckoned here."""
    text = whole_file(LANGUAGES["gcode"], SHEET, Machine()).decode()
    read, at, is_down = [], {"X": 0.0, "Y": 0.0}, False
    for line in parse_gcode_lines(text, include_comments=False):
        if "Z" in line.params:
            is_down = line.params["Z"] <= 0
            if is_down:
                read.append([(at["X"], at["Y"])])
        if line.command in (("G", 0), ("G", 1)) and {"X", "Y"} & set(line.params):
            at |= {axis: value for axis, value in line.params.items() if axis in at}
            assert not (is_down and line.command == ("G", 0)), "no travel with the blade down"
            if is_down:
                read[-1].append((at["X"], at["Y"]))
    assert len(read) == len(SHEET)
    for line, meant in zip(read, SHEET, strict=True):
        assert np.abs(np.array(line) - meant.points).max() <= 0.03


def test_plot_text_is_read_back_by_a_converter_of_other_people(tmp_path):
    """hp2xx of Debian draws in true size, from the lower left corner of what is drawn."""
    if shutil.which("hp2xx") is None:
        pytest.skip("hp2xx is not on this machine: apt-get install hp2xx")
    plot, drawn = tmp_path / "sheet.plt", tmp_path / "sheet.eps"
    plot.write_bytes(whole_file(LANGUAGES["hpgl"], SHEET, Machine()))
    subprocess.run(["hp2xx", "-q", "-t", "-m", "eps", "-f", drawn, plot], check=True, capture_output=True)
    lines = []
    for x, y, word in re.findall(r"(-?[0-9.]+) +(-?[0-9.]+) (M|D)", drawn.read_text()):
        if word == "M":
            lines.append([])
        lines[-1].append((float(x), float(y)))
    lines = [np.array(line) for line in lines if len(line) > 1]  # a move alone draws nothing
    corner = np.concatenate([one.points for one in SHEET]).min(axis=0)
    assert len(lines) == len(SHEET)
    for line, meant in zip(lines, SHEET, strict=True):
        assert np.abs(line + corner - meant.points).max() <= 0.03


WAITING = {"paused": "its own button was pressed", "lid": "its lid is open"}


@pytest.mark.parametrize("fault", WAITING)
def test_a_machine_that_waits_for_a_hand_is_waited_for_and_why_is_told(fault):
    cutter, waited = simulated("gcode", fault=fault, after=4), []
    way = NearWay(cutter)
    CutSender(way, LANGUAGES["gcode"], Machine(), silent_s=3.0).send(SHEET, waits=waited.append)
    assert waited == [WAITING[fault], ""]
    assert cutter.refused == [], "it holds no more than its buffer"
    assert len(cutter.strokes) == len(SHEET)
    for cut, meant in zip(cutter.strokes, SHEET, strict=True):
        assert np.abs(cut - meant.points).max() <= 0.03


class Losing(NearWay):
    """Loses one answer, or says of itself what it is told to say."""

    def __init__(self, cutter, lost, state=""):
        super().__init__(cutter, piece=400)
        self._lost, self._state = lost, state

    def read(self, wait_s):
        data = super().read(wait_s)
        if self._state:
            data = re.sub(rb"<\w+", b"<" + self._state, data)
        if self._lost > 0 and b"ok\n" in data:
            self._lost -= 1
            data = data if self._lost else data.replace(b"ok\n", b"", 1)
        return data


def test_an_answer_that_was_lost_is_found_by_asking_and_a_machine_at_work_is_never_given_up():
    cutter = simulated("gcode")
    with pytest.raises(CutStoppedError, match="is idle, and one of its answers was lost") as stop:
        CutSender(Losing(cutter, 12), LANGUAGES["gcode"], Machine(), silent_s=3.0).send(SHEET)
    assert stop.value.sure <= len(cutter.strokes) <= stop.value.sure + stop.value.perhaps
    with pytest.raises(CutStoppedError, match="something is wrong, and moves no more"):
        CutSender(Losing(simulated("gcode"), 9, b"Alarm"), LANGUAGES["gcode"], Machine(), silent_s=3.0).send(SHEET)
    asked = []

    def is_stopped():  # a hand ends it: by itself it would go on waiting
        return len(asked) > 200

    class Busy(Losing):
        def write(self, data):
            asked.append(data)
            super().write(data)

    sender = CutSender(Busy(simulated("gcode"), 9, b"Run"), LANGUAGES["gcode"], Machine(), silent_s=3.0)
    with pytest.raises(CutStoppedError, match="It was stopped"):
        sender.send(SHEET, is_stopped=is_stopped)


@pytest.mark.parametrize("fault", [name for name in FAULTS if name not in ("late", "lost", *WAITING)])
@pytest.mark.parametrize("seed", range(12))
def test_after_any_fault_it_is_known_what_was_surely_cut_and_what_perhaps(fault, seed):
    chance = random.Random(seed)
    after = chance.randrange(len(SHEET))
    cutter = simulated("gcode", fault=fault, after=after)
    way = NearWay(cutter, piece=chance.choice((1, 3, 40, 400)))
    with pytest.raises(CutStoppedError) as stop:
        CutSender(way, LANGUAGES["gcode"], Machine(), silent_s=0.0).send(SHEET)
    sure, perhaps = stop.value.sure, stop.value.perhaps
    cut_whole = [one for one, meant in zip(cutter.strokes, SHEET, strict=False) if len(one) == len(meant.points)]
    assert sure <= len(cut_whole) <= len(cutter.strokes) <= sure + perhaps, "one that was torn is among the doubtful"
    assert len(str(stop.value).splitlines()) == 1
    again = simulated("gcode")
    CutSender(NearWay(again), LANGUAGES["gcode"], Machine(), silent_s=0.0).send(SHEET, first=len(cut_whole))
    whole = [*cut_whole, *again.strokes]
    assert len(whole) == len(SHEET), "no line twice, none left out"
    for cut, meant in zip(whole, SHEET, strict=True):
        assert np.abs(cut - meant.points).max() <= 0.03, "and none across the sheet"


def test_half_a_line_that_a_pulled_plug_left_behind_moves_nothing():
    cutter = simulated("gcode")
    cutter.feed(b"G1 Z-0.3\nG1 X50 Y50 F3000\nG1 X100 Y")
    before = len(cutter.strokes)
    sent(cutter, "gcode")
    torn, *whole = cutter.strokes[before:]
    assert torn.tolist() == [[0, 0], [50, 50]], "what was under way ends where it was, lifted"
    assert len(whole) == len(SHEET)
    assert cutter.refused == []


def test_what_nothing_confirms_is_never_said_to_be_surely_cut():
    cutter, lines = simulated("hpgl"), iter(range(1000))
    with pytest.raises(CutStoppedError) as stop:
        sent(cutter, "hpgl", is_stopped=lambda: next(lines) > 30)
    assert stop.value.sure == 0
    assert stop.value.perhaps >= len(cutter.strokes) > 0


@pytest.mark.parametrize("blade", BLADES)
def test_every_stroke_ends_with_a_dwell_whose_answer_says_that_it_was_moved(blade):
    lines = LANGUAGES["gcode"].stroke(SHEET[0], Machine(direct=BLADES[blade]), 0)
    assert lines[-1].startswith("G4 P")


def test_a_controller_that_never_answers_never_gets_to_move():
    cutter = simulated("gcode", fault="silent")
    with pytest.raises(CutStoppedError, match="answered nothing"):
        sent(cutter, "gcode")
    assert cutter._at == (0.0, 0.0)
    assert cutter.strokes == []


@pytest.mark.parametrize("language", LANGUAGES)
def test_a_stop_lifts_the_blade_and_nothing_follows(language):
    cutter, lines = simulated(language), iter(range(1000))
    with pytest.raises(CutStoppedError, match="It was stopped"):
        sent(cutter, language, is_stopped=lambda: next(lines) > 30)
    assert cutter.is_stopped
    assert not cutter._is_down
    before = len(cutter.strokes)
    cutter.feed(b"PD400,400;" if language == "hpgl" else b"G1 X10 Y10\n")
    assert len(cutter.strokes) == before


def test_no_more_is_under_way_than_a_controller_s_buffer_holds():
    class Slow(NearWay):
        """Answers only when it is asked for, so that what waits is seen."""

        waiting = 0

        def write(self, data):
            self.waiting += len(data)
            self.most_waiting = max(self.most_waiting, self.waiting)
            super().write(data)

        def read(self, wait_s):
            data = super().read(wait_s)
            self.waiting = 0 if not self._answers else self.waiting
            return data

    way = Slow(simulated("gcode"), piece=400)
    CutSender(way, LANGUAGES["gcode"], Machine(), silent_s=0.0).send(SHEET)
    assert way.most_waiting <= 128


@pytest.mark.parametrize(
    "text",
    ["", "ftp://x", "tcp://nohost", "tcp://h:99999", "serial:", "serial:/dev/x?baud=7", "serial:/dev/x?speed=9600"],
)
def test_ways_that_name_nothing_are_refused_with_how_to_write_them(text):
    with pytest.raises(UsageError, match=r"write|way"):
        open_way(text)


def test_ports_that_are_not_there_end_in_one_line(tmp_path):
    with pytest.raises(DeviceError, match="is not there: is the machine plugged in"):
        open_way(f"serial:{tmp_path}/ttyUSB9?baud=9600")
    with pytest.raises(DeviceError, match="is the machine on, and the port right"):
        open_way("tcp://127.0.0.1:1")
    (tmp_path / "old.hpgl").write_text("x")
    with pytest.raises(DeviceError, match="there already"):
        open_way(str(tmp_path / "old.hpgl"))


class Time:
    """Goes by only where somebody waits."""

    def __init__(self):
        self.now = 0.0

    def __call__(self):
        return self.now

    def sleep(self, seconds):
        self.now += seconds


class Takes(NearWay):
    """Takes whatever comes, as a serial port without flow control does, and notes when."""

    holds_back = False

    def __init__(self, time):
        super().__init__(simulated("hpgl"), hears=False, piece=4096)
        self._time, self.sent = time, []

    def write(self, data):
        self.sent.append((self._time(), len(data)))
        super().write(data)


def test_where_nothing_holds_back_no_more_is_sent_than_a_plotter_holds_by_the_time_it_needs():
    time = Time()
    way, machine = Takes(time), Machine(speed_mm_s=40.0)
    CutSender(way, LANGUAGES["hpgl"], machine, pace=Pace(time, time.sleep)).send(SHEET)
    assert len(way.cutter.strokes) == len(SHEET)
    # by hand: a ring of 5 mm is 31 mm long; the plotter obeys at 40 mm/s what came first, and holds the rest
    whole_s = sum(one.length_mm for one in SHEET) / 40.0
    bytes_a_s = sum(size for _, size in way.sent) / whole_s
    for at_s, _ in way.sent:
        came = sum(size for then_s, size in way.sent if then_s <= at_s)
        assert came - bytes_a_s * at_s <= 1024
    assert 0.7 * whole_s <= way.sent[-1][0] <= 2 * whole_s + 0.3 * len(SHEET), "and it is not kept waiting"


def test_a_stop_does_not_wait_for_the_pace():
    time = Time()
    way = Takes(time)
    sender = CutSender(way, LANGUAGES["hpgl"], Machine(speed_mm_s=1.0), pace=Pace(time, time.sleep))
    with pytest.raises(CutStoppedError):
        sender.send(SHEET, is_stopped=lambda: time() > 5.0)
    assert time() <= 5.2
    assert not way.cutter._is_down


@pytest.fixture
def queue(tmp_path, monkeypatch):
    """A queue of a system whose ``lp`` keeps each job, and the arguments it was given with, in a file of its own."""
    command = tmp_path / "bin" / "lp"
    command.parent.mkdir()
    command.write_text(
        f'#!/bin/sh\nif [ "$2" = closed ]; then echo "lp: closed does not accept jobs" >&2; exit 1; fi\n'
        f'n=$(ls {tmp_path} | grep -c job)\necho "$*" > {tmp_path}/job-$n.said\ncat > {tmp_path}/job-$n\n'
    )
    command.chmod(0o755)
    monkeypatch.setenv("PATH", f"{command.parent}:/usr/bin:/bin")
    return lambda: [
        path.read_bytes() for path in sorted(tmp_path.glob("job-?"), key=lambda path: path.stat().st_mtime_ns)
    ]


def test_a_queue_takes_a_cut_as_one_job_as_it_is_and_moves_as_jobs_of_their_own(queue, tmp_path):
    sender = CutSender(open_way("queue:Cutter"), LANGUAGES["hpgl"], Machine())
    sender.move((20.0, 30.0))
    assert queue() == [b"IN;\nPA;\nPU;\n", b"PU800,1200;\n"]
    sender.send(SHEET)
    *_, whole = queue()
    assert len(queue()) == 3
    assert not sender.is_answered
    assert (tmp_path / "job-0.said").read_text().split() == ["-d", "Cutter", "-o", "raw", "-t", "Honest", "Edge"]
    cutter = simulated("hpgl")
    cutter.feed(whole)
    for cut, meant in zip(cutter.strokes, SHEET, strict=True):
        assert np.abs(cut - meant.points).max() <= 0.03


def test_what_was_stopped_before_a_queue_had_it_is_never_handed_on(queue):
    sender = CutSender(open_way("queue:Cutter"), LANGUAGES["hpgl"], Machine())
    sender.open()
    with pytest.raises(CutStoppedError):
        sender.send(SHEET, is_stopped=lambda: sender.begun > 4)
    sender.move((20.0, 30.0))
    assert [job for job in queue() if b"PD" in job] == []


def test_a_queue_that_takes_nothing_says_why_in_one_line(queue, monkeypatch):
    with pytest.raises(DeviceError, match=r"“closed” took nothing .*does not accept jobs"):
        CutSender(open_way("queue:closed"), LANGUAGES["hpgl"], Machine()).open()
    monkeypatch.setenv("PATH", "/nowhere")
    with pytest.raises(DeviceError, match="no lp command"):
        CutSender(open_way("queue:Cutter"), LANGUAGES["hpgl"], Machine()).open()
    with pytest.raises(UsageError, match="lpstat -e"):
        open_way("queue:-x")
