"""The command ``cutter``: a cutter that stands in for a real one, behind a TCP port or a pseudo terminal."""

from __future__ import annotations

import argparse
import os
import socket
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any

from honest_edge.core.values.errors import DeviceError, UsageError

if TYPE_CHECKING:
    from honest_edge.simulator.cutter import SimulatedCutter

_LATE_S, _POLL_S = 0.5, 0.2


def about_cutter() -> dict[str, Any]:
    """Return how the command is explained."""
    return {
        "help": "stand in for a cutter",
        "description": "Stand in for a cutter that takes HP-GL or G-code: it moves, answers, and draws what it cut.\n"
        "It goes on until it is stopped (Ctrl+C), or ends with its first visitor (--once).",
        "epilog": "example:\n  honest-edge cutter --language gcode --tcp 9100 --draw cut.svg\n"
        "  honest-edge cut labels.hedge --to tcp://localhost:9100 --language gcode --unaligned\n\n"
        "Exit codes: 0 done; 2 wrong usage, or the port cannot be had.",
    }


def add_cutter(command: argparse.ArgumentParser) -> None:
    """Add the command's options."""
    from honest_edge.simulator.cutter_faults import FAULTS

    command.add_argument("--language", choices=("hpgl", "gcode"), required=True)
    way = command.add_mutually_exclusive_group(required=True)
    way.add_argument("--tcp", metavar="PORT", type=int, help="listen there; 0 takes a free one and says which")
    way.add_argument("--pty", action="store_true", help="stand behind a pseudo terminal and say which")
    command.add_argument("--draw", type=Path, metavar="FILE", help="draw what it cut: .svg or .png; written over")
    faults = "; ".join(f"{name}: {does}" for name, does in FAULTS.items())
    command.add_argument(
        "--wrong", metavar="FAULT[:N]", default="", help=f"what goes wrong after N strokes (default 0). {faults}"
    )
    command.add_argument("--seed", type=int, help="a hidden error of its own: a shift and a turn (default: none)")
    command.add_argument("--width", type=float, default=300.0, help="mm that it cuts across (default 300)")
    command.add_argument("--length", type=float, default=600.0, help="mm that it cuts along (default 600)")
    command.add_argument("--once", action="store_true", help="end with the first visitor")
    command.set_defaults(run=run_cutter)


def run_cutter(options: argparse.Namespace) -> None:
    """Stand in until it is stopped."""
    maker = _maker(options)
    if options.draw is not None and options.draw.suffix.lower() not in (".svg", ".png"):
        raise UsageError(f"--draw {options.draw.name}: name a file that ends in .svg or .png")
    visitors = _terminal() if options.pty else _visitors(options.tcp)
    for read, write in visitors:
        cutter = maker()
        _serve(cutter, read, write)
        if options.draw is not None:
            _draw(cutter, options.draw)
        print(
            f"cut {len(cutter.strokes)} lines, {cutter.cut_mm / 1000:.2f} m, in {cutter.moves.seconds:.0f} s of its "
            f"own time{'; refused: ' + ', '.join(cutter.refused[:3]) if cutter.refused else ''}",
            flush=True,
        )
        if options.once:
            return


def _maker(options: argparse.Namespace) -> Callable[[], SimulatedCutter]:
    import numpy as np

    from honest_edge.simulator.cutter import SimulatedCutter
    from honest_edge.simulator.cutter_faults import FAULTS

    fault, _, after = options.wrong.partition(":")
    if fault and fault not in FAULTS:
        raise UsageError(f"--wrong “{fault}” is nothing that goes wrong here: {', '.join(FAULTS)}")
    if after and not after.isdigit():
        raise UsageError(f"--wrong {options.wrong}: write a whole number of strokes after the colon")
    seat = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
    if options.seed is not None:
        shift_x, shift_y, turn = np.random.default_rng(options.seed).normal(0.0, (0.3, 0.3, 0.002)).tolist()
        seat = np.array([[1.0, -turn, shift_x], [turn, 1.0, shift_y]])
    return lambda: SimulatedCutter(
        language=options.language,
        width_mm=options.width,
        length_mm=options.length,
        seat=seat,
        fault=fault,
        after=int(after or 0),
    )


_Visitor = tuple[Callable[[], bytes | None], Callable[[bytes], object]]
"""What reads from a visitor, None once he has gone, and what writes to him."""


def _serve(cutter: SimulatedCutter, read: Callable[[], bytes | None], write: Callable[[bytes], object]) -> None:
    from honest_edge.simulator.cutter import Unplugged

    while (data := read()) is not None:
        try:
            answers = cutter.feed(data)
        except Unplugged:
            return
        if answers:
            if cutter.fault == "late":
                time.sleep(_LATE_S)
            try:
                write(answers)
            except OSError:
                return


def _visitors(port: int) -> Iterator[_Visitor]:
    try:
        listening = socket.create_server(("127.0.0.1", port))
    except (OSError, OverflowError) as error:
        raise DeviceError(f"Port {port} cannot be had ({error}): name another, or 0 for a free one") from None
    with closing(listening):
        print(f"listening on tcp://127.0.0.1:{listening.getsockname()[1]}", flush=True)
        while True:
            visitor, _ = listening.accept()
            with closing(visitor):

                def read(visitor: socket.socket = visitor) -> bytes | None:
                    try:
                        return visitor.recv(65_536) or None
                    except OSError:
                        return None

                yield read, visitor.sendall


@contextmanager
def _raw(slave: int) -> Iterator[None]:
    import tty

    tty.setraw(slave)
    yield


def _terminal() -> Iterator[_Visitor]:
    """Stand behind a pseudo terminal; a visitor has gone once he has closed it."""
    import pty
    import select

    master, slave = pty.openpty()
    with _raw(slave):
        print(f"listening on serial:{os.ttyname(slave)}?baud=9600", flush=True)
        os.close(slave)
        while True:
            while not _is_open(master, select):
                time.sleep(_POLL_S)

            def read() -> bytes | None:
                while True:
                    ready, _, _ = select.select([master], [], [], _POLL_S)
                    try:
                        if ready:
                            return os.read(master, 65_536) or None
                    except OSError:
                        return None

            yield read, lambda data: os.write(master, data)


def _is_open(master: int, select: Any) -> bool:
    """Whether anybody holds the other side: without that it is hung up."""
    poll = select.poll()
    poll.register(master, select.POLLIN | select.POLLHUP)
    return not any(event & select.POLLHUP for _, event in poll.poll(0))


def _draw(cutter: SimulatedCutter, path: Path) -> None:
    from honest_edge.files.atomic_write import write_set

    data = cutter.drawn()
    if path.suffix.lower() == ".png":
        import resvg_py

        data = bytes(resvg_py.svg_to_bytes(svg_string=data.decode(), dpi=150))
    write_set(path.parent, {path.name: data}, replace=True)
