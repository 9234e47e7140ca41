"""Proof: What would go wrong?"""

from __future__ import annotations

from operator import methodcaller
from typing import TYPE_CHECKING

from honest_edge.ui.shared.contract import Command, StationEntry

if TYPE_CHECKING:
    from honest_edge.ui.shared.host import Host
    from honest_edge.ui.stations.proof.station import ProofStation


def _create(host: Host) -> ProofStation:
    from honest_edge.ui.stations.proof.station import ProofStation

    return ProofStation(host, ENTRY.question)


ENTRY = StationEntry(
    key="proof",
    title="Proof",
    question="What would go wrong?",
    brief="what would go wrong?",
    create=_create,
    needs=("honest_edge.app.views.proof_view", "honest_edge.app.edits.tried"),
    commands=(
        Command(name="Next finding", key="F8", act=methodcaller("walk", 1)),
        Command(name="Previous finding", key="Shift+F8", act=methodcaller("walk", -1)),
        Command(name="Rehearse", key="Ctrl+R", act=methodcaller("rehearse")),
    ),
    guide="Here you see what would go wrong; most people mend what blocks or needs a look, and leave the notes.",
)
