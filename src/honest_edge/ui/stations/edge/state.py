"""What the Edge station knows beyond the job."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from honest_edge.app.results.edge_assessment import EdgeAssessment, EdgeChange


@dataclass(slots=True)
class EdgeState:
    """What is known of the edge in hand.

    Attributes:
        assessment: every school and the smallest changes tried; None until that is done.
        proposed: a change that is looked at before it is made.
    """

    assessment: EdgeAssessment | None = None
    proposed: EdgeChange | None = None
