"""How what was cut is put on a thing, in the order of the work.

Common practice, no published source; the makers of film, tape and press come first.
"""

from __future__ import annotations

from honest_edge.core.values.applied import AppliedDesign

TAPE_LIFTS_INK = (
    "No transfer tape on printed ink: it lifts the ink. Put each part on by hand, or give all parts one border."
)
_PLACE = "Hold the placement sheet to the thing, its lines on the thing’s middle, and mark its corners with tape."


def steps_of(applied: AppliedDesign) -> tuple[str, ...]:
    """Return what is done, one sentence or two a step, what is peeled first at its place."""
    first = applied.parts[0].name
    rest = [part.name for part in applied.parts[1:]]
    match applied.way:
        case "film":
            order = f"Begin with “{first}”, then {', '.join(f'“{name}”' for name in rest)}." if rest else ""
            return tuple(step for step in (
                "Weed it: take off what is not to stay, the insides of letters last.",
                order,
                _PLACE,
                "Lay transfer tape over the film and rub it down. Peel the liner off the tape, not the other way.",
                "Stick the upper edge down at the marks, lower it like a hinge, and rub from the middle outward.",
                "Peel the tape off slowly, folded back on itself.",
                "The next part goes on once the one below it holds." if rest else "",
            ) if step)  # fmt: skip
        case "pressed":
            return (
                "Weed it, and let the ink be dry.",
                _PLACE,
                "Press it at the heat and for the time that the film’s maker says, under a sheet that does not stick.",
                "Peel it warm or cold, as the maker says.",
            )
        case "parts":
            count = sum(len(part.rings) for part in applied.parts)
            return (
                TAPE_LIFTS_INK,
                _PLACE,
                f"Peel its {count} parts from the middle outward, each laid over its outline on the sheet first.",
            )
