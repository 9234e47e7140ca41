"""What the list of steps says of this run."""

from __future__ import annotations

from typing import TYPE_CHECKING

from honest_edge.core.run.guide import Step, is_dry
from honest_edge.core.values.run_events import Measured
from honest_edge.core.values.units import Unit
from honest_edge.ui.rooms.run.words import clock
from honest_edge.ui.widgets.fields import counted
from honest_edge.ui.widgets.local import shown_length

if TYPE_CHECKING:
    from honest_edge.app.run.conductor import Conductor


def head_words(conductor: Conductor, step: Step) -> str:
    """Return which sheet of how many is in hand."""
    count = len(conductor.state.sheets)
    return f"Sheet {step.sheet} of {count}" if step.sheet else counted(count, "sheet")


def without_of(conductor: Conductor) -> tuple[str, ...]:
    """Return the steps that this run does not have."""
    seal = conductor.seal
    gone = [] if seal.is_laminated else ["laminate"]
    is_printed = any(page.print_page is not None for page in seal.pages)
    if not seal.print_sha256:
        gone += ["print first", "measure"]
    if not is_printed:
        gone += ["print rest", "dry"]
    if seal.sheet.machine.prints_own_marks:
        gone.append("proof")
    return tuple(gone)


def done_of(conductor: Conductor) -> tuple[str, ...]:
    """Return steps that are done though the list has them later."""
    state = conductor.state
    return ("set",) if state.set_for else ()


def details_of(conductor: Conductor, step: Step, unit: Unit) -> dict[str, str]:
    """Return what was found at each step."""
    state, seal, now = conductor.state, conductor.seal, conductor.clock()
    printed = [sheet for sheet in state.sheets if sheet.printed is not None]
    wet = [sheet for sheet in state.live if not is_dry(seal, sheet, now)]
    details: dict[str, str] = {}
    if printed:
        details["print rest" if len(printed) > 1 else "print first"] = counted(len(printed), "sheet")
    readings = [event for event in conductor.counting if isinstance(event, Measured)]
    if readings and step.key != "measure":
        read = [value for value in (readings[-1].across_mm, readings[-1].down_mm) if value is not None]
        lengths = [shown_length(value, unit) for value in read]
        details["measure"] = " × ".join([*(one.rsplit(" ", 1)[0] for one in lengths[:-1]), *lengths[-1:]])
    elif state.measured == "not measured":
        details["measure"] = "not measured"
    if wet:
        last = max(sheet.printed.wall_ms for sheet in wet if sheet.printed is not None)
        at = now.after((last - now.wall_ms) / 1000 + seal.drying_s)
        details["dry"] = f"{counted(len(wet), 'sheet')} till {clock(at)}"
    settings = [words for _, words in state.settings if words]
    if settings:
        details["set"] = settings[-1][:26]
    if step.sheet and (carrier := state.sheet(step.sheet).carrier) is not None:
        name = state.sheet(step.sheet).carrier_name[:26]
        details["load"] = name or f"carrier {'ABCDEFGHIJKLMNOPQRST'[carrier]}"
    looked = [sheet for sheet in state.sheets if sheet.bad is not None]
    if looked:
        details["inspect"] = f"{len(looked)} of {counted(len(state.sheets), 'sheet')}"
    return details
