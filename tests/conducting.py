"""A run led without a window: what each step is done by, as it is meant to be done."""

from honest_edge.core.values.run_events import (
    Added,
    CutBegun,
    CutDone,
    Ended,
    Inspected,
    Laid,
    Laminated,
    LetDry,
    MarksRead,
    Missed,
    Moment,
    Printed,
    ProofBegun,
    ProofCut,
    ProofJudged,
    Set,
    TakenOut,
    Unmeasured,
)


class Clock:
    """Goes on as it is told to."""

    def __init__(self):
        self.seconds = 0.0

    def __call__(self):
        return Moment(wall_ms=1_790_000_000_000 + round(1000 * self.seconds))


def do(conductor, step, clock, shop=None, known=None):
    """Do one step; ``shop`` reads, misses and spoils as the practice bench does, else all goes well."""
    n = step.sheet
    clock.seconds += 30 + step.wait_s
    match step.key:
        case "print first" | "print rest":
            for number in step.sheets:
                conductor.happens(Printed(sheet=number))
        case "measure":
            conductor.happens(Unmeasured(sheet=n)) if shop is None else conductor.measure(n, shop.reading(n))
        case "dry" if shop is None:
            conductor.happens(LetDry(sheet=n))
        case "laminate":
            conductor.happens(Laminated(sheet=n))
        case "set":
            conductor.happens(Set(kinds=" and ".join(kinds_of(conductor, step)), setting="force 84"))
        case "load":
            conductor.happens(Laid(sheet=n, carrier=step.carrier or 0))
        case "read":
            missed = () if shop is None else shop.missed(n, conductor.state.sheet(n).tries)
            conductor.happens(Missed(sheet=n, marks=missed) if missed else MarksRead(sheet=n))
        case "proof":
            if conductor.state.sheet(n).proof != "under way":
                conductor.happens(ProofBegun(sheet=n, copy=step.copy or 0))
            conductor.happens(ProofCut(sheet=n))
        case "look":
            conductor.happens(ProofJudged(sheet=n, verdict="good"))
        case "pass":
            conductor.happens(CutBegun(sheet=n))
        case "cutting":
            conductor.happens(CutDone(sheet=n))
        case "take out":
            conductor.happens(TakenOut(sheet=n))
        case "inspect":
            bad = () if shop is None else shop.cut(n, conductor.state.sheet(n).page).bad
            conductor.happens(Inspected(sheet=n, bad=bad))
        case "tally":
            tally = None if known is None else conductor.tally(known)
            if tally is not None and tally.lacking and tally.one_more is not None:
                conductor.happens(Added(pages=(tally.one_more,)))
            else:
                conductor.happens(Ended(reason="done"))


def kinds_of(conductor, step):
    page = conductor.seal.pages[conductor.state.sheet(step.sheet).page]
    return page.passes[step.cut_pass].kinds
