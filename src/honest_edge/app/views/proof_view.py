"""What was found, as it is listed: the worst first, numbered, alike ones together; and where it lies on a sheet."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from honest_edge.app.results.overview import Overview
from honest_edge.core.geometry.paths import Floats
from honest_edge.core.proof.register import CHECKS
from honest_edge.core.values.findings import SEVERITIES, Finding, Place, Severity

_TITLES: dict[Severity, str] = {"blocks": "In the way", "look": "Have a look", "note": "Good to know"}
_ORDER = {check.name: number for number, check in enumerate(CHECKS)}
_FEW = 4
_MOST_PLACES = 12


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class ListedFinding:
    """One finding with its number in the list, and its sentence led by what it is about."""

    number: int
    finding: Finding
    words: str


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class FindingKind:
    """Findings of one check.

    Attributes:
        check: its name.
        rows: all of them.
        mendable: how many a change of the job mends.
    """

    check: str
    rows: tuple[ListedFinding, ...]

    @property
    def first(self) -> tuple[ListedFinding, ...]:
        """Those that are shown before more are asked for; one more is no more to read than to ask."""
        return self.rows if len(self.rows) <= _FEW + 1 else self.rows[:_FEW]

    @property
    def mendable(self) -> int:
        """How many a change of the job mends."""
        return sum(one.finding.fix is not None and not one.finding.fix.visit for one in self.rows)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class FindingGroup:
    """Findings that matter alike; what is left stands by itself, last."""

    title: str
    severity: Severity | None
    kinds: tuple[FindingKind, ...]

    @property
    def count(self) -> int:
        """How many there are."""
        return sum(len(kind.rows) for kind in self.kinds)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class ProofView:
    """The list.

    Attributes:
        groups: the worst first.
        answer: in a few words.
        under: a sentence.
    """

    groups: tuple[FindingGroup, ...]
    answer: str
    under: str

    @property
    def rows(self) -> tuple[ListedFinding, ...]:
        """All of them in their order."""
        return tuple(row for group in self.groups for kind in group.kinds for row in kind.rows)


def proof_view(overview: Overview) -> ProofView:
    """Return what was found of a job, as it is listed."""
    groups, number = [], 0
    findings = overview.every_finding
    for severity in (*SEVERITIES, None):
        here = [f for f in findings if (f.left != "" if severity is None else f.severity == severity and not f.left)]
        kinds = []
        for check in sorted({f.check for f in here}, key=_ORDER.__getitem__):
            rows = []
            for finding in (f for f in here if f.check == check):
                number += 1
                rows.append(ListedFinding(number=number, finding=finding, words=_led(overview.named(finding))))
            kinds.append(FindingKind(check=check, rows=tuple(rows)))
        if kinds:
            title = "Left as they are" if severity is None else _TITLES[severity]
            groups.append(FindingGroup(title=title, severity=severity, kinds=tuple(kinds)))
    return ProofView(groups=tuple(groups), answer=_answer(groups), under=_under(groups, overview))


def _led(text: str) -> str:
    return f"{text[:1].upper()}{text[1:]}."


def _answer(groups: list[FindingGroup]) -> str:
    counts = {group.severity: group.count for group in groups}
    if counts.get("blocks"):
        return f"{counts['blocks']} in the way"
    return f"{counts['look']} to look at" if counts.get("look") else "Nothing"


def _under(groups: list[FindingGroup], overview: Overview) -> str:
    counts = {group.severity: group.count for group in groups}
    if counts.get("blocks"):
        looks = f"; {counts['look']} more to look at" if counts.get("look") else ""
        return f"Nothing is written or printed before that is mended, or left for a reason{looks}."
    if counts.get("look"):
        return "Files can be written; these may cost stickers."
    return "Nothing that is known speaks against it." if overview.plan is not None else overview.why_no_plan


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class ShownPlace:
    """A finding's place on the sheet that is shown, or on the design; the first of a finding carries its number."""

    row: ListedFinding
    geometry: shapely.Geometry
    is_first: bool


def page_of(overview: Overview, finding: Finding) -> int | None:
    """Return the sheet on which a finding is seen first; None where it is on none."""
    if overview.plan is None:
        return None
    for place in finding.places:
        if place.frame == "sheet":
            return place.page
    if finding.subject.page is not None:
        return finding.subject.page
    key = finding.subject.design
    for page, placements in enumerate(overview.plan.pages):
        if key and any(overview.laid[p.design].design.key.split("/")[0] == key for p in placements):
            return page
    return None


def shown_places(overview: Overview, view: ProofView, page: int) -> list[ShownPlace]:
    """Return every finding's places on one sheet, in its frame; a design's are shown on its first copy there."""
    places = []
    for row in view.rows:
        shown = 0
        for place in _places(overview, row.finding)[:_MOST_PLACES]:
            at = _on_page(overview, row.finding, place, page)
            if at is not None:
                places.append(ShownPlace(row=row, geometry=at, is_first=shown == 0))
                shown += 1
    return places


def _places(overview: Overview, finding: Finding) -> tuple[Place, ...]:
    """Return a finding's places; one that is about all of a design is shown round it."""
    result = overview.results.get(finding.subject.design)
    if finding.places or result is None:
        return finding.places
    return (Place(frame="art", geometry=shapely.boundary(shapely.box(*result.cut.area.bounds))),)


def design_places(overview: Overview, view: ProofView, key: str) -> list[ShownPlace]:
    """Return the places of one design's findings, in the art's frame."""
    return [
        ShownPlace(row=row, geometry=place.geometry, is_first=number == 0)
        for row in view.rows
        if row.finding.subject.design == key
        for number, place in enumerate(_in_art(overview, row.finding)[:_MOST_PLACES])
    ]


def _in_art(overview: Overview, finding: Finding) -> list[Place]:
    return [place for place in _places(overview, finding) if place.frame == "art"]


def _on_page(overview: Overview, finding: Finding, place: Place, page: int) -> shapely.Geometry | None:
    plan = overview.plan
    if plan is None:
        return None
    if place.frame == "sheet":
        return place.geometry if place.page == page else None
    for placement in plan.pages[page]:
        if overview.laid[placement.design].design.key == finding.subject.design:
            return _placed(place.geometry, placement.matrix)
    return None


def _placed(geometry: shapely.Geometry, matrix: Floats) -> shapely.Geometry:
    return shapely.transform(geometry, lambda points: np.asarray(points @ matrix[:, :2].T + matrix[:, 2]))
